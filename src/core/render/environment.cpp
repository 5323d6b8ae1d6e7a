#include "core/render/environment.h"

#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <span>

#include "core/parallel.h"
#include "core/render/shine.h"

namespace juvenor {
namespace {

constexpr float kHalfTurn = std::numbers::pi_v<float>;
// Widths of the lobes the levels are blurred by; the first is the panorama itself, the second what a small
// one of 128 × 64 pixels shows
constexpr std::array<float, 7> kLevelWidths{0.003f, 0.02f, 0.06f, 0.16f, 0.32f, 0.6f, 1.f};
constexpr int kSmallWidth = 128;

// The part of the sphere a pixel of a row covers.
float solidAngle(const Panorama& p, int y) {
  return 2 * kHalfTurn / static_cast<float>(p.width) *
         (std::cos(kHalfTurn * static_cast<float>(y) / static_cast<float>(p.height)) -
          std::cos(kHalfTurn * static_cast<float>(y + 1) / static_cast<float>(p.height)));
}

ColorHarmonics projectedOf(const Panorama& p) {
  std::array<std::array<double, 9>, 3> sum{};
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) {
      const Harmonics basis = harmonicsAt(p.directionOf(x, y));
      const Vec3& l = p.pixels[static_cast<size_t>(y * p.width + x)];
      const double w = solidAngle(p, y);
      for (size_t c = 0; c < 3; ++c)
        for (size_t k = 0; k < 9; ++k)
          sum[c][k] += w * static_cast<double>(l[static_cast<int>(c)] * basis[k]);
    }
  ColorHarmonics out;
  for (size_t c = 0; c < 3; ++c)
    for (size_t k = 0; k < 9; ++k) out[c][k] = static_cast<float>(sum[c][k]);
  return out;
}

// A panorama of fewer pixels, each the mean of those it stands for; itself when it has no more.
Panorama reduced(const Panorama& p, int width) {
  if (p.width <= width) return p;
  Panorama out{width, width / 2, {}};
  const auto count = static_cast<size_t>(out.width) * static_cast<size_t>(out.height);
  out.pixels.assign(count, Vec3::Zero());
  std::vector<float> weights(count, 0);
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) {
      const auto to = static_cast<size_t>(y * out.height / p.height * out.width + x * out.width / p.width);
      const float w = solidAngle(p, y);
      out.pixels[to] += w * p.pixels[static_cast<size_t>(y * p.width + x)];
      weights[to] += w;
    }
  for (size_t i = 0; i < count; ++i) out.pixels[i] /= weights[i];
  return out;
}

// A panorama as the light of many small sources.
class Sources {
 public:
  explicit Sources(const Panorama& p) {
    for (int y = 0; y < p.height; ++y)
      for (int x = 0; x < p.width; ++x)
        sources_.push_back(
            {p.directionOf(x, y), p.pixels[static_cast<size_t>(y * p.width + x)], solidAngle(p, y)});
  }
  // The mean of what a lobe seen from straight above it gathers around a direction (Karis 2013).
  Vec3 gathered(const Vec3& around, float width) const {
    Vec3 sum = Vec3::Zero();
    float weights = 0;
    for (const Source& s : sources_) {
      const float cosine = around.dot(s.toward);
      if (cosine <= 0) continue;
      const float w = facets(std::sqrt(0.5f * (1 + cosine)), width) * cosine * s.part;
      sum += w * s.light;
      weights += w;
    }
    return weights > 0 ? Vec3(sum / weights) : Vec3::Zero();
  }

 private:
  struct Source {
    Vec3 toward, light;
    float part;
  };
  std::vector<Source> sources_;
};

}  // namespace

Vec3 Panorama::directionOf(int x, int y) const {
  const float around = 2 * kHalfTurn * (static_cast<float>(x) + 0.5f) / static_cast<float>(width),
              down = kHalfTurn * (static_cast<float>(y) + 0.5f) / static_cast<float>(height);
  return {std::sin(down) * std::sin(around), std::cos(down), -std::sin(down) * std::cos(around)};
}

Vec3 Panorama::at(const Vec3& d) const {
  float around = std::atan2(d.x(), -d.z()) / (2 * kHalfTurn);
  if (around < 0) around += 1;
  const float u = around * static_cast<float>(width) - 0.5f,
              v = std::clamp(
                  std::acos(std::clamp(d.y(), -1.f, 1.f)) / kHalfTurn * static_cast<float>(height) - 0.5f,
                  0.f, static_cast<float>(height) - 1.001f);
  const int x = static_cast<int>(std::floor(u)), y = static_cast<int>(v);
  const float fx = u - static_cast<float>(x), fy = v - static_cast<float>(y);
  const auto pixel = [&](int px, int py) -> const Vec3& {
    return pixels[static_cast<size_t>(std::min(py, height - 1) * width + (px + width) % width)];
  };
  return (1 - fy) * ((1 - fx) * pixel(x, y) + fx * pixel(x + 1, y)) +
         fy * ((1 - fx) * pixel(x, y + 1) + fx * pixel(x + 1, y + 1));
}

FoldedSphere::FoldedSphere(int edge, const std::function<Vec3(const Vec3&)>& value)
    : edge_(edge), values_(static_cast<size_t>(edge) * static_cast<size_t>(edge)) {
  const auto last = static_cast<float>(edge - 1);
  parallelRows(0, edge, [&](int y) {
    for (int x = 0; x < edge; ++x) {
      float u = 2 * static_cast<float>(x) / last - 1, v = 2 * static_cast<float>(y) / last - 1;
      const float up = 1 - std::abs(u) - std::abs(v);
      if (up < 0) {
        const float folded = (1 - std::abs(v)) * (u < 0 ? -1.f : 1.f);
        v = (1 - std::abs(u)) * (v < 0 ? -1.f : 1.f);
        u = folded;
      }
      const Vec3 l = value(Vec3(u, up, v).normalized());
      values_[static_cast<size_t>(y * edge + x)] = {l.x(), l.y(), l.z(), 0};
    }
  });
}

Vec3 FoldedSphere::at(const Vec3& d) const {
  const float size = std::abs(d.x()) + std::abs(d.y()) + std::abs(d.z());
  float u = d.x() / size, v = d.z() / size;
  if (d.y() < 0) {
    const float folded = (1 - std::abs(v)) * (u < 0 ? -1.f : 1.f);
    v = (1 - std::abs(u)) * (v < 0 ? -1.f : 1.f);
    u = folded;
  }
  const auto last = static_cast<float>(edge_ - 1);
  const float x = std::clamp(0.5f * (u + 1) * last, 0.f, last - 0.001f),
              y = std::clamp(0.5f * (v + 1) * last, 0.f, last - 0.001f);
  const int i = static_cast<int>(x), j = static_cast<int>(y);
  const float fx = x - static_cast<float>(i), fy = y - static_cast<float>(j);
  const Eigen::Array4f* row = &values_[static_cast<size_t>(j * edge_ + i)];
  const Eigen::Array4f mean =
      (1 - fy) * ((1 - fx) * row[0] + fx * row[1]) + fy * ((1 - fx) * row[edge_] + fx * row[edge_ + 1]);
  return {mean[0], mean[1], mean[2]};
}

namespace {

float luminance(const Vec3& l) {
  return 0.2126f * l.x() + 0.7152f * l.y() + 0.0722f * l.z();
}

// Takes the sun out of a panorama; what lies around it closes over its place.
std::optional<Sun> takeSun(Panorama& p) {
  // of all the light, and of the whole sphere; the cosine of how far it reaches; what counts as bright
  constexpr float kGoodPart = 0.1f, kSmall = 0.01f, kReach = 0.95f, kNearlyAsBright = 0.2f;
  const auto pixel = [&](int x, int y) -> Vec3& { return p.pixels[static_cast<size_t>(y * p.width + x)]; };
  Vec3 at = Vec3::UnitY();
  float brightest = 0, whole = 0;
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) {
      const float l = luminance(pixel(x, y));
      whole += solidAngle(p, y) * l;
      if (l <= brightest) continue;
      brightest = l;
      at = p.directionOf(x, y);
    }
  Vec3 light = Vec3::Zero(), middle = Vec3::Zero(), around = Vec3::Zero();
  float covered = 0, coveredAround = 0;
  std::vector<Vec3*> of;
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) {
      Vec3& l = pixel(x, y);
      const Vec3 d = p.directionOf(x, y);
      const float w = solidAngle(p, y);
      if (d.dot(at) < kReach) continue;
      if (luminance(l) < kNearlyAsBright * brightest) {
        around += w * l;
        coveredAround += w;
        continue;
      }
      light += w * l;
      middle += w * luminance(l) * d;
      covered += w;
      of.push_back(&l);
    }
  if (covered > kSmall * 4 * kHalfTurn || luminance(light) < kGoodPart * whole) return std::nullopt;
  if (coveredAround > 0) around /= coveredAround;
  for (Vec3* l : of) *l = around;
  // as large as a disc of the angle it covers
  return Sun{middle.normalized(), (light - covered * around) / kHalfTurn, 2 * std::sqrt(covered / kHalfTurn)};
}

}  // namespace

Environment::Environment(const Panorama& whole, SunIs sun) {
  Panorama panorama = whole;
  if (sun == SunIs::TakenOut) sun_ = takeSun(panorama);
  harmonics_ = projectedOf(panorama);
  // what is blurred widely needs few pixels
  const Panorama small = reduced(panorama, kSmallWidth);
  const Sources half(reduced(small, kSmallWidth / 2)), quarter(reduced(small, kSmallWidth / 4));
  // as many values as pixels, about, since a folded sphere is a square
  levels_.emplace_back(std::max(kSmallWidth, panorama.width * 3 / 4),
                       [&](const Vec3& d) { return panorama.at(d); });
  levels_.emplace_back(kSmallWidth, [&](const Vec3& d) { return small.at(d); });
  for (size_t i = 2; i < kLevelWidths.size(); ++i)
    levels_.emplace_back(i < 4 ? 48 : 24, [&](const Vec3& d) {
      return (i < 4 ? half : quarter).gathered(d, kLevelWidths[i]);
    });
}

Vec3 Environment::blurred(const Vec3& direction, float width) const {
  size_t next = 0;
  while (next < kLevelWidths.size() && kLevelWidths[next] < width) ++next;
  if (next == 0) return levels_.front().at(direction);
  if (next == kLevelWidths.size()) return levels_.back().at(direction);
  const float a = kLevelWidths[next - 1], t = (width - a) / (kLevelWidths[next] - a);
  return (1 - t) * levels_[next - 1].at(direction) + t * levels_[next].at(direction);
}

Panorama panoramaOf(const std::function<Vec3(const Vec3&)>& radiance, int width) {
  Panorama out{width, width / 2, {}};
  out.pixels.resize(static_cast<size_t>(width) * static_cast<size_t>(out.height));
  parallelRows(0, out.height, [&](int y) {
    for (int x = 0; x < width; ++x)
      out.pixels[static_cast<size_t>(y * width + x)] = radiance(out.directionOf(x, y));
  });
  return out;
}

Vec3 turnedAround(const Vec3& d, float degrees) {
  const float a = degrees * kHalfTurn / 180, c = std::cos(a), s = std::sin(a);
  return {c * d.x() + s * d.z(), d.y(), c * d.z() - s * d.x()};
}

Harmonics turnedAround(const Harmonics& l, float degrees) {
  const float a = degrees * kHalfTurn / 180, c = std::cos(a), s = std::sin(a);
  // band 1 is (y, z, x); band 2 by its values along a turned frame
  Harmonics out = l;
  out[2] = c * l[2] - s * l[3];
  out[3] = c * l[3] + s * l[2];
  out[4] = c * l[4] + s * l[5];
  out[5] = c * l[5] - s * l[4];
  // as a symmetric matrix over (x, z) of the quadratic form, without the parts that are upright
  const float k4 = 1.092548f, k6 = 0.315392f, k8 = 0.546274f;
  const float xx = -k6 * l[6] + k8 * l[8], zz = 2 * k6 * l[6], yy = -k6 * l[6] - k8 * l[8],
              xz = k4 / 2 * l[7];
  const float rxx = c * c * xx + 2 * c * s * xz + s * s * zz, rzz = s * s * xx - 2 * c * s * xz + c * c * zz;
  const float rxz = (c * c - s * s) * xz + c * s * (zz - xx);
  out[6] = rzz / (2 * k6);
  out[7] = 2 / k4 * rxz;
  out[8] = (rxx - yy) / (2 * k8);
  return out;
}

namespace {

// sRGB-encoded to linear, in place. The picture is of floats.
void decodeAll(OIIO::ImageBuf& picture) {
  const OIIO::ROI all = picture.roi();
  parallelRows(all.ybegin, all.yend, [&](int y) {
    for (OIIO::ImageBuf::Iterator<float> at(picture, OIIO::ROI(all.xbegin, all.xend, y, y + 1)); !at.done();
         ++at)
      for (int c = 0; c < 3; ++c) at[c] = decodeSrgb(std::clamp(static_cast<float>(at[c]), 0.f, 1.f));
  });
}

}  // namespace

Result<Panorama> readPanorama(const std::filesystem::path& file) {
  OIIO::ImageBuf picture(file.string());
  if (!picture.read(0, 0, true, OIIO::TypeDesc::FLOAT))
    return Error{"cannot be read as a panorama: " + picture.geterror(), file.string()};
  const OIIO::ImageSpec spec = picture.spec();
  if (spec.nchannels < 3) return Error{"has no colours", file.string()};
  if (spec.width < 8 || spec.height < 4 || std::abs(spec.width - 2 * spec.height) > spec.height / 4)
    return Error{
        fmt::format("is {} × {} pixels; a panorama is about twice as wide as high", spec.width, spec.height),
        file.string()};
  const bool linear =
      OIIO::Strutil::iends_with(file.string(), ".hdr") || OIIO::Strutil::iends_with(file.string(), ".exr");
  // light is averaged, not its encoding: a small bright lamp is as bright afterwards
  if (!linear) decodeAll(picture);
  const int width = std::clamp(spec.width, kSmallWidth, kMirrorWidth);
  const OIIO::ImageBuf small =
      OIIO::ImageBufAlgo::resize(picture, "box", 0, OIIO::ROI(0, width, 0, width / 2, 0, 1, 0, 3));
  if (small.has_error()) return Error{"cannot be made smaller: " + small.geterror(), file.string()};
  Panorama out{width, width / 2, {}};
  float sum = 0;
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < width; ++x) {
      float v[3]{};
      small.getpixel(x, y, v, 3);
      Vec3 l(v[0], v[1], v[2]);
      for (int k = 0; k < 3; ++k) {
        if (!std::isfinite(l[k])) return Error{"holds a number that is none", file.string()};
        l[k] = std::max(0.f, l[k]);
      }
      out.pixels.push_back(l);
      sum += solidAngle(out, y) * (0.2126f * l.x() + 0.7152f * l.y() + 0.0722f * l.z());
    }
  if (!(sum > 1e-9f)) return Error{"is black", file.string()};
  // a sky of one half all around is as bright as the overcast one
  const float scale = 0.5f * 4 * kHalfTurn / sum;
  for (Vec3& l : out.pixels) l *= scale;
  return out;
}

}  // namespace juvenor
