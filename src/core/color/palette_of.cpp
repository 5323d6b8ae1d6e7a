// K-means (Lloyd 1982) with the spread first centres of Arthur and Vassilvitskii 2007, in Oklab. Pixels are
// first gathered in cells of colour, 32 a channel, each with its mean and its count, so that a picture of any
// size costs one pass and the rest depends on its colours alone.
#include <tbb/blocked_range.h>
#include <tbb/parallel_reduce.h>

#include <algorithm>
#include <array>

#include "core/color/oklab.h"
#include "core/color/palette.h"

namespace juvenor {
namespace {

struct Cell {
  double l = 0, a = 0, b = 0, weight = 0;
};

// Sums of red, green, blue and alpha of the pixels in each cell.
using Sums = std::vector<std::array<uint64_t, 4>>;
constexpr size_t kCells = size_t{1} << 15;

Sums gathered(std::span<const uint32_t> pixels) {
  return tbb::parallel_reduce(
      tbb::blocked_range<size_t>(0, pixels.size(), size_t{1} << 20), Sums(kCells),
      [&](const auto& range, Sums sums) {
        for (size_t i = range.begin(); i != range.end(); ++i) {
          const uint32_t p = pixels[i], alpha = p >> 24;
          const size_t cell = (p >> 19 & 31) << 10 | (p >> 11 & 31) << 5 | (p >> 3 & 31);
          auto& s = sums[cell];
          s[0] += uint64_t{alpha} * (p >> 16 & 255);
          s[1] += uint64_t{alpha} * (p >> 8 & 255);
          s[2] += uint64_t{alpha} * (p & 255);
          s[3] += alpha;
        }
        return sums;
      },
      [](Sums a, const Sums& b) {
        for (size_t i = 0; i < kCells; ++i)
          for (size_t c = 0; c < 4; ++c) a[i][c] += b[i][c];
        return a;
      });
}

std::vector<Cell> cellsOf(const Sums& sums) {
  std::vector<Cell> out;
  for (const auto& s : sums) {
    if (s[3] == 0) continue;
    const auto channel = [&](size_t c) {
      return static_cast<float>(static_cast<double>(s[c]) / (255.0 * static_cast<double>(s[3])));
    };
    const Oklab k = toOklab(decode(EncodedColor{channel(0), channel(1), channel(2)}));
    out.push_back({static_cast<double>(k.l), static_cast<double>(k.a), static_cast<double>(k.b),
                   static_cast<double>(s[3])});
  }
  return out;
}

double apart(const Cell& p, const Cell& q) {
  return (p.l - q.l) * (p.l - q.l) + (p.a - q.a) * (p.a - q.a) + (p.b - q.b) * (p.b - q.b);
}

// The heaviest cell first, then always the cell that costs most as it stands: far from all others and common.
std::vector<Cell> firstCenters(const std::vector<Cell>& cells, size_t count) {
  std::vector<Cell> centers{*std::ranges::max_element(cells, {}, &Cell::weight)};
  std::vector<double> nearest(cells.size(), 1e9);
  while (centers.size() < count) {
    size_t worst = 0;
    double most = 0;
    for (size_t i = 0; i < cells.size(); ++i) {
      nearest[i] = std::min(nearest[i], apart(cells[i], centers.back()));
      if (const double cost = nearest[i] * cells[i].weight; cost > most) {
        most = cost;
        worst = i;
      }
    }
    if (!(most > 0)) break;
    centers.push_back(cells[worst]);
  }
  return centers;
}

// One round; true while a centre moves.
bool improve(const std::vector<Cell>& cells, std::vector<Cell>& centers) {
  std::vector<Cell> sums(centers.size());
  for (const Cell& cell : cells) {
    size_t best = 0;
    for (size_t k = 1; k < centers.size(); ++k)
      if (apart(cell, centers[k]) < apart(cell, centers[best])) best = k;
    Cell& sum = sums[best];
    sum.l += cell.weight * cell.l;
    sum.a += cell.weight * cell.a;
    sum.b += cell.weight * cell.b;
    sum.weight += cell.weight;
  }
  double moved = 0;
  for (size_t k = 0; k < centers.size(); ++k) {
    if (!(sums[k].weight > 0)) continue;
    const double w = sums[k].weight;
    const Cell next{sums[k].l / w, sums[k].a / w, sums[k].b / w, w};
    moved = std::max(moved, apart(next, centers[k]));
    centers[k] = next;
  }
  return moved > 1e-9;
}

}  // namespace

Result<std::vector<PaletteColor>> paletteOf(std::span<const uint32_t> pixels, int count,
                                            const Progress& progress) {
  if (count < 1 || count > 64) return Error{"a palette has from 1 to 64 colours"};
  const std::vector<Cell> cells = cellsOf(gathered(pixels));
  if (cells.empty()) return Error{"the picture has no pixel that is not transparent"};
  if (!report(progress, 0.5f)) return cancelledError();
  std::vector<Cell> centers = firstCenters(cells, static_cast<size_t>(count));
  for (int round = 0; round < 60 && improve(cells, centers); ++round)
    if (!report(progress, 0.5f + static_cast<float>(round) / 120.f)) return cancelledError();
  std::ranges::sort(centers, {}, &Cell::l);
  double total = 0;
  for (const Cell& c : cells) total += c.weight;
  std::vector<PaletteColor> out;
  for (const Cell& c : centers) {
    const EncodedColor color =
        encode(fromOklab({static_cast<float>(c.l), static_cast<float>(c.a), static_cast<float>(c.b)}));
    const auto unit = [](float v) { return std::clamp(v, 0.f, 1.f); };
    out.push_back({{unit(color.r), unit(color.g), unit(color.b)}, c.weight / total});
  }
  return out;
}

}  // namespace juvenor
