// What a layer is made of. A source gives colour chunk by chunk; painted sources are edited, all others are
// worked out from parameters and the surface. A new kind is one file in sources/ and one line in
// sources/registry.cpp.
#pragma once

#include <memory>
#include <nlohmann/json.hpp>
#include <string_view>

#include "core/layers/color_ramp.h"
#include "core/layers/field.h"
#include "core/layers/hue_zone.h"
#include "core/layers/mask_recipe.h"
#include "core/surface/refine.h"

namespace juvenor {

class LayerSource {
 public:
  virtual ~LayerSource() = default;

  /// The kind's key in files: "painted", "fill", …
  virtual std::string_view kind() const = 0;
  /// Colours of a chunk (premultiplied, encoded), or null where there is nothing at all. `below` is what the
  /// layers underneath come to, opaque; some kinds shift its colours instead of covering them.
  virtual ColorField::Pointer chunk(SurfaceMaps& maps, size_t index, const ColorChunk& below) const = 0;
  /// Works out ahead what chunks will ask for, with progress; without it the first chunk takes long.
  virtual Outcome prepare(SurfaceMaps&, const Progress& = {}) const { return Done{}; }
  /// Sets the marks of chunks whose colours may differ between this source and an earlier one of the same
  /// kind; false when it cannot tell.
  virtual bool markChanges(SurfaceMaps&, const LayerSource& /*before*/, std::vector<char>& /*marks*/) const {
    return false;
  }
  /// Sets the marks of chunks that hold anything.
  virtual void markContent(SurfaceMaps&, std::vector<char>& marks) const {
    std::fill(marks.begin(), marks.end(), 1);
  }
  /// Everything but painted chunks, for the file.
  virtual nlohmann::json parameters() const = 0;
  /// What one says of it in a row of the strata, when its kind alone does not say enough.
  virtual std::string remark() const { return {}; }
  /// The painted field, or null for kinds that are worked out.
  virtual const ColorField* painted() const { return nullptr; }
  /// The same source on a refined surface.
  virtual std::shared_ptr<const LayerSource> refined(const Refined& refined) const = 0;
};

using SourcePointer = std::shared_ptr<const LayerSource>;

/// A source of the kind with the parameters a file gave; `samples` is the size of the surface.
Result<SourcePointer> makeSource(std::string_view kind, const nlohmann::json& parameters, size_t samples);

/// A sheet one can paint on.
SourcePointer paintedSource(ColorField field);
/// One colour everywhere.
SourcePointer fillSource(const EncodedColor& color);
/// The colour of a fill source, or nothing for other kinds.
std::optional<EncodedColor> fillColor(const LayerSource& source);

/// Surface maps through a row of colours.
SourcePointer rampSource(MaskRecipe recipe, ColorRamp stops);
struct RampContent {
  MaskRecipe recipe;
  ColorRamp stops;
};
/// What a ramp source is made of, or nothing for other kinds.
std::optional<RampContent> rampContent(const LayerSource& source);

/// Hue zones that tint what lies below.
SourcePointer zoneSource(ZoneSet zones);
/// The zones of a zone source, or nothing for other kinds.
const ZoneSet* zonesOf(const LayerSource& source);

/// A field carried over to a refined surface: each new sample is the mix its origin names.
template <int Planes>
Field<Planes> refinedField(const Field<Planes>& before, const std::vector<Origin>& origins) {
  Field<Planes> after(origins.size(), before.fallback());
  for (size_t chunk = 0; chunk < after.chunkCount(); ++chunk) {
    const size_t begin = chunk * kChunkSize, end = std::min(origins.size(), begin + kChunkSize);
    bool any = false;
    for (size_t s = begin; s < end && !any; ++s)
      for (const uint32_t o : origins[s].sample) any |= before.chunk(o / kChunkSize) != nullptr;
    if (!any) continue;
    auto fresh = after.writable(chunk);
    for (size_t s = begin; s < end; ++s)
      for (int p = 0; p < Planes; ++p) {
        float sum = 0;
        for (int k = 0; k < 3; ++k)
          if (origins[s].weight[k] > 0) sum += origins[s].weight[k] * before.at(origins[s].sample[k])[p];
        fresh->plane[p][s - begin] = static_cast<uint16_t>(sum + 0.5f);
      }
    after.setChunk(chunk, std::move(fresh));
  }
  return after;
}

}  // namespace juvenor
