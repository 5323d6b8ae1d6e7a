// Gloss, metal and relief beside colour: how they meet where layers lie over each other, what an untouched
// one costs, and that every edit of the stack keeps them.
#include "core/document/edits/edit_groups.h"
#include "core/document/history.h"
#include "core/export/vertex_finish.h"
#include "core/layers/composite/combine_chunk.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/ramp.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

ChannelValues valuesOf(std::optional<float> gloss, std::optional<float> metal, std::optional<float> relief) {
  ChannelValues out;
  out[Channel::Gloss] = gloss;
  out[Channel::Metal] = metal;
  out[Channel::Relief] = relief;
  // the others cover as metal does
  for (const Channel c : {Channel::Glow, Channel::Wander, Channel::Coat, Channel::Fuzz}) out[c] = metal;
  return out;
}

ChannelFields skinOf(const Document& d) {
  return *skinOf(d.layers, *d.maps, d.bare);
}

double glossAt(const Document& d, size_t sample) {
  return from16(skinOf(d).get<Channel::Gloss>().at(sample)[0]);
}

double reliefAt(const Document& d, size_t sample) {
  return heightOf(skinOf(d).get<Channel::Relief>().at(sample)[0], d.reliefStep);
}

bool sameSkin(const ChannelFields& a, const ChannelFields& b, int tolerance) {
  bool same = true;
  eachChannel([&](auto c) {
    const auto &x = a.get<c()>(), &y = b.get<c()>();
    for (size_t s = 0; s < x.size(); ++s)
      for (size_t p = 0; p < x.at(s).size(); ++p)
        same &= std::abs(static_cast<int>(x.at(s)[p]) - static_cast<int>(y.at(s)[p])) <= tolerance;
  });
  return same;
}

}  // namespace

class TestChannels : public QObject {
  Q_OBJECT
 private slots:
  // Glow covers as gloss does, skin has none, and it leaves with the vertices under its name.
  void glowCoversAndLeaves() {
    Document d = test::documentOf(test::plane(20, 1));
    const auto glowing = [&](float glow) {
      ChannelValues out;
      out[Channel::Glow] = glow;
      return fillSource(out);
    };
    d = withSourceLayer(d, "Lit", Stratum::Pigment, glowing(0.8f));
    d = withSourceLayer(d, "Dimmer", Stratum::Pigment, glowing(0.2f));
    LayerChange half;
    half.opacity = 0.5f;
    d = *withLayerChanged(d, d.activeLayer, half);
    const ChannelFields skin = skinOf(d);
    QVERIFY(std::abs(from16(skin.get<Channel::Glow>().at(5)[0]) - 0.5f) < 1e-4f);
    const VertexFinish finish = finishOf(d, skin);
    QCOMPARE(finish.numbers.size(), size_t{1});
    QCOMPARE(finish.numbers[0].name, std::string("glow"));
    QVERIFY(std::abs(finish.numbers[0].values[3] - 0.5f) < 1e-4f);
    QCOMPARE(bareSkin(10).get<Channel::Glow>().at(3)[0], uint16_t{0});
  }

  // Source-over of Porter and Duff 1984 on straight values, worked out in double.
  void coversLieOverEachOther() {
    std::mt19937 random(5);
    CoverChunk below, over;
    ScalarChunk mask;
    for (size_t i = 0; i < kChunkSize; ++i) {
      below.plane[1][i] = static_cast<uint16_t>(random());
      over.plane[1][i] = static_cast<uint16_t>(random());
      below.plane[0][i] = static_cast<uint16_t>(random() % (below.plane[1][i] + 1u));
      over.plane[0][i] = static_cast<uint16_t>(random() % (over.plane[1][i] + 1u));
      mask.plane[0][i] = static_cast<uint16_t>(random());
    }
    CoverChunk out = below;
    combineChunk(out, over, &mask, 0.7f);
    for (size_t i = 0; i < kChunkSize; ++i) {
      const double scale = 0.7 * mask.plane[0][i] / 65535, alpha = over.plane[1][i] / 65535.0 * scale;
      for (size_t p = 0; p < 2; ++p) {
        const double expected = over.plane[p][i] * scale + below.plane[p][i] * (1 - alpha);
        QVERIFY(std::abs(out.plane[p][i] - expected) <= 0.51);
      }
      QVERIFY(out.plane[0][i] <= out.plane[1][i] + 1);
    }
  }
  void heightsAddUp() {
    ScalarChunk low, high;
    low.plane[0].fill(kLevel + 1000);
    high.plane[0].fill(kLevel - 3000);
    ScalarChunk out = low;
    combineChunk(out, high, nullptr, 0.5f);
    QCOMPARE(out.plane[0][7], static_cast<uint16_t>(kLevel - 500));
    combineChunk(out, high, nullptr, -1);
    QCOMPARE(out.plane[0][7], static_cast<uint16_t>(kLevel + 2500));
    high.plane[0].fill(65535);
    for (int i = 0; i < 3; ++i) combineChunk(out, high, nullptr, 1);
    QCOMPARE(out.plane[0][4095], uint16_t{65535});
  }
  void layersActOnEveryChannelAlike() {
    Document d = test::documentOf(test::plane(90, 100));
    QVERIFY(std::abs(glossAt(d, 0) - 0.5) < 1e-4 && reliefAt(d, 0) == 0);
    d = withSourceLayer(d, "Wet", Stratum::Surface, fillSource(valuesOf(1.f, 0.8f, 0.5f)));
    const uint32_t id = d.activeLayer;
    const auto with = [&](const LayerChange& change) { return *withLayerChanged(d, id, change); };
    LayerChange half;
    half.opacity = 0.5f;
    QVERIFY(std::abs(glossAt(with(half), 9) - 0.75) < 1e-4);
    QVERIFY(std::abs(from16(skinOf(with(half)).get<Channel::Metal>().at(9)[0]) - 0.4) < 1e-4);
    QVERIFY(std::abs(reliefAt(with(half), 9) - 0.25) <= static_cast<double>(d.reliefStep));
    LayerChange strengths;
    strengths.strength[static_cast<size_t>(Channel::Gloss)] = 0.2f;
    strengths.strength[static_cast<size_t>(Channel::Metal)] = 0.f;
    strengths.strength[static_cast<size_t>(Channel::Relief)] = -1.f;
    QVERIFY(std::abs(glossAt(with(strengths), 9) - 0.6) < 1e-4);
    QCOMPARE(skinOf(with(strengths)).get<Channel::Metal>().at(9)[0], uint16_t{0});
    QVERIFY(std::abs(reliefAt(with(strengths), 9) + 0.5) <= static_cast<double>(d.reliefStep));
    LayerChange hidden;
    hidden.visible = false;
    QVERIFY(skinOf(with(hidden)).written() == ChannelSet(Channel::Color));
    const Document masked = *withMaskFilled(*withMask(d, id), id, 0, 1);
    QVERIFY(std::abs(glossAt(masked, 9) - 0.5) < 1e-4 && reliefAt(masked, 9) == 0);
    // colour was not asked for: the fill has none
    QVERIFY(test::sameValues(skinOf(d).color(), skinOf(with(hidden)).color()));
  }
  // A ramp over a map brings what its stops name, straight between them.
  void rampsBringChannels() {
    Document d = test::documentOf(test::plane(90, 100));
    MaskTerm up;
    up.map = {&kElevationMap, 0, Vec3::UnitY()};
    const RampStops stops{{0, {}, 1, {0, 0.1f, -0.4f}}, {1, {}, 1, {0, 0.9f, 0.6f}}};
    d = withSourceLayer(d, "Ramp", Stratum::Flesh,
                        rampSource({up}, stops, ChannelSet(Channel::Gloss) | Channel::Relief));
    const ChannelFields skin = skinOf(d);
    QVERIFY(skin.written() == (ChannelSet(Channel::Color) | Channel::Gloss | Channel::Relief));
    const auto elevation = *maskOf(*d.maps, {up});
    for (size_t s = 0; s < d.surface->size(); s += 37) {
      const double at = from16(elevation->at(s)[0]);
      QVERIFY(std::abs(from16(skin.get<Channel::Gloss>().at(s)[0]) - (0.1 + 0.8 * at)) < 1e-3);
      QVERIFY(std::abs(static_cast<double>(heightOf(skin.get<Channel::Relief>().at(s)[0], d.reliefStep)) -
                       (at - 0.4)) < 2e-3);
    }
    const auto back = makeSource("ramp", layerOf(d, d.activeLayer)->source->parameters(), d.surface->size());
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    QVERIFY((*back)->channels() == (ChannelSet(Channel::Gloss) | Channel::Relief));
    QVERIFY(rampContent(**back)->stops == stops);
    auto uneven = layerOf(d, d.activeLayer)->source->parameters();
    uneven["stops"][1].erase("gloss");
    const auto refused = makeSource("ramp", uneven, d.surface->size());
    QVERIFY(!refused && refused.error().what.find("stop 2") != std::string::npos);
  }
  void channelsNobodyTouchedCostNothing() {
    const Document empty =
        withPaintedLayer(test::documentOf(test::plane(150, 100)), "Paint", Stratum::Pigment);
    const uint32_t id = empty.activeLayer;
    const Document d = *withFilled(empty, id, {0.5f, 0.4f, 0.3f}, 1);
    QVERIFY(layerOf(d, id)->source->fields()->written() == ChannelSet(Channel::Color));
    QVERIFY(skinOf(d).written() == ChannelSet(Channel::Color));
    QCOMPARE(newBytes(empty, d), chunkCount(d.surface->size()) * sizeof(ColorChunk));
    const Document wet = *withFilled(d, id, valuesOf(0.9f, {}, {}), 1);
    QCOMPARE(newBytes(d, wet), chunkCount(d.surface->size()) * sizeof(CoverChunk));
    const auto before = *prepared(d.layers, *d.maps), after = *prepared(wet.layers, *wet.maps);
    QVERIFY(changedChunks(before, after, d.surface->size(), Channel::Color).empty());
    QVERIFY(changedChunks(before, after, d.surface->size(), Channel::Relief).empty());
    QCOMPARE(changedChunks(before, after, d.surface->size(), Channel::Gloss).size(),
             chunkCount(d.surface->size()));
  }
  // Eyes wet, cloth dry, armour shining, each part in one go; 26 % strength goes 26 % of the way.
  void fillsTakeEveryChannel() {
    Document d =
        withPaintedLayer(test::documentOf(test::together(test::plane(20, 10), test::plane(20, 30, "Armour"))),
                         "Base", Stratum::Flesh);
    const uint32_t id = d.activeLayer;
    ChannelValues armour = valuesOf(0.8f, 1.f, {});
    armour.color = EncodedColor{0.7f, 0.6f, 0.4f};
    d = *withPartsFilled(d, id, {{0, valuesOf(0.2f, {}, {})}, {1, armour}});
    const ChannelFields skin = skinOf(d);
    for (size_t s = 0; s < d.surface->size(); s += 13) {
      const bool plate = d.surface->parts[s] == 1;
      QVERIFY(std::abs(from16(skin.get<Channel::Gloss>().at(s)[0]) - (plate ? 0.8f : 0.2f)) < 1e-4f);
      QCOMPARE(skin.get<Channel::Metal>().at(s)[0], plate ? uint16_t{65535} : uint16_t{0});
      QCOMPARE(colorAt(layerOf(d, id)->source->fields()->color(), s).a,
               plate ? uint16_t{65535} : uint16_t{0});
    }
    const Document quarter = *withFilled(d, id, valuesOf(1.f, {}, 0.1f), 0.26f, 0);
    for (size_t s = 0; s < d.surface->size(); s += 13) {
      const bool cloth = d.surface->parts[s] == 0;
      QVERIFY(std::abs(glossAt(quarter, s) - (cloth ? 0.2 + 0.26 * 0.8 : 0.8)) < 1e-4);
      QVERIFY(std::abs(reliefAt(quarter, s) - (cloth ? 0.026 : 0)) <= static_cast<double>(d.reliefStep));
    }
  }
  // What is merged looks as before, whatever masks, opacities and strengths the two had.
  void mergingKeepsEveryChannel() {
    Document d = test::documentOf(test::plane(90, 100));
    ChannelValues tone = valuesOf(0.3f, 0.1f, 0.2f);
    tone.color = EncodedColor{0.6f, 0.4f, 0.3f};
    d = withSourceLayer(d, "Lower", Stratum::Flesh, fillSource(tone));
    const uint32_t lower = d.activeLayer;
    MaskTerm up;
    up.map = {&kElevationMap, 0, Vec3::UnitY()};
    d = *withMaskTerms(d, lower, {up});
    LayerChange change;
    change.strength[static_cast<size_t>(Channel::Gloss)] = 0.5f;
    d = *withLayerChanged(d, lower, change);
    ChannelValues wet = valuesOf(0.9f, {}, 0.3f);
    d = withSourceLayer(d, "Upper", Stratum::Flesh, fillSource(wet));
    change.opacity = 0.6f;
    change.strength[static_cast<size_t>(Channel::Relief)] = -0.7f;
    d = *withLayerChanged(d, d.activeLayer, change);
    const Document merged = *withMergedDown(d, d.activeLayer);
    QCOMPARE(merged.layers.size(), size_t{1});
    QVERIFY(sameSkin(skinOf(d), skinOf(merged), 2));
    QVERIFY(merged.layers[0]->source->fields()->written() == ChannelSet::all());
  }
  void refiningCarriesEveryChannel() {
    Document d = withPaintedLayer(test::documentOf(test::plane(40, 100)), "p", Stratum::Pigment);
    ChannelValues all = valuesOf(0.9f, 0.4f, 0.3f);
    all.color = EncodedColor{0.6f, 0.4f, 0.3f};
    d = *withFilled(d, d.activeLayer, all, 1);
    const Document fine = *withRefinement(d, {});
    QVERIFY(fine.surface->size() > 3 * d.surface->size());
    QCOMPARE(fine.reliefStep, d.reliefStep);
    for (size_t s = 0; s < fine.surface->size(); s += 611) {
      QVERIFY(std::abs(glossAt(fine, s) - 0.9) < 1e-4);
      QVERIFY(std::abs(reliefAt(fine, s) - 0.3) <= static_cast<double>(d.reliefStep));
    }
    QVERIFY(layerOf(fine, fine.activeLayer)->source->fields()->written() == ChannelSet::all());
  }
};

JUVENOR_TEST(TestChannels)
}  // namespace juvenor
#include "test_channels.moc"
