// The ferry keeper's paint: what skin tone and zones leave out. Blotches, broken veins, the sun's spots,
// beard and brows.
#include "core/color/skin_tone.h"
#include "core/noise/noise.h"
#include "demo/keeper.h"
#include "demo/sheets.h"

namespace juvenor::demo {
namespace {

// Where a beard grows: below a line from the ear to the mouth, thinning down the throat.
float beardAt(const Vec3& p) {
  const float line = 11 + 0.34f * std::max(0.f, 88 - p.z()) + 4 * perlin(p / 14, 151);
  const float down = -48 + 0.35f * std::min(p.z(), 60.f);
  return smoothstep(line + 4, line - 9, p.y()) * smoothstep(down - 34, down, p.y()) *
         smoothstep(-16, 4, p.z()) * (1 - keeper::redOfLips(p));
}

// The hair that is left: around the sides and the back.
float hairAt(const Vec3& p) {
  const float ragged = 6 * perlin(p / 12, 152);
  return smoothstep(16, -8, p.z() + ragged) * smoothstep(124, 98, p.y() + ragged) *
         smoothstep(-30, 6, p.y() + 0.3f * p.z());
}

float browAt(const Vec3& p) {
  if (p.z() < 40) return 0;
  const Vec3 flat(p.x(), p.y(), 0);
  const float arch = std::min(rod(flat, {8, 77.5f, 0}, {30, 83.5f, 0}, 4.2f, 3.8f),
                              rod(flat, {30, 83.5f, 0}, {53, 74.5f, 0}, 3.8f, 1.2f));
  // hairs lean outward, the more the farther out
  const float lean = 0.5f + 0.03f * p.x();
  const Vec3 hair((p.x() - lean * (p.y() - 78)) / 0.8f, (p.y() + 0.3f * p.x()) / 6, p.z() / 9);
  const float within = smoothstep(1.6f, -1.8f, arch + 1.6f * perlin(p / 2.5f, 154));
  return within * (0.35f + 0.65f * smoothstep(-0.3f, 0.2f, perlin(hair, 153)));
}

// A shadow of hair below the skin, and the bristles themselves.
Tint stubble(const Vec3& point, const Vec3&, uint32_t part) {
  if (part != 0) return {};
  const Vec3 p = folded(point);
  const float grows = std::max(beardAt(p), 0.9f * hairAt(p));
  const float bristle = smoothstep(0.40f, 0.20f, worley(point / 1.25f, 155).first);
  return {mixed(hex("#5e5d5c"), hex("#35312f"), bristle), grows * (0.36f + 0.38f * bristle)};
}

Tint brows(const Vec3& point, const Vec3&, uint32_t part) {
  const Vec3 p = folded(point);
  return {mixed(hex("#3d3128"), hex("#8a8178"), smoothstep(0.1f, 0.5f, perlin(point / 2, 156))),
          part == 0 ? 0.85f * browAt(p) : 0};
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
          {"Brows", Stratum::Surface, BlendMode::Normal, 0.9f, brows}};
}

}  // namespace juvenor::demo
