#include "core/render/shine.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <vector>

namespace juvenor {
namespace {

// Tables over cosine and width, between whose entries one goes straight.
constexpr int kCosines = kReflectedCosines, kWidths = kReflectedWidths;
constexpr float kNarrowest = 0.003f;

struct Entry {
  float scale, offset;
};

// Halton points spread by the distribution of normals (Walter and others, formulas 35 and 36).
Entry integrated(float cosOut, float width) {
  constexpr uint32_t kCount = 512;
  const Vec3 v(std::sqrt(1 - cosOut * cosOut), 0, cosOut);
  double scale = 0, offset = 0;
  for (uint32_t i = 0; i < kCount; ++i) {
    const float u1 = (static_cast<float>(i) + 0.5f) / kCount;
    float u2 = 0, digit = 0.5f;
    for (uint32_t n = i; n > 0; n /= 2, digit /= 2) u2 += digit * static_cast<float>(n & 1);
    const float cosHalf = std::sqrt((1 - u1) / (1 + (width * width - 1) * u1));
    const float sinHalf = std::sqrt(std::max(0.f, 1 - cosHalf * cosHalf));
    const float around = 2 * std::numbers::pi_v<float> * u2;
    const Vec3 h(sinHalf * std::cos(around), sinHalf * std::sin(around), cosHalf);
    const float vh = v.dot(h);
    const float cosIn = 2 * vh * cosHalf - cosOut;
    if (cosIn <= 0 || vh <= 0) continue;
    const double weight = 4.0 * visibleFacets(cosIn, cosOut, width) * cosIn * vh / cosHalf;
    const double fresnel = std::pow(1 - vh, 5);
    scale += weight * (1 - fresnel);
    offset += weight * fresnel;
  }
  return {static_cast<float>(scale / kCount), static_cast<float>(offset / kCount)};
}

const std::vector<Entry>& table() {
  static const std::vector<Entry> entries = [] {
    std::vector<Entry> out(kCosines * kWidths);
    for (int w = 0; w < kWidths; ++w)
      for (int c = 0; c < kCosines; ++c) {
        const float root = static_cast<float>(w) / (kWidths - 1);
        out[static_cast<size_t>(w * kCosines + c)] = integrated(
            std::max(0.01f, static_cast<float>(c) / (kCosines - 1)), std::max(kNarrowest, root * root));
      }
    return out;
  }();
  return entries;
}

Entry lookedUp(float cosOut, float width) {
  const auto place = [](float v, int count) {
    const auto last = static_cast<float>(count - 1);
    return std::clamp(v * last, 0.f, last - 0.001f);
  };
  // widths are kept by their roots, where the table changes evenly
  const float x = place(cosOut, kCosines), y = place(std::sqrt(width), kWidths);
  const int i = static_cast<int>(x), j = static_cast<int>(y);
  const float fx = x - static_cast<float>(i), fy = y - static_cast<float>(j);
  const auto& t = table();
  Entry out{};
  for (int dy = 0; dy < 2; ++dy)
    for (int dx = 0; dx < 2; ++dx) {
      const Entry& e = t[static_cast<size_t>((j + dy) * kCosines + i + dx)];
      const float w = (dx ? fx : 1 - fx) * (dy ? fy : 1 - fy);
      out.scale += w * e.scale;
      out.offset += w * e.offset;
    }
  return out;
}

}  // namespace

float lobeWidth(float gloss) {
  const float roughness = 1 - std::clamp(gloss, 0.f, 1.f);
  return std::max(0.0025f, roughness * roughness);
}

Lobes lobesOf(float gloss) {
  return {{lobeWidth(std::min(1.f, gloss + 0.12f * (1 - gloss))), lobeWidth(0.72f * gloss)}};
}

float facets(float cosHalf, float width) {
  const float a2 = width * width, d = cosHalf * cosHalf * (a2 - 1) + 1;
  return a2 / (std::numbers::pi_v<float> * d * d);
}

float visibleFacets(float cosIn, float cosOut, float width) {
  const float a2 = width * width;
  const float in = cosOut * std::sqrt(cosIn * cosIn * (1 - a2) + a2);
  const float out = cosIn * std::sqrt(cosOut * cosOut * (1 - a2) + a2);
  return 0.5f / std::max(1e-7f, in + out);
}

MirroredDisc mirroredDisc(const Vec3& normal, const Vec3& toViewer, const Vec3& toward, float size,
                          float width) {
  const float cosOut = std::max(1e-3f, normal.dot(toViewer)), half = 0.5f * size;
  const Vec3 mirror = 2 * normal.dot(toViewer) * normal - toViewer;
  // the place on the disc nearest to where the viewer looks
  const float cosAway = mirror.dot(toward);
  Vec3 to = toward;
  if (cosAway > std::cos(half))
    to = mirror;
  else if (const Vec3 aside = mirror - cosAway * toward; aside.squaredNorm() > 1e-12f)
    to = std::cos(half) * toward + std::sin(half) * aside.normalized();
  const float cosIn = normal.dot(to);
  if (cosIn <= 0) return {0, 0};
  const Vec3 h = (toViewer + to).normalized();
  const float spread = width / std::min(1.f, width + 0.25f * size);
  return {std::numbers::pi_v<float> * spread * spread * facets(std::max(0.f, normal.dot(h)), width) *
              visibleFacets(cosIn, cosOut, width) * cosIn,
          1 - std::max(0.f, toViewer.dot(h))};
}

float schlick(float reflectance, float cosine) {
  const float x = 1 - std::clamp(cosine, 0.f, 1.f), x2 = x * x;
  return reflectance + (1 - reflectance) * x2 * x2 * x;
}

std::span<const float> reflectedTable() {
  static_assert(sizeof(Entry) == 2 * sizeof(float));
  return {&table().front().scale, 2 * table().size()};
}

std::array<float, 2> reflected(float cosOut, float width) {
  const Entry e = lookedUp(cosOut, width);
  return {e.scale, e.offset};
}

}  // namespace juvenor
