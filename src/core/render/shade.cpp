// Pixels from visibility: the channels of three samples by their weights, then light: what wandered in the
// skin, and what is mirrored at once (shine.h). Relief bends the normals of both: diffuse light follows by
// what the bent normal would receive in the open over what the surface's own would.
#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <numbers>

#include "core/layers/ramp.h"
#include "core/render/bounced_light.h"
#include "core/render/picture.h"
#include "core/render/shine.h"
#include "core/render/squares.h"

namespace juvenor {
namespace {

constexpr std::array<std::string_view, 5> kViews{"flat", "value", "channel", "clay", "skin"};

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
  Shader(const ShadeInput& input, const ViewSize& size)
      : in_(input),
        lens_(input.camera, size),
        lineLens_(input.sheet ? input.sheetCamera : input.camera, size),
        exposure_(std::exp2(input.light.exposure)) {
    if (input.view < View::Clay) return;
    if (input.view == View::Clay) {
      clay_ = clayNumbers(viewAxes(input.camera));
      return;
    }
    by_ = input.by ? *input.by : litBy(input.light);
    constexpr std::array<float, 3> kLuminance{0.2126f, 0.7152f, 0.0722f};
    for (size_t c = 0; c < 3; ++c)
      for (size_t k = 0; k < 9; ++k) soft_[k] += kLuminance[c] * by_.soft[c][k];
    for (size_t l = 0; l < kLampCount; ++l)
      brightness_[l] = by_.lamps[l].strength.dot(Vec3(kLuminance[0], kLuminance[1], kLuminance[2]));
  }

  // A pixel with what lies over the skin, and the sculpt's lines over that.
  uint32_t shown(uint32_t triangle, const std::array<uint16_t, 2>& weights, int x, int y) const {
    const uint32_t p = in_.squares ? squared(triangle, weights, x, y) : overlaid(triangle, weights, x, y);
    if (in_.lines.empty() || !in_.lines[triangle]) return p;
    const float cover = lineAt(triangle, weights);
    if (cover <= 0) return p;
    // dark on light and light on dark
    const auto byte = [&](int shift) { return static_cast<float>(p >> shift & 0xff); };
    const float grey = 0.3f * byte(16) + 0.6f * byte(8) + 0.1f * byte(0) > 70 ? 20 : 190;
    const auto mixed = [&](int shift) {
      return static_cast<uint32_t>(byte(shift) + cover * (grey - byte(shift)) + 0.5f);
    };
    return opaqueBytes(mixed(16), mixed(8), mixed(0));
  }

 private:
  // How much of a pixel the nearest line of its triangle covers: about a pixel wide whatever the distance,
  // and gone where lines are too close together to be told apart.
  float lineAt(uint32_t triangle, const std::array<uint16_t, 2>& weights) const {
    constexpr float kStrength = 0.34f, kHalfWidth = 0.55f, kClosest = 3.5f;
    const Surface& seen = in_.sheet ? *in_.sheet : *in_.surface;
    const Triangle& t = seen.triangles[triangle];
    const float u = from16(weights[0]), v = from16(weights[1]);
    const std::array<float, 3> w{std::max(0.f, 1 - u - v), u, v};
    const std::array<const Vec3*, 3> p{&seen.positions[t[0]], &seen.positions[t[1]], &seen.positions[t[2]]};
    const Vec3 toward = lineLens_.toViewer(*p[0]);
    const float pixels = lineLens_.pixelsPerUnit(*p[0]);
    float cover = 0;
    for (size_t k = 0; k < 3; ++k) {
      if (!(in_.lines[triangle] >> k & 1)) continue;
      const Vec3 edge = *p[(k + 1) % 3] - *p[k], across = *p[(k + 2) % 3] - *p[k];
      // as the viewer sees it: flat on the picture
      const Vec3 e = edge - edge.dot(toward) * toward, a = across - across.dot(toward) * toward;
      const float length = e.norm() * pixels;
      if (!(length > kClosest)) continue;
      const float height = (a - a.dot(e) / e.squaredNorm() * e).norm() * pixels;
      const float away = w[(k + 2) % 3] * height;
      cover = std::max(cover, kStrength * std::min(1.f, (length - kClosest) / 4) *
                                  std::clamp(kHalfWidth + 0.5f - away, 0.f, 1.f));
    }
    return cover;
  }

  // Squares over the skin, so that what lies below is still known.
  uint32_t squared(uint32_t triangle, const std::array<uint16_t, 2>& weights, int x, int y) const {
    constexpr float kCover = 0.8f;
    const uint32_t p = overlaid(triangle, weights, x, y);
    const Triangle& t = in_.squares->triangles[triangle];
    if (t[0] == t[1]) return p;
    const float u = from16(weights[0]), v = from16(weights[1]);
    const auto at = [&](size_t k) -> const Vec3& { return in_.squares->positions[t[k]]; };
    const Vec3 place = (1 - u - v) * at(0) + u * at(1) + v * at(2);
    const float grey = 255 * greyOfSquare(place.head<2>());
    const auto mixed = [&](int shift) {
      const auto c = static_cast<float>(p >> shift & 0xff);
      return static_cast<uint32_t>(c + kCover * (grey - c) + 0.5f);
    };
    return opaqueBytes(mixed(16), mixed(8), mixed(0));
  }

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
    return told(v, in_.overlayLook == OverlayLook::FalseColor);
  }
  // A value 0…1 as grey or false colour.
  static uint32_t told(float v, bool falseColor) {
    const auto g = static_cast<uint32_t>(v * 255 + 0.5f);
    if (!falseColor) return opaqueBytes(g, g, g);
    const Rgba16& c = falseColors()[g];
    return opaqueBytes(c.r >> 8, c.g >> 8, c.b >> 8);
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
      case View::Channel:
        return in_.channel.channel == Channel::Color ? flat(color(m)) : ofChannel(m);
      case View::Clay:
        return clay(m);
      default: {
        const auto c = color(m);
        return skin(m, {decodeSrgb16(static_cast<uint16_t>(c[0])), decodeSrgb16(static_cast<uint16_t>(c[1])),
                        decodeSrgb16(static_cast<uint16_t>(c[2]))});
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
  uint32_t ofChannel(const Mixed& m) const {
    float v = 0;
    eachChannel([&](auto c) {
      if constexpr (c() != Channel::Color) {
        if (in_.channel.channel != c()) return;
        const auto& field = in_.skin->get<c()>();
        for (size_t k = 0; k < 3; ++k) v += m.weight[k] * static_cast<float>(field.at(m.samples[k])[0]);
        if (factsOf(c()).rule != ChannelRule::Add)
          v /= 65535;
        else if (in_.channel.height > 0)
          v = 0.5f + 0.5f * (v - kLevel) * in_.reliefStep / in_.channel.height;
        else
          v = 0.5f;
      }
    });
    return told(std::clamp(v, 0.f, 1.f), in_.channel.falseColor);
  }
  // What the light says of a pixel before any surface comes in.
  struct Lit {
    std::array<float, 4> light{};  // red, green, blue, and Clay
    Vec3 normal, bent, toViewer;
    std::array<float, 1 + kLampCount> open{};  // of the sky and each lamp
  };
  size_t nearest(const Mixed& m) const {
    const size_t k = m.weight[0] >= m.weight[1] ? (m.weight[0] >= m.weight[2] ? 0 : 2)
                                                : (m.weight[1] >= m.weight[2] ? 1 : 2);
    return m.samples[k];
  }
  Lit litPixel(const Mixed& m) const {
    Lit out;
    Vec3 normal = Vec3::Zero(), bent = Vec3::Zero(), position = Vec3::Zero();
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t s = m.samples[k];
      if (!in_.lighting) {
        for (size_t c = 0; c < 4; ++c) out.light[c] += m.weight[k] * static_cast<float>(in_.lit[s][c]);
        for (size_t c = 0; c < 4 && !in_.open.empty(); ++c)
          out.open[c] += m.weight[k] / 255 * static_cast<float>(in_.open[s][c]);
      }
      normal += m.weight[k] * in_.surface->normals[s];
      if (in_.relief) bent += m.weight[k] * in_.relief->at(s);
      position += m.weight[k] * in_.surface->positions[s];
    }
    if (in_.lighting) {
      const size_t at = nearest(m);
      const LitSample l = in_.lighting->at(at);
      const OpenSample open = in_.lighting->openAt(at);
      for (size_t c = 0; c < 4; ++c) out.light[c] = static_cast<float>(l[c]);
      for (size_t c = 0; c < 4; ++c) out.open[c] = static_cast<float>(open[c]) / 255;
    } else if (in_.open.empty()) {
      out.open.fill(1);
    }
    out.normal = normal.normalized();
    out.bent = in_.relief ? bent.normalized() : out.normal;
    // a sheet is looked at from straight above wherever its skin faces
    out.toViewer = in_.sheet ? out.normal : lens_.toViewer(position);
    return out;
  }

  // Flesh that was opened is seen from behind, and no wet skin there: it mirrors nothing. Normals that are
  // mixed over a coarse triangle look away a little at the rim of a form.
  static float seenFromOutside(const Lit& lit) {
    return std::clamp(5 * (lit.normal.dot(lit.toViewer) + 0.3f), 0.f, 1.f);
  }

  // What a wall in the open receives, as brightness.
  static float inTheOpen(const Harmonics& light, const Vec3& n) {
    const Harmonics y = harmonicsAt(n);
    float sum = 0;
    for (size_t k = 0; k < 9; ++k) sum += light[k] * y[k] * kCosineLobe[static_cast<size_t>(kBand[k])];
    return std::max(0.f, sum / std::numbers::pi_v<float>);
  }
  float receivedBy(const Vec3& n, const Lit& lit) const {
    float sum = inTheOpen(soft_, n);
    for (size_t l = 0; l < kLampCount; ++l)
      sum += lit.open[l + 1] * brightness_[l] * std::max(0.f, n.dot(by_.lamps[l].toward));
    return sum;
  }
  // Red wanders farther than a pore is wide: relief shows less in it (common practice).
  std::array<float, 3> bumped(const Lit& lit) const {
    if (lit.bent == lit.normal) return {1, 1, 1};
    const float least = 0.02f;
    const float ratio =
        std::clamp((receivedBy(lit.bent, lit) + least) / (receivedBy(lit.normal, lit) + least), 0.f, 4.f);
    return {1 + 0.75f * (ratio - 1), 1 + 0.95f * (ratio - 1), ratio};
  }

  // What comes back from the walls of a place that is closed in, by what comes in.
  static float bounced(const Lit& lit, float albedo) {
    constexpr float kClosed = 0.02f;
    const float open = std::max(kClosed, lit.open[0]);
    return bouncedOpenness(open, std::clamp(albedo, 0.f, 0.9f)) / open;
  }

  uint32_t clay(const Mixed& m) const {
    const Lit lit = litPixel(m);
    float l = lit.light[3];
    if (lit.bent != lit.normal)
      l *=
          std::clamp((inTheOpen(clay_, lit.bent) + 0.02f) / (inTheOpen(clay_, lit.normal) + 0.02f), 0.f, 4.f);
    const float rim = seenFromOutside(lit) * schlick(0.028f, std::max(0.f, lit.bent.dot(lit.toViewer)));
    const uint32_t byte = encodedByte(shoulder(0.36f * l + 0.05f * rim * lit.open[0]));
    return opaqueBytes(byte, byte, byte);
  }

  uint32_t skin(const Mixed& m, const Vec3& albedo) const {
    const Lit lit = litPixel(m);
    const float gloss = number<Channel::Gloss>(m, 0.5f), metal = number<Channel::Metal>(m, 0),
                glow = number<Channel::Glow>(m, 0);
    const Vec3 reflectance = (1 - metal) * Vec3::Constant(kSkinReflectance) + metal * albedo;
    const float cosOut = std::max(1e-3f, lit.bent.dot(lit.toViewer));
    const Lobes lobes = lobesOf(gloss);
    Vec3 shine = Vec3::Zero(), taken = Vec3::Zero();
    for (size_t i = 0; i < 2; ++i) {
      const float part = i == 0 ? lobes.sharp : 1 - lobes.sharp, width = lobes.width[i];
      const auto [scale, offset] = reflected(cosOut, width);
      const Vec3 whole = scale * reflectance + Vec3::Constant(offset);
      const float back = 1 / std::max(0.1f, std::min(1.f, scale + offset)) - 1;
      const Vec3 raised = Vec3::Ones() + back * reflectance;
      const Vec3 around = mirrored(by_, 2 * lit.bent.dot(lit.toViewer) * lit.bent - lit.toViewer, width);
      shine +=
          part * (around * skyMirrored(lit.open[0], cosOut, width)).cwiseProduct(whole).cwiseProduct(raised);
      shine += part * lampShine(lit, reflectance, width).cwiseProduct(raised);
      taken += part * whole;
    }
    const float outside = seenFromOutside(lit);
    shine *= outside;
    taken *= outside;
    const std::array<float, 3> bump = bumped(lit);
    Vec3 out;
    for (int c = 0; c < 3; ++c) {
      const float falls = lit.light[static_cast<size_t>(c)] * bounced(lit, albedo[c]);
      out[c] = exposure_ * ((1 - metal) * (1 - std::min(1.f, taken[c])) * albedo[c] * falls *
                                bump[static_cast<size_t>(c)] +
                            shine[c] + glow * albedo[c]);
    }
    const float brightest = out.maxCoeff(), toned = shoulder(brightest);
    // the curve keeps hues; what is far too bright goes to white
    if (brightest > toned) {
      out *= toned / brightest;
      const float white = std::min(0.6f, 0.12f * (brightest - toned));
      out += white * (Vec3::Constant(toned) - out);
    }
    return opaqueBytes(encodedByte(out[0]), encodedByte(out[1]), encodedByte(out[2]));
  }
  Vec3 lampShine(const Lit& lit, const Vec3& reflectance, float width) const {
    Vec3 sum = Vec3::Zero();
    for (size_t l = 0; l < kLampCount; ++l) {
      const LitBy::Source& lamp = by_.lamps[l];
      if (lamp.strength.isZero() || lit.open[l + 1] <= 0) continue;
      const auto [shine, away] = mirroredDisc(lit.bent, lit.toViewer, lamp.toward, lamp.size, width);
      const float away2 = away * away;
      const Vec3 fresnel = reflectance + away2 * away2 * away * (Vec3::Ones() - reflectance);
      sum += shine * lit.open[l + 1] * lamp.strength.cwiseProduct(fresnel);
    }
    return sum;
  }
  // What is closed in does not mirror the sky (Lagarde and de Rousiers 2014).
  static float skyMirrored(float open, float cosOut, float width) {
    const float roughness = std::sqrt(width);
    return std::clamp(std::pow(cosOut + open, std::exp2(-16 * roughness - 1)) - 1 + open, 0.f, 1.f);
  }
  // 0…1 of a covering channel.
  template <Channel C>
  float number(const Mixed& m, float bare) const {
    const auto& field = in_.skin->get<C>();
    float sum = 0;
    for (size_t k = 0; k < 3; ++k) {
      const auto& chunk = field.chunk(m.samples[k] / kChunkSize);
      sum += m.weight[k] * (chunk ? from16(chunk->plane[0][m.samples[k] % kChunkSize]) : bare);
    }
    return sum;
  }

  const ShadeInput& in_;
  Lens lens_, lineLens_;
  LitBy by_;
  Harmonics clay_{}, soft_{};  // as brightness
  std::array<float, kLampCount> brightness_{};
  float exposure_;
};

}  // namespace

const std::vector<Rgba16>& falseColors() {
  // so that it can be read without its hues
  static const std::vector<Rgba16> table = rampTable({{0, {0.12f, 0.10f, 0.32f}, 1},
                                                      {0.35f, {0.16f, 0.38f, 0.55f}, 1},
                                                      {0.65f, {0.33f, 0.65f, 0.48f}, 1},
                                                      {1, {0.98f, 0.92f, 0.48f}, 1}},
                                                     256);
  return table;
}

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
  const Shader shader(input, visibility.size);
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
          out[at] = shader.shown(triangle, visibility.weights[at], x, y);
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
