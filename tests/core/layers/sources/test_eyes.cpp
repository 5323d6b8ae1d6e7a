// Eyes in their measures: what is said in scene units stands there whatever the points, no two are the same,
// and a change of one is a change of its own skin alone.
#include "core/color/oklab.h"
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/scaled_source.h"
#include "core/layers/sources/eyes.h"
#include "core/layers/sources/moved_skin.h"
#include "support/made.h"
#include "support/run_all.h"
#include "support/sanitized.h"

namespace juvenor {
namespace {

constexpr float kBall = 12;

Eyes plain() {
  Eyes out;
  EyeBall ball;
  ball.part = 0;
  ball.radius = kBall;
  out.balls = {ball};
  out.iris = 6;
  out.pupil = 2;
  out.uneven = 0;
  out.vessels = 0;
  out.rim = 0;
  return out;
}

struct Shown {
  std::vector<EncodedColor> colors;
  std::vector<float> heights;
};

Shown shownBy(const Eyes& eyes, const Document& d) {
  const auto made = *eyeSource(eyes)->prepare(*d.maps);
  Shown out;
  const auto below = std::make_unique<ColorChunk>();
  for (size_t s = 0; s < d.surface->size(); ++s) {
    const auto colors = made->colors(s / kChunkSize, *below);
    const auto heights = made->heights(Channel::Relief, s / kChunkSize);
    out.colors.push_back(colors ? straight(sampleOf(*colors, s % kChunkSize)) : EncodedColor{-1, 0, 0});
    out.heights.push_back(heights ? heightOf(heights->plane[0][s % kChunkSize], d.maps->reliefStep()) : 0);
  }
  return out;
}

// As seen from the front: from the middle of the look, scene units; below 0 behind.
float fromMiddle(const Vec3& place, const Vec3& look) {
  const Vec3 way = place.normalized();
  return way.dot(look) > 0 ? kBall * way.cross(look).norm() : -1;
}

bool isBlack(const EncodedColor& c) {
  return c.r >= 0 && toOklch(c).l < 0.16f;
}

}  // namespace

class TestEyes : public QObject {
  Q_OBJECT
 private slots:
  // The area of a disc of the pupil's radius, and the iris' rim by its depth: at few points and at many.
  void measuresStandWhateverThePoints_data() {
    QTest::addColumn<int>("rings");
    QTest::newRow("7 thousand points") << 60;
    QTest::newRow("80 thousand points") << 200;
    QTest::newRow("third of a million points") << (test::kSanitized ? 120 : 400);
  }
  void measuresStandWhateverThePoints() {
    QFETCH(int, rings);
    const Document d = test::documentOf(test::sphere(rings, kBall));
    Eyes eyes = plain();
    eyes.limbusDark = 0;
    eyes.balls[0].look = Vec3(0.3f, 0.2f, 1).normalized();
    const Shown shown = shownBy(eyes, d);
    double black = 0;
    float deep = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const float away = fromMiddle(d.surface->positions[s], eyes.balls[0].look);
      const float facing = d.surface->positions[s].normalized().dot(eyes.balls[0].look);
      if (isBlack(shown.colors[s])) black += static_cast<double>(d.surface->areas[s] * facing);
      if (shown.heights[s] < -1e-3f) deep = std::max(deep, away);
    }
    const double radius = std::sqrt(black / std::numbers::pi);
    const double spacing = static_cast<double>(d.surface->spacing);
    QVERIFY2(std::abs(radius - 2) < 0.08 + 0.5 * spacing, qPrintable(QString("pupil %1").arg(radius)));
    QVERIFY2(std::abs(static_cast<double>(deep) - 6) < 0.15 + 1.5 * spacing,
             qPrintable(QString("iris %1").arg(static_cast<double>(deep))));
  }
  // What both can show is the same at few points and at many.
  void finePointsShowTheSame() {
    const Document few = test::documentOf(test::sphere(120, kBall)),
                   many = test::documentOf(test::sphere(test::kSanitized ? 240 : 400, kBall));
    Eyes eyes = plain();
    eyes.balls[0].look = Vec3::UnitZ();
    const Shown a = shownBy(eyes, few), b = shownBy(eyes, many);
    const auto meanOver = [&](const Document& d, const Shown& shown, float from, float to) {
      Vec3 sum = Vec3::Zero();
      float areas = 0;
      for (size_t s = 0; s < d.surface->size(); ++s) {
        const float away = fromMiddle(d.surface->positions[s], Vec3::UnitZ());
        if (away < from || away >= to) continue;
        const EncodedColor& c = shown.colors[s];
        sum += d.surface->areas[s] * Vec3(c.r, c.g, c.b);
        areas += d.surface->areas[s];
      }
      return Vec3(sum / areas);
    };
    for (const auto& [from, to] : {std::pair(2.5f, 3.5f), {3.5f, 4.5f}, {4.5f, 5.5f}, {7.f, 11.f}}) {
      const Vec3 x = meanOver(few, a, from, to), y = meanOver(many, b, from, to);
      QVERIFY2(
          (x - y).norm() < 0.035f,
          qPrintable(
              QString("%1: %2").arg(static_cast<double>(from)).arg(static_cast<double>((x - y).norm()))));
    }
  }
  // It comes from the side of the other eye, as far as it is drawn; drawn over all, no pupil is left.
  void thirdLidsComeFromTheInnerCorner() {
    const Document d = test::documentOf(test::sphere(200, kBall));
    Eyes eyes = plain();
    eyes.balls[0].look = Vec3::UnitZ();
    EyeBall other = eyes.balls[0];
    other.part = 1;
    const Shown bare = shownBy(eyes, d);
    for (const float side : {1.f, -1.f}) {
      other.center = {side * 40, 0, 0};
      eyes.balls.resize(1);
      eyes.balls.push_back(other);
      float reached = 0;
      for (const float lid : {0.25f, 0.6f, 1.f}) {
        eyes.lid = lid;
        const Shown with = shownBy(eyes, d);
        double inner = 0, outer = 0, black = 0;
        for (size_t s = 0; s < d.surface->size(); ++s) {
          const Vec3& p = d.surface->positions[s];
          if (p.z() < 3) continue;
          const double area = static_cast<double>(d.surface->areas[s]);
          if (!(with.colors[s] == bare.colors[s])) (side * p.x() > 0 ? inner : outer) += area;
          black += isBlack(with.colors[s]) ? area : 0;
        }
        QVERIFY2(inner > 20, qPrintable(QString::number(inner)));
        QVERIFY2(inner + outer > static_cast<double>(reached), "farther");
        if (lid < 0.3f) QCOMPARE(outer, 0.);
        QCOMPARE(black > 0, lid < 1);
        reached = static_cast<float>(inner + outer);
      }
      eyes.lid = 0;
    }
  }
  void pupilsHaveTheirShapes_data() {
    QTest::addColumn<int>("shape");
    QTest::addColumn<double>("across");
    QTest::addColumn<double>("up");
    QTest::newRow("round") << static_cast<int>(PupilShape::Round) << 2.0 << 2.0;
    QTest::newRow("upright") << static_cast<int>(PupilShape::Upright) << 0.8 << 2.0;
    QTest::newRow("level") << static_cast<int>(PupilShape::Level) << 2.0 << 0.8;
    QTest::newRow("keyhole") << static_cast<int>(PupilShape::Keyhole) << 1.24 << 2.0;
    QTest::newRow("drawn, a flat diamond") << static_cast<int>(PupilShape::Drawn) << 2.0 << 1.0;
  }
  void pupilsHaveTheirShapes() {
    QFETCH(int, shape);
    QFETCH(double, across);
    QFETCH(double, up);
    const Document d = test::documentOf(test::sphere(320, kBall));
    Eyes eyes = plain();
    eyes.shape = static_cast<PupilShape>(shape);
    eyes.slit = 0.4f;
    eyes.outline = {{1, 0}, {0, 0.5f}, {-1, 0}, {0, -0.5f}};
    const Shown shown = shownBy(eyes, d);
    float widest = 0, highest = 0;
    for (size_t s = 0; s < d.surface->size(); ++s)
      if (isBlack(shown.colors[s])) {
        widest = std::max(widest, std::abs(d.surface->positions[s].x()));
        highest = std::max(highest, std::abs(d.surface->positions[s].y()));
      }
    QVERIFY2(std::abs(static_cast<double>(widest) - across) < 0.17,
             qPrintable(QString::number(static_cast<double>(widest))));
    QVERIFY2(std::abs(static_cast<double>(highest) - up) < 0.17,
             qPrintable(QString::number(static_cast<double>(highest))));
  }
  // What points cannot show is said.
  void fewPointsAreTold() {
    const auto noteWith = [](int rings) {
      const Document d = test::documentOf(test::sphere(rings, kBall));
      return (*eyeSource(plain())->prepare(*d.maps))->note();
    };
    QVERIFY(noteWith(16).find("add points") != std::string::npos);
    QCOMPARE(noteWith(120), std::string());
    const Document d = test::documentOf(test::sphere(16, kBall));
    Eyes none;
    QVERIFY((*eyeSource(none)->prepare(*d.maps))->note().find("eyeball") != std::string::npos);
  }
  // Rims are no circles, and eyes of other seeds are other eyes.
  void noTwoAreTheSame() {
    const Document d = test::documentOf(test::sphere(200, kBall));
    Eyes eyes = plain();
    eyes.uneven = 1;
    eyes.vessels = 0.5f;
    const Shown first = shownBy(eyes, d), again = shownBy(eyes, d);
    QVERIFY(first.colors == again.colors);
    float least = kBall, most = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const float away = fromMiddle(d.surface->positions[s], Vec3::UnitZ());
      if (away < 0) continue;
      if (isBlack(first.colors[s])) most = std::max(most, away);
      if (!isBlack(first.colors[s])) least = std::min(least, away);
    }
    QVERIFY2(most - least > 0.15f && most - least < 1,
             qPrintable(QString::number(static_cast<double>(most - least))));
    eyes.balls[0].seed = 2;
    const Shown other = shownBy(eyes, d);
    size_t differ = 0;
    for (size_t s = 0; s < first.colors.size(); ++s) differ += !(first.colors[s] == other.colors[s]);
    QVERIFY(differ > first.colors.size() / 2);
  }
  void theWhiteIsNeverWhite() {
    const Document d = test::documentOf(test::sphere(200, kBall));
    Eyes eyes = plain();
    eyes.white = {1, 1, 1};
    const Shown shown = shownBy(eyes, d);
    double front = 0, behind = 0, fronts = 0, behinds = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const float facing = d.surface->positions[s].z() / kBall;
      const Oklch c = toOklch(shown.colors[s]);
      if (facing > 0.6f && facing < 0.8f) front += static_cast<double>(c.l), ++fronts;
      if (facing < -0.3f) {
        behind += static_cast<double>(c.l);
        ++behinds;
        QVERIFY(shown.colors[s].r > shown.colors[s].b);
      }
    }
    QVERIFY2(behind / behinds < front / fronts - 0.06,
             qPrintable(QString("%1 %2").arg(front / fronts).arg(behind / behinds)));
  }
  // Flecks of a bright colour of their own: none where none are asked for, more with more.
  void flecksAreAsManyAsAsked() {
    const Document d = test::documentOf(test::sphere(320, kBall));
    Eyes eyes = plain();
    eyes.fleckColor = {0, 1, 0};
    size_t before = 0;
    for (const float flecks : {0.f, 0.3f, 0.7f}) {
      eyes.flecks = flecks;
      const Shown shown = shownBy(eyes, d);
      const auto green = static_cast<size_t>(std::ranges::count_if(
          shown.colors, [](const EncodedColor& c) { return c.g > c.r + 0.2f && c.g > c.b + 0.2f; }));
      QVERIFY2(flecks == 0 ? green == 0 : green > before, qPrintable(QString::number(green)));
      before = green;
    }
  }
  // Vessels redden the white, run from behind, and stop short of the iris.
  void vesselsStopShortOfTheIris() {
    const Document d = test::documentOf(test::sphere(300, kBall));
    Eyes eyes = plain();
    const Shown bare = shownBy(eyes, d);
    eyes.vessels = 1;
    eyes.vesselWidth = 0.3f;
    const Shown veined = shownBy(eyes, d);
    size_t red = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const float away = fromMiddle(d.surface->positions[s], Vec3::UnitZ());
      if (veined.colors[s].g < bare.colors[s].g - 0.12f) {
        QVERIFY(away < 0 || away > eyes.iris);
        ++red;
      }
      // to the last bit of mixing
      if (away >= 0 && away < 5.5f) QVERIFY(std::abs(veined.colors[s].g - bare.colors[s].g) < 2e-4f);
    }
    const double share = static_cast<double>(red) / static_cast<double>(d.surface->size());
    QVERIFY2(share > 0.01 && share < 0.25, qPrintable(QString::number(share)));
  }
  // A lid that lies on the ball wets it along its edge.
  void lidsWetTheirRims() {
    Document d = test::documentOf(test::together(test::sphere(160, kBall), test::plane(200, 60)));
    Eyes eyes = plain();
    eyes.rim = 1;
    const Shown wet = shownBy(eyes, d);
    eyes.rim = 0;
    const Shown dry = shownBy(eyes, d);
    size_t near = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      if (d.surface->parts[s] != 0) continue;
      const bool changed = !(wet.colors[s] == dry.colors[s]);
      if (changed) QVERIFY(std::abs(d.surface->positions[s].z()) < 1.01f);
      near += changed;
    }
    QVERIFY(near > 100);
  }
  // One that looks elsewhere changes its own skin alone, and the other stays to the bit.
  void oneEyeChangesItselfAlone() {
    Document d = test::documentOf(
        test::together(test::sphere(160, kBall, {-30, 0, 0}), test::sphere(160, kBall, {30, 0, 0})));
    Eyes eyes = plain();
    eyes.balls[0].center = {-30, 0, 0};
    eyes.balls.push_back(eyes.balls[0]);
    eyes.balls[1].part = 1;
    eyes.balls[1].center = {30, 0, 0};
    eyes.balls[1].seed = 2;
    const auto before = *eyeSource(eyes)->prepare(*d.maps);
    eyes.balls[1].look = Vec3(0.2f, 0, 1).normalized();
    const auto after = *eyeSource(eyes)->prepare(*d.maps);
    std::vector<char> marks(chunkCount(d.surface->size()), 0);
    QVERIFY(after->markChanges(Channel::Color, *before, marks));
    const auto below = std::make_unique<ColorChunk>();
    size_t changed = 0;
    for (size_t c = 0; c < marks.size(); ++c) {
      bool second = false;
      for (size_t s = c * kChunkSize; s < std::min(d.surface->size(), (c + 1) * kChunkSize); ++s)
        second |= d.surface->parts[s] == 1;
      QCOMPARE(marks[c] != 0, second);
      changed += second;
    }
    QVERIFY(changed > 2 && changed < marks.size());
  }
  // Turned with its sculpt, larger with its sculpt, read back from a file: the same eye.
  void eyesGoWithTheSkin() {
    Eyes eyes = plain();
    eyes.balls[0].center = {1, 2, 3};
    eyes.balls[0].look = Vec3(0, 0.6f, 0.8f);
    const Eigen::Matrix3f turn = Eigen::AngleAxisf(0.7f, Vec3(1, 2, 0).normalized()).toRotationMatrix();
    const SourcePointer turned = movedSource(*eyeSource(eyes), turnedSkin(turn));
    QVERIFY(turned);
    QVERIFY((eyesOf(*turned)->balls[0].center - turn * eyes.balls[0].center).norm() < 1e-5f);
    QVERIFY((eyesOf(*turned)->balls[0].look - turn * eyes.balls[0].look).norm() < 1e-5f);
    QVERIFY((eyesOf(*turned)->balls[0].up - turn * Vec3::UnitY()).norm() < 1e-5f);
    const auto larger = scaledSource(eyeSource(eyes), 10);
    QVERIFY(larger);
    const Eyes& big = *eyesOf(**larger);
    QCOMPARE(big.balls[0].radius, 120.f);
    QCOMPARE(big.iris, 60.f);
    QCOMPARE(big.vesselWidth, 10 * eyes.vesselWidth);
    QCOMPARE(big.fibres, eyes.fibres);
    eyes.shape = PupilShape::Drawn;
    eyes.outline = {{1, 0}, {0, 1}, {-1, 0}};
    eyes.rings.push_back({0.8f, {0.1f, 0.2f, 0.3f}, 0.5f});
    const auto back = makeSource("eyes", eyeSource(eyes)->parameters(), 0);
    QVERIFY(back);
    QVERIFY(*eyesOf(**back) == eyes);
  }
  void whatDoesNotHoldIsTold_data() {
    QTest::addColumn<QString>("given");
    QTest::addColumn<QString>("says");
    const auto row = [](const char* name, const nlohmann::json& given, const char* says) {
      QTest::newRow(name) << QString::fromStdString(given.dump()) << says;
    };
    using Object = nlohmann::json::object_t;
    row("no radius", Object{{"balls", {Object{{"center", {0, 0, 0}}}}}}, "ball 1");
    row("no rings", Object{{"rings", nlohmann::json::array()}}, "rings");
    row("a shape", Object{{"shape", "star"}}, "star");
    row("nothing drawn", Object{{"shape", "drawn"}}, "outline");
    row("two places", Object{{"outline", {{0, 0}, {1, 1}}}}, "outline");
    row("no numbers", Object{{"outline", {{0, 0}, {1, 1}, {"x", 1}}}}, "two numbers");
    row("unknown", Object{{"lashes", 1}}, "lashes");
  }
  void whatDoesNotHoldIsTold() {
    QFETCH(QString, given);
    QFETCH(QString, says);
    const auto made = makeSource("eyes", nlohmann::json::parse(given.toStdString()), 0);
    QVERIFY(!made);
    QVERIFY2(made.error().message().find(says.toStdString()) != std::string::npos,
             made.error().message().c_str());
  }
};

JUVENOR_TEST(TestEyes)
}  // namespace juvenor
#include "test_eyes.moc"
