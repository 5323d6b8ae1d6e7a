// Paint copied from a part to its twin, and from one side of a figure to the other.
#include <QtTest/QtTest>

#include <cmath>

#include "core/carry/twin.h"
#include "core/document/edits/edits.h"
#include "core/layers/guides.h"
#include "core/layers/sources/painted.h"
#include "core/layers/sources/patterns.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A shell that is no mirror image of itself in any plane.
Sculpt shell(int rings, float size, const std::string& part) {
  Sculpt out = test::sphere(rings, size);
  for (Vec3& p : out.vertices) {
    p.y() *= 1.3f;
    p += 0.5f * size * std::exp(-(p - Vec3(0.2f, 0.5f, 1) * size).squaredNorm() / (0.2f * size * size)) *
         Vec3(0.3f, 0.2f, 1);
    p += 0.4f * size * std::exp(-(p - Vec3(1, -0.4f, 0.3f) * size).squaredNorm() / (0.1f * size * size)) *
         Vec3(1, 0, 0.1f);
  }
  out.parts = {part};
  return out;
}

Sculpt movedTo(Sculpt sculpt, const Eigen::Matrix3f& turn, const Vec3& shift) {
  for (Vec3& p : sculpt.vertices) p = turn * p + shift;
  return sculpt;
}

Rgba16 toneAt(const Vec3& p) {
  const auto wave = [](float v) { return static_cast<uint16_t>(32768 + 30000 * std::sin(v)); };
  return {wave(0.4f * p.x() + 0.3f), wave(0.33f * p.y()), wave(0.37f * p.z()), 65535};
}

Document paintedWhere(const Sculpt& sculpt, const std::function<bool(const Surface&, size_t)>& where,
                      const std::function<Vec3(const Vec3&)>& local) {
  const Document d = test::documentOf(sculpt);
  ColorField field(d.surface->size());
  for (size_t c = 0; c < field.chunkCount(); ++c) {
    auto chunk = field.writable(c);
    for (size_t s = c * kChunkSize; s < std::min(field.size(), (c + 1) * kChunkSize); ++s)
      if (where(*d.surface, s)) setSample(*chunk, s % kChunkSize, toneAt(local(d.surface->positions[s])));
    field.setChunk(c, chunk);
  }
  return withSourceLayer(d, "Paint", Stratum::Pigment, paintedSource(std::move(field)));
}

double meanError(const Document& d, const std::function<bool(const Surface&, size_t)>& where,
                 const std::function<Vec3(const Vec3&)>& local) {
  double sum = 0, count = 0;
  for (size_t s = 0; s < d.surface->size(); ++s) {
    if (!where(*d.surface, s)) continue;
    const Rgba16 now = colorAt(*d.layers.back()->source->painted(), s),
                 is = toneAt(local(d.surface->positions[s]));
    sum += std::abs(now.r - is.r) + std::abs(now.g - is.g) + std::abs(now.b - is.b) + 3 * (65535 - now.a);
    count += 3;
  }
  return sum / std::max(1.0, count);
}

}  // namespace

class TestTwins : public QObject {
  Q_OBJECT
 private slots:
  void paintGoesToTheTwin() {
    const Eigen::Matrix3f turn = Eigen::AngleAxisf(0.35f, Vec3(0.2f, 1, 0).normalized()).toRotationMatrix();
    Eigen::Matrix3f mirror = turn;
    mirror.col(0) *= -1;
    for (const bool mirrored : {false, true}) {
      const Eigen::Matrix3f way = mirrored ? mirror : turn;
      Sculpt twin = movedTo(shell(74, 10, "right"), way, {60, 3, 1});
      if (mirrored) {
        twin = test::insideOut(twin);
        twin.parts = {"right"};
      }
      const Sculpt both = test::together(shell(80, 10, "left"), twin);
      const auto part = [](uint32_t p) {
        return [p](const Surface& surface, size_t s) { return surface.parts[s] == p; };
      };
      const Document d = paintedWhere(both, part(0), [](const Vec3& p) { return p; });
      const auto fit = twinFit(d, 0, 1);
      QVERIFY2(fit, fit ? "" : fit.error().what.c_str());
      QCOMPARE(fit->mirrored, mirrored);
      QVERIFY2(fit->rest < 0.1f, qPrintable(QString::number(fit->rest)));
      const auto copied = copiedToTwin(d, 0, 1, *fit);
      QVERIFY(copied);
      QCOMPARE(copied->missed, size_t{0});
      const double error = meanError(copied->document, part(1), [&](const Vec3& p) {
        return Vec3(way.transpose() * (p - Vec3(60, 3, 1)));
      });
      QVERIFY2(error < 500, qPrintable(QString::number(error)));
      // the other part is as it was
      for (size_t s = 0; s < d.surface->size(); ++s)
        if (d.surface->parts[s] == 0)
          QVERIFY(colorAt(*copied->document.layers.back()->source->painted(), s) ==
                  colorAt(*d.layers.back()->source->painted(), s));
      // asked for the other way round it lies worse, or not at all
      const auto other = twinFit(d, 0, 1, !mirrored);
      QVERIFY(!other || (other->mirrored != mirrored && other->rest > 2 * fit->rest));
    }
  }
  void eyesAreMirroredAndTouchesGoAlong() {
    Sculpt left = test::sphere(40, 6, {12, 0, 0}), right = test::sphere(44, 6, {-12, 0, 0});
    left.parts = {"left"};
    right.parts = {"right"};
    Document d = test::documentOf(test::together(left, right));
    Scales scales;
    scales.guides = usualGuides(30);
    scales.guides.direction.combs = {{{{12, 0, 6}, {14, 0, 5.6f}}, 0, 2, 1, {}}};
    scales.guides.cells = {{CellTouch::Kind::Lose, {13, 0, 5.9f}, 0, {}, 1},
                           {CellTouch::Kind::Lose, {-14, 2, 5}, 1, {}, 1}};
    d = withSourceLayer(d, "Scales", Stratum::Surface, scaleSource(scales));
    const auto fit = twinFit(d, 0, 1);
    QVERIFY(fit && fit->mirrored);
    const auto copied = copiedToTwin(d, 0, 1, *fit);
    QVERIFY(copied);
    const Guides& guides = *copied->document.layers.back()->source->guides();
    QCOMPARE(guides.direction.combs.size(), size_t{2});
    QVERIFY((guides.direction.combs[1].places[1] - Vec3(-14, 0, 5.6f)).norm() < 0.3f);
    // what the twin had of its own has given way
    QCOMPARE(guides.cells.size(), size_t{2});
    QCOMPARE(guides.cells[1].part, 1u);
    QVERIFY((guides.cells[1].place - Vec3(-13, 0, 5.9f)).norm() < 0.3f);
  }
  void whatIsNoTwinIsToldSo() {
    const Sculpt both = test::together(test::sphere(40, 6), test::plane(20, 30));
    const Document d = test::documentOf(both);
    const auto fit = twinFit(d, 0, 1);
    QVERIFY(!fit);
    QVERIFY(fit.error().what.find("Plane") != std::string::npos);
    QVERIFY(!twinFit(d, 0, 0));
    QVERIFY(!twinFit(d, 0, 9));
  }
  // the plane of the form, not of the coordinates
  void theMirrorPlaneIsTheFiguresOwn() {
    Sculpt half = test::sphere(60, 30);
    for (Vec3& p : half.vertices) {  // symmetric in x alone
      p.y() *= 1.4f;
      p.z() += 9 * std::exp(-((p - Vec3(0, 5, 30)).squaredNorm()) / 60);
      p.x() *= 1 + 0.2f * std::exp(-((p - Vec3(p.x() > 0 ? 30.f : -30.f, 3, 2)).squaredNorm()) / 80);
    }
    const Eigen::Matrix3f turn = Eigen::AngleAxisf(0.12f, Vec3::UnitY()).toRotationMatrix() *
                                 Eigen::AngleAxisf(0.06f, Vec3::UnitZ()).toRotationMatrix();
    const Document d = test::documentOf(movedTo(half, turn, {7, 0, 0}));
    const auto found = mirrorPlaneOf(d);
    QVERIFY(found);
    const Vec3 normal = turn * Vec3::UnitX();
    QVERIFY2(found->plane.normal.dot(normal) > 0.9998f,
             qPrintable(QString::number(found->plane.normal.dot(normal))));
    QVERIFY(std::abs(found->plane.offset - normal.dot(Vec3(7, 0, 0))) < 0.15f);
    QVERIFY(found->found > 0.9f);

    const auto right = [&](const Surface& surface, size_t s) {
      return found->plane.normal.dot(surface.positions[s]) > found->plane.offset;
    };
    const Document one = paintedWhere(movedTo(half, turn, {7, 0, 0}), right, [](const Vec3& p) { return p; });
    const auto copied = copiedToOtherSide(one, found->plane, true);
    QVERIFY(copied);
    const double error = meanError(
        copied->document,
        [&](const Surface& surface, size_t s) {
          return found->plane.normal.dot(surface.positions[s]) < found->plane.offset - 1;
        },
        [&](const Vec3& p) { return found->plane.mirrored(p); });
    QVERIFY2(error < 1200, qPrintable(QString::number(error)));
    // through a mask that hides nothing is copied
    CopySetting hidden;
    hidden.through = closedMask(one.surface->size());
    const auto none = copiedToOtherSide(one, found->plane, true, hidden);
    QVERIFY(none);
    QVERIFY(test::sameValues(*none->document.layers.back()->source->painted(),
                             *one.layers.back()->source->painted()));
  }
  // What is varied lies beside its place, never farther than asked, and another seed lays it elsewhere.
  void theOtherSideVaries() {
    const Document d = paintedWhere(
        test::sphere(60, 30),
        [](const Surface& surface, size_t s) { return surface.positions[s].x() > -0.001f; },
        [](const Vec3& p) { return 0.2f * p; });
    const auto other = [&](float vary, uint32_t seed) {
      CopySetting setting;
      setting.vary = vary;
      setting.seed = seed;
      return *copiedToOtherSide(d, {}, true, setting)->document.layers.back()->source->painted();
    };
    const ColorField plain = other(0, 1), loose = other(2, 1), again = other(2, 1), another = other(2, 2);
    QVERIFY(test::sameValues(loose, again));
    double off = 0, apart = 0, most = 0, count = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      if (d.surface->positions[s].x() > -4) {
        if (d.surface->positions[s].x() > 0.001f) QVERIFY(colorAt(loose, s) == colorAt(plain, s));
        continue;
      }
      const double by = std::abs(colorAt(loose, s).g - colorAt(plain, s).g);
      off += by;
      apart += std::abs(colorAt(loose, s).g - colorAt(another, s).g);
      most = std::max(most, by);
      ++count;
    }
    // green is a wave along y: 30,000 · 0.33 · 0.2 a unit at most
    const double aUnit = 30'000 * 0.33 * 0.2;
    QVERIFY2(off / count > 0.1 * aUnit && apart / count > 0.1 * aUnit,
             qPrintable(QString::number(off / count)));
    QVERIFY2(most < 2.2 * aUnit, qPrintable(QString::number(most)));
  }
};

JUVENOR_TEST(TestTwins)

}  // namespace juvenor

#include "test_twins.moc"
