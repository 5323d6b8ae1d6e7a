#include "core/color/tone_solver.h"

#include <tbb/task_arena.h>

#include <Eigen/LU>
#include <algorithm>
#include <array>

#include "core/parallel.h"

namespace juvenor {
namespace {

Eigen::Vector3f rowOf(const Lab& lab) {
  return {static_cast<float>(lab.l), static_cast<float>(lab.a), static_cast<float>(lab.b)};
}

Eigen::Vector3f within(const Eigen::Vector3f& tone) {
  return tone.cwiseMax(0.f).cwiseMin(1.f);
}

}  // namespace

ToneSolver::ToneSolver() : table_(kMelanin * kBlood * kYellow), starts_(kStarts * kStarts * kStarts) {
  const auto part = [](size_t i, int count) { return static_cast<float>(i) / static_cast<float>(count - 1); };
  parallel(
      table_.size(),
      [&](size_t i) {
        const size_t y = i % kYellow, b = i / kYellow % kBlood, m = i / kYellow / kBlood;
        table_[i] = rowOf(labOf(SkinTone{part(m, kMelanin), part(b, kBlood), part(y, kYellow)}));
      },
      16);
  parallel(
      starts_.size(),
      [&](size_t i) {
        const EncodedColor c{part(i / kStarts / kStarts, kStarts), part(i / kStarts % kStarts, kStarts),
                             part(i % kStarts, kStarts)};
        const LabRow wanted = rowOf(toLab(c));
        size_t best = 0;
        for (size_t t = 1; t < table_.size(); ++t)
          if ((table_[t] - wanted).squaredNorm() < (table_[best] - wanted).squaredNorm()) best = t;
        starts_[i] = {part(best / kYellow / kBlood, kMelanin), part(best / kYellow % kBlood, kBlood),
                      part(best % kYellow, kYellow)};
      },
      16);
}

ToneSolver::LabRow ToneSolver::at(const Eigen::Vector3f& tone) const {
  constexpr std::array<int, 3> kCount{kMelanin, kBlood, kYellow};
  std::array<size_t, 3> low{};
  std::array<float, 3> rest{};
  for (size_t k = 0; k < 3; ++k) {
    const float place = tone[static_cast<int>(k)] * static_cast<float>(kCount[k] - 1);
    low[k] = static_cast<size_t>(std::clamp(static_cast<int>(place), 0, kCount[k] - 2));
    rest[k] = place - static_cast<float>(low[k]);
  }
  LabRow out = LabRow::Zero();
  for (size_t corner = 0; corner < 8; ++corner) {
    float weight = 1;
    std::array<size_t, 3> node{};
    for (size_t k = 0; k < 3; ++k) {
      const bool upper = corner >> k & 1;
      weight *= upper ? rest[k] : 1 - rest[k];
      node[k] = low[k] + (upper ? 1 : 0);
    }
    out += weight * table_[(node[0] * kBlood + node[1]) * kYellow + node[2]];
  }
  return out;
}

Eigen::Matrix3f ToneSolver::slopeAt(const Eigen::Vector3f& tone) const {
  constexpr float kStep = 0.02f;
  Eigen::Matrix3f out;
  for (int k = 0; k < 3; ++k) {
    Eigen::Vector3f up = tone, down = tone;
    up[k] = std::min(1.f, tone[k] + kStep);
    down[k] = std::max(0.f, tone[k] - kStep);
    out.col(k) = (at(up) - at(down)) / (up[k] - down[k]);
  }
  return out;
}

SkinTone ToneSolver::operator()(const EncodedColor& color) const {
  const LabRow wanted = rowOf(toLab(color));
  const auto node = [](float v) {
    return static_cast<size_t>(std::clamp(v, 0.f, 1.f) * (kStarts - 1) + 0.5f);
  };
  Eigen::Vector3f tone = starts_[(node(color.r) * kStarts + node(color.g)) * kStarts + node(color.b)];
  float distance = (at(tone) - wanted).squaredNorm();
  // the less it helps the more careful the next step (Levenberg 1944)
  float care = 1e-2f;
  for (int step = 0; step < 8 && distance > 1e-4f; ++step) {
    const Eigen::Matrix3f slope = slopeAt(tone);
    Eigen::Matrix3f normal = slope.transpose() * slope;
    normal.diagonal() *= 1 + care;
    normal.diagonal().array() += 1e-3f;
    const Eigen::Vector3f next = within(tone + normal.inverse() * (slope.transpose() * (wanted - at(tone))));
    const float reached = (at(next) - wanted).squaredNorm();
    if (reached < distance) {
      tone = next;
      distance = reached;
      care *= 0.3f;
    } else {
      care *= 10;
    }
  }
  return {tone[0], tone[1], tone[2]};
}

const ToneSolver& toneSolver() {
  // made apart from whatever loop asks first
  static const ToneSolver solver = tbb::this_task_arena::isolate([] { return ToneSolver(); });
  return solver;
}

}  // namespace juvenor
