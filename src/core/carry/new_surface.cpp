#include "core/carry/new_surface.h"

#include <algorithm>

#include "core/parallel.h"
#include "core/surface/build/refine_where.h"
#include "core/surface/build/search.h"

namespace juvenor {
namespace {

// What added points were: between those they were added between.
NewPlaces::Was refinedWas(const NewPlaces::Was& before, const std::vector<Origin>& origins) {
  NewPlaces::Was out;
  out.positions.resize(origins.size());
  out.normals.resize(origins.size());
  parallel(origins.size(), [&](size_t s) {
    Vec3 position = Vec3::Zero(), normal = Vec3::Zero();
    for (size_t k = 0; k < 3; ++k) {
      const float w = origins[s].weight[k];
      if (!(w > 0)) continue;
      // one that is kept stays to the bit
      position = w == 1 ? before.positions[origins[s].sample[k]]
                        : Vec3(position + w * before.positions[origins[s].sample[k]]);
      normal += w * before.normals[origins[s].sample[k]];
    }
    out.positions[s] = position;
    out.normals[s] = normalizedOr(normal, Vec3::UnitY());
  });
  return out;
}

// Points were added around some alone, whose numbers mean nothing here: they are added where the old skin had
// its points nearly as close as the finest of these asked for.
Refinement localAgain(const Document& old, const Refinement& finest, const Surface& fresh,
                      const NewPlaces::Was& was, float scale) {
  const Surface& before = *old.surface;
  const float fine = 1.5f * finest.spacing;
  Refinement out = finest;
  out.spacing = finest.spacing / scale;
  out.where = rangesWhere(fresh.size(), [&](size_t s) {
    const auto near = nearestSample(before, was.positions[s], 8 * before.spacing);
    return near && before.areas[*near] < fine * fine;
  });
  return out;
}

// The points to add: those that were added, where the polygons are the same; elsewhere so many that the skin
// is as fine as it was.
std::vector<Refinement> refinementsFor(const Document& old, const Surface& fresh, const NewPlaces::Was& was,
                                       bool same, float scale) {
  const auto isLocal = [](const Refinement& r) { return !r.where.empty(); };
  if (old.refinements.empty()) return {};
  const auto finest = std::ranges::min_element(old.refinements, {}, [&](const Refinement& r) {
    return isLocal(r) ? r.spacing : std::numeric_limits<float>::infinity();
  });
  if (isLocal(*finest)) {
    const Refinement again = localAgain(old, *finest, fresh, was, scale);
    // (without any it would be everywhere)
    return again.where.empty() ? std::vector<Refinement>() : std::vector{again};
  }
  if (same) return old.refinements;
  Refinement out = old.refinements.back();
  out.spacing = old.surface->spacing / scale;
  if (fresh.spacing < 1.1f * out.spacing) return {};
  return {out};
}

}  // namespace

Result<NewSurface> newSurface(const Document& old, const Sculpt& freshSculpt,
                              std::shared_ptr<const Surface> fresh, const SamePolygons& same,
                              const Placement& placement, const Bend& bend, const Progress& progress) {
  const Surface& before = *old.surface;
  NewSurface out;
  NewPlaces::Was was;
  const auto stands = placed(fresh, placement);
  was.positions.resize(fresh->size());
  was.normals.resize(fresh->size());
  parallel(fresh->size(), [&](size_t s) {
    was.positions[s] = bend.toOld(stands->positions[s]);
    was.normals[s] = bend.normalToOld(stands->positions[s], stands->normals[s]);
  });
  const auto oldOf = [&](size_t v) {
    return same.vertex[v] == kNone ? kNone : before.sampleOfVertex[same.vertex[v]];
  };
  for (size_t v = 0; v < freshSculpt.vertices.size(); ++v) {
    const uint32_t o = oldOf(v), s = fresh->sampleOfVertex[v];
    if (o == kNone) continue;
    was.positions[s] = before.positions[o];
    was.normals[s] = before.normals[o];
  }
  std::shared_ptr<const Surface> surface = fresh;
  out.refinements = refinementsFor(old, *fresh, was, same.all, bend.motion().scale);
  const bool local =
      std::ranges::any_of(out.refinements, [](const Refinement& r) { return !r.where.empty(); });
  if (same.all && !local && bend.motion().scale != 1)
    for (Refinement& r : out.refinements) r.spacing /= bend.motion().scale;
  for (const Refinement& r : out.refinements) {
    auto refined = refine(*surface, r, kMostSamples, progress);
    if (!refined) return refined.error();
    was = refinedWas(was, refined->origins);
    surface = refined->surface;
  }
  out.exactly.assign(surface->size(), kNone);
  for (size_t v = 0; v < freshSculpt.vertices.size(); ++v)
    if (const uint32_t o = oldOf(v); o != kNone) out.exactly[surface->sampleOfVertex[v]] = o;
  out.surface = placed(surface, placement);
  out.was = std::make_shared<const NewPlaces::Was>(std::move(was));
  return out;
}

}  // namespace juvenor
