// What is done to masks and stays live: each step against a closed form, alone and in a row, chunk by chunk
// as on the whole, and what is kept against what is worked out anew.
#include "core/document/edits/edits.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

MaskStep step(MaskStep::Way way, float size, float amount = 0.5f) {
  return {way, size, amount, 3};
}

// A plane whose mask is `valueOf` each place.
template <class ValueOf>
Document masked(ValueOf valueOf, int quads = 160) {
  Document d = test::documentOf(test::plane(quads, 10));
  d = withFillLayer(d, "Fill", Stratum::Pigment, {0.2f, 0.4f, 0.6f});
  ScalarField mask = openMask(d.surface->size());
  for (size_t c = 0; c < mask.chunkCount(); ++c) {
    auto chunk = mask.writable(c);
    for (size_t i = 0; i < std::min(kChunkSize, mask.size() - c * kChunkSize); ++i)
      chunk->plane[0][i] = to16(valueOf(d.surface->positions[c * kChunkSize + i]));
    mask.setChunk(c, std::move(chunk));
  }
  return *withMaskField(d, d.activeLayer, std::move(mask));
}

float left(const Vec3& p) {
  return p.x() < 0 ? 1.f : 0.f;
}

// The mask that shows, 0…1 at each sample.
std::vector<float> shown(const Document& d) {
  const PreparedStack stack = linked(*prepared(d.layers, *d.maps), d.bare, d.surface->size());
  const ScalarField mask = wholeMask(stack.back(), d.surface->size());
  std::vector<float> out;
  for (size_t s = 0; s < mask.size(); ++s) out.push_back(from16(mask.at(s)[0]));
  return out;
}

Document with(const Document& d, MaskSteps steps) {
  return *withMaskSteps(d, d.activeLayer, std::move(steps));
}

// The mean of |mask − expected(x)| near the edge.
template <class Expected>
double errorOf(const Document& d, Expected expected) {
  const auto values = shown(d);
  double error = 0, count = 0;
  for (size_t s = 0; s < values.size(); ++s) {
    const Vec3& p = d.surface->positions[s];
    if (std::abs(p.y()) > 3 || std::abs(p.x()) > 3) continue;
    error += static_cast<double>(std::abs(values[s] - expected(p.x())));
    count += 1;
  }
  return error / count;
}

// Where the edge of `left` lies: half a step before 0, for samples there are black.
constexpr float kEdge = -0.5f * 10 / 160;

}  // namespace

class TestMaskSteps : public QObject {
  Q_OBJECT
 private slots:
  void meltsAndSharpens() {
    const Document d = masked(left);
    const auto bell = [](float x) { return 0.5f * std::erfc((x - kEdge) / (0.25f * 1.41421356f)); };
    const double soft = errorOf(with(d, {step(MaskStep::Way::Melt, 0.25f)}), bell);
    QVERIFY2(soft < 0.01, qPrintable(QString::number(soft)));
    // sharpened once more by the same: v + a (v − melted v), melted twice being a bell √2 as wide
    const auto sharp = [&](float x) {
      const float wider = 0.5f * std::erfc((x - kEdge) / (0.25f * 2));
      return std::clamp(bell(x) + 2 * (bell(x) - wider), 0.f, 1.f);
    };
    const double crisp =
        errorOf(with(d, {step(MaskStep::Way::Melt, 0.25f), step(MaskStep::Way::Sharpen, 0.25f, 2)}), sharp);
    QVERIFY2(crisp < 0.015, qPrintable(QString::number(crisp)));
  }

  void growsAndShrinksByTheWay() {
    const Document d = masked(left);
    for (const float way : {0.7f, -1.1f}) {
      const auto kind = way > 0 ? MaskStep::Way::Grow : MaskStep::Way::Shrink;
      const double error =
          errorOf(with(d, {step(kind, std::abs(way))}), [&](float x) { return x < kEdge + way ? 1.f : 0.f; });
      QVERIFY2(error < 0.006, qPrintable(QString::number(error)));
      // live, chunk by chunk, as once and for good
      const auto live = shown(with(d, {step(kind, std::abs(way))}));
      const auto once = shown(*withGrownMask(d, d.activeLayer, way));
      for (size_t s = 0; s < live.size(); ++s) QVERIFY(std::abs(live[s] - once[s]) < 0.01f);
    }
  }

  void contrastIsThatOfTerms() {
    const auto ramp = [](const Vec3& p) { return std::clamp(0.5f + 0.2f * p.x(), 0.f, 1.f); };
    const double error = errorOf(with(masked(ramp), {step(MaskStep::Way::Contrast, 1, 0.5f)}),
                                 [](float x) { return std::clamp(0.5f + 0.6f * x, 0.f, 1.f); });
    QVERIFY2(error < 0.001, qPrintable(QString::number(error)));
  }

  // Where three tenths show three tenths of the skin are shown, nearly all of it wholly or not at all; what
  // is all shown or hidden stays so.
  void breaksUpIntoAsMuchAsWasShown() {
    for (const float share : {0.3f, 0.7f}) {
      const Document d = masked([&](const Vec3& p) { return p.x() < -4 ? 0.f : p.x() > 4 ? 1.f : share; });
      const auto values = shown(with(d, {step(MaskStep::Way::BreakUp, 0.3f, 1)}));
      double sum = 0, count = 0, between = 0;
      for (size_t s = 0; s < values.size(); ++s) {
        const float x = d.surface->positions[s].x();
        if (std::abs(x) > 4) {
          QCOMPARE(values[s], x < 0 ? 0.f : 1.f);
          continue;
        }
        sum += static_cast<double>(values[s]);
        between += values[s] > 0.02f && values[s] < 0.98f;
        count += 1;
      }
      QVERIFY2(std::abs(sum / count - static_cast<double>(share)) < 0.06,
               qPrintable(QString::number(sum / count)));
      QVERIFY2(between / count < 0.25, qPrintable(QString::number(between / count)));
    }
  }

  // Edges fray whichever way they run, by no more than the pull.
  void fraysEdges() {
    for (const int axis : {0, 1}) {
      const auto half = [&](const Vec3& p) { return p[axis] < 0 ? 1.f : 0.f; };
      const Document d = masked(half);
      const auto values = shown(with(d, {step(MaskStep::Way::Painterly, 0.8f, 0.2f)}));
      size_t changed = 0;
      for (size_t s = 0; s < values.size(); ++s) {
        if (std::abs(values[s] - half(d.surface->positions[s])) < 0.01f) continue;
        ++changed;
        QVERIFY(std::abs(d.surface->positions[s][axis]) < 1);
      }
      QVERIFY(changed > values.size() / 200);
    }
  }

  void theOrderCounts() {
    const Document d = masked(left);
    const auto melted = step(MaskStep::Way::Melt, 0.25f), hard = step(MaskStep::Way::Contrast, 1, 0.9f);
    QVERIFY(shown(with(d, {melted, hard})) != shown(with(d, {hard, melted})));
    // a hard edge stays as it is under contrast, so the rest is melting
    QVERIFY(shown(with(d, {hard, melted})) == shown(with(d, {melted})));
    QVERIFY(shown(with(with(d, {melted, hard}), {})) == shown(d));
  }

  // A stroke on the mask is felt as far as the steps look, and what is kept is what is fresh.
  void aStrokeOnTheMaskIsFeltAround() {
    Document d =
        with(masked(left, 500), {step(MaskStep::Way::Melt, 0.06f), step(MaskStep::Way::Grow, 0.08f)});
    const size_t samples = d.surface->size();
    const PreparedStack stack = linked(*prepared(d.layers, *d.maps), d.bare, samples);
    ChannelFields kept = skinOf(stack, samples, d.bare);
    ScalarField mask = *d.layers.back()->mask;
    auto chunk = mask.writable(7);
    chunk->plane[0].fill(30'000);
    mask.setChunk(7, std::move(chunk));
    const Document next = *withMaskField(d, d.activeLayer, mask);
    const PreparedStack after = linked(*prepared(next.layers, *next.maps, {}, stack), d.bare, samples, stack);
    const auto changed = changedChunks(stack, after, samples);
    QVERIFY(changed == feltChunks(after, d.activeLayer, std::array{7u}, samples));
    QVERIFY(changed.size() > 1 && changed.size() < chunkCount(samples));
    updateComposite(kept, after, d.bare, changed, Channel::Color);
    QVERIFY(test::sameValues(kept, *skinOf(next.layers, *next.maps, next.bare)));
  }

  void comeBackFromFilesAndRefuseWhatIsWrong() {
    MaskSteps steps;
    for (size_t w = 0; w < maskStepFacts().size(); ++w)
      steps.push_back({static_cast<MaskStep::Way>(w), 0.5f, maskStepFacts()[w].most, 9});
    const auto again = maskStepsFrom(toJson(steps));
    QVERIFY(again && toJson(*again) == toJson(steps) && again->size() == steps.size());
    using nlohmann::json;
    const auto wrong = [](const json& list) {
      return QString::fromStdString(maskStepsFrom(list).error().what);
    };
    QVERIFY(wrong(json::array({{{"way", "fold"}}})).contains("fold"));
    QVERIFY(wrong(json::array({{{"way", "melt"}}, {{"way", "grow"}, {"size", "far"}}})).contains("step 2"));
    QVERIFY(wrong(json::array({{{"way", "melt"}, {"amount", 1}}})).contains("amount"));
    QVERIFY(!maskStepsFrom(json::array({json::array()})));
    QVERIFY(!maskStepsFrom(json(std::vector<json>(17, {{"way", "melt"}}))));
  }
};

JUVENOR_TEST(TestMaskSteps)
}  // namespace juvenor
#include "test_mask_steps.moc"
