// Adjust layers: what each control does to a colour (hue and saturation against the matrices of the W3C's
// Filter Effects Module), curves, chunks, masks, and the same laid down.
#include <random>

#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/filters/adjust.h"
#include "core/layers/sources/fill.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

bool near(const EncodedColor& a, const EncodedColor& b, float by = 0.002f) {
  return std::abs(a.r - b.r) < by && std::abs(a.g - b.g) < by && std::abs(a.b - b.b) < by;
}

std::vector<EncodedColor> someColors() {
  std::mt19937 random(3);
  std::uniform_real_distribution<float> unit(0, 1);
  std::vector<EncodedColor> out{{0, 0, 0}, {1, 1, 1}, {1, 0, 0}, {0.5f, 0.5f, 0.5f}};
  while (out.size() < 200) out.push_back({unit(random), unit(random), unit(random)});
  return out;
}

float luma(const EncodedColor& c) {
  return 0.213f * c.r + 0.715f * c.g + 0.072f * c.b;
}

Adjust with(float Adjust::*member, float value) {
  Adjust out;
  out.*member = value;
  return out;
}

}  // namespace

class TestAdjust : public QObject {
  Q_OBJECT
 private slots:
  void nothingSetChangesNothing() {
    for (const EncodedColor& c : someColors()) QVERIFY(near(adjusted({}, c), c, 1e-6f));
    ColorChunk below, out;
    std::mt19937 random(1);
    for (auto& plane : below.plane)
      for (uint16_t& v : plane) v = static_cast<uint16_t>(random());
    adjustChunk(matrixOf({}), {}, below, out);
    QVERIFY(out.plane == below.plane);
  }

  // Gloss and relief take lightness, contrast and curve as one plane of grey does; no height stays no height.
  void adjustsOtherChannels() {
    Adjust adjust;
    adjust.contrast = 0.25f;
    adjust.lightness = -0.1f;
    adjust.curve = {{0, 0}, {0.5f, 0.3f}, {1, 1}};
    const auto values = adjustedValues(adjust, 32767);
    for (uint32_t v = 0; v < 65536; v += 997) {
      const float grey = from16(static_cast<uint16_t>(v));
      QVERIFY(std::abs(from16(values[v]) - adjusted(adjust, {grey, grey, grey}).r) < 0.001f);
    }
    Adjust steeper;
    steeper.contrast = -0.5f;
    const auto heights = adjustedValues(steeper, kLevel);
    QCOMPARE(heights[kLevel], kLevel);
    QCOMPARE(heights[kLevel + 1000], kLevel + 500);
    QCOMPARE(heights[kLevel - 1000], kLevel - 500);
    steeper.on = Channel::Relief;
    Document d = test::documentOf(test::plane(20, 1));
    ChannelValues fill(0.5f, 0.4f, 0.3f);
    fill[Channel::Relief] = 1000 * d.maps->reliefStep();
    d = withSourceLayer(d, "Ground", Stratum::Pigment, fillSource(fill));
    const auto before = *skinOf(d.layers, *d.maps, d.bare);
    d = withSourceLayer(d, "Flatter", Stratum::Pigment, adjustSource(steeper));
    const auto after = *skinOf(d.layers, *d.maps, d.bare);
    QCOMPARE(after.get<Channel::Relief>().at(7)[0], kLevel + 500);
    QVERIFY(after.color().at(7) == before.color().at(7));
  }

  // feColorMatrix, hueRotate 90: red becomes 0, 0.356, −0.574; saturate 0: its luma.
  void hueAndSaturationAreTheStandards() {
    const EncodedColor turned = matrixOf(with(&Adjust::hue, 90)).of({1, 0, 0});
    QVERIFY(near(turned, {0, 0.356f, -0.574f}, 1e-4f));
    QVERIFY(near(matrixOf(with(&Adjust::saturation, -1)).of({1, 0, 0}), {0.213f, 0.213f, 0.213f}, 1e-4f));
    for (const EncodedColor& c : someColors()) {
      QVERIFY(near(matrixOf(with(&Adjust::hue, 180)).of(matrixOf(with(&Adjust::hue, 180)).of(c)), c, 0.004f));
      QVERIFY(std::abs(luma(matrixOf(with(&Adjust::hue, 50)).of(c)) - luma(c)) < 0.003f);
      QVERIFY(std::abs(luma(matrixOf(with(&Adjust::saturation, 0.7f)).of(c)) - luma(c)) < 0.003f);
      const EncodedColor grey{c.g, c.g, c.g};
      QVERIFY(near(matrixOf(with(&Adjust::saturation, 0.7f)).of(grey), grey));
      QVERIFY(near(matrixOf(with(&Adjust::hue, 77)).of(grey), grey, 0.003f));
    }
  }

  void lightnessContrastAndTint() {
    const EncodedColor skin{0.7f, 0.5f, 0.4f};
    QVERIFY(near(adjusted(with(&Adjust::lightness, 1), skin), {1, 1, 1}));
    QVERIFY(near(adjusted(with(&Adjust::lightness, -1), skin), {0, 0, 0}));
    QVERIFY(near(adjusted(with(&Adjust::lightness, 0.5f), skin), {0.85f, 0.75f, 0.7f}));
    QVERIFY(near(adjusted(with(&Adjust::contrast, -1), skin), {0.5f, 0.5f, 0.5f}));
    QVERIFY(near(adjusted(with(&Adjust::contrast, 1), {0.6f, 0.45f, 0.5f}), {0.9f, 0.3f, 0.5f}));
    Adjust tint = with(&Adjust::tinted, 1);
    tint.tint = {0.6f, 0.3f, 0.3f};
    const EncodedColor tinted = adjusted(tint, skin);
    QVERIFY(std::abs(luma(tinted) - luma(skin)) < 0.003f);
    QVERIFY(std::abs(tinted.r / tinted.g - 2) < 0.01f);
  }

  void matchingBringsOneToneToAnother() {
    Adjust match = with(&Adjust::matched, 1);
    for (const EncodedColor& to : {EncodedColor{0.3f, 0.6f, 0.2f}, EncodedColor{0.9f, 0.5f, 0.7f}}) {
      match.from = {0.6f, 0.45f, 0.4f};
      match.to = to;
      QVERIFY(near(adjusted(match, match.from), to));
      // what is darkened goes to black through black, what is lightened to white through white
      const EncodedColor black = adjusted(match, {0, 0, 0}), white = adjusted(match, {1, 1, 1});
      for (size_t p = 0; p < 3; ++p) {
        const bool darker = (&to.r)[p] <= (&match.from.r)[p];
        QVERIFY(std::abs((darker ? (&black.r)[p] : (&white.r)[p] - 1)) < 1e-4f);
      }
      match.matched = 0.5f;
      const EncodedColor half = adjusted(match, match.from);
      QVERIFY(std::abs(half.g - 0.5f * (match.from.g + to.g)) < 0.01f);
      match.matched = 1;
    }
  }

  // Through every point, never beyond its neighbours.
  void curvesRunThroughTheirPoints() {
    QVERIFY(curveTable({}).empty());
    const std::vector<std::array<float, 2>> points{
        {0, 0.1f}, {0.25f, 0.1f}, {0.5f, 0.8f}, {0.75f, 0.85f}, {1, 1}};
    const auto table = curveTable(points);
    QCOMPARE(table.size(), kCurveSteps);
    for (const auto& [in, out] : points)
      QVERIFY(std::abs(static_cast<float>(table[static_cast<size_t>(in * (kCurveSteps - 1))]) / 65535 - out) <
              1e-3f);
    for (size_t i = 1; i < table.size(); ++i) QVERIFY(table[i] >= table[i - 1]);
    // in any order, twice the same place, one alone
    QVERIFY(curveTable({{1, 1}, {0, 0.1f}, {0.5f, 0.8f}, {0.25f, 0.1f}, {0.75f, 0.85f}}) == table);
    QVERIFY(!curveTable({{0.5f, 0.2f}, {0.5f, 0.9f}}).empty());
    const auto one = curveTable({{0.3f, 0.6f}});
    QCOMPARE(one.front(), one.back());
  }

  void chunksAreAsTheirColors() {
    Adjust all;
    all.lightness = 0.1f;
    all.contrast = 0.2f;
    all.hue = 30;
    all.saturation = -0.3f;
    all.tinted = 0.2f;
    all.curve = {{0, 0}, {0.4f, 0.6f}, {1, 1}};
    const auto colors = someColors();
    ColorChunk below, out;
    for (size_t i = 0; i < kChunkSize; ++i) setSample(below, i, opaque16(colors[i % colors.size()]));
    adjustChunk(matrixOf(all), curveOfValues(curveTable(all.curve)), below, out);
    for (size_t i = 0; i < colors.size(); ++i) {
      const EncodedColor told{from16(out.plane[0][i]), from16(out.plane[1][i]), from16(out.plane[2][i])};
      QVERIFY(near(told, adjusted(all, colors[i]), 3e-4f));
      QCOMPARE(out.plane[3][i], uint16_t{65535});
    }
  }

  // It acts on what lies below within its mask, and nothing above it changes.
  void changesWhatLiesBelow() {
    Document d =
        withFillLayer(test::documentOf(test::plane(60, 6)), "Tone", Stratum::Flesh, {0.6f, 0.4f, 0.3f});
    Adjust dark = with(&Adjust::lightness, -0.5f);
    d = withSourceLayer(d, "Adjust", Stratum::Pigment, adjustSource(dark));
    ScalarField mask = openMask(d.surface->size());
    auto hidden = std::make_shared<ScalarChunk>();
    mask.setChunk(0, hidden);
    d = *withMaskField(*withMask(d, d.activeLayer), d.activeLayer, mask);
    const ColorField skin = *compositeOf(d.layers, *d.maps, d.bare);
    QCOMPARE(colorAt(skin, 10), opaque16({0.6f, 0.4f, 0.3f}));
    if (skin.size() > kChunkSize) {
      const Rgba16 there = colorAt(skin, kChunkSize + 5);
      QVERIFY(std::abs(static_cast<int>(there.r) - 19661) < 4);
    }
    LayerChange half;
    half.opacity = 0.5f;
    d = *withLayerChanged(*withoutMask(d, d.activeLayer), d.activeLayer, half);
    QVERIFY(std::abs(static_cast<int>(colorAt(*compositeOf(d.layers, *d.maps, d.bare), 10).r) - 29491) < 6);
  }

  void laidDownItIsPaint() {
    Document d = withPaintedLayer(test::documentOf(test::plane(20, 2)), "Paint", Stratum::Pigment);
    d = *withFilled(d, d.activeLayer, EncodedColor{0.6f, 0.4f, 0.3f}, 1, kNone);
    const Document laid = *withAdjusted(d, d.activeLayer, with(&Adjust::lightness, -0.5f));
    QVERIFY(near(straight(colorAt(*laid.layers.back()->source->painted(), 7)), {0.3f, 0.2f, 0.15f}));
    QCOMPARE(colorAt(*laid.layers.back()->source->painted(), 7).a, uint16_t{65535});
    // through the mask and opacity of the layer it comes from
    Document over =
        withSourceLayer(d, "Adjust", Stratum::Pigment, adjustSource(with(&Adjust::lightness, -0.5f)));
    LayerChange half;
    half.opacity = 0.5f;
    const uint32_t adjusting = over.activeLayer;
    over = *withLayerChanged(over, adjusting, half);
    const Document through = *withAdjusted(over, d.activeLayer, with(&Adjust::lightness, -0.5f), adjusting);
    QVERIFY(near(straight(colorAt(*layerOf(through, d.activeLayer)->source->painted(), 7)),
                 {0.45f, 0.3f, 0.225f}));
    // and what is guarded stays
    Document guarded = d;
    guarded.guard = ScalarField(d.surface->size(), {65535});
    for (size_t c = 0; c < guarded.guard->chunkCount(); ++c)
      guarded.guard->setChunk(c, std::make_shared<ScalarChunk>());
    const Document kept = *withAdjusted(guarded, d.activeLayer, with(&Adjust::lightness, -0.5f));
    QVERIFY(near(straight(colorAt(*kept.layers.back()->source->painted(), 7)), {0.6f, 0.4f, 0.3f}));
    const EncodedColor mean = *meanBelow(over, adjusting);
    QVERIFY(near(mean, {0.6f, 0.4f, 0.3f}));
    QVERIFY(!withAdjusted(withFillLayer(d, "Fill", Stratum::Pigment, {1, 1, 1}), 999, {}));
  }

  void parametersComeBack() {
    Adjust all;
    all.hue = -30;
    all.matched = 0.5f;
    all.curve = {{0, 0.2f}, {1, 0.9f}};
    const auto back = makeSource("adjust", adjustSource(all)->parameters(), 10);
    QVERIFY(back && *adjustOf(**back) == all);
    QVERIFY(makeSource("adjust", {{"curve", {{0, "x"}}}}, 10).error().what.find("point 1") !=
            std::string::npos);
    QVERIFY(makeSource("adjust", {{"contrst", 1}}, 10).error().what.find("contrast") != std::string::npos);
  }
};

JUVENOR_TEST(TestAdjust)
}  // namespace juvenor
#include "test_adjust.moc"
