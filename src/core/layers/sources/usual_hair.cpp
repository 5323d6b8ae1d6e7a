// What hair of a face is usually like (common practice, for an adult's head of 25 cm).
#include "core/layers/sources/hair.h"

namespace juvenor {
namespace {

Hair brows(Hair h) {
  h.guides.size.size = 9;
  h.apart = 0.7f;
  h.thickness = 0.09f;
  h.lift = 22;
  h.bend = 0.6f;
  h.clump = 0.15f;
  h.clumpSize = 3;
  h.stray = 0.35f;
  h.under = 0.35f;
  return h;
}

Hair lashes(Hair h) {
  h.guides.size.size = 8;
  h.guides.direction.flow = Vec3(0, 0.9f, 0.44f);
  h.guides.direction.curvature = 0;
  h.edgeApart = 0.35f;
  h.thickness = 0.1f;
  h.taper = 0.9f;
  h.lift = 75;
  h.bend = 0.7f;
  h.uneven = 0.35f;
  h.clump = 0.35f;
  h.clumpSize = 1.6f;
  h.stray = 0.15f;
  h.under = 0.5f;
  return h;
}

Hair stubble(Hair h) {
  h.guides.size.size = 1.2f;
  h.apart = 1.3f;
  h.thickness = 0.12f;
  h.taper = 0.3f;
  h.lift = 40;
  h.bend = 0.1f;
  h.clump = 0;
  h.under = 0.25f;
  return h;
}

Hair beard(Hair h) {
  h.guides.size.size = 22;
  h.apart = 1.1f;
  h.thickness = 0.11f;
  h.lift = 38;
  h.bend = 0.55f;
  h.clump = 0.4f;
  h.clumpSize = 5;
  h.stray = 0.4f;
  h.under = 0.45f;
  return h;
}

Hair crop(Hair h) {
  h.guides.size.size = 14;
  h.apart = 0.75f;
  h.thickness = 0.08f;
  h.lift = 40;
  h.bend = 0.5f;
  h.clump = 0.3f;
  h.under = 0.7f;
  return h;
}

constexpr UsualHair kUsualHair[] = {
    {"brows", "Brows", "Close to the skin, combed outward", brows},
    {"lashes", "Lashes", "Along an edge, curved up", lashes},
    {"stubble", "Stubble", "Stiff and short, a few days old", stubble},
    {"beard", "Beard", "Two fingers long, in clumps", beard},
    {"crop", "Cropped", "Short hair of a head", crop},
};

}  // namespace

std::span<const UsualHair> usualHair() {
  return kUsualHair;
}

Hair usualHairOn(const UsualHair& usual, Hair hair, float diagonal) {
  const float head = diagonal / 330;  // a head of 25 cm is 33 cm across its box
  Hair out = usual.of({});
  for (const Member<Hair>& m : membersOf<Hair>())
    if (m.facts.unit == MemberUnit::Length) m.of(out) *= head;
  const DirectionGuide way = out.guides.direction;
  const float length = head * out.guides.size.size;
  out.eumelanin = hair.eumelanin;
  out.pheomelanin = hair.pheomelanin;
  out.grey = hair.grey;
  out.seed = hair.seed;
  out.guides = std::move(hair.guides);
  out.guides.size.size = length;
  if (out.guides.direction.combs.empty()) {
    out.guides.direction = way;
    out.guides.direction.form = 0.05f * diagonal;
  }
  return out;
}

}  // namespace juvenor
