#include <cmath>

#include "core/parallel.h"
#include "core/render/picture.h"

namespace juvenor {
namespace {

std::vector<LitSample> smoothed(const Surface& surface, const std::vector<LitSample>& in) {
  std::vector<LitSample> out(in.size());
  parallel(surface.size(), [&](size_t s) {
    std::array<uint32_t, 4> sum;
    for (size_t c = 0; c < 4; ++c) sum[c] = 2u * in[s][c];
    uint32_t weight = 2;
    for (const uint32_t n : surface.neighborsOf(s)) {
      for (size_t c = 0; c < 4; ++c) sum[c] += in[n][c];
      ++weight;
    }
    for (size_t c = 0; c < 4; ++c) out[s][c] = static_cast<uint16_t>(sum[c] / weight);
  });
  return out;
}

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

std::vector<LitSample> litSamples(const Surface& surface, const LightTransfer& transfer,
                                  const std::vector<float>& curvature, const Light& light) {
  const Harmonics nine = harmonicsOf(light);
  // How far light wanders in skin, as parts of a head's size: about 3, 1 and 0.4 mm (from memory) of 350 mm.
  const float head = surface.bounds.diagonal();
  const std::array<float, 4> scatter{0.0085f * head, 0.003f * head, 0.0012f * head, 0.f};
  std::vector<LitSample> out(surface.size());
  parallel(surface.size(), [&](size_t s) {
    for (size_t c = 0; c < 4; ++c) {
      const float e =
          transfer.irradiance(s, surface.normals[s], nine, std::min(0.8f, scatter[c] * curvature[s]));
      out[s][c] = static_cast<uint16_t>(std::min(65535.f, e * kLitUnit));
    }
  });
  return smoothed(surface, smoothed(surface, out));
}

}  // namespace juvenor
