// The kinds of layer this program knows.
#include "core/layers/sources/registry.h"

#include <fmt/format.h>

#include "core/layers/guides.h"

namespace juvenor {

SourcePointer LayerSource::withGuides(Guides) const {
  return nullptr;
}

std::span<const SourceKind* const> sourceKinds() {
  static constexpr const SourceKind* kKinds[] = {&kPaintedKind, &kFillKind,   &kRampKind,   &kZonesKind,
                                                 &kSpeckleKind, &kMottleKind, &kVeinsKind,  &kEyesKind,
                                                 &kScalesKind,  &kBandsKind,  &kSpotsKind,  &kFineSkinKind,
                                                 &kHairKind,    &kSlideKind,  &kAdjustKind, &kFilterKind};
  return kKinds;
}

const SourceKind* sourceKind(std::string_view key) {
  if (key == kGroupKind.key) return &kGroupKind;
  const auto found = std::ranges::find(sourceKinds(), key, &SourceKind::key);
  return found == sourceKinds().end() ? nullptr : *found;
}

Result<SourcePointer> makeSource(std::string_view kind, const nlohmann::json& parameters, size_t samples) {
  if (const SourceKind* known = sourceKind(kind)) return known->read(parameters, samples);
  return Error{fmt::format("a layer of kind '{}' is not known to this version", kind)};
}

}  // namespace juvenor
