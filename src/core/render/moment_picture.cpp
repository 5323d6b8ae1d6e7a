#include "core/render/moment_picture.h"

#include <cmath>
#include <set>

#include "core/document/document_fields.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "core/layers/prepared_layer.h"

namespace juvenor {
namespace {

// Chunks whose fields differ; nothing of layers that changed in another way.
std::set<uint32_t> chunksWritten(const Document& before, const Document& after) {
  std::set<uint32_t> out;
  eachChangedField(after, &before, [&](FieldId id, const auto& field, const auto* old) {
    if (id.layer != kGuardId && !layerOf(after, id.layer)) return;
    for (uint32_t c = 0; c < field.chunkCount(); ++c)
      if (field.chunk(c) != (old ? old->chunk(c) : nullptr)) out.insert(c);
  });
  return out;
}

}  // namespace

Camera cameraOnChange(const Document* before, const Document& after, const ViewSize& size) {
  const Surface& surface = *after.surface;
  const Camera whole = framed({}, size, surface.bounds);
  if (!before || before->surface != after.surface) return whole;
  const std::set<uint32_t> chunks = chunksWritten(*before, after);
  if (chunks.empty() || chunks.size() > chunkCount(surface.size()) / 3) return whole;
  Box box;
  Vec3 normal = Vec3::Zero();
  for (const uint32_t c : chunks)
    for (size_t s = size_t{c} * kChunkSize; s < std::min(surface.size(), (size_t{c} + 1) * kChunkSize);
         s += 16) {
      box.add(surface.positions[s]);
      normal += surface.normals[s];
    }
  Camera close = whole;
  if (normal.norm() > 1e-3f) {
    const Vec3 back = normal.normalized();
    close.turn = Eigen::AngleAxisf(std::atan2(back.x(), back.z()), Vec3::UnitY()) *
                 Eigen::AngleAxisf(-std::asin(std::clamp(back.y(), -1.f, 1.f)), Vec3::UnitX());
  }
  close = framed(close, size, box);
  close.distance *= 1.5f;
  return close.distance < whole.distance ? close : whole;
}

std::vector<uint32_t> momentPicture(const Document& document, const Camera& camera, const ViewSize& size,
                                    const Progress& progress) {
  const auto rays = document.maps->rays(progress);
  if (!rays || !report(progress, 0.1f)) return {};
  VisibilityImage seen;
  if (!castVisibility(**rays, camera, size, {0.5f, 0.5f}, document.hiddenParts, seen)) return {};
  const PreparedStack stack =
      linked(preparedNow(document.layers, *document.maps, {}), document.bare, document.surface->size(), {});
  ColorField skin(document.surface->size());
  const std::vector<uint32_t> chunks = chunksSeen(*document.surface, seen);
  // in pieces, so that it can be given up
  constexpr size_t kPiece = 16;
  for (size_t i = 0; i < chunks.size(); i += kPiece) {
    if (!report(progress, 0.1f + 0.9f * static_cast<float>(i) / static_cast<float>(chunks.size()))) return {};
    updateComposite(skin, stack, document.bare,
                    std::span(chunks).subspan(i, std::min(kPiece, chunks.size() - i)));
  }
  const ChannelFields fields(std::move(skin));
  ShadeInput input;
  input.surface = document.surface.get();
  input.skin = &fields;
  input.camera = camera;
  input.view = View::Flat;
  std::vector<uint32_t> out(seen.triangle.size());
  shade(input, seen, {0, 0, size.width, size.height}, out);
  return out;
}

}  // namespace juvenor
