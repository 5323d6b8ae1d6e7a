#include "core/color/skin_tint.h"

#include <tbb/task_arena.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "core/parallel.h"

namespace juvenor {
namespace {

using Vec3d = Eigen::Vector3d;

// Encoded values but for the foot of the curve: (encoded + 0.055) / 1.055 = light^(1/2.4).
constexpr double kFoot = static_cast<double>(SkinTint::kFoot);

// The roots of light at a node, times 1.055; outside of what is a colour they are cut.
Vec3d rootsOfNode(int bright, int green, int blue) {
  const double root =
      static_cast<double>(SkinTint::kBrightLow) +
      static_cast<double>(SkinTint::kBrightHigh - SkinTint::kBrightLow) * bright / (SkinTint::kBright - 1);
  const double r = root * root;
  const auto other = [](double first, int cell) {
    const double ratio =
        static_cast<double>(SkinTint::kRatioLow) +
        static_cast<double>(SkinTint::kRatioHigh - SkinTint::kRatioLow) * cell / (SkinTint::kRatios - 1);
    return std::clamp(first * ratio, kFoot, 1 + kFoot);
  };
  const double g = other(r, green);
  return {r, g, other(g, blue)};
}

// Where a colour is looked for, in the controls of SkinTone: a little beyond what the mixer offers. What is
// found may move a whole unit from there, as far as the model holds.
const Vec3d kLow(-0.3, -0.3, -0.1), kHigh(1.2, 1.3, 1.5);
const Vec3d kLowest(-0.8, -0.8, -0.1), kHighest(1.7, 1.8, 2.0);
constexpr std::array<int, 3> kGrid{64, 42, 11};

Vec3d cut(const Vec3d& tone) {
  return tone.cwiseMax(kLow).cwiseMin(kHigh);
}

double lowest(size_t k) {
  return kLowest[static_cast<int>(k)];
}

// The skin model over (melanin, blood, yellow), tabled: logarithms (base 2) of the roots of light.
class ModelGrid {
 public:
  ModelGrid() : values_(static_cast<size_t>(kGrid[0] * kGrid[1] * kGrid[2])) {
    parallel(
        values_.size(),
        [&](size_t i) {
          const auto n = static_cast<int>(i);
          const std::array<int, 3> at{n / (kGrid[1] * kGrid[2]), n / kGrid[2] % kGrid[1], n % kGrid[2]};
          std::array<float, 3> t;
          for (size_t k = 0; k < 3; ++k)
            t[k] = static_cast<float>(lowest(k) +
                                      (kHighest[static_cast<int>(k)] - lowest(k)) * at[k] / (kGrid[k] - 1));
          const LinearColor c = fromXyz(xyzOfReflectance(skinReflectance({t[0], t[1], t[2]})));
          const auto log = [](float light) {
            return std::log2(std::max(1e-4, static_cast<double>(light))) / 2.4;
          };
          values_[i] = {log(c.r), log(c.g), log(c.b)};
        },
        64);
  }

  Vec3d operator()(const Vec3d& tone) const {
    std::array<int, 3> cell;
    std::array<double, 3> part;
    for (size_t k = 0; k < 3; ++k) {
      const double g = (tone[static_cast<int>(k)] - lowest(k)) / (kHighest[static_cast<int>(k)] - lowest(k)) *
                       (kGrid[k] - 1);
      cell[k] = std::clamp(static_cast<int>(g), 0, kGrid[k] - 2);
      part[k] = std::clamp(g - cell[k], 0.0, 1.0);
    }
    Vec3d sum = Vec3d::Zero();
    for (int corner = 0; corner < 8; ++corner) {
      double weight = 1;
      std::array<int, 3> at;
      for (size_t k = 0; k < 3; ++k) {
        const int up = corner >> k & 1;
        at[k] = cell[k] + up;
        weight *= up ? part[k] : 1 - part[k];
      }
      sum += weight * values_[static_cast<size_t>((at[0] * kGrid[1] + at[1]) * kGrid[2] + at[2])];
    }
    return sum;
  }

 private:
  std::vector<Vec3d> values_;
};

const Vec3d kReference(0.35, 0.45, 0.15);

struct Found {
  Vec3d tone;
  double skin;  // 1 a colour of skin … 0 none
};

// The tone that comes nearest in roots of light, by Gauss and Newton. Where the model hardly tells two tones
// apart (blood under the darkest melanin) a breath of pull toward the reference decides.
Found foundTone(const ModelGrid& model, const Vec3d& root, const Vec3d& begin) {
  constexpr double kPull = 1e-4, kReach = 0.02;
  Vec3d tone = begin;
  const auto rootsAt = [&](const Vec3d& t) { return Vec3d((model(t).array() * std::log(2.0)).exp()); };
  const auto cost = [&](const Vec3d& t) {
    Vec3d away = t - kReference;
    away[0] = 0;
    return (rootsAt(t) - root).squaredNorm() + kPull * kPull * away.squaredNorm();
  };
  double best = cost(tone), damping = 1e-3;
  for (int round = 0; round < 40; ++round) {
    const Vec3d here = rootsAt(tone);
    Eigen::Matrix3d slope;
    for (int k = 0; k < 3; ++k) {
      Vec3d up = tone, down = tone;
      up[k] += kReach;
      down[k] -= kReach;
      slope.col(k) = (rootsAt(cut(up)) - rootsAt(cut(down))) / (cut(up)[k] - cut(down)[k]);
    }
    const Vec3d pull(0, kPull * kPull, kPull * kPull);
    Eigen::Matrix3d normal = slope.transpose() * slope;
    const Vec3d down = slope.transpose() * (root - here) - pull.cwiseProduct(tone - kReference);
    normal.diagonal() += pull + Vec3d::Constant(1e-9);
    normal.diagonal() *= 1 + damping;
    // a control that would leave its range stays at the end, and the others go on without it
    Vec3d next = cut(tone + normal.ldlt().solve(down));
    const double now = cost(next);
    if (now < best) {
      const bool done = best - now < 1e-10 + 1e-4 * best;
      best = now;
      tone = next;
      damping = std::max(1e-6, damping * 0.3);
      if (done) break;
    } else {
      damping *= 8;
      if (damping > 10) break;
    }
  }
  const double off = (rootsAt(tone) - root).norm() / root.norm();
  const double far = std::clamp((off - 0.04) / 0.1, 0.0, 1.0);
  return {tone, 1 - far * far * (3 - 2 * far)};
}

constexpr int controlOf(SkinMatter matter) {
  return matter == SkinMatter::Melanin ? 0 : matter == SkinMatter::Blood ? 1 : 2;
}

constexpr int amountsOf(SkinMatter matter) {
  return matter == SkinMatter::Blood ? 2 : 4;
}

void setNode(const ModelGrid& model, const Found& found, int control, bool lift, std::span<int16_t> out) {
  const int amounts = static_cast<int>(out.size() / 4);
  const Vec3d from = model(found.tone);
  // all that is no skin shifts by one film: two halves are one whole there too
  Vec3d step = Vec3d::Zero();
  step[control] = 0.05;
  const Vec3d film = (model(kReference + step) - model(kReference - step)) / 0.1;
  for (int a = 0; a < amounts; ++a) {
    const double amount = static_cast<double>(lift ? -SkinTint::kUnit : SkinTint::kUnit) * (a + 1) / amounts;
    Vec3d moved = found.tone;
    moved[control] += amount;
    const Vec3d way = found.skin * (model(moved) - from) + (1 - found.skin) * amount * film;
    for (int c = 0; c < 3; ++c)
      out[SkinTint::place(static_cast<size_t>(a), static_cast<size_t>(c))] = static_cast<int16_t>(
          std::lround(std::clamp(way[c] / static_cast<double>(SkinTint::kStep), -32767.0, 32767.0)));
  }
}

using AllTints = std::array<SkinTint, 6>;

// All six, made together: what takes long, finding each node's tone, is the same for all.
AllTints madeTints() {
  constexpr int n = SkinTint::kRatios;
  constexpr auto kNodes = static_cast<size_t>(SkinTint::kBright) * n * n;
  const ModelGrid model;
  const auto matterOf = [](size_t t) { return static_cast<SkinMatter>(t / 2); };
  const auto strideOf = [&](size_t t) { return 4 * static_cast<size_t>(amountsOf(matterOf(t))); };
  std::array<std::vector<int16_t>, 6> nodes;
  for (size_t t = 0; t < nodes.size(); ++t) nodes[t].resize(kNodes * strideOf(t));
  // along a row each node's tone is near the one before
  parallel(
      kNodes / n,
      [&](size_t row) {
        const auto first = static_cast<int>(row);
        Vec3d tone = kReference;
        for (int blue = 0; blue < n; ++blue) {
          const Found found = foundTone(model, rootsOfNode(first / n, first % n, blue) / (1 + kFoot), tone);
          tone = found.tone;
          for (size_t t = 0; t < nodes.size(); ++t)
            setNode(model, found, controlOf(matterOf(t)), t % 2 == 1,
                    std::span(nodes[t]).subspan((row * n + static_cast<size_t>(blue)) * strideOf(t),
                                                strideOf(t)));
        }
      },
      16);
  return [&]<size_t... I>(std::index_sequence<I...>) {
    return AllTints{SkinTint(amountsOf(matterOf(I)), std::move(nodes[I]))...};
  }
  (std::make_index_sequence<6>());
}

const AllTints& allTints() {
  // a thread that waits for the loop inside must not take up work outside that asks for the tables again
  static const AllTints all = tbb::this_task_arena::isolate([] { return madeTints(); });
  return all;
}

}  // namespace

void SkinTint::prepare() {
  (void)allTints();
}

const SkinTint& SkinTint::of(SkinMatter matter, bool lift) {
  return allTints()[2 * static_cast<size_t>(matter) + (lift ? 1 : 0)];
}

std::array<float, SkinTint::kMostAmounts> SkinTint::weightsAt(float amount) const {
  std::array<float, kMostAmounts> out{};
  for (int i = 1; i <= amounts_; ++i) {
    float product = 1;
    for (int k = 0; k <= amounts_; ++k)
      if (k != i)
        product *=
            (static_cast<float>(amounts_) * amount - static_cast<float>(k)) / static_cast<float>(i - k);
    out[static_cast<size_t>(i - 1)] = product;
  }
  return out;
}

EncodedColor SkinTint::operator()(const EncodedColor& below, float amount) const {
  constexpr std::array<size_t, 3> kStrides{static_cast<size_t>(kRatios) * kRatios, kRatios, 1};
  constexpr std::array<float, 3> kLastCell{kBright - 2, kRatios - 2, kRatios - 2};
  const auto root = [](float encoded) { return std::clamp(encoded, 0.f, 1.f) + SkinTint::kFoot; };
  const std::array<float, 3> roots{root(below.r), root(below.g), root(below.b)};
  const auto cellsOfRatio = [](float ratio) {
    return std::clamp((ratio - kRatioLow) / (kRatioHigh - kRatioLow), 0.f, 1.f) * (kRatios - 1);
  };
  const std::array<float, 3> cells{
      (std::sqrt(roots[0]) - kBrightLow) / (kBrightHigh - kBrightLow) * (kBright - 1),
      cellsOfRatio(roots[1] / roots[0]), cellsOfRatio(roots[2] / roots[1])};
  std::array<std::pair<float, size_t>, 3> parts;
  size_t node = 0;
  for (size_t c = 0; c < 3; ++c) {
    const float cell = std::clamp(std::floor(cells[c]), 0.f, kLastCell[c]);
    parts[c] = {std::clamp(cells[c] - cell, 0.f, 1.f), kStrides[c]};
    node += static_cast<size_t>(cell) * kStrides[c];
  }
  std::ranges::sort(parts, std::greater<>());
  const auto weights = weightsAt(std::clamp(amount, 0.f, 1.f));
  std::array<float, 3> way{};
  const auto add = [&](float share) {
    for (size_t a = 0; a < static_cast<size_t>(amounts_); ++a)
      for (size_t c = 0; c < 3; ++c)
        way[c] += share * weights[a] * kStep * static_cast<float>(nodes_[node * stride() + place(a, c)]);
  };
  add(1 - parts[0].first);
  for (size_t i = 0; i < 3; ++i) {
    node += parts[i].second;
    add(parts[i].first - (i < 2 ? parts[i + 1].first : 0.f));
  }
  const auto moved = [&](size_t c) {
    return std::clamp(roots[c] * std::exp2(way[c]) - SkinTint::kFoot, 0.f, 1.f);
  };
  return {moved(0), moved(1), moved(2)};
}

}  // namespace juvenor
