// What wind and years have cut into the ferry keeper's skin: lines lie across the pull of the muscles below,
// pores differ from region to region.
#include "core/noise/noise.h"
#include "demo/keeper.h"

namespace juvenor::demo::keeper {
namespace {

// A line where `wave` peaks, the sharper the greater `power`.
float lineOf(float wave, float power) {
  return std::pow(std::max(0.f, wave), power);
}

// Deep lines: across the brow, between the eyes, fanning from the outer corners, under the eyes, around the
// neck.
float lines(const Vec3& p, const Vec3& warp) {
  const float face = smoothstep(20, 45, p.z());
  const float broken = smoothstep(-0.5f, 0.15f, fractal(p / 14, 2, 131));
  const float brow = smoothstep(88, 95, p.y()) * smoothstep(133, 116, p.y()) * smoothstep(46, 60, p.z());
  const float rise = p.y() - 0.0035f * p.x() * p.x() + 5 * warp.x();
  float d = -0.75f * brow * broken * lineOf(std::sin(0.66f * rise), 7);
  // two frowns, one deeper
  const float frown = smoothstep(70, 76, p.y()) * smoothstep(97, 84, p.y()) * smoothstep(60, 74, p.z());
  d -= 0.6f * frown * std::exp(-std::pow((p.x() - 6.2f - 0.22f * (p.y() - 80) + 3 * warp.z()) / 1.2f, 2.f));
  const Vec2 corner(p.x() - 45, p.y() - 61);
  const float fan = smoothstep(27, 12, corner.norm()) * smoothstep(1, 7, corner.x()) * face;
  d -= 0.55f * fan * lineOf(std::cos(10 * std::atan2(corner.y(), corner.x() + 4) + 2 * warp.y()), 6);
  const Vec2 under(p.x() - 31, p.y() - 52);
  const float bag = smoothstep(15, 6, std::hypot(under.x(), 2 * under.y())) * face;
  d -= 0.3f * bag * lineOf(std::sin(2.1f * (under.y() + 0.18f * under.x()) + 2 * warp.z()), 3);
  // smiling lines outside the fold from nose to mouth
  const float cheek = smoothstep(13, 4, std::abs(p.x() - 39 - 0.15f * (20 - p.y()))) *
                      smoothstep(36, 22, p.y()) * smoothstep(-14, 0, p.y()) * face;
  d -= 0.35f * cheek * broken * lineOf(std::sin(0.9f * (p.x() - 0.25f * p.y()) + 2 * warp.x()), 6);
  const float neck = smoothstep(-26, -46, p.y()) * smoothstep(-108, -92, p.y());
  d -= 0.7f * neck * (0.4f + 0.6f * broken) *
       lineOf(std::sin(0.30f * (p.y() + 0.10f * p.z()) + 2.6f * warp.z()), 9);
  return d;
}

// Creases of a size, drawn out across the pull: `pull` shrinks the noise along it.
float creases(const Vec3& p, const Vec3& pull, float size, uint32_t seed, float power) {
  return std::pow(1 - std::abs(perlin(p.cwiseProduct(pull) / size, seed)), power);
}

}  // namespace

float weather(const Vec3& point, float spacing, float years) {
  const Vec3 p = folded(point);
  const Vec3 warp(fractal(p / 24, 2, 107), fractal(p / 24, 2, 117), fractal(p / 24, 2, 127));
  // what is finer than points can show would come out as noise
  const auto shows = [&](float size) { return smoothstep(1.2f, 2.4f, size / spacing); };
  const float face = smoothstep(0, 30, p.z()), neck = smoothstep(-24, -44, p.y());
  const float over = overMouthLine(p);
  const float red = redOfLips(p);
  const float lids = smoothstep(19, 14, (p - kEye).norm());
  float d = years * lines(p, warp);
  // fine lines cross: level on brow and neck, upright on cheeks
  const Vec3 level(0.45f, 1.25f, 0.45f), upright(1.15f, 0.6f, 1);
  const float brow = smoothstep(74, 90, p.y()) * face;
  const float across = creases(p + 1.5f * warp, level, 5.2f, 105, 9),
              down = creases(p + 1.5f * warp, upright, 4.6f, 106, 9);
  d -= shows(2.6f) * (0.05f + 0.12f * brow + 0.16f * neck) * across;
  d -= shows(2.6f) * (0.05f + 0.10f * face * (1 - brow) + 0.07f * neck) * down;
  d -= shows(1.4f) * (0.06f + 0.03f * neck) * creases(p + warp, level, 2.3f, 108, 5);
  // pores: wide on nose and cheeks, fine on the brow, none on lips and lids
  const float nose = smoothstep(22, 12, p.x()) * smoothstep(16, 24, p.y()) * smoothstep(62, 50, p.y()) *
                     smoothstep(80, 92, p.z());
  const float cheeks = smoothstep(30, 14, (p - Vec3(34, 26, 74)).norm());
  const float wide = std::max(nose, cheeks);
  const Cells large = worley(p / 1.7f, 111), small = worley(p / 1.15f, 112);
  d -= shows(1.7f) * 0.20f * wide * smoothstep(0.42f, 0.08f, large.first) * (1 - lids);
  d -= shows(1.15f) * (0.05f + 0.07f * face) * smoothstep(0.45f, 0.1f, small.first) * (1 - lids);
  d = d * (1 - red);
  // lips: upright lines
  d -= shows(1.8f) * red * 0.16f * smoothstep(0.6f, 2.2f, std::abs(over)) *
       lineOf(std::sin(1.9f * p.x() + 2.2f * warp.x() + 1.5f * perlin(p / 3, 109)), 3);
  return d + (0.30f + 0.15f * neck) * fractal(p / 15, 3, 102) * (1 - red) * (1 - 0.7f * lids);
}

}  // namespace juvenor::demo::keeper
