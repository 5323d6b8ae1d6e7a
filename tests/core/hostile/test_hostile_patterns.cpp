// Patterns with parameters at the ends of what a file may say, on sculpts nobody would sculpt: they are drawn
// or say why not, and are never in the way of a cancel.
#include "core/layers/composite/composite.h"
#include "core/layers/sources/patterns.h"
#include "support/made.h"
#include "support/run_all.h"
#include "support/sanitized.h"

namespace juvenor {
namespace {

Sculpt odd(int which) {
  switch (which) {
    case 0:
      return test::plane(1, 1);
    case 1:
      return test::soup(test::sphere(12, 1));
    case 2:
      return test::oddities(5);
    case 3: {
      Sculpt flat = test::sphere(16, 1);  // all in one place but for a hair
      for (Vec3& v : flat.vertices) v *= 1e-18f;
      return flat;
    }
    case 4: {
      Sculpt far = test::plane(12, 1);  // one point far away
      far.vertices[5] = {1e6f, -1e6f, 1e6f};
      return far;
    }
    default:
      return test::sphere(32, 1e4f);
  }
}

const char* const kDirections[] = {
    R"({})",
    R"({"flow": [0, 0, 0], "curvature": 0})",
    R"({"curvature": 1, "form": 1e9})",
    R"({"curvature": 1, "form": 1e-6, "turn": 360})",
    R"({"combs": [{"places": [[0, 0, 0], [0, 0, 0]], "width": 0}]})",
    R"({"combs": [{"places": [[0, 0, 0], [1e9, 0, 0], [0, 1e9, 3]], "width": 1e9}]})",
    R"({"combs": [{"places": [[0, 0, 0], [1, 1, 1]], "part": 4000000000, "strength": 0}]})"};
const char* const kSizes[] = {
    R"({"size": 1e-6, "smallest": 0.1})", R"({"size": 1e9})", R"({"size": 0.3})",
    R"({"size": 0.5, "zones": [{"anchor": [0, 0, 0], "reach": 1e9}]})",
    R"({"size": 0.2, "pushed": [{"places": [[0, 0, 0]], "width": 1e9, "strength": -1},
                                  {"places": [[1e9, 0, 0], [-1e9, 1e-9, 0]], "width": 0, "strength": 1}]})"};
const char* const kByHand =
    R"([{"places": [[0, 0, 0], [1e9, 1e9, 1e9]], "width": 1e9, "strength": 1}, {"places": [[0, 0, 0]], "width": 0}])";
const char* const kTouched =
    R"([{"do": "lose", "place": [0, 0, 0], "part": 0}, {"do": "lift", "place": [1e9, 0, 0], "amount": -1}])";
const std::pair<const char*, const char*> kKinds[] = {
    {"scales", R"({"shape": "leaf", "stretch": 4, "rows": 1, "overlap": 1, "depth": 1e9})"},
    {"scales", R"({"shape": "granules", "large": 1, "small": 0.2, "stretch": 0.4, "groove": 0, "dome": 1})"},
    {"fineskin", R"({"stretch": 3, "even": 1, "pores": 1, "creases": 1, "apart": 12, "depth": -1e9,
        "regions": [{"anchor": [0, 0, 0], "like": "neck", "reach": 1e9, "strength": 1}]})"},
    {"bands", R"({"width": 0, "softness": 0, "broken": 1, "wavy": 1, "grain": 10, "height": -1e9})"},
    {"spots", R"({"look": "maze", "stretch": 3, "age": 0, "amount": 1, "softness": 0, "gloss-cover": 1})"}};

}  // namespace

class TestHostilePatterns : public QObject {
  Q_OBJECT
 private slots:
  void drawnOrTold_data() {
    QTest::addColumn<int>("sculpt");
    for (int i = 0; i < 6; ++i) QTest::addRow("%d", i) << i;
  }

  void drawnOrTold() {
    QFETCH(int, sculpt);
    const auto surface = test::surfaceOf(odd(sculpt));
    SurfaceMaps maps(surface);
    int drawn = 0;
    for (const auto& [kind, text] : kKinds)
      for (size_t d = 0; d < std::size(kDirections); d += test::kSanitized ? 2 : 1) {
        nlohmann::json parameters = nlohmann::json::parse(text);
        parameters["direction"] = nlohmann::json::parse(kDirections[d]);
        parameters["size"] = nlohmann::json::parse(kSizes[d % std::size(kSizes)]);
        parameters["soothed"] = nlohmann::json::parse(kByHand);
        if (std::string_view(kind) == "scales") parameters["touched"] = nlohmann::json::parse(kTouched);
        const auto source = makeSource(kind, parameters, surface->size());
        QVERIFY2(source, source ? "" : source.error().what.c_str());
        Layer layer;
        layer.id = 1;
        layer.source = *source;
        const auto skin = skinOf({std::make_shared<Layer>(layer)}, maps, {0.5f, 0.5f, 0.5f});
        if (!skin) {
          QVERIFY(!skin.error().what.empty());
          continue;
        }
        ++drawn;
        QCOMPARE(skin->size(), surface->size());
      }
    QVERIFY(drawn > (test::kSanitized ? 10 : 20));
  }

  void aCombMayBeLong() {
    const auto surface = test::surfaceOf(test::plane(60, 10));
    SurfaceMaps maps(surface);
    DirectionGuide guide;
    Comb comb;
    for (int i = 0; i < (test::kSanitized ? 400 : 5000); ++i)
      comb.places.push_back({static_cast<float>(i % 10) - 5, 0.001f * static_cast<float>(i) - 2.5f, 0});
    comb.width = 1e9f;
    guide.combs.assign(50, comb);
    int asked = 0;
    const auto stopped = directionsOf(maps, guide, Symmetry::Direction, [&](float) { return ++asked < 3; });
    QVERIFY(!stopped && isCancelled(stopped.error()));
  }
};

JUVENOR_TEST(TestHostilePatterns)
}  // namespace juvenor
#include "test_hostile_patterns.moc"
