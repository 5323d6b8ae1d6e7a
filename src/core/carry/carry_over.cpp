#include "core/carry/carry_over.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/carry/align.h"
#include "core/carry/carry_work.h"
#include "core/carry/joined_sculpt.h"
#include "core/carry/parts_again.h"
#include "core/document/edits/edit_parts.h"
#include "core/document/edits/edits.h"
#include "core/layers/prepared_layer.h"

namespace juvenor {
namespace {

// Of the old sculpt's size, beside some distances of its points.
constexpr float kReach = 0.03f;
constexpr float kReachSpacings = 6, kSureSpacings = 1;
// More than this is called doubtful.
constexpr uint16_t kDoubtful = 65535 / 4;

Progress part(const Progress& progress, float from, float to) {
  return [&progress, from, to](float f) { return report(progress, from + (to - from) * f); };
}

// How the new sculpt stands to the old one.
struct Standing {
  Placement placement;
  Bend bend;
  bool lay = true;
  float rest = 0;
};

// Of the same polygons: a pose stays where it is; what was turned, moved or written in another unit as a
// whole is told by all its vertices.
Standing standingOfSame(const Document& old, const Sculpt& fresh, const SamePolygons& same) {
  std::vector<Vec3> from, to;
  const size_t step = std::max<size_t>(1, fresh.vertices.size() / 20'000);
  for (size_t v = 0; v < fresh.vertices.size(); v += step) {
    from.push_back(fresh.vertices[v]);
    to.push_back(old.surface->positions[old.surface->sampleOfVertex[same.vertex[v]]]);
  }
  Standing out{old.placement, {}, true, 0};
  const auto fit = fitPairs(from, to, true);
  if (!fit) return out;
  double squares = 0;
  for (size_t i = 0; i < from.size(); ++i)
    squares += static_cast<double>(((*fit)(from[i]) - to[i]).squaredNorm());
  const double rest = std::sqrt(squares / static_cast<double>(from.size()));
  const Eigen::Matrix3f stands = turnOf(old.placement);
  const bool moved = !fit->turn.isApprox(stands, 1e-5f) || std::abs(fit->scale - 1) > 1e-5f ||
                     fit->shift.norm() > 1e-5f * old.surface->bounds.diagonal();
  if (!moved || rest > 1e-3 * static_cast<double>(old.surface->bounds.diagonal())) return out;
  out.placement = placementNear(fit->turn);
  out.placement.millimetres = old.placement.millimetres * unitNear(fit->scale);
  out.bend = Bend({fit->scale, fit->turn * turnOf(out.placement).transpose(), fit->shift});
  out.lay = false;
  return out;
}

Result<Standing> standingOf(const Document& old, const Rays& rays, const Sculpt& freshSculpt,
                            std::shared_ptr<const Surface> fresh, const SamePolygons& same,
                            const CarrySetting& setting, const Progress& progress) {
  if (same.all && setting.pins.empty()) return standingOfSame(old, freshSculpt, same);
  // parts that are as they were say that it lies where it lay
  const bool some = std::ranges::any_of(same.part, [](uint32_t p) { return p != kNone; });
  Standing out{old.placement, {}, true, 0};
  if (!some && setting.pins.size() < 3) {
    const auto lies = aligned(old, rays, fresh, progress);
    if (!lies) return lies.error();
    out = {lies->placement, Bend(lies->motion), lies->lay, lies->rest};
  }
  if (setting.pins.empty()) return out;
  const auto bend = bendBetween(setting.pins, out.bend.motion());
  if (!bend) return bend.error();
  out.bend = *bend;
  if (setting.pins.size() >= 3)  // a larger head is no other unit
    out.placement.millimetres = old.placement.millimetres * unitNear(bend->motion().scale);
  out.lay = false;
  return out;
}

std::shared_ptr<const Sculpt> withLostParts(const Document& old, const Sculpt& fresh,
                                            std::span<const uint32_t> lost, const Standing& standing) {
  const Sculpt& before = *old.sculpt;
  const Eigen::Matrix3f was = turnOf(old.placement), back = turnOf(standing.placement).transpose();
  const bool stays = standing.bend.isIdentity() && old.placement == standing.placement;
  const Vec3 apart = (before.offset - fresh.offset).cast<float>();
  return std::make_shared<const Sculpt>(
      joinedSculpt(fresh, {}, before, {lost.begin(), lost.end()}, [&](const Vec3& p) {
        return Vec3(stays ? Vec3(p + apart) : Vec3(back * standing.bend.toNew(was * p)));
      }));
}

std::vector<std::string> names(const std::vector<std::string>& of, const auto& numbers) {
  std::vector<std::string> out;
  for (const uint32_t n : numbers) out.push_back(of[n]);
  return out;
}

void countDoubt(const Correspondence& from, CarryReport& report) {
  size_t sure = 0, doubtful = 0;
  for (size_t s = 0; s < from.size(); ++s) {
    if (!from.has(s)) continue;
    (from.doubt[s] > kDoubtful ? doubtful : sure) += 1;
  }
  const auto all = static_cast<float>(std::max<size_t>(1, from.size()));
  report.points = from.size();
  report.sure = static_cast<float>(sure) / all;
  report.doubtful = static_cast<float>(doubtful) / all;
  report.unknown = std::max(0.f, 1 - report.sure - report.doubtful);
}

// UV sets that were made here fit where the polygons are the same.
void keepUvs(Document& out, std::shared_ptr<const Sculpt> fresh, const Sculpt& old,
             std::vector<std::string>& left) {
  if (fresh->corners.size() != old.corners.size() || fresh->polygonStart != old.polygonStart) {
    for (const MadeUvs& uvs : out.uvs)
      left.push_back(fmt::format("the UVs “{}” do not fit other polygons", uvs.name));
    out.uvs.clear();
  }
  setImported(out, std::move(fresh));
}

// From the first look at both to the place of every sample.
class Carry {
 public:
  /// `withParts`: the old document with parts that were made, to be made again; null: there are none.
  Carry(const Document& old, std::shared_ptr<const Sculpt> fresh, const CarrySetting& setting,
        const Document* withParts, const Progress& progress)
      : old_(old), fresh_(std::move(fresh)), setting_(setting), withParts_(withParts), progress_(progress) {}

  Result<CarriedOver> run() {
    for (const auto step : {&Carry::look, &Carry::stand, &Carry::pair, &Carry::build, &Carry::find})
      if (const Outcome ok = (this->*step)(); !ok) return ok.error();
    return work();
  }

 private:
  Outcome look() {
    auto rays = old_.maps->rays(part(progress_, 0, 0.15f));
    if (!rays) return rays.error();
    rays_ = std::move(*rays);
    return build(fresh_, 0.15f, 0.25f);
  }
  Outcome build(std::shared_ptr<const Sculpt> sculpt, float from, float to) {
    auto built = buildSurface(*sculpt, part(progress_, from, to));
    if (!built) return built.error();
    base_ = std::move(*built);
    fresh_ = std::move(sculpt);
    same_ = samePolygons(*fresh_, *old_.sculpt);
    return Done{};
  }
  Outcome stand() {
    auto standing = standingOf(old_, *rays_, *fresh_, base_, same_, setting_, part(progress_, 0.25f, 0.4f));
    if (!standing) return standing.error();
    standing_ = std::move(*standing);
    const float size = old_.surface->bounds.diagonal(), spacing = old_.surface->spacing;
    reach_ = setting_.reach > 0 ? setting_.reach : kReach * size + kReachSpacings * spacing;
    return Done{};
  }
  // Which part comes from which, and what is lost joins at the end.
  Outcome pair() {
    // skin on skin lies nearer than what one looks for
    const float lies = std::min(reach_, 0.01f * old_.surface->bounds.diagonal() + 2 * old_.surface->spacing);
    sources_ = matchedParts(*fresh_, *placed(base_, standing_.placement), *old_.sculpt, *rays_,
                            standing_.bend, lies);
    for (uint32_t p = 0; p < sources_.size(); ++p)
      if (same_.part[p] != kNone) sources_[p] = {same_.part[p]};
    for (const auto& [part, from] : setting_.parts) sources_[part] = from;
    const auto lost = lostParts(sources_, old_.sculpt->parts.size());
    report_.lost = names(old_.sculpt->parts, lost);
    if (!setting_.keepLost || lost.empty()) return Done{};
    const size_t before = fresh_->parts.size();
    const auto joined = withLostParts(old_, *fresh_, lost, standing_);
    if (joined->parts.size() != before + lost.size()) return Done{};  // (one bears a name that is there)
    if (const Outcome ok = build(joined, 0.4f, 0.45f); !ok) return ok;
    sources_.resize(before);
    for (const uint32_t part : lost) {
      sources_.push_back({part});
      kept_.insert(static_cast<uint32_t>(sources_.size() - 1));
    }
    return Done{};
  }
  Outcome build() {
    auto built = newSurface(old_, *fresh_, base_, same_, standing_.placement, standing_.bend,
                            part(progress_, 0.45f, 0.55f));
    if (!built) return built.error();
    surface_ = std::move(*built);
    base_ = nullptr;
    return Done{};
  }
  Outcome find() {
    const Surface& surface = *surface_.surface;
    const float scale = standing_.bend.motion().scale;
    const auto sought = [&](size_t s) {
      return SoughtPlace{surface_.was->positions[s], surface_.was->normals[s],
                         scale * std::sqrt(std::max(surface.areas[s], 0.f) / 3.1416f), surface.parts[s],
                         surface_.exactly[s]};
    };
    const float sure = kSureSpacings * std::max(old_.surface->spacing, scale * surface.spacing);
    auto found = correspondenceOf(surface.size(), sought, *rays_, sources_,
                                  {reach_, std::min(sure, 0.5f * reach_)}, part(progress_, 0.55f, 0.8f));
    if (!found) return found.error();
    from_ = std::move(*found);
    countDoubt(from_, report_);
    if (report_.unknown > 0.95f)
      return Error{
          fmt::format("only {:.1f} % of the new sculpt lies on the one before; everything is as it was",
                      100 * (1 - report_.unknown))};
    return Done{};
  }
  Result<CarriedOver> work() {
    CarriedOver out{old_, std::move(report_)};
    Document& d = out.document;
    if (!setting_.checkpoints) d.checkpoints.clear();
    d.placement = standing_.placement;
    d.refinements = surface_.refinements;
    d.reliefStep = old_.reliefStep / standing_.bend.motion().scale;
    d.shape = fingerprintOf(*fresh_);
    keepUvs(d, fresh_, *old_.sculpt, out.report.left);
    setSurface(d, surface_.surface);
    if (const Outcome rest = keepRest(d, out.report.left); !rest) return rest.error();
    const NewPlaces places(surface_.surface, surface_.was, rays_, sources_);
    const Outcome ok = carryWork({old_, surface_, from_, sources_, places, standing_.bend}, d,
                                 out.report.left, part(progress_, 0.8f, 0.9f));
    if (!ok) return ok.error();
    d.hiddenParts.insert(kept_.begin(), kept_.end());
    if (withParts_) {
      auto again = withPartsAgain(d, {*withParts_, *rays_, sources_, standing_.bend, reach_});
      if (!again) return again.error();
      d = std::move(*again);
    }
    if (setting_.grow) {
      const auto ready = prepared(d.layers, *d.maps, part(progress_, 0.9f, 1));
      if (!ready) return ready.error();
    }
    tell(out.report);
    return out;
  }
  // The rest pose of the same vertices; of others there is none.
  Outcome keepRest(Document& d, std::vector<std::string>& left) const {
    if (!d.rest.any()) return Done{};
    if (!same_.all || standing_.bend.motion().scale != 1) {
      left.push_back("the rest pose does not fit other polygons, nor another size");
      d.rest = {};
      return Done{};
    }
    auto vertices = *d.rest.vertices;
    for (size_t v = 0; v < vertices.size(); ++v) vertices[v] = (*old_.rest.vertices)[same_.vertex[v]];
    d.rest.vertices = std::make_shared<const std::vector<Vec3>>(std::move(vertices));
    // (the other sides of zones are places of the old skin yet, and move with all others)
    return restAgain(d);
  }
  void tell(CarryReport& report) const {
    report.samePolygons = same_.all;
    report.lay = standing_.lay;
    report.motion = standing_.bend.motion();
    report.rest = standing_.rest;
    for (uint32_t p = 0; p < fresh_->parts.size(); ++p)
      report.parts.push_back(
          {fresh_->parts[p], names(old_.sculpt->parts, sources_[p]), same_.part[p] != kNone});
  }

  const Document& old_;
  std::shared_ptr<const Sculpt> fresh_;
  const CarrySetting& setting_;
  const Document* withParts_;
  const Progress& progress_;
  RaysPointer rays_;
  std::shared_ptr<const Surface> base_;  ///< of the new sculpt, without added points, on its own axes
  SamePolygons same_;
  Standing standing_;
  float reach_ = 0;
  PartSources sources_;
  std::set<uint32_t> kept_;  ///< parts the new sculpt has not
  NewSurface surface_;
  Correspondence from_;
  CarryReport report_;
};

// Whether all parts are there by their names.
bool bears(const Sculpt& sculpt, const std::vector<std::string>& names) {
  return std::ranges::all_of(names, [&](const std::string& name) {
    return std::ranges::find(sculpt.parts, name) != sculpt.parts.end();
  });
}

// The same document, its parts taken for those of a file.
Document asImported(const Document& document) {
  Document out = document;
  out.parts = {};
  return out;
}

}  // namespace

Result<CarriedOver> carriedOver(const Document& old, std::shared_ptr<const Sculpt> fresh,
                                const CarrySetting& setting, const Progress& progress) {
  for (const auto& [part, from] : setting.parts)
    if (part >= fresh->parts.size() ||
        std::ranges::any_of(from, [&](uint32_t o) { return o >= old.sculpt->parts.size(); }))
      return Error{"there is no such part to pair"};
  if (!old.parts.any() || bears(*fresh, old.parts.names))
    return caught([&] { return Carry(asImported(old), std::move(fresh), setting, nullptr, progress).run(); });
  // the new file does not know the parts that were made here
  const auto base = withMadeParts(old, {}, part(progress, 0, 0.1f));
  if (!base) return base.error();
  CarrySetting within = setting;
  for (auto& [now, from] : within.parts) {
    std::set<uint32_t> own;
    for (const uint32_t made : from) own.insert(old.parts.labels->own[made]);
    from = std::move(own);
  }
  return caught([&] { return Carry(*base, std::move(fresh), within, &old, part(progress, 0.1f, 1)).run(); });
}

}  // namespace juvenor
