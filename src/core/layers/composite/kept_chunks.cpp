#include "core/layers/composite/kept_chunks.h"

namespace juvenor {
namespace {

bool sameField(const std::optional<ScalarField>& a, const std::optional<ScalarField>& b) {
  if (a.has_value() != b.has_value()) return false;
  for (size_t i = 0; a && i < a->chunkCount(); ++i)
    if (a->chunk(i) != b->chunk(i)) return false;
  return true;
}

// Whether a layer holds the same by itself in the same place: how much of it shows may differ.
bool holdsTheSame(const PreparedLayer& a, const PreparedLayer& b) {
  const Layer &was = *a.layer, &is = *b.layer;
  return was.id == is.id && a.source == b.source && a.maps == b.maps && a.steps == b.steps &&
         was.maskOff == is.maskOff && was.maskFrom == is.maskFrom && was.group == is.group &&
         was.clipped == is.clipped && was.stratum == is.stratum && sameField(was.mask, is.mask);
}

}  // namespace

bool KeptChunks::holdsFor(const PreparedStack& stack) {
  for (const PreparedLayer& p : stack)
    if (p.layer->maskFrom != 0) return false;
  return true;
}

uint32_t tunedLayer(const PreparedStack& before, const PreparedStack& now) {
  if (before.size() != now.size() || !KeptChunks::holdsFor(now)) return 0;
  uint32_t tuned = 0;
  for (size_t i = 0; i < now.size(); ++i) {
    if (!holdsTheSame(before[i], now[i])) return 0;
    if (before[i].layer == now[i].layer) continue;
    if (tuned != 0) return 0;
    tuned = now[i].layer->id;
  }
  return tuned;
}

}  // namespace juvenor
