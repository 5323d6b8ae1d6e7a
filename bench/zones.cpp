// Hue zones dragged: from the place of the handle to the composite, against the whole composite.
#include <fmt/format.h>

#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/zones.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

// A zone carried over the cheek: from the place of the handle to the composite, as the easel does it.
void benchZoneDrag(const Document& bare, float reach, float melt) {
  HueZone zone;
  zone.anchor = {66, 44, 78};
  zone.reach = reach;
  zone.grain = 5;
  Document d = withSourceLayer(bare, "Zones", Stratum::Flesh, zoneSource({{zone}, melt}));
  ColorField composite = *compositeOf(d.layers, *d.maps, d.bare);
  PreparedStack before = *prepared(d.layers, *d.maps);
  size_t touched = 0;
  int step = 0;
  const auto drag = [&] {
    HueZone moved = zone;
    moved.anchor.y() += 0.37f * static_cast<float>(++step);
    const Document next = *withSource(d, d.activeLayer, zoneSource({{moved}, melt}));
    PreparedStack after = *prepared(next.layers, *d.maps, {}, before);
    const auto chunks = changedChunks(before, after, d.surface->size());
    updateComposite(composite, after, next.bare, chunks);
    before = std::move(after);
    touched = chunks.size();
    d = next;
  };
  const double seconds = leastSecondsOf("zone drag", drag);
  const double influence = leastSecondsOf("its influence", [&] {
    HueZone moved = zone;
    moved.anchor.y() += 0.37f * static_cast<float>(++step);
    (void)influenceOf(*d.maps, moved, melt);
  });
  const double whole =
      leastSecondsOf("whole composite", [&] { (void)*compositeOf(d.layers, *d.maps, d.bare); });
  add({fmt::format("a zone of {} mm{} dragged, 2 M points ({} of {} chunks; influence alone {})", reach,
                   melt > 0 ? fmt::format(" melted by {} mm", melt) : "", touched, composite.chunkCount(),
                   milliseconds(influence)),
       milliseconds(seconds), fmt::format("whole composite: {}", milliseconds(whole)),
       fmt::format("{:.2f}", seconds / whole), "≤ 100 ms"});
}

}  // namespace

void benchZones() {
  const Document& d = ferryman(2'000'000);
  for (const float melt : {0.f, 1.5f, 6.f})
    for (const float reach : {30.f, 54.f, 90.f, 180.f}) benchZoneDrag(d, reach, melt);
}

}  // namespace juvenor::bench
