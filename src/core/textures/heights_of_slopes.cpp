#include "core/parallel.h"
#include "core/textures/bring_maps.h"

namespace juvenor {
namespace {

using Values = std::vector<double>;

double sumOver(size_t count, const std::function<double(size_t)>& of) {
  // added up in stretches, so that it does not depend on the threads
  constexpr size_t kStretch = 16384;
  Values parts((count + kStretch - 1) / kStretch, 0);
  parallel(
      parts.size(),
      [&](size_t k) {
        for (size_t i = k * kStretch; i < std::min(count, (k + 1) * kStretch); ++i) parts[k] += of(i);
      },
      1);
  double sum = 0;
  for (const double p : parts) sum += p;
  return sum;
}

double dot(const Values& a, const Values& b) {
  return sumOver(a.size(), [&](size_t i) { return a[i] * b[i]; });
}

double degreeOf(const SkinGraph& g, size_t i) {
  double out = 1e-12;
  for (uint32_t e = g.start[i]; e < g.start[i + 1]; ++e) out += static_cast<double>(g.weights[e]);
  return out;
}

// The graph's Laplacian times x.
void multiply(const SkinGraph& g, const Values& x, Values& out) {
  out.resize(x.size());
  parallel(x.size(), [&](size_t i) {
    double sum = 1e-12 * x[i];
    for (uint32_t e = g.start[i]; e < g.start[i + 1]; ++e)
      sum += static_cast<double>(g.weights[e]) * (x[i] - x[g.neighbors[e]]);
    out[i] = sum;
  });
}

// One V of a multigrid by aggregation: Jacobi's steps on every level, sums going up, values coming down. It
// is symmetric, as a preconditioner of conjugate gradients must be.
class Ladder {
 public:
  explicit Ladder(const SkinLadder& ladder) : ladder_(ladder), levels_(ladder.graphs.size()) {
    for (size_t l = 0; l < levels_.size(); ++l) {
      const SkinGraph& g = ladder.graphs[l];
      levels_[l].inverse.resize(g.size());
      parallel(g.size(), [&](size_t i) { levels_[l].inverse[i] = 0.6 / degreeOf(g, i); });
    }
  }
  void apply(const Values& residual, Values& out) {
    levels_[0].right = residual;
    descend(0);
    out = levels_[0].value;
  }

 private:
  struct Level {
    Values inverse, right, value, scratch;
  };
  void smooth(size_t l) {
    Level& at = levels_[l];
    multiply(ladder_.graphs[l], at.value, at.scratch);
    parallel(at.value.size(),
             [&](size_t i) { at.value[i] += at.inverse[i] * (at.right[i] - at.scratch[i]); });
  }
  void descend(size_t l) {
    Level& at = levels_[l];
    at.value.resize(at.right.size());
    parallel(at.value.size(), [&](size_t i) { at.value[i] = at.inverse[i] * at.right[i]; });
    const bool last = l + 1 == levels_.size();
    for (int step = 0; step < (last ? 20 : 1); ++step) smooth(l);
    if (last) return;
    multiply(ladder_.graphs[l], at.value, at.scratch);
    Level& up = levels_[l + 1];
    up.right.assign(ladder_.graphs[l + 1].size(), 0);
    const std::vector<uint32_t>& above = ladder_.coarser[l];
    for (size_t i = 0; i < at.value.size(); ++i) up.right[above[i]] += at.right[i] - at.scratch[i];
    descend(l + 1);
    // (plain aggregates correct too little: common practice draws them out)
    parallel(at.value.size(), [&](size_t i) { at.value[i] += 1.5 * up.value[above[i]]; });
    smooth(l);
    smooth(l);
  }

  const SkinLadder& ladder_;
  std::vector<Level> levels_;
};

// The pieces that hang together lose their means: nothing says how high they lie.
void center(const SkinGraph& g, Values& x) {
  std::vector<char> seen(g.size(), 0);
  std::vector<uint32_t> piece;
  for (uint32_t first = 0; first < g.size(); ++first) {
    if (seen[first]) continue;
    piece.assign(1, first);
    seen[first] = 1;
    double sum = 0, area = 0;
    for (size_t k = 0; k < piece.size(); ++k) {
      const uint32_t i = piece[k];
      sum += static_cast<double>(g.areas[i]) * x[i];
      area += static_cast<double>(g.areas[i]);
      for (uint32_t e = g.start[i]; e < g.start[i + 1]; ++e)
        if (!seen[g.neighbors[e]]) {
          seen[g.neighbors[e]] = 1;
          piece.push_back(g.neighbors[e]);
        }
    }
    for (const uint32_t i : piece) x[i] -= sum / area;
  }
}

}  // namespace

std::vector<float> heightsOfSlopes(const Surface& surface, const SkinLadder& ladder,
                                   std::span<const Vec3> slopes) {
  const SkinGraph& g = ladder.graphs.front();
  Values right(g.size()), x(g.size(), 0), residual, direction, product, better;
  parallel(g.size(), [&](size_t i) {
    double sum = 0;
    for (uint32_t e = g.start[i]; e < g.start[i + 1]; ++e) {
      const uint32_t j = g.neighbors[e];
      const Vec3 way = surface.positions[i] - surface.positions[j];
      sum += static_cast<double>(g.weights[e] * 0.5f * (slopes[i] + slopes[j]).dot(way));
    }
    right[i] = sum;
  });
  residual = right;
  const double wanted = 1e-8 * dot(right, right);
  Ladder precondition(ladder);
  precondition.apply(residual, better);
  direction = better;
  double rho = dot(residual, better);
  for (int step = 0; step < 100 && dot(residual, residual) > wanted && rho > 0; ++step) {
    multiply(g, direction, product);
    const double alpha = rho / dot(direction, product);
    parallel(x.size(), [&](size_t i) {
      x[i] += alpha * direction[i];
      residual[i] -= alpha * product[i];
    });
    precondition.apply(residual, better);
    const double next = dot(residual, better), beta = next / rho;
    rho = next;
    parallel(x.size(), [&](size_t i) { direction[i] = better[i] + beta * direction[i]; });
  }
  center(g, x);
  std::vector<float> out(x.size());
  parallel(x.size(), [&](size_t i) { out[i] = static_cast<float>(x[i]); });
  return out;
}

}  // namespace juvenor
