#include "core/document/step_groups.h"

namespace juvenor {
namespace {

// A pause of so many seconds begins a group, and none lasts longer than the second number.
constexpr int64_t kPause = 180, kLongest = 900;

}  // namespace

uint32_t layerChangedBy(const Document& before, const Document& after) {
  uint32_t found = 0;
  for (const LayerPointer& layer : after.layers) {
    if (layerOf(before, layer->id) == layer) continue;
    if (found != 0) return 0;
    found = layer->id;
  }
  return found;
}

std::vector<StepGroup> groupedSteps(std::span<const StepPointer> steps, std::span<const uint32_t> layers) {
  std::vector<StepGroup> out;
  for (size_t i = 0; i < steps.size(); ++i) {
    const Step& step = *steps[i];
    if (i > 1 && layers[i] != 0 && out.back().layer == layers[i] && step.given.empty() &&
        step.time - steps[i - 1]->time <= kPause && step.time - steps[out.back().first]->time <= kLongest)
      ++out.back().count;
    else
      out.push_back({i, 1, i == 0 ? 0 : layers[i]});
  }
  return out;
}

}  // namespace juvenor
