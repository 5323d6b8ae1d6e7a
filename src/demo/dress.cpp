// The layers a demo document opens with: a base per part, a few hues of blood and bone, markings on the back.
// Colours are laid by place and noise, so that they are the same for every density of points.
#include <tbb/parallel_for.h>

#include "core/document/edits.h"
#include "demo/demo.h"
#include "demo/noise.h"
#include "demo/shapes.h"

namespace juvenor::demo {
namespace {

/// Colour and strength 0…1 at a place.
struct Tint {
  EncodedColor color;
  float strength = 0;
};
using Painter = std::function<Tint(const Vec3& position, const Vec3& normal, uint32_t part)>;

ColorField painted(const Surface& surface, const Painter& painter) {
  ColorField field(surface.size());
  tbb::parallel_for(size_t{0}, field.chunkCount(), [&](size_t c) {
    std::shared_ptr<ColorChunk> chunk;
    const size_t begin = c * kChunkSize, end = std::min(surface.size(), begin + kChunkSize);
    for (size_t s = begin; s < end; ++s) {
      const Tint t = painter(surface.positions[s], surface.normals[s], surface.parts[s]);
      const float a = std::clamp(t.strength, 0.f, 1.f);
      if (a <= 0) continue;
      if (!chunk) chunk = std::make_shared<ColorChunk>();
      setSample(*chunk, s - begin, {to16(t.color.r * a), to16(t.color.g * a), to16(t.color.b * a), to16(a)});
    }
    field.setChunk(c, std::move(chunk));
  });
  return field;
}

EncodedColor hex(std::string_view text) {
  return *fromHex(text);
}

EncodedColor mixed(const EncodedColor& a, const EncodedColor& b, float t) {
  const float u = std::clamp(t, 0.f, 1.f);
  return {a.r + u * (b.r - a.r), a.g + u * (b.g - a.g), a.b + u * (b.b - a.b)};
}

struct Sheet {
  const char* name;
  Stratum stratum;
  BlendMode blend;
  float opacity;
  Painter painter;
};

Document laid(Document d, const std::vector<Sheet>& sheets) {
  for (const Sheet& s : sheets) {
    d = withPaintedLayer(d, s.name, s.stratum);
    const uint32_t id = d.activeLayer;
    d = withPainted(d, id, painted(*d.surface, s.painter));
    LayerChange change;
    change.blend = s.blend;
    change.opacity = s.opacity;
    d = *withLayerChanged(d, id, change);
  }
  return d;
}

float near(const Vec3& p, const Vec3& center, float reach) {
  return smoothstep(reach, 0.25f * reach,
                    (p - center).norm() + 0.16f * reach * fractal(p / (0.3f * reach), 2, 71));
}

// Iris and pupil of an eye that looks along `look` from its centre.
Tint eyeTint(const Vec3& p, const Vec3& center, const Vec3& look, float radius, const EncodedColor& white,
             const EncodedColor& iris, bool slit) {
  const Vec3 q = (p - center).normalized();
  const float away = std::acos(std::clamp(q.dot(look), -1.f, 1.f)) * radius;
  const Vec3 across = look.cross(Vec3::UnitY()).normalized(), up = across.cross(look);
  const float pupil = slit ? std::hypot(q.dot(across) * radius / 0.95f, q.dot(up) * radius / 0.42f) : away;
  const float rays = 0.5f + 0.5f * perlin({8 * std::atan2(q.dot(up), q.dot(across)), away * 0.25f, 0}, 83);
  const float size = 0.52f * radius;
  EncodedColor c = mixed(iris, hex("#5b3a16"), 0.55f * rays);
  c = mixed(c, hex("#241a10"), smoothstep(0.82f * size, 0.98f * size, away));
  c = mixed(c, white, smoothstep(size, 1.06f * size, away));
  c = mixed(c, hex("#0b0a09"), smoothstep(0.44f * size, 0.36f * size, pupil));
  return {c, 1};
}

std::vector<Sheet> ferrymanSheets() {
  const auto base = [](const Vec3& p, const Vec3&, uint32_t part) -> Tint {
    const Vec3 m(std::abs(p.x()), p.y(), p.z());
    if (part == 1 || part == 2) {
      const float side = part == 1 ? 1.f : -1.f;
      return eyeTint(p, {46 * side, 114, 42}, Vec3(0.30f * side, 0.04f, 0.95f).normalized(), 26,
                     hex("#c9b46a"), hex("#e0a93c"), true);
    }
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
  const auto speckle = [](const Vec3& p, const Vec3& n, uint32_t part) -> Tint {
    const Cells large = worley(p / 13.f, 31), small = worley(p / 6.f, 32);
    const float where = smoothstep(-0.4f, 0.5f, n.y() + 0.5f * fractal(p / 40, 2, 33));
    const float s = smoothstep(0.40f, 0.32f, large.first) + 0.8f * smoothstep(0.30f, 0.22f, small.first);
    return {hex("#2c2a1e"), part == 0 || part == 4 ? where * std::min(1.f, s) : 0};
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
          {"River speckle", Stratum::Pigment, BlendMode::Stain, 0.7f, speckle},
          {"Glints", Stratum::Surface, BlendMode::Screen, 0.6f, glint}};
}

std::vector<Sheet> keeperSheets() {
  const auto base = [](const Vec3& p, const Vec3&, uint32_t part) -> Tint {
    if (part == 1 || part == 2) {
      const float side = part == 1 ? 1.f : -1.f;
      return eyeTint(p, {31.5f * side, 61, 66.5f}, Vec3(0, 0.02f, 1).normalized(), 13.2f, hex("#d8cfc2"),
                     hex("#7d8f86"), false);
    }
    return {mixed(hex("#c2936f"), hex("#b5815f"), 0.5f + 0.8f * fractal(p / 40, 3, 4)), 1};
  };
  const auto blood = [](const Vec3& p, const Vec3&, uint32_t part) -> Tint {
    const Vec3 m(std::abs(p.x()), p.y(), p.z());
    const float s = 0.9f * near(p, {0, 30, 104}, 26) + 0.75f * near(m, {42, 26, 66}, 36) +
                    0.9f * near(m, {82, 48, -8}, 34) + 0.5f * near(m, {31, 50, 78}, 20) +
                    0.6f * near(m, {5, -2, 96}, 16) + 0.6f * near(m, {14, -3, 92}, 14);
    return {hex("#a8483a"), part == 0 ? std::min(0.9f, s) : 0};
  };
  const auto bone = [](const Vec3& p, const Vec3&, uint32_t part) -> Tint {
    return {hex("#d9b878"), part == 0 ? 0.8f * smoothstep(88, 120, p.y() + 9 * fractal(p / 24, 2, 8)) : 0};
  };
  const auto beard = [](const Vec3& p, const Vec3& n, uint32_t part) -> Tint {
    const Vec3 m(std::abs(p.x()), p.y(), p.z());
    const float jaw =
        smoothstep(14, -6, p.y() - 0.18f * m.x()) * smoothstep(-62, -44, p.y()) * smoothstep(-10, 24, p.z());
    return {hex("#6f7378"), part == 0 ? 0.75f * jaw * (0.75f + 0.5f * fractal(p / 9, 3, 9)) + 0 * n.x() : 0};
  };
  const auto sun = [](const Vec3& p, const Vec3&, uint32_t part) -> Tint {
    const Cells c = worley(p / 8.f, 51);
    const float where = smoothstep(40, 90, p.y()) + 0.5f * smoothstep(30, 60, p.z());
    return {hex("#7a4a2b"), part == 0 ? 0.8f * where * smoothstep(0.33f, 0.2f, c.first) *
                                            smoothstep(-0.1f, 0.5f, fractal(p / 30, 2, 52))
                                      : 0};
  };
  return {{"Base per part", Stratum::Flesh, BlendMode::Normal, 1, base},
          {"Bone: brow, skull", Stratum::Flesh, BlendMode::Normal, 0.45f, bone},
          {"Blood: cheeks, nose, ears", Stratum::Flesh, BlendMode::Normal, 0.5f, blood},
          {"Blue-grey jaw", Stratum::Flesh, BlendMode::Normal, 0.4f, beard},
          {"Sun spots", Stratum::Pigment, BlendMode::Stain, 0.6f, sun}};
}

}  // namespace

Document dressed(Figure figure, std::shared_ptr<const Sculpt> sculpt,
                 std::shared_ptr<const Surface> surface) {
  Document d = newDocument(std::move(sculpt), std::move(surface));
  d = laid(std::move(d), figure == Figure::Ferryman ? ferrymanSheets() : keeperSheets());
  d = withPaintedLayer(d, "Your strokes", Stratum::Pigment);
  return d;
}

}  // namespace juvenor::demo
