#include "core/render/fibre_shader.h"

#include <bit>
#include <cmath>
#include <numbers>

#include "core/color/hair_tone.h"
#include "core/hair/fibre_rays.h"
#include "core/hair/fibre_scatter.h"
#include "core/seeded.h"

namespace juvenor {
namespace {

// What other fibres in the way of a lamp leave of the lobes, and of what wanders among many.
constexpr float kLobesThrough = 0.15f, kBodyThrough = 0.5f;
// The sky at the root of a fibre, as all of it is seen at the tip (common practice).
constexpr float kSkyAtRoot = 0.35f;

OpenSample openAt(const ShadeInput& in, uint32_t sample) {
  if (in.lighting) return in.lighting->openAt(sample);
  if (in.open.empty()) {
    OpenSample all;
    all.lamps.fill(255);
    return all;
  }
  return in.open[sample];
}

}  // namespace

Vec3 towardDisc(const LitBy::Source& lamp, const Vec3& place, uint32_t turn) {
  const auto bits = [](float v) { return static_cast<uint64_t>(std::bit_cast<uint32_t>(v)); };
  Draws draws(bits(place.x()) ^ bits(place.y()) << 17 ^ bits(place.z()) << 34, turn);
  const float radius = std::tan(0.5f * lamp.size) * std::sqrt(draws.unit()),
              angle = 2 * std::numbers::pi_v<float> * draws.unit();
  const Vec3 right = lamp.toward.unitOrthogonal(), up = lamp.toward.cross(right);
  return (lamp.toward + radius * (std::cos(angle) * right + std::sin(angle) * up)).normalized();
}

FibreShader::FibreShader(const ShadeInput& input, const Lens& lens)
    : in_(input), lens_(lens), exposure_(std::exp2(input.light.exposure)) {
  if (input.hair) by_ = input.by ? *input.by : litBy(input.light);
}

// What a wall with this normal receives of what comes from all around.
Vec3 FibreShader::soft(const Vec3& normal) const {
  const Harmonics y = harmonicsAt(normal);
  Vec3 out = Vec3::Zero();
  for (size_t c = 0; c < 3; ++c)
    for (size_t k = 0; k < 9; ++k)
      out[static_cast<int>(c)] += by_.soft[c][k] * y[k] * kCosineLobe[static_cast<size_t>(kBand[k])];
  return (out / std::numbers::pi_v<float>).cwiseMax(0.f);
}

Vec3 FibreShader::light(uint32_t segment, float along) const {
  const Fibres& fibres = in_.hair->fibres();
  const Fibre& fibre = fibres.fibres[fibres.fibreOf[segment]];
  const FibrePlace at = placeOn(fibres, segment, along);
  const Vec3 toViewer = lens_.toViewer(at.position);
  const Vec3 skin = in_.surface->normals[fibre.root];
  const Vec3 facing = normalizedOr(toViewer - at.tangent * at.tangent.dot(toViewer), skin);
  const Vec3 wall = normalizedOr(skin + 0.5f * facing, skin);
  const OpenSample open = openAt(in_, fibre.root);
  const float sky = (kSkyAtRoot + (1 - kSkyAtRoot) * towardTip(fibres, segment, along)) *
                    static_cast<float>(open.sky) / 255;
  const Vec3 tone = hairTone(fibre.absorption), inside = throughAndBack(fibre.absorption);

  // the surroundings: what lies on the viewer's side is mirrored, all else wanders
  const float width = fibreWidth(fibre.shine);
  constexpr float kMirrored = 0.06f, kInside = 0.1f;
  const Vec3 around = soft(wall);
  Vec3 out = sky * (tone + kInside * inside).cwiseProduct(around);
  const Vec3 mirrored =
      by_.environment ? juvenor::mirrored(by_, mirroredByFibre(at.tangent, toViewer), width) : around;
  out += sky * kMirrored * mirrored;
  for (size_t l = 0; l < kLampCount; ++l) {
    const LitBy::Source& lamp = by_.lamps[l];
    const float seen = static_cast<float>(open.lamps[l]) / 255;
    if (lamp.strength.isZero() || !(seen > 0)) continue;
    const Vec3 toward = towardDisc(lamp, at.position, in_.turn);
    const bool hidden = in_.hair->blocked({at.position + 3 * at.radius * toward, toward});
    const Vec3 lobes =
        std::numbers::pi_v<float> * scattered({at.tangent, toward, toViewer}, fibre.absorption, fibre.shine);
    const float falls = 0.5f * std::max(0.f, wall.dot(toward)) + 0.5f * at.tangent.cross(toward).norm();
    Vec3 sum = (hidden ? kLobesThrough : 1) * lobes;
    if (!lamp.shineOnly) sum += (hidden ? kBodyThrough : 1) * falls * tone;
    out += seen * lamp.strength.cwiseProduct(sum);
  }
  return exposure_ * out;
}

}  // namespace juvenor
