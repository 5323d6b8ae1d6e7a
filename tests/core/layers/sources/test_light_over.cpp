// Light of a photo on a form: which ways are open, what comes along them, and what earlier files say of it.
#include "core/document/edits/edit_slides.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/tone_slides.h"
#include "core/harmonics.h"
#include "core/layers/sources/light_over.h"
#include "core/photo/slide_tone.h"
#include "core/render/slide_picture.h"
#include "core/render/still.h"
#include "core/seeded.h"
#include "support/made.h"
#include "support/photos.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr float kHeight = 6, kRadius = 3;

// A plane that faces +z with a ball over its middle.
SurfaceMapsPointer ballOverPlane() {
  const Sculpt both = test::together(test::plane(60, 40), test::sphere(40, kRadius, Vec3(0, 0, kHeight)));
  return std::make_shared<SurfaceMaps>(test::surfaceOf(both));
}

// The cosine of the angle under which half of the ball is seen from a place.
float halfWidth(const Vec3& place) {
  const float far = (Vec3(0, 0, kHeight) - place).squaredNorm();
  return std::sqrt(1 - kRadius * kRadius / far);
}

}  // namespace

class TestLightOver : public QObject {
  Q_OBJECT
 private slots:
  void theWaysAreSpreadEvenly() {
    Harmonics sum{};
    for (const Vec3& way : skyWays()) {
      QVERIFY(std::abs(way.norm() - 1) < 1e-5f);
      for (size_t k = 0; k < 9; ++k) sum[k] += harmonicsAt(way)[k] / kSkyWays;
    }
    // of an even spread only the constant is left
    QVERIFY(std::abs(sum[0] - 0.2820948f) < 1e-5f);
    for (size_t k = 1; k < 9; ++k) QVERIFY2(std::abs(sum[k]) < 0.005f, qPrintable(QString::number(sum[k])));
  }
  // against the closed form: a ball hides a cone of ways
  void aBallHidesItsConeOfWays() {
    const SurfaceMapsPointer maps = ballOverPlane();
    const auto sky = openSky(*maps);
    QVERIFY(sky);
    const Surface& surface = maps->surface();
    size_t looked = 0, hidden = 0;
    for (uint32_t s = 0; s < surface.size(); ++s) {
      const Vec3& place = surface.positions[s];
      if (std::abs(place.z()) > 1e-4f || place.head<2>().cwiseAbs().maxCoeff() > 15) continue;
      const Vec3 toBall = (Vec3(0, 0, kHeight) - place).normalized();
      for (size_t w = 0; w < kSkyWays; ++w) {
        const float up = skyWays()[w].z(), inside = skyWays()[w].dot(toBall) - halfWidth(place);
        if (std::abs(up) < 0.05f || std::abs(inside) < 0.06f) continue;  // at the edge, which is soft
        const bool open = up > 0 && inside < 0;
        QCOMPARE((*sky)->open[(*sky)->level.over(s)][w] > 127, open);
        ++looked;
        if (up > 0 && !open) ++hidden;
      }
    }
    QVERIFY2(looked > 200'000 && hidden > 400, qPrintable(QString("%1 %2").arg(looked).arg(hidden)));
  }
  void aLampCastsTheBallsShadow() {
    const SurfaceMapsPointer maps = ballOverPlane();
    const auto sky = openSky(*maps);
    // the way nearest to straight down on the plane
    const auto top = std::ranges::max_element(skyWays(), {}, [](const Vec3& way) { return way.z(); });
    WayLight light{};
    for (auto& c : light) c[static_cast<size_t>(top - skyWays().begin())] = 2;
    const LightOver over(light, *sky);
    const Surface& surface = maps->surface();
    size_t shadows = 0, lit = 0;
    for (uint32_t s = 0; s < surface.size(); ++s) {
      const Vec3& place = surface.positions[s];
      if (std::abs(place.z()) > 1e-4f || place.head<2>().cwiseAbs().maxCoeff() > 15) continue;
      // where the lamp's ray through the place passes the ball's middle
      const Vec3 toBall = Vec3(0, 0, kHeight) - place;
      const float away = (toBall - toBall.dot(*top) * *top).norm();
      const float got = over.at(s, place, Vec3::UnitZ())[1];
      if (away < kRadius - 1.5f) {
        QVERIFY2(got < 0.16f, qPrintable(QString::number(got)));
        ++shadows;
      } else if (away > kRadius + 2.5f) {
        QVERIFY2(std::abs(got - 2 * top->z()) < 0.02f, qPrintable(QString::number(got)));
        ++lit;
      }
    }
    QVERIFY(shadows > 10 && lit > 500);
  }
  // A sphere photographed under a bare overcast sky, whose nine numbers are known (Ramamoorthi, Hanrahan
  // 2001); what skin mirrors of it lies on top, a twentieth and more toward the rim.
  void theLightOfARenderedSphereIsTold() {
    const Document d =
        withFillLayer(test::documentOf(test::sphere(80, 100)), "tone", Stratum::Flesh, {0.6f, 0.6f, 0.6f});
    StillSetting setting;
    setting.size = {600, 600};
    setting.view = View::Skin;
    setting.light.patch = 0;
    setting.camera = framed(Camera{}, setting.size, d.surface->bounds);
    auto photo = std::make_shared<PictureData>();
    photo->width = photo->height = 600;
    photo->pixels = *stillOf(d, setting);
    Slide slide = freshSlide("photo", photo, setting.camera);
    slide.half = 1;
    const auto fitted = withLightFitted(d, slide);
    QVERIFY2(fitted, fitted ? "" : fitted.error().message().c_str());
    const Harmonics sky = harmonicsOf(setting.light);
    std::vector<std::pair<double, double>> pairs;
    double known = 0, told = 0;
    for (const Vec3& n : d.surface->normals) {
      if (n.z() < 0.4f) continue;
      const Harmonics basis = harmonicsAt(n);
      std::pair<double, double> p;
      for (size_t k = 0; k < 9; ++k)
        p.first += static_cast<double>(kCosineLobe[static_cast<size_t>(kBand[k])] * sky[k] * basis[k]);
      for (size_t w = 0; w < kSkyWays; ++w)
        p.second += static_cast<double>((*fitted->tone.light)[1][w] * std::max(0.f, n.dot(skyWays()[w])));
      pairs.push_back(p);
      known += p.first;
      told += p.second;
    }
    double off = 0, uneven = 0;
    const auto count = static_cast<double>(pairs.size());
    for (const auto& [k, t] : pairs) {
      off += std::abs(t / told * known / k - 1) / count;
      uneven += std::abs(k * count / known - 1) / count;
    }
    QVERIFY2(off < 0.06, qPrintable(QString::number(off)));
    QVERIFY2(uneven > 3 * off, qPrintable(QString::number(uneven)));
  }
  // the slide before the eye shows what will be laid: evened over the form, as it was taken beside it
  void whatHangsIsEvened() {
    const auto maps = std::make_shared<SurfaceMaps>(test::surfaceOf(test::plane(40, 4)));
    WayLight light{};
    for (auto& c : light)
      for (size_t w = 0; w < kSkyWays; ++w) c[w] = 4.f * 0.5f / kSkyWays;  // half of what evenness needs
    Slide slide = test::slideOver(test::photo(64, 64,
                                              [](float, float) {
                                                return LinearColor{0.2f, 0.2f, 0.2f};
                                              }),
                                  test::cameraFrom({0, 0, 1}, 20));
    slide.tone.light = light;
    slide.tone.even = 1;
    const ViewSize size{400, 400};
    const FormBehind behind{*maps->rays(), *lightOver(slide, *maps)};
    const SlidePicture picture = drawnSlide(SlideView(slide), size, 1, behind);
    QCOMPARE(picture.size.width, 400);
    const auto green = [&](int x, int y) {
      return decodeSrgb(static_cast<float>(picture.pixels[static_cast<size_t>(y * 400 + x)] >> 8 & 255) /
                        255);
    };
    QVERIFY2(std::abs(green(200, 200) - 0.4f) < 0.02f, qPrintable(QString::number(green(200, 200))));
    QVERIFY2(std::abs(green(10, 200) - 0.2f) < 0.01f, qPrintable(QString::number(green(10, 200))));
    // without the form nothing of it is known
    const SlidePicture alone = drawnSlide(SlideView(slide), size, 1);
    QVERIFY(alone.pixels[200 * 400 + 200] == alone.pixels[200 * 400 + 10]);
  }
  void lightTurnsWithTheSculpt() {
    Draws draws(3);
    WayLight light{};
    for (auto& c : light)
      for (float& v : c) v = std::max(0.f, draws.around());
    const Eigen::Matrix3f turn = Eigen::AngleAxisf(1.1f, Vec3(1, 2, -1).normalized()).toRotationMatrix();
    const WayLight turned = turnedLight(light, turn);
    for (size_t c = 0; c < 3; ++c) {
      Vec3 before = Vec3::Zero(), after = Vec3::Zero();
      float sum = 0, again = 0;
      for (size_t w = 0; w < kSkyWays; ++w) {
        before += light[c][w] * skyWays()[w];
        after += turned[c][w] * skyWays()[w];
        sum += light[c][w];
        again += turned[c][w];
      }
      QVERIFY(std::abs(again / sum - 1) < 1e-4f);
      QVERIFY((after - turn * before).norm() < 0.05f * sum);
    }
  }
  // nine numbers a colour, in the axes of the view they were fitted in
  void lightOfEarlierFilesIsUnderstood() {
    nlohmann::json said{{"even", 1}};
    for (const char* color : {"red", "green", "blue"})
      said["light"][color] = {1.f, 0.f, 0.f, 0.4f, 0.f, 0.f, 0.f, 0.f, 0.f};  // from the view's right
    const Eigen::Matrix3f view = Eigen::AngleAxisf(1.5707963f, Vec3::UnitY()).toRotationMatrix();
    const auto tone = slideToneFromJson(said, view);
    QVERIFY2(tone, tone ? "" : tone.error().message().c_str());
    Vec3 from = Vec3::Zero();
    for (size_t w = 0; w < kSkyWays; ++w) from += (*tone->light)[0][w] * skyWays()[w];
    QVERIFY((from.normalized() - view * Vec3::UnitX()).norm() < 0.02f);
    // over a normal as the nine numbers had it
    for (const Vec3& n : {Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(-1, 0, 0), Vec3(0, 0, 1)}) {
      float got = 0;
      for (size_t w = 0; w < kSkyWays; ++w)
        got += (*tone->light)[0][w] * std::max(0.f, skyWays()[w].dot(view * n));
      const Harmonics basis = harmonicsAt(n);
      QVERIFY2(std::abs(got - (basis[0] + 0.4f * basis[3])) < 0.02f, qPrintable(QString::number(got)));
    }
    said["light"]["red"] = {1, 2, 3};
    QVERIFY(!slideToneFromJson(said, view));
    said["light"]["red"] = std::vector<float>(kSkyWays, -1.f);
    QVERIFY(!slideToneFromJson(said, view));
  }
};

JUVENOR_TEST(TestLightOver)

}  // namespace juvenor

#include "test_light_over.moc"
