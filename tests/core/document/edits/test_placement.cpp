// Sculpts that lie on their face, look away, are metres or inches, or stand far from the origin: what lies on
// the skin stays on it, and exports keep the file's own coordinates.
#include "core/document/edits/edits.h"
#include "core/document/store/store.h"
#include "core/export/vertex_finish.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/zones.h"
#include "core/render/still.h"
#include "core/surface/build/placement.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A tall box with its own axes: Z up, facing −Y.
Document lying() {
  Document d = test::documentOf(test::box(12, {2, 3, 8}));
  d = withPaintedLayer(d, "Paint", Stratum::Pigment);
  d = *withFilled(d, d.activeLayer, {0.2f, 0.5f, 0.7f}, 0.6f);
  d = *withLandmark(d, "nose", {0, -1.5f, 3});
  HueZone zone;
  zone.anchor = {0, -1.5f, 3};
  zone.landmark = "nose";
  zone.reach = 2;
  zone.grain = 0.3f;
  return withSourceLayer(d, "Zones", Stratum::Flesh, zoneSource({{zone}, 0}));
}

constexpr Placement kUpright{Axis::PlusZ, Axis::MinusY, 10};

}  // namespace

class TestPlacement : public QObject {
  Q_OBJECT
 private slots:
  void turnsAreExactAndRightHanded() {
    int sound = 0;
    for (int up = 0; up < 6; ++up)
      for (int front = 0; front < 6; ++front) {
        const Placement p{static_cast<Axis>(up), static_cast<Axis>(front), 1};
        QCOMPARE(static_cast<bool>(checked(p)), up / 2 != front / 2);
        if (!checked(p)) continue;
        ++sound;
        const Eigen::Matrix3f turn = turnOf(p);
        QCOMPARE(turn.determinant(), 1.f);
        QVERIFY(turn * directionOf(p.up) == Vec3::UnitY());
        QVERIFY(turn * directionOf(p.front) == Vec3::UnitZ());
        QVERIFY((turn * turn.transpose()).isIdentity(0));
      }
    QCOMPARE(sound, 24);
    for (const char* key : {"x", "-x", "y", "-y", "z", "-z"})
      QCOMPARE(axisKey(*axisFromKey(key)), std::string_view(key));
    QVERIFY(axisFromKey("+z") == Axis::PlusZ && !axisFromKey("w"));
  }
  void whatLiesOnTheSkinStaysOnIt() {
    const Document before = lying(), after = *withPlacement(before, kUpright);
    QVERIFY(after.surface->bounds.high.y() == 4 && after.surface->bounds.high.z() == 1.5f);
    QVERIFY(after.landmarks[0].position == Vec3(0, 3, 1.5f));
    QVERIFY(after.layers[0]->source->zones()->zones[0].anchor == Vec3(0, 3, 1.5f));
    QVERIFY(test::sameValues(*compositeOf(before.layers, *before.maps, before.bare),
                             *compositeOf(after.layers, *after.maps, after.bare)));
    // and back again it is what it was
    const Document back = *withPlacement(after, before.placement);
    QVERIFY(back.surface->positions == before.surface->positions);
    QVERIFY(!withPlacement(before, {Axis::PlusY, Axis::MinusY, 1}));
  }
  void refiningAndReopeningAgree() {
    const test::Folder folder;
    History h(lying(), "Open");
    h.push(*withPlacement(h.document(), kUpright), "Stand");
    h.push(*withRefinement(h.document(), {0, RefineShape::Round}), "Points");
    h.push(*withFilled(h.document(), h.document().layers.back()->id, {1, 0, 0}, 0.3f), "Fill");
    const std::vector<StepPointer> steps{h.steps().begin(), h.steps().end()};
    QVERIFY(saveAs(folder / "d.juvenor", steps, steps.back()->id));
    const auto opened = Store::open(folder / "d.juvenor", true)->read();
    QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
    const Document &a = steps.back()->document, &b = opened->steps.back()->document;
    QVERIFY(a.surface->positions == b.surface->positions && a.surface->normals == b.surface->normals);
    QVERIFY(b.placement == kUpright);
    QVERIFY(test::sameValues(*a.layers.back()->source->painted(), *b.layers.back()->source->painted()));
  }
  void exportsKeepTheFilesOwnAxes() {
    const Document d = *withPlacement(lying(), kUpright);
    const VertexFinish finish = finishOf(d, *skinOf(d.layers, *d.maps, d.bare));
    const auto plain = test::surfaceOf(*d.sculpt);
    for (size_t v = 0; v < finish.normals.size(); ++v)
      QVERIFY((finish.normals[v] - plain->normals[plain->sampleOfVertex[v]]).norm() < 1e-6f);
  }
  void guessesAreCommonPractice() {
    const auto sized = [](const Vec3& size) { return test::box(2, size); };
    QCOMPARE(guessedPlacement(sized({1, 2, 1}), "glb").placement.millimetres, 1000.f);
    QVERIFY(guessedPlacement(sized({1, 2, 1}), "glb").standsCertainly);
    const auto tall = guessedPlacement(sized({180, 260, 200}), "obj");
    QVERIFY(tall.standsCertainly && tall.unitCertain && tall.placement == Placement());
    const auto lies = guessedPlacement(sized({0.6f, 0.5f, 1.8f}), "ply");
    QVERIFY(!lies.standsCertainly && lies.placement.up == Axis::PlusZ);
    QCOMPARE(lies.placement.millimetres, 1000.f);
    QVERIFY(!guessedPlacement(sized({9, 22, 11}), "obj").unitCertain);
    QCOMPARE(guessedPlacement(sized({9, 22, 11}), "stl").placement.millimetres, 1.f);
  }
  // The same sculpt near the origin and far from it, as its file gives it: the picture is the same.
  void farFromTheOriginLooksTheSame_data() {
    QTest::addColumn<double>("away");
    QTest::newRow("a thousand sizes") << 2e3;
    QTest::newRow("a hundred thousand sizes") << 2e5;
  }
  void farFromTheOriginLooksTheSame() {
    QFETCH(double, away);
    const test::Folder folder;
    const Sculpt ball = test::sphere(60, 1);
    Sculpt far = ball;
    far.offset = {away, -away, 0.5 * away};
    const auto picture = [](const Sculpt& sculpt) {
      Document d = test::documentOf(sculpt);
      d = *withRefinement(d, {0, RefineShape::Round});
      StillSetting setting;
      setting.size = {160, 120};
      setting.camera = framed({}, setting.size, d.surface->bounds);
      return *stillOf(d, setting);
    };
    for (const char* ending : {"ply", "obj", "glb"}) {
      const auto path = folder / (std::string("far.") + ending);
      QVERIFY(writeSculpt(path, far, {}));
      const auto read = readSculpt(path);
      QVERIFY2(read, ending);
      QVERIFY2((read->offset - far.offset).norm() < 1e-4 * away, ending);
      const auto near = picture(ball), there = picture(*read);
      int different = 0;
      for (size_t i = 0; i < near.size(); ++i)
        different += std::abs(int(near[i] & 0xff) - int(there[i] & 0xff)) > 2;
      QVERIFY2(different < 40, qPrintable(QString("%1: %2 pixels").arg(ending).arg(different)));
      // out again with the coordinates it came with
      const auto again = folder / (std::string("again.") + ending);
      QVERIFY(writeSculpt(again, *read, {}));
      const auto back = readSculpt(again);
      for (size_t v = 0; v < back->vertices.size(); ++v)
        QVERIFY2((back->vertices[v].cast<double>() + back->offset - read->vertices[v].cast<double>() -
                  read->offset)
                         .norm() < 1e-9 * away,
                 ending);
    }
  }
  // A file of floats that stands far away: what its own numbers hold is all there.
  void floatsFarAwayKeepTheirSteps() {
    Sculpt far = test::sphere(20, 1);
    for (Vec3& v : far.vertices) v += Vec3(10'000, 0, 0);
    const std::vector<Vec3> before = far.vertices;
    placeVertices(far);
    QVERIFY(!far.offset.isZero());
    for (size_t v = 0; v < before.size(); ++v)
      QVERIFY((far.vertices[v].cast<double>() + far.offset).cast<float>() == before[v]);
    Sculpt near = test::sphere(20, 1);
    const std::vector<Vec3> kept = near.vertices;
    placeVertices(near);
    QVERIFY(near.offset.isZero() && near.vertices == kept);
  }
  void zonesKeepToTheirPart() {
    // a lid of a hair over an eye: the anchor lies nearer to the eye
    Sculpt lid = test::plane(60, 6, "Lid"), eye = test::plane(60, 6, "Eye");
    for (Vec3& v : lid.vertices) v.z() = 0.02f;
    Document d = test::documentOf(test::together(lid, eye));
    HueZone zone;
    zone.anchor = {0, 0, 0.005f};
    zone.reach = 1;
    zone.grain = 0.2f;
    const auto partsUnder = [&](const HueZone& z) {
      std::set<uint32_t> parts;
      for (const uint32_t s : influenceOf(*d.maps, z, 0)->samples) parts.insert(d.surface->parts[s]);
      return parts;
    };
    QVERIFY(partsUnder(zone) == std::set<uint32_t>{1});
    zone.part = 0;
    QVERIFY(partsUnder(zone) == std::set<uint32_t>{0});
    QVERIFY(zoneSetFrom(toJson(ZoneSet{{zone}, 0}))->zones[0].part == 0);
  }
};

JUVENOR_TEST(TestPlacement)
}  // namespace juvenor
#include "test_placement.moc"
