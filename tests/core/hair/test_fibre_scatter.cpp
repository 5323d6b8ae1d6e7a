// How hair scatters light, against what holds for any fibre: no more leaves than falls in, and the white
// highlight leans toward the root, the coloured one toward the tip (Marschner, Jensen, Cammarano, Worley,
// Hanrahan 2003).
#include <numbers>

#include "core/color/hair_tone.h"
#include "core/color/lab.h"
#include "core/hair/fibre_scatter.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr double kPi = std::numbers::pi;

// At an angle from the plane across a fibre that lies along x, and around it.
Vec3 directionAt(double from, double around) {
  return Vec3(static_cast<float>(std::sin(from)), static_cast<float>(std::cos(from) * std::cos(around)),
              static_cast<float>(std::cos(from) * std::sin(around)));
}

// All that leaves to one viewer of light from everywhere.
Vec3 gathered(double viewer, const Vec3& absorption, float shine) {
  Eigen::Vector3d sum = Eigen::Vector3d::Zero();
  constexpr int kUp = 360, kRound = 180;
  for (int i = 0; i < kUp; ++i) {
    const double from = -kPi / 2 + kPi * (i + 0.5) / kUp;
    for (int k = 0; k < kRound; ++k) {
      const double around = 2 * kPi * (k + 0.5) / kRound;
      sum += scattered({Vec3::UnitX(), directionAt(from, around), directionAt(viewer, 0)}, absorption, shine)
                 .cast<double>() *
             std::cos(from);
    }
  }
  return (sum * (kPi / kUp) * (2 * kPi / kRound)).cast<float>();
}

// Where a viewer sees most of light that falls straight on, by angle; `channel` −1: of the first lobe.
double brightestAt(int channel, const Vec3& absorption) {
  double best = 0;
  float most = -1;
  for (double to = -1; to < 1; to += 0.005) {
    const FibreLight light{Vec3::UnitX(), directionAt(0, 0), directionAt(to, 0)};
    const float first = scatteredFirst(light, 0.8f);
    const float seen = channel < 0 ? first : scattered(light, absorption, 0.8f)[channel] - first;
    if (seen > most) {
      most = seen;
      best = to;
    }
  }
  return best;
}

}  // namespace

class TestFibreScatter : public QObject {
  Q_OBJECT
 private slots:
  void noMoreLeavesThanFallsIn() {
    for (const float melanin : {0.f, 0.3f, 1.3f, 8.f})
      for (const float shine : {0.f, 0.5f, 1.f})
        for (const double degrees : {0.0, 25.0, 50.0, 75.0, 85.0}) {
          const Vec3 out = gathered(degrees * kPi / 180, hairAbsorption(melanin, 0), shine);
          QVERIFY2(
              out.maxCoeff() < 1 && out.minCoeff() > 0.01f,
              qPrintable(QString("%1 %2 %3: %4").arg(melanin).arg(shine).arg(degrees).arg(out.maxCoeff())));
        }
  }
  void highlightsLeanAsACuticleMakesThem() {
    const Vec3 none = Vec3::Zero();
    const double white = brightestAt(-1, none), colored = brightestAt(0, none);
    // 5° to 10° of tilt shift the first by twice that toward the root (−x), the second by three times the
    // other way
    QVERIFY2(white < -2 * 5 * kPi / 180 && white > -2 * 10 * kPi / 180, qPrintable(QString::number(white)));
    QVERIFY2(colored > 0.6 * -white && colored < 2.2 * -white, qPrintable(QString::number(colored)));
  }
  void theSecondHighlightHasTheFibresColor() {
    const FibreLight light{Vec3::UnitX(), directionAt(0, 0), directionAt(0.25, 0)};
    const Vec3 absorption = hairAbsorption(0.2f, 1.2f);
    const Vec3 second = scattered(light, absorption, 0.6f) - Vec3::Constant(scatteredFirst(light, 0.6f));
    QVERIFY(second.x() > 1.5f * second.y() && second.y() > 1.5f * second.z());
  }
  void theMirroredSideFollowsTheViewer() {
    for (const double to : {-0.8, -0.3, 0.0, 0.4, 0.9}) {
      const Vec3 viewer = directionAt(to, 0.7);
      const Vec3 mirrored = mirroredByFibre(Vec3::UnitX(), viewer);
      QVERIFY(std::abs(mirrored.norm() - 1) < 1e-5f);
      // more leaves there than beside it
      const auto seen = [&](const Vec3& from) { return scatteredFirst({Vec3::UnitX(), from, viewer}, 0.8f); };
      for (const float aside : {-0.3f, 0.3f})
        QVERIFY(seen(mirrored) > seen(Vec3(mirrored + aside * Vec3::UnitX()).normalized()));
    }
  }
  // Blond hair is lighter than brown, brown than black, and red hair redder than blond; nothing of it is pure
  // black.
  void tonesGoFromBlondToBlack() {
    const auto labOf = [](float brown, float red) {
      const Vec3 tone = hairTone(hairAbsorption(brown, red));
      return toLab(encode({tone.x(), tone.y(), tone.z()}));
    };
    const auto white = labOf(0.02f, 0), blond = labOf(0.3f, 0), brown = labOf(1.3f, 0.2f),
               black = labOf(8, 0);
    const auto red = labOf(0.2f, 0.7f);
    QVERIFY(white.l > blond.l + 15 && blond.l > brown.l + 15 && brown.l > black.l);
    QVERIFY(red.a > blond.a + 2);
    QVERIFY(black.l > 0 && black.l < 1);
  }
};

JUVENOR_TEST(TestFibreScatter)

}  // namespace juvenor

#include "test_fibre_scatter.moc"
