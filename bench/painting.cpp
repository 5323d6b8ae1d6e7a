// What a dab costs: for the same number of samples under the brush it must not depend on the size of the
// sculpt.
#include <fmt/format.h>

#include "core/document/edits.h"
#include "core/document/paint_stroke.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

struct Cost {
  double perDab, perSample;
};

Cost dabCost(size_t points, const char* ink) {
  const Document& d = ferryman(points);
  StrokeSetting setting;
  setting.ink = inkKind(ink);
  setting.layer = d.activeLayer;
  setting.color = {0.7f, 0.3f, 0.2f};
  setting.brush.radius = 25 * d.surface->spacing;
  setting.brush.flow = 0.02f;
  setting.brush.frontOnly = false;
  setting.brush.pressureSize = setting.brush.pressureFlow = false;
  Flood flood;
  // one short stretch of skin, as a hand stays on it: 16 places near each other on the brow
  std::vector<SurfacePoint> places;
  const Vec3 brow(0, 70, 86);
  std::vector<std::pair<float, uint32_t>> near;
  for (uint32_t s = 0; s < d.surface->size(); ++s)
    if (d.surface->parts[s] == 0) near.emplace_back((d.surface->positions[s] - brow).norm(), s);
  std::sort(near.begin(), near.end());
  for (size_t i = 0; i < 16; ++i) {
    const uint32_t s = near[i * 40].second;
    SurfacePoint p;
    p.position = d.surface->positions[s];
    p.normal = p.toViewer = d.surface->normals[s];
    for (uint32_t t = 0; t < d.surface->triangles.size() && p.triangle == kNone; ++t)
      for (const uint32_t c : d.surface->triangles[t])
        if (c == s) p.triangle = t;
    places.push_back(p);
  }
  // a stroke of 64 dabs, as a hand makes them: thin, so that none finds the skin covered already
  size_t reached = 0, dabs = 0;
  const double seconds = secondsOf(fmt::format("{} dab, {} points", ink, points), [&] {
    auto stroke = PaintStroke::begin(d, setting, flood);
    for (int i = 0; i < 64; ++i) {
      (*stroke)->stroke().lift();
      (*stroke)->stroke().moveTo(places[static_cast<size_t>(i) % places.size()], 1);
      ++dabs;
    }
    reached += (*stroke)->stroke().reached();
  });
  return {seconds / 64, seconds / 64 / (static_cast<double>(reached) / static_cast<double>(dabs))};
}

}  // namespace

void benchPainting() {
  for (const char* ink : {"lay", "blend", "smear"}) {
    const Cost small = dabCost(250'000, ink), middle = dabCost(2'000'000, ink),
               large = dabCost(8'000'000, ink);
    add({fmt::format("{} dab, a sample, 2 M points", ink), fmt::format("{:.1f} ns", middle.perSample * 1e9),
         fmt::format("0.25 M: {:.1f} ns", small.perSample * 1e9),
         fmt::format("{:.2f}", middle.perSample / small.perSample), "≤ 1.2"});
    add({fmt::format("{} dab, a sample, 8 M points", ink), fmt::format("{:.1f} ns", large.perSample * 1e9),
         fmt::format("0.25 M: {:.1f} ns", small.perSample * 1e9),
         fmt::format("{:.2f}", large.perSample / small.perSample), "≤ 1.2"});
  }
}

}  // namespace juvenor::bench
