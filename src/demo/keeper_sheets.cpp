// The ferry keeper's paint: what skin tone and zones leave out. Lips, lids, and what lies under the hair.
#include "core/color/skin_tone.h"
#include "core/noise/noise.h"
#include "demo/keeper.h"
#include "demo/sheets.h"

namespace juvenor::demo {
namespace {

// Painted ones: bristles that lean outward, the more the farther out.
float bristledBrow(const Vec3& p) {
  const float lean = 0.5f + 0.03f * p.x();
  const Vec3 hair((p.x() - lean * (p.y() - 78)) / 0.8f, (p.y() + 0.3f * p.x()) / 6, p.z() / 9);
  return keeper::browAt(p) * (0.35f + 0.65f * smoothstep(-0.3f, 0.2f, perlin(hair, 153)));
}

// A shadow of hair below the skin, and the bristles themselves.
Tint stubble(const Vec3& point, const Vec3&, uint32_t part) {
  if (part != 0) return {};
  const Vec3 p = folded(point);
  const float grows = std::max(keeper::beardAt(p), 0.9f * keeper::hairAt(p));
  const float bristle = smoothstep(0.40f, 0.20f, worley(point / 1.25f, 155).first);
  return {mixed(hex("#5e5d5c"), hex("#35312f"), bristle), grows * (0.36f + 0.38f * bristle)};
}

Tint brows(const Vec3& point, const Vec3&, uint32_t part) {
  const Vec3 p = folded(point);
  return {mixed(hex("#3d3128"), hex("#8a8178"), smoothstep(0.1f, 0.5f, perlin(point / 2, 156))),
          part == 0 ? 0.85f * bristledBrow(p) : 0};
}

// Dark at the root of the lashes, pink along the edges and in the inner corner.
Tint lidEdges(const Vec3& point, const Vec3&, uint32_t part) {
  const Vec3 p = folded(point), q = p - keeper::kEye;
  if (part != 0 || q.norm() > keeper::kEyeRadius + 4.5f || q.z() < 0) return {};
  const float open = keeper::fissure(p);
  const float lash = smoothstep(1.7f, 1.2f, open) * smoothstep(0.6f, 0.9f, open) * (q.y() > 0 ? 0.9f : 0.45f);
  const float pink = smoothstep(1.2f, 0.6f, open);
  return lash > pink ? Tint{hex("#20140f"), lash} : Tint{hex("#b5655a"), 0.8f * pink};
}

Tint lips(const Vec3& point, const Vec3&, uint32_t part) {
  const Vec3 p = folded(point);
  const float dry = 0.5f + 0.5f * perlin(point.cwiseProduct(Vec3(0.6f, 0.15f, 0.3f)), 157);
  return {mixed(hex("#96524a"), hex("#b98075"), dry), part == 0 ? 0.75f * keeper::redOfLips(p) : 0};
}

}  // namespace

// The skin in one tone of the model: the ground everything else is melted into.
std::vector<Sheet> keeperGround() {
  const EncodedColor skin = colorOf({0.40f, 0.40f, 0.40f});
  const auto base = [skin](const Vec3&, const Vec3&, uint32_t) -> Tint { return {skin, 1}; };
  return {{"Base tone", Stratum::Flesh, BlendMode::Normal, 1, base}};
}

std::vector<Sheet> keeperSheets() {
  return {{"Lips", Stratum::Flesh, BlendMode::Normal, 0.8f, lips},
          {"Stubble", Stratum::Pigment, BlendMode::Stain, 0.75f, stubble},
          {"Lid edges", Stratum::Pigment, BlendMode::Normal, 0.85f, lidEdges},
          {"Brows", Stratum::Surface, BlendMode::Normal, 0.45f, brows}};
}

}  // namespace juvenor::demo
