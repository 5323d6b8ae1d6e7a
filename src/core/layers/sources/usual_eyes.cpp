// Eyes one may begin from. What irises look like at so much melanin is common knowledge; all of it was judged
// by eye.
#include "core/layers/sources/eyes.h"

namespace juvenor {
namespace {

Eyes ofPeople(Eyes eyes, std::vector<IrisRing> rings, float spots, float crypts) {
  eyes.rings = std::move(rings);
  eyes.shape = PupilShape::Round;
  eyes.spots = spots;
  eyes.crypts = crypts;
  eyes.flecks = 0;
  eyes.limbusDark = 0.6f;
  return eyes;
}

Eyes ofCreatures(Eyes eyes, PupilShape shape, float slit, std::vector<IrisRing> rings, float flecks,
                 const EncodedColor& fleck) {
  eyes.rings = std::move(rings);
  eyes.shape = shape;
  eyes.slit = slit;
  eyes.spots = 0.05f;
  eyes.crypts = 0.15f;
  eyes.flecks = flecks;
  eyes.fleckColor = fleck;
  eyes.limbusDark = 0.75f;
  return eyes;
}

constexpr UsualEye kUsualEyes[] = {
    {"blue", "Blue", "Hardly any melanin, a warmer ring around the pupil",
     [](Eyes e) {
       return ofPeople(std::move(e), {{0.22f, {}, 0}, {0.04f, {}, 0}, {0, {}, 0}}, 0.05f, 0.4f);
     }},
    {"grey green", "Grey green", "A little melanin over pale fibres",
     [](Eyes e) {
       return ofPeople(std::move(e), {{0.34f, {}, 0}, {0.2f, {}, 0}, {0.14f, {}, 0}}, 0.1f, 0.4f);
     }},
    {"hazel", "Hazel", "Brown around the pupil, green toward the rim",
     [](Eyes e) {
       return ofPeople(std::move(e), {{0.55f, {}, 0}, {0.38f, {}, 0}, {0.25f, {}, 0}}, 0.25f, 0.35f);
     }},
    {"brown", "Brown", "Melanin all over; furrows show more than fibres",
     [](Eyes e) {
       return ofPeople(std::move(e), {{0.72f, {}, 0}, {0.62f, {}, 0}}, 0.1f, 0.2f);
     }},
    {"gold slit", "Gold, upright slit", "A hunter's by night",
     [](Eyes e) {
       return ofCreatures(std::move(e), PupilShape::Upright, 0.3f,
                          {{0.5f, {0.42f, 0.3f, 0.1f}, 0.6f},
                           {0.3f, {0.85f, 0.62f, 0.18f}, 0.85f},
                           {0.5f, {0.55f, 0.36f, 0.12f}, 0.7f}},
                          0.3f, {0.98f, 0.84f, 0.42f});
     }},
    {"level slit", "Dull brass, level slit", "A grazer's, or of shallow water",
     [](Eyes e) {
       return ofCreatures(std::move(e), PupilShape::Level, 0.42f,
                          {{0.6f, {0.3f, 0.2f, 0.1f}, 0.5f},
                           {0.4f, {0.72f, 0.5f, 0.2f}, 0.8f},
                           {0.5f, {0.5f, 0.42f, 0.2f}, 0.7f}},
                          0.45f, {0.93f, 0.76f, 0.36f});
     }},
    {"keyhole", "Silver, keyhole", "Of still water",
     [](Eyes e) {
       return ofCreatures(std::move(e), PupilShape::Keyhole, 0.4f,
                          {{0.3f, {0.5f, 0.52f, 0.5f}, 0.7f}, {0.2f, {0.7f, 0.74f, 0.72f}, 0.8f}}, 0.25f,
                          {0.9f, 0.93f, 0.95f});
     }},
};

}  // namespace

std::vector<IrisRing> usualRings() {
  std::vector<IrisRing> out(2);
  out[0].melanin = 0.45f;
  out[1].melanin = 0.2f;
  return out;
}

std::span<const UsualEye> usualEyes() {
  return kUsualEyes;
}

}  // namespace juvenor
