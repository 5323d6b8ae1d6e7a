// The blend modes of the skin model for whole chunks: lane by lane what the table says of one colour,
// whatever stands beside it.
#include <numeric>

#include "core/layers/composite/tint_chunk.h"
#include "core/seeded.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

struct Given {
  std::unique_ptr<ColorChunk> backdrop = std::make_unique<ColorChunk>();
  std::unique_ptr<ColorChunk> source = std::make_unique<ColorChunk>();
  std::unique_ptr<ScalarChunk> mask = std::make_unique<ScalarChunk>();
};

uint16_t part16(float part) {
  return static_cast<uint16_t>(65535 * part + 0.5f);
}

// Colours of skin and of none, whole and thin, under any amount; long stretches where nothing is laid.
Given anything(uint64_t seed) {
  Given out;
  Draws draws(seed);
  for (size_t i = 0; i < kChunkSize; ++i) {
    const bool skin = draws.unit() < 0.6f, thin = draws.unit() < 0.3f, laid = i / 64 % 5 != 2;
    const float alpha = thin ? 0.05f + 0.9f * draws.unit() : 1.f, light = 0.15f + 0.85f * draws.unit();
    const float green = skin ? 0.6f + 0.25f * draws.unit() : draws.unit(),
                blue = skin ? 0.45f + 0.35f * draws.unit() : draws.unit();
    out.backdrop->plane[0][i] = part16(alpha * light);
    out.backdrop->plane[1][i] = part16(alpha * light * green);
    out.backdrop->plane[2][i] = part16(alpha * light * blue);
    out.backdrop->plane[3][i] = part16(alpha);
    out.source->plane[3][i] = laid ? part16(draws.unit()) : 0;
    out.mask->plane[0][i] = part16(draws.unit());
  }
  return out;
}

std::array<uint16_t, 4> at(const ColorChunk& chunk, size_t i) {
  return {chunk.plane[0][i], chunk.plane[1][i], chunk.plane[2][i], chunk.plane[3][i]};
}

BlendMode modeOf(int matter, bool lift) {
  return static_cast<BlendMode>(static_cast<int>(BlendMode::Blood) + matter + (lift ? 3 : 0));
}

// One layer laid.
void lay(BlendMode mode, ColorChunk& backdrop, const ColorChunk& source, const ScalarChunk* mask,
         float opacity) {
  TintAmounts amounts{mode};
  addTint(amounts, source, mask, opacity);
  tintChunk(amounts, backdrop);
}

void tables() {
  QTest::addColumn<int>("matter");
  QTest::addColumn<bool>("lift");
  for (int matter = 0; matter < 3; ++matter)
    for (const bool lift : {false, true})
      QTest::addRow("%s%s", std::array{"blood", "melanin", "yellow"}[static_cast<size_t>(matter)],
                    lift ? " lifted" : "")
          << matter << lift;
}

}  // namespace

class TestTintChunk : public QObject {
  Q_OBJECT
 private slots:
  void lanesSayWhatTheTableSays_data() { tables(); }
  void lanesSayWhatTheTableSays() {
    QFETCH(int, matter);
    QFETCH(bool, lift);
    const SkinTint& tint = SkinTint::of(static_cast<SkinMatter>(matter), lift);
    const Given given = anything(11);
    constexpr float kOpacity = 0.7f;
    ColorChunk out = *given.backdrop;
    lay(modeOf(matter, lift), out, *given.source, given.mask.get(), kOpacity);
    float worst = 0;
    for (size_t i = 0; i < kChunkSize; ++i) {
      const auto before = at(*given.backdrop, i), after = at(out, i);
      QCOMPARE(after[3], before[3]);
      const auto alpha = static_cast<float>(before[3]);
      const auto straight = [&](size_t c) { return static_cast<float>(before[c]) / alpha; };
      const float amount = static_cast<float>(given.source->plane[3][i]) / 65535 *
                           static_cast<float>(given.mask->plane[0][i]) / 65535 * kOpacity;
      const EncodedColor wanted = tint({straight(0), straight(1), straight(2)}, amount);
      for (size_t c = 0; c < 3; ++c)
        worst = std::max(worst, std::abs(static_cast<float>(after[c]) / alpha - (&wanted.r)[c]));
    }
    QVERIFY2(worst < 1.5e-3f, qPrintable(QString::number(static_cast<double>(worst))));
  }
  // Where nothing is laid, and where there is no skin, every bit stays.
  void whatIsNotTouchedStays() {
    Given given = anything(12);
    for (size_t i = 1024; i < 2048; ++i)
      for (auto& plane : given.backdrop->plane) plane[i] = 0;
    ColorChunk out = *given.backdrop;
    lay(BlendMode::Blood, out, *given.source, nullptr, 1);
    size_t moved = 0;
    for (size_t i = 0; i < kChunkSize; ++i) {
      const bool same = at(out, i) == at(*given.backdrop, i);
      if (given.source->plane[3][i] == 0 || given.backdrop->plane[3][i] == 0) QVERIFY(same);
      moved += !same;
    }
    QVERIFY(moved > kChunkSize / 2);
    ColorChunk none = *given.backdrop;
    lay(BlendMode::LiftMelanin, none, *given.source, nullptr, 0);
    for (size_t i = 0; i < kChunkSize; ++i) QVERIFY(at(none, i) == at(*given.backdrop, i));
  }
  // A sample comes out the same wherever in the chunk it stands and whatever stands beside it. Beside whole
  // skin its own thinness is worked out another way, to the last bit.
  void neighboursDoNotMatter() {
    const Given given = anything(13);
    std::vector<size_t> order(kChunkSize);
    std::iota(order.begin(), order.end(), size_t{0});
    std::mt19937 random(5);
    std::shuffle(order.begin(), order.end(), random);
    Given shuffled;
    for (size_t i = 0; i < kChunkSize; ++i) {
      for (size_t c = 0; c < 4; ++c) shuffled.backdrop->plane[c][i] = given.backdrop->plane[c][order[i]];
      shuffled.source->plane[3][i] = given.source->plane[3][order[i]];
    }
    ColorChunk out = *given.backdrop, other = *shuffled.backdrop;
    lay(BlendMode::Melanin, out, *given.source, nullptr, 0.9f);
    lay(BlendMode::Melanin, other, *shuffled.source, nullptr, 0.9f);
    for (size_t i = 0; i < kChunkSize; ++i)
      for (size_t c = 0; c < 4; ++c) QVERIFY(std::abs(other.plane[c][i] - out.plane[c][order[i]]) <= 2);
  }
};

JUVENOR_TEST(TestTintChunk)
}  // namespace juvenor
#include "test_tint_chunk.moc"
