#include "core/brush/stroke.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/color/moved_color.h"
#include "core/noise/noise.h"
#include "core/surface/build/search.h"

namespace juvenor {
namespace {

// A pen that stands still lays in this time what it lays when it passes once.
constexpr double kSecondsOfAPass = 0.5;

Vec3 turned(const Vec3& along, const Vec3& normal, float degrees) {
  return Eigen::AngleAxisf(degrees * std::numbers::pi_v<float> / 180, normal) * along;
}

Vec3 tangent(const Vec3& direction, const Vec3& normal) {
  return normalizedOr(direction - direction.dot(normal) * normal, normal.unitOrthogonal());
}

// Numbers −1…1 drawn for a dab: the other side of a mirror shares them, or has its own, or something between
// that varies as much.
class DabDraws {
 public:
  DabDraws(uint64_t seed, size_t side, float looseness)
      : shared_(seed, 1), own_(seed, 2 + side), loose_(side == 0 ? 0.f : looseness) {}

  float around() {
    const float shared = shared_.around(), own = own_.around();
    return std::clamp(std::sqrt(1 - loose_) * shared + std::sqrt(loose_) * own, -1.f, 1.f);
  }

 private:
  Draws shared_, own_;
  float loose_;
};

bool varies(const Spread& s) {
  return s.position > 0 || s.size > 0 || s.angle > 0 || s.strength > 0 || s.colors();
}

}  // namespace

Stroke::Stroke(const Surface& surface, Setting setting, std::span<const InkAtWork> inks, Flood& flood)
    : surface_(surface),
      setting_(std::move(setting)),
      inks_(inks),
      flood_(flood),
      tip_(makeTip(setting_.brush)) {}

void Stroke::moveTo(const StrokePoint& point) {
  const Brush& brush = setting_.brush;
  // dabs that lie closer than points tell apart only take time, and without an end where a brush is next to
  // nothing
  const float smallest = std::max(0.02f * brush.radius * brush.step, 0.02f * surface_.spacing);
  const auto step = [&](float p) { return std::max(smallest, brush.step * strengthAt(brush, p).radius); };
  if (!last_) {
    waits_ = brush.turnBy == TurnBy::Stroke;
    if (!waits_) dab(point, Vec3::Zero(), 1);
    last_ = point;
    toNext_ = step(point.pressure);
    return;
  }
  const StrokePoint from = *last_;
  const Vec3 all = point.at.position - from.at.position;
  const float length = all.norm();
  if (waits_) {
    // so short a way tells no direction yet
    if (length < 0.1f * step(point.pressure)) return;
    waits_ = false;
    dab(from, all, 1);
  }
  float done = 0;
  while (length - done >= toNext_ && toNext_ > 0) {
    done += toNext_;
    way_ += toNext_;
    const float t = done / length;
    StrokePoint at = t < 0.5f ? from : point;
    at.at.position = from.at.position + t * all;
    at.at.normal = normalizedOr((1 - t) * from.at.normal + t * point.at.normal, point.at.normal);
    at.at.toViewer = normalizedOr((1 - t) * from.at.toViewer + t * point.at.toViewer, point.at.toViewer);
    at.pressure = from.pressure + t * (point.pressure - from.pressure);
    dab(at, all, 1);
    toNext_ = step(at.pressure);
  }
  toNext_ -= length - done;
  last_ = point;
}

void Stroke::rest(double seconds) {
  if (!last_ || waits_ || !tip_->flows() || !(seconds > 0)) return;
  // what of one pass's dabs, which lie a step apart, the time is worth
  const double passes = std::min(seconds, 1.0) / kSecondsOfAPass;
  const float mean = setting_.brush.hardness + 0.5f * (1 - setting_.brush.hardness);
  dab(*last_, Vec3::Zero(), static_cast<float>(passes) * 2 * mean / setting_.brush.step);
}

void Stroke::lift() {
  if (waits_ && last_) dab(*last_, Vec3::Zero(), 1);
  waits_ = false;
  last_.reset();
}

Vec3 Stroke::alongOf(const StrokePoint& point, const Vec3& way) const {
  const Vec3& normal = point.at.normal;
  const Vec3 right = Vec3::UnitY().cross(point.at.toViewer);
  const TurnBy by = setting_.brush.turnBy;
  const Vec3& wanted = by == TurnBy::Stroke ? way : by == TurnBy::Tilt ? point.lean : right;
  return tangent(wanted.squaredNorm() > 0 ? wanted : right, normal);
}

// `share`: how much of a usual dab's dots it brings.
void Stroke::dab(const StrokePoint& point, const Vec3& way, float share) {
  const Brush& brush = setting_.brush;
  const DabStrength strength = strengthAt(brush, point.pressure);
  Dab main;
  main.at = point.at;
  main.radius = strength.radius;
  main.hardness = brush.hardness;
  main.opacity = strength.opacity;
  main.flow = strength.flow;
  main.along = turned(alongOf(point, way), point.at.normal, brush.angle);
  // dabs a step apart, weighed by their falloff, come to the density where their middles pass
  const float mean = brush.hardness + 0.5f * (1 - brush.hardness);
  main.dots = share * strength.dots * brush.spray.density * brush.step / (2 * mean);
  lay(main);
}

void Stroke::place(const SurfacePoint& at, const Vec3& along, float radius) {
  const Brush& brush = setting_.brush;
  Dab main;
  main.at = at;
  main.radius = radius;
  main.hardness = brush.hardness;
  main.opacity = brush.opacity;
  main.flow = 1;
  main.along = tangent(along, at.normal);
  main.dots = brush.spray.density;
  lay(main);
}

namespace {

// Each dab keeps to its own side of a mirror when the other side has one too: where both would reach, the
// skin got twice the flow, and a seam along the middle.
std::array<int, 3> sidesOf(const Dab& dab, std::span<const Dab> all) {
  std::array<int, 3> out{};
  for (size_t axis = 0; axis < 3; ++axis) {
    const auto isOther = [&](const Dab& d) {
      std::array<bool, 3> across = dab.across;
      across[axis] = !across[axis];
      return d.across == across;
    };
    if (std::ranges::none_of(all, isOther)) continue;
    // the one under the pen says which side is whose
    const float under = dab.mirrors.side(all.front().at.position, axis);
    out[axis] = (under >= 0) == (dab.across[axis] == all.front().across[axis]) ? 1 : -1;
  }
  return out;
}

}  // namespace

void Stroke::lay(const Dab& main) {
  const Brush& brush = setting_.brush;
  const float tolerance = brush.mirrorTolerance > 0 ? brush.mirrorTolerance : 3 * surface_.spacing;
  std::vector<Dab> dabs{main};
  Dab& first = dabs.front();
  first.mirrors = setting_.mirrors;
  first.frontOnly = brush.frontOnly;
  first.allParts = brush.allParts;
  first.seed = Draws(setting_.seed, dabs_ + 1).bits();
  first.addsUp =
      brush.tip == TipKind::Spray && dotDistance(brush.spray.density) > 1.6f * brush.spray.dotRadius;
  if (brush.spread.colors()) first.color = setting_.color;
  for (int axis = 0; axis < 3; ++axis) {
    if (!brush.mirror[static_cast<size_t>(axis)]) continue;
    const size_t count = dabs.size();
    for (size_t i = 0; i < count; ++i)
      if (auto other = mirrored(surface_, dabs[i], axis, tolerance)) dabs.push_back(*other);
  }
  ++dabs_;
  std::erase_if(dabs, [&](const Dab& d) { return !takesPart(d); });
  for (const Dab& d : dabs) dabOnce(varied(d, sideOf(d)), sidesOf(d, dabs));
}

// Moves a dab along the skin.
void Stroke::reseat(Dab& dab, const Vec3& offset) const {
  const Vec3 wanted = dab.at.position + offset;
  const auto sample = nearestSample(surface_, wanted, dab.radius + 4 * surface_.spacing, dab.at.part);
  if (!sample) return;
  const Vec3& normal = surface_.normals[*sample];
  dab.at.position = wanted - (wanted - surface_.positions[*sample]).dot(normal) * normal;
  dab.at.normal = normal;
  dab.at.triangle = kNone;
  dab.along = tangent(dab.along, normal);
}

Dab Stroke::varied(const Dab& dab, size_t side) const {
  const Spread& spread = setting_.brush.spread;
  const bool random = setting_.brush.turnBy == TurnBy::Random;
  if (!varies(spread) && !random) return loosened(dab, side);
  DabDraws draws(dab.seed, side, setting_.brush.looseness);
  Dab out = dab;
  // drawn whether needed or not, so that one setting does not shuffle the others
  const float turn = draws.around(), away = std::sqrt(std::abs(draws.around())), size = draws.around(),
              angle = draws.around(), strength = draws.around(), lightness = draws.around(),
              chroma = draws.around(), hue = draws.around();
  const float way = dab.flipped ? -1.f : 1.f;
  if (random) out.along = turned(out.along, out.at.normal, 180 * turn * way);
  out.along = turned(out.along, out.at.normal, spread.angle * angle * way);
  if (spread.position > 0)
    reseat(out, spread.position * dab.radius * away * turned(dab.along, dab.at.normal, 180 * turn * way));
  out.radius *= std::max(0.05f, 1 + spread.size * size);
  // a spray gives strength and colour to each dot
  if (setting_.brush.tip != TipKind::Spray) {
    out.flow *= 1 - spread.strength * (0.5f + 0.5f * strength);
    if (out.color)
      out.color =
          movedColor(*out.color, lightness * spread.lightness, chroma * spread.chroma, hue * spread.hue);
  }
  return loosened(out, side);
}

// The other side wanders off slowly, and presses more or less.
Dab Stroke::loosened(const Dab& dab, size_t side) const {
  const float loose = setting_.brush.looseness;
  if (side == 0 || loose <= 0) return dab;
  const auto wander = [&](float which) {
    const float at = way_ / (3 * setting_.brush.radius);
    return perlin({at, which + 0.5f, 7.3f * static_cast<float>(side)}, static_cast<uint32_t>(setting_.seed));
  };
  Dab out = dab;
  out.looseness = loose;
  const Vec3 across = dab.at.normal.cross(dab.along);
  reseat(out, 0.9f * loose * setting_.brush.radius * (wander(0) * dab.along + wander(11) * across));
  out.radius *= 1 + 0.4f * loose * wander(23);
  out.flow = std::clamp(out.flow * (1 + 0.8f * loose * wander(37)), 0.f, 1.f);
  return out;
}

bool Stroke::takesPart(const Dab& dab) const {
  return dab.allParts || setting_.activePart == kNone || dab.at.part == setting_.activePart;
}

// Of what a tip found, what lies on the dab's own side and on skin that shows.
void Stroke::keepReached(const Dab& dab, const Sides& sides) {
  const CutPlane* away = setting_.cutAway && sideOf(dab) == 0 ? &*setting_.cutAway : nullptr;
  if (sides == Sides{} && setting_.hidden.empty() && !away) return;
  const auto keeps = [&](uint32_t sample) {
    if (away && away->normal.dot(surface_.positions[sample]) > away->offset) return false;
    for (size_t axis = 0; axis < 3; ++axis)
      if (sides[axis] != 0 && (setting_.mirrors.sideOf(surface_, sample, axis) >= 0) != (sides[axis] > 0))
        return false;
    return setting_.hidden.empty() || !setting_.hidden.contains(surface_.parts[sample]);
  };
  Footprint& f = footprint_;
  size_t kept = 0;
  const auto move = [&](auto& list, size_t from) {
    if (!list.empty()) list[kept] = list[from];
  };
  for (size_t i = 0; i < f.samples.size(); ++i) {
    if (!keeps(f.samples[i])) continue;
    move(f.samples, i);
    move(f.weights, i);
    move(f.colors, i);
    move(f.relief, i);
    move(f.gloss, i);
    ++kept;
  }
  const auto cut = [&](auto& list) {
    if (!list.empty()) list.resize(kept);
  };
  cut(f.weights);
  cut(f.colors);
  cut(f.relief);
  cut(f.gloss);
  cut(f.samples);
}

void Stroke::dabOnce(const Dab& dab, const Sides& sides) {
  tip_->find(surface_, flood_, dab, footprint_);
  keepReached(dab, sides);
  if (setting_.stencil) holdThrough(*setting_.stencil, surface_, dab, footprint_);
  if (setting_.paint) setting_.paint->bring(surface_, dab, footprint_);
  reached_ += footprint_.samples.size();
  for (const InkAtWork& work : inks_) work.ink->apply(surface_, dab, footprint_, *work.field);
}

}  // namespace juvenor
