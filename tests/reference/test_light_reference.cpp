// Light against what is known of it in closed form and in tables: the colour of lamps, the balance of the
// lobes of shine, light that wanders, shadows, panoramas.
#include <OpenImageIO/imageio.h>

#include <cmath>

#include "core/color/lab.h"
#include "core/color/lamp_color.h"
#include "core/document/edits/edits.h"
#include "core/layers/sources/fill.h"
#include "core/render/lighting.h"
#include "core/render/shine.h"
#include "core/render/spread_light.h"
#include "core/render/still.h"
#include "core/render/wandering_light.h"
#include "core/surface/build/search.h"
#include "support/colord_table.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// Integral over the hemisphere of a lobe of reflectance 1, in double, by even rings.
double directionalAlbedo(float cosOut, float width) {
  const Vec3 v(std::sqrt(1 - cosOut * cosOut), 0, cosOut);
  constexpr int kRings = 900, kAround = 900;
  double sum = 0;
  for (int i = 0; i < kRings; ++i) {
    const double cosIn = (i + 0.5) / kRings, sinIn = std::sqrt(1 - cosIn * cosIn);
    for (int k = 0; k < kAround; ++k) {
      const double around = 2 * M_PI * (k + 0.5) / kAround;
      const Vec3 l(static_cast<float>(sinIn * std::cos(around)), static_cast<float>(sinIn * std::sin(around)),
                   static_cast<float>(cosIn));
      const Vec3 h = (v + l).normalized();
      sum += static_cast<double>(facets(h.z(), width) * visibleFacets(l.z(), cosOut, width)) * cosIn;
    }
  }
  return sum * 2 * M_PI / (static_cast<double>(kRings) * kAround);
}

// A step melted to a variance, as the mean over a cell of a width around x: a point stands for its cell.
double stepOf(double x, double variance, double cell) {
  const double deviation = std::sqrt(variance);
  // the integral of the normal distribution's
  const auto integral = [&](double at) {
    const double t = at / deviation;
    return at * 0.5 * (1 + std::erf(t / std::sqrt(2))) +
           deviation * std::exp(-t * t / 2) / std::sqrt(2 * M_PI);
  };
  return (integral(x + cell / 2) - integral(x - cell / 2)) / cell;
}

}  // namespace

class TestLightReference : public QObject {
  Q_OBJECT
 private slots:
  // colord's copies of CIE A (2856 K, a black body), D50, D55 and D65.
  void lampsHaveTheColoursOfTheTables_data() {
    QTest::addColumn<QString>("table");
    QTest::addColumn<double>("kelvin");
    QTest::newRow("A") << "CIE-A" << 2856.0;
    QTest::newRow("D50") << "CIE-D50" << 5003.0;
    QTest::newRow("D55") << "CIE-D55" << 5503.0;
    QTest::newRow("D65") << "CIE-D65" << 6504.0;
  }
  void lampsHaveTheColoursOfTheTables() {
    QFETCH(QString, table);
    QFETCH(double, kelvin);
    const auto observer = test::colordTable("/usr/share/colord/cmf/CIE1931-2deg-XYZ.cmf");
    const auto lamp = test::colordTable("/usr/share/colord/illuminant/" + table.toStdString() + ".sp");
    double xyz[3]{};
    for (double nm = 380; nm <= 780; nm += 5)
      for (size_t k = 0; k < 3; ++k) xyz[k] += lamp.at(0, nm) * observer.at(k, nm);
    const double sum = xyz[0] + xyz[1] + xyz[2];
    const auto [x, y] = lampChromaticity(static_cast<float>(kelvin));
    QVERIFY2(std::abs(x - xyz[0] / sum) < 1.5e-3 && std::abs(y - xyz[1] / sum) < 1.5e-3,
             qPrintable(QString("%1 %2 for %3 %4").arg(x).arg(y).arg(xyz[0] / sum).arg(xyz[1] / sum)));
    const LinearColor c = lampColor(static_cast<float>(kelvin));
    QVERIFY(std::abs(0.2126f * c.r + 0.7152f * c.g + 0.0722f * c.b - 1) < 1e-3f);
  }
  void warmerLampsAreRedder() {
    float before = 1e9f;
    for (float kelvin = 1500; kelvin < 20000; kelvin *= 1.2f) {
      const LinearColor c = lampColor(kelvin);
      QVERIFY(c.r / std::max(1e-3f, c.b) < before);
      before = c.r / std::max(1e-3f, c.b);
    }
  }
  // Facets seen from straight above cover the surface once: ∫ D(h) cos h dh = 1.
  void facetsCoverTheSurfaceOnce() {
    for (const float width : {0.02f, 0.1f, 0.35f, 0.7f, 1.f}) {
      double sum = 0;
      constexpr int kSteps = 400'000;
      for (int i = 0; i < kSteps; ++i) {
        const double c = (i + 0.5) / kSteps;
        sum += static_cast<double>(facets(static_cast<float>(c), width)) * c;
      }
      QVERIFY2(std::abs(2 * M_PI * sum / kSteps - 1) < 0.02, qPrintable(QString::number(width)));
    }
  }
  // Heitz 2014 (Understanding the masking-shadowing function, formulas 72 and 99): masking of both directions
  // together is 1 / (1 + Λ(in) + Λ(out)). Taken apart, as a product, it is up to a third less at grazing
  // angles: the wrong one would be seen.
  void maskingIsThatOfBothDirectionsTogether() {
    const auto lambda = [](double cosine, double width) {
      const double tangent2 = (1 - cosine * cosine) / (cosine * cosine);
      return (std::sqrt(1 + width * width * tangent2) - 1) / 2;
    };
    double apart = 1;
    for (const double width : {0.05, 0.3, 0.7, 1.0})
      for (const double in : {0.08, 0.3, 0.75, 1.0})
        for (const double out : {0.1, 0.4, 0.9}) {
          const double a = lambda(in, width), b = lambda(out, width),
                       together = 1 / (1 + a + b) / (4 * in * out),
                       product = 1 / (1 + a) / (1 + b) / (4 * in * out);
          const auto ours = static_cast<double>(
              visibleFacets(static_cast<float>(in), static_cast<float>(out), static_cast<float>(width)));
          QVERIFY2(std::abs(ours / together - 1) < 1e-4,
                   qPrintable(QString("%1 %2 %3: %4").arg(width).arg(in).arg(out).arg(ours / together)));
          apart = std::min(apart, product / together);
        }
    QVERIFY(apart < 0.75);
  }
  // The basis against the standard library's spherical Legendre functions, and what a clamped cosine does to
  // each band: 2π ∫ c P(c) dc over 0…1.
  void harmonicsAreThoseOfTheStandardLibrary() {
    std::mt19937 random(4);
    std::normal_distribution<float> any;
    const std::pair<unsigned, int> order[] = {{0, 0},  {1, -1}, {1, 0}, {1, 1}, {2, -2},
                                              {2, -1}, {2, 0},  {2, 1}, {2, 2}};
    for (int i = 0; i < 300; ++i) {
      const Vec3 d = Vec3(any(random), any(random), any(random)).normalized();
      const Harmonics y = harmonicsAt(d);
      const auto polar = std::acos(std::clamp(static_cast<double>(d.z()), -1.0, 1.0)),
                 around = std::atan2(static_cast<double>(d.y()), static_cast<double>(d.x()));
      for (size_t k = 0; k < 9; ++k) {
        const auto [band, m] = order[k];
        QCOMPARE(kBand[k], static_cast<int>(band));
        const auto size = static_cast<unsigned>(std::abs(m));
        // graphics leaves the sign (−1)^m of Condon and Shortley out
        double expected = std::sph_legendre(band, size, polar) * (size % 2 ? -1 : 1);
        if (m > 0) expected *= std::sqrt(2) * std::cos(m * around);
        if (m < 0) expected *= std::sqrt(2) * std::sin(-m * around);
        QVERIFY2(std::abs(std::abs(static_cast<double>(y[k])) - std::abs(expected)) < 2e-5 &&
                     std::abs(static_cast<double>(y[k]) - std::copysign(expected, y[k])) < 2e-5,
                 qPrintable(QString("%1: %2, not %3").arg(k).arg(y[k]).arg(expected)));
      }
    }
    for (unsigned band = 0; band < 3; ++band) {
      double sum = 0;
      constexpr int kSteps = 20'000;
      for (int i = 0; i < kSteps; ++i) {
        const double c = (i + 0.5) / kSteps;
        sum += 2 * M_PI * c * std::legendre(band, c) / kSteps;
      }
      QVERIFY(std::abs(sum - static_cast<double>(kCosineLobe[band])) < 1e-5);
    }
  }
  // Of light from everywhere a lobe of reflectance 1 sends no more than all to the viewer; the table has it
  // as the integral does.
  void lobesSendNoMoreThanTheyGet() {
    for (const float gloss : {0.f, 0.2f, 0.5f, 0.8f})
      for (const float cosOut : {0.15f, 0.4f, 0.7f, 1.f}) {
        const float width = lobeWidth(gloss);
        const double once = directionalAlbedo(cosOut, width);
        QVERIFY2(once <= 1.005, qPrintable(QString("%1 %2 %3").arg(gloss).arg(cosOut).arg(once)));
        const auto [scale, offset] = reflected(cosOut, width);
        QVERIFY(std::abs(once - static_cast<double>(scale + offset)) < 0.03);
      }
  }
  // White furnace, on the picture itself: in the same light from everywhere a white ball is as bright as that
  // light, as metal and as skin, whatever its gloss; what rough facets lose is given back.
  void aWhiteBallVanishesInEvenLight() {
    constexpr float kRadiance = 0.5f;
    const Document ball = test::documentOf(test::sphere(40, 10));
    StillSetting setting;
    setting.size = {120, 120};
    setting.camera = framed(setting.camera, setting.size, shownPoints(ball));
    setting.light.kind = LightKind::Surroundings;
    setting.light.environment = std::make_shared<const Environment>(
        panoramaOf([&](const Vec3&) { return Vec3(Vec3::Constant(kRadiance)); }));
    const auto expected = static_cast<int>(std::lround(255 * encodeSrgb(kRadiance)));
    for (const float metal : {0.f, 1.f})
      for (const float gloss : {0.f, 0.3f, 0.6f, 1.f}) {
        ChannelValues white = EncodedColor{1, 1, 1};
        white[Channel::Gloss] = gloss;
        white[Channel::Metal] = metal;
        const auto pixels =
            stillOf(withSourceLayer(ball, "White", Stratum::Flesh, fillSource(white)), setting);
        QVERIFY2(pixels, pixels ? "" : pixels.error().message().c_str());
        int seen = 0;
        for (const uint32_t pixel : *pixels) {
          if (pixel == setting.background) continue;
          ++seen;
          for (const int shift : {16, 8, 0}) {
            const int byte = static_cast<int>(pixel >> shift & 0xff);
            // the rim is mixed with what lies behind it
            const bool rim = byte < expected && byte >= 0x6c;
            QVERIFY2(
                byte <= expected + 2 && (rim || byte >= expected - 3),
                qPrintable(
                    QString("metal %1 gloss %2: %3, not %4").arg(metal).arg(gloss).arg(byte).arg(expected)));
          }
        }
        QVERIFY(seen > 3000);
        const uint32_t middle = (*pixels)[60 * 120 + 60] & 0xff;
        QVERIFY2(
            std::abs(static_cast<int>(middle) - expected) <= 2,
            qPrintable(
                QString("metal %1 gloss %2: %3, not %4").arg(metal).arg(gloss).arg(middle).arg(expected)));
      }
  }
  // A disc of light mirrored in a lobe against the integral over the disc.
  void aLampIsMirroredAsLargeAsItIs() {
    const Vec3 normal(0, 0, 1), viewer = Vec3(0.5f, 0, 0.8f).normalized();
    for (const float size : {0.1f, 0.3f})
      for (const float width : {0.01f, 0.05f, 0.2f})
        for (const float off : {0.f, 0.08f, 0.2f}) {
          const float angle = std::atan2(-viewer.x(), viewer.z()) + off;
          const Vec3 toward(std::sin(angle), 0, std::cos(angle)), side(std::cos(angle), 0, -std::sin(angle));
          const double half = static_cast<double>(size) / 2;
          double sum = 0, weights = 0;
          constexpr int kRings = 200, kAround = 200;
          for (int i = 0; i < kRings; ++i)
            for (int k = 0; k < kAround; ++k) {
              const auto a = static_cast<float>(half * (i + 0.5) / kRings),
                         turn = static_cast<float>(2 * M_PI * k / kAround);
              const Vec3 l = std::cos(a) * toward +
                             std::sin(a) * (std::cos(turn) * side + std::sin(turn) * Vec3::UnitY());
              const Vec3 h = (l + viewer).normalized();
              const double w = std::sin(static_cast<double>(a));
              weights += w * static_cast<double>(std::cos(a));
              if (l.z() > 0)
                sum += w * static_cast<double>(facets(h.z(), width) *
                                               visibleFacets(l.z(), viewer.z(), width) * l.z());
            }
          const double whole = M_PI * sum / weights;
          const auto [shine, away] = mirroredDisc(normal, viewer, toward, size, width);
          // crisp edges and the brightness of the middle are what one sees; far off it is next to nothing
          const double least = 0.02 / (half * half);
          QVERIFY2(std::abs(static_cast<double>(shine) - whole) < 0.4 * whole + least,
                   qPrintable(QString("size %1 width %2 off %3: %4, not %5")
                                  .arg(size)
                                  .arg(width)
                                  .arg(off)
                                  .arg(shine)
                                  .arg(whole)));
        }
  }
  // The table is that of d'Eon, Luebke, Enderton 2007 (GPU Gems 3, chapter 14; from memory): variance in mm²,
  // and the parts of red, green and blue.
  void theTableOfWanderingIsThePublishedOne() {
    constexpr float kPublished[6][4] = {{0.0064f, 0.233f, 0.455f, 0.649f}, {0.0484f, 0.100f, 0.336f, 0.344f},
                                        {0.187f, 0.118f, 0.198f, 0.f},     {0.567f, 0.113f, 0.007f, 0.007f},
                                        {1.99f, 0.358f, 0.004f, 0.f},      {7.41f, 0.078f, 0.f, 0.f}};
    const auto ours = skinGaussians();
    QCOMPARE(ours.size(), std::size(kPublished));
    for (size_t i = 0; i < ours.size(); ++i) {
      QVERIFY(std::abs(ours[i].variance - kPublished[i][0]) < 1e-6f);
      for (size_t c = 0; c < 3; ++c) QVERIFY(std::abs(ours[i].part[c] - kPublished[i][c + 1]) < 1e-3f);
    }
    std::array<float, 3> sum{};
    float before = 0;
    for (const SkinGaussian& g : skinGaussians()) {
      QVERIFY(g.variance > before);
      before = g.variance;
      for (size_t c = 0; c < 3; ++c) sum[c] += g.part[c];
    }
    for (const float s : sum) QVERIFY(std::abs(s - 1) < 1e-5f);
    for (const float part : glowThrough(0)) QVERIFY(std::abs(part - 1) < 1e-5f);
    // from memory Jensen and others 2001: red goes farthest, blue least
    const auto deep = glowThrough(2);
    QVERIFY(deep[0] > 0.1f && deep[0] > 5 * deep[1] && deep[1] >= deep[2]);
  }
  // Each Gaussian of a step is an error function; units other than mm scale.
  void aStepOfLightWandersAsErrorFunctionsSay() {
    constexpr float kUnit = 10;  // mm: the sculpt is in centimetres
    // fine enough to hold the narrowest Gaussian
    const auto surface = test::surfaceOf(test::plane(500, 2));
    SurfaceMaps maps(surface);
    constexpr float kEdge = 0.002f;  // between two columns of points
    std::vector<ReceivedLight> step(surface->size());
    for (size_t s = 0; s < step.size(); ++s) step[s].fill(surface->positions[s].x() > kEdge ? 1.f : 0.f);
    const auto spread = wandered(maps.ladder(), step, kUnit, 1);
    QVERIFY(spread);
    double most = 0;
    std::array<double, 3> mean{}, expectedMean{};
    for (size_t s = 0; s < step.size(); ++s) {
      const Vec3& p = surface->positions[s];
      if (std::abs(p.x()) > 0.4f || std::abs(p.y()) > 0.4f) continue;
      const double mm = static_cast<double>((p.x() - kEdge) * kUnit);
      for (size_t c = 0; c < 3; ++c) {
        double expected = 0;
        for (const SkinGaussian& g : skinGaussians())
          expected += static_cast<double>(g.part[c]) * stepOf(mm, static_cast<double>(g.variance), 0.04);
        most = std::max(most, std::abs(expected - static_cast<double>((*spread)[s][c])));
        mean[c] += static_cast<double>((*spread)[s][c]);
        expectedMean[c] += expected;
      }
    }
    QVERIFY2(most < 0.02, qPrintable(QString::number(most)));
    for (size_t c = 0; c < 3; ++c) QVERIFY(std::abs(mean[c] / expectedMean[c] - 1) < 5e-3);
  }
  void evenLightStaysEven() {
    for (const Sculpt& sculpt : {test::sphere(90, 30), test::torus(60, 40, 12), test::oddities(3)}) {
      SurfaceMaps maps(test::surfaceOf(sculpt));
      std::vector<ReceivedLight> even(maps.size(), ReceivedLight{0.7f, 0.5f, 0.3f});
      const auto spread = wandered(maps.ladder(), even, 1, 1);
      for (size_t s = 0; s < even.size(); ++s)
        for (size_t c = 0; c < 3; ++c) QVERIFY(std::abs((*spread)[s][c] / even[s][c] - 1) < 1e-3f);
      // and the mean of any light stays
      std::vector<ReceivedLight> spotted(maps.size());
      double before = 0, after = 0;
      for (size_t s = 0; s < spotted.size(); ++s) spotted[s].fill(s % 7 == 0 ? 1.f : 0.1f);
      const auto melted = wandered(maps.ladder(), spotted, 1, 1);
      const auto& areas = maps.ladder()->graphs[0].areas;
      for (size_t s = 0; s < spotted.size(); ++s) {
        before += static_cast<double>(areas[s] * spotted[s][0]);
        after += static_cast<double>(areas[s] * (*melted)[s][0]);
      }
      QVERIFY2(std::abs(after / before - 1) < 5e-3, qPrintable(QString::number(after / before)));
    }
  }
  // Two plates one above the other: the edge of the shadow lies where the sun's direction says, and a large
  // lamp's edge is as wide as its angle.
  void aLampsShadowLiesWhereGeometrySays() {
    Sculpt above = test::plane(40, 4, "Plate");
    for (Vec3& v : above.vertices) v += Vec3(0, 0, 3);
    const auto surface = test::surfaceOf(test::together(test::plane(200, 20, "Ground"), above));
    const auto rays = *buildRays(surface, Rays::Quality::Full);
    Light light;
    light.kind = LightKind::Lamps;
    light.dial = 0;
    for (Lamp& lamp : light.lamps) lamp.on = false;
    // toward (tan 30°, 0, 1): the shadow is moved by 3 tan 30° the other way
    light.lamps[0] = {true, 30, 0, 1, 0.5f, 6500};
    Lighting lighting(surface);
    lighting.setLight(light);
    lighting.settle(*rays);
    const float moved = -3 * std::tan(static_cast<float>(M_PI) / 6);
    const auto seen = [&](float x) {
      const auto s = *nearestSample(*surface, {x, 0.05f, 0}, 1, 0);
      return static_cast<float>(lighting.open()[s].lamps[0]) / 255;
    };
    QVERIFY(seen(moved) == 0 && seen(moved - 1.7f) == 0 && seen(moved + 1.7f) == 0);
    QVERIFY(seen(moved - 2.3f) == 1 && seen(moved + 2.3f) == 1);
    light.lamps[0].size = 30;
    lighting.setLight(light);
    lighting.settle(*rays);
    QVERIFY(seen(moved) == 0);
    const float half = seen(moved + 2);
    QVERIFY2(half > 0.25f && half < 0.75f, qPrintable(QString::number(half)));
    // as wide as the lamp from where the plate's edge stands: about 3 · 2 tan 15° / cos² 30°
    QVERIFY(seen(moved + 2 + 1.3f) > 0.97f && seen(moved + 2 - 1.3f) < 0.03f);
  }
  // A cosine around one axis has two numbers and no others: of 1 + d·a those are √(4π) and √(4π/3) · a.
  void panoramasComeDownToNineNumbers() {
    const Vec3 axis = Vec3(0.3f, 0.7f, -0.5f).normalized();
    const Environment environment(
        panoramaOf([&](const Vec3& d) { return Vec3((1 + d.dot(axis)) * Vec3(1, 0.5f, 0.25f)); }));
    for (size_t c = 0; c < 3; ++c) {
      const float scale = std::array{1.f, 0.5f, 0.25f}[c], root = std::sqrt(4 * static_cast<float>(M_PI) / 3);
      const Harmonics& l = environment.harmonics()[c];
      QVERIFY(std::abs(l[0] - scale * std::sqrt(4 * static_cast<float>(M_PI))) < 5e-3f);
      QVERIFY(std::abs(l[1] - scale * root * axis.y()) < 5e-3f);
      QVERIFY(std::abs(l[2] - scale * root * axis.z()) < 5e-3f);
      QVERIFY(std::abs(l[3] - scale * root * axis.x()) < 5e-3f);
      for (size_t k = 4; k < 9; ++k) QVERIFY(std::abs(l[k]) < 5e-3f);
    }
    // mirrored sharply it is what it is; wide lobes see less of its slope
    QVERIFY(std::abs(environment.blurred(axis, 0.005f).x() - 2) < 0.03f);
    QVERIFY(environment.blurred(axis, 1).x() < 1.9f && environment.blurred(-axis, 1).x() > 0.1f);
  }
  // Turning the nine numbers is turning the panorama.
  void turnedNumbersAreThoseOfTheTurnedPanorama() {
    const auto lit = [](const Vec3& d) {
      const float v = std::pow(std::max(0.f, d.dot(Vec3(0.6f, 0.5f, 0.62f))), 3.f) + 0.2f * d.x() * d.x();
      return Vec3(v, v, v);
    };
    const Environment straight(panoramaOf(lit));
    for (const float degrees : {30.f, -75.f, 160.f}) {
      const Environment turned(panoramaOf([&](const Vec3& d) { return lit(turnedAround(d, -degrees)); }));
      const Harmonics numbers = turnedAround(straight.harmonics()[0], degrees);
      for (size_t k = 0; k < 9; ++k) QVERIFY(std::abs(numbers[k] - turned.harmonics()[0][k]) < 4e-3f);
    }
  }
  // A disc of radiance L and half angle a gives a wall that faces it L·sin²a (times π, which is left out
  // everywhere); a sky without one has none.
  void aSmallSunIsTakenOutOfThePanorama() {
    const Vec3 toward = Vec3(0.5f, 0.35f, 0.6f).normalized();
    const float half = 6 * static_cast<float>(M_PI) / 180, radiance = 60;
    const auto sky = [](const Vec3& d) { return Vec3::Constant(0.4f + 0.2f * d.y()); };
    const Environment bare(panoramaOf(sky));
    QVERIFY(!bare.sun());
    const Environment sunny(panoramaOf(
        [&](const Vec3& d) { return d.dot(toward) > std::cos(half) ? Vec3(radiance, 40, 20) : sky(d); },
        512));
    QVERIFY(sunny.sun());
    QVERIFY(sunny.sun()->toward.dot(toward) > std::cos(0.01f));
    const float expected = radiance * std::sin(half) * std::sin(half);
    QVERIFY2(std::abs(sunny.sun()->strength.x() / expected - 1) < 0.03f,
             qPrintable(QString::number(sunny.sun()->strength.x())));
    QVERIFY(std::abs(sunny.sun()->size / (2 * half) - 1) < 0.03f);
    for (size_t c = 0; c < 3; ++c)
      for (size_t k = 0; k < 9; ++k)
        QVERIFY(std::abs(sunny.harmonics()[c][k] - bare.harmonics()[c][k]) < 5e-3f);
  }
  // What stands in an eye as a light under the overcast sky: mirrored sharply it is as bright as the sky is
  // there.
  void theOvercastSkyIsMirroredWithItsBrightPlace() {
    const Light light;
    const Vec3 place = patchDirection(light);
    const float there = radiance(light, place), mirror = mirrored(litBy(light), place, 0.005f).x();
    QVERIFY(there > 10 * radiance(light, Vec3::UnitY()));
    QVERIFY2(std::abs(mirror / there - 1) < 0.15f, qPrintable(QString::number(mirror)));
  }
  // A window in the mirror is a window: an edge of light is no wider than a degree, at the highest gloss.
  void sharpEdgesStaySharpInTheMirror() {
    const auto split = [](const Vec3& d) { return Vec3(Vec3::Constant(d.x() > 0 ? 4.f : 0.5f)); };
    const Environment sharp(panoramaOf(split, kMirrorWidth), Environment::SunIs::Kept);
    const auto at = [&](const Environment& e, float degrees, float width) {
      const float a = degrees * static_cast<float>(M_PI) / 180;
      return e.blurred({std::sin(a), 0.2f, std::cos(a)}, width).x();
    };
    QVERIFY(at(sharp, 0.5f, lobeWidth(1)) > 3.9f && at(sharp, -0.5f, lobeWidth(1)) < 0.6f);
    // and dull skin sees it dully
    QVERIFY(at(sharp, 2, 0.3f) < 3 && at(sharp, -2, 0.3f) > 1.5f);
    for (const MadePanorama& made : madePanoramas()) {
      const Panorama p = made.make(256);
      QCOMPARE(p.pixels.size(), size_t{256 * 128});
      for (const Vec3& l : p.pixels) QVERIFY(l.minCoeff() >= 0 && l.allFinite());
    }
  }
  // An .exr and an .hdr as OpenImageIO writes them: linear, far above one, and brought to the sky's
  // brightness.
  void panoramasAreReadFromFiles() {
    const test::Folder folder;
    std::vector<float> pixels(512 * 256 * 3, 0.2f);
    for (int y = 60; y < 70; ++y)
      for (int x = 380; x < 390; ++x) pixels[static_cast<size_t>(3 * (512 * y + x))] = 800;
    for (const char* name : {"sun.exr", "sun.hdr"}) {
      const auto file = (folder / name).string();
      const auto out = OIIO::ImageOutput::create(file);
      QVERIFY(out && out->open(file, OIIO::ImageSpec(512, 256, 3, OIIO::TypeDesc::FLOAT)));
      QVERIFY(out->write_image(OIIO::TypeDesc::FLOAT, pixels.data()) && out->close());
      const auto panorama = readPanorama(file);
      QVERIFY2(panorama, panorama ? "" : panorama.error().message().c_str());
      // the sun stands at column 385 of 512 from −z over +x, row 65 of 256 from the top
      const float around = 2 * static_cast<float>(M_PI) * 385 / 512,
                  down = static_cast<float>(M_PI) * 65 / 256;
      const Vec3 sun(std::sin(around) * std::sin(down), std::cos(down), -std::cos(around) * std::sin(down));
      const Environment environment(*panorama);
      QVERIFY(environment.sun() && environment.sun()->toward.dot(sun) > 0.998f);
    }
    const auto square = (folder / "square.exr").string();
    const auto out = OIIO::ImageOutput::create(square);
    QVERIFY(out && out->open(square, OIIO::ImageSpec(64, 64, 3, OIIO::TypeDesc::FLOAT)));
    QVERIFY(out->write_image(OIIO::TypeDesc::FLOAT, pixels.data()) && out->close());
    const auto refused = readPanorama(square);
    QVERIFY(!refused && refused.error().what.find("twice as wide") != std::string::npos);
    QVERIFY(!readPanorama(folder / "nothing.exr"));
  }
  // Half the sphere the grey of half the light, half a pattern of light and nothing: both are as bright. (188
  // of 255 is half the light by the curve of IEC 61966-2-1.)
  void eightBitPanoramasAreAveragedAsLight() {
    const test::Folder folder;
    const auto file = (folder / "halves.png").string();
    std::vector<uint8_t> pixels(512 * 256 * 3);
    for (size_t y = 0; y < 256; ++y)
      for (size_t x = 0; x < 512; ++x)
        for (size_t c = 0; c < 3; ++c) pixels[3 * (512 * y + x) + c] = x < 256 ? 188 : (x + y) % 2 ? 255 : 0;
    const auto out = OIIO::ImageOutput::create(file);
    QVERIFY(out && out->open(file, OIIO::ImageSpec(512, 256, 3, OIIO::TypeDesc::UINT8)));
    QVERIFY(out->write_image(OIIO::TypeDesc::UINT8, pixels.data()) && out->close());
    const auto panorama = readPanorama(file);
    QVERIFY2(panorama, panorama ? "" : panorama.error().message().c_str());
    const float even = panorama->at(Vec3(1, 0, 0)).x(), pattern = panorama->at(Vec3(-1, 0, 0)).x();
    QVERIFY2(std::abs(pattern / even - 1) < 0.02f, qPrintable(QString("%1 %2").arg(even).arg(pattern)));
  }
  // Light through a thin wall: as the table says for its thickness, and none through a thick block.
  void thinFormsGlow() {
    const auto surface = test::surfaceOf(test::box(24, {20, 20, 1.5f}));
    SurfaceMaps maps(surface);
    const auto rays = *maps.rays();
    const auto through = throughForms(*rays, kThickestGlow);
    std::vector<ReceivedLight> received(surface->size()), light(surface->size());
    for (size_t s = 0; s < received.size(); ++s)
      received[s].fill(surface->normals[s].z() < -0.9f ? 1.f : 0.f);  // lit from behind
    addGlow(light, received, through, 1, 1);
    const auto front = *nearestSample(*surface, {0.3f, 0.2f, 0.75f}, 1);
    const auto expected = glowThrough(1.5f);
    for (size_t c = 0; c < 3; ++c) QVERIFY(std::abs(light[front][c] - expected[c]) < 0.02f);
    QVERIFY(light[front][0] > 3 * light[front][1]);
    const auto thick = throughForms(**SurfaceMaps(test::surfaceOf(test::box(8, {20, 20, 20}))).rays(), 9);
    QVERIFY(std::ranges::all_of(thick, [](const ThroughForm& t) { return t.sample == kNone; }));
  }
};

JUVENOR_TEST(TestLightReference)
}  // namespace juvenor
#include "test_light_reference.moc"
