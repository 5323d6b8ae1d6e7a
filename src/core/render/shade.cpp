// Pixels from visibility: what each view shows of the three samples of a pixel by their weights, as linear
// light (skin_shader.h), with what lies over it (over_skin.h).
#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>

#include "core/render/edge_average.h"
#include "core/render/fibre_shader.h"
#include "core/render/hair_seen.h"
#include "core/render/over_skin.h"
#include "core/render/skin_shader.h"

namespace juvenor {
namespace {

constexpr std::array<std::string_view, 5> kViews{"flat", "value", "channel", "clay", "skin"};

class Shader {
 public:
  Shader(const ShadeInput& input, const ViewSize& size)
      : in_(input),
        lens_(input.camera, size),
        over_(input, size),
        skin_(input, lens_),
        fibres_(input, lens_),
        toning_(toningOf(input)) {}

  // The light of a pixel with what lies over the skin.
  Vec3 shown(uint32_t triangle, const std::array<uint16_t, 2>& weights, int x, int y) const {
    const Vec3 below = over_.covers() ? Vec3(Vec3::Zero()) : pixel(triangle, weights);
    if (!over_.any()) return below;
    const uint32_t bytes = toned(below, toning_, x, y), with = over_.over(bytes, triangle, weights, x, y);
    return with == bytes ? below : untoned(with, toning_);
  }
  // Flat colours with nothing over them are what they are: no light is made of them and toned back.
  bool plain() const { return in_.view == View::Flat && !over_.any(); }
  uint32_t colors(uint32_t triangle, const std::array<uint16_t, 2>& weights) const {
    uint32_t out = 0xff;
    for (const float c :
         encodedAt(*in_.skin, mixedAt(*in_.surface, triangle, from16(weights[0]), from16(weights[1]))))
      out = out << 8 | static_cast<uint32_t>(c * (255.f / 65535) + 0.5f);
    return out;
  }
  // What pixels soon to come show is asked of the memory ahead of them: neighbouring pixels show places that
  // lie far apart in it, and waiting for each took more of the time than shading it.
  void expect(const VisibilityImage& visibility, size_t at) const {
    constexpr size_t kTriangles = 24, kSamples = 10;
    const auto& shown = visibility.triangle;
    if (at + kTriangles < shown.size() && shown[at + kTriangles] != kNone)
      __builtin_prefetch(&in_.surface->triangles[shown[at + kTriangles]]);
    if (at + kSamples < shown.size() && shown[at + kSamples] != kNone)
      for (const uint32_t s : in_.surface->triangles[shown[at + kSamples]]) expectSample(s);
  }
  // That of a fibre, where one stands before a pixel.
  std::optional<Vec3> hair(const VisibilityImage& visibility, size_t at) const {
    if (!in_.hair || in_.view != View::Skin || visibility.fibre.empty()) return std::nullopt;
    const FibreAt& fibre = visibility.fibre[at];
    if (fibre.segment == kNone) return std::nullopt;
    return fibres_.light(fibre.segment, from16(fibre.along));
  }
  Vec3 behind(size_t at) const {
    return untoned(in_.behind.empty() ? in_.background : in_.behind[at], toning_);
  }
  Toning toning() const { return toning_; }

 private:
  Vec3 pixel(uint32_t triangle, const std::array<uint16_t, 2>& weights) const {
    const Mixed m = mixedAt(*in_.surface, triangle, from16(weights[0]), from16(weights[1]));
    switch (in_.view) {
      case View::Value:
        return Vec3::Constant(linearAt(*in_.skin, m).dot(Vec3(0.2126f, 0.7152f, 0.0722f)));
      case View::Channel:
        return in_.channel.channel == Channel::Color ? linearAt(*in_.skin, m) : ofChannel(m);
      case View::Clay:
        return skin_.clay(m);
      case View::Skin:
        return skin_.skin(m);
      case View::Flat:
        break;
    }
    return linearAt(*in_.skin, m);
  }
  void expectSample(uint32_t s) const {
    const size_t chunk = s / kChunkSize, within = s % kChunkSize;
    if (const auto& color = in_.skin->color().chunk(chunk))
      for (size_t p = 0; p < 3; ++p) __builtin_prefetch(&color->plane[p][within]);
    if (in_.view < View::Clay) return;
    __builtin_prefetch(&in_.surface->positions[s]);
    __builtin_prefetch(&in_.surface->normals[s]);
    __builtin_prefetch(&in_.surface->areas[s]);
    if (const auto& gloss = in_.skin->get<Channel::Gloss>().chunk(chunk))
      __builtin_prefetch(&gloss->plane[0][within]);
    if (in_.relief)
      if (const auto* bent = in_.relief->chunk(chunk)) __builtin_prefetch(&(*bent)[within]);
    if (in_.lighting) return in_.lighting->expect(s);
    if (!in_.lit.empty()) __builtin_prefetch(&in_.lit[s]);
    if (!in_.open.empty()) __builtin_prefetch(&in_.open[s]);
  }
  Vec3 ofChannel(const Mixed& m) const {
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
    return untoned(toldAs(std::clamp(v, 0.f, 1.f), in_.channel.falseColor), Toning::Plain);
  }

  const ShadeInput& in_;
  Lens lens_;
  OverSkin over_;
  SkinShader skin_;
  FibreShader fibres_;
  Toning toning_;
};

// Hands every pixel of the rectangle to `put(index, x, y)`, on all cores.
template <class Put>
bool eachPixel(const VisibilityImage& visibility, const PixelRect& wanted, const std::function<bool()>& stop,
               Put put) {
  const PixelRect rect = wanted.clipped(visibility.size);
  if (rect.empty()) return true;
  std::atomic<bool> stopped = false;
  tbb::parallel_for(tbb::blocked_range<int>(rect.top, rect.bottom, 8), [&](const auto& rows) {
    if (!stopped && stop && stop()) stopped = true;
    if (stopped) return;
    for (int y = rows.begin(); y < rows.end(); ++y) {
      const size_t line = static_cast<size_t>(y) * static_cast<size_t>(visibility.size.width);
      for (int x = rect.left; x < rect.right; ++x) put(line + static_cast<size_t>(x), x, y);
    }
  });
  return !stopped;
}

}  // namespace

std::string_view viewKey(View view) {
  return kViews[static_cast<size_t>(view)];
}

std::optional<View> viewFromKey(std::string_view key) {
  for (size_t i = 0; i < kViews.size(); ++i)
    if (kViews[i] == key) return static_cast<View>(i);
  return std::nullopt;
}

Toning toningOf(const ShadeInput& input) {
  return input.view < View::Clay ? Toning::Plain : Toning::Light;
}

bool shade(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& rect,
           std::span<uint32_t> out, const std::function<bool()>& stop) {
  const Shader shader(input, visibility.size);
  const bool plain = shader.plain();
  return eachPixel(visibility, rect, stop, [&](size_t at, int x, int y) {
    shader.expect(visibility, at);
    const uint32_t triangle = visibility.triangle[at];
    if (const auto fibre = shader.hair(visibility, at))
      out[at] = toned(*fibre, shader.toning(), x, y);
    else if (triangle == kNone)
      out[at] = input.behind.empty() ? input.background : input.behind[at];
    else if (plain)
      out[at] = shader.colors(triangle, visibility.weights[at]);
    else
      out[at] = toned(shader.shown(triangle, visibility.weights[at], x, y), shader.toning(), x, y);
  });
}

bool shadeLight(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& rect,
                std::span<Vec3> out, const std::function<bool()>& stop) {
  const Shader shader(input, visibility.size);
  return eachPixel(visibility, rect, stop, [&](size_t at, int x, int y) {
    shader.expect(visibility, at);
    const uint32_t triangle = visibility.triangle[at];
    if (const auto fibre = shader.hair(visibility, at))
      out[at] = *fibre;
    else
      out[at] = triangle == kNone ? shader.behind(at) : shader.shown(triangle, visibility.weights[at], x, y);
  });
}

std::vector<uint32_t> picture(const Rays& rays, const ShadeInput& shown, const ViewSize& size,
                              const std::set<uint32_t>& hidden, int smooth) {
  ShadeInput input = shown;
  const size_t n = static_cast<size_t>(size.width) * static_cast<size_t>(size.height);
  std::vector<uint32_t> out(n);
  std::vector<Vec3> light(n);
  VisibilityImage visibility;
  EdgeAverage edges;
  for (int pass = 0; pass < smooth; ++pass) {
    castVisibility(rays, input.camera, size, jitterOf(pass), hidden, visibility);
    if (input.hair)
      castHair(*input.hair, *input.surface, input.camera, jitterOf(pass), {0, 0, size.width, size.height},
               visibility);
    input.turn = static_cast<uint32_t>(pass);
    shadeLight(input, visibility, {0, 0, size.width, size.height}, light);
    edges.add(light, size, toningOf(input), out);
  }
  return out;
}

}  // namespace juvenor
