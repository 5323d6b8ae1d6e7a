// Pixels from visibility: the colour of three samples by their weights, then light. Skin's gloss is the
// microfacet model of Walter, Marschner, Li, Torrance 2007 (GGX) with Schlick's Fresnel term; reflectance
// 0.028 at normal incidence is that of skin's oil and water (index 1.4, from memory).
#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <numbers>

#include "core/layers/ramp.h"
#include "core/render/picture.h"

namespace juvenor {
namespace {

constexpr std::array<std::string_view, 4> kViews{"flat", "value", "clay", "skin"};

// Linear 0…1 to an encoded byte.
uint32_t encodedByte(float linear) {
  static const std::vector<uint8_t> table = [] {
    std::vector<uint8_t> t(16385);
    for (size_t i = 0; i < t.size(); ++i)
      t[i] = static_cast<uint8_t>(encodeSrgb(static_cast<float>(i) / 16384.f) * 255.f + 0.5f);
    return t;
  }();
  return table[static_cast<size_t>(std::clamp(linear, 0.f, 1.f) * 16384.f)];
}

// Straight up to 0.75, then a soft shoulder instead of a cut.
float shoulder(float v) {
  return v <= 0.75f ? v : 0.75f + 0.25f * (1 - std::exp(-(v - 0.75f) * 4));
}

uint32_t opaqueBytes(uint32_t r, uint32_t g, uint32_t b) {
  return 0xff000000u | r << 16 | g << 8 | b;
}

struct Mixed {
  std::array<float, 3> weight;
  Triangle samples;
};

class Shader {
 public:
  explicit Shader(const ShadeInput& input)
      : in_(input), lens_(input.camera), patch_(patchDirection(input.light)) {}

  // A pixel with what lies over the skin.
  uint32_t overlaid(uint32_t triangle, const std::array<uint16_t, 2>& weights, int x, int y) const {
    if (!in_.overlay) return pixel(triangle, weights);
    const float v = overlayAt(triangle, weights);
    if (in_.overlayLook == OverlayLook::Mask) {
      // two greys in stripes, so that it reads on dark and light skin alike
      const float grey = (x + y) / 5 % 2 == 0 ? 0x58 : 0x98, cover = 0.72f * (1 - v);
      const uint32_t p = pixel(triangle, weights);
      const auto mixed = [&](int shift) {
        const auto c = static_cast<float>(p >> shift & 0xff);
        return static_cast<uint32_t>(c + cover * (grey - c) + 0.5f);
      };
      return opaqueBytes(mixed(16), mixed(8), mixed(0));
    }
    if (in_.overlayLook == OverlayLook::Grey) {
      const auto g = static_cast<uint32_t>(v * 255 + 0.5f);
      return opaqueBytes(g, g, g);
    }
    const Rgba16& c = falseColor()[static_cast<size_t>(v * 255 + 0.5f)];
    return opaqueBytes(c.r >> 8, c.g >> 8, c.b >> 8);
  }

 private:
  static const std::vector<Rgba16>& falseColor() {
    // evenly lighter from end to end, so that it can be read without its hues
    static const std::vector<Rgba16> table = rampTable({{0, {0.12f, 0.10f, 0.32f}, 1},
                                                        {0.35f, {0.16f, 0.38f, 0.55f}, 1},
                                                        {0.65f, {0.33f, 0.65f, 0.48f}, 1},
                                                        {1, {0.98f, 0.92f, 0.48f}, 1}},
                                                       256);
    return table;
  }
  float overlayAt(uint32_t triangle, const std::array<uint16_t, 2>& weights) const {
    const Triangle& t = in_.surface->triangles[triangle];
    const float u = from16(weights[0]), v = from16(weights[1]);
    const auto at = [&](uint32_t s) { return from16(in_.overlay->at(s)[0]); };
    return std::clamp((1 - u - v) * at(t[0]) + u * at(t[1]) + v * at(t[2]), 0.f, 1.f);
  }

  uint32_t pixel(uint32_t triangle, const std::array<uint16_t, 2>& weights) const {
    Mixed m;
    m.samples = in_.surface->triangles[triangle];
    const float u = from16(weights[0]), v = from16(weights[1]);
    m.weight = {std::max(0.f, 1 - u - v), u, v};
    switch (in_.view) {
      case View::Flat:
        return flat(color(m));
      case View::Value:
        return value(color(m));
      case View::Clay:
        return lit(m, {0.36f, 0.36f, 0.36f}, true);
      default: {
        const auto c = color(m);
        return lit(m,
                   {decodeSrgb16(static_cast<uint16_t>(c[0])), decodeSrgb16(static_cast<uint16_t>(c[1])),
                    decodeSrgb16(static_cast<uint16_t>(c[2]))},
                   false);
      }
    }
  }
  // Encoded, 0…65535.
  std::array<float, 3> color(const Mixed& m) const {
    std::array<float, 3> out{};
    for (size_t k = 0; k < 3; ++k) {
      const auto& chunk = in_.skin->color().chunk(m.samples[k] / kChunkSize);
      const size_t i = m.samples[k] % kChunkSize;
      for (size_t c = 0; c < 3; ++c) out[c] += m.weight[k] * static_cast<float>(chunk->plane[c][i]);
    }
    return out;
  }
  static uint32_t flat(const std::array<float, 3>& c) {
    const auto byte = [](float v) { return static_cast<uint32_t>(v * (255.f / 65535.f) + 0.5f); };
    return opaqueBytes(byte(c[0]), byte(c[1]), byte(c[2]));
  }
  static uint32_t value(const std::array<float, 3>& c) {
    const auto linear = [](float v) { return decodeSrgb16(static_cast<uint16_t>(v)); };
    const uint32_t y = encodedByte(0.2126f * linear(c[0]) + 0.7152f * linear(c[1]) + 0.0722f * linear(c[2]));
    return opaqueBytes(y, y, y);
  }
  uint32_t lit(const Mixed& m, const std::array<float, 3>& albedo, bool clay) const {
    std::array<float, 4> light{};
    Vec3 normal = Vec3::Zero(), position = Vec3::Zero();
    for (size_t k = 0; k < 3; ++k) {
      if (!in_.lighting) {
        const LitSample& l = in_.lit[m.samples[k]];
        for (size_t c = 0; c < 4; ++c) light[c] += m.weight[k] * static_cast<float>(l[c]);
      }
      normal += m.weight[k] * in_.surface->normals[m.samples[k]];
      position += m.weight[k] * in_.surface->positions[m.samples[k]];
    }
    if (in_.lighting) {
      const size_t nearest = m.weight[0] >= m.weight[1] ? (m.weight[0] >= m.weight[2] ? 0 : 2)
                                                        : (m.weight[1] >= m.weight[2] ? 1 : 2);
      const LitSample l = in_.lighting->at(m.samples[nearest]);
      for (size_t c = 0; c < 4; ++c) light[c] = static_cast<float>(l[c]);
    }
    for (float& l : light) l *= 1.f / kLitUnit;
    const float gloss =
        specular(normal.normalized(), lens_.toViewer(position), clay ? 0.6f : 0.42f) * light[3];
    std::array<uint32_t, 3> out;
    for (size_t c = 0; c < 3; ++c)
      out[c] = encodedByte(shoulder(albedo[c] * (clay ? light[3] : light[c]) + (clay ? 0.35f : 1.f) * gloss));
    return opaqueBytes(out[0], out[1], out[2]);
  }
  float specular(const Vec3& n, const Vec3& v, float roughness) const {
    const float nv = std::max(1e-3f, n.dot(v)), nl = std::max(0.f, n.dot(patch_));
    const Vec3 h = (v + patch_).normalized();
    const float nh = std::max(0.f, n.dot(h)), vh = std::max(0.f, v.dot(h));
    const float a = roughness * roughness, a2 = a * a;
    const float d = nh * nh * (a2 - 1) + 1;
    const float ggx = a2 / (std::numbers::pi_v<float> * d * d);
    const float k = a / 2;
    const float masking = (nl / (nl * (1 - k) + k)) * (nv / (nv * (1 - k) + k));
    const auto schlick = [](float c) {
      const float x = 1 - c;
      return 0.028f + 0.972f * x * x * x * x * x;
    };
    const float patch = ggx * masking * schlick(vh) / (4 * nv) * 1.3f * in_.light.patch;
    // the sky mirrored at a grazing angle
    return patch + 0.22f * schlick(nv) * (0.4f + 0.6f * std::max(0.f, (2 * nv * n - v).y()));
  }

  const ShadeInput& in_;
  Lens lens_;
  Vec3 patch_;
};

}  // namespace

std::string_view viewKey(View view) {
  return kViews[static_cast<size_t>(view)];
}

std::optional<View> viewFromKey(std::string_view key) {
  for (size_t i = 0; i < kViews.size(); ++i)
    if (kViews[i] == key) return static_cast<View>(i);
  return std::nullopt;
}

bool shade(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& wanted,
           std::span<uint32_t> out, const std::function<bool()>& stop) {
  const PixelRect rect = wanted.clipped(visibility.size);
  if (rect.empty()) return true;
  const Shader shader(input);
  std::atomic<bool> stopped = false;
  tbb::parallel_for(tbb::blocked_range<int>(rect.top, rect.bottom, 8), [&](const auto& rows) {
    if (!stopped && stop && stop()) stopped = true;
    if (stopped) return;
    for (int y = rows.begin(); y < rows.end(); ++y) {
      const size_t line = static_cast<size_t>(y) * static_cast<size_t>(visibility.size.width);
      for (int x = rect.left; x < rect.right; ++x) {
        const size_t at = line + static_cast<size_t>(x);
        const uint32_t triangle = visibility.triangle[at];
        if (triangle == kNone)
          out[at] = input.behind.empty() ? input.background : input.behind[at];
        else
          out[at] = shader.overlaid(triangle, visibility.weights[at], x, y);
      }
    }
  });
  return !stopped;
}

std::vector<uint32_t> picture(const Rays& rays, const ShadeInput& input, const ViewSize& size,
                              const std::set<uint32_t>& hidden, int smooth) {
  const size_t n = static_cast<size_t>(size.width) * static_cast<size_t>(size.height);
  std::vector<std::array<uint32_t, 3>> sum(n);
  std::vector<uint32_t> out(n);
  VisibilityImage visibility;
  for (int pass = 0; pass < smooth; ++pass) {
    castVisibility(rays, input.camera, size, jitterOf(pass), hidden, visibility);
    shade(input, visibility, {0, 0, size.width, size.height}, out);
    for (size_t i = 0; i < n; ++i)
      for (int c = 0; c < 3; ++c) sum[i][static_cast<size_t>(c)] += (out[i] >> (16 - 8 * c)) & 0xff;
  }
  const auto mean = [&](uint32_t v) {
    return (v + static_cast<uint32_t>(smooth) / 2) / static_cast<uint32_t>(smooth);
  };
  for (size_t i = 0; i < n; ++i) out[i] = opaqueBytes(mean(sum[i][0]), mean(sum[i][1]), mean(sum[i][2]));
  return out;
}

}  // namespace juvenor
