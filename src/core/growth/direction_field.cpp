#include "core/growth/direction_field.h"

#include <Eigen/SparseCholesky>
#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/seeded.h"

namespace juvenor {
namespace {

using Complex = std::complex<float>;
using Numbers = std::vector<Complex>;

// How much a node that is combed all over counts beside its neighbours.
constexpr float kWish = 30;
// Of the whole: how far the general flow gives way to what is combed, and how far a field turns freely.
constexpr float kFlowReach = 0.25f;
constexpr int kSweeps = 40, kFineSweeps = 10;

// What each node of a level is drawn to.
struct Wishes {
  Numbers toward;  ///< times the weight
  std::vector<float> weight;
  explicit Wishes(size_t nodes) : toward(nodes), weight(nodes, 0.f) {}
  void add(size_t node, Complex z, float w) {
    toward[node] += w * z;
    weight[node] += w;
  }
};

// The power of a direction, unit; zero for what has none.
Complex directionNumber(const TangentFrames& frames, const Vec3& direction, size_t node, int symmetry) {
  const Complex z = frames.numberOf(direction, node);
  const float length = std::abs(z);
  return length > 1e-6f * direction.norm() ? powerOf(z / length, symmetry) : Complex();
}

// The way of least bending at a node as a line, as long as the difference of the two curvatures' sizes: the
// traceless part of the best symmetric map from steps to neighbours to the turning of normals.
Complex leastBending(const DirectionLadder::Level& level, size_t node) {
  Eigen::Matrix3f normal = Eigen::Matrix3f::Zero();
  Vec3 right = Vec3::Zero();
  for (uint32_t e = level.graph->start[node]; e < level.graph->start[node + 1]; ++e) {
    const uint32_t other = level.graph->neighbors[e];
    const Complex step =
        level.frames.numberOf(level.graph->positions[other] - level.graph->positions[node], node);
    const Complex turn =
        level.frames.numberOf(level.frames.normals[other] - level.frames.normals[node], node);
    const float x = step.real(), y = step.imag(), w = level.graph->weights[e];
    // rows x and y of S (a b; b d) applied to the step
    const Vec3 first(x, y, 0), second(0, x, y);
    normal += w * (first * first.transpose() + second * second.transpose());
    right += w * (turn.real() * first + turn.imag() * second);
  }
  const float hair = 1e-6f * normal.trace();
  if (!(hair > 0)) return {};
  normal.diagonal().array() += hair;
  const Vec3 s = normal.ldlt().solve(right);
  const float mean = 0.5f * (s[0] + s[2]);
  const Complex most(0.5f * (s[0] - s[2]), s[1]);
  const float spread = std::abs(most);
  if (!(spread > 0) || !std::isfinite(spread)) return {};
  // |k1| − |k2| of k1 = mean + spread, k2 = mean − spread
  const float difference = std::abs(mean + spread) - std::abs(mean - spread);
  return -most / spread * difference;
}

void addCurvature(const DirectionLadder::Level& level, const DirectionSetting& setting, Wishes& wishes) {
  if (!(setting.curvature > 0)) return;
  const int symmetry = static_cast<int>(setting.symmetry);
  parallel(
      level.graph->size(),
      [&](size_t i) {
        const Complex line = leastBending(level, i);
        const float bending = std::min(std::abs(line), 1 / level.cell);
        if (!(bending > 0)) return;
        float weight = setting.curvature * bending * bending * level.graph->areas[i];
        Complex z = line / std::abs(line);
        if (symmetry == 1) {
          // a line says nothing of which way it is gone: the flow does
          z = std::sqrt(z);
          const float along = level.frames.vectorOf(z, i).dot(setting.flow);
          weight *= std::abs(along);
          if (along < 0) z = -z;
        } else if (symmetry == 4) {
          z *= z;
        }
        wishes.add(i, z, weight);
      },
      1024);
}

void addFlow(const DirectionLadder::Level& level, const DirectionSetting& setting, float diagonal,
             Wishes& wishes) {
  const float perArea = 1 / (kFlowReach * kFlowReach * diagonal * diagonal);
  if (!(setting.flow.norm() > 0) || !std::isfinite(perArea)) return;
  parallel(level.graph->size(), [&](size_t i) {
    const Complex z = directionNumber(level.frames, setting.flow, i, static_cast<int>(setting.symmetry));
    const float lies = std::abs(level.frames.numberOf(setting.flow, i));
    if (std::norm(z) > 0) wishes.add(i, z, perArea * lies * lies * level.graph->areas[i]);
  });
}

// One damped Jacobi step of the energy with every direction as long as any other.
void sweep(const DirectionLadder::Level& level, const Wishes& wishes, int symmetry, Numbers& u,
           Numbers& next) {
  constexpr float kDamping = 0.8f;
  const SkinGraph& graph = *level.graph;
  next.resize(u.size());
  parallel(
      u.size(),
      [&](size_t i) {
        Complex sum = wishes.toward[i];
        float diagonal = wishes.weight[i];
        for (uint32_t e = graph.start[i]; e < graph.start[i + 1]; ++e) {
          sum += graph.weights[e] * powerOf(level.turns[e], symmetry) * u[graph.neighbors[e]];
          diagonal += graph.weights[e];
        }
        const Complex z = diagonal > 0 ? u[i] + kDamping * (sum / diagonal - u[i]) : u[i];
        const float length = std::sqrt(std::norm(z));
        next[i] = length > 1e-20f ? z / length : u[i];
      },
      2048);
  u.swap(next);
}

// The one level whose system is solved at once: coarse enough for that, fine enough for the skin's bends.
size_t directLevel(std::span<const DirectionLadder::Level> levels) {
  constexpr size_t kMostNodes = 4000;
  size_t out = 0;
  while (out + 1 < levels.size() && levels[out].graph->size() > kMostNodes) ++out;
  return out;
}

using EnergyMatrix = Eigen::SparseMatrix<std::complex<double>>;

// The energy of a level as a matrix; a hair more on the diagonal keeps loose nodes and fields without any
// wish solvable.
EnergyMatrix energyOf(const DirectionLadder::Level& level, const Wishes& wishes, int symmetry) {
  constexpr double kHair = 1e-6;
  const SkinGraph& graph = *level.graph;
  std::vector<Eigen::Triplet<std::complex<double>>> entries;
  for (uint32_t i = 0; i < graph.size(); ++i) {
    double diagonal = static_cast<double>(wishes.weight[i]) + kHair;
    for (uint32_t e = graph.start[i]; e < graph.start[i + 1]; ++e) {
      entries.emplace_back(
          i, graph.neighbors[e],
          -static_cast<double>(graph.weights[e]) * std::complex<double>(powerOf(level.turns[e], symmetry)));
      diagonal += static_cast<double>(graph.weights[e]);
    }
    entries.emplace_back(i, i, diagonal);
  }
  const auto nodes = static_cast<Eigen::Index>(graph.size());
  EnergyMatrix out(nodes, nodes);
  out.setFromTriplets(entries.begin(), entries.end());
  return out;
}

// The smoothest field where nothing is wished (the energy's lowest eigenvector, by inverse iteration), else
// the one the wishes draw.
Numbers solved(const DirectionLadder::Level& level, const Wishes& wishes, int symmetry) {
  constexpr int kRounds = 40;
  const size_t nodes = level.graph->size();
  Numbers out(nodes, Complex(1, 0));
  Eigen::SimplicialLDLT<EnergyMatrix> factors(energyOf(level, wishes, symmetry));
  if (factors.info() != Eigen::Success) return out;
  const bool free = std::ranges::all_of(wishes.weight, [](float w) { return w <= 0; });
  Eigen::VectorXcd u(static_cast<Eigen::Index>(nodes));
  Draws draws(1);
  for (Eigen::Index i = 0; i < u.size(); ++i) {
    const auto z = wishes.toward[static_cast<size_t>(i)];
    u[i] =
        free ? std::complex<double>(std::polar(1.f, 3.14159265f * draws.around())) : std::complex<double>(z);
  }
  for (int round = 0; round < (free ? kRounds : 1); ++round) {
    u = factors.solve(u);
    if (free) u.normalize();
  }
  for (size_t i = 0; i < nodes; ++i) {
    const std::complex<double> z = u[static_cast<Eigen::Index>(i)];
    if (const double length = std::abs(z); length > 1e-300 && std::isfinite(length))
      out[i] = Complex(z / length);
  }
  return out;
}

// What is combed counts at a node by the part of it that is, so that it is felt alike at any density.
void addCombed(const Surface& surface, const DirectionLadder& ladder, const DirectionSetting& setting,
               std::span<const DirectionWish> wishes, std::vector<Wishes>& out) {
  const int symmetry = static_cast<int>(setting.symmetry);
  const auto levels = ladder.levels();
  const auto above = ladder.aboveSamples();
  Wishes combed(levels[0].graph->size());
  for (const DirectionWish& wish : wishes) {
    const size_t node = above.empty() ? wish.sample : above[wish.sample];
    const Complex z = directionNumber(levels[0].frames, wish.direction, node, symmetry);
    const float part = std::min(1.f, surface.areas[wish.sample] / levels[0].graph->areas[node]);
    if (std::norm(z) > 0) combed.add(node, z, kWish * part * std::max(0.f, wish.strength));
  }
  for (size_t l = 0; l < levels.size(); ++l) {
    for (size_t i = 0; i < combed.weight.size(); ++i) {
      out[l].toward[i] += combed.toward[i];
      out[l].weight[i] += combed.weight[i];
    }
    if (l + 1 == levels.size()) break;
    Wishes up(levels[l + 1].graph->size());
    for (size_t i = 0; i < combed.weight.size(); ++i) {
      if (!(combed.weight[i] > 0)) continue;
      const uint32_t node = ladder.above(l)[i];
      const float part = levels[l].graph->areas[i] / levels[l + 1].graph->areas[node];
      up.toward[node] +=
          part * levels[l].frames.transport(i, levels[l + 1].frames, node, symmetry) * combed.toward[i];
      up.weight[node] += part * combed.weight[i];
    }
    combed = std::move(up);
  }
}

// What the level above is drawn to by the form, for a finer one.
void addFromAbove(const DirectionLadder& ladder, size_t level, const Wishes& above,
                  const DirectionSetting& setting, Wishes& wishes) {
  if (!(setting.curvature > 0)) return;
  const DirectionLadder::Level &here = ladder.levels()[level], &up = ladder.levels()[level + 1];
  const int symmetry = static_cast<int>(setting.symmetry);
  parallel(here.graph->size(), [&](size_t i) {
    const uint32_t node = ladder.above(level)[i];
    const float part = here.graph->areas[i] / up.graph->areas[node];
    wishes.toward[i] += part * up.frames.transport(node, here.frames, i, symmetry) * above.toward[node];
    wishes.weight[i] += part * above.weight[node];
  });
}

std::vector<Wishes> wishesOf(const Surface& surface, const DirectionLadder& ladder,
                             const DirectionSetting& setting, std::span<const DirectionWish> wishes) {
  const auto levels = ladder.levels();
  std::vector<Wishes> out;
  for (const auto& level : levels) out.emplace_back(level.graph->size());
  // forms are seen where cells are about a quarter of them
  size_t seen = 0;
  while (seen + 1 < levels.size() && levels[seen].cell < 0.25f * setting.form) ++seen;
  for (size_t l = seen; l < levels.size(); ++l) addCurvature(levels[l], setting, out[l]);
  for (size_t l = 0; l < seen; ++l) {
    const size_t up = seen - 1 - l;
    addFromAbove(ladder, up, out[up + 1], setting, out[up]);
  }
  for (size_t l = 0; l < levels.size(); ++l) addFlow(levels[l], setting, surface.bounds.diagonal(), out[l]);
  addCombed(surface, ladder, setting, wishes, out);
  return out;
}

// Between the nodes: those that hang together, the nearest counting most.
std::vector<Vec3> blendedOver(const Surface& surface, const DirectionLadder& ladder, const Numbers& u,
                              int symmetry) {
  constexpr float kReach = 1.8f;  // cells
  const DirectionLadder::Level& level = ladder.levels()[0];
  const SkinGraph& graph = *level.graph;
  const auto above = ladder.aboveSamples();
  const float reach2 = kReach * kReach * level.cell * level.cell;
  std::vector<Vec3> out(surface.size());
  parallel(
      out.size(),
      [&](size_t s) {
        const size_t own = above.empty() ? s : above[s];
        const Vec3 &normal = surface.normals[s], axis = normal.unitOrthogonal(), side = normal.cross(axis);
        Complex sum = 0;
        const auto take = [&](size_t node, float least) {
          const float r2 = (graph.positions[node] - surface.positions[s]).squaredNorm() / reach2;
          const float weight = std::max(least, r2 < 1 ? (1 - r2) * (1 - r2) : 0.f);
          if (!(weight > 0)) return;
          const Vec3 x = carried(level.frames.axes[node], level.frames.normals[node], normal);
          Complex turn(x.dot(axis), x.dot(side));
          turn /= std::max(std::sqrt(std::norm(turn)), 1e-20f);
          sum += weight * powerOf(turn, symmetry) * u[node];
        };
        take(own, 1e-3f);
        if (!above.empty())
          for (uint32_t e = graph.start[own]; e < graph.start[own + 1]; ++e) take(graph.neighbors[e], 0);
        const Complex z = std::polar(1.f, std::arg(sum) / static_cast<float>(symmetry));
        out[s] = z.real() * axis + z.imag() * side;
      },
      2048);
  return out;
}

std::vector<Vec3> averagedUp(const SkinGraph& fine, const std::vector<Vec3>& normals,
                             std::span<const uint32_t> above, size_t count) {
  std::vector<Vec3> out(count, Vec3::Zero());
  for (size_t i = 0; i < normals.size(); ++i) out[above[i]] += fine.areas[i] * normals[i];
  for (Vec3& n : out) n = normalizedOr(n, Vec3::UnitY());
  return out;
}

}  // namespace

DirectionLadder::DirectionLadder(const Surface& surface, std::shared_ptr<const SkinLadder> ladder)
    : ladder_(std::move(ladder)), first_(ladder_->graphs.size() > 1 ? 1 : 0) {
  const auto& graphs = ladder_->graphs;
  std::vector<Vec3> normals = surface.normals;
  for (size_t g = 0; g < graphs.size(); ++g) {
    if (g > 0) normals = averagedUp(graphs[g - 1], normals, ladder_->coarser[g - 1], graphs[g].size());
    if (g >= first_) levels_.push_back({&graphs[g], ladder_->cells[g], TangentFrames(normals), {}});
  }
  for (Level& level : levels_) {
    level.turns.resize(level.graph->neighbors.size());
    parallel(
        level.graph->size(),
        [&](size_t i) {
          for (uint32_t e = level.graph->start[i]; e < level.graph->start[i + 1]; ++e)
            level.turns[e] = level.frames.transport(level.graph->neighbors[e], level.frames, i, 1);
        },
        2048);
  }
}

size_t DirectionLadder::bytes() const {
  size_t out = sizeof(DirectionLadder);
  for (const Level& level : levels_)
    out += 2 * sizeof(Vec3) * level.frames.size() + sizeof(Complex) * level.turns.size();
  return out;
}

Result<std::vector<Vec3>> directionField(const Surface& surface, const DirectionLadder& ladder,
                                         const DirectionSetting& setting,
                                         std::span<const DirectionWish> wishes, const Progress& progress) {
  const int symmetry = static_cast<int>(setting.symmetry);
  const auto levels = ladder.levels();
  const std::vector<Wishes> drawn = wishesOf(surface, ladder, setting, wishes);
  if (!report(progress, 0.2f)) return cancelledError();
  const size_t direct = directLevel(levels);
  Numbers u = solved(levels[direct], drawn[direct], symmetry), scratch;
  for (size_t l = direct + 1; l-- > 0;) {
    if (l == direct) {
      for (int s = 0; s < 10 * kSweeps; ++s) sweep(levels[l], drawn[l], symmetry, u, scratch);
      continue;
    }
    Numbers down(levels[l].graph->size());
    parallel(down.size(), [&](size_t i) {
      const uint32_t up = ladder.above(l)[i];
      down[i] = levels[l + 1].frames.transport(up, levels[l].frames, i, symmetry) * u[up];
    });
    u = std::move(down);
    for (int s = 0; s < (l < 2 ? kFineSweeps : kSweeps); ++s)
      sweep(levels[l], drawn[l], symmetry, u, scratch);
    if (!report(progress, 0.7f)) return cancelledError();
  }
  return blendedOver(surface, ladder, u, symmetry);
}

}  // namespace juvenor
