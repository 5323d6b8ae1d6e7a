// A bent figure mirrors in its rest pose: the bend is a formula, so that where the other side lies is known.
#include <cmath>

#include "core/carry/carry_over.h"
#include "core/carry/rest_from_sculpt.h"
#include "core/carry/twin.h"
#include "core/document/edits/edit_parts.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/document/store/store.h"
#include "core/layers/sources/painted.h"
#include "core/layers/sources/patterns.h"
#include "core/layers/sources/zones.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A long body along x, symmetric in x = 0.
Sculpt atRest() {
  Sculpt out = test::sphere(90, 10);
  for (Vec3& v : out.vertices) v = Vec3(3 * v.x(), v.y() + 5, v.z());
  return out;
}

// Its right half turns upward by 60° about an edge, as an arm does; what is near is bent.
Vec3 bentPlace(const Vec3& p) {
  const float angle = std::clamp((p.x() - 4) / 8, 0.f, 1.f) * 1.0472f, way = std::max(0.f, p.x() - 4);
  if (way <= 0) return p;
  // along an arc, then straight on
  const float arc = std::min(way, 8.f), radius = 8 / 1.0472f, rest = way - arc;
  const Vec3 middle(4 + radius * std::sin(angle) + rest * std::cos(angle),
                    radius * (1 - std::cos(angle)) + rest * std::sin(angle), p.z());
  return middle + p.y() * Vec3(-std::sin(angle), std::cos(angle), 0);
}

Sculpt bent() {
  Sculpt out = atRest();
  for (Vec3& v : out.vertices) v = bentPlace(v);
  return out;
}

Document posedFigure() {
  auto made = withRestFrom(test::documentOf(bent()), atRest());
  if (!made) qFatal("%s", made.error().what.c_str());
  return withPaintedLayer(*made, "Paint", Stratum::Pigment);
}

// One mirrored dab on the skin nearest to a place.
Document dabbedAt(const Document& d, const Vec3& place) {
  StrokeSetting setting;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  setting.paint.color = {0.8f, 0.3f, 0.2f};
  setting.brush.radius = 2;
  setting.brush.flow = 1;
  setting.brush.pressureSize = setting.brush.pressureFlow = false;
  setting.brush.mirror[0] = true;
  Flood flood;
  auto painting = *PaintStroke::begin(d, setting, flood);
  const uint32_t s = *nearestSample(*d.surface, place, 5);
  SurfacePoint at;
  at.position = d.surface->positions[s];
  at.normal = at.toViewer = d.surface->normals[s];
  painting->stroke().moveTo(at, 1);
  painting->stroke().end();
  return *painting->finish();
}

uint16_t coverAt(const Document& d, const Vec3& place) {
  return colorAt(*d.layers.back()->source->painted(), *nearestSample(*d.surface, place, 5)).a;
}

}  // namespace

class TestRestPose : public QObject {
  Q_OBJECT
 private slots:
  void theOtherSideIsFoundAtRest_data() {
    QTest::addColumn<bool>("finer");
    QTest::newRow("its own points") << false;
    QTest::newRow("added points") << true;
  }
  void theOtherSideIsFoundAtRest() {
    QFETCH(const bool, finer);
    Document d = posedFigure();
    if (finer) d = *withRefinement(d, {});
    const Mirrors mirrors = mirrorsOf(d);
    const Mirrors::Across own{true, false, false};
    const Sculpt rest = atRest();
    for (const Vec3& v : rest.vertices) {
      if (std::abs(v.x()) < 1) continue;
      const Vec3 here = bentPlace(v), there = bentPlace(Vec3(-v.x(), v.y(), v.z()));
      QVERIFY2((mirrors.place(here, own) - there).norm() < 0.05f,
               qPrintable(QString("%1 %2 %3").arg(v.x()).arg(v.y()).arg(v.z())));
      QCOMPARE(mirrors.side(here, 0) > 0, v.x() > 0);
      // and back again
      QVERIFY((mirrors.place(mirrors.place(here, own), own) - here).norm() < 0.1f);
    }
    // what points along the arm points along it on the other side
    const Vec3 tip = bentPlace({25, 5 + 10 * std::sqrt(1 - 25.f * 25 / 900), 0}),
               along = Vec3(std::cos(1.0472f), std::sin(1.0472f), 0);
    const Vec3 other = mirrors.direction(along, own, tip);
    QVERIFY2((other - Vec3(-1, 0, 0)).norm() < 0.1f,
             qPrintable(QString("%1 %2 %3").arg(other.x()).arg(other.y()).arg(other.z())));
  }
  void strokesAndCopiesGoThere() {
    const Document d = posedFigure();
    const float height = 5 + 10 * std::sqrt(1 - 400.f / 900);
    const Vec3 here = bentPlace({20, height, 0}), there = bentPlace({-20, height, 0});
    const Document both = dabbedAt(d, here);
    QVERIFY(coverAt(both, here) > 20000);
    QVERIFY2(coverAt(both, there) > 20000, qPrintable(QString::number(coverAt(both, there))));
    // without the pose there is no skin where x = 0 mirrors to
    Document one = dabbedAt(withoutRestPose(d), here);
    QVERIFY(coverAt(one, here) > 20000 && coverAt(one, there) == 0);
    // afterwards, too
    one.rest = d.rest;
    const auto copied = copiedToOtherSide(one, {}, true);
    QVERIFY2(copied, copied ? "" : copied.error().what.c_str());
    QVERIFY(coverAt(copied->document, there) > 20000);
    QVERIFY(copied->missed < copied->samples / 20);
    // the plane is sought at rest
    const auto plane = mirrorPlaneOf(d);
    QVERIFY(plane);
    QVERIFY(plane->plane.normal.x() > 0.999f && std::abs(plane->plane.offset) < 0.1f);
  }
  // Zones, landmarks' zones and strokes of the comb have their other side there, too, and go back with the
  // pose.
  void zonesAndCombsGoThere() {
    Document d = posedFigure();
    const float height = 5 + 10 * std::sqrt(1 - 400.f / 900);
    const Vec3 here = bentPlace({20, height, 0}), there = bentPlace({-20, height, 0});
    const auto workAt = [&](const Document& of, const HueZone& zone, const Vec3& place) {
      const ZoneInfluencePointer influence = influenceOf(*of.maps, zone, 0);
      const auto s = std::ranges::find(influence->samples, *nearestSample(*of.surface, place, 5));
      return s == influence->samples.end()
                 ? 0.f
                 : influence->values[static_cast<size_t>(s - influence->samples.begin())];
    };
    HueZone zone = test::areaAt(here, 6);
    zone.mirrored = true;
    zone.breakUp = 0;
    const auto zoneIn = [](const Document& of) { return of.layers.back()->source->zones()->zones.front(); };
    const Document zoned = withSourceLayer(d, "Zones", Stratum::Surface, zoneSource({{zone}}));
    QVERIFY(zoneIn(zoned).other && (*zoneIn(zoned).other - there).norm() < 0.2f);
    QVERIFY(workAt(zoned, zoneIn(zoned), here) > 0.5f && workAt(zoned, zoneIn(zoned), there) > 0.5f);
    const auto read = zoneSetFrom(toJson({{zoneIn(zoned)}}));
    QVERIFY(read && read->zones.front() == zoneIn(zoned));
    const Document plain = withoutRestPose(zoned);
    QVERIFY(!zoneIn(plain).other);
    QCOMPARE(workAt(plain, zoneIn(plain), there), 0.f);
    // in another pose it is carried to, too
    Sculpt further = bent();
    for (Vec3& v : further.vertices) v.y() += 0.004f * v.x() * v.x();
    const auto lifted = [](const Vec3& p) { return Vec3(p.x(), p.y() + 0.004f * p.x() * p.x(), p.z()); };
    const auto carried = carriedOver(zoned, std::make_shared<const Sculpt>(further));
    QVERIFY2(carried, carried ? "" : carried.error().what.c_str());
    const HueZone carriedZone = zoneIn(carried->document);
    QVERIFY(carried->document.rest.any() && carriedZone.other);
    QVERIFY((carriedZone.anchor - lifted(zoneIn(zoned).anchor)).norm() < 0.3f);
    QVERIFY((*carriedZone.other - lifted(*zoneIn(zoned).other)).norm() < 0.3f);
    // and on again
    const Document again = *withRestPose(plain, *d.rest.vertices);
    QVERIFY(zoneIn(again) == zoneIn(zoned));
    d = withSourceLayer(d, "Scales", Stratum::Surface, scaleSource({}));
    Comb comb{{here, bentPlace({21, 5 + 10 * std::sqrt(1 - 441.f / 900), 0})}, 0, 2, 1};
    const auto combed = withComb(d, d.activeLayer, comb, {true, false, false});
    QVERIFY2(combed, combed ? "" : combed.error().what.c_str());
    const auto& combs = combed->layers.back()->source->guides()->direction.combs;
    QCOMPARE(combs.size(), size_t{2});
    QVERIFY((combs[1].places.front() - there).norm() < 0.2f);
    QVERIFY((combs[1].places.back() - combs[1].places.front()).x() < -0.5f);
  }
  void itIsKeptAndGoesAlong() {
    const test::Folder folder;
    const Document d = posedFigure();
    History h(d, "Pose");
    h.push(*withRefinement(d, {}), "Points");
    h.push(*withPlacement(h.document(), {Axis::PlusZ, Axis::MinusY, 10}), "Stand");
    const std::vector<StepPointer> steps(h.steps().begin(), h.steps().end());
    QVERIFY(h.document().rest.any());
    QVERIFY(saveAs(folder / "x.juvenor", steps, steps.back()->id));
    const auto opened = Store::open(folder / "x.juvenor")->read();
    QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
    for (size_t i = 0; i < steps.size(); ++i) {
      const RestPose &was = steps[i]->document.rest, &is = opened->steps[i]->document.rest;
      QVERIFY(is == was && *is.vertices == *was.vertices);
      for (size_t s = 0; s < steps[i]->document.surface->size(); ++s)
        QVERIFY(is.skin->restOf(s) == was.skin->restOf(s));
    }
    // other polygons, and what is no place
    QVERIFY(!withRestFrom(d, test::sphere(20, 10)));
    std::vector<Vec3> bad = *d.rest.vertices;
    bad[3].x() = std::numeric_limits<float>::quiet_NaN();
    QVERIFY(!withRestPose(d, bad));
    bad.pop_back();
    QVERIFY(!withRestPose(d, bad));
  }
};

JUVENOR_TEST(TestRestPose)

}  // namespace juvenor

#include "test_rest_pose.moc"
