#include "core/document/edits/seated_zones.h"

#include <map>

#include "core/document/edits/share_again.h"

namespace juvenor {

ZoneSet seated(const Document& document, ZoneSet zones) {
  const bool plain = document.mirror == MirrorPlane{} && !document.rest.any();
  const Mirrors mirrors = mirrorsOf(document);
  for (HueZone& zone : zones.zones)
    zone.other = plain || !zone.mirrored ? std::nullopt
                                         : std::optional(mirrors.place(zone.anchor, {true, false, false}));
  return zones;
}

SourcePointer seated(const Document& document, SourcePointer source) {
  const ZoneSet* zones = source->zones();
  if (!zones) return source;
  ZoneSet set = seated(document, *zones);
  return set == *zones ? source : source->withZones(std::move(set));
}

void seatZones(Document& document) {
  std::map<SourcePointer, SourcePointer> sources;
  eachLayer(document, [&](LayerPointer& pointer) {
    SourcePointer& source = sources[pointer->source];
    if (!source) source = seated(document, pointer->source);
    if (source == pointer->source) return;
    Layer layer = *pointer;
    layer.source = source;
    pointer = std::make_shared<Layer>(std::move(layer));
  });
  shareAgain(document);
}

}  // namespace juvenor
