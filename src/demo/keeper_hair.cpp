// The ferry keeper's hair: brows, lashes, a short beard, and what is left on the head.
#include "demo/keeper_hair.h"

#include "core/document/edits/edits.h"
#include "core/layers/sources/hair.h"
#include "core/noise/noise.h"
#include "core/surface/build/search.h"
#include "core/surface/map_field.h"
#include "demo/keeper.h"

namespace juvenor::demo {
namespace keeper {

// Below a line from the ear to the mouth, thinning down the throat.
float beardAt(const Vec3& p) {
  const float line = 11 + 0.34f * std::max(0.f, 88 - p.z()) + 4 * perlin(p / 14, 151);
  const float down = -48 + 0.35f * std::min(p.z(), 60.f);
  return smoothstep(line + 4, line - 9, p.y()) * smoothstep(down - 34, down, p.y()) *
         smoothstep(-16, 4, p.z()) * (1 - redOfLips(p));
}

// Around the sides and the back.
float hairAt(const Vec3& p) {
  const float ragged = 6 * perlin(p / 12, 152);
  return smoothstep(16, -8, p.z() + ragged) * smoothstep(124, 98, p.y() + ragged) *
         smoothstep(-30, 6, p.y() + 0.3f * p.z()) * smoothstep(75, 71, p.x());  // not on the ears
}

float browAt(const Vec3& p) {
  if (p.z() < 40) return 0;
  const Vec3 flat(p.x(), p.y(), 0);
  const float arch = std::min(rod(flat, {8, 77.5f, 0}, {30, 83.5f, 0}, 4.2f, 3.8f),
                              rod(flat, {30, 83.5f, 0}, {53, 74.5f, 0}, 3.8f, 1.2f));
  return smoothstep(1.6f, -1.8f, arch + 1.6f * perlin(p / 2.5f, 154));
}

}  // namespace keeper

namespace {

// Of the usual kinds lengths are for a head of this size.
constexpr float kHead = 330;
constexpr std::array<bool, 3> kBothSides{true, false, false};

const UsualHair& usual(std::string_view key) {
  return *std::ranges::find(usualHair(), key, &UsualHair::key);
}

Hair greying(Hair hair, float grey) {
  hair.eumelanin = 2.2f;
  hair.pheomelanin = 0.3f;
  hair.grey = grey;
  return hair;
}

// A layer that stands where `at` says of a place over one half of the head.
Document grown(const Document& document, const char* name, Hair hair, float (*at)(const Vec3&)) {
  Document d = withSourceLayer(document, name, Stratum::Pigment, hairSource(std::move(hair)));
  const Surface& surface = *d.surface;
  const ScalarField mask = mapField(closedMask(surface.size()),
                                    [&](size_t, size_t begin, size_t end) -> std::shared_ptr<ScalarChunk> {
                                      auto chunk = std::make_shared<ScalarChunk>();
                                      chunk->plane[0].fill(0);
                                      for (size_t s = begin; s < end; ++s)
                                        if (surface.parts[s] == 0)
                                          chunk->plane[0][s - begin] = to16(at(folded(surface.positions[s])));
                                      return chunk;
                                    });
  return *withMaskField(d, d.activeLayer, mask);
}

// A stroke over the skin through places near it.
SkinStroke onSkin(const Document& d, const std::vector<Vec3>& places, float width) {
  SkinStroke out{{}, 0, width, 1};
  for (const Vec3& place : places)
    if (const auto sample = nearestSample(*d.surface, place, 12, 0))
      out.places.push_back(d.surface->positions[*sample]);
  return out;
}

Document combed(const Document& d, const std::vector<Vec3>& places, float width) {
  const auto next = withComb(d, d.activeLayer, onSkin(d, places, width), kBothSides);
  return next ? *next : d;
}

// The edge of a lid, in front of the ball, from the inner corner to the outer one.
std::vector<Vec3> lidEdge(bool upper) {
  std::vector<Vec3> out;
  for (float x = -11.5f; x < 13; x += 0.8f) {
    float y = 0;
    // down or up from outside until it opens
    for (y = upper ? 9.f : -9.f; std::abs(y) > 0.5f; y += upper ? -0.1f : 0.1f)
      if (keeper::fissure(keeper::kEye + Vec3(x, y, 0)) < 0.7f) break;
    const float away = keeper::kEyeRadius + 1.8f;
    const float z = std::sqrt(std::max(0.f, away * away - x * x - y * y));
    out.push_back(keeper::kEye + Vec3(x, y, z));
  }
  return out;
}

Document lashed(const Document& document, const char* name, bool upper) {
  Hair hair = greying(usualHairOn(usual("lashes"), {}, kHead), 0.1f);
  hair.guides.direction.flow = Vec3(0, upper ? 0.65f : -0.8f, upper ? 0.76f : 0.6f).normalized();
  if (!upper) {
    hair.guides.size.size *= 0.6f;
    hair.edgeApart *= 1.5f;
    hair.bend = 0.4f;
  }
  const Document d = withSourceLayer(document, name, Stratum::Pigment, hairSource(std::move(hair)));
  const auto next = withHairEdge(d, d.activeLayer, onSkin(d, lidEdge(upper), 1.4f), kBothSides);
  return next ? *next : d;
}

}  // namespace

Document withKeepersHair(const Document& document) {
  Hair crop = greying(usualHairOn(usual("crop"), {}, kHead), 0.6f);
  crop.guides.direction.flow = Vec3(0, -0.75f, -0.65f).normalized();
  crop.guides.size.size = 9;
  Document d = grown(document, "Cropped sides", std::move(crop), keeper::hairAt);

  Hair beard = greying(usualHairOn(usual("beard"), {}, kHead), 0.55f);
  beard.guides.direction.flow = Vec3(0, -0.95f, 0.3f).normalized();
  beard.guides.direction.curvature = 0.1f;
  beard.guides.size.size = 9;
  d = grown(d, "Short beard", std::move(beard), keeper::beardAt);
  d = combed(d, {{40, 2, 74}, {34, -20, 76}, {20, -40, 84}}, 22);

  Hair brows = greying(usualHairOn(usual("brows"), {}, kHead), 0.3f);
  brows.guides.direction.curvature = 0;
  d = grown(d, "Brows' hair", std::move(brows), keeper::browAt);
  d = combed(d, {{8, 76, 88}, {13, 82, 87}}, 8);
  d = combed(d, {{16, 79, 86}, {30, 85, 80}}, 10);
  d = combed(d, {{30, 84, 80}, {53, 74, 66}}, 10);

  d = lashed(d, "Lower lashes", false);
  return lashed(d, "Upper lashes", true);
}

}  // namespace juvenor::demo
