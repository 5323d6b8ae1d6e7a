// The pictures on the demo board, made from noise: what an artist would have gathered of mud-bank skin, of a
// gill full of blood, and of a cheek that has seen weather.

#include <algorithm>
#include <cmath>

#include "core/color/skin_tone.h"
#include "core/noise/noise.h"
#include "core/parallel.h"
#include "demo/colors.h"
#include "demo/demo.h"
#include "demo/shapes.h"

namespace juvenor::demo {
namespace {

constexpr ViewSize kSize{800, 600};

EncodedColor lit(const EncodedColor& c, float light) {
  return {c.r * light, c.g * light, c.b * light};
}

// `p` in pictures' heights, x to the right, y down.
template <class ColorAt>
DemoPicture drawn(std::string name, ColorAt colorAt) {
  DemoPicture out{std::move(name), kSize, {}};
  out.pixels.resize(static_cast<size_t>(kSize.width) * static_cast<size_t>(kSize.height));
  parallelRows(0, kSize.height, [&](int y) {
    for (int x = 0; x < kSize.width; ++x) {
      const auto unit = static_cast<float>(kSize.height);
      const EncodedColor c = colorAt(Vec3(static_cast<float>(x) / unit, static_cast<float>(y) / unit, 0));
      uint32_t pixel = 0xff;
      for (const float v : {c.r, c.g, c.b})
        pixel = pixel << 8 | static_cast<uint32_t>(std::clamp(v, 0.f, 1.f) * 255.f + 0.5f);
      out.pixels[static_cast<size_t>(y) * static_cast<size_t>(kSize.width) + static_cast<size_t>(x)] = pixel;
    }
  });
  return out;
}

EncodedColor mudBank(const Vec3& p) {
  const Vec3 warped = p + 0.04f * Vec3(fractal(4 * p, 3, 201), fractal(4 * p, 3, 202), 0);
  EncodedColor c = mixed(hex("#8a875c"), hex("#b7a070"), 0.5f + 0.9f * fractal(3 * warped, 3, 203));
  c = mixed(c, hex("#5f6243"), 0.8f * smoothstep(0.1f, 0.6f, fractal(5 * warped, 3, 204)));
  const Cells large = worley(17 * warped, 205), small = worley(44 * warped, 206);
  c = mixed(c, hex("#34311f"), 0.85f * smoothstep(0.36f, 0.26f, large.first));
  c = mixed(c, hex("#dccfa0"), 0.6f * smoothstep(0.24f, 0.16f, small.first));
  const float grain = worley(70 * p, 207).first;
  return lit(c, 0.84f + 0.22f * grain + 0.08f * fractal(30 * p, 2, 208));
}

EncodedColor flushedGill(const Vec3& p) {
  const Vec3 warped = p + 0.03f * Vec3(fractal(5 * p, 3, 211), fractal(5 * p, 3, 212), 0);
  const float comb = 0.5f + 0.5f * std::sin(34 * (warped.x() + 0.35f * warped.y() * warped.y()));
  EncodedColor c = mixed(hex("#7c2f2c"), hex("#cf7466"), std::pow(comb, 0.8f));
  c = mixed(c, hex("#e4aa97"), 0.5f * smoothstep(0.82f, 1, comb));
  const float veins = 1 - std::abs(perlin(9 * warped, 213));
  c = mixed(c, hex("#5a2630"), 0.55f * std::pow(std::max(0.f, veins), 10.f));
  c = mixed(c, hex("#66757a"), 0.6f * smoothstep(0.55f, 1.05f, p.y() + 0.2f * fractal(3 * p, 2, 214)));
  return lit(c, 0.82f + 0.25f * comb + 0.06f * fractal(40 * p, 2, 215));
}

// Skin tones are spectra; a picture takes them from a net of so many places a side, straight in between.
class Tones {
 public:
  Tones() {
    for (int y = 0; y <= kSteps; ++y)
      for (int x = 0; x <= kSteps; ++x)
        tones_[static_cast<size_t>(y * (kSteps + 1) + x)] =
            colorOf({kDark + kDarker * unit(x), kBlood + kMoreBlood * unit(y), 0.3f});
  }
  EncodedColor at(float melanin, float blood) const {
    const float x = std::clamp((melanin - kDark) / kDarker, 0.f, 1.f) * kSteps,
                y = std::clamp((blood - kBlood) / kMoreBlood, 0.f, 1.f) * kSteps;
    const int i = std::min(kSteps - 1, static_cast<int>(x)), j = std::min(kSteps - 1, static_cast<int>(y));
    const float u = x - static_cast<float>(i), v = y - static_cast<float>(j);
    const auto tone = [&](int a, int b) {
      return tones_[static_cast<size_t>((j + b) * (kSteps + 1) + i + a)];
    };
    return mixed(mixed(tone(0, 0), tone(1, 0), u), mixed(tone(0, 1), tone(1, 1), u), v);
  }

 private:
  static constexpr int kSteps = 24;
  static constexpr float kDark = 0.26f, kDarker = 0.14f, kBlood = 0.15f, kMoreBlood = 0.75f;
  static float unit(int i) { return static_cast<float>(i) / kSteps; }
  std::array<EncodedColor, (kSteps + 1) * (kSteps + 1)> tones_;
};

EncodedColor weatheredCheek(const Vec3& p) {
  static const Tones tones;
  const float flush =
      smoothstep(0.75f, 0.1f, (p - Vec3(0.62f, 0.45f, 0)).norm() + 0.18f * fractal(5 * p, 3, 221));
  const float sun = smoothstep(0.1f, 0.7f, fractal(6 * p, 3, 222));
  EncodedColor c = tones.at(0.26f + 0.14f * sun, 0.30f + 0.42f * flush + 0.1f * fractal(14 * p, 2, 223));
  const float capillaries = 1 - std::abs(perlin(18 * p + 0.6f * Vec3(fractal(9 * p, 2, 224), 0, 0), 225));
  c = mixed(c, hex("#9c3f3a"), 0.35f * flush * std::pow(std::max(0.f, capillaries), 14.f));
  const Cells pore = worley(46 * p, 226);
  const float creases = 1 - std::abs(perlin(11 * p, 227));
  return lit(
      c, 1.04f - 0.2f * smoothstep(0.3f, 0.05f, pore.first) - 0.16f * std::pow(std::max(0.f, creases), 12.f));
}

// A window on the left and a little above: bright there, dark toward the other side.
EncodedColor sideLit(const Vec3& p) {
  const float across = p.x() - 0.25f * p.y();
  return lit(weatheredCheek(p), 1.16f - 0.62f * smoothstep(0.05f, 1.25f, across));
}

// The mean over a square of so many pixels each way.
DemoPicture outOfFocus(const DemoPicture& sharp, int reach) {
  DemoPicture out = sharp;
  for (const bool across : {true, false}) {
    const std::vector<uint32_t> before = out.pixels;
    parallelRows(0, sharp.size.height, [&](int y) {
      for (int x = 0; x < sharp.size.width; ++x) {
        std::array<uint32_t, 3> sum{};
        for (int k = -reach; k <= reach; ++k) {
          const int u = std::clamp(across ? x + k : x, 0, sharp.size.width - 1),
                    v = std::clamp(across ? y : y + k, 0, sharp.size.height - 1);
          const uint32_t p =
              before[static_cast<size_t>(v) * static_cast<size_t>(sharp.size.width) + static_cast<size_t>(u)];
          for (size_t c = 0; c < 3; ++c) sum[c] += p >> (16 - 8 * c) & 255;
        }
        uint32_t pixel = 0xff;
        for (const uint32_t s : sum) pixel = pixel << 8 | s / static_cast<uint32_t>(2 * reach + 1);
        out.pixels[static_cast<size_t>(y) * static_cast<size_t>(sharp.size.width) + static_cast<size_t>(x)] =
            pixel;
      }
    });
  }
  return out;
}

}  // namespace

std::vector<DemoPicture> boardPictures() {
  DemoPicture gill = drawn("flushed gill", flushedGill), blurred = outOfFocus(gill, 9);
  blurred.name = "gill, out of focus";
  return {drawn("mud-bank skin", mudBank), std::move(gill), drawn("weathered cheek", weatheredCheek),
          drawn("cheek, lit from the left", sideLit), std::move(blurred)};
}

}  // namespace juvenor::demo
