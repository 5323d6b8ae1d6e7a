// Pixels from visibility: what each view shows of the three samples of a pixel by their weights, as linear
// light (skin_shader.h), with what lies over it (over_skin.h).

#include <algorithm>
#include <atomic>

#include "core/parallel.h"
#include "core/render/edge_average.h"
#include "core/render/fibre_shader.h"
#include "core/render/hair_seen.h"
#include "core/render/over_skin.h"
#include "core/render/skin_shader.h"

namespace juvenor {
namespace {

class Shader {
 public:
  Shader(const ShadeInput& input, const ViewSize& size)
      : in_(input),
        lens_(input.camera, input.whole.value_or(size)),
        over_(input, size),
        skin_(input, lens_),
        fibres_(input, lens_),
        toning_(toningOf(input)),
        background_(untoned(input.background, toning_)) {}

  // Of a row of pixels, in order: those `other` says no to show skin, and `skin` gets their light with what
  // lies over them. Both take the pixel's number and its x.
  template <class Other, class Skin>
  void row(const VisibilityImage& visibility, const PixelRect& rect, int y, Other other, Skin skin) const {
    const size_t line = static_cast<size_t>(y) * static_cast<size_t>(visibility.size.width);
    Some some;
    const auto shade = [&] {
      lightOf(some);
      for (size_t i = 0; i < some.count; ++i)
        skin(line + static_cast<size_t>(some.x[i]), some.x[i],
             withOver(some.light[i], visibility, line, some.x[i], y));
      some.count = 0;
    };
    for (int x = rect.left; x < rect.right; ++x) {
      const size_t at = line + static_cast<size_t>(x);
      expect(visibility, at);
      if (other(at, x)) continue;
      some.x[some.count] = x;
      some.places[some.count++] = mixedOf(visibility, at);
      if (some.count == kMost) shade();
    }
    shade();
  }
  // Flat colours with nothing over them are what they are: no light is made of them and toned back.
  bool plain() const { return in_.view == View::Flat && !over_.any(); }
  uint32_t colors(const VisibilityImage& visibility, size_t at) const {
    uint32_t out = 0xff;
    for (const float c : encodedAt(*in_.skin, mixedOf(visibility, at)))
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
    if (!in_.parts.hair) return Vec3(Vec3::Zero());
    return fibres_.light(fibre.segment, from16(fibre.along));
  }
  Vec3 behind(size_t at) const { return in_.behind.empty() ? background_ : untoned(in_.behind[at], toning_); }
  Toning toning() const { return toning_; }

 private:
  static constexpr size_t kMost = ShinePlaces::kMost;
  // Pixels of a row that are shaded together.
  struct Some {
    std::array<int, kMost> x;
    std::array<Mixed, kMost> places;
    std::array<Vec3, kMost> light;
    size_t count = 0;
  };
  Mixed mixedOf(const VisibilityImage& visibility, size_t at) const {
    const auto& [u, v] = visibility.weights[at];
    return mixedAt(*in_.surface, visibility.triangle[at], from16(u), from16(v));
  }
  void lightOf(Some& some) const {
    if (some.count == 0) return;
    if (in_.view == View::Skin && !over_.covers())
      return skin_.skin(std::span(some.places).first(some.count), some.light);
    for (size_t i = 0; i < some.count; ++i)
      some.light[i] = over_.covers() ? Vec3(Vec3::Zero()) : lightOf(some.places[i]);
  }
  Vec3 withOver(const Vec3& below, const VisibilityImage& visibility, size_t line, int x, int y) const {
    if (!over_.any()) return below;
    const size_t at = line + static_cast<size_t>(x);
    const uint32_t bytes = toned(below, toning_, x, y),
                   with = over_.over(bytes, visibility.triangle[at], visibility.weights[at], x, y);
    return with == bytes ? below : untoned(with, toning_);
  }
  Vec3 lightOf(const Mixed& m) const {
    switch (in_.view) {
      case View::Value:
        return Vec3::Constant(linearAt(*in_.skin, m).dot(Vec3(0.2126f, 0.7152f, 0.0722f)));
      case View::Channel:
        return in_.channel.channel == Channel::Color ? linearAt(*in_.skin, m) : ofChannel(m);
      case View::Clay:
        return skin_.clay(m);
      case View::Skin:
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
  Vec3 background_;
};

// Hands every row of the rectangle to `shadeRow(rect, y)`, on all cores.
template <class ShadeRow>
bool eachRow(const VisibilityImage& visibility, const PixelRect& wanted, const std::function<bool()>& stop,
             ShadeRow shadeRow) {
  const PixelRect rect = wanted.clipped(visibility.size);
  if (rect.empty()) return true;
  std::atomic<bool> stopped = false;
  parallelStretches(0, static_cast<size_t>(rect.bottom - rect.top), 8, [&](size_t begin, size_t end) {
    if (!stopped && stop && stop()) stopped = true;
    if (stopped) return;
    for (size_t y = begin; y < end; ++y) shadeRow(rect, rect.top + static_cast<int>(y));
  });
  return !stopped;
}

}  // namespace

Toning toningOf(const ShadeInput& input) {
  return input.view < View::Clay ? Toning::Plain : Toning::Light;
}

bool shade(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& rect,
           std::span<uint32_t> out, const std::function<bool()>& stop) {
  const Shader shader(input, visibility.size);
  const bool plain = shader.plain();
  return eachRow(visibility, rect, stop, [&](const PixelRect& all, int y) {
    const auto other = [&](size_t at, int x) {
      if (const auto fibre = shader.hair(visibility, at))
        out[at] = toned(*fibre, shader.toning(), x, y);
      else if (visibility.triangle[at] == kNone)
        out[at] = input.behind.empty() ? input.background : input.behind[at];
      else if (plain)
        out[at] = shader.colors(visibility, at);
      else
        return false;
      return true;
    };
    shader.row(visibility, all, y, other,
               [&](size_t at, int x, const Vec3& light) { out[at] = toned(light, shader.toning(), x, y); });
  });
}

bool shadeLight(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& rect,
                std::span<Vec3> out, const std::function<bool()>& stop) {
  const Shader shader(input, visibility.size);
  return eachRow(visibility, rect, stop, [&](const PixelRect& all, int y) {
    const auto other = [&](size_t at, int) {
      if (const auto fibre = shader.hair(visibility, at))
        out[at] = *fibre;
      else if (visibility.triangle[at] == kNone)
        out[at] = shader.behind(at);
      else
        return false;
      return true;
    };
    shader.row(visibility, all, y, other, [&](size_t at, int, const Vec3& light) { out[at] = light; });
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
