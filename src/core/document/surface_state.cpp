#include "core/document/surface_state.h"

#include "core/json_fields.h"
#include "core/sculpt/each_triangle.h"
#include "core/surface/build/relabel.h"

namespace juvenor {

using nlohmann::json;

// A plain number is a flat one, as documents had them from the first.
json toJson(const std::vector<Refinement>& refinements) {
  json out = json::array();
  for (const Refinement& r : refinements) {
    if (r.shape == RefineShape::Flat && r.where.empty()) {
      out.push_back(r.spacing);
      continue;
    }
    out.push_back({{"spacing", r.spacing}, {"shape", refineShapeKey(r.shape)}, {"crease", r.crease}});
    if (!r.where.empty()) out.back()["where"] = r.where;
  }
  return out;
}

json toJson(const Placement& placement) {
  return {{"up", axisKey(placement.up)},
          {"front", axisKey(placement.front)},
          {"millimetres", placement.millimetres}};
}

namespace {

Result<Refinement> refinementFrom(const json& j) {
  Refinement out;
  if (j.is_number()) {
    const auto spacing = numberFromJson(j);
    if (!spacing || *spacing < 0) return Error{"has a refinement that is no spacing"};
    out.spacing = *spacing;
    return out;
  }
  std::string shape(refineShapeKey(out.shape));
  const json* where = nullptr;
  const Outcome ok = JsonFields(j)
                         .number("spacing", out.spacing, 0, 1e9f)
                         .text("shape", shape)
                         .number("crease", out.crease, 0, 180)
                         .list("where", where)
                         .done();
  const auto known = refineShapeFromKey(shape);
  if (!ok) return Error{"has a refinement that " + ok.error().what};
  if (!known) return Error{"has a refinement of no known shape"};
  out.shape = *known;
  if (!where) return out;
  if (out.spacing == 0) return Error{"has a refinement around points without a spacing"};
  for (const json& number : *where) {
    if (!number.is_number_unsigned() || number.get<uint64_t>() > kMostSamples)
      return Error{"has a refinement around points that are no numbers"};
    out.where.push_back(number.get<uint32_t>());
  }
  return out;
}

Result<Placement> placementFrom(const json& j) {
  Placement out;
  std::string up(axisKey(out.up)), front(axisKey(out.front));
  const Outcome ok = JsonFields(j)
                         .text("up", up)
                         .text("front", front)
                         .number("millimetres", out.millimetres, 1e-9f, 1e9f)
                         .done();
  if (!ok) return ok.error();
  const auto upAxis = axisFromKey(up), frontAxis = axisFromKey(front);
  if (!upAxis || !frontAxis) return Error{"says up or front by no known axis"};
  out.up = *upAxis;
  out.front = *frontAxis;
  if (const Outcome sound = checked(out); !sound) return sound.error();
  return out;
}

}  // namespace

Result<SurfaceState> surfaceOfState(const json& state) {
  SurfaceState out;
  if (!state.is_object()) return Error{"is no object"};
  if (state.contains("shape")) {
    if (!state["shape"].is_number_unsigned()) return Error{"needs a whole number as \"shape\""};
    out.shape = state["shape"].get<uint64_t>();
  }
  if (state.contains("parts")) {
    const json& parts = state["parts"];
    if (!parts.is_object() || !parts.contains("data") || !parts["data"].is_number_unsigned())
      return Error{"needs a whole number as \"data\" of \"parts\""};
    out.parts = parts["data"].get<uint64_t>();
  }
  const json none = json::array(), stands = json::object();
  const json& refinements = state.contains("refinements") ? state["refinements"] : none;
  if (!refinements.is_array()) return Error{"needs a list as \"refinements\""};
  for (const json& j : refinements) {
    auto refinement = refinementFrom(j);
    if (!refinement) return refinement.error();
    out.refinements.push_back(*refinement);
  }
  auto placement = placementFrom(state.contains("placement") ? state["placement"] : stands);
  if (!placement) return Error{"its placement " + placement.error().what};
  out.placement = *placement;
  return out;
}

std::vector<uint32_t> partsFromParents(std::span<const uint32_t> parents,
                                       std::span<const uint32_t> partOfParent) {
  std::vector<uint32_t> out(parents.size());
  for (size_t t = 0; t < parents.size(); ++t) out[t] = partOfParent[parents[t]];
  return out;
}

namespace {

std::vector<uint32_t> partOfTriangles(const Sculpt& sculpt, const PartLabels& parts) {
  std::vector<uint32_t> out(triangleCount(sculpt));
  for (size_t p = 0; p < sculpt.polygonCount(); ++p)
    std::fill_n(out.begin() + static_cast<std::ptrdiff_t>(sculpt.polygonStart[p] - 2 * p),
                sculpt.polygon(p).size() - 2, parts.ofPolygon[p]);
  return out;
}

}  // namespace

Result<std::shared_ptr<const Surface>> surfaceAfter(const Sculpt& imported, const SurfaceState& state,
                                                    const PartLabels* parts, const Progress& progress) {
  std::vector<uint32_t> partOf;  // of the triangles, where parts were made
  auto surface = buildSurface(imported, progress, parts ? &partOf : nullptr);
  if (surface && parts) partOf = partsFromParents(partOf, partOfTriangles(imported, *parts));
  for (const Refinement& r : state.refinements) {
    if (!surface) return surface;
    auto refined = refine(**surface, r, kMostSamples, progress);
    if (!refined) return refined.error();
    surface = refined->surface;
    if (parts) partOf = partsFromParents(refined->parents, partOf);
  }
  if (!surface) return surface;
  if (parts) surface = relabelled(**surface, std::move(partOf), parts->own);
  return placed(*surface, state.placement);
}

}  // namespace juvenor
