// A soft disc.
#include "core/brush/tip.h"

namespace juvenor {
namespace {

class Falloff final : public Tip {
 public:
  void find(const Surface& surface, Flood& flood, const Dab& dab, Footprint& out) override {
    flood.find(surface, dab, out);
  }
};

}  // namespace

std::unique_ptr<Tip> makeFalloffTip() {
  return std::make_unique<Falloff>();
}

}  // namespace juvenor
