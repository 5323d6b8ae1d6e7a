#include "core/render/lighting.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <numeric>

#include "core/parallel.h"
#include "core/surface/field.h"

namespace juvenor {
namespace {

// Chunks a piece of work takes together: both cores are busy and a hand need not wait.
constexpr size_t kPieceOfLight = 8;

}  // namespace

std::vector<float> roughCurvature(const Surface& surface) {
  std::vector<float> raw(surface.size()), out(surface.size());
  parallel(surface.size(), [&](size_t s) {
    float sum = 0;
    const auto around = surface.neighborsOf(s);
    for (const uint32_t n : around) {
      const float d = (surface.positions[n] - surface.positions[s]).norm();
      if (d > 0) sum += (surface.normals[n] - surface.normals[s]).norm() / d;
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

Lighting::Lighting(std::shared_ptr<const Surface> surface)
    : surface_(std::move(surface)),
      transfer_(surface_->size()),
      curvature_(roughCurvature(*surface_)),
      lit_(surface_->size()),
      laid_(chunkCount(surface_->size())),
      rays_(laid_.size(), 0),
      nine_(harmonicsOf(now_)) {}

void Lighting::setLight(const Light& light) {
  if (light == now_) return;
  now_ = light;
  nine_ = harmonicsOf(light);
  ++light_;
}

LitSample Lighting::at(size_t s) const {
  // How far light wanders in skin, as parts of a head's size: about 3, 1 and 0.4 mm (from memory) of 350 mm.
  const float head = surface_->bounds.diagonal();
  const std::array<float, 3> scatter{0.0085f * head, 0.003f * head, 0.0012f * head};
  const std::array<float, 3> bands = transfer_.bands(*surface_, s, nine_);
  const auto unit = [](float e) { return static_cast<uint16_t>(std::min(65535.f, e * kLitUnit)); };
  LitSample out;
  for (size_t c = 0; c < 3; ++c)
    out[c] = unit(irradianceOf(bands, std::min(0.8f, scatter[c] * curvature_[s])));
  out[3] = unit(irradianceOf(bands, 0));
  return out;
}

bool Lighting::seenIsLit() const {
  return std::ranges::all_of(seen_, [&](uint32_t c) { return laid_[c].light == light_; });
}

void Lighting::layChunk(size_t chunk) {
  const size_t end = std::min(surface_->size(), (chunk + 1) * kChunkSize);
  for (size_t s = chunk * kChunkSize; s < end; ++s) lit_[s] = at(s);
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

// What is to be done next: the first rays for what is seen, then for the rest, then all rays in the same
// order.
Lighting::Rest Lighting::rest() const {
  std::vector<uint32_t> all(rays_.size());
  std::iota(all.begin(), all.end(), 0);
  for (const int rays : {kFirstLightRays, kSettledLightRays})
    for (const bool seen : {true, false}) {
      Rest out{{}, rays, seen};
      for (const uint32_t c : seen ? seen_ : all)
        if (rays_[c] < rays || stale(c)) out.chunks.push_back(c);
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
    if (!transfer_.raise(rays, c * kChunkSize, end, rest.rays, stop)) return {};
    rays_[c] = std::max(rays_[c], rest.rays);
    noteWhole();
    if (stop && stop()) return {};
  }
  const bool whole = lay(piece, stop);
  return {whole && rest.seen && piece.size() == rest.chunks.size(), true};
}

bool Lighting::settle(const Rays& rays, const Stop& stop) {
  if (!transfer_.raise(rays, 0, surface_->size(), kSettledLightRays, stop)) return false;
  std::fill(rays_.begin(), rays_.end(), kSettledLightRays);
  noteWhole();
  std::vector<uint32_t> all(rays_.size());
  std::iota(all.begin(), all.end(), 0);
  return lay(all, stop);
}

}  // namespace juvenor
