#include "core/carry/carry_picture.h"

#include <algorithm>

#include "core/color/srgb.h"
#include "core/parallel.h"
#include "core/render/moment_picture.h"

namespace juvenor {
namespace {

constexpr EncodedColor kSureGrey{0.55f, 0.55f, 0.55f}, kAmber{0.93f, 0.62f, 0.16f};

uint32_t packed(const EncodedColor& c, float light) {
  const auto part = [&](float v) {
    return static_cast<uint32_t>(std::clamp(255 * v * light + 0.5f, 0.f, 255.f));
  };
  return 0xff000000u | part(c.r) << 16 | part(c.g) << 8 | part(c.b);
}

EncodedColor unpacked(uint32_t pixel) {
  const auto part = [&](int shift) { return static_cast<float>(pixel >> shift & 0xff) / 255; };
  return {part(16), part(8), part(0)};
}

float doubtAt(const Document& document, const Triangle& triangle, const Vec2& weights) {
  if (!document.doubt) return 0;
  const float w[] = {1 - weights.x() - weights.y(), weights.x(), weights.y()};
  float out = 0;
  for (size_t k = 0; k < 3; ++k) out += w[k] * from16(document.doubt->at(triangle[k])[0]);
  return out;
}

}  // namespace

std::vector<uint32_t> carryPicture(const Document& document, const Camera& camera, const ViewSize& size,
                                   bool doubt, const Progress& progress) {
  std::vector<uint32_t> out = momentPicture(document, camera, size, progress);
  const auto rays = document.maps->rays(progress);
  VisibilityImage seen;
  if (out.empty() || !rays || !castVisibility(**rays, camera, size, {0.5f, 0.5f}, document.hiddenParts, seen))
    return {};
  const Surface& surface = *document.surface;
  const Vec3 back = camera.back();
  parallel(out.size(), [&](size_t i) {
    if (seen.triangle[i] == kNone) return;
    const Triangle& t = surface.triangles[seen.triangle[i]];
    const Vec2 w(from16(seen.weights[i][0]), from16(seen.weights[i][1]));
    const Vec3 normal = (1 - w.x() - w.y()) * surface.normals[t[0]] + w.x() * surface.normals[t[1]] +
                        w.y() * surface.normals[t[2]];
    const float light = 0.45f + 0.6f * std::max(0.f, normal.dot(back));
    EncodedColor color = unpacked(out[i]);
    if (doubt) {
      const float d = doubtAt(document, t, w);
      color = {kSureGrey.r + d * (kAmber.r - kSureGrey.r), kSureGrey.g + d * (kAmber.g - kSureGrey.g),
               kSureGrey.b + d * (kAmber.b - kSureGrey.b)};
    }
    out[i] = packed(color, light);
  });
  return out;
}

}  // namespace juvenor
