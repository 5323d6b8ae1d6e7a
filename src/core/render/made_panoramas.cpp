// Panoramas this program makes itself: a river under an overcast sky, a low evening sun, soft boxes in a grey
// room, a room with one window.
#include <cmath>
#include <span>

#include "core/render/environment.h"

namespace juvenor {
namespace {

float smooth(float low, float high, float v) {
  const float t = std::clamp((v - low) / (high - low), 0.f, 1.f);
  return t * t * (3 - 2 * t);
}

// Overcast sky (CIE, three times as bright overhead), a band of dark reeds, and the sky again in the water.
Vec3 riverAt(const Vec3& d) {
  const auto sky = [](float up) { return 0.42f * (1 + 2 * std::max(0.f, up)); };
  if (d.y() > 0.06f) return sky(d.y()) * Vec3(0.97f, 1.f, 1.04f);
  if (d.y() > -0.03f) {
    const float ragged = 0.5f + 0.5f * std::sin(31 * std::atan2(d.x(), d.z()));
    return (0.10f + 0.08f * ragged) * Vec3(0.8f, 1.f, 0.72f);
  }
  return 0.45f * sky(-d.y()) * Vec3(0.9f, 1.f, 0.98f);
}

// The sun a hand above the horizon, the sky warm around it and blue across.
Vec3 eveningAt(const Vec3& d) {
  const Vec3 sun = Vec3(0.62f, 0.20f, 0.76f).normalized();
  const float toward = std::max(0.f, d.dot(sun)), up = std::max(0.f, d.y());
  Vec3 out = (0.16f + 0.2f * up) * Vec3(0.72f, 0.86f, 1.2f);
  if (d.y() < 0) out = 0.10f * Vec3(0.9f, 0.8f, 0.7f);
  out += std::pow(toward, 5.f) * 0.9f * Vec3(1.f, 0.62f, 0.34f) * (d.y() < 0 ? 0.3f : 1.f);
  out += smooth(0.985f, 0.996f, toward) * 46.f * Vec3(1.f, 0.66f, 0.36f);
  return out;
}

// A large box high at the left, a strip at the right, a dim one behind, in a grey room with a lighter
// ceiling.
Vec3 roomAt(const Vec3& d) {
  float l = 0.10f + 0.05f * std::max(0.f, d.y());
  const auto box = [&](const Vec3& middle, float wide, float high, float bright) {
    const Vec3 m = middle.normalized(), side = m.cross(Vec3::UnitY()).normalized(), above = side.cross(m);
    const float ahead = d.dot(m);
    if (ahead <= 0) return;
    const float u = std::abs(d.dot(side) / ahead) / wide, v = std::abs(d.dot(above) / ahead) / high;
    l += bright * (1 - smooth(0.92f, 1.06f, u)) * (1 - smooth(0.92f, 1.06f, v));
  };
  box({-0.75f, 0.65f, 0.7f}, 0.5f, 0.62f, 5.5f);
  box({0.95f, 0.15f, 0.35f}, 0.16f, 0.8f, 3.2f);
  box({0.3f, 0.5f, -0.9f}, 0.55f, 0.3f, 2.2f);
  return Vec3(l, l, l);
}

// A high window with bars beside the viewer, a low sky and a bank of trees behind it; plastered walls, a
// wooden floor.
Vec3 windowAt(const Vec3& d) {
  const float up = d.y();
  Vec3 out = up > -0.35f ? Vec3(0.085f, 0.078f, 0.07f) : Vec3(0.06f, 0.045f, 0.032f);
  out *= 1 + 0.5f * std::max(0.f, up);
  const Vec3 middle = Vec3(-0.8f, 0.34f, 0.55f).normalized(), side = middle.cross(Vec3::UnitY()).normalized(),
             above = side.cross(middle);
  const float ahead = d.dot(middle);
  // light along the walls beside it
  out += 0.16f * std::pow(std::max(0.f, ahead), 4.f) * Vec3(0.94f, 0.98f, 1.05f);
  if (ahead <= 0) return out;
  const float u = d.dot(side) / ahead / 0.34f, v = d.dot(above) / ahead / 0.5f;
  const auto within = [](float at, float edge) {
    return 1 - smooth(edge - 0.01f, edge + 0.01f, std::abs(at));
  };
  const float glass = within(u, 1) * within(v, 1) * (1 - within(u, 0.05f)) * (1 - within(v - 0.15f, 0.035f));
  const Vec3 trees(0.7f, 0.85f, 0.55f), sky(6.2f, 6.9f, 7.8f);
  const float bank = smooth(-0.55f, -0.4f, v + 0.07f * std::sin(17 * u) + 0.05f * std::sin(41 * u + 1));
  return out + glass * (bank * sky + (1 - bank) * trees - out);
}

template <Vec3 (*At)(const Vec3&)>
Panorama made(int width) {
  return panoramaOf(At, width);
}

constexpr MadePanorama kMade[] = {{"river", "Overcast river", made<riverAt>},
                                  {"evening", "Low evening sun", made<eveningAt>},
                                  {"room", "Soft boxes", made<roomAt>},
                                  {"window", "Room with a window", made<windowAt>}};

}  // namespace

std::span<const MadePanorama> madePanoramas() {
  return kMade;
}

}  // namespace juvenor
