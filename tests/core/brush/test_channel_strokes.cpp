// The pen lays what is ticked and leaves the rest alone, whatever the ink.
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/layers/sources/painted.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr Channel kNumbers[] = {Channel::Gloss, Channel::Metal, Channel::Relief};

// A sheet in all channels, its right half with other values than its left.
Document halves() {
  Document d = withPaintedLayer(test::documentOf(test::plane(90, 90)), "Paint", Stratum::Pigment);
  ChannelValues left{0.8f, 0.6f, 0.5f}, right{0.3f, 0.2f, 0.2f};
  for (const Channel c : kNumbers) {
    left[c] = 0.8f;
    right[c] = 0.2f;
  }
  d = *withFilled(d, d.activeLayer, left, 1);
  const Document all = *withFilled(d, d.activeLayer, right, 1);
  ChannelFields fields = *layerOf(d, d.activeLayer)->source->fields();
  eachChannel([&](auto c) {
    auto& field = fields.get<c()>();
    const auto& other = layerOf(all, d.activeLayer)->source->fields()->get<c()>();
    for (size_t chunk = 0; chunk < field.chunkCount(); ++chunk) {
      auto mixed = field.writable(chunk);
      for (size_t s = chunk * kChunkSize; s < std::min(field.size(), (chunk + 1) * kChunkSize); ++s)
        if (d.surface->positions[s].x() > 0)
          for (size_t p = 0; p < mixed->plane.size(); ++p) mixed->plane[p][s % kChunkSize] = other.at(s)[p];
      field.setChunk(chunk, std::move(mixed));
    }
  });
  return *withPainted(d, d.activeLayer, std::move(fields));
}

ChannelValues ticked(unsigned bits) {
  ChannelValues out;
  if (bits & 1) out.color = EncodedColor{0.1f, 0.9f, 0.4f};
  for (const Channel c : kNumbers)
    if (bits >> static_cast<unsigned>(c) & 1) out[c] = 0.5f;
  return out;
}

Result<Document> stroked(const Document& d, const char* ink, const ChannelValues& paint, float flow = 1) {
  StrokeSetting setting;
  setting.ink = inkKind(ink);
  setting.layer = d.activeLayer;
  setting.paint = paint;
  setting.brush.radius = 15;
  setting.brush.flow = flow;
  setting.brush.hardness = 0.6f;
  setting.brush.pressureSize = setting.brush.pressureFlow = false;
  Flood flood;
  auto stroke = PaintStroke::begin(d, setting, flood);
  if (!stroke) return stroke.error();
  for (int i = 0; i <= 8; ++i) {
    SurfacePoint p;
    p.position = {static_cast<float>(2 * i - 8), 0, 0};
    p.normal = p.toViewer = Vec3::UnitZ();
    (*stroke)->stroke().moveTo(p, 1);
  }
  return (*stroke)->finish();
}

const ChannelFields& fieldsOf(const Document& d) {
  return *layerOf(d, d.activeLayer)->source->fields();
}

ChannelSet changed(const Document& before, const Document& after) {
  ChannelSet out;
  eachChannel([&](auto c) {
    if (!test::sameValues(fieldsOf(before).get<c()>(), fieldsOf(after).get<c()>())) out |= c();
  });
  return out;
}

double numberAt(const Document& d, Channel channel, const Vec3& place) {
  const auto sample = *nearestSample(*d.surface, place, 1e6f);
  double out = 0;
  eachChannel([&](auto c) {
    if (c() != channel) return;
    const auto value = fieldsOf(d).get<c()>().at(sample);
    if constexpr (factsOf(c()).rule == ChannelRule::Add)
      out = heightOf(value[0], d.reliefStep);
    else
      out = from16(value[0]);
  });
  return out;
}

}  // namespace

class TestChannelStrokes : public QObject {
  Q_OBJECT
 private slots:
  void everyInkWorksOnTheTickedChannelsAlone() {
    // what is restored was there before there was anything
    Document d = *withCheckpoint(halves(), "Before", 0);
    for (LayerPointer& kept : d.checkpoints.front().layers) {
      Layer empty = *kept;
      empty.source = paintedSource(ChannelFields(d.surface->size()));
      kept = std::make_shared<Layer>(empty);
    }
    for (const InkKind& ink : inkKinds())
      for (unsigned bits = 1; bits < 16; ++bits) {
        const ChannelValues paint = ticked(bits);
        const Document after = *stroked(d, ink.key.data(), paint);
        QVERIFY2(changed(d, after) == paint.channels(),
                 qPrintable(QString("%1 of %2").arg(ink.key.data()).arg(bits)));
      }
  }
  void layingReachesTheValuesInHand() {
    const Document after = *stroked(halves(), "lay", ticked(15));
    QVERIFY(std::abs(numberAt(after, Channel::Gloss, Vec3::Zero()) - 0.5) < 1e-3);
    QVERIFY(std::abs(numberAt(after, Channel::Metal, Vec3::Zero()) - 0.5) < 1e-3);
    // heights go on top of what is there
    QVERIFY(std::abs(numberAt(after, Channel::Relief, {-2, 0, 0}) - 1.3) < 2e-3);
    QVERIFY(std::abs(numberAt(after, Channel::Relief, {2, 0, 0}) - 0.7) < 2e-3);
    ChannelValues down;
    down[Channel::Relief] = -0.5f;
    QVERIFY(std::abs(numberAt(*stroked(halves(), "lay", down), Channel::Relief, {-2, 0, 0}) - 0.3) < 2e-3);
  }
  void erasingGlossLeavesTheColour() {
    ChannelValues gloss;
    gloss[Channel::Gloss] = 0.f;
    const Document after = *stroked(halves(), "erase", gloss);
    const auto at = *nearestSample(*after.surface, Vec3::Zero(), 1e6f);
    QCOMPARE(fieldsOf(after).get<Channel::Gloss>().at(at)[1], uint16_t{0});
    QCOMPARE(fieldsOf(after).color().at(at)[3], uint16_t{65535});
    ChannelValues relief;
    relief[Channel::Relief] = 0.f;
    QVERIFY(std::abs(numberAt(*stroked(halves(), "erase", relief), Channel::Relief, Vec3::Zero())) < 2e-3);
  }
  void blendingAndSmearingMoveHeights() {
    ChannelValues relief;
    relief[Channel::Relief] = 0.f;
    const auto step = [](const Document& d) {
      return numberAt(d, Channel::Relief, {-3, 0, 0}) - numberAt(d, Channel::Relief, {3, 0, 0});
    };
    const Document before = halves(), blended = *stroked(before, "blend", relief);
    QVERIFY(std::abs(step(before) - 0.6) < 1e-2 && step(blended) < 0.5 && step(blended) > 0);
    // carried to the right the left half's height is found beyond the middle
    const Document smeared = *stroked(before, "smear", relief);
    QVERIFY(numberAt(smeared, Channel::Relief, {3, 0, 0}) > 0.4);
  }
  // 200 passes at 2 % reach the value in every channel: nothing stalls (common practice has 2–3 % a pass).
  void thinFlowDoesNotStall() {
    Document d = withPaintedLayer(test::documentOf(test::plane(60, 90)), "Paint", Stratum::Pigment);
    for (int pass = 0; pass < 200; ++pass) {
      ChannelValues paint;
      paint[Channel::Gloss] = 0.9f;
      paint[Channel::Metal] = 0.3f;
      d = *stroked(d, "lay", paint, 0.02f);
    }
    QVERIFY(std::abs(numberAt(d, Channel::Gloss, Vec3::Zero()) - 0.9) < 5e-3);
    QVERIFY(std::abs(numberAt(d, Channel::Metal, Vec3::Zero()) - 0.3) < 5e-3);
  }
  void whatHasNothingToWorkOnSaysSo() {
    const Document d = withPaintedLayer(test::documentOf(test::plane(20, 90)), "Paint", Stratum::Pigment);
    const auto nothing = stroked(d, "lay", {});
    QVERIFY(!nothing && nothing.error().what.find("lays nothing") != std::string::npos);
    ChannelValues gloss;
    gloss[Channel::Gloss] = 0.5f;
    const auto untouched = stroked(d, "erase", gloss);
    QVERIFY(!untouched && untouched.error().what.find("Paint") != std::string::npos);
    // and an eraser set to all leaves no empty chunks of gloss behind
    const auto erased = stroked(d, "erase", ticked(15));
    QVERIFY(erased && fieldsOf(*erased).written() == ChannelSet(Channel::Color));
  }
  void theGuardHoldsEveryChannelBack() {
    Document d = halves();
    d.guard = openMask(d.surface->size());
    d = *withMaskFilled(d, kGuard, 0, 1);
    QVERIFY(changed(d, *stroked(d, "lay", ticked(15))).empty());
  }
};

JUVENOR_TEST(TestChannelStrokes)
}  // namespace juvenor
#include "test_channel_strokes.moc"
