// Eyes set by one press: on parts that are balls, on balls that are no part of their own, on both sides.
#include "core/document/edits/edit_eyes.h"
#include "core/document/edits/edits.h"
#include "core/layers/sources/eyes.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A head of sorts with two balls, as parts of their own.
Document headWithEyes() {
  return test::documentOf(
      test::together(test::together(test::sphere(80, 60, {0, 0, -45}), test::sphere(60, 12, {-30, 10, 10})),
                     test::sphere(60, 12, {30, 10, 10})));
}

const Eyes& eyesIn(const Document& d) {
  return *eyesOf(*layerOf(d, d.activeLayer)->source);
}

}  // namespace

class TestEditEyes : public QObject {
  Q_OBJECT
 private slots:
  void onePressSetsBoth() {
    const Document d = headWithEyes();
    const Vec3 look = Vec3(0.1f, 0, 1).normalized(), place = Vec3(30, 10, 10) + 12 * look;
    const auto set = withEyeAt(d, 0, place, 2, true);
    QVERIFY2(set, set ? "" : set.error().message().c_str());
    const Eyes& eyes = eyesIn(*set);
    QCOMPARE(eyes.balls.size(), size_t{2});
    const EyeBall &one = eyes.balls[0], &other = eyes.balls[1];
    QCOMPARE(one.part, 2u);
    QCOMPARE(other.part, 1u);
    QVERIFY((one.center - Vec3(30, 10, 10)).norm() < 0.05f && std::abs(one.radius - 12) < 0.1f);
    QVERIFY((other.center - Vec3(-30, 10, 10)).norm() < 0.05f);
    QVERIFY((one.look - look).norm() < 0.01f);
    QVERIFY((other.look - Vec3(-look.x(), look.y(), look.z())).norm() < 0.01f);
    QVERIFY(one.seed != other.seed);
    // sizes are those of the ball
    QVERIFY(std::abs(eyes.iris - 5.9f) < 0.1f);
  }
  // Pressed again it looks there, and stays the eye it is.
  void anEyeIsTurned() {
    const auto set = withEyeAt(headWithEyes(), 0, {30, 10, 22}, 2, true);
    QVERIFY(set);
    const Vec3 up = Vec3(0, 0.5f, 0.9f).normalized();
    const auto turned = withEyeAt(*set, set->activeLayer, Vec3(30, 10, 10) + 12 * up, 2, false);
    QVERIFY(turned);
    const Eyes &before = eyesIn(*set), &after = eyesIn(*turned);
    QCOMPARE(after.balls.size(), size_t{2});
    QVERIFY((after.balls[0].look - up).norm() < 0.01f);
    QCOMPARE(after.balls[0].seed, before.balls[0].seed);
    QVERIFY(after.balls[1] == before.balls[1]);
    const auto one = withoutEye(*turned, turned->activeLayer, 0);
    QVERIFY(one && eyesIn(*one).balls.size() == 1);
    QVERIFY(!withoutEye(*one, one->activeLayer, 1));
  }
  // On one piece with the rest it is found by how the skin is bent there.
  void aBallNeedsNoPartOfItsOwn() {
    Sculpt bump = test::plane(240, 100, "Face");
    for (Vec3& p : bump.vertices)
      if (const float r = std::hypot(p.x() - 20, p.y()); r < 12)
        p.z() += std::sqrt(14.f * 14 - r * r) - std::sqrt(14.f * 14 - 12 * 12);
    const Document d = test::documentOf(bump);
    const auto sample = nearestSample(*d.surface, {20, 0, 7}, 5);
    QVERIFY(sample);
    const auto set = withEyeAt(d, 0, d.surface->positions[*sample], 0, false);
    QVERIFY2(set, set ? "" : set.error().message().c_str());
    const EyeBall& ball = eyesIn(*set).balls[0];
    QCOMPARE(ball.part, kNone);
    QVERIFY2(std::abs(ball.radius - 14) < 1, qPrintable(QString::number(static_cast<double>(ball.radius))));
  }
  void whatIsNoBallTakesNone() {
    const Document d = test::documentOf(test::plane(80, 100));
    const auto set = withEyeAt(d, 0, {0, 0, 0}, 0, false);
    QVERIFY(!set && set.error().message().find("eyeball") != std::string::npos);
    const Document filled = withFillLayer(d, "Tone", Stratum::Flesh, {0.5f, 0.4f, 0.3f});
    QVERIFY(!withEyeAt(filled, filled.activeLayer, {0, 0, 0}, 0, false));
  }
};

JUVENOR_TEST(TestEditEyes)
}  // namespace juvenor
#include "test_edit_eyes.moc"
