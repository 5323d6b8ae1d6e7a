// The ferryman's paint: a base per part, hues of blood, markings on the back.
#include "core/noise/noise.h"
#include "demo/sheets.h"

namespace juvenor::demo {

float near(const Vec3& p, const Vec3& center, float reach) {
  return smoothstep(reach, 0.25f * reach,
                    (p - center).norm() + 0.16f * reach * fractal(p / (0.3f * reach), 2, 71));
}

std::vector<Sheet> ferrymanSheets() {
  const auto base = [](const Vec3& p, const Vec3&, uint32_t part) -> Tint {
    const Vec3 m(std::abs(p.x()), p.y(), p.z());
    if (part == 3) return {mixed(hex("#8f3b3a"), hex("#c9695c"), smoothstep(60, 92, m.x())), 1};
    if (part == 4) return {mixed(hex("#6f7450"), hex("#b98a52"), 0.5f + 0.5f * perlin(p / 30, 5)), 1};
    if (part == 5) return {hex("#b4655f"), 1};
    if (part == 6) return {hex("#e6d8b2"), 1};
    return {mixed(hex("#8d8a5e"), hex("#a98f66"), 0.5f + 0.8f * fractal(m / 55, 3, 4)), 1};
  };
  const auto belly = [](const Vec3& p, const Vec3& n, uint32_t part) -> Tint {
    const float under = smoothstep(0.25f, -0.55f, n.y()) * smoothstep(-20, 40, p.z() + 20);
    return {hex("#d9c39a"), part == 0 ? 0.85f * under : 0};
  };
  const auto blood = [](const Vec3& p, const Vec3&, uint32_t part) -> Tint {
    const Vec3 m(std::abs(p.x()), p.y(), p.z());
    float s = 0.8f * near(m, {70, 40, 44}, 42) + 0.8f * near(m, {16, 72, 98}, 24) +
              0.6f * near(m, {46, 100, 60}, 34);
    for (int i = 0; i < 3; ++i) s += 0.9f * near(m, {62, -8.f - 19.f * static_cast<float>(i), -6}, 24);
    const float lip =
        smoothstep(12, 3, std::abs(p.y() - 32 + 0.0026f * p.x() * p.x())) * smoothstep(40, 80, p.z());
    return {hex("#a8473a"), part == 0 ? std::min(0.85f, s + 0.7f * lip) : 0};
  };
  const auto back = [](const Vec3& p, const Vec3& n, uint32_t part) -> Tint {
    const Vec3 m(std::abs(p.x()), p.y(), p.z());
    const float top = smoothstep(0.05f, 0.75f, n.y() - 0.004f * p.z() + 0.35f * fractal(m / 26, 3, 21));
    return {hex("#3f4630"), part == 0 ? 0.8f * top : 0};
  };
  const auto glint = [](const Vec3& p, const Vec3& n, uint32_t part) -> Tint {
    const Cells cell = worley(p / 9.f, 41);
    const float where =
        smoothstep(0.45f, -0.35f, std::abs(n.y() - 0.05f)) * smoothstep(0.1f, 0.6f, fractal(p / 30, 2, 42));
    return {hex("#7fb7ae"), part == 0 ? where * smoothstep(0.26f, 0.2f, cell.first) : 0};
  };
  return {{"Base per part", Stratum::Flesh, BlendMode::Normal, 1, base},
          {"Pale underside", Stratum::Flesh, BlendMode::Normal, 0.8f, belly},
          {"Blood: cheeks, lips, gills", Stratum::Flesh, BlendMode::Normal, 0.55f, blood},
          {"Dark back", Stratum::Pigment, BlendMode::Stain, 0.55f, back},
          {"Glints", Stratum::Surface, BlendMode::Screen, 0.6f, glint}};
}

}  // namespace juvenor::demo
