// Dots scattered over the footprint by throwing darts: dots of a stroke keep the distance their density
// allows (relative radius 0.65; Lagae, Dutré 2008), so that nothing clumps and no worms appear; where the
// skin is full a further sheet of dots begins, spaced like the first. Each dot has its own size, strength,
// colour and outline. What a dot covers on samples is scaled so that it comes to the dot's own area: a dot
// finer than the samples shades one of them by its part, and the mean tone is right on any mesh.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/brush/dot_grid.h"
#include "core/brush/tip.h"
#include "core/color/moved_color.h"
#include "core/noise/noise.h"
#include "core/seeded.h"
#include "core/surface/build/search.h"

namespace juvenor {
namespace {

constexpr int kDarts = 60;
constexpr size_t kMostSheets = 64, kMostDots = 4096;  // of one dab

struct Dot {
  Vec3 place, normal;
  uint32_t sample = 0;
  uint64_t seed = 0;
};

class Spray final : public Tip {
 public:
  Spray(const SprayTip& setting, const Spread& spread)
      : setting_(setting), spread_(spread), distance_(dotDistance(setting.density)) {}

  bool flows() const override { return true; }

  void find(const Surface& surface, Flood& flood, const Dab& dab, Footprint& out) override {
    flood.find(surface, dab, disc_);
    const bool first = sideOf(dab) == 0;
    dots_.clear();
    if (first || dab.looseness >= 1)
      scatter(surface, dab);
    else
      mirror(surface, dab);
    if (first) own_ = dots_;
    marks_.clear();
    for (const Dot& dot : dots_) mark(surface, flood, dab, dot);
    gather(dab, out);
  }

 private:
  struct Mark {
    uint32_t sample;
    float weight;
    EncodedColor color;
  };

  // What of the footprint lies before each of its samples, counted by area and weight.
  void sumUp(const Surface& surface) {
    sums_.clear();
    double sum = 0;
    for (size_t i = 0; i < disc_.samples.size(); ++i)
      sums_.push_back(sum += static_cast<double>(disc_.weights[i] * surface.areas[disc_.samples[i]]));
  }

  void scatter(const Surface& surface, const Dab& dab) {
    sumUp(surface);
    if (sums_.empty()) return;
    double& left = left_[sideOf(dab)];
    left += static_cast<double>(dab.dots) * sums_.back();
    const size_t count = std::min(kMostDots, static_cast<size_t>(std::max(0.0, left)));
    left -= std::floor(left);
    for (size_t i = 0; i < count; ++i) throwDart(surface, dab, Draws(dab.seed, i + 1));
  }

  // A dot where the footprint wants one or, when that place is taken, near by: looking all over the footprint
  // would fill its rims and thin out its middle.
  void throwDart(const Surface& surface, const Dab& dab, Draws draws) {
    auto& sheets = sheets_[sideOf(dab)];
    const double at = static_cast<double>(draws.unit()) * sums_.back();
    const auto found =
        std::min(static_cast<size_t>(std::ranges::lower_bound(sums_, at) - sums_.begin()), sums_.size() - 1);
    const uint32_t wanted = disc_.samples[found];
    for (size_t sheet = 0; sheet < kMostSheets; ++sheet) {
      if (sheet == sheets.size()) sheets.emplace_back(std::max(distance_, 1e-6f * surface.spacing));
      for (int dart = 0; dart < kDarts; ++dart) {
        const float away = 2 * distance_ * static_cast<float>(dart) / kDarts;
        Dot dot = placedIn(surface, walked(surface, wanted, away, draws), draws);
        if (!sheets[sheet].isFree(dot.place, dot.normal)) continue;
        sheets[sheet].add(dot.place, dot.normal);
        dot.seed = draws.bits();
        dots_.push_back(dot);
        return;
      }
    }
  }

  // The sample one comes to from another, going so far straight ahead in a random direction.
  static uint32_t walked(const Surface& surface, uint32_t from, float away, Draws& draws) {
    if (away <= 0) return from;
    const Vec3& normal = surface.normals[from];
    const Vec3 x = normal.unitOrthogonal();
    const float turn = std::numbers::pi_v<float> * draws.around();
    const Vec3 goal =
        surface.positions[from] + away * (std::cos(turn) * x + std::sin(turn) * normal.cross(x));
    uint32_t here = from;
    for (float left = away;;) {
      uint32_t best = here;
      for (const uint32_t n : surface.neighborsOf(here))
        if (const float distance = (surface.positions[n] - goal).norm(); distance < left) {
          left = distance;
          best = n;
        }
      if (best == here) return here;
      here = best;
    }
  }

  // A place between a sample and two around it.
  static Dot placedIn(const Surface& surface, uint32_t sample, Draws& draws) {
    Dot out;
    out.sample = sample;
    out.place = surface.positions[sample];
    out.normal = surface.normals[sample];
    const auto around = surface.neighborsOf(sample);
    if (around.empty()) return out;
    float a = 0.5f * draws.unit(), b = 0.5f * draws.unit();
    if (a + b > 0.5f) {
      a = 0.5f - a;
      b = 0.5f - b;
    }
    const auto any = [&] {
      return around[static_cast<size_t>(draws.unit() * static_cast<float>(around.size()))];
    };
    const Vec3 here = out.place;
    // one after the other: which side of a sum is worked out first is the compiler's choice
    const Vec3 second = surface.positions[any()] - here, first = surface.positions[any()] - here;
    out.place += a * first + b * second;
    return out;
  }

  // The same dots on the other side, but for those that go their own way.
  void mirror(const Surface& surface, const Dab& dab) {
    sumUp(surface);
    for (const Dot& own : own_) {
      Draws draws(own.seed, 7 + sideOf(dab));
      if (draws.unit() < dab.looseness) {
        if (!sums_.empty()) throwDart(surface, dab, draws);
        continue;
      }
      Dot dot = own;
      dot.place = dab.mirrors.place(dot.place, dab.across);
      const auto sample = nearestSample(surface, dot.place, 4 * surface.spacing, dab.at.part);
      if (!sample) continue;
      dot.sample = *sample;
      dot.normal = surface.normals[*sample];
      dots_.push_back(dot);
    }
  }

  // Its samples, each by its part.
  void mark(const Surface& surface, Flood& flood, const Dab& dab, const Dot& dot) {
    Draws draws(dot.seed);
    const float size = setting_.dotRadius * std::max(0.05f, 1 + setting_.dotSpread * draws.around());
    const float strength = 1 - spread_.strength * draws.unit();
    const auto seed = static_cast<uint32_t>(draws.bits());
    EncodedColor color;
    if (dab.color && spread_.colors()) {
      const float l = draws.around(), c = draws.around(), h = draws.around();
      color = movedColor(*dab.color, l * spread_.lightness, c * spread_.chroma, h * spread_.hue);
    } else if (dab.color) {
      color = *dab.color;
    }
    const float apart = 1.3f * std::sqrt(surface.areas[dot.sample]);
    const bool fine = size < 1.5f * apart;
    Dab round;
    round.at.position = dot.place;
    round.at.normal = dot.normal;
    round.at.triangle = kNone;
    round.at.part = surface.parts[dot.sample];
    round.radius = fine ? std::max(size, apart) : size * (1 + 0.5f * setting_.ragged);
    round.frontOnly = false;
    flood.find(surface, round, dot_);
    for (size_t i = 0; i < dot_.samples.size() && !fine; ++i) {
      const Vec3 away = surface.positions[dot_.samples[i]] - dot.place;
      // seen from the side the dot was thrown on
      dot_.weights[i] = torn(dab.mirrors.direction(away, dab.across, dot.place), size, seed);
    }
    scaleTo(surface, std::numbers::pi_v<float> * size * size * meanFalloff(setting_.dotHardness));
    for (size_t i = 0; i < dot_.samples.size(); ++i)
      if (dot_.weights[i] > 0) marks_.push_back({dot_.samples[i], strength * dot_.weights[i], color});
  }

  // Scales a dot's weights until it covers an area, none more than wholly.
  void scaleTo(const Surface& surface, float wanted) {
    float scale = 1;
    for (int round = 0; round < 12; ++round) {
      float full = 0, rest = 0;
      for (size_t i = 0; i < dot_.samples.size(); ++i) {
        const float area = surface.areas[dot_.samples[i]], weight = scale * dot_.weights[i];
        (weight >= 1 ? full : rest) += area * std::min(1.f, weight);
      }
      if (!(rest > 0)) break;
      const float factor = (wanted - full) / rest;
      if (!(factor > 0)) break;
      scale *= factor;
      if (std::abs(factor - 1) < 1e-3f) break;
    }
    for (float& weight : dot_.weights) weight = std::min(1.f, scale * weight);
  }

  float torn(const Vec3& away, float size, uint32_t seed) const {
    const float distance = away.norm();
    if (setting_.ragged <= 0) return falloff(distance / size, setting_.dotHardness);
    const float rim = fractal(2.2f * away / size, 2, seed);
    return falloff(distance / (size * std::max(0.2f, 1 + 0.6f * setting_.ragged * rim)),
                   setting_.dotHardness);
  }

  // All dots of the dab as one footprint; of dots that meet in a sample parts add up.
  void gather(const Dab& dab, Footprint& out) {
    out.clear();
    std::ranges::stable_sort(marks_, {}, &Mark::sample);
    for (size_t i = 0; i < marks_.size();) {
      float weight = 0;
      const Mark* most = &marks_[i];
      const uint32_t sample = marks_[i].sample;
      for (; i < marks_.size() && marks_[i].sample == sample; ++i) {
        weight += marks_[i].weight;
        if (marks_[i].weight > most->weight) most = &marks_[i];
      }
      out.samples.push_back(sample);
      out.weights.push_back(std::min(1.f, weight));
      if (dab.color && spread_.colors()) out.colors.push_back(most->color);
    }
  }

  SprayTip setting_;
  Spread spread_;
  float distance_;
  std::array<std::vector<DotGrid>, 8> sheets_;  // of each side
  std::array<double, 8> left_{};                // parts of dots that are owed
  std::vector<Dot> dots_, own_;
  std::vector<Mark> marks_;
  std::vector<double> sums_;
  Footprint disc_, dot_;
};

}  // namespace

std::unique_ptr<Tip> makeSprayTip(const SprayTip& setting, const Spread& spread) {
  return std::make_unique<Spray>(setting, spread);
}

}  // namespace juvenor
