#include "core/stepback/where_the_eye_goes.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/color/lab.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

// Pixels across the longer side that contrast is looked for in.
constexpr int kAcross = 240;
// Standard deviations of the centres; the surround of each is four times as wide.
constexpr std::array<float, 3> kCentres{1.f, 2.f, 4.f};
constexpr float kSurround = 4;

using Plane = std::vector<float>;

// The picture as planes of CIELAB with how much of each pixel is sculpt.
struct Seen {
  ViewSize size;
  Plane sculpt;
  std::array<Plane, 3> lab;
};

size_t countOf(const ViewSize& size) {
  return static_cast<size_t>(size.width) * static_cast<size_t>(size.height);
}

ViewSize reducedSize(const ViewSize& size) {
  const int part = std::max(1, (std::max(size.width, size.height) + kAcross - 1) / kAcross);
  return {(size.width + part - 1) / part, (size.height + part - 1) / part};
}

// Means over squares of pixels.
Seen reduced(std::span<const uint32_t> pixels, std::span<const uint8_t> sculpt, const ViewSize& whole) {
  Seen out{reducedSize(whole), {}, {}};
  const size_t n = countOf(out.size);
  const int part = (whole.width + out.size.width - 1) / out.size.width;
  out.sculpt.assign(n, 0);
  for (Plane& p : out.lab) p.assign(n, 0);
  parallel(
      static_cast<size_t>(out.size.height),
      [&](size_t row) {
        for (int x = 0; x < out.size.width; ++x) {
          std::array<float, 3> sum{};
          int count = 0, all = 0;
          for (int dy = 0; dy < part; ++dy)
            for (int dx = 0; dx < part; ++dx) {
              const int px = x * part + dx, py = static_cast<int>(row) * part + dy;
              if (px >= whole.width || py >= whole.height) continue;
              const auto at =
                  static_cast<size_t>(py) * static_cast<size_t>(whole.width) + static_cast<size_t>(px);
              ++all;
              if (!sculpt[at]) continue;
              ++count;
              for (size_t c = 0; c < 3; ++c)
                sum[c] += static_cast<float>(pixels[at] >> (16 - 8 * c) & 0xff) / 255;
            }
          if (count == 0) continue;
          const auto to = row * static_cast<size_t>(out.size.width) + static_cast<size_t>(x);
          const auto over = static_cast<float>(count);
          const Lab lab = toLab(EncodedColor{sum[0] / over, sum[1] / over, sum[2] / over});
          out.sculpt[to] = over / static_cast<float>(all);
          out.lab[0][to] = static_cast<float>(lab.l);
          out.lab[1][to] = static_cast<float>(lab.a);
          out.lab[2][to] = static_cast<float>(lab.b);
        }
      },
      8);
  return out;
}

std::vector<float> bell(float deviation) {
  const auto reach = static_cast<size_t>(std::ceil(3 * deviation));
  std::vector<float> out(reach + 1);
  for (size_t i = 0; i <= reach; ++i) {
    const float t = static_cast<float>(i) / deviation;
    out[i] = std::exp(-0.5f * t * t);
  }
  return out;
}

// Sums under a bell along rows, turned over: rows become columns.
Plane blurredAcross(const Plane& in, const ViewSize& size, const std::vector<float>& bell) {
  Plane out(in.size());
  const auto width = static_cast<size_t>(size.width), height = static_cast<size_t>(size.height);
  parallel(
      height,
      [&](size_t y) {
        const float* row = &in[y * width];
        for (size_t x = 0; x < width; ++x) {
          float sum = bell[0] * row[x];
          for (size_t i = 1; i < bell.size(); ++i) {
            if (x >= i) sum += bell[i] * row[x - i];
            if (x + i < width) sum += bell[i] * row[x + i];
          }
          out[x * height + y] = sum;
        }
      },
      8);
  return out;
}

Plane blurred(const Plane& in, const ViewSize& size, float deviation) {
  const std::vector<float> b = bell(deviation);
  return blurredAcross(blurredAcross(in, size, b), {size.height, size.width}, b);
}

// Means of a plane among sculpt alone; `weights` are those of the same blur.
Plane meanAround(const Plane& plane, const Seen& seen, const Plane& weights, float deviation) {
  Plane weighted(plane.size());
  for (size_t i = 0; i < plane.size(); ++i) weighted[i] = plane[i] * seen.sculpt[i];
  Plane out = blurred(weighted, seen.size, deviation);
  for (size_t i = 0; i < out.size(); ++i) out[i] = weights[i] > 1e-6f ? out[i] / weights[i] : 0;
  return out;
}

// A map whose few peaks stand out is raised over one with many: to one, then by the square of how far its
// highest peak lies above the mean of the others. What differs by less than can be told apart stays away.
void promote(Plane& map, const Seen& seen, float least) {
  const float most = *std::ranges::max_element(map);
  if (!(most > least)) return void(std::ranges::fill(map, 0.f));
  const int reach = std::max(2, kAcross / 24);
  const auto width = static_cast<size_t>(seen.size.width), height = static_cast<size_t>(seen.size.height);
  double sum = 0;
  size_t peaks = 0;
  for (size_t y = 0; y < height; ++y)
    for (size_t x = 0; x < width; ++x) {
      const float here = map[y * width + x];
      if (!(here > 0.05f * most)) continue;
      bool highest = true;
      const size_t r = static_cast<size_t>(reach), x1 = std::min(width - 1, x + r),
                   y1 = std::min(height - 1, y + r);
      for (size_t j = y - std::min(y, r); highest && j <= y1; ++j)
        for (size_t i = x - std::min(x, r); i <= x1; ++i)
          if (map[j * width + i] > here) {
            highest = false;
            break;
          }
      if (!highest) continue;
      sum += here / most;
      ++peaks;
    }
  // the highest is one of them
  const float others = peaks > 1 ? static_cast<float>((sum - 1) / static_cast<double>(peaks - 1)) : 0;
  const float raise = (1 - others) * (1 - others) / most;
  for (float& v : map) v *= raise;
}

// How far a place differs from what lies around it, of up to two planes together, over all scales.
Plane contrastOf(std::span<const Plane* const> planes, const Seen& seen, float least) {
  Plane out(seen.sculpt.size(), 0.f);
  for (const float centre : kCentres) {
    const Plane inner = blurred(seen.sculpt, seen.size, centre),
                outer = blurred(seen.sculpt, seen.size, kSurround * centre);
    Plane difference(out.size(), 0.f);
    for (const Plane* plane : planes) {
      const Plane in = meanAround(*plane, seen, inner, centre),
                  around = meanAround(*plane, seen, outer, kSurround * centre);
      for (size_t i = 0; i < out.size(); ++i) difference[i] += (in[i] - around[i]) * (in[i] - around[i]);
    }
    for (size_t i = 0; i < out.size(); ++i)
      difference[i] = seen.sculpt[i] > 0 ? std::sqrt(difference[i]) * seen.sculpt[i] : 0;
    promote(difference, seen, least);
    for (size_t i = 0; i < out.size(); ++i) out[i] += difference[i];
  }
  promote(out, seen, 0);
  return out;
}

// How fine and how strong the detail is: the deviation from the mean close by.
Plane finenessOf(const Seen& seen) {
  constexpr float kClose = 1.5f;
  const Plane weights = blurred(seen.sculpt, seen.size, kClose);
  const Plane mean = meanAround(seen.lab[0], seen, weights, kClose);
  Plane out(mean.size(), 0.f);
  for (size_t i = 0; i < out.size(); ++i)
    if (seen.sculpt[i] > 0) out[i] = std::abs(seen.lab[0][i] - mean[i]);
  return out;
}

// The highest places that lie apart: near one that was taken nothing is looked for (inhibition of return).
std::vector<EyePlace> strongestOf(const EyeMap& map, const ViewSize& whole) {
  constexpr size_t kMost = 3;
  constexpr float kWeak = 0.05f;
  const float apart = static_cast<float>(std::max(map.size.width, map.size.height)) / 10;
  const float part = static_cast<float>(whole.width) / static_cast<float>(map.size.width);
  std::vector<EyePlace> out;
  std::vector<size_t> order(map.draw.size());
  std::iota(order.begin(), order.end(), size_t{0});
  std::ranges::stable_sort(order, [&](size_t a, size_t b) { return map.draw[a] > map.draw[b]; });
  for (const size_t i : order) {
    if (out.size() == kMost || !(map.draw[i] > kWeak)) break;
    const auto width = static_cast<size_t>(map.size.width);
    const Vec2 at = part * Vec2(static_cast<float>(i % width) + 0.5f, static_cast<float>(i / width) + 0.5f);
    if (std::ranges::all_of(out, [&](const EyePlace& p) { return (p.pixel - at).norm() > part * apart; }))
      out.push_back({at, map.draw[i]});
  }
  return out;
}

}  // namespace

EyeMap whereTheEyeGoes(std::span<const uint32_t> pixels, std::span<const uint8_t> sculpt,
                       const ViewSize& size) {
  // a step of lightness or of hue one can just see (from memory: a ΔE of about one, more at a distance)
  constexpr float kLeast = 1.5f;
  const Seen seen = reduced(pixels, sculpt, size);
  const Plane fineness = finenessOf(seen);
  const Plane* const light[] = {&seen.lab[0]};
  const Plane* const hue[] = {&seen.lab[1], &seen.lab[2]};
  const Plane* const fine[] = {&fineness};
  EyeMap out{seen.size, Plane(seen.sculpt.size(), 0.f), {}};
  for (const auto& planes : {std::span<const Plane* const>(light), std::span<const Plane* const>(hue),
                             std::span<const Plane* const>(fine)}) {
    const Plane contrast = contrastOf(planes, seen, kLeast);
    for (size_t i = 0; i < contrast.size(); ++i) out.draw[i] += contrast[i] / 3;
  }
  out.strongest = strongestOf(out, size);
  return out;
}

float drawOf(const EyeMap& map, std::span<const uint8_t> within, const ViewSize& size) {
  double inside = 0, all = 0;
  size_t count = 0, pixels = 0;
  for (int y = 0; y < size.height; ++y)
    for (int x = 0; x < size.width; ++x) {
      const int mx = x * map.size.width / size.width, my = y * map.size.height / size.height;
      const float draw = map.draw[static_cast<size_t>(my * map.size.width + mx)];
      if (!(draw > 0)) continue;
      all += draw;
      ++pixels;
      if (!within[static_cast<size_t>(y) * static_cast<size_t>(size.width) + static_cast<size_t>(x)])
        continue;
      inside += draw;
      ++count;
    }
  if (count == 0 || !(all > 0)) return 0;
  return static_cast<float>(inside / static_cast<double>(count) / (all / static_cast<double>(pixels)));
}

}  // namespace juvenor
