// Which layers something was worked out of, to know later whether it still holds; they are known again, not
// kept: work that is closed must not live on in a page that once looked at it.
#pragma once

#include <algorithm>
#include <memory>
#include <vector>

#include "core/layers/layer.h"

namespace juvenor::app {

class SeenLayers {
 public:
  SeenLayers() = default;
  explicit SeenLayers(const LayerStack& layers) : layers_(layers.begin(), layers.end()) {}

  bool are(const LayerStack& layers) const {
    return std::ranges::equal(layers_, layers,
                              [](const std::weak_ptr<const Layer>& seen, const LayerPointer& layer) {
                                return seen.lock() == layer;
                              });
  }

 private:
  std::vector<std::weak_ptr<const Layer>> layers_;
};

}  // namespace juvenor::app
