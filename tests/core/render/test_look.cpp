// How one looks at a document goes to its file and comes back; the sculpt's lines are found again on any
// surface over it.
#include "core/document/edits/edits.h"
#include "core/document/history.h"
#include "core/document/store/store.h"
#include "core/render/light_ball.h"
#include "core/surface/maps/polygon_lines.h"
#include "core/view/look.h"
#include "support/history_steps.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// Length of all lines, scene units; each lies on two triangles but at a rim.
double lengthOf(const PolygonLines& lines, const Surface& surface) {
  double sum = 0;
  for (size_t t = 0; t < lines.size(); ++t)
    for (size_t k = 0; k < 3; ++k)
      if (lines[t] >> k & 1)
        sum += static_cast<double>((surface.positions[surface.triangles[t][k]] -
                                    surface.positions[surface.triangles[t][(k + 1) % 3]])
                                       .norm());
  return sum / 2;
}

}  // namespace

class TestLook : public QObject {
  Q_OBJECT
 private slots:
  void everythingOfALookComesBack() {
    Look look;
    look.light.kind = LightKind::Lamps;
    look.light.dial = -12;
    look.light.exposure = 0.5f;
    look.light.depth = 2;
    look.light.lamps[1] = {false, 33, -10, 2.5f, 44, 3200};
    look.light.surroundings = "evening";
    look.lightFollows = false;
    look.view = View::Clay;
    look.lines = true;
    look.camera = turned(look.camera, {120, 40});
    look.camera.target = {1, 2, 3};
    const auto back = lookFrom(toJson(look));
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    QVERIFY(back->light == look.light && back->lightFollows == look.lightFollows);
    QVERIFY(back->view == look.view && back->lines == look.lines);
    QVERIFY(back->camera.target == look.camera.target);
    QVERIFY(back->camera.turn.angularDistance(look.camera.turn) < 1e-3f);
  }
  void strangeLooksAreRefusedOrKept() {
    const nlohmann::json good = toJson(Look{});
    int refused = 0;
    for (const char* path :
         {"/light/kind", "/light/dial", "/light/lamps", "/light/lamps/0", "/light/lamps/1/kelvin",
          "/light/surroundings", "/view", "/camera", "/camera/turn", "/camera/distance"})
      for (const nlohmann::json& value : std::vector<nlohmann::json>{
               nullptr, -1, 1e300, "x", nlohmann::json::array(), {{"a", 1}}, {0, 0, 0}}) {
        nlohmann::json state = good;
        state[nlohmann::json::json_pointer(path)] = value;
        const auto look = lookFrom(state);
        refused += !look;
        // what is accepted can be lit with
        if (look) QVERIFY(std::isfinite(litBy(look->light).soft[0][0]) && look->camera.distance > 0);
      }
    QVERIFY2(refused > 40, qPrintable(QString::number(refused)));
    QVERIFY(!lookFrom(nlohmann::json(3)) && !lookFrom(nlohmann::json()));
  }
  void aFileKeepsItsLook() {
    const test::Folder folder;
    const History h(test::documentOf(test::plane(4, 1)), "Open");
    auto saved = saveAs(folder / "x.juvenor", test::stepsOf(h), test::currentOf(h));
    QVERIFY(saved && saved->setMeta("look", toJson(Look{}).dump()));
    const auto opened = Store::open(folder / "x.juvenor", true)->read();
    QVERIFY(opened && lookFrom(nlohmann::json::parse(opened->look)));
  }
  // Of quads the diagonals are no lines, whatever is added between.
  void linesAreThePolygonsEdges() {
    const Sculpt sculpt = test::plane(10, 10);
    const auto surface = test::surfaceOf(sculpt);
    // 11 lines of length 10 each way; the rim counts half
    const double whole = 2 * 11 * 10 - 0.5 * 4 * 10;
    QVERIFY(std::abs(lengthOf(polygonLines(sculpt, *surface), *surface) - whole) < 1e-3);
    for (const Refinement& refinement : {Refinement{}, Refinement{0.3f, RefineShape::Flat, 40}}) {
      const auto refined = refine(*surface, refinement);
      QVERIFY(refined && refined->surface->size() > 3 * surface->size());
      const double found = lengthOf(polygonLines(sculpt, *refined->surface), *refined->surface);
      QVERIFY2(std::abs(found - whole) < 1e-2, qPrintable(QString::number(found)));
    }
    const Sculpt odd = test::oddities(2);
    const auto odder = test::surfaceOf(odd);
    QVERIFY(lengthOf(polygonLines(odd, *odder), *odder) > 0);
  }
  void theBallShowsWhereALampStands() {
    Light light;
    light.kind = LightKind::Lamps;
    light.dial = 0;
    for (Lamp& lamp : light.lamps) lamp.on = false;
    light.lamps[0] = {true, -60, 20, 1, 10, 6500};
    const auto ball = lightBall(light, 64);
    const auto green = [&](int x, int y) { return ball[static_cast<size_t>(64 * y + x)] >> 8 & 0xff; };
    QVERIFY(green(10, 26) > 2 * green(54, 36));
    QCOMPARE(ball[0], 0u);
  }
};

JUVENOR_TEST(TestLook)
}  // namespace juvenor
#include "test_look.moc"
