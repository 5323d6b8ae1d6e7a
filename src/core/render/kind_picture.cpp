#include "core/render/kind_picture.h"

#include "core/color/hair_tone.h"
#include "core/hair/grown_hair.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/hair.h"
#include "core/render/skin_patch.h"

namespace juvenor {

namespace {

// Fibres over the patch as one looks straight down on it: of each pixel the part they cover, in their tone
// and with a light that runs along them.
void drawFibres(const FibreRays& hair, const ViewSize& size, std::vector<uint32_t>& pixels) {
  constexpr int kRays = 3;
  const Vec3 toLight = Vec3(-0.3f, 0.6f, 0.75f).normalized();
  const auto colorAt = [&](float x, float y) -> std::optional<Vec3> {
    const auto hit = hair.first({{2 * x - 1, 0.5f - y, 4}, -Vec3::UnitZ()});
    if (!hit) return std::nullopt;
    const Fibres& fibres = hair.fibres();
    const FibrePlace at = placeOn(fibres, hit->segment, hit->along);
    const float across = at.tangent.cross(toLight).norm();
    const Vec3 tone = hairTone(fibres.fibres[fibres.fibreOf[hit->segment]].absorption);
    return Vec3(tone * (0.4f + 0.8f * across) + Vec3::Constant(0.12f * std::pow(across, 12.f)));
  };
  for (int y = 0; y < size.height; ++y)
    for (int x = 0; x < size.width; ++x) {
      uint32_t& pixel = pixels[static_cast<size_t>(y * size.width + x)];
      const auto below = [&](int shift) {
        return decodeSrgb16(static_cast<uint16_t>((pixel >> shift & 255) * 257));
      };
      Vec3 sum = Vec3::Zero();
      for (int k = 0; k < kRays * kRays; ++k)
        sum += colorAt((static_cast<float>(x) + (static_cast<float>(k % kRays) + 0.5f) / kRays) /
                           static_cast<float>(size.width),
                       (static_cast<float>(y) + (static_cast<float>(k / kRays) + 0.5f) / kRays) /
                           static_cast<float>(size.height))
                   .value_or(Vec3(below(16), below(8), below(0)));
      sum /= kRays * kRays;
      const EncodedColor e = encode({sum.x(), sum.y(), sum.z()});
      const auto byte = [](float v) { return static_cast<uint32_t>(std::clamp(v, 0.f, 1.f) * 255 + 0.5f); };
      pixel = 0xff000000u | byte(e.r) << 16 | byte(e.g) << 8 | byte(e.b);
    }
}

}  // namespace

Result<std::vector<uint32_t>> sourcePicture(SourcePointer source, const ViewSize& size) {
  const auto patch = skinPatch();
  if (!patch) return Error{"there is no patch of skin"};
  static SurfaceMaps maps(patch);
  Layer layer;
  layer.id = 1;
  layer.source = std::move(source);
  const LayerStack stack{std::make_shared<Layer>(std::move(layer))};
  const auto composite = compositeOf(stack, maps, kPatchTone);
  if (!composite) return composite.error();
  auto pixels = patchPicture(*patch, *composite, size);
  if (!hairOf(*stack.front()->source)) return pixels;
  const auto worked = prepared(stack, maps);
  if (!worked) return worked.error();
  const auto hair = grownHair(*worked, maps, {});
  if (!hair) return hair.error();
  if (*hair) drawFibres(**hair, size, pixels);
  return pixels;
}

Result<std::vector<uint32_t>> kindPicture(const SourceKind& kind, const ViewSize& size) {
  const auto patch = skinPatch();
  if (!patch) return Error{"there is no patch of skin"};
  return sourcePicture(kind.example(*patch), size);
}

}  // namespace juvenor
