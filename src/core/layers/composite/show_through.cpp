#include "core/layers/composite/show_through.h"

#include <atomic>

#include "core/parallel.h"

namespace juvenor {
namespace {

// Covers below this are a breath that nobody sees.
constexpr uint16_t kBreath = 655;

bool lies(const PreparedLayer& p) {
  return p.source && contributes(*p.layer) && p.source->channels().has(Channel::Color);
}

// What a layer covers of a chunk, 0…65535 each.
void coverOf(const PreparedLayer& p, const ColorChunk& own, size_t index, ScalarChunk& out) {
  ScalarChunk scratch;
  const ScalarChunk* mask = maskChunk(p, index, scratch);
  const float amount = p.layer->opacity * p.layer->strengths[Channel::Color];
  for (size_t i = 0; i < kChunkSize; ++i) {
    float a = amount * static_cast<float>(own.plane[3][i]);
    if (mask) a *= static_cast<float>(mask->plane[0][i]) / 65535.f;
    out.plane[0][i] = static_cast<uint16_t>(std::min(65535.f, a + 0.5f));
  }
}

// The covers of both in a chunk; false where the upper one has none.
struct Covers {
  ScalarChunk upper, lower;
  bool hasLower = false;
};
bool coversIn(const PreparedStack& stack, size_t upper, size_t lower, const EncodedColor& bare, size_t index,
              Covers& out) {
  bool any = false;
  out.hasLower = false;
  const PreparedLayer *top = &stack[upper], *under = lower < upper ? &stack[lower] : nullptr;
  eachOwnChunk(stack, bare, index, [&](const PreparedLayer& p, const ColorField::Pointer& own) {
    if (&p == top && own) {
      coverOf(p, *own, index, out.upper);
      any = true;
    }
    if (&p == under && own) {
      coverOf(p, *own, index, out.lower);
      out.hasLower = true;
    }
  });
  return any;
}

struct Sums {
  double all = 0, covered = 0, weight = 0, shows = 0, meets = 0;
  void add(const Sums& o) {
    all += o.all;
    covered += o.covered;
    weight += o.weight;
    shows += o.shows;
    meets += o.meets;
  }
};

Sums summed(const Covers& covers, bool any, const Surface& surface, size_t index, bool overLower) {
  Sums out;
  const size_t first = index * kChunkSize, end = std::min(surface.size(), first + kChunkSize);
  for (size_t s = first; s < end; ++s) {
    const auto area = static_cast<double>(surface.areas[s]);
    out.all += area;
    const uint16_t upper = any ? covers.upper.plane[0][s - first] : uint16_t{0};
    if (upper < kBreath) continue;
    out.covered += area;
    const double below = !overLower        ? 1.0
                         : covers.hasLower ? covers.lower.plane[0][s - first] / 65535.0
                                           : 0.0;
    out.weight += area * below;
    out.shows += area * below * (1 - upper / 65535.0);
    if (below > 0.01) out.meets += area;
  }
  return out;
}

}  // namespace

Result<ShowThrough> showThrough(const PreparedStack& stack, uint32_t layer, const Surface& surface,
                                const EncodedColor& bare, const Progress& progress) {
  const auto found = std::ranges::find(stack, layer, [](const PreparedLayer& p) { return p.layer->id; });
  if (found == stack.end() || !lies(*found)) return Error{"the layer shows no colour"};
  const auto upper = static_cast<size_t>(found - stack.begin());
  size_t lower = upper;
  for (size_t i = upper; i-- > 0 && lower == upper;)
    if (lies(stack[i]) && stack[i].layer->stratum == found->layer->stratum) lower = i;
  const size_t chunks = chunkCount(surface.size());
  ScalarField field(surface.size(), {65535});
  field.makeRoom();
  std::vector<Sums> over(chunks), whole(chunks);
  std::atomic<size_t> done = 0;
  std::atomic<bool> stopped = false;
  parallel(
      chunks,
      [&](size_t c) {
        if (stopped) return;
        auto covers = std::make_unique<Covers>();
        const bool any = coversIn(stack, upper, lower, bare, c, *covers);
        over[c] = summed(*covers, any, surface, c, lower != upper);
        whole[c] = summed(*covers, any, surface, c, false);
        if (any) {
          auto shows = std::make_shared<ScalarChunk>();
          for (size_t i = 0; i < kChunkSize; ++i)
            shows->plane[0][i] = static_cast<uint16_t>(65535 - covers->upper.plane[0][i]);
          field.setChunk(c, std::move(shows));
        }
        if (!report(progress, static_cast<float>(++done) / static_cast<float>(chunks))) stopped = true;
      },
      1);
  if (stopped) return cancelledError();
  Sums own, all;
  for (size_t c = 0; c < chunks; ++c) {
    own.add(over[c]);
    all.add(whole[c]);
  }
  ShowThrough out;
  out.covered = all.all > 0 ? static_cast<float>(all.covered / all.all) : 0;
  // a layer below that hardly meets this one tells nothing
  const bool meets = lower != upper && own.meets > 0.02 * all.covered && own.weight > 0;
  const Sums& looked = meets ? own : all;
  out.shows = looked.weight > 0 ? static_cast<float>(looked.shows / looked.weight) : 1;
  out.below = meets ? stack[lower].layer->id : 0;
  out.field = std::make_shared<const ScalarField>(std::move(field));
  return out;
}

}  // namespace juvenor
