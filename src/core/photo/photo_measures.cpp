#include "core/photo/photo_measures.h"

#include <algorithm>
#include <cmath>

#include "core/parallel.h"
#include "core/photo/broad_light.h"
#include "core/photo/normal_equations.h"

namespace juvenor {
namespace {

constexpr float kBroad = 0.2f;                        // of the longer side
constexpr float kSharp = 0.35f;                       // an octave that holds so much of the next one is there
constexpr float kBlownAt = 0.985f, kSunkAt = 0.012f;  // of encoded values, all three
constexpr float kDark = 0.003f;                       // linear: below it logarithms are noise
constexpr size_t kFewestOctaves = 4;                  // of small pictures: what is left then is no texture

// Energy of what a level holds that its half does not: squared second differences over four pixels of a row
// or column, of brightness by its root, which is about as eyes have it. What is smooth loses sixteen times of
// it from octave to octave.
double octave(const PicturePyramid& picture, size_t level) {
  const int wide = picture.width(level), high = picture.height(level);
  const auto blocks = static_cast<size_t>(std::max(0, high - 3)) / 2;
  std::vector<double> sums(blocks, 0.0), counts(blocks, 0.0);
  parallel(
      blocks,
      [&](size_t block) {
        const int y = 2 * static_cast<int>(block);
        for (int x = 0; x + 3 < wide; x += 2)
          for (const bool across : {true, false}) {
            std::array<float, 4> values;
            float least = 1;
            for (int k = 0; k < 4; ++k) {
              const PictureValue p = picture.pixel(level, across ? x + k : x, across ? y : y + k);
              values[static_cast<size_t>(k)] = std::sqrt(brightness(p.color));
              least = std::min(least, p.alpha);
            }
            if (least < 0.99f) continue;
            const float bent = values[0] - values[1] - values[2] + values[3];
            sums[block] += static_cast<double>(bent * bent);
            counts[block] += 1;
          }
      },
      16);
  double sum = 0, count = 0;
  for (size_t i = 0; i < sums.size(); ++i) {
    sum += sums[i];
    count += counts[i];
  }
  return count > 0 ? sum / count : 0;
}

void measureSharpness(const PicturePyramid& picture, PhotoMeasures& out) {
  const int longest = std::max(picture.width(), picture.height());
  std::vector<double> energy;
  // steps of 8 bits are noise of their own, a twelfth of their square, four of it in each difference; every
  // halving leaves a quarter
  constexpr double kStep = 1.1 / 255;
  double noise = picture.picture().deep.empty() ? 4 * kStep * kStep / 12 : 0;
  for (size_t level = 0; level + kFewestOctaves < picture.levels(); ++level) {
    energy.push_back(std::max(0.0, octave(picture, level) - noise));
    noise /= 4;
  }
  out.worth = longest;
  if (energy.size() < 2) return;
  const auto ratio = [&](size_t level) {
    return energy[level + 1] > 0 ? static_cast<float>(energy[level] / energy[level + 1]) : 0.f;
  };
  out.sharpness = ratio(0);
  // halves are sharper and sharper; where one is, the picture is worth that
  float worth = static_cast<float>(longest);
  for (size_t level = 0; level + 1 < energy.size() && ratio(level) < kSharp; ++level) worth *= 0.5f;
  out.worth = static_cast<int>(std::lround(worth));
}

void measureLight(const PicturePyramid& picture, PhotoMeasures& out) {
  const BroadLight light = broadLight(picture, kBroad);
  const auto stops = [](float v) { return std::log2(std::max(v, kDark)); };
  const float middleX = 0.5f * static_cast<float>(light.width),
              middleY = 0.5f * static_cast<float>(light.height);
  const float half = std::max(middleX, middleY);
  double weight = 0, sum = 0, squares = 0;
  Eigen::Matrix3d normal = Eigen::Matrix3d::Zero();
  Eigen::Vector3d right = Eigen::Vector3d::Zero();
  for (int y = 0; y < light.height; ++y)
    for (int x = 0; x < light.width; ++x) {
      const auto i = static_cast<size_t>(y * light.width + x);
      const auto w = static_cast<double>(light.opaque[i]), v = static_cast<double>(stops(light.values[i]));
      const Eigen::Vector3d row(1, static_cast<double>((static_cast<float>(x) + 0.5f - middleX) / half),
                                static_cast<double>((middleY - static_cast<float>(y) - 0.5f) / half));
      weight += w;
      sum += w * v;
      squares += w * v * v;
      addRow<3>(row, v, w, normal, right);
    }
  if (!(weight > 0)) return;
  const double broad = std::max(0.0, squares / weight - sum / weight * (sum / weight));
  out.unevenness = static_cast<float>(std::sqrt(broad));
  const Eigen::Vector3d plane = solvedNormal<3>(normal, right);
  if (plane.allFinite()) out.brightSide = plane.tail<2>().cast<float>();
  // of all variation, at the size the light is told by
  size_t level = 0;
  while (level + 1 < picture.levels() && picture.width(level) > light.width) ++level;
  double all = 0, allSum = 0;
  for (int y = 0; y < light.height; ++y)
    for (int x = 0; x < light.width; ++x) {
      const PictureValue p = picture.pixel(level, x, y);
      const auto v = static_cast<double>(stops(brightness(p.color))), w = static_cast<double>(p.alpha);
      all += w * v * v;
      allSum += w * v;
    }
  const double whole = all / weight - allSum / weight * (allSum / weight);
  out.broadShare = whole > 0 ? static_cast<float>(std::clamp(broad / whole, 0.0, 1.0)) : 0.f;
}

void measureRange(const PicturePyramid& picture, PhotoMeasures& out) {
  const auto high = static_cast<size_t>(picture.height());
  std::vector<std::array<size_t, 3>> rows(high, {0, 0, 0});  // opaque, blown, sunk
  parallel(
      high,
      [&](size_t y) {
        for (int x = 0; x < picture.width(); ++x) {
          const Straight16 p =
              picture.picture().straight(y * static_cast<size_t>(picture.width()) + static_cast<size_t>(x));
          if (p.a < 32768) continue;
          ++rows[y][0];
          if (from16(std::min({p.r, p.g, p.b})) >= kBlownAt) ++rows[y][1];
          if (from16(std::max({p.r, p.g, p.b})) <= kSunkAt) ++rows[y][2];
        }
      },
      64);
  std::array<double, 3> all{};
  for (const auto& row : rows)
    for (size_t k = 0; k < 3; ++k) all[k] += static_cast<double>(row[k]);
  if (!(all[0] > 0)) return;
  out.blown = static_cast<float>(all[1] / all[0]);
  out.sunk = static_cast<float>(all[2] / all[0]);
}

PhotoWord wordFor(float value, float good, float fair) {
  return value >= good ? PhotoWord::Good : value >= fair ? PhotoWord::Fair : PhotoWord::Poor;
}

}  // namespace

PhotoMeasures measured(const PicturePyramid& picture) {
  PhotoMeasures out;
  measureSharpness(picture, out);
  measureLight(picture, out);
  measureRange(picture, out);
  return out;
}

PhotoWord sharpnessWord(const PhotoMeasures& m) {
  return wordFor(m.sharpness, kSharp, 0.12f);
}

PhotoWord evennessWord(const PhotoMeasures& m) {
  return wordFor(-m.unevenness, -0.35f, -0.8f);
}

PhotoWord rangeWord(const PhotoMeasures& m) {
  return wordFor(-(m.blown + m.sunk), -0.005f, -0.04f);
}

}  // namespace juvenor
