// Carries colour along the stroke: the brush holds the patch it last stood on, and each dab lays that patch
// down at its new place by flow times weight and takes up the mixture again, as a finger does in wet paint.
// The patch travels with the dab's plane, turned along with the skin, so that it follows the form.
#include "core/brush/patch_grid.h"

namespace juvenor {
namespace {

class Smear final : public Ink {
 public:
  explicit Smear(const InkSetting& setting) : dither_(setting.dither) {}

  void apply(const Surface& surface, const Dab& dab, const Footprint& footprint,
             WorkingField& field) override {
    Held& held = heldBy(dab);
    const size_t n = footprint.samples.size();
    const Vec3 normal = dab.at.normal;
    const Eigen::Quaternionf turn =
        held.full ? turnBetween<float>(held.normal, normal) : Eigen::Quaternionf::Identity();
    const Vec3 u = held.full ? Vec3(turn * held.u) : Vec3(normal.unitOrthogonal()), v = normal.cross(u);
    places_.resize(n);
    const float strength = std::min(dab.flow, dab.opacity);
    PatchGrid taken;
    for (size_t k = 0; k < n; ++k) {
      const uint32_t s = footprint.samples[k];
      const Vec3 offset = (surface.positions[s] - dab.at.position) / dab.radius;
      places_[k] = PatchGrid::placeOf({offset.dot(u), offset.dot(v)});
      if (held.full) held.grid.drawToward(places_[k], field, s, strength * footprint.weights[k], dither_);
      taken.add(places_[k], field, s, std::max(surface.areas[s], 1e-20f));
    }
    if (held.full) keepSome(held.grid, taken);
    held = {dab.at.position, normal, u, taken, n > 0};
  }

 private:
  struct Held {
    Vec3 at, normal, u;
    PatchGrid grid;
    bool full = false;
  };

  // Mirrored dabs take turns; each goes on with the patch that was laid nearest to it.
  Held& heldBy(const Dab& dab) {
    Held* nearest = nullptr;
    for (Held& h : held_)
      if (!nearest || (h.at - dab.at.position).squaredNorm() < (nearest->at - dab.at.position).squaredNorm())
        nearest = &h;
    if (nearest && (nearest->at - dab.at.position).norm() < 2 * dab.radius) return *nearest;
    held_.push_back({dab.at.position, dab.at.normal, Vec3::UnitX(), {}, false});
    return held_.back();
  }

  // Most of what the brush holds stays on it from dab to dab, and all of it where it meets no skin: a rim
  // that hangs over an edge loses no colour.
  static void keepSome(PatchGrid& before, PatchGrid& taken) {
    constexpr float kKept = 0.75f;
    for (int y = 0; y < PatchGrid::kCells; ++y)
      for (int x = 0; x < PatchGrid::kCells; ++x) {
        PatchGrid::Cell &now = taken.cell(x, y), &held = before.cell(x, y);
        if (now[4] <= 0) now = held;
        if (held[4] <= 0) continue;
        for (size_t c = 0; c < 4; ++c) now[c] += kKept * (held[c] / held[4] * now[4] - now[c]);
      }
  }

  std::vector<Held> held_;
  std::vector<PatchGrid::Place> places_;
  float dither_;
};

}  // namespace

std::unique_ptr<Ink> makeSmearInk(const InkSetting& setting) {
  return std::make_unique<Smear>(setting);
}

}  // namespace juvenor
