#include "core/render/spread_transfer.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/render/through_forms.h"

namespace juvenor {
namespace {

// The numbers of a light that is one everywhere, and of one from a single direction, stay well below two.
constexpr float kStep = 2.f / 32767;

std::vector<SkinGaussian> gaussiansOf(size_t color) {
  std::vector<SkinGaussian> out;
  for (SkinGaussian g : skinGaussians()) {
    if (!(g.part[color] > 0)) continue;
    const float part = g.part[color];
    g.part.fill(part);
    out.push_back(g);
  }
  return out;
}

}  // namespace

void SpreadTransfer::take(std::span<const ReceivedLight> spread) {
  const auto [color, first] = next();
  parallel(spread.size(), [&](size_t s) {
    for (size_t k = 0; k < 3; ++k)
      numbers_[s][color][first + k] =
          static_cast<int16_t>(std::lround(std::clamp(spread[s][k] / kStep, -32767.f, 32767.f)));
  });
  ++taken_;
}

ReceivedLight SpreadTransfer::leaving(size_t sample, const std::array<Harmonics, 3>& light) const {
  ReceivedLight out{};
  for (size_t c = 0; c < 3; ++c) {
    float sum = 0;
    for (size_t k = 0; k < 9; ++k) sum += light[c][k] * static_cast<float>(numbers_[sample][c][k]);
    out[c] = std::max(0.f, kStep * sum);
  }
  return out;
}

Outcome spreadPiece(const TransferToSpread& wanted, SurfaceMaps& maps, const Progress& progress) {
  const auto [color, first] = wanted.piece;
  const Surface& surface = *wanted.surface;
  std::vector<ReceivedLight> hard(surface.size());
  parallel(hard.size(), [&](size_t s) {
    const Harmonics seen = wanted.transfer->seen(surface, s);
    for (size_t k = 0; k < 3; ++k) hard[s][k] = seen[first + k];
  });
  auto out = wandered(maps.ladder(), hard, wanted.millimetres, wanted.depth, progress, gaussiansOf(color));
  if (!out) return out.error();
  const auto through = throughForms(maps, kThickestGlow * wanted.depth / wanted.millimetres);
  if (!through) return through.error();
  addGlow(*out, hard, **through, wanted.millimetres, wanted.depth, color);
  wanted.into->take(*out);
  return Done{};
}

}  // namespace juvenor
