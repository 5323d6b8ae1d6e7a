#include "core/brush/made_stamps.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>
#include <numbers>

#include "core/noise/noise.h"
#include "core/parallel.h"
#include "core/seeded.h"
#include "core/surface/falloff.h"

namespace juvenor {
namespace {

constexpr int kEdge = 512;
constexpr uint64_t kSeed = 20260;

// A drawing in −1…1 on both axes: how much is laid, and how high it stands. Coverage is kept as the largest
// of what was drawn at a place.
class Drawing {
 public:
  Drawing() : shape_(static_cast<size_t>(kEdge * kEdge)), height_(shape_.size()) {}

  /// Calls `f(place, shape, height)` for every pixel.
  template <class F>
  void each(F f) {
    parallel(
        shape_.size(),
        [&](size_t i) {
          const auto x = static_cast<float>(i % kEdge), y = static_cast<float>(i / kEdge);
          f(Vec2(2 * (x + 0.5f) / kEdge - 1, 1 - 2 * (y + 0.5f) / kEdge), shape_[i], height_[i]);
        },
        kEdge);
  }
  /// A round mark, soft at its rim.
  void dot(const Vec2& at, float radius, float strength, float hardness, float ragged = 0,
           uint32_t seed = 0) {
    within(at, radius * (1 + ragged), [&](const Vec2& p, float& shape) {
      const Vec2 away = (p - at) / radius;
      const float rim = ragged > 0 ? 1 + ragged * fractal({2 * away.x(), 2 * away.y(), 0.5f}, 2, seed) : 1.f;
      shape = std::max(shape, strength * falloff(away.norm() / std::max(rim, 0.2f), hardness));
    });
  }
  /// A line from a to b, thinning from one width to the other.
  void line(const Vec2& a, const Vec2& b, float from, float to, float strength) {
    const Vec2 way = b - a;
    const float length2 = std::max(way.squaredNorm(), 1e-12f), most = std::max(from, to);
    within(0.5f * (a + b), 0.5f * way.norm() + most, [&](const Vec2& p, float& shape) {
      const float t = std::clamp((p - a).dot(way) / length2, 0.f, 1.f);
      const float width = std::max(0.004f, from + t * (to - from));
      shape = std::max(shape, strength * falloff((p - a - t * way).norm() / width, 0.3f));
    });
  }
  /// A bent hair or vein of short lines; calls itself no further.
  void curve(Vec2 at, float turn, float length, float width, float bend, float strength, Draws& draws,
             float thin = 0.1f) {
    constexpr int kParts = 10;
    for (int i = 0; i < kParts; ++i) {
      const float part = static_cast<float>(i) / kParts;
      turn += bend * draws.around() / kParts * 4;
      const Vec2 next = at + length / kParts * Vec2(std::cos(turn), std::sin(turn));
      line(at, next, width * (1 - (1 - thin) * part), width * (1 - (1 - thin) * (part + 1.f / kParts)),
           strength);
      at = next;
    }
  }
  Stamp finished(std::string name, bool relief) const {
    StampLevel level;
    level.width = level.height = kEdge;
    for (size_t i = 0; i < shape_.size(); ++i) {
      level.shape.push_back(to16(std::clamp(shape_[i], 0.f, 1.f)));
      if (relief)
        level.relief.push_back(
            static_cast<uint16_t>(std::lround(32768 + 32767 * std::clamp(height_[i], -1.f, 1.f))));
    }
    return Stamp(std::move(name), std::move(level));
  }

 private:
  template <class F>
  void within(const Vec2& middle, float reach, F f) {
    const auto pixel = [](float v) {
      return std::clamp(static_cast<int>((v + 1) / 2 * kEdge), 0, kEdge - 1);
    };
    const int x1 = pixel(middle.x() + reach), y1 = pixel(reach - middle.y());
    for (int y = pixel(-middle.y() - reach); y <= y1; ++y)
      for (int x = pixel(middle.x() - reach); x <= x1; ++x) {
        const Vec2 p(2 * (static_cast<float>(x) + 0.5f) / kEdge - 1,
                     1 - 2 * (static_cast<float>(y) + 0.5f) / kEdge);
        f(p, shape_[static_cast<size_t>(y * kEdge + x)]);
      }
  }

  std::vector<float> shape_, height_;
};

Vec3 up(const Vec2& p, float z = 0.3f) {
  return {p.x(), p.y(), z};
}

// Full in the middle, gone before the picture's edge, along a rim that is not round.
float patch(const Vec2& p, uint32_t seed) {
  return falloff(p.norm() * (1.08f + 0.22f * fractal(1.7f * up(p), 3, seed)), 0.45f);
}

float step(float low, float high, float v) {
  const float t = std::clamp((v - low) / (high - low), 0.f, 1.f);
  return t * t * (3 - 2 * t);
}

// What follows from a seed is drawn one by one throughout: which argument of a call is worked out first is
// the compiler's choice.
Vec2 anywhere(Draws& draws) {
  const float y = draws.around(), x = draws.around();
  return {x, y};
}

// Dots that keep their distance.
template <class F>
void scattered(Draws& draws, int count, float distance, F f) {
  std::vector<Vec2> taken;
  for (int tries = 0; tries < 40 * count && static_cast<int>(taken.size()) < count; ++tries) {
    const Vec2 at = anywhere(draws);
    if (at.norm() > 0.93f) continue;
    if (std::ranges::any_of(taken, [&](const Vec2& t) { return (t - at).norm() < distance; })) continue;
    taken.push_back(at);
    f(at);
  }
}

void pores(Drawing& d, Draws& draws) {
  scattered(draws, 700, 0.045f, [&](const Vec2& at) {
    const uint64_t rim = draws.bits();
    const float strength = 0.45f + 0.55f * draws.unit(), size = 0.012f + 0.012f * draws.unit();
    d.dot(at, size, strength * patch(at, 3), 0.2f, 0.5f, static_cast<uint32_t>(rim));
  });
  d.each([](const Vec2&, float& shape, float& height) { height = -shape; });
}

void freckles(Drawing& d, Draws& draws) {
  scattered(draws, 260, 0.05f, [&](const Vec2& at) {
    const float size = draws.unit();
    const uint64_t rim = draws.bits();
    const float strength = 0.35f + 0.65f * draws.unit();
    d.dot(at, 0.012f + 0.045f * size * size * size, strength * patch(at, 5), 0.35f, 0.7f,
          static_cast<uint32_t>(rim));
  });
}

void splotches(Drawing& d, Draws&) {
  d.each([](const Vec2& p, float& shape, float&) {
    const float n = fractal(2.6f * up(p), 4, 21), fine = fractal(11.f * up(p), 3, 22);
    shape = patch(p, 6) * step(0.02f, 0.3f, n + 0.22f * fine);
  });
}

void powder(Drawing& d, Draws& draws) {
  for (int i = 0; i < 9000; ++i) {
    const float turn = 3.1416f * draws.around(), away = std::sqrt(draws.unit());
    const Vec2 at(away * std::cos(turn), away * std::sin(turn));
    const float strength = draws.unit(), size = 0.004f + 0.006f * draws.unit();
    d.dot(at, size, strength * (1 - away * away), 0.1f);
  }
}

void sponge(Drawing& d, Draws&) {
  d.each([](const Vec2& p, float& shape, float& height) {
    const Vec3 bent =
        9.f * up(p) + 0.9f * Vec3(fractal(4.f * up(p), 2, 31), fractal(4.f * up(p, 5), 2, 32), 0);
    const Cells c = worley(bent, 33);
    const float holes = step(0.25f, 0.6f, c.first + 0.35f * fractal(5.f * up(p), 3, 34));
    shape = patch(p, 7) * (1 - holes) * (0.55f + 0.45f * step(-0.4f, 0.5f, fractal(24.f * up(p), 2, 35)));
    height = 0.6f * shape;
  });
}

void crackle(Drawing& d, Draws&) {
  d.each([](const Vec2& p, float& shape, float& height) {
    const Vec3 bent =
        6.f * up(p) + 0.35f * Vec3(fractal(9.f * up(p), 3, 41), fractal(9.f * up(p, 5), 3, 42), 0);
    const Cells c = worley(bent, 43);
    const float gap = 0.035f + 0.05f * (0.5f + 0.5f * fractal(2.f * up(p), 2, 44));
    shape = patch(p, 8) * (1 - step(0.f, gap * 2, c.second - c.first));
    height = -shape;
  });
}

void branch(Drawing& d, Draws& draws, Vec2 at, float turn, float length, float width, int depth) {
  constexpr int kParts = 14;
  for (int i = 0; i < kParts; ++i) {
    turn += 0.42f * draws.around();
    const Vec2 next = at + length / kParts * Vec2(std::cos(turn), std::sin(turn));
    const float strength = std::max(0.f, std::min(1.f, 4 * (1 - next.norm())));
    d.line(at, next, width, width * 0.96f, strength);
    width *= 0.96f;
    at = next;
    if (depth > 0 && draws.unit() < 0.24f) {
      const float side = draws.unit() < 0.5f ? 1.f : -1.f, bend = 0.45f + 0.5f * draws.unit();
      branch(d, draws, at, turn + side * bend, length * 0.55f, width * 0.66f, depth - 1);
    }
  }
}

void veins(Drawing& d, Draws& draws) {
  branch(d, draws, {-0.95f, -0.12f}, 0.1f, 1.9f, 0.03f, 3);
}

void scratch(Drawing& d, Draws& draws) {
  for (int i = 0; i < 5; ++i) {
    const float y = 0.16f * draws.around();
    const float length = 1.3f + 0.5f * draws.unit(), turn = 0.05f * draws.around(),
                x = -0.92f + 0.25f * draws.unit();
    d.curve({x, y}, turn, length, i == 0 ? 0.02f : 0.008f, 0.3f, i == 0 ? 1.f : 0.55f, draws, 0.2f);
  }
  d.each([](const Vec2& p, float& shape, float& height) {
    shape *= step(-0.45f, 0.1f, fractal({7 * p.x(), 30 * p.y(), 0.4f}, 3, 51));
    height = -shape;
  });
}

void scar(Drawing& d, Draws&) {
  d.each([](const Vec2& p, float& shape, float& height) {
    const float middle = 0.08f * fractal({1.6f * p.x(), 0, 1.3f}, 2, 61);
    const float width = 0.1f * (1 - p.x() * p.x()) * (1 + 0.35f * fractal({6 * p.x(), 0, 2.3f}, 2, 62));
    const float across = width > 0.004f ? std::abs(p.y() - middle) / width : 9.f;
    const float length = step(0.f, 0.12f, 0.92f - std::abs(p.x()));
    const float rough = 0.25f * fractal(14.f * up(p), 3, 63);
    shape = length * falloff(across, 0.35f) * (0.8f + rough);
    // a smooth raised cord with stitches of pulled skin beside it
    const float pull =
        std::exp(-std::pow((across - 1.2f) / 0.5f, 2.f)) * (0.5f + 0.5f * std::sin(46 * p.x()));
    height = length * (falloff(across, 0.1f) * (0.7f + rough) - 0.45f * pull);
    shape = std::max(shape, 0.35f * length * pull);
  });
}

void stubble(Drawing& d, Draws& draws) {
  scattered(draws, 420, 0.05f, [&](const Vec2& at) {
    if (draws.unit() > patch(at, 9)) return;
    const float strength = 0.5f + 0.5f * draws.unit(), length = 0.03f + 0.035f * draws.unit(),
                turn = -1.35f + 0.35f * draws.around();
    d.curve(at, turn, length, 0.0085f, 0.3f, strength, draws, 0.5f);
  });
  d.each([](const Vec2&, float& shape, float& height) { height = 0.5f * shape; });
}

void lipCracks(Drawing& d, Draws& draws) {
  for (int i = 0; i < 26; ++i) {
    const float x = -0.92f + 1.84f * (static_cast<float>(i) + 0.4f * draws.around()) / 25;
    const float start = 0.75f * (0.55f + 0.45f * draws.unit());
    const float strength = 0.45f + 0.55f * draws.unit(), width = 0.014f + 0.016f * draws.unit(),
                length = 0.7f + 0.3f * draws.unit(), turn = -1.57f + 0.16f * draws.around();
    d.curve({x, start}, turn, start * 2 * length, width, 0.35f, strength * step(0, 0.3f, 1 - std::abs(x)),
            draws, 0.15f);
  }
  d.each([](const Vec2& p, float& shape, float& height) {
    shape *= step(0.f, 0.25f, 0.95f - std::abs(p.y()));
    height = -shape;
  });
}

void browHairs(Drawing& d, Draws& draws) {
  for (int i = 0; i < 60; ++i) {
    const float y = -0.34f + 0.5f * draws.unit(), x = -0.8f + 1.4f * draws.unit(),
                strength = 0.5f + 0.5f * draws.unit(), width = 0.009f + 0.008f * draws.unit(),
                length = 0.32f + 0.25f * draws.unit(), turn = 0.5f + 0.3f * draws.around() - 0.35f * y;
    d.curve({x, y}, turn, length, width, 0.35f, strength, draws);
  }
  d.each([](const Vec2&, float& shape, float& height) { height = 0.7f * shape; });
}

void drops(Drawing& d, Draws& draws) {
  scattered(draws, 46, 0.14f, [&](const Vec2& at) {
    const float size = 0.03f + 0.06f * draws.unit() * draws.unit();
    d.dot(at, size, patch(at, 10) > 0.1f ? 1.f : 0.f, 0.75f, 0.2f, static_cast<uint32_t>(draws.bits()));
  });
  d.each([](const Vec2&, float& shape, float& height) { height = std::sqrt(shape); });
}

void nail(Drawing& d, Draws&) {
  d.each([](const Vec2& p, float& shape, float& height) {
    const float x = p.x() / 0.62f, y = p.y() / 0.85f;
    const float rim = std::pow(std::pow(std::abs(x), 3.f) + std::pow(std::abs(y), 3.f), 1 / 3.f);
    const float ridges = 0.06f * perlin({9 * p.x(), 0.7f * p.y(), 0.5f}, 71);
    shape = falloff(rim, 0.93f) * (0.9f + ridges);
    height = falloff(rim, 0.8f) * (0.55f + 0.45f * std::sqrt(std::max(0.f, 1 - x * x)) + ridges);
  });
}

void dirt(Drawing& d, Draws& draws) {
  d.each([](const Vec2& p, float& shape, float&) {
    const float n = fractal(3.f * up(p), 5, 81), grain = fractal(30.f * up(p), 2, 82);
    shape = patch(p, 11) * step(-0.1f, 0.65f, n + 0.35f * grain) * 0.8f;
  });
  for (int i = 0; i < 320; ++i) {
    const Vec2 at = anywhere(draws);
    const float size = draws.unit();
    const uint64_t rim = draws.bits();
    const float strength = draws.unit();
    d.dot(at, 0.005f + 0.018f * size * size, patch(at, 12) * strength, 0.4f, 0.8f,
          static_cast<uint32_t>(rim));
  }
}

void dots(Drawing& d, Draws& draws) {
  scattered(draws, 90, 0.15f, [&](const Vec2& at) { d.dot(at, 0.045f + 0.02f * draws.around(), 1, 0.8f); });
}

struct Maker {
  MadeStamp stamp;
  void (*draw)(Drawing&, Draws&);
  bool relief;
};

constexpr Maker kMakers[] = {{{"pores", "Pores"}, pores, true},
                             {{"freckles", "Fine freckles"}, freckles, false},
                             {{"splotches", "Splotches"}, splotches, false},
                             {{"powder", "Powder"}, powder, false},
                             {{"sponge", "Sponge"}, sponge, true},
                             {{"crackle", "Crackle"}, crackle, true},
                             {{"veins", "Veins"}, veins, false},
                             {{"scratch", "Scratch"}, scratch, true},
                             {{"scar", "Scar"}, scar, true},
                             {{"stubble", "Stubble"}, stubble, true},
                             {{"lip cracks", "Lip cracks"}, lipCracks, true},
                             {{"brow hairs", "Brow hairs"}, browHairs, true},
                             {{"drops", "Drops"}, drops, true},
                             {{"nail", "Nail"}, nail, true},
                             {{"dirt", "Dirt"}, dirt, false},
                             {{"dots", "Dots"}, dots, false}};

constexpr auto kList = [] {
  std::array<MadeStamp, std::size(kMakers)> out{};
  for (size_t i = 0; i < out.size(); ++i) out[i] = kMakers[i].stamp;
  return out;
}();

}  // namespace

std::span<const MadeStamp> madeStamps() {
  return kList;
}

StampPointer madeStamp(std::string_view key) {
  const auto maker = std::ranges::find_if(kMakers, [&](const Maker& m) { return m.stamp.key == key; });
  if (maker == std::end(kMakers)) return nullptr;
  static std::mutex making;
  static std::map<std::string_view, StampPointer> made;
  const std::lock_guard hold(making);
  StampPointer& kept = made[maker->stamp.key];
  if (kept) return kept;
  Drawing drawing;
  Draws draws(kSeed, static_cast<uint64_t>(maker - std::begin(kMakers)) + 1);
  maker->draw(drawing, draws);
  kept = std::make_shared<Stamp>(drawing.finished(std::string(key), maker->relief));
  return kept;
}

}  // namespace juvenor
