// What layers of patterns have in common: they follow guides, whose size has areas and maps.
#pragma once

#include "core/layers/guides.h"
#include "core/layers/source.h"

namespace juvenor {

class PatternLayer : public LayerSource {
 public:
  const Guides* guides() const override = 0;
  const ZoneSet* zones() const override { return &zones_; }
  SourcePointer withZones(ZoneSet set) const override {
    Guides next = *guides();
    next.size.smaller = std::move(set.zones);
    return withGuides(std::move(next));
  }
  const MaskTerms* terms() const override { return &guides()->size.maps; }
  SourcePointer withTerms(MaskTerms terms) const override {
    Guides next = *guides();
    next.size.maps = std::move(terms);
    return withGuides(std::move(next));
  }
  SourcePointer refined(const Refined&) const override { return withGuides(*guides()); }
  std::vector<MapSetting> mapsNeeded() const override { return mapsOf(guides()->size.maps); }

 protected:
  explicit PatternLayer(const Guides& followed) : zones_{followed.size.smaller, 0} {}

 private:
  ZoneSet zones_;
};

}  // namespace juvenor
