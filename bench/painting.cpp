// What a dab costs: for the same number of samples under the brush it must not depend on the size of the
// sculpt.
#include <fmt/format.h>

#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

// A stroke of 64 dabs on one short stretch of skin, as a hand stays on it: 16 places near each other on the
// brow.
class Stretch {
 public:
  Stretch(size_t points, const char* ink) : document_(ferryman(points)) {
    const Surface& surface = *document_.surface;
    setting_.ink = inkKind(ink);
    setting_.layer = document_.activeLayer;
    setting_.paint.color = {0.7f, 0.3f, 0.2f};
    setting_.brush.radius = 25 * surface.spacing;
    setting_.brush.flow = 0.02f;  // thin, so that no dab finds the skin covered already
    setting_.brush.frontOnly = false;
    setting_.brush.pressureSize = setting_.brush.pressureFlow = false;
    const Vec3 brow(0, 70, 86);
    std::vector<std::pair<float, uint32_t>> near;
    for (uint32_t s = 0; s < surface.size(); ++s)
      if (surface.parts[s] == 0) near.emplace_back((surface.positions[s] - brow).norm(), s);
    std::sort(near.begin(), near.end());
    for (size_t i = 0; i < 16; ++i) places_.push_back(placeOn(near[i * 40].second));
  }

  void stroke() {
    auto stroke = PaintStroke::begin(document_, setting_, flood_);
    for (size_t i = 0; i < kDabs; ++i) {
      (*stroke)->stroke().lift();
      (*stroke)->stroke().moveTo(places_[i % places_.size()], 1);
    }
    reached_ = (*stroke)->stroke().reached();
  }
  /// Seconds a sample under a dab, the least of the times it was measured.
  void measure(const char* ink) {
    const double seconds = secondsOf(
        fmt::format("{} dab, {} points", ink, document_.surface->size()), [&] { stroke(); }, 5);
    least_ = std::min(least_, seconds / static_cast<double>(reached_));
  }
  double least() const { return least_; }

 private:
  static constexpr size_t kDabs = 64;

  SurfacePoint placeOn(uint32_t sample) const {
    const Surface& surface = *document_.surface;
    SurfacePoint out;
    out.position = surface.positions[sample];
    out.normal = out.toViewer = surface.normals[sample];
    const auto around = std::ranges::find_if(
        surface.triangles, [&](const auto& corners) { return std::ranges::count(corners, sample) > 0; });
    out.triangle = static_cast<uint32_t>(around - surface.triangles.begin());
    return out;
  }

  const Document& document_;
  StrokeSetting setting_;
  std::vector<SurfacePoint> places_;
  Flood flood_;
  size_t reached_ = 1;
  double least_ = 1e9;
};

}  // namespace

void benchPainting() {
  double lay = 0;
  for (const char* ink : {"lay", "blend", "smear"}) {
    Stretch small(250'000, ink), middle(2'000'000, ink), large(8'000'000, ink);
    // in turns, so that what else the machine does meets all of them
    for (int round = 0; round < 5; ++round)
      for (Stretch* s : {&small, &middle, &large}) s->measure(ink);
    const auto row = [&](const char* points, const Stretch& s) {
      add({fmt::format("{} dab, a sample, {} points", ink, points), fmt::format("{:.1f} ns", s.least() * 1e9),
           fmt::format("0.25 M: {:.1f} ns", small.least() * 1e9),
           fmt::format("{:.2f}", s.least() / small.least()), "≤ 1.2"});
    };
    row("2 M", middle);
    row("8 M", large);
    if (std::string_view(ink) == "lay") lay = middle.least();
    if (std::string_view(ink) == "blend")
      add({"blend dab, a sample, 2 M points", fmt::format("{:.1f} ns", middle.least() * 1e9),
           fmt::format("lay dab: {:.1f} ns", lay * 1e9), fmt::format("{:.1f}", middle.least() / lay), "≤ 3"});
  }
}

}  // namespace juvenor::bench
