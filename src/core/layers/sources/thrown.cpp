#include "core/layers/sources/thrown.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <cmath>
#include <numbers>

#include "core/cell_members.h"
#include "core/layers/sources/light_over.h"
#include "core/parallel.h"
#include "core/surface/graph/blended_planes.h"
#include "core/surface/graph/melt.h"
#include "core/surface/graph/skin_level.h"

namespace juvenor {
namespace {

constexpr float kFading = 28;   // degrees before the reach in which a slide dies out
constexpr float kChoosing = 4;  // the power that makes the better view the only one, nearly
constexpr int kSoftRounds = 2;  // of means with neighbours that make the rim of what is hidden soft

float smoothStep(float low, float high, float v) {
  const float t = std::clamp((v - low) / std::max(high - low, 1e-6f), 0.f, 1.f);
  return t * t * (3 - 2 * t);
}

std::string keyOf(const Camera& c, const std::set<uint32_t>& without) {
  return fmt::format("seen from {} {} {} {} {} {} {} {} {} {} without {}", c.target.x(), c.target.y(),
                     c.target.z(), c.distance, c.turn.x(), c.turn.y(), c.turn.z(), c.turn.w(), c.fieldOfView,
                     c.parallel, fmt::join(without, ","));
}

// A sample that is seen next to hidden ones is half hidden, never the other way round: nothing lands behind
// an edge.
void softenRim(const Surface& surface, SeenBy& seen) {
  SeenBy before;
  for (int round = 0; round < kSoftRounds; ++round) {
    before = seen;
    parallel(seen.size(), [&](size_t s) {
      if (before[s] == 0) return;
      unsigned sum = before[s], count = 1;
      for (const uint32_t n : surface.neighborsOf(s)) {
        sum += before[n];
        ++count;
      }
      const unsigned mean = sum / count;
      seen[s] = static_cast<uint8_t>(std::min<unsigned>(before[s], mean > 127 ? 2 * mean - 255 : 0));
    });
  }
}

}  // namespace

Result<std::shared_ptr<const SeenBy>> seenFrom(const Camera& camera, const std::set<uint32_t>& without,
                                               SurfaceMaps& maps, const Progress& progress) {
  return maps.derived<SeenBy>(keyOf(camera, without), [&]() -> Result<std::shared_ptr<const SeenBy>> {
    const auto rays = maps.rays(progress);
    if (!rays) return rays.error();
    const Surface& surface = maps.surface();
    const Lens lens(camera);
    const float lift = liftOf(surface);
    auto out = std::make_shared<SeenBy>(surface.size(), uint8_t{0});
    const bool whole = parallelUntil(
        0, surface.size(), [&] { return progress && !progress(0.5f); },
        [&](size_t s) {
          const Vec3 toViewer = lens.toViewer(surface.positions[s]);
          if (surface.normals[s].dot(toViewer) <= 0) return;
          const float way = camera.parallel ? std::numeric_limits<float>::infinity()
                                            : (camera.eye() - surface.positions[s]).norm();
          const Ray ray{surface.positions[s] + lift * surface.normals[s], toViewer};
          if (!(*rays)->blocked(ray, way, without)) (*out)[s] = 255;
        });
    if (!whole) return cancelledError();
    softenRim(surface, *out);
    return std::shared_ptr<const SeenBy>(std::move(out));
  });
}

namespace {

class Thrower {
 public:
  Thrower(const Slide& slide, const Throw& setting, const Surface& surface, const SeenBy& seen,
          const LightOver* light)
      : view_(slide),
        setting_(setting),
        surface_(surface),
        seen_(seen),
        light_(light),
        gone_(std::cos(setting.reach * std::numbers::pi_v<float> / 180)),
        whole_(std::cos(std::max(0.f, setting.reach - kFading) * std::numbers::pi_v<float> / 180)) {}

  /// Covers nothing where the slide does not reach.
  Thrown at(uint32_t s) const {
    Thrown out;
    out.sample = s;
    if (seen_[s] == 0) return out;
    SlideView::Spot spot{surface_.positions[s], surface_.normals[s], surface_.areas[s]};
    const float facing = view_.facing(spot);
    if (facing <= gone_) return out;
    const auto landing = view_.landing(spot);
    if (!landing || !landing->inside) return out;
    if (light_) spot.light = light_->at(s, spot.place, spot.normal);
    const PhotoPoint photo = photoAt(view_, spot, *landing, setting_.splitting());
    out.cover = photo.alpha * static_cast<float>(seen_[s]) / 255 * smoothStep(gone_, whole_, facing) *
                view_.inset(*landing, setting_.feather);
    if (!(out.cover > 0)) return out;
    out.weight = out.cover * std::pow(facing * view_.fineness(*landing), kChoosing);
    out.color = photo.color;
    out.detail = photo.detail;
    return out;
  }

 private:
  SlideView view_;
  const Throw& setting_;
  const Surface& surface_;
  const SeenBy& seen_;
  const LightOver* light_;  ///< null: none is divided out
  float gone_, whole_;
};

}  // namespace

Result<std::vector<Thrown>> thrownBy(const Slide& slide, const Throw& setting, SurfaceMaps& maps,
                                     const Progress& progress) {
  const auto seen = seenFrom(slide.camera, setting.without, maps, progress);
  if (!seen) return seen.error();
  const auto light = lightOver(slide, maps, progress);
  if (!light) return light.error();
  const Surface& surface = maps.surface();
  const Thrower thrower(slide, setting, surface, **seen, light->get());
  std::vector<std::vector<Thrown>> chunks(chunkCount(surface.size()));
  std::atomic<bool> stopped = false;
  parallel(
      chunks.size(),
      [&](size_t c) {
        if (stopped || (progress && !progress(0.8f))) {
          stopped = true;
          return;
        }
        const size_t end = std::min(surface.size(), (c + 1) * kChunkSize);
        for (size_t s = c * kChunkSize; s < end; ++s)
          if (const Thrown t = thrower.at(static_cast<uint32_t>(s)); t.cover > 0) chunks[c].push_back(t);
      },
      1);
  if (stopped) return cancelledError();
  std::vector<Thrown> out;
  for (const auto& chunk : chunks) out.insert(out.end(), chunk.begin(), chunk.end());
  return out;
}

Result<std::vector<float>> finenessOver(const Slide& slide, const std::set<uint32_t>& without,
                                        SurfaceMaps& maps, const Progress& progress) {
  const auto seen = seenFrom(slide.camera, without, maps, progress);
  if (!seen) return seen.error();
  const Surface& surface = maps.surface();
  const SlideView view(slide);
  std::vector<float> out(surface.size(), 0.f);
  parallel(surface.size(), [&](size_t s) {
    if ((**seen)[s] == 0) return;
    const auto landing = view.landing({surface.positions[s], surface.normals[s], surface.areas[s]});
    if (landing && landing->inside) out[s] = view.fineness(*landing);
  });
  return out;
}

namespace {

// What of one slide lies in each cell of a level.
struct InCells {
  std::vector<float> cover, weight;         ///< times the area
  std::array<std::vector<float>, 3> color;  ///< Oklab, means by cover
};

InCells gathered(std::span<const Thrown> thrown, const SkinLevel& level, const Surface& surface) {
  const size_t nodes = level.graph().size();
  InCells out{std::vector<float>(nodes), std::vector<float>(nodes), {}};
  for (auto& c : out.color) c.resize(nodes);
  for (const Thrown& t : thrown) {
    const uint32_t node = level.over(t.sample);
    const float by = surface.areas[t.sample] * t.cover;
    const Oklab lab = toOklab(t.color);
    out.cover[node] += by;
    out.weight[node] += surface.areas[t.sample] * t.weight;
    out.color[0][node] += by * lab.l;
    out.color[1][node] += by * lab.a;
    out.color[2][node] += by * lab.b;
  }
  for (size_t n = 0; n < nodes; ++n)
    if (out.cover[n] > 0)
      for (auto& c : out.color) c[n] /= out.cover[n];
  return out;
}

// How far a slide is from what all agree on, spread along the skin where it lies.
std::array<std::vector<float>, 3> offsets(const InCells& own, std::span<const InCells> all,
                                          const SkinGraph& graph, float size) {
  const size_t nodes = graph.size();
  std::vector<float> there(nodes);
  std::array<std::vector<float>, 3> out;
  for (auto& o : out) o.resize(nodes);
  for (size_t n = 0; n < nodes; ++n) {
    if (!(own.cover[n] > 0)) continue;
    there[n] = own.cover[n] / graph.areas[n];
    for (size_t k = 0; k < 3; ++k) {
      float sum = 0, weight = 0;
      for (const InCells& other : all) {
        sum += other.weight[n] * other.color[k][n];
        weight += other.weight[n];
      }
      if (weight > 0) out[k][n] = there[n] * (sum / weight - own.color[k][n]);
    }
  }
  melt(graph, there, size);
  for (auto& o : out) {
    melt(graph, o, size);
    for (size_t n = 0; n < nodes; ++n) o[n] = there[n] > 1e-6f ? o[n] / there[n] : 0;
  }
  return out;
}

// From the cells of a level to the samples.
std::vector<float> broughtDown(const std::vector<float>& values, const SkinLevel& level,
                               const Surface& surface) {
  if (level.nodeOf.empty()) return values;
  std::vector<float> out(surface.size());
  const BlendedPlanes planes(level.graph(), level.cell(), values);
  const CellMembers members(level.nodeOf, values.size());
  parallel(
      values.size(),
      [&](size_t n) { planes.at(static_cast<uint32_t>(n), members.of(n), surface.positions, out); }, 256);
  return out;
}

}  // namespace

void levelSeams(std::span<std::vector<Thrown>> slides, SurfaceMaps& maps, float size) {
  if (slides.size() < 2 || !(size > 0)) return;
  const Surface& surface = maps.surface();
  const SkinLevel level = skinLevel(maps.ladder(), widestMeltCell(size));
  std::vector<InCells> cells;
  for (const auto& s : slides) cells.push_back(gathered(s, level, surface));
  for (size_t i = 0; i < slides.size(); ++i) {
    const auto off = offsets(cells[i], cells, level.graph(), size);
    std::array<std::vector<float>, 3> by;
    for (size_t k = 0; k < 3; ++k) by[k] = broughtDown(off[k], level, surface);
    parallel(slides[i].size(), [&](size_t j) {
      Thrown& t = slides[i][j];
      Oklab lab = toOklab(t.color);
      lab.l += by[0][t.sample];
      lab.a += by[1][t.sample];
      lab.b += by[2][t.sample];
      const LinearColor c = fromOklab(lab);
      t.color = {std::max(0.f, c.r), std::max(0.f, c.g), std::max(0.f, c.b)};
    });
  }
}

}  // namespace juvenor
