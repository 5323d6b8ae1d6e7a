// What is being done when the program is killed: a document with work in it, another beside it, journals.
#pragma once

#include <random>

#include "core/document/edits/edits.h"
#include "core/document/store/journal.h"
#include "core/document/store/put_after.h"
#include "support/history_steps.h"
#include "support/made.h"

namespace juvenor::test {

/// Where everything of one round lies.
struct KillFolder {
  std::filesystem::path root;
  std::filesystem::path work() const { return root / "work.juvenor"; }
  std::filesystem::path other() const { return root / "other.juvenor"; }
  std::filesystem::path journals() const { return root / "journals"; }
};

/// One chunk after the other in colours that no packing makes smaller; the step is called `name`.
inline void painted(History& history, const std::string& name, const char* layer, uint32_t seed) {
  const Document& d = history.document();
  const auto at = std::ranges::find(d.layers, std::string_view(layer),
                                    [](const LayerPointer& l) { return std::string_view(l->name); });
  ColorField field = *(*at)->source->painted();
  std::mt19937 random(seed);
  for (uint32_t c = 0; c < field.chunkCount(); ++c) {
    auto chunk = field.writable(c);
    for (auto& plane : chunk->plane)
      for (uint16_t& v : plane) v = static_cast<uint16_t>(random());
    // premultiplied colours are never above their alpha
    for (size_t i = 0; i < kChunkSize; ++i) chunk->plane[3][i] = 65535;
    field.setChunk(c, std::move(chunk));
  }
  history.push(*withPainted(d, (*at)->id, std::move(field)), name);
}

inline Outcome save(Store& store, const History& history) {
  return store.write(stepsOf(history), currentOf(history));
}

}  // namespace juvenor::test
