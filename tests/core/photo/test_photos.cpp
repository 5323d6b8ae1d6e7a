// Reading photos as finely and in the colours they were taken, looking them up, and what they are worth.
#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <lcms2.h>

#include "core/files.h"
#include "core/harmonics.h"
#include "core/noise/noise.h"
#include "core/photo/fit_light.h"
#include "core/photo/photo_measures.h"
#include "core/photo/slide_view.h"
#include "core/photo/tone_spread.h"
#include "core/seeded.h"
#include "support/made.h"
#include "support/photos.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// One row of 16-bit values, with a profile when there are bytes of one.
std::string tiff16(const std::vector<uint16_t>& rgb, const std::vector<uint8_t>& profile = {}) {
  const test::Folder folder;
  const std::string path = (folder / "p.tif").string();
  OIIO::ImageSpec spec(static_cast<int>(rgb.size() / 3), 1, 3, OIIO::TypeDesc::UINT16);
  if (!profile.empty())
    spec.attribute("ICCProfile", OIIO::TypeDesc(OIIO::TypeDesc::UINT8, static_cast<int>(profile.size())),
                   profile.data());
  const auto out = OIIO::ImageOutput::create(path);
  if (!out || !out->open(path, spec) || !out->write_image(OIIO::TypeDesc::UINT16, rgb.data()) ||
      !out->close())
    qFatal("no picture was written");
  return *readBytes(path);
}

// Primaries wider than those of sRGB, a gamma of two.
std::vector<uint8_t> wideProfile() {
  const cmsCIExyY white{0.3127, 0.3290, 1};
  const cmsCIExyYTRIPLE primaries{{0.68, 0.32, 1}, {0.21, 0.71, 1}, {0.15, 0.06, 1}};
  cmsToneCurve* gamma = cmsBuildGamma(nullptr, 2.0);
  cmsToneCurve* curves[3] = {gamma, gamma, gamma};
  const cmsHPROFILE profile = cmsCreateRGBProfile(&white, &primaries, curves);
  cmsUInt32Number size = 0;
  cmsSaveProfileToMem(profile, nullptr, &size);
  std::vector<uint8_t> out(size);
  cmsSaveProfileToMem(profile, out.data(), &size);
  cmsCloseProfile(profile);
  cmsFreeToneCurve(gamma);
  return out;
}

LinearColor grey(float v) {
  return {v, v, v};
}

// Clouds at every octave, as pictures of nature have them.
PicturePointer cloudy(int side, float finest = 1) {
  return test::photo(side, side, [&](float u, float v) {
    float sum = 0;
    for (float size = static_cast<float>(side) / 3; size > finest; size *= 0.5f) {
      const float scale = static_cast<float>(side) / size;
      sum += 0.11f * perlin(Vec3(u * scale, v * scale, 7.3f * size), 5);
    }
    return grey(std::clamp(0.3f + sum, 0.02f, 0.9f));
  });
}

}  // namespace

class TestPhotos : public QObject {
  Q_OBJECT
 private slots:
  void sixteenBitsStaySixteen() {
    const std::vector<uint16_t> values{1000, 1001, 1002, 30000, 30003, 65535};
    const auto read = decodePicture(tiff16(values), "p.tif");
    QVERIFY2(read, read ? "" : qPrintable(QString::fromStdString(read.error().message())));
    QCOMPARE((*read)->deep.size(), size_t{2});
    for (size_t i = 0; i < 2; ++i) {
      const Straight16 p = (*read)->straight(i);
      QCOMPARE(p.r, values[3 * i]);
      QCOMPARE(p.g, values[3 * i + 1]);
      QCOMPARE(p.b, values[3 * i + 2]);
    }
  }
  // a wide profile's pure red is beyond sRGB; what lies within is found by its closed form
  void coloursComeByTheProfile() {
    const std::vector<uint8_t> profile = wideProfile();
    const float v = 0.5f;
    const auto half = static_cast<uint16_t>(v * 65535);
    const auto read = decodePicture(tiff16({half, half, half, 40000, 36000, 30000}, profile), "p.tif");
    QVERIFY(read && (*read)->note.empty());
    // a grey stays grey: a gamma of two in sRGB's curve
    const Straight16 p = (*read)->straight(0);
    for (const uint16_t c : {p.r, p.g, p.b})
      QVERIFY2(std::abs(from16(c) - encodeSrgb(v * v)) < 2e-3f, qPrintable(QString::number(from16(c))));
    // skin and other colours that lie within sRGB: from the chromaticities of both (the wide ones above,
    // those of IEC 61966-2-1) by the matrices of their primaries, pixel by pixel
    const auto toXyz = [](const std::array<std::array<double, 2>, 3>& primaries) {
      const auto xyz = [](double x, double y) { return Eigen::Vector3d(x / y, 1, (1 - x - y) / y); };
      Eigen::Matrix3d m;
      for (int c = 0; c < 3; ++c) m.col(c) = xyz(primaries[c][0], primaries[c][1]);
      const Eigen::Vector3d white = m.inverse() * xyz(0.3127, 0.3290);
      return Eigen::Matrix3d(m * white.asDiagonal());
    };
    const Eigen::Matrix3d wideToSrgb = toXyz({{{0.64, 0.33}, {0.30, 0.60}, {0.15, 0.06}}}).inverse() *
                                       toXyz({{{0.68, 0.32}, {0.21, 0.71}, {0.15, 0.06}}});
    std::mt19937 random(6);
    std::uniform_int_distribution<int> level(12'000, 60'000);
    std::vector<uint16_t> values;
    for (int i = 0; i < 3 * 400; ++i) values.push_back(static_cast<uint16_t>(level(random)));
    const auto many = decodePicture(tiff16(values, profile), "p.tif");
    QVERIFY(many);
    int within = 0;
    for (size_t i = 0; i < 400; ++i) {
      Eigen::Vector3d linear;
      for (size_t c = 0; c < 3; ++c) linear[static_cast<int>(c)] = std::pow(values[3 * i + c] / 65535.0, 2);
      linear = wideToSrgb * linear;
      if (linear.minCoeff() < 0.003 || linear.maxCoeff() > 0.99) continue;
      ++within;
      const Straight16 found = (*many)->straight(i);
      const uint16_t shown[] = {found.r, found.g, found.b};
      for (size_t c = 0; c < 3; ++c) {
        const float expected = encodeSrgb(static_cast<float>(linear[static_cast<int>(c)]));
        QVERIFY2(std::abs(from16(shown[c]) - expected) < 5e-4f,
                 qPrintable(QString("%1, not %2").arg(from16(shown[c])).arg(expected)));
      }
    }
    QVERIFY2(within > 200, qPrintable(QString::number(within)));
  }
  // What a profile is called is not what it says: one with the primaries of sRGB and no curve is linear.
  void aLinearProfileCalledSrgbIsLinear() {
    const cmsCIExyY white{0.3127, 0.3290, 1};
    const cmsCIExyYTRIPLE primaries{{0.64, 0.33, 1}, {0.30, 0.60, 1}, {0.15, 0.06, 1}};
    cmsToneCurve* straight = cmsBuildGamma(nullptr, 1);
    cmsToneCurve* curves[3] = {straight, straight, straight};
    const cmsHPROFILE linear = cmsCreateRGBProfile(&white, &primaries, curves);
    cmsMLU* name = cmsMLUalloc(nullptr, 1);
    cmsMLUsetASCII(name, "en", "US", "Linear sRGB");
    cmsWriteTag(linear, cmsSigProfileDescriptionTag, name);
    const cmsHPROFILE usual = cmsCreate_sRGBProfile();
    const auto bytesOf = [](cmsHPROFILE profile) {
      cmsUInt32Number size = 0;
      cmsSaveProfileToMem(profile, nullptr, &size);
      std::vector<uint8_t> out(size);
      cmsSaveProfileToMem(profile, out.data(), &size);
      return out;
    };
    const std::vector<uint16_t> values{32768, 32768, 32768, 1000, 20000, 60000};
    const auto decoded = decodePicture(tiff16(values, bytesOf(linear)), "linear.tif"),
               plain = decodePicture(tiff16(values, bytesOf(usual)), "plain.tif");
    cmsMLUfree(name);
    cmsFreeToneCurve(straight);
    cmsCloseProfile(linear);
    cmsCloseProfile(usual);
    QVERIFY(decoded && plain);
    for (size_t i = 0; i < 2; ++i) {
      const Straight16 p = (*decoded)->straight(i), q = (*plain)->straight(i);
      const uint16_t shown[] = {p.r, p.g, p.b}, kept[] = {q.r, q.g, q.b};
      for (size_t c = 0; c < 3; ++c) {
        // the curve of IEC 61966-2-1; to the bit where nothing is to be done
        QVERIFY2(std::abs(from16(shown[c]) - encodeSrgb(from16(values[3 * i + c]))) < 2e-3f,
                 qPrintable(QString::number(shown[c])));
        QCOMPARE(kept[c], values[3 * i + c]);
      }
    }
  }
  void aDamagedProfileIsToldAndLosesNothing() {
    std::vector<uint8_t> profile = wideProfile();
    std::fill(profile.begin() + 12, profile.begin() + 60, uint8_t{0x5a});
    const auto read = decodePicture(tiff16({1000, 2000, 3000}, profile), "p.tif");
    QVERIFY(read);
    QVERIFY((*read)->note.find("damaged") != std::string::npos);
    QCOMPARE((*read)->straight(0).g, uint16_t{2000});
  }
  void halvesKeepTheMeanLight() {
    const auto picture = test::photo(37, 22, [](float u, float v) { return LinearColor{u, v, u * v}; });
    const PicturePyramid pyramid(picture);
    QCOMPARE(pyramid.width(pyramid.levels() - 1), 1);
    const auto even =
        std::make_shared<PicturePyramid>(test::photo(37, 22, [](float, float) { return grey(0.4f); }));
    for (size_t level = 0; level < even->levels(); ++level)
      QVERIFY(std::abs(even->pixel(level, 0, 0).color.g - 0.4f) < 1e-3f);
    // a ramp stays where it was
    QVERIFY(std::abs(pyramid.pixel(2, 4, 2).color.r - 18.f / 37) < 2e-3f);
  }
  void aLookUpTakesWhatItCovers() {
    const auto ramp = test::photo(200, 100, [](float u, float) { return grey(u); });
    const PicturePyramid pyramid(ramp);
    for (const float radius : {0.1f, 1.f, 4.f, 13.f}) {
      const PictureValue v = pyramid.at({100, 50}, radius);
      QVERIFY2(std::abs(v.color.r - 0.5f) < 4e-3f && std::abs(v.alpha - 1) < 1e-4f,
               qPrintable(QString("%1: %2").arg(radius).arg(v.color.r)));
    }
    // half of it beside the picture, all of it, and far away
    QVERIFY(std::abs(pyramid.at({0, 50}, 3.f).alpha - 0.5f) < 0.1f);
    QVERIFY(pyramid.at({-40, 50}, 3.f).alpha == 0 && pyramid.at({1e30f, 50}, 3.f).alpha == 0);
    QVERIFY(pyramid.at({std::nanf(""), 50}, 3.f).alpha == 0);
  }
  // stripes of one pixel: a spot squeezed across them sees their mean, squeezed along them each by itself
  void ellipsesKeepWhatLiesAcrossThem() {
    const auto stripes = test::photo(
        256, 256, [](float u, float) { return grey(static_cast<int>(u * 256) / 4 % 2 ? 0.8f : 0.f); });
    const PicturePyramid pyramid(stripes);
    Eigen::Matrix2f across, along;
    across << 24, 0, 0, 0.5f;
    along << 0.5f, 0, 0, 24;
    QVERIFY(std::abs(pyramid.at({126, 128}, across).color.r - 0.4f) < 0.05f);
    QVERIFY(pyramid.at({126, 128}, along).color.r > 0.75f);
    QVERIFY(pyramid.at({122, 128}, along).color.r < 0.05f);
  }
  void blurIsSeen() {
    const PicturePointer sharp = cloudy(512), soft = cloudy(512, 9);
    const PhotoMeasures a = measured(PicturePyramid(sharp)), b = measured(PicturePyramid(soft));
    QVERIFY2(sharpnessWord(a) == PhotoWord::Good, qPrintable(QString::number(a.sharpness)));
    QCOMPARE(a.worth, 512);
    QVERIFY2(sharpnessWord(b) == PhotoWord::Poor, qPrintable(QString::number(b.sharpness)));
    QVERIFY2(b.worth <= 128 && b.worth >= 32, qPrintable(QString::number(b.worth)));
  }
  void broadLightIsSeen() {
    const auto lit = [](float u, float v) {
      const float grain = 0.05f * perlin(Vec3(u * 90, v * 90, 0.4f), 3);
      return grey(std::clamp((0.4f + grain) * std::exp2(2 * (0.5f - u)), 0.f, 1.f));
    };
    const PhotoMeasures m = measured(PicturePyramid(test::photo(400, 300, lit)));
    // two stops from left to right: over half of it one, with a deviation of 2/√12
    QVERIFY2(std::abs(m.brightSide.x() + 1) < 0.25f && std::abs(m.brightSide.y()) < 0.1f,
             qPrintable(QString("%1 %2").arg(m.brightSide.x()).arg(m.brightSide.y())));
    QVERIFY2(std::abs(m.unevenness - 2 / std::sqrt(12.f)) < 0.15f, qPrintable(QString::number(m.unevenness)));
    QVERIFY(evennessWord(m) == PhotoWord::Fair && m.broadShare > 0.8f);
    const PhotoMeasures even = measured(PicturePyramid(cloudy(300)));
    QVERIFY(even.unevenness < m.unevenness);
  }
  void blownAndSunkPartsAreCounted() {
    const auto m = measured(PicturePyramid(test::photo(100, 100, [](float u, float) {
      return grey(u < 0.1f ? 1.f : u < 0.3f ? 0.f : 0.2f);
    })));
    QVERIFY(std::abs(m.blown - 0.1f) < 1e-3f && std::abs(m.sunk - 0.2f) < 1e-3f);
    QVERIFY(rangeWord(m) == PhotoWord::Poor);
  }
  void broadLightIsDividedOut() {
    const auto lit = [](float u, float v) {
      return grey(
          std::clamp((0.3f + 0.1f * perlin(Vec3(u * 60, v * 60, 0.4f), 3)) * (1.6f - 1.2f * u), 0.f, 1.f));
    };
    Slide slide = test::slideOver(test::photo(300, 300, lit), Camera{});
    const auto side = [&](const Slide& s, float x) {
      const SlideView view(s);
      float sum = 0;
      int count = 0;
      for (float px = x - 30; px < x + 30; px += 2)
        for (float py = 30; py < 270; py += 4, ++count)
          sum += view.shown({{px, py}, Eigen::Matrix2f::Identity(), true}).color.g;
      return sum / static_cast<float>(count);
    };
    QVERIFY(side(slide, 60) / side(slide, 240) > 1.8f);
    slide.tone.even = 1;
    const float ratio = side(slide, 60) / side(slide, 240);
    QVERIFY2(std::abs(ratio - 1) < 0.12f, qPrintable(QString::number(ratio)));
  }
  void highlightsGiveWay() {
    const auto shiny = [](float u, float v) {
      const float d = std::hypot(u - 0.5f, v - 0.5f);
      return d < 0.012f ? grey(0.95f) : LinearColor{0.4f, 0.2f, 0.15f};
    };
    Slide slide = test::slideOver(test::photo(400, 400, shiny), Camera{});
    const SlideView::Landing middle{{200, 200}, Eigen::Matrix2f::Identity(), true};
    QVERIFY(SlideView(slide).shown(middle).color.b > 0.9f);
    slide.tone.highlights = 1;
    const LinearColor c = SlideView(slide).shown(middle).color;
    QVERIFY2(c.b < 0.75f && c.r > c.b, qPrintable(QString("%1 %2").arg(c.r).arg(c.b)));
  }
  // Reinhard and others 2001: mean and deviation become the target's
  void matchedTonesHaveTheTargetsMoments() {
    Draws draws(9);
    std::vector<LinearColor> photo, skin;
    for (int i = 0; i < 4000; ++i) {
      photo.push_back(
          {0.2f + 0.05f * draws.around(), 0.25f + 0.05f * draws.around(), 0.3f + 0.06f * draws.around()});
      skin.push_back(
          {0.5f + 0.03f * draws.around(), 0.25f + 0.02f * draws.around(), 0.2f + 0.02f * draws.around()});
    }
    const ToneSpread from = *spreadOf(photo), to = *spreadOf(skin);
    std::vector<LinearColor> out;
    for (const LinearColor& c : photo) out.push_back(fromOklab(matched(toOklab(c), from, to)));
    const ToneSpread now = *spreadOf(out);
    for (size_t k = 0; k < 3; ++k) {
      QVERIFY(std::abs(now.mean[k] - to.mean[k]) < 1e-4f);
      QVERIFY(std::abs(now.deviation[k] - to.deviation[k]) < 1e-4f);
    }
    QVERIFY(!spreadOf(std::vector<LinearColor>{}));
  }
  // A sphere in known light, a tenth of it lips and hair: the irradiance of a broad light is told by nine
  // numbers (Ramamoorthi, Hanrahan 2001), and those of the fitted ways are those of the light.
  void theNineNumbersOfALightAreFound() {
    const std::array<Harmonics, 3> radiance{{{1, 0.3f, 0.35f, -0.25f, 0.1f, 0.12f, 0.08f, -0.1f, 0.05f},
                                             {0.9f, 0.2f, 0.35f, -0.15f, 0.1f, 0.08f, 0.05f, -0.1f, 0.05f},
                                             {0.7f, 0.1f, 0.3f, -0.05f, 0.05f, 0.08f, 0.05f, 0, 0.05f}}};
    const std::array<float, 3> albedo{0.5f, 0.35f, 0.28f};
    Draws draws(4);
    std::vector<LitSpot> spots;
    while (spots.size() < 5000) {
      const Vec3 n = Vec3(draws.around(), draws.around(), draws.around());
      if (n.norm() > 1 || n.norm() < 0.1f || n.normalized().z() < 0.1f) continue;
      LitSpot spot{n.normalized(), {}, {}, 1};
      for (size_t w = 0; w < kSkyWays; ++w) spot.reach[w] = std::max(0.f, skyWays()[w].dot(spot.normal));
      std::array<float, 3> over{};
      const Harmonics basis = harmonicsAt(spot.normal);
      for (size_t c = 0; c < 3; ++c)
        for (size_t k = 0; k < 9; ++k)
          over[c] += kCosineLobe[static_cast<size_t>(kBand[k])] * radiance[c][k] * basis[k];
      const float stain = spots.size() % 10 == 0 ? 0.2f : 1 + 0.02f * draws.around();
      spot.color = {stain * albedo[0] * over[0], stain * albedo[1] * over[1], stain * albedo[2] * over[2]};
      spots.push_back(spot);
    }
    const auto found = fittedLight(spots);
    QVERIFY(found);
    // up to a factor a colour, which is the skin's tone; by what reaches skin, since half of the light lies
    // behind what is seen
    double off = 0, all = 0;
    for (size_t c = 0; c < 3; ++c) {
      Harmonics nine{};
      for (size_t w = 0; w < kSkyWays; ++w)
        for (size_t k = 0; k < 9; ++k) nine[k] += (*found)[c][w] * harmonicsAt(skyWays()[w])[k];
      std::array<double, 2> mean{};
      std::vector<std::array<double, 2>> pairs;
      for (const LitSpot& s : spots) {
        const Harmonics basis = harmonicsAt(s.normal);
        std::array<double, 2> pair{};
        for (size_t k = 0; k < 9; ++k) {
          const double by = static_cast<double>(kCosineLobe[static_cast<size_t>(kBand[k])] * basis[k]);
          pair[0] += by * static_cast<double>(radiance[c][k]);
          pair[1] += by * static_cast<double>(nine[k]);
        }
        pairs.push_back(pair);
        mean[0] += pair[0];
        mean[1] += pair[1];
      }
      for (const auto& p : pairs) {
        off += std::abs(p[1] / mean[1] * mean[0] / p[0] - 1);
        all += 1;
      }
    }
    QVERIFY2(off / all < 0.02, qPrintable(QString::number(off / all)));
    for (LitSpot& s : spots) s.normal = Vec3::UnitZ();
    QVERIFY(!fittedLight(spots));
    QVERIFY(!fittedLight(std::span(spots).first(10)));
  }
};

JUVENOR_TEST(TestPhotos)

}  // namespace juvenor

#include "test_photos.moc"
