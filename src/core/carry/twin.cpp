#include "core/carry/twin.h"

#include <fmt/format.h>

#include <Eigen/Eigenvalues>
#include <algorithm>
#include <cmath>

#include "core/carry/copy_samples.h"

namespace juvenor {
namespace {

constexpr size_t kTwinLooks = 3000;
// Of the part's size: two of one shape lie nearer than this everywhere that counts.
constexpr float kSameShape = 0.01f, kTwinSeeks = 0.4f, kTwinNear = 0.05f, kTwinKeeps = 0.97f;
// A mirror image that fits so many times worse is taken all the same: eyes and gloves are mirrored.
constexpr float kMirrorsRather = 1.5f;

Box boxOf(const FitPoints& points) {
  Box out;
  for (const Vec3& p : points.positions) out.add(p);
  return out;
}

// From the middle of one to the middle of the other, turned that way first.
Similarity startFrom(const Box& from, const Box& to, const Eigen::Matrix3f& turn) {
  Similarity out;
  out.turn = turn;
  out.shift = to.center() - turn * from.center();
  return out;
}

std::vector<char> onlyPart(const Surface& surface, uint32_t part) {
  std::vector<char> out(surface.partCount, 0);
  out[part] = 1;
  return out;
}

RigidFit bestFit(const FitPoints& points, const Rays& rays, std::span<const char> parts, const Box& to,
                 bool mirrored) {
  const Box from = boxOf(points);
  const float size = to.diagonal();
  RigidFit best{{}, std::numeric_limits<float>::max(), 0};
  for (const float around : {0.f, 180.f, 90.f, -90.f})
    for (const Vec3& axis : {Vec3(Vec3::UnitY()), Vec3(Vec3::UnitX()), Vec3(Vec3::UnitZ())}) {
      if (around == 0 && axis != Vec3::UnitY()) continue;
      Eigen::Matrix3f turn = Eigen::AngleAxisf(around / 57.29578f, axis).toRotationMatrix();
      if (mirrored) turn = turn * Vec3(-1, 1, 1).asDiagonal();
      const RigidFit fit = fitOnto(points, rays, startFrom(from, to, turn), {kTwinSeeks * size, parts, 25});
      // what tells one from its mirror image may be a small part of it
      const RigidFit near = fitOnto(points, rays, fit.motion, {kTwinNear * size, parts, 25, kTwinKeeps});
      if (near.found > 0.5f && near.rest < 0.9f * best.rest) best = near;
      if (best.rest < 0.1f * kSameShape * size) return best;  // as it lies, or nearly
    }
  return best;
}

}  // namespace

Result<TwinFit> twinFit(const Document& document, uint32_t part, uint32_t twin, std::optional<bool> mirrored,
                        const Progress& progress) {
  const Surface& surface = *document.surface;
  if (part >= surface.partCount || twin >= surface.partCount) return Error{"there is no such part"};
  if (part == twin) return Error{"a part is no twin of itself"};
  const auto rays = document.maps->rays(progress);
  if (!rays) return rays.error();
  const FitPoints points = fitPointsOf(surface, kTwinLooks, twin);
  const Box to = boxOf(fitPointsOf(surface, surface.size(), part));
  if (points.positions.empty() || to.empty()) return Error{"a part without skin has no twin"};
  const std::vector<char> parts = onlyPart(surface, part);
  std::optional<TwinFit> best;
  float error = std::numeric_limits<float>::max();
  for (const bool image : {true, false}) {
    if (mirrored && *mirrored != image) continue;
    const RigidFit fit = bestFit(points, **rays, parts, to, image);
    if (!report(progress, image ? 0.5f : 1.f)) return cancelledError();
    if (fit.found == 0) continue;
    const float counts = image ? fit.rest : kMirrorsRather * fit.rest + 1e-4f * to.diagonal();
    if (counts >= error) continue;
    error = counts;
    best = {fit.motion, image, fit.rest, fit.found};
  }
  const auto& names = document.sculpt->parts;
  if (!best || best->rest > kSameShape * to.diagonal())
    return Error{fmt::format("“{}” is not of the shape of “{}”: {}", names[twin], names[part],
                             best ? fmt::format("{:.3g} scene units apart in the middle", best->rest)
                                  : std::string("no way to lay one on the other was found"))};
  return *best;
}

Result<Copied> copiedToTwin(const Document& document, uint32_t part, uint32_t twin, const TwinFit& fit,
                            const CopySetting& setting, const Progress& progress) {
  const Surface& surface = *document.surface;
  CopyGround ground{document, setting, {}, {}, [part](uint32_t) { return std::set<uint32_t>{part}; }};
  for (uint32_t s = 0; s < surface.size(); ++s)
    if (surface.parts[s] == twin) ground.samples.push_back(s);
  ground.there = fit.motion;
  ground.touchPart = part;
  ground.touchTwin = twin;
  return copiedSamples(ground, progress);
}

Result<FoundPlane> mirrorPlaneOf(const Document& document, const Progress& progress) {
  if (document.rest.any()) {
    Document atRest = document;
    atRest.rest = {};
    setSurface(atRest, document.rest.skin->surfaceAtRest());
    return mirrorPlaneOf(atRest, progress);
  }
  const Surface& surface = *document.surface;
  const auto rays = document.maps->rays(progress);
  if (!rays) return rays.error();
  const float size = surface.bounds.diagonal();
  const FitPoints points = fitPointsOf(surface, kTwinLooks);
  Similarity start;
  start.turn = Vec3(-1, 1, 1).asDiagonal();
  start.shift = Vec3(2 * surface.bounds.center().x(), 0, 0);
  const RigidFit at = fitOnto(points, **rays, start, {0.1f * size});
  const RigidFit fit = fitOnto(points, **rays, at.motion, {kTwinNear * size, {}, 60, kTwinKeeps});
  // a reflection in a plane is a motion that is its own way back: of one that nearly is, the plane it comes
  // nearest to
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3f> axes(0.5f *
                                                            (fit.motion.turn + fit.motion.turn.transpose()));
  FoundPlane out;
  out.plane.normal = axes.eigenvectors().col(0).normalized();
  if (out.plane.normal.x() < 0) out.plane.normal *= -1;
  out.plane.offset = 0.5f * out.plane.normal.dot(fit.motion.shift);
  out.found = fit.found;
  out.rest = fit.rest;
  if (!(fit.found > 0.3f))
    return Error{fmt::format("only {:.0f} % of the figure finds its mirror image", 100 * fit.found)};
  return out;
}

Result<Copied> copiedToOtherSide(const Document& document, const MirrorPlane& plane, bool fromPositive,
                                 const CopySetting& setting, const Progress& progress) {
  const Surface& surface = *document.surface;
  std::set<uint32_t> all;
  for (uint32_t p = 0; p < surface.partCount; ++p) all.insert(p);
  CopyGround ground{document, setting, {}, {}, [all](uint32_t) { return all; }};
  const Mirrors mirrors(plane, document.rest.skin);
  for (uint32_t s = 0; s < surface.size(); ++s) {
    const float side = document.rest.any() ? mirrors.sideOf(surface, s, 0)
                                           : plane.normal.dot(surface.positions[s]) - plane.offset;
    if (fromPositive ? side < 0 : side > 0) ground.samples.push_back(s);
  }
  if (document.rest.any()) ground.mirrors = &mirrors;
  ground.there.turn = Eigen::Matrix3f::Identity() - 2 * plane.normal * plane.normal.transpose();
  ground.there.shift = 2 * plane.offset * plane.normal;
  return copiedSamples(ground, progress);
}

}  // namespace juvenor
