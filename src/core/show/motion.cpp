#include "core/show/motion.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace juvenor {
namespace {

constexpr std::array<std::string_view, 4> kMotions{"sculpt", "light", "camera", "flight"};

float mixed(float a, float b, float at) {
  return a + at * (b - a);
}

// Degrees along the shorter way round.
float mixedAngle(float a, float b, float at) {
  return a + at * std::remainder(b - a, 360.f);
}

Camera goneRound(Camera camera, const Vec3& middle, float degrees) {
  const Eigen::Quaternionf turn(Eigen::AngleAxisf(degrees * std::numbers::pi_v<float> / 180, Vec3::UnitY()));
  camera.turn = (turn * camera.turn).normalized();
  camera.target = middle + turn * (camera.target - middle);
  return camera;
}

Camera between(const Camera& a, const Camera& b, float at) {
  Camera out = at < 0.5f ? a : b;
  out.target = a.target + at * (b.target - a.target);
  out.distance = std::exp(mixed(std::log(a.distance), std::log(b.distance), at));
  out.turn = a.turn.slerp(at, b.turn);
  out.fieldOfView = mixed(a.fieldOfView, b.fieldOfView, at);
  return out;
}

Light between(const Light& a, const Light& b, float at) {
  Light out = at < 0.5f ? a : b;
  out.exposure = mixed(a.exposure, b.exposure, at);
  out.depth = mixed(a.depth, b.depth, at);
  if (a.kind != b.kind) return out;
  out.dial = mixedAngle(a.dial, b.dial, at);
  out.patch = mixed(a.patch, b.patch, at);
  out.brightness = mixed(a.brightness, b.brightness, at);
  for (size_t l = 0; l < kLampCount; ++l) {
    const Lamp &from = a.lamps[l], &to = b.lamps[l];
    Lamp& lamp = out.lamps[l];
    lamp.around = mixedAngle(from.around, to.around, at);
    lamp.up = mixed(from.up, to.up, at);
    lamp.size = mixed(from.size, to.size, at);
    lamp.kelvin = mixed(from.kelvin, to.kelvin, at);
    // a lamp that goes on or off does so by and by
    lamp.strength = mixed(from.on ? from.strength : 0, to.on ? to.strength : 0, at);
    lamp.on = from.on || to.on;
  }
  return out;
}

}  // namespace

std::string_view motionKey(Motion motion) {
  return kMotions[static_cast<size_t>(motion)];
}

std::optional<Motion> motionFromKey(std::string_view key) {
  const auto found = std::ranges::find(kMotions, key);
  if (found == kMotions.end()) return std::nullopt;
  return static_cast<Motion>(found - kMotions.begin());
}

int frameCount(const FilmTime& time) {
  return std::max(2, static_cast<int>(std::lround(time.seconds * static_cast<float>(time.perSecond))));
}

Outcome checkedTime(const FilmTime& time, size_t cameras) {
  if (time.perSecond < kSlowestFilm || time.perSecond > kFastestFilm)
    return Error{fmt::format("a film has from {} to {} pictures a second", kSlowestFilm, kFastestFilm)};
  if (!(time.seconds > 0) || time.seconds > kLongestFilm)
    return Error{fmt::format("a film lasts up to {} seconds", kLongestFilm)};
  if (time.motion == Motion::Flight && cameras < 2)
    return Error{"A flight goes from one camera to another: keep two or more first."};
  return Done{};
}

bool lightMoves(const FilmTime& time) {
  return time.motion != Motion::Camera;
}

Look between(const Look& a, const Look& b, float at) {
  Look out = at < 0.5f ? a : b;
  out.camera = between(a.camera, b.camera, at);
  out.light = between(a.light, b.light, at);
  // what is sharp goes over too; a wide opening goes through none as the reciprocal of its number
  const auto open = [](const Focus& f) { return f.aperture > 0 ? 1 / f.aperture : 0; };
  const float opening = mixed(open(a.focus), open(b.focus), at);
  out.focus.aperture = opening > 1 / kNarrowestAperture ? 1 / opening : 0;
  out.focus.sharp = a.focus.sharp.value_or(a.camera.target) +
                    at * (b.focus.sharp.value_or(b.camera.target) - a.focus.sharp.value_or(a.camera.target));
  return out;
}

Look lookAt(const FilmTime& time, const Look& start, std::span<const KeptCamera> cameras, const Vec3& middle,
            int frame) {
  const int count = frameCount(time);
  if (time.motion == Motion::Flight) {
    const float ways = static_cast<float>(cameras.size() - 1);
    const float at = ways * static_cast<float>(frame) / static_cast<float>(count - 1);
    const auto way = static_cast<size_t>(std::clamp(std::floor(at), 0.f, ways - 1));
    const float t = std::clamp(at - static_cast<float>(way), 0.f, 1.f);
    // starts and arrives gently
    return between(cameras[way].look, cameras[way + 1].look, t * t * (3 - 2 * t));
  }
  const float degrees =
      (time.otherWay ? -360.f : 360.f) * static_cast<float>(frame) / static_cast<float>(count);
  Look out = start;
  if (time.motion == Motion::Light) {
    out.light.dial += degrees;
    return out;
  }
  // the sculpt turns one way as the viewer goes the other, and the light with him
  const float way = time.motion == Motion::Sculpt ? -degrees : degrees;
  out.light = lightIn(start);
  out.lightFollows = false;
  if (time.motion == Motion::Sculpt) out.light.dial += way;
  out.camera = goneRound(start.camera, middle, way);
  if (out.focus.sharp) {
    Camera sharp;
    sharp.target = *out.focus.sharp;
    out.focus.sharp = goneRound(sharp, middle, way).target;
  }
  return out;
}

}  // namespace juvenor
