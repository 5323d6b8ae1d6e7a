#include "batch/script_eyes.h"

#include <fmt/format.h>

#include "batch/script_lookup.h"
#include "core/document/edits/edit_eyes.h"
#include "core/layers/sources/eyes.h"
#include "core/surface/build/search.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

// The layer a step names, or the active one where that holds eyes; 0: a new one.
Result<uint32_t> eyeLayerFor(const json& step, const Document& d) {
  if (step.contains("layer")) return layerFor(step, d);
  const LayerPointer active = layerOf(d, d.activeLayer);
  return active && eyesOf(*active->source) ? d.activeLayer : 0u;
}

// The skin of a part where a ball of it looks a way.
Result<Vec3> lookedAt(const Document& d, uint32_t part, const Vec3& look) {
  const Surface& surface = *d.surface;
  Vec3 middle = Vec3::Zero();
  double count = 0;
  for (uint32_t s = 0; s < surface.size(); ++s)
    if (surface.parts[s] == part) {
      middle += surface.positions[s];
      ++count;
    }
  if (!(count > 0)) return Error{"the part has no skin"};
  middle /= static_cast<float>(count);
  const Vec3 way = normalizedOr(look, Vec3::UnitZ());
  Vec3 best = middle;
  float most = -std::numeric_limits<float>::max();
  for (uint32_t s = 0; s < surface.size(); ++s) {
    const Vec3 off = surface.positions[s] - middle;
    if (surface.parts[s] != part || off.dot(way) < 0.9f * off.norm()) continue;
    const float straight = off.dot(way) / std::max(off.norm(), 1e-20f);
    if (straight > most) {
      most = straight;
      best = surface.positions[s];
    }
  }
  return best;
}

Result<Document> setEye(const json& step, const Document& d) {
  const auto layer = eyeLayerFor(step, d);
  if (!layer) return layer.error();
  auto part = partIn(step, d);
  if (!part) return part.error();
  Vec3 place = Vec3::Zero(), look = Vec3::UnitZ();
  bool both = true;
  const json* other = nullptr;
  JsonFields fields(step);
  const bool placed = fields.has("place");
  const Outcome ok = fields.any("do", other)
                         .any("layer", other)
                         .any("part", other)
                         .vector("place", place)
                         .vector("look", look)
                         .flag("both", both)
                         .done();
  if (!ok) return ok.error();
  if (!placed && *part == kNone) return Error{"needs a \"place\" on an eyeball, or its \"part\""};
  if (!placed) {
    const auto there = lookedAt(d, *part, look);
    if (!there) return there.error();
    place = *there;
  }
  const auto sample = nearestSample(*d.surface, place, 0.05f * d.surface->bounds.diagonal(), *part);
  if (!sample) return Error{"there is no skin near the \"place\""};
  return withEyeAt(d, *layer, place, d.surface->parts[*sample], both);
}

Result<Document> removeEye(const json& step, const Document& d) {
  const auto layer = layerFor(step, d);
  if (!layer) return layer.error();
  const auto number = step.value("eye", 1);
  if (number < 1) return Error{"\"eye\" is counted from 1"};
  return withoutEye(d, *layer, static_cast<size_t>(number - 1));
}

const ScriptCommand kEyeCommands[] = {
    {"set eye", {"layer", "part", "place", "look", "both"}, setEye},
    {"remove eye", {"layer", "eye"}, removeEye},
};

}  // namespace

std::span<const ScriptCommand> eyeCommands() {
  return kEyeCommands;
}

}  // namespace juvenor::batch
