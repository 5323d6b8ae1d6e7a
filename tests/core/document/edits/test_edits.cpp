// Edits are functions from document to document; history steps share what did not change.
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edit_groups.h"
#include "core/document/history.h"
#include "core/document/surface_state.h"
#include "core/export/vertex_finish.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/fill.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Document three() {
  Document d = test::documentOf(test::plane(90, 10));
  d = withFillLayer(d, "Tone", Stratum::Flesh, {0.6f, 0.4f, 0.3f});
  d = withPaintedLayer(d, "Marks", Stratum::Pigment);
  return withPaintedLayer(d, "Grime", Stratum::Surface);
}

std::vector<std::string> names(const Document& d) {
  std::vector<std::string> out;
  for (const LayerPointer& l : d.layers) out.push_back(l->name);
  return out;
}
using Names = std::vector<std::string>;

uint32_t idOf(const Document& d, const std::string& name) {
  for (const LayerPointer& l : d.layers)
    if (l->name == name) return l->id;
  return 0;
}

}  // namespace

class TestEdits : public QObject {
  Q_OBJECT
 private slots:
  void coloursOfTheFileBecomeALayer() {
    const Document d = test::documentOf(test::oddities(1));
    QCOMPARE(d.layers.size(), size_t{1});
    const VertexFinish finish = finishOf(d, *skinOf(d.layers, *d.maps, d.bare));
    size_t same = 0;
    for (size_t v = 0; v < finish.colors.size(); ++v) same += finish.colors[v] == d.sculpt->colors[v];
    QVERIFY(same >= finish.colors.size() - 1);  // of two coincident vertices only one can win
    QVERIFY(test::documentOf(test::plane(2, 1)).layers.empty());
  }
  void newLayersGoAboveTheActiveOneOrOnTopOfTheirStratum() {
    Document d = three();
    QCOMPARE(names(d), (Names{"Tone", "Marks", "Grime"}));
    d.activeLayer = idOf(d, "Tone");
    d = withPaintedLayer(d, "Blood", Stratum::Flesh);
    d.activeLayer = idOf(d, "Tone");
    d = withPaintedLayer(d, "Bone", Stratum::Flesh);
    d = withPaintedLayer(d, "More marks", Stratum::Pigment);
    QCOMPARE(names(d), (Names{"Tone", "Bone", "Blood", "Marks", "More marks", "Grime"}));
  }
  void movingKeepsStrataApart() {
    Document d = three();
    d = *withLayerMoved(d, idOf(d, "Grime"), Stratum::Flesh, 0);
    QCOMPARE(names(d), (Names{"Grime", "Tone", "Marks"}));
    d = *withLayerMoved(d, idOf(d, "Tone"), Stratum::Pigment, 99);
    QCOMPARE(names(d), (Names{"Grime", "Marks", "Tone"}));
    QVERIFY(!withLayerMoved(d, 999, Stratum::Flesh, 0));
  }
  void deletingActivatesTheOneBelow() {
    Document d = three();
    d = *withoutLayer(d, idOf(d, "Grime"));
    QCOMPARE(d.activeLayer, idOf(d, "Marks"));
    d = *withoutLayer(*withoutLayer(d, idOf(d, "Marks")), idOf(d, "Tone"));
    QCOMPARE(d.activeLayer, 0u);
    QVERIFY(!withoutLayer(d, 1));
  }
  void duplicatesShareEveryChunk() {
    Document d = three();
    d = *withFilled(d, d.activeLayer, {1, 1, 1}, 0.5f);
    const Document e = *withDuplicate(d, d.activeLayer);
    QCOMPARE(names(e).back(), std::string("Grime copy"));
    QVERIFY(e.layers.back()->source == layerOf(d, d.activeLayer)->source);
    QVERIFY(e.layers.back()->id != d.activeLayer);
  }
  // Common practice: a fill at 26 % strength moves the colour 26 % of the way.
  void fillMovesTheColourByItsStrength() {
    Document d = three();
    d = *withFilled(d, d.activeLayer, {0.2f, 0.4f, 0.8f}, 1);
    d = *withFilled(d, d.activeLayer, {1, 0.4f, 0}, 0.26f);
    const EncodedColor c = straight(colorAt(*layerOf(d, d.activeLayer)->source->painted(), 5000));
    QVERIFY(std::abs(c.r - (0.2f + 0.26f * 0.8f)) < 2e-5f);
    QVERIFY(std::abs(c.g - 0.4f) < 2e-5f);
    QVERIFY(std::abs(c.b - (0.8f - 0.26f * 0.8f)) < 2e-5f);
    // onto an empty layer: 26 % of cover
    const Document e = *withFilled(three(), three().activeLayer, {1, 0, 0}, 0.26f);
    QVERIFY(std::abs(from16(colorAt(*layerOf(e, e.activeLayer)->source->painted(), 7).a) - 0.26f) < 2e-5f);
  }
  void fillOfAPartLeavesTheOthers() {
    Document d = withPaintedLayer(
        test::documentOf(test::together(test::plane(70, 1, "A"), test::sphere(40, 1))), "p", Stratum::Flesh);
    d = *withFilled(d, d.activeLayer, {1, 0, 0}, 1, 1);
    for (size_t s = 0; s < d.surface->size(); ++s)
      QCOMPARE(layerOf(d, d.activeLayer)->source->painted()->at(s)[3],
               uint16_t(d.surface->parts[s] == 1 ? 65535 : 0));
  }
  void fillsAreRefusedWhereTheyCannotBe() {
    const Document d = three();
    QVERIFY(!withFilled(d, idOf(d, "Tone"), {1, 0, 0}, 1));
    QVERIFY(!withMaskFilled(d, d.activeLayer, 0, 1));
    QVERIFY(!withFilled(d, 999, {1, 0, 0}, 1));
  }
  void masksOpenInvertAndFill() {
    Document d = three();
    const uint32_t id = d.activeLayer;
    d = *withMask(d, id);
    QVERIFY(!withMask(d, id));
    QCOMPARE(layerOf(d, id)->mask->at(4000)[0], uint16_t{65535});
    d = *withMaskFilled(d, id, 0, 0.25f);
    QVERIFY(std::abs(layerOf(d, id)->mask->at(4000)[0] - 49151) <= 1);
    d = *withInvertedMask(d, id);
    QVERIFY(std::abs(layerOf(d, id)->mask->at(4000)[0] - 16384) <= 1);
    d = *withoutMask(d, id);
    QVERIFY(!layerOf(d, id)->mask && !withoutMask(d, id) && !withInvertedMask(d, id));
  }
  void theGuardIsFilledThoughItGuards() {
    Document d = test::documentOf(test::together(test::sphere(8, 1), test::sphere(8, 1, {3, 0, 0})));
    d = *withMaskFilled(d, kGuard, 0, 1, 1);
    const auto at = [&](uint32_t part) {
      const auto& parts = d.surface->parts;
      return d.guard->at(static_cast<size_t>(std::ranges::find(parts, part) - parts.begin()))[0];
    };
    QCOMPARE(at(1), uint16_t{0});
    QCOMPARE(at(0), uint16_t{65535});
    d = *withMaskFilled(d, kGuard, 1, 0.5f);
    QVERIFY(std::abs(at(1) - 32768) <= 1);
    QCOMPARE(at(0), uint16_t{65535});
  }
  void mergingDownLooksTheSame() {
    for (int m = 0; m < kBlendModeCount; ++m) {
      Document d = test::documentOf(test::plane(70, 1));
      d = withPaintedLayer(d, "below", Stratum::Flesh);
      d = *withFilled(d, d.activeLayer, {0.7f, 0.5f, 0.4f}, 1);
      d = withPaintedLayer(d, "above", Stratum::Flesh);
      d = *withFilled(d, d.activeLayer, {0.3f, 0.6f, 0.2f}, 0.5f);
      // a mask that goes from nothing to all across the plate: every strength is tried
      MaskTerm across;
      across.map.kind = &kElevationMap;
      across.map.direction = Vec3::UnitX();
      across.low = across.high = across.fade = 1;
      d = *withMaskTerms(d, d.activeLayer, {across});
      LayerChange change;
      change.blend = static_cast<BlendMode>(m);
      change.opacity = 0.8f;
      d = *withLayerChanged(d, d.activeLayer, change);
      const Document merged = *withMergedDown(d, d.activeLayer);
      QCOMPARE(merged.layers.size(), size_t{1});
      const ColorField before = *compositeOf(d.layers, *d.maps, d.bare),
                       after = *compositeOf(merged.layers, *merged.maps, merged.bare);
      for (size_t s = 0; s < d.surface->size(); ++s) {
        const Rgba16 a = colorAt(before, s), b = colorAt(after, s);
        QVERIFY2(std::abs(a.r - b.r) <= 3 && std::abs(a.g - b.g) <= 3 && std::abs(a.b - b.b) <= 3,
                 blendModeKey(static_cast<BlendMode>(m)).data());
      }
    }
    Document d = three();
    QVERIFY(!withMergedDown(d, idOf(d, "Tone")));
    LayerChange hide;
    hide.visible = false;
    QVERIFY(!withMergedDown(*withLayerChanged(d, idOf(d, "Marks"), hide), idOf(d, "Grime")));
  }
  void fillLayersChangeTheirColour() {
    Document d = three();
    LayerChange change;
    change.fill = EncodedColor{0, 1, 0};
    d = *withLayerChanged(d, idOf(d, "Tone"), change);
    QCOMPARE(*fillColor(*layerOf(d, idOf(d, "Tone"))->source), (EncodedColor{0, 1, 0}));
    QVERIFY(!withLayerChanged(d, idOf(d, "Marks"), change));
  }
  void refiningCarriesColourAndMaskAlong() {
    Document d = withPaintedLayer(test::documentOf(test::plane(40, 40)), "ramp", Stratum::Flesh);
    ColorField field(d.surface->size());
    auto chunk = field.writable(0);
    for (size_t i = 0; i < d.surface->size(); ++i) {
      const auto v = static_cast<uint16_t>(1000 * (d.surface->positions[i].x() + 20));
      setSample(*chunk, i, {v, v, v, 65535});
    }
    field.setChunk(0, chunk);
    d = *withMask(*withPainted(d, d.activeLayer, field), d.activeLayer);
    const auto fine = withRefinement(d, {});
    QVERIFY(fine);
    QCOMPARE(fine->surface->triangles.size(), 4 * d.surface->triangles.size());
    for (size_t i = 0; i < fine->surface->size(); ++i) {
      const float expected = 1000 * (fine->surface->positions[i].x() + 20);
      QVERIFY(std::abs(static_cast<float>(layerOf(*fine, d.activeLayer)->source->painted()->at(i)[0]) -
                       expected) <= 1.5f);
    }
    QCOMPARE(layerOf(*fine, d.activeLayer)->mask->size(), fine->surface->size());
    const auto again = surfaceAfter(*d.sculpt, {fine->refinements, {}});
    QVERIFY(again && (*again)->positions == fine->surface->positions);
  }
  void historyGoesBackAndForthAndDropsWhatWasUndone() {
    History h(three(), "Open");
    for (int i = 0; i < 4; ++i)
      h.push(*withFilled(h.document(), h.document().activeLayer, {0, 0, 0.2f * static_cast<float>(i)}, 1),
             "Fill");
    QCOMPARE(h.steps().size(), size_t{5});
    h.goTo(2);
    QVERIFY(h.canUndo() && h.canRedo());
    QVERIFY(
        std::abs(straight(colorAt(*layerOf(h.document(), h.document().activeLayer)->source->painted(), 3)).b -
                 0.2f) < 1e-4f);
    const uint64_t last = h.steps().back()->id;
    h.push(h.document(), "Other");
    QCOMPARE(h.steps().size(), size_t{4});
    QVERIFY(!h.canRedo());
    QVERIFY(h.steps().back()->id != last);
    h.goTo(0);
    QVERIFY(!h.canUndo());
  }
  void historyStaysWithinItsBudget() {
    const size_t fill = chunkCount(three().surface->size()) * sizeof(ColorChunk);
    History h(three(), "Open", 5 * fill);
    for (int i = 0; i < 40; ++i)
      h.push(*withFilled(h.document(), h.document().activeLayer, {0, 0, 0.02f * static_cast<float>(i)}, 1),
             "Fill");
    QVERIFY(h.bytes() <= 5 * fill);
    QVERIFY(h.steps().size() >= 5 && h.steps().size() <= 8);
    QCOMPARE(h.current(), h.steps().size() - 1);
  }
  void namedStepsThatGiveWayAreTold() {
    const size_t fill = chunkCount(three().surface->size()) * sizeof(ColorChunk);
    History h(three(), "Open", 5 * fill);
    const auto push = [&](int times) {
      for (int i = 0; i < times; ++i)
        h.push(*withFilled(h.document(), h.document().activeLayer, {0, 0, 0.02f * static_cast<float>(i)}, 1),
               "Fill");
    };
    push(2);
    h.call(2, "before the scales");
    QVERIFY(h.takeForgotten().empty());
    push(20);
    QCOMPARE(h.takeForgotten(), std::vector<std::string>{"before the scales"});
    QVERIFY(h.takeForgotten().empty());
    // less memory takes effect at once
    h.setBudget(2 * fill);
    QVERIFY(h.bytes() <= 2 * fill && h.steps().size() < 5);
  }
  // Adding points leaves checkpoints as cheap as they were: what they shared with the layers they share
  // again.
  void checkpointsShareTheirPaintWithFinerLayers() {
    Document d = three();
    d = *withFilled(d, d.activeLayer, {0.5f, 0.3f, 0.2f}, 1);
    d = *withCheckpoint(d, "All of it", 0);
    d = *withCheckpoint(d, "Again", 0);
    const auto fine = withRefinement(d, {0.35f});
    QVERIFY2(fine, fine ? "" : fine.error().message().c_str());
    const auto fieldOf = [](const LayerPointer& layer) -> const ColorField& {
      return *layer->source->painted();
    };
    size_t chunks = 0;
    for (const Checkpoint& c : fine->checkpoints)
      for (size_t i = 0; i < c.layers.size(); ++i) {
        const LayerPointer live = layerOf(*fine, c.of[i]);
        if (!live->source->fields()) continue;
        for (size_t k = 0; k < fieldOf(live).chunkCount(); ++k) {
          QCOMPARE(fieldOf(c.layers[i]).chunk(k).get(), fieldOf(live).chunk(k).get());
          chunks += fieldOf(live).chunk(k) != nullptr;
        }
      }
    QVERIFY(chunks > 2);
  }
  void stepsCountOnlyWhatTheyDoNotShare() {
    Document d = three();
    const Document filled = *withFilled(d, d.activeLayer, {1, 0, 0}, 1);
    QCOMPARE(newBytes(d, filled), chunkCount(d.surface->size()) * sizeof(ColorChunk));
    QCOMPARE(newBytes(filled, filled), size_t{0});
    LayerChange change;
    change.opacity = 0.5f;
    QCOMPARE(newBytes(filled, *withLayerChanged(filled, d.activeLayer, change)), size_t{0});
  }
};

JUVENOR_TEST(TestEdits)
}  // namespace juvenor
#include "test_edits.moc"
