#include "core/document/edits/edit_eyes.h"

#include <cmath>

#include "core/document/edits/edits.h"
#include "core/layers/sources/eyes.h"
#include "core/surface/build/search.h"
#include "core/surface/fitted_sphere.h"

namespace juvenor {
namespace {

// A fit that leaves more than this of its radius is no ball.
constexpr float kRound = 0.06f;
// An eyeball is no larger than this part of the whole.
constexpr float kLargest = 0.3f;

bool isBall(const std::optional<FittedSphere>& fit, const Surface& surface) {
  return fit && fit->off < kRound * fit->radius && fit->radius < kLargest * surface.bounds.diagonal();
}

std::optional<FittedSphere> fitTo(const Surface& surface, std::span<const uint32_t> samples) {
  std::vector<Vec3> places;
  for (const uint32_t s : samples) places.push_back(surface.positions[s]);
  return fittedSphere(places);
}

// The ball a press is on: a part that is one, or the largest patch of skin around it that lies on one.
std::optional<EyeBall> ballAt(const Surface& surface, const Vec3& place, uint32_t part) {
  std::vector<uint32_t> samples;
  for (uint32_t s = 0; s < surface.size(); ++s)
    if (surface.parts[s] == part) samples.push_back(s);
  EyeBall out;
  out.part = part;
  std::optional<FittedSphere> fit = fitTo(surface, samples);
  if (!isBall(fit, surface)) {
    out.part = kNone;
    fit.reset();
    const float least = std::max(4 * surface.spacing, 0.01f * surface.bounds.diagonal());
    for (float reach = least; reach < 0.5f * kLargest * surface.bounds.diagonal(); reach *= 1.3f) {
      samples.clear();
      samplesWithin(surface, place, reach, samples);
      const auto wider = fitTo(surface, samples);
      // what is level fits any ball; where skin turns away from the ball there is an end
      if (!isBall(wider, surface) || wider->radius > 3 * reach) continue;
      if (fit && wider->off > 0.03f * wider->radius) break;
      fit = wider;
    }
  }
  if (!fit) return std::nullopt;
  out.center = fit->center;
  out.radius = fit->radius;
  return out;
}

void lookAt(EyeBall& ball, const Vec3& place) {
  ball.look = normalizedOr(place - ball.center, Vec3::UnitZ());
}

// In place of the one that lies there, which keeps its seed.
void put(Eyes& eyes, EyeBall ball) {
  for (EyeBall& known : eyes.balls)
    if ((known.center - ball.center).norm() < 0.5f * ball.radius) {
      ball.seed = known.seed;
      known = ball;
      return;
    }
  ball.seed = 1;
  for (const EyeBall& known : eyes.balls) ball.seed = std::max(ball.seed, known.seed + 1);
  eyes.balls.push_back(ball);
}

// Sizes of people's eyes, by the ball: a radius of 12 mm with an iris of 5.9.
Eyes sizedFor(const EyeBall& ball) {
  Eyes out;
  const float by = ball.radius / 12;
  for (const Member<Eyes>& m : membersOf<Eyes>())
    if (m.facts.unit == MemberUnit::Length) m.of(out) *= by;
  return out;
}

}  // namespace

Result<Document> withEyeAt(const Document& document, uint32_t layer, const Vec3& place, uint32_t part,
                           bool both) {
  const Surface& surface = *document.surface;
  const LayerPointer found = layer ? layerOf(document, layer) : nullptr;
  const Eyes* before = found ? eyesOf(*found->source) : nullptr;
  if (layer && !before) return Error{"only layers of eyes take eyes"};
  auto ball = ballAt(surface, place, part);
  if (!ball) return Error{"the skin there is no ball: press on an eyeball"};
  lookAt(*ball, place);
  Eyes eyes = before ? *before : sizedFor(*ball);
  // a fresh layer knows no sculpt yet
  if (before && before->balls.empty() && before->seed == Eyes().seed) {
    const Eyes sized = sizedFor(*ball);
    for (const Member<Eyes>& m : membersOf<Eyes>())
      if (m.facts.unit == MemberUnit::Length) m.of(eyes) = memberOf(m, sized);
  }
  put(eyes, *ball);
  const Mirrors mirrors = mirrorsOf(document);
  const Mirrors::Across across{true, false, false};
  const Vec3 there = mirrors.place(place, across);
  const bool ownSide = (mirrors.place(ball->center, across) - ball->center).norm() < ball->radius;
  if (both && !ownSide)
    if (const auto sample = nearestSample(surface, there, 0.5f * ball->radius))
      if (auto other = ballAt(surface, surface.positions[*sample], surface.parts[*sample])) {
        lookAt(*other, other->center + mirrors.direction(ball->look, across, ball->center));
        put(eyes, *other);
      }
  if (before) return withSource(document, layer, eyeSource(std::move(eyes)));
  return withSourceLayer(document, "Eyes", Stratum::Surface, eyeSource(std::move(eyes)));
}

Result<Document> withoutEye(const Document& document, uint32_t layer, size_t ball) {
  const LayerPointer found = layerOf(document, layer);
  const Eyes* eyes = found ? eyesOf(*found->source) : nullptr;
  if (!eyes || ball >= eyes->balls.size()) return Error{"there is no such eye"};
  Eyes next = *eyes;
  next.balls.erase(next.balls.begin() + static_cast<std::ptrdiff_t>(ball));
  return withSource(document, layer, eyeSource(std::move(next)));
}

}  // namespace juvenor
