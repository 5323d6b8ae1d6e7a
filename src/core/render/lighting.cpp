#include "core/render/lighting.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <numbers>
#include <numeric>

#include "core/parallel.h"
#include "core/render/aperture.h"
#include "core/surface/field.h"

namespace juvenor {
namespace {

// the transfer looks back at just these
static_assert(kFirstLightRays == kFirstSkyRays);

// Chunks a piece of work takes together: both cores are busy and a hand need not wait.
constexpr size_t kPieceOfLight = 8;

uint8_t storedPart(float v) {
  return static_cast<uint8_t>(std::clamp(v * 255.f + 0.5f, 0.f, 255.f));
}

// The brightest a half float holds.
Eigen::half stored(float light) {
  return Eigen::half(std::clamp(light, 0.f, 65504.f));
}

}  // namespace

namespace {

// The mean of `bend(neighbour's way, change of the normal)` around each sample, smoothed twice.
template <class Bend>
std::vector<float> smoothedBend(const Surface& surface, Bend bend) {
  std::vector<float> raw(surface.size()), out(surface.size());
  parallel(surface.size(), [&](size_t s) {
    float sum = 0;
    const auto around = surface.neighborsOf(s);
    for (const uint32_t n : around) {
      const Vec3 way = surface.positions[n] - surface.positions[s];
      if (way.squaredNorm() > 0) sum += bend(way, surface.normals[n] - surface.normals[s]);
    }
    raw[s] = around.empty() ? 0 : sum / static_cast<float>(around.size());
  });
  for (int pass = 0; pass < 2; ++pass) {
    parallel(surface.size(), [&](size_t s) {
      float sum = raw[s];
      const auto around = surface.neighborsOf(s);
      for (const uint32_t n : around) sum += raw[n];
      out[s] = sum / static_cast<float>(around.size() + 1);
    });
    std::swap(raw, out);
  }
  return raw;
}

// A lamp of strength one as a light from one direction.
Harmonics numbersOf(const LitBy::Source& lamp) {
  Harmonics out = harmonicsAt(lamp.toward);
  for (float& v : out) v *= std::numbers::pi_v<float>;
  return out;
}

}  // namespace

// Clay is lit from above one side, softly, with some light from everywhere.
Harmonics clayNumbers(const Eigen::Matrix3f& from) {
  const Vec3 key = from * Vec3(-0.55f, 0.62f, 0.56f).normalized();
  Harmonics out = harmonicsAt(key);
  for (size_t k = 0; k < 9; ++k) out[k] *= 3.3f * std::array{1.f, 1.f, 0.8f}[static_cast<size_t>(kBand[k])];
  const Harmonics above = harmonicsAt(from * Vec3::UnitY());
  for (size_t k = 0; k < 4; ++k) out[k] += 0.3f * above[k];
  out[0] += 0.25f;
  return out;
}

std::vector<float> roughCurvature(const Surface& surface) {
  return smoothedBend(surface, [](const Vec3& way, const Vec3& turn) { return turn.norm() / way.norm(); });
}

std::vector<float> roughHollows(const Surface& surface) {
  return smoothedBend(surface,
                      [](const Vec3& way, const Vec3& turn) { return -turn.dot(way) / way.squaredNorm(); });
}

Lighting::Lighting(std::shared_ptr<const Surface> surface)
    : surface_(std::move(surface)),
      transfer_(std::make_shared<LightTransfer>(surface_->size())),
      shadows_(surface_->size()),
      curvature_(roughCurvature(*surface_)),
      hollow_(roughHollows(*surface_)),
      lit_(surface_->size()),
      open_(surface_->size()),
      received_(chunkCount(surface_->size())),
      laid_(chunkCount(surface_->size())),
      rays_(laid_.size(), 0),
      by_(litBy(now_)),
      all_(by_.soft),
      clay_(clayNumbers(clayFrom_)) {}

bool Lighting::setLight(const Light& wanted, const Eigen::Matrix3f& clayFrom) {
  Light light = wanted;
  light.exposure = 0;
  if (light == now_ && clayFrom == clayFrom_) return false;
  if (!(light == now_)) {
    const auto rays = [&](const LitBy& by) {
      int most = 0;
      for (const auto& lamp : by.lamps) most = std::max(most, LampShadows::settledRays(lamp));
      return most;
    };
    LitBy next = litBy(light);
    // lamps that moved need new rays; without lamps the sky's suffice
    for (size_t l = 0; l < kLampCount; ++l)
      if (rays(next) > 0 &&
          (next.lamps[l].toward != by_.lamps[l].toward || next.lamps[l].size != by_.lamps[l].size ||
           next.lamps[l].strength.isZero() != by_.lamps[l].strength.isZero())) {
        std::fill(rays_.begin(), rays_.end(), 0);
        whole_ = false;
      }
    by_ = std::move(next);
    shadows_.setLamps(by_.lamps);
    all_ = by_.soft;
    for (size_t l = 0; l < kLampCount; ++l) {
      lampNumbers_[l] = numbersOf(by_.lamps[l]);
      if (by_.lamps[l].shineOnly) continue;
      for (size_t c = 0; c < 3; ++c)
        for (size_t k = 0; k < 9; ++k)
          all_[c][k] += by_.lamps[l].strength[static_cast<int>(c)] * lampNumbers_[l][k];
    }
    if (light.depth != now_.depth) forgetTransfer();
    now_ = light;
  }
  clayFrom_ = clayFrom;
  clay_ = clayNumbers(clayFrom);
  ++light_;
  return true;
}

void Lighting::setHidden(const std::set<uint32_t>& parts) {
  if (parts == hidden_) return;
  hidden_ = parts;
  transfer_ = std::make_shared<LightTransfer>(surface_->size());
  forgetTransfer();
  shadows_ = LampShadows(surface_->size());
  shadows_.setLamps(by_.lamps);
  std::fill(rays_.begin(), rays_.end(), 0);
  whole_ = false;
  ++light_;
}

void Lighting::setMillimetres(float millimetres) {
  if (millimetres == millimetres_) return;
  millimetres_ = millimetres;
  forgetTransfer();
  ++light_;
}

void Lighting::forgetTransfer() {
  spreadTransfer_.reset();
  spreading_.reset();
  ++transferCounter_;
  transferLeft_ = false;
}

// Whether any lamp lights the skin, and not only shines on it.
bool Lighting::lampsLight() const {
  return std::ranges::any_of(by_.lamps,
                             [](const LitBy::Source& l) { return !l.strength.isZero() && !l.shineOnly; });
}

bool Lighting::anyLampCast(size_t s) const {
  for (size_t l = 0; l < kLampCount; ++l)
    if (!by_.lamps[l].strength.isZero() && !by_.lamps[l].shineOnly && shadows_.seen(*surface_, s, l))
      return true;
  return false;
}

// Of a lamp whose rays were not cast yet the sky's rays tell roughly what stands before it.
ReceivedLight Lighting::receivedAt(size_t s, const Harmonics& seen) const {
  ReceivedLight out{};
  for (size_t c = 0; c < 3; ++c) out[c] = irradianceOf(LightTransfer::bandsOf(seen, by_.soft[c]), 0);
  for (size_t l = 0; l < kLampCount; ++l) {
    const LitBy::Source& lamp = by_.lamps[l];
    if (lamp.strength.isZero() || lamp.shineOnly) continue;
    const auto part = shadows_.seen(*surface_, s, l);
    const float falls = part ? *part * std::max(0.f, surface_->normals[s].dot(lamp.toward))
                             : irradianceOf(LightTransfer::bandsOf(seen, lampNumbers_[l]), 0);
    for (size_t c = 0; c < 3; ++c) out[c] += falls * lamp.strength[static_cast<int>(c)];
  }
  return out;
}

// Until light is spread along the skin a sphere of its curvature stands for it; once it is known how soft
// light spreads, only for lamps.
LitSample Lighting::litAt(size_t s, const Harmonics& seen, const ReceivedLight& hard) const {
  // how far red, green and blue wander in mm: the roots of the table's mean variances
  constexpr std::array<float, 3> kWander{1.17f, 0.15f, 0.15f};
  const float unit = now_.depth / millimetres_;
  LitSample out;
  const bool known = spreadTransfer_ != nullptr;
  const ReceivedLight spread = known ? spreadTransfer_->leaving(s, by_.soft) : ReceivedLight{};
  for (size_t c = 0; c < 3; ++c) {
    const auto bands = LightTransfer::bandsOf(seen, by_.soft[c]);
    const float scatter = std::min(0.8f, kWander[c] * unit * curvature_[s]);
    const float soft = known ? spread[c] : irradianceOf(bands, scatter);
    out[c] = stored(std::max(0.f, hard[c] + soft - irradianceOf(bands, 0)));
  }
  // a hint of what is hollow, over a few points
  const float hollow = std::clamp(4 * hollow_[s] * surface_->spacing, -0.18f, 0.3f);
  out[3] = stored(irradianceOf(LightTransfer::bandsOf(seen, clay_), 0) * (1 - hollow));
  return out;
}

// Lamps that move cast nothing yet: they light as soft light does.
LitSample Lighting::at(size_t s, bool clay) const {
  if (!clay && spreadTransfer_ && !anyLampCast(s)) {
    const ReceivedLight light = spreadTransfer_->leaving(s, all_);
    return {stored(light[0]), stored(light[1]), stored(light[2]), Eigen::half(0.f)};
  }
  const Harmonics seen = transfer_->seen(*surface_, s);
  return litAt(s, seen, receivedAt(s, seen));
}

// What was laid last says what is seen of the sky, whatever light it was laid for.
OpenSample Lighting::openAt(size_t s) const {
  if (laid_[s / kChunkSize].light == 0) return openAt(s, transfer_->seen(*surface_, s));
  OpenSample out = open_[s];
  setOpenLamps(s, out);
  return out;
}

OpenSample Lighting::openAt(size_t s, const Harmonics& seen) const {
  OpenSample out;
  out.sky = storedPart(transfer_->openness(s));
  // the first band leans to where the light comes from
  out.toward = packedDirection({seen[3], seen[1], seen[2]});
  setOpenLamps(s, out);
  return out;
}

void Lighting::setOpenLamps(size_t s, OpenSample& open) const {
  for (size_t l = 0; l < kLampCount; ++l)
    open.lamps[l] = by_.lamps[l].strength.isZero()
                        ? 0
                        : storedPart(shadows_.seen(*surface_, s, l).value_or(transfer_->openness(s)));
}

bool Lighting::seenIsLit() const {
  return std::ranges::all_of(seen_, [&](uint32_t c) { return laid_[c].light == light_; });
}

void Lighting::layChunk(size_t chunk) {
  const size_t end = std::min(surface_->size(), (chunk + 1) * kChunkSize);
  auto received = std::make_shared<Received::Chunk>();
  for (size_t s = chunk * kChunkSize; s < end; ++s) {
    const Harmonics seen = transfer_->seen(*surface_, s);
    const ReceivedLight& hard = (*received)[s % kChunkSize] = receivedAt(s, seen);
    lit_[s] = litAt(s, seen, hard);
    open_[s] = openAt(s, seen);
  }
  received_[chunk] = std::move(received);
  laid_[chunk] = {light_, rays_[chunk]};
}

bool Lighting::lay(std::span<const uint32_t> chunks, const Stop& stop) {
  std::atomic<bool> stopped = false;
  parallel(
      chunks.size(),
      [&](size_t i) {
        if (!stopped && stop && stop()) stopped = true;
        if (!stopped && stale(chunks[i])) layChunk(chunks[i]);
      },
      1);
  return !stopped;
}

bool Lighting::lightSeen(const Stop& stop) {
  return lay(seen_, stop);
}

bool Lighting::firstRaysMissing() const {
  return std::ranges::any_of(seen_, [&](uint32_t c) { return rays_[c] < kFirstLightRays; });
}

bool Lighting::skyIsMissing() const {
  return std::ranges::any_of(
      seen_, [&](uint32_t c) { return transfer_->raysOf(c * kChunkSize) < kSettledLightRays; });
}

// What is to be done next: the first rays for what is seen, then for the rest, then all rays in the same
// order. What is not seen is lit when all have theirs.
Lighting::Rest Lighting::rest() const {
  std::vector<uint32_t> all(rays_.size());
  std::iota(all.begin(), all.end(), 0);
  for (const int rays : {kFirstLightRays, kSettledLightRays})
    for (const bool seen : {true, false}) {
      Rest out{{}, rays, seen};
      for (const uint32_t c : seen ? seen_ : all)
        if (rays_[c] < rays || ((seen || whole_) && stale(c))) out.chunks.push_back(c);
      if (!out.chunks.empty()) return out;
    }
  return {};
}

// What was laid while neighbours had fewer rays is laid once more when all have had theirs, so that the
// picture at rest is the same whatever came first.
void Lighting::noteWhole() {
  if (whole_ || std::ranges::any_of(rays_, [](int n) { return n < kSettledLightRays; })) return;
  whole_ = true;
  ++light_;
}

Lighting::Advance Lighting::advance(const Rays& rays, const Stop& stop) {
  const Rest rest = this->rest();
  if (rest.chunks.empty()) return {false, false};
  const std::span piece(rest.chunks.data(), std::min(kPieceOfLight, rest.chunks.size()));
  for (const uint32_t c : piece) {
    const size_t end = std::min(surface_->size(), (c + 1) * kChunkSize);
    if (!transfer_->raise(rays, hidden_, c * kChunkSize, end, rest.rays, stop)) return {};
    if (!shadows_.raise(rays, hidden_, c * kChunkSize, end, rest.rays, stop)) return {};
    rays_[c] = std::max(rays_[c], rest.rays);
    noteWhole();
    if (stop && stop()) return {};
  }
  const bool whole = (!rest.seen && !whole_) || lay(piece, stop);
  return {whole && rest.seen && piece.size() == rest.chunks.size(), true, whole_};
}

bool Lighting::settle(const Rays& rays, const Stop& stop) {
  for (const int count : {kFirstLightRays, kSettledLightRays})
    if (!transfer_->raise(rays, hidden_, 0, surface_->size(), count, stop) ||
        !shadows_.raise(rays, hidden_, 0, surface_->size(), count, stop))
      return false;
  std::fill(rays_.begin(), rays_.end(), kSettledLightRays);
  noteWhole();
  std::vector<uint32_t> all(rays_.size());
  std::iota(all.begin(), all.end(), 0);
  return lay(all, stop);
}

std::optional<Lighting::Received> Lighting::toSpread() const {
  if (spread_ == light_ || !whole_ || !(now_.depth > 0)) return std::nullopt;
  if (spreadTransfer_ && !lampsLight()) return std::nullopt;
  for (size_t c = 0; c < laid_.size(); ++c)
    if (stale(c) || !received_[c]) return std::nullopt;
  return Received{received_, surface_->size(), millimetres_, now_.depth, light_};
}

bool Lighting::takeSpread(std::span<const ReceivedLight> light, uint64_t counter) {
  if (counter != light_) return false;
  parallel(light.size(), [&](size_t s) {
    for (size_t c = 0; c < 3; ++c) lit_[s][c] = stored(light[s][c]);
  });
  spread_ = light_;
  return true;
}

std::optional<TransferToSpread> Lighting::transferToSpread() {
  if (!whole_ || transferLeft_ || !(now_.depth > 0) || surface_->size() > kMostTransferSamples ||
      spreadTransfer_)
    return std::nullopt;
  if (!spreading_) spreading_ = std::make_shared<SpreadTransfer>(surface_->size());
  return TransferToSpread{spreading_,   surface_,   transfer_,       spreading_->next(),
                          millimetres_, now_.depth, transferCounter_};
}

bool Lighting::takeTransfer(uint64_t counter) {
  if (counter != transferCounter_) return false;
  if (!spreading_->whole()) return true;
  spreadTransfer_ = std::exchange(spreading_, nullptr);
  // what was laid meanwhile and not spread is laid once more
  if (spread_ != light_ && !lampsLight()) ++light_;
  return true;
}

}  // namespace juvenor
