#include "core/render/skin_shader.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/hair/fibre_rays.h"
#include "core/render/bounced_light.h"
#include "core/render/fibre_shader.h"

namespace juvenor {
namespace {

constexpr std::array<float, 3> kLuminance{0.2126f, 0.7152f, 0.0722f};

// Flesh that was opened is seen from behind, and no wet skin there: it mirrors nothing. Normals that are
// mixed over a coarse triangle look away a little at the rim of a form.
float seenFromOutside(const Vec3& normal, const Vec3& toViewer) {
  return std::clamp(5 * (normal.dot(toViewer) + 0.3f), 0.f, 1.f);
}

// What a wall in the open receives, as brightness.
float inTheOpen(const Harmonics& light, const Vec3& n) {
  const Harmonics y = harmonicsAt(n);
  float sum = 0;
  for (size_t k = 0; k < 9; ++k) sum += light[k] * y[k] * kCosineLobe[static_cast<size_t>(kBand[k])];
  return std::max(0.f, sum / std::numbers::pi_v<float>);
}

// What comes back from the walls of a place that is closed in, by what comes in.
float bounced(float open, float albedo) {
  constexpr float kClosed = 0.02f;
  open = std::max(kClosed, open);
  return bouncedOpenness(open, std::clamp(albedo, 0.f, 0.9f)) / open;
}

}  // namespace

SkinShader::SkinShader(const ShadeInput& input, const Lens& lens)
    : in_(input), lens_(lens), exposure_(std::exp2(input.light.exposure)) {
  if (input.view < View::Clay) return;
  if (input.view == View::Clay) {
    clay_ = clayNumbers(viewAxes(input.camera));
    return;
  }
  by_ = input.by ? *input.by : litBy(input.light);
  for (size_t c = 0; c < 3; ++c)
    for (size_t k = 0; k < 9; ++k) soft_[k] += kLuminance[c] * by_.soft[c][k];
  for (size_t l = 0; l < kLampCount; ++l)
    if (!by_.lamps[l].shineOnly)
      brightness_[l] = by_.lamps[l].strength.dot(Vec3(kLuminance[0], kLuminance[1], kLuminance[2]));
}

// Relief that differs within a pixel is averaged: its mean leans as far as the skin does as a whole, and is
// the shorter the rougher it is.
void SkinShader::bend(const Mixed& m, Lit& lit) const {
  const float apart = std::sqrt(in_.surface->areas[m.nearest()]);
  const float across = 1 / std::max(1e-6f, lens_.pixelsPerUnit(lit.position) * apart);
  const float level = in_.sheet || !(across > 1) ? 0 : std::log2(across);
  Vec3 bent = Vec3::Zero();
  float length = 0;
  m.each([&](uint32_t s, float weight) {
    const Vec3 mean = in_.relief->meanAt(s, level);
    bent += weight * mean;
    length += weight * mean.norm();
  });
  if (bent.squaredNorm() > 0) lit.bent = bent.normalized();
  if (level > 0) lit.rougher = 2 * (1 - length) / std::max(0.1f, length);
}

SkinShader::Lit SkinShader::litAt(const Mixed& m) const {
  Lit out;
  Vec3 normal = Vec3::Zero(), toward = Vec3::Zero();
  out.position = Vec3::Zero();
  m.each([&](uint32_t s, float weight) {
    normal += weight * in_.surface->normals[s];
    out.position += weight * in_.surface->positions[s];
  });
  out.normal = out.bent = normal.normalized();
  float open = 0;
  const auto addOpen = [&](const OpenSample& o, float weight) {
    open += weight / 255 * static_cast<float>(o.sky);
    // (of the open nobody asks which way it lies)
    toward += weight * (o.sky < 255 ? unpackedDirection(o.toward) : out.normal);
    for (size_t l = 0; l < kLampCount; ++l) out.lamps[l] += weight / 255 * static_cast<float>(o.lamps[l]);
  };
  if (!in_.lighting)
    m.each([&](uint32_t s, float weight) {
      for (size_t c = 0; c < 4; ++c) out.light[c] += weight * static_cast<float>(in_.lit[s][c]);
      if (!in_.open.empty()) addOpen(in_.open[s], weight);
    });
  if (in_.lighting) {
    const uint32_t at = m.nearest();
    const LitSample l = in_.lighting->at(at, in_.view == View::Clay);
    for (size_t c = 0; c < 4; ++c) out.light[c] = static_cast<float>(l[c]);
    addOpen(in_.lighting->openAt(at), 1);
  } else if (in_.open.empty()) {
    open = 1;
    out.lamps.fill(1);
  }
  out.sky = {open, toward.squaredNorm() > 0 ? Vec3(toward.normalized()) : out.normal};
  if (in_.relief) bend(m, out);
  if (in_.hair && in_.view == View::Skin && !in_.sheet) shadeByHair(out);
  // a sheet is looked at from straight above wherever its skin faces
  out.toViewer = in_.sheet ? out.normal : lens_.toViewer(out.position);
  return out;
}

// Fibres stand in the way of lamps and of the sky. Each is asked for by one ray, another one for every
// picture.
void SkinShader::shadeByHair(Lit& lit) const {
  const Fibres& fibres = in_.hair->fibres();
  const Vec3 from = lit.position + 0.02f * fibres.longest * lit.normal;
  // what leaves the hair's box by its own length is never under it
  if (fibres.bounds.squaredDistance(lit.position) > 16 * fibres.longest * fibres.longest) return;
  const float before = receivedBy(lit.normal, lit);
  for (size_t l = 0; l < kLampCount; ++l)
    if (!by_.lamps[l].strength.isZero() && lit.lamps[l] > 0 &&
        in_.hair->blocked({from, towardDisc(by_.lamps[l], lit.position, in_.turn)}, 6 * fibres.longest))
      lit.lamps[l] = 0;
  // (of the sky most comes from where the skin faces)
  const LitBy::Source sky{lit.normal, Vec3::Ones(), 2.f, false};
  const bool covered = in_.hair->blocked({from, towardDisc(sky, lit.position, in_.turn)}, fibres.longest);
  constexpr float kThrough = 0.45f;
  float after = receivedBy(lit.normal, lit);
  if (covered) {
    after -= (1 - kThrough) * inTheOpen(soft_, lit.normal);
    lit.sky.open *= kThrough;
  }
  if (!(before > 0)) return;
  for (size_t c = 0; c < 3; ++c) lit.light[c] *= std::clamp(after / before, 0.f, 1.f);
}

float SkinShader::receivedBy(const Vec3& n, const Lit& lit) const {
  float sum = inTheOpen(soft_, n);
  for (size_t l = 0; l < kLampCount; ++l)
    sum += lit.lamps[l] * brightness_[l] * std::max(0.f, n.dot(by_.lamps[l].toward));
  return sum;
}

// Red wanders farther than a pore is wide: relief shows less in it (common practice).
std::array<float, 3> SkinShader::bumped(const Lit& lit) const {
  if (lit.bent == lit.normal) return {1, 1, 1};
  // no more than a place that turns from a lamp's edge to its middle
  constexpr float kLeast = 0.05f;
  const float ratio = (receivedBy(lit.bent, lit) + kLeast) / (receivedBy(lit.normal, lit) + kLeast);
  return {1 + 0.75f * (ratio - 1), 1 + 0.95f * (ratio - 1), ratio};
}

Vec3 SkinShader::clay(const Mixed& m) const {
  const Lit lit = litAt(m);
  float l = lit.light[3];
  if (lit.bent != lit.normal)
    l *= std::clamp((inTheOpen(clay_, lit.bent) + 0.02f) / (inTheOpen(clay_, lit.normal) + 0.02f), 0.f, 4.f);
  const float rim =
      seenFromOutside(lit.normal, lit.toViewer) * schlick(0.028f, std::max(0.f, lit.bent.dot(lit.toViewer)));
  return Vec3::Constant(0.36f * l + 0.05f * rim * lit.sky.open);
}

// What wandered in the skin and comes out again, of all that went in: in horn and teeth where it went in. It
// is blood that lets red go farther than green and blue (common practice): where light wanders half as far as
// in skin or less there is none, and no red seam along shadows.
Vec3 SkinShader::comingOut(const Mixed& m, const Lit& lit, const Vec3& albedo) const {
  const std::array<float, 3> bump = bumped(lit);
  const bool known = !in_.received.empty() && !in_.lighting;
  const float wander = known ? coverAt<Channel::Wander>(*in_.skin, m) : 1;
  Vec3 falls(lit.light[0], lit.light[1], lit.light[2]);
  if (wander < 1) {
    const Vec3 received = receivedAt(m);
    Vec3 came = falls - received;
    came.x() += std::min(1.f, 2 * (1 - wander)) * (0.5f * (came.y() + came.z()) - came.x());
    falls = (received + wander * came).cwiseMax(0);
  }
  Vec3 out;
  for (int c = 0; c < 3; ++c)
    out[c] = albedo[c] * falls[c] * bounced(lit.sky.open, albedo[c]) * bump[static_cast<size_t>(c)];
  return out;
}

Vec3 SkinShader::receivedAt(const Mixed& m) const {
  Vec3 out = Vec3::Zero();
  m.each([&](uint32_t s, float weight) {
    const auto& chunk = in_.received[s / kChunkSize];
    for (size_t c = 0; c < 3; ++c)
      out[static_cast<int>(c)] +=
          weight * (chunk ? (*chunk)[s % kChunkSize][c] : static_cast<float>(in_.lit[s][c]));
  });
  return out;
}

// `walls`: the light of what stands in the way of the sky.
SkinShader::Shine SkinShader::shineOf(const Lit& lit, const Lobes& lobes, const Vec3& reflectance,
                                      const Vec3& walls) const {
  Shine out;
  const float cosOut = std::max(1e-3f, lit.bent.dot(lit.toViewer));
  const Vec3 mirror = 2 * lit.bent.dot(lit.toViewer) * lit.bent - lit.toViewer;
  for (size_t i = 0; i < 2; ++i) {
    const float part = i == 0 ? lobes.sharp : 1 - lobes.sharp;
    if (!(part > 0)) continue;
    const float width = std::min(1.f, std::sqrt(lobes.width[i] * lobes.width[i] + lit.rougher));
    const auto [scale, offset] = reflected(cosOut, width);
    const Vec3 whole = scale * reflectance + Vec3::Constant(offset);
    const float back = 1 / std::max(0.1f, std::min(1.f, scale + offset)) - 1;
    const Vec3 raised = Vec3::Ones() + back * reflectance;
    const float through = lit.sky.open >= 1 ? 1 : mirroredThrough(lit.sky, lit.normal, mirror, width);
    const Vec3 around = through * mirrored(by_, mirror, width) + (1 - through) * walls;
    out.light += part * around.cwiseProduct(whole).cwiseProduct(raised);
    out.light += part * lampShine(lit, reflectance, width).cwiseProduct(raised);
    out.taken += part * whole;
  }
  const float outside = seenFromOutside(lit.normal, lit.toViewer);
  out.light *= outside;
  out.taken = (outside * out.taken).cwiseMin(1.f);
  return out;
}

Vec3 SkinShader::lampShine(const Lit& lit, const Vec3& reflectance, float width) const {
  Vec3 sum = Vec3::Zero();
  for (size_t l = 0; l < kLampCount; ++l) {
    const LitBy::Source& lamp = by_.lamps[l];
    if (lamp.strength.isZero() || lit.lamps[l] <= 0) continue;
    const auto [shine, away] = mirroredDisc(lit.bent, lit.toViewer, lamp.toward, lamp.size, width);
    const float away2 = away * away;
    const Vec3 fresnel = reflectance + away2 * away2 * away * (Vec3::Ones() - reflectance);
    sum += shine * lit.lamps[l] * lamp.strength.cwiseProduct(fresnel);
  }
  return sum;
}

// A clear film over all that lies below: it fills pores, and is as smooth as water (common practice).
Vec3 SkinShader::coated(const Lit& lit, float coat, const Vec3& below) const {
  constexpr float kFilled = 0.6f;
  constexpr float kSmooth = 0.94f;
  Lit film = lit;
  film.bent = (kFilled * lit.normal + (1 - kFilled) * lit.bent).normalized();
  film.rougher *= (1 - kFilled) * (1 - kFilled);
  const Lobes lobes{{lobeWidth(kSmooth), lobeWidth(kSmooth)}, 1};
  const Shine shine = shineOf(film, lobes, Vec3::Constant(kSkinReflectance), below);
  return below - coat * shine.taken.cwiseProduct(below) + coat * shine.light;
}

// Down over the skin scatters what meets it to all sides: the more of it lies in a look's way the more it
// leans, so that it shows at the rim (asperity scattering: Koenderink and Pont 2003, with even scattering).
Vec3 SkinShader::downy(const Lit& lit, float fuzz, const Vec3& albedo, const Vec3& below) const {
  // how much of a look straight down the thickest of it meets
  constexpr float kThickest = 0.1f, kWhite = 0.6f;
  const float cosOut = std::max(0.02f, lit.normal.dot(lit.toViewer));
  const float cover = (1 - std::exp(-kThickest * fuzz / cosOut)) * seenFromOutside(lit.normal, lit.toViewer);
  Vec3 falls;
  for (size_t c = 0; c < 3; ++c)
    // the mean of the sky over all directions
    falls[static_cast<int>(c)] = lit.sky.open * 0.282095f * by_.soft[c][0];
  for (size_t l = 0; l < kLampCount; ++l)
    if (!by_.lamps[l].shineOnly) falls += 0.25f * lit.lamps[l] * by_.lamps[l].strength;
  const Vec3 hair = Vec3::Constant(kWhite) + (1 - kWhite) * albedo;
  return (1 - cover) * below + cover * hair.cwiseProduct(falls);
}

Vec3 SkinShader::drySkin(const Mixed& m, const Lit& lit) const {
  const Vec3 albedo = linearAt(*in_.skin, m);
  const float gloss = coverAt<Channel::Gloss>(*in_.skin, m), metal = coverAt<Channel::Metal>(*in_.skin, m),
              glow = coverAt<Channel::Glow>(*in_.skin, m);
  const Vec3 reflectance = (1 - metal) * Vec3::Constant(kSkinReflectance) + metal * albedo;
  const Vec3 out = comingOut(m, lit, albedo);
  const Shine shine = shineOf(lit, lobesOf(gloss), reflectance, out);
  Vec3 seen = (1 - metal) * (Vec3::Ones() - shine.taken).cwiseProduct(out) + shine.light + glow * albedo;
  const float fuzz = coverAt<Channel::Fuzz>(*in_.skin, m), coat = coverAt<Channel::Coat>(*in_.skin, m);
  if (fuzz > 0) seen = downy(lit, fuzz, albedo, seen);
  if (coat > 0) seen = coated(lit, coat, seen);
  return seen;
}

// Light goes in through the cornea and comes out again from the disc behind it, which lies like a dish: what
// the cornea gathers falls on the side across from where it came (common practice).
Vec3 SkinShader::eye(const Mixed& m, const Lit& lit, const Cornea& cornea) const {
  constexpr float kDish = 0.35f;
  const Vec3 onDisc = irisSeen(cornea, lit.position, lit.normal, lit.toViewer);
  const auto hit = in_.rays->first({cornea.center, paintedBefore(cornea, onDisc)}, {}, 1.5f * cornea.radius);
  Lit inner = lit;
  Mixed painted = m;
  if (hit && in_.surface->triangleParts[hit->triangle] == in_.surface->parts[m.samples[0]]) {
    painted = mixedAt(*in_.surface, hit->triangle, hit->u, hit->v);
    inner = litAt(painted);
  }
  const Vec3 dish = (cornea.look - kDish / cornea.iris * onDisc).normalized();
  inner.bent = normalizedOr(inner.bent - inner.normal + dish, dish);
  const Vec3 albedo = linearAt(*in_.skin, painted);
  const float glow = coverAt<Channel::Glow>(*in_.skin, painted);
  // the film of tears is as smooth as gloss says, whatever relief lies in the iris
  Lit film = lit;
  film.bent = lit.normal;
  film.rougher = 0;
  const float gloss = coverAt<Channel::Gloss>(*in_.skin, m);
  const Lobes lobes{{lobeWidth(gloss), lobeWidth(gloss)}, 1};
  // lids stand in the way of the sky
  const Vec3 lids = 0.3f * Vec3(lit.light[0], lit.light[1], lit.light[2]);
  const Shine shine = shineOf(film, lobes, Vec3::Constant(kCorneaReflectance), lids);
  return (Vec3::Ones() - shine.taken).cwiseProduct(comingOut(painted, inner, albedo)) + shine.light +
         glow * albedo;
}

Vec3 SkinShader::skin(const Mixed& m) const {
  const Lit lit = litAt(m);
  Vec3 out = Vec3::Zero();
  float dry = 1;
  if (in_.rays && !in_.sheet)
    for (const Cornea& cornea : in_.corneas) {
      const float part = corneaAt(cornea, in_.surface->parts[m.samples[0]], lit.position);
      if (part <= 0 || lit.normal.dot(lit.toViewer) <= 0) continue;
      out = part * eye(m, lit, cornea);
      dry = 1 - part;
      break;
    }
  if (dry > 0) out += dry * drySkin(m, lit);
  return exposure_ * out;
}

}  // namespace juvenor
