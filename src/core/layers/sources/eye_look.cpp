// How irises are built (pupillary and ciliary zone, collarette, crypts of Fuchs, contraction furrows, limbus)
// is common knowledge of anatomy; how strong each shows here was judged by eye.
#include "core/layers/sources/eye_look.h"

#include <cmath>
#include <numbers>

#include "core/color/iris_tone.h"
#include "core/noise/noise.h"
#include "core/seeded.h"

namespace juvenor {
namespace {

constexpr float kTurn = 2 * std::numbers::pi_v<float>;

float smooth(float from, float to, float v) {
  const float t = std::clamp((v - from) / (to - from), 0.f, 1.f);
  return t * t * (3 - 2 * t);
}

Oklab mixed(const Oklab& a, const Oklab& b, float t) {
  return {a.l + t * (b.l - a.l), a.a + t * (b.a - a.a), a.b + t * (b.b - a.b)};
}

Oklab oklabOf(const EncodedColor& color) {
  return toOklab(decode(color));
}

// A place on a tube so wide that `count` features of noise lie around it.
Vec3 onTube(float angle, float count, float along) {
  const float radius = count / kTurn;
  return {radius * std::cos(angle), radius * std::sin(angle), along};
}

// How far features so large can be seen where points are so far apart.
float shown(float size, float apart) {
  return smooth(1, 2.5f, size / std::max(apart, 1e-20f));
}

// 1 on bright strands.
float strand(float noise) {
  const float t = 1 - std::abs(noise) * 1.6f;
  return std::max(0.f, t);
}

// From the edge of a lens with pointed ends, upright, of half its height and width.
float lensDistance(const Vec2& at, float height, float width) {
  const float y = at.y() / height, x = std::abs(at.x());
  if (std::abs(y) >= 1) return Vec2(x, std::abs(at.y()) - height).norm();
  const float edge = width * (1 - y * y), slope = 2 * width * y / height;
  return (x - edge) / std::sqrt(1 + slope * slope);
}

float polygonDistance(const Vec2& at, std::span<const Vec2> outline) {
  float far2 = std::numeric_limits<float>::max();
  bool inside = false;
  for (size_t i = 0, k = outline.size() - 1; i < outline.size(); k = i++) {
    const Vec2 &a = outline[i], &b = outline[k];
    const Vec2 edge = b - a, way = at - a;
    const float t = std::clamp(way.dot(edge) / std::max(edge.squaredNorm(), 1e-30f), 0.f, 1.f);
    far2 = std::min(far2, (way - t * edge).squaredNorm());
    if ((a.y() > at.y()) != (b.y() > at.y()) && at.x() < a.x() + (at.y() - a.y()) / edge.y() * edge.x())
      inside = !inside;
  }
  return inside ? -std::sqrt(far2) : std::sqrt(far2);
}

}  // namespace

EyeLook::EyeLook(const Eyes& eyes, const EyeBall& ball)
    : eyes_(eyes), ball_(ball), seed_(eyes.seed * 7919u + ball.seed * 104729u) {
  // seen from the front x goes to the right
  right_ = normalizedOr(ball.up.cross(ball.look), Vec3::UnitX());
  up_ = ball.look.cross(right_);
  eyes_.iris = std::min(eyes.iris, 0.97f * ball.radius);
  eyes_.pupil = std::min(eyes.pupil, 0.9f * eyes_.iris);
  Draws draws(seed_, 3);
  middle_ = 0.04f * eyes.uneven * eyes_.iris * Vec2(draws.around(), draws.around());
  for (const IrisRing& ring : eyes.rings)
    rings_.push_back(mixed(oklabOf(irisColor(ring.melanin)), oklabOf(ring.color), ring.colored));
  if (rings_.empty()) rings_.push_back(oklabOf(irisColor(0.3f)));
  brown_ = oklabOf(irisColor(0.9f));
  fleck_ = oklabOf(eyes.fleckColor);
  white_ = oklabOf(eyes.white);
  vessel_ = oklabOf(eyes.vesselColor);
  lid_ = oklabOf(eyes.lidColor);
  for (const EyeBall& other : eyes.balls)
    if (other.center != ball.center) inner_ = right_.dot(other.center - ball.center) < 0 ? -1.f : 1.f;
}

// How far a rim leaves its circle at an angle, as a part of the radius: a few slow waves.
float EyeLook::uneven(float angle, uint32_t which) const {
  Draws draws(seed_, 100 + which);
  float out = 0;
  for (int k = 2; k < 7; ++k)
    out +=
        draws.unit() / static_cast<float>(k) * std::cos(static_cast<float>(k) * angle + kTurn * draws.unit());
  return eyes_.uneven * out;
}

float EyeLook::pupilDistance(const Vec2& given) const {
  const Vec2 at = given - middle_;
  const float radius = eyes_.pupil * (1 + 0.06f * uneven(std::atan2(at.y(), at.x()), 2));
  switch (eyes_.shape) {
    case PupilShape::Upright:
      return lensDistance(at, radius, radius * eyes_.slit);
    case PupilShape::Level:
      return lensDistance({at.y(), at.x()}, radius, radius * eyes_.slit);
    case PupilShape::Keyhole: {
      const float hole = (at - Vec2(0, 0.3f * radius)).norm() - 0.62f * radius;
      const float half = 0.22f * radius + 0.12f * std::max(0.f, -at.y());
      const float down = std::max({std::abs(at.x()) - half, at.y(), -radius - at.y()});
      return std::min(hole, down);
    }
    case PupilShape::Drawn:
      if (eyes_.outline.size() >= 3) return eyes_.pupil * polygonDistance(at / eyes_.pupil, eyes_.outline);
      break;
    case PupilShape::Round:
      break;
  }
  return at.norm() - radius;
}

IrisPlace EyeLook::placeOf(const Vec3& place) const {
  const Vec3 way = normalizedOr(place - ball_.center, ball_.look);
  IrisPlace out;
  out.front = way.dot(ball_.look);
  out.across = ball_.radius * Vec2(way.dot(right_), way.dot(up_));
  out.angle = std::atan2(out.across.y(), out.across.x());
  const float rim = eyes_.iris * (1 + 0.02f * uneven(out.angle, 1));
  out.inside = out.front > 0 ? rim - out.across.norm() : -ball_.radius;
  out.past = pupilDistance(out.across);
  const float whole = out.inside + std::max(0.f, out.past);
  out.part = whole > 0 ? std::clamp(out.past / whole, 0.f, 1.f) : 1;
  return out;
}

// Rings of even width that flow into each other.
Oklab EyeLook::ringAt(float part) const {
  const float at =
      std::clamp(part * static_cast<float>(rings_.size()) - 0.5f, 0.f, static_cast<float>(rings_.size() - 1));
  const auto first = std::min(static_cast<size_t>(at), rings_.size() - 1);
  const Oklab& next = rings_[std::min(first + 1, rings_.size() - 1)];
  return mixed(rings_[first], next, smooth(0.2f, 0.8f, at - static_cast<float>(first)));
}

// Strands wander sideways.
float EyeLook::bent(const IrisPlace& p) const {
  return p.angle + 0.09f * perlin(onTube(p.angle, 9, 2.2f * p.part), seed_ + 1);
}

// Strands that fork where they leave the collarette, and its ridge; the rings' colours run along them.
EyeSample EyeLook::strands(const IrisPlace& p, float apart) const {
  const float along = bent(p), reach = p.inside + std::max(0.f, p.past);
  const float width = kTurn * p.across.norm() / std::max(eyes_.strands, 1.f);
  const float coarse = strand(perlin(onTube(along, 0.5f * eyes_.strands, 1.1f * p.part), seed_ + 2));
  const float fine = strand(perlin(onTube(along, eyes_.strands, 1.6f * p.part), seed_ + 3));
  const float forked = smooth(eyes_.collarette, eyes_.collarette + 0.35f, p.part);
  const float fibre = eyes_.fibres * ((1 - forked) * shown(2 * width, apart) * (coarse - 0.55f) +
                                      forked * shown(width, apart) * (0.5f * coarse + 0.5f * fine - 0.55f));
  const float wave = eyes_.collarette * (1 + 0.3f * perlin(onTube(p.angle, 14, 0), seed_ + 4));
  const float ridge = std::exp(-std::pow((p.part - wave) / 0.07f, 2.f)) * shown(0.14f * reach, apart);
  EyeSample out{ringAt(p.part + 0.12f * perlin(onTube(p.angle, 16, 3 * p.part), seed_ + 5) +
                       0.1f * eyes_.fibres * (fine - 0.5f)),
                0.012f * eyes_.iris * (fibre + ridge)};
  out.color.l *= 1 + 0.55f * fibre + 0.16f * ridge;
  return out;
}

// Lens-shaped crypts about the collarette, a few of them large, and folds that run part of the way around.
void EyeLook::sink(const IrisPlace& p, float apart, EyeSample& sample) const {
  const float reach = p.inside + std::max(0.f, p.past), rare = 0.55f - 0.9f * eyes_.crypts;
  const Vec3 cell = onTube(bent(p), 11, 3.2f * p.part);
  const float pit = smooth(0.42f, 0.18f, worley(cell, seed_ + 6).first) *
                    smooth(rare, rare + 0.15f, 0.5f + perlin(0.6f * cell, seed_ + 7)) *
                    smooth(0.08f, 0.2f, p.part) * smooth(0.85f, 0.6f, p.part) * shown(0.12f * reach, apart);
  sample.color.l *= 1 - 0.38f * std::min(1.f, 2 * eyes_.crypts) * pit;
  sample.height -= 0.03f * eyes_.iris * pit;
  for (uint32_t k = 0; k < 4; ++k) {
    const auto which = static_cast<float>(k);
    const float at = 0.5f + 0.115f * which + 0.03f * perlin(onTube(p.angle, 6, which), seed_ + 10 + k);
    const float there = smooth(-0.1f, 0.3f, perlin(onTube(p.angle, 3.5f, 7), seed_ + 60 + k));
    const float fold = eyes_.furrows * there * std::exp(-std::pow((p.part - at) / 0.018f, 2.f)) *
                       shown(0.04f * reach, apart);
    sample.color.l *= 1 - 0.22f * fold;
    sample.height -= 0.012f * eyes_.iris * fold;
  }
}

// Freckles of the iris, and specks of another colour.
void EyeLook::sprinkle(const IrisPlace& p, float apart, Oklab& color) const {
  const Vec2 flat = 4 * p.across / eyes_.iris;
  const Vec3 place(flat.x(), flat.y(), 1.7f);
  const float rare = 1.02f - eyes_.spots;
  const float spot =
      smooth(0.34f, 0.2f, worley(place, seed_ + 8).first + 0.07f * perlin(4 * place, seed_ + 9)) *
      smooth(rare, rare + 0.04f, 0.5f + 0.5f * perlin(0.7f * place, seed_ + 16));
  color = mixed(color, brown_, 0.75f * spot);
  constexpr float kFlecks = 48;  // as many could lie around it
  const float few = 0.98f - 0.85f * eyes_.flecks;
  const float speck = smooth(few, few + 0.12f,
                             0.5f + perlin(onTube(bent(p), kFlecks, 12 * p.part), seed_ + 17) +
                                 0.3f * perlin(onTube(p.angle, 8, 2 * p.part), seed_ + 18));
  color =
      mixed(color, fleck_,
            0.8f * smooth(0, 0.05f, eyes_.flecks) * speck * shown(kTurn * p.across.norm() / kFlecks, apart));
}

// Dark toward its outer rim; at the pupil's edge its dark back is turned over.
void EyeLook::darkenRims(const IrisPlace& p, float apart, Oklab& color) const {
  const float rim = eyes_.limbus * (1 + 0.35f * perlin(onTube(p.angle, 10, 9), seed_ + 19));
  color.l *= 1 - eyes_.limbusDark * smooth(rim, 0, p.inside);
  const float ruff = 0.035f * eyes_.iris;
  color = mixed(color, {0.16f, 0.02f, 0.03f},
                0.8f * smooth(ruff + apart, 0.2f * ruff, p.past) * shown(2 * ruff, apart));
}

EyeSample EyeLook::iris(const IrisPlace& p, float apart) const {
  EyeSample out = strands(p, apart);
  sink(p, apart, out);
  sprinkle(p, apart, out.color);
  darkenRims(p, apart, out.color);
  const float soft = std::max(0.5f * apart, 0.01f * eyes_.iris), black = smooth(soft, -soft, p.past);
  out.color = mixed(out.color, {0.09f, 0, 0.002f}, black);
  // all of it lies deeper, as a disc does
  out.height = ((1 - black) * out.height - 0.3f * eyes_.recess * black) * shown(0.1f * eyes_.iris, apart) -
               eyes_.recess * smooth(0, 0.4f * eyes_.iris, p.inside);
  return out;
}

Oklab EyeLook::white(const IrisPlace& p, float vessel) const {
  const float back = eyes_.back * smooth(0.75f, -0.25f, p.front);
  const float corner = eyes_.corners * smooth(0.45f, 0.95f, std::abs(p.across.x()) / ball_.radius);
  const Vec3 place = 3.f / ball_.radius * Vec3(p.across.x(), p.across.y(), ball_.radius * p.front);
  const float cloud = fractal(place, 3, seed_ + 30);
  Oklab out = white_;
  out.l *= 1 - 0.16f * back - 0.05f * corner + 0.025f * cloud;
  out.a += 0.028f * back + 0.045f * corner + 0.008f * cloud;
  out.b += 0.022f * back + 0.012f * corner;
  // bluish where the white is thin, yellow with age
  out.b += eyes_.cast > 0 ? 0.045f * eyes_.cast : 0.03f * eyes_.cast;
  // the blush of vessels too fine to be seen lies around those that can be
  const float haze = eyes_.vessels * smooth(0.2f, 0.9f, 0.5f + cloud) * smooth(0.9f, 0.2f, p.front);
  out = mixed(out, vessel_, 0.1f * haze);
  return mixed(out, vessel_, vessel);
}

// A fold of thin skin from the inner corner, its edge hollow toward the iris, with a dark seam and vessels.
void EyeLook::drawLid(const IrisPlace& p, float apart, float vessel, EyeSample& sample) const {
  if (eyes_.lid <= 0) return;
  const float x = inner_ * p.across.x() / ball_.radius, y = p.across.y() / ball_.radius;
  const float wave = 0.03f * eyes_.uneven * perlin({3 * y, 1.3f, 0.4f}, seed_ + 40);
  const float edge = 1 - 1.95f * eyes_.lid + 0.3f * std::min(1.f, 3 * eyes_.lid) * (0.4f - y * y) + wave;
  const float soft = std::max(apart / ball_.radius, 0.015f), past = x - edge;
  const float cover = smooth(-soft, soft, past) * smooth(-0.5f, -0.1f, p.front);
  const float seam = std::exp(-std::pow((past - 0.035f) / std::max(0.03f, soft), 2.f)) * cover;
  const Vec3 place = 5 * Vec3(x, y, p.front);
  Oklab skin =
      mixed(lid_, vessel_, std::clamp(0.25f * fractal(place, 3, seed_ + 41) + 0.5f * vessel, 0.f, 1.f));
  skin.l *= 1 - 0.35f * seam;
  // what lies under its thin edge shines through
  sample.color = mixed(sample.color, skin, cover * (0.78f + 0.2f * smooth(0, 0.3f, past)));
  sample.height = (1 - cover) * sample.height + 0.02f * ball_.radius * cover * smooth(0.4f, 0, past);
}

EyeSample EyeLook::at(const IrisPlace& p, float apart, float vessel, float wet) const {
  const float edge = std::max(apart, 0.02f * eyes_.iris);
  const float onIris = smooth(-1.5f * edge, edge, p.inside);
  EyeSample out{white(p, vessel), 0};
  if (onIris > 0) {
    const EyeSample inner = iris(p, apart);
    out.color = mixed(out.color, inner.color, onIris);
    out.height = onIris * inner.height;
  }
  drawLid(p, apart, vessel, out);
  // along a lid lies a line of tears over pink skin
  out.color = mixed(out.color, mixed(white_, vessel_, 0.35f), 0.45f * wet * (1 - 0.6f * onIris));
  out.color.l *= 1 - 0.12f * wet;
  return out;
}

}  // namespace juvenor
