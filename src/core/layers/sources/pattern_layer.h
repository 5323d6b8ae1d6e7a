// What layers of patterns have in common: they follow guides, whose size has areas and maps, and their relief
// can be soothed by hand.
#pragma once

#include <fmt/format.h>

#include "core/growth/kept_arrays.h"
#include "core/layers/guides.h"
#include "core/layers/source.h"
#include "core/layers/sources/soothed.h"

namespace juvenor {

/// A pattern worked out: all it is set to but what is soothed or touched by hand, alike only where the
/// pattern is, and what one should know of how it came out.
class PreparedPattern : public PreparedSource {
 public:
  struct Words {
    std::string settings, note;
  };
  explicit PreparedPattern(Words words) : words_(std::move(words)) {}
  std::string note() const override { return words_.note; }

 protected:
  bool isSetAs(const PreparedPattern& other) const { return words_.settings == other.words_.settings; }

 private:
  Words words_;
};

/// A layer that follows guides.
class GuidedLayer : public LayerSource {
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
  explicit GuidedLayer(const Guides& followed) : zones_{followed.size.smaller, 0} {}

 private:
  ZoneSet zones_;
};

class PatternLayer : public GuidedLayer {
 public:
  std::string grownKey() const final { return fmt::format("{} {} {}", kGrowth, kind().key, growsBy()); }
  bool isReady(SurfaceMaps& maps) const final { return maps.hasDerived(grownKey()); }
  Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress) const final {
    auto out = grown(maps, progress);
    if (!out || guides()->soothed.empty()) return out;
    return soothed(std::move(*out), soothedField(maps, guides()->soothed));
  }

 protected:
  explicit PatternLayer(const Guides& followed) : GuidedLayer(followed) {}
  /// What its growth depends on, and nothing else.
  virtual std::string growsBy() const = 0;
  /// The pattern before anything is soothed.
  virtual Result<PreparedSourcePointer> grown(SurfaceMaps& maps, const Progress& progress) const = 0;
  PreparedPattern::Words words(std::string note) const {
    nlohmann::json all = parameters();
    for (const char* byHand : {"soothed", "touched"}) all.erase(byHand);
    return {textOf(all), std::move(note)};
  }

 private:
  /// Raised when something else grows from the same settings, so that what documents keep does not pass for
  /// it.
  static constexpr int kGrowth = 1;
};

}  // namespace juvenor
