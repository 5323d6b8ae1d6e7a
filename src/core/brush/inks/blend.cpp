// Softens colours among neighbours on the surface. The footprint, which is one patch of skin, is laid flat on
// the plane of the dab and averaged in a grid of cells a sixth of the radius wide, smoothed once with the
// tent 1-2-1; each sample then moves toward the grid's value there by flow times weight. So the softness
// follows the brush and not the density of samples, and large brushes cost no more per sample than small
// ones. Averages are taken premultiplied, so that bare places bring no colour of their own.
#include <cmath>

#include "core/brush/ink.h"

namespace juvenor {
namespace {

constexpr int kCells = 14;  // 12 across the dab and a border

struct Grid {
  std::array<std::array<float, 5>, kCells * kCells> cell{};  // four planes and the weight

  std::array<float, 5>& at(int x, int y) { return cell[static_cast<size_t>(y * kCells + x)]; }
};

// A grid position split into the four cells around it.
struct Place {
  int x, y;
  float fx, fy;
};

Place placeOf(const Vec2& p) {
  const float gx = std::clamp(p.x() * 6.f + 6.5f, 0.f, kCells - 1.001f);
  const float gy = std::clamp(p.y() * 6.f + 6.5f, 0.f, kCells - 1.001f);
  const int x = static_cast<int>(gx), y = static_cast<int>(gy);
  return {x, y, gx - static_cast<float>(x), gy - static_cast<float>(y)};
}

template <class F>
void aroundPlace(const Place& p, F&& f) {
  f(p.x, p.y, (1 - p.fx) * (1 - p.fy));
  f(p.x + 1, p.y, p.fx * (1 - p.fy));
  f(p.x, p.y + 1, (1 - p.fx) * p.fy);
  f(p.x + 1, p.y + 1, p.fx * p.fy);
}

Grid smoothed(Grid& g) {
  Grid out;
  for (int y = 0; y < kCells; ++y)
    for (int x = 0; x < kCells; ++x)
      for (int dy = -1; dy <= 1; ++dy)
        for (int dx = -1; dx <= 1; ++dx) {
          const int u = x + dx, v = y + dy;
          if (u < 0 || v < 0 || u >= kCells || v >= kCells) continue;
          const auto k = static_cast<float>((2 - std::abs(dx)) * (2 - std::abs(dy)));
          for (size_t c = 0; c < 5; ++c) out.at(x, y)[c] += k * g.at(u, v)[c];
        }
  return out;
}

class Blend final : public Ink {
 public:
  explicit Blend(const InkSetting& setting) : dither_(setting.dither) {}

  void apply(const Surface& surface, const Dab& dab, const Footprint& footprint,
             WorkingField& field) override {
    const size_t n = footprint.samples.size();
    const int planes = field.planes();
    const Vec3 u = dab.at.normal.unitOrthogonal() / dab.radius, v = dab.at.normal.cross(u);
    places_.resize(n);
    Grid grid;
    for (size_t k = 0; k < n; ++k) {
      const uint32_t s = footprint.samples[k];
      const Vec3 offset = surface.positions[s] - dab.at.position;
      places_[k] = placeOf({offset.dot(u), offset.dot(v)});
      const float area = std::max(surface.areas[s], 1e-20f);
      aroundPlace(places_[k], [&](int x, int y, float w) {
        auto& cell = grid.at(x, y);
        for (int p = 0; p < planes; ++p) cell[static_cast<size_t>(p)] += w * area * field.value(s, p);
        cell[4] += w * area;
      });
    }
    Grid soft = smoothed(grid);
    for (size_t k = 0; k < n; ++k)
      move(dab, footprint.samples[k], footprint.weights[k], places_[k], soft, field);
  }

 private:
  void move(const Dab& dab, uint32_t s, float weight, const Place& place, Grid& soft,
            WorkingField& field) const {
    std::array<float, 5> sum{};
    aroundPlace(place, [&](int x, int y, float w) {
      for (size_t c = 0; c < 5; ++c) sum[c] += w * soft.at(x, y)[c];
    });
    if (sum[4] <= 0) return;
    const WorkingField::Page& page = field.page(s);
    const size_t i = s % kChunkSize;
    const float amount = std::min(dab.flow, dab.opacity) * weight;
    for (int p = 0; p < field.planes(); ++p) {
      const float from = page.now[p][i], to = sum[static_cast<size_t>(p)] / sum[4];
      page.now[p][i] = static_cast<uint16_t>(std::clamp(from + (to - from) * amount + dither_, 0.f, 65535.f));
    }
  }

  std::vector<Place> places_;
  float dither_;
};

}  // namespace

std::unique_ptr<Ink> makeBlendInk(const InkSetting& setting) {
  return std::make_unique<Blend>(setting);
}

}  // namespace juvenor
