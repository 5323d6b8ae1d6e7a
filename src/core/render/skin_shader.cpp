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
  mirrored_ = by_;
  for (size_t l = 0; l < kLampCount; ++l)
    if (!in_.parts.mirroredLamps[l]) mirrored_.lamps[l].strength.setZero();
  if (!in_.parts.mirroredAround) mirrored_.environment = nullptr;
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
  if (!in_.parts.wanders && known) {
    falls = receivedAt(m);
  } else if (wander < 1) {
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
void SkinShader::addTo(ShinePlaces& shine, const Lit& lit, const Lobes& lobes, const Vec3& reflectance,
                       const Vec3& walls) const {
  const size_t at = shine.count++;
  ShinePlaces::set(shine.normal, at, lit.normal);
  ShinePlaces::set(shine.bent, at, lit.bent);
  ShinePlaces::set(shine.toViewer, at, lit.toViewer);
  shine.open[at] = lit.sky.open;
  ShinePlaces::set(shine.toward, at, lit.sky.toward);
  for (size_t l = 0; l < kLampCount; ++l) shine.lamps[l][at] = lit.lamps[l];
  for (size_t i = 0; i < 2; ++i)
    shine.width[i][at] = std::min(1.f, std::sqrt(lobes.width[i] * lobes.width[i] + lit.rougher));
  shine.sharp[at] = lobes.sharp;
  ShinePlaces::set(shine.reflectance, at, reflectance);
  ShinePlaces::set(shine.walls, at, in_.parts.mirroredAround ? walls : Vec3(Vec3::Zero()));
}

// Asks for what the places mirror that `wants` says yes to, all at once: `ask` adds one, and `take` gets its
// light and the part of all light that is not left for what lies below.
template <class Wants, class Ask, class Take>
void SkinShader::shineWhere(size_t count, Wants wants, Ask ask, Take take) const {
  ShinePlaces shine;
  std::array<size_t, kMost> of;
  for (size_t i = 0; i < count; ++i) {
    if (!wants(i)) continue;
    of[shine.count] = i;
    ask(i, shine);
  }
  if (shine.count == 0) return;
  shineAt(mirrored_, shine);
  for (size_t at = 0; at < shine.count; ++at)
    take(of[at], ShinePlaces::get(shine.light, at), ShinePlaces::get(shine.taken, at));
}

// A clear film over all that lies below: it fills pores, and is as smooth as water (common practice).
void SkinShader::coat(const Batch& batch, std::span<Vec3> seen) const {
  constexpr float kFilled = 0.6f;
  constexpr float kSmooth = 0.94f;
  const Lobes lobes{{lobeWidth(kSmooth), lobeWidth(kSmooth)}, 1};
  std::array<float, kMost> coat;
  const auto wants = [&](size_t i) {
    coat[i] = batch.wet[i] < 1 ? coverAt<Channel::Coat>(*in_.skin, batch.places[i]) : 0;
    return coat[i] > 0;
  };
  const auto ask = [&](size_t i, ShinePlaces& shine) {
    const Lit& lit = batch.lit[i];
    Lit film = lit;
    film.bent = (kFilled * lit.normal + (1 - kFilled) * lit.bent).normalized();
    film.rougher *= (1 - kFilled) * (1 - kFilled);
    addTo(shine, film, lobes, Vec3::Constant(kSkinReflectance), seen[i]);
  };
  shineWhere(batch.places.size(), wants, ask, [&](size_t i, const Vec3& light, const Vec3& taken) {
    seen[i] += coat[i] * (light - taken.cwiseProduct(seen[i]));
  });
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

void SkinShader::drySkin(const Batch& batch, std::span<Vec3> out) const {
  std::array<Vec3, kMost> albedo, below;
  std::array<float, kMost> metal;
  const auto wants = [&](size_t i) { return batch.wet[i] < 1; };
  const auto ask = [&](size_t i, ShinePlaces& shine) {
    const Mixed& m = batch.places[i];
    albedo[i] = linearAt(*in_.skin, m);
    metal[i] = coverAt<Channel::Metal>(*in_.skin, m);
    below[i] = comingOut(m, batch.lit[i], albedo[i]);
    addTo(shine, batch.lit[i], lobesOf(coverAt<Channel::Gloss>(*in_.skin, m)),
          (1 - metal[i]) * Vec3::Constant(kSkinReflectance) + metal[i] * albedo[i], below[i]);
  };
  shineWhere(batch.places.size(), wants, ask, [&](size_t i, const Vec3& light, const Vec3& taken) {
    const Mixed& m = batch.places[i];
    out[i] = (1 - metal[i]) * (Vec3::Ones() - taken).cwiseProduct(below[i]) + light;
    if (in_.parts.glow) out[i] += coverAt<Channel::Glow>(*in_.skin, m) * albedo[i];
    const float fuzz = coverAt<Channel::Fuzz>(*in_.skin, m);
    if (fuzz > 0) out[i] = downy(batch.lit[i], fuzz, albedo[i], out[i]);
  });
  coat(batch, out);
}

// Light goes in through the cornea and comes out again from the disc behind it, which lies like a dish: what
// the cornea gathers falls on the side across from where it came (common practice).
Vec3 SkinShader::throughCornea(const Mixed& m, const Lit& lit, const Cornea& cornea) const {
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
  Vec3 out = comingOut(painted, inner, albedo);
  if (in_.parts.glow) out += coverAt<Channel::Glow>(*in_.skin, painted) * albedo;
  return out;
}

// Where eyes are wet they take the place of what is in `out`.
void SkinShader::eyes(const Batch& batch, std::span<Vec3> out) const {
  const auto wants = [&](size_t i) { return batch.cornea[i] != nullptr; };
  const auto ask = [&](size_t i, ShinePlaces& shine) {
    // the film of tears is as smooth as gloss says, whatever relief lies in the iris
    const Lit& lit = batch.lit[i];
    Lit film = lit;
    film.bent = lit.normal;
    film.rougher = 0;
    const float width = lobeWidth(coverAt<Channel::Gloss>(*in_.skin, batch.places[i]));
    // lids stand in the way of the sky
    const Vec3 lids = 0.3f * Vec3(lit.light[0], lit.light[1], lit.light[2]);
    addTo(shine, film, {{width, width}, 1}, Vec3::Constant(kCorneaReflectance), lids);
  };
  shineWhere(batch.places.size(), wants, ask, [&](size_t i, const Vec3& light, const Vec3& taken) {
    const Vec3 behind = throughCornea(batch.places[i], batch.lit[i], *batch.cornea[i]);
    const Vec3 eye = (Vec3::Ones() - taken).cwiseProduct(behind) + light;
    out[i] += batch.wet[i] * (eye - out[i]);
  });
}

void SkinShader::skin(std::span<const Mixed> places, std::span<Vec3> out) const {
  Batch batch;
  batch.places = places;
  batch.cornea.fill(nullptr);
  batch.wet.fill(0);
  for (size_t i = 0; i < places.size(); ++i) {
    out[i] = Vec3::Zero();
    const Lit& lit = batch.lit[i] = litAt(places[i]);
    if (!in_.rays || in_.sheet) continue;
    for (const Cornea& cornea : in_.corneas) {
      const float wet = corneaAt(cornea, in_.surface->parts[places[i].samples[0]], lit.position);
      if (wet <= 0 || lit.normal.dot(lit.toViewer) <= 0) continue;
      batch.wet[i] = wet;
      batch.cornea[i] = &cornea;
      break;
    }
  }
  drySkin(batch, out);
  eyes(batch, out);
  for (size_t i = 0; i < places.size(); ++i) out[i] *= exposure_;
}

}  // namespace juvenor
