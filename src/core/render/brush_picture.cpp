#include "core/render/brush_picture.h"

#include <algorithm>
#include <cmath>

#include "core/brush/stroke.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/painted.h"
#include "core/noise/noise.h"
#include "core/render/skin_patch.h"

namespace juvenor {
namespace {

// Of a brush of so many millimetres on the patch, which is about five centimetres wide.
float patchRadius(const Brush& brush) {
  const float radius = 0.024f * brush.radius;
  if (brush.tip != TipKind::Stamp) return std::clamp(radius, 0.035f, 0.3f);
  // of fine marks with much between them one sees a piece
  constexpr float kFine = 0.04f;
  return std::clamp(2 * radius, 0.36f, 0.5f) * (brush.stamp.stamp->cover() < kFine ? 1.8f : 1.f);
}

Brush onPatch(const RollBrush& from) {
  Brush out = scaled(from.brush, patchRadius(from.brush) / from.brush.radius);
  out.mirror = {};
  out.frontOnly = false;
  // a stroke as it would look after the passes such a brush is meant for
  out.flow = std::min(1.f, 2.2f * out.flow);
  if (out.tip == TipKind::Stamp) {
    out.flow = 1;
    out.pressureFlow = false;
    out.spread.strength *= 0.4f;
  }
  if (out.tip == TipKind::Spray) {
    out.spray.dotRadius = std::max(out.spray.dotRadius, 0.022f);
    out.flow = 1;
    out.pressureFlow = false;
  }
  return out;
}

void draw(Stroke& stroke) {
  constexpr int kPoints = 60;
  for (int i = 0; i <= kPoints; ++i) {
    const float t = static_cast<float>(i) / kPoints, x = 1.5f * t - 0.75f;
    SurfacePoint at;
    at.position = {x, 0.16f * std::sin(4.2f * x + 0.4f), 0};
    at.position.z() = 0.045f * fractal(3.f * Vec3(at.position.x(), at.position.y(), 0), 3, 5) -
                      0.18f * at.position.head<2>().squaredNorm();
    at.normal = at.toViewer = Vec3::UnitZ();
    stroke.moveTo(at, std::sin(3.1416f * std::min(0.93f, 0.12f + t)));
  }
  stroke.end();
}

// As strong as it takes for its strongest marks to be seen well.
ColorField strengthened(const ColorField& field) {
  constexpr float kSeen = 0.8f;
  std::vector<uint16_t> alphas;
  for (size_t c = 0; c < field.chunkCount(); ++c)
    if (const auto& chunk = field.chunk(c))
      std::ranges::copy_if(chunk->plane[3], std::back_inserter(alphas), [](uint16_t a) { return a > 0; });
  if (alphas.empty()) return field;
  const auto high = alphas.begin() + static_cast<std::ptrdiff_t>(alphas.size() * 97 / 100);
  std::ranges::nth_element(alphas, high);
  const float gain = std::max(1.f, kSeen * 65535 / static_cast<float>(*high));
  ColorField out(field.size());
  for (size_t c = 0; c < field.chunkCount(); ++c) {
    if (!field.chunk(c)) continue;
    auto chunk = std::make_shared<ColorChunk>(*field.chunk(c));
    for (size_t i = 0; i < kChunkSize; ++i) {
      const auto alpha = static_cast<float>(chunk->plane[3][i]);
      const float by = alpha > 0 ? std::min(gain, 65535 / alpha) : 1.f;
      for (auto& plane : chunk->plane)
        plane[i] = static_cast<uint16_t>(static_cast<float>(plane[i]) * by + 0.5f);
    }
    out.setChunk(c, std::move(chunk));
  }
  return out;
}

// What a smear carries: a spot where it begins.
ColorField smeared(const Surface& patch, const EncodedColor& color) {
  const auto part = [&](float share) {
    const Rgba16 all = opaque16(color);
    const auto of = [&](uint16_t v) { return static_cast<uint16_t>(share * static_cast<float>(v)); };
    return Rgba16{of(all.r), of(all.g), of(all.b), of(all.a)};
  };
  ColorField out(patch.size());
  for (size_t c = 0; c < out.chunkCount(); ++c) {
    auto chunk = out.writable(c);
    for (size_t s = c * kChunkSize; s < std::min(patch.size(), (c + 1) * kChunkSize); ++s)
      if (const float t = (patch.positions[s].head<2>() - Vec2(-0.68f, -0.06f)).norm() / 0.3f; t < 1)
        setSample(*chunk, s % kChunkSize, part(falloff(t, 0.4f)));
    out.setChunk(c, std::move(chunk));
  }
  return out;
}

}  // namespace

Result<std::vector<uint32_t>> brushPicture(const RollBrush& brush, const ViewSize& size) {
  const auto patch = skinPatch();
  const InkKind* ink = inkKind(brush.ink);
  if (!patch || !ink) return Error{"there is no patch of skin, or no such ink"};
  constexpr EncodedColor kPaint{0.36f, 0.2f, 0.16f};
  InkSetting setting;
  setting.paint = kPaint;
  InkAtWork work;
  work.ink = ink->make(setting);
  work.field = std::make_unique<WorkingField>(brush.ink == "lay" ? ColorField(patch->size())
                                                                 : smeared(*patch, kPaint));
  Flood flood;
  {
    Stroke stroke(*patch, {onPatch(brush), kNone, 7, kPaint}, {&work, 1}, flood);
    draw(stroke);
  }
  (void)work.field->takeTouched();
  static SurfaceMaps maps(patch);
  Layer layer;
  layer.id = 1;
  layer.source = paintedSource(strengthened(work.field->as<4>()));
  const auto composite = compositeOf({std::make_shared<Layer>(std::move(layer))}, maps, kPatchTone);
  if (!composite) return composite.error();
  return patchPicture(*patch, *composite, size);
}

}  // namespace juvenor
