// Where freckles and blush lie and where veins show is common practice; the numbers are this program's own.
#include "core/document/edits/usual_markings.h"

#include <algorithm>

#include "core/document/landmark.h"

namespace juvenor {
namespace {

float sizeOf(const Document& document) {
  return document.surface->bounds.diagonal();
}

// An area over a landmark, `reach` as a part of the diagonal; nothing when it is not placed.
void addOver(const Document& document, std::string_view landmark, float reach, float strength,
             std::vector<HueZone>& out) {
  const auto found = std::ranges::find(document.landmarks, landmark, &Landmark::key);
  if (found == document.landmarks.end()) return;
  const LandmarkFacts* facts = landmarkFacts(landmark);
  HueZone zone;
  zone.name = facts->label;
  zone.landmark = found->key;
  zone.anchor = found->position;
  zone.mirrored = facts->paired;
  zone.reach = reach * sizeOf(document);
  zone.grain = 0.05f * sizeOf(document);
  zone.strength = strength;
  zone.breakUp = 0.4f;
  zone.softness = 0.65f;
  out.push_back(std::move(zone));
}

}  // namespace

Speckle usualFreckles(const Document& document) {
  const float d = sizeOf(document);
  Speckle out;
  out.smallest = 0.0018f * d;
  out.largest = 0.0065f * d;
  out.mix = 0.25f;
  out.cover = 0.22f;
  out.everywhere = 0.16f;
  out.fade = 0.75f;
  out.softness = 0.6f;
  MaskTerm sun;
  sun.map = {&kExposureMap, 0, Vec3(0, 0.83f, 0.56f), 1};
  sun.low = 0.75f;
  sun.fade = 0.6f;
  out.density = {sun};
  addOver(document, "nose", 0.09f, 0.7f, out.gather);
  addOver(document, "cheekbone", 0.11f, 0.8f, out.gather);
  out.height = 0.0006f * d;
  return out;
}

Mottle usualMottling(const Document& document) {
  const float d = sizeOf(document);
  Mottle out;
  const EncodedColor blood{0.62f, 0.26f, 0.22f};
  out.tones = {{blood, 0}, {blood, 0.14f}, {blood, 0.34f}};
  out.size = 0.05f * d;
  out.fine = 0.012f * d;
  out.balance = 0.45f;
  out.bend = 0.25f;
  out.crease = 0.01f * d;
  out.marbling = 0.25f;
  return out;
}

Veins usualVeins(const Document& document) {
  const float d = sizeOf(document);
  Veins out;
  out.width = 0.006f * d;
  out.finest = 0.001f * d;
  out.spacing = 0.022f * d;
  out.depth = 0.002f * d;
  out.fan = 0.3f;
  addOver(document, "temple", 0.16f, 1, out.roots);
  return out;
}

ScalarField usualBlush(const Document& document) {
  ScalarField out = closedMask(document.surface->size());
  std::vector<HueZone> over;
  addOver(document, "cheekbone", 0.14f, 0.9f, over);
  addOver(document, "nose", 0.06f, 0.7f, over);
  addOver(document, "ear", 0.1f, 0.8f, over);
  for (const HueZone& zone : over) {
    const ZoneInfluencePointer influence = influenceOf(*document.maps, zone, 0);
    std::shared_ptr<ScalarChunk> chunk;
    size_t index = 0;
    for (size_t i = 0; i < influence->samples.size(); ++i) {
      const size_t s = influence->samples[i];
      if (!chunk || s / kChunkSize != index) {
        if (chunk) out.setChunk(index, std::move(chunk));
        index = s / kChunkSize;
        chunk = out.writable(index);
      }
      uint16_t& value = chunk->plane[0][s % kChunkSize];
      value = std::max(value, to16(zone.strength * influence->values[i]));
    }
    if (chunk) out.setChunk(index, std::move(chunk));
  }
  return out;
}

}  // namespace juvenor
