// What is measured on a surface and derived from it: each map against bare rays or one pass over the samples,
// palettes of large pictures.
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <atomic>

#include "core/color/palette.h"
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/surface/graph/melt.h"
#include "core/surface/maps/surface_maps.h"
#include "core/surface/rays/ray_directions.h"
#include "demo/demo.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

constexpr size_t kPoints = 2'000'000;

// One value read and one written for every sample and each of its neighbours.
double onePass(const Surface& s) {
  std::vector<float> in(s.size(), 1.f), out(s.size());
  return secondsOf("one pass over samples and neighbours", [&] {
    tbb::parallel_for(tbb::blocked_range<size_t>(0, s.size(), 4096), [&](const auto& range) {
      for (size_t i = range.begin(); i != range.end(); ++i) {
        float sum = in[i];
        for (const uint32_t n : s.neighborsOf(i)) sum += in[n];
        out[i] = sum;
      }
    });
  });
}

// As many rays as a map casts, in the same order and directions and as far, and nothing else.
double bareRays(const Rays& rays, float reach) {
  const Surface& s = rays.surface();
  std::atomic<size_t> blocked = 0;
  return secondsOf(
      "bare rays",
      [&] {
        tbb::parallel_for(tbb::blocked_range<size_t>(0, s.size(), 4096), [&](const auto& range) {
          size_t here = 0;
          for (size_t i = range.begin(); i != range.end(); ++i)
            for (uint32_t k = 0; k < kMapRays; ++k)
              here += rays.blocked({s.positions[i] + 0.01f * s.normals[i],
                                    cosineDirection(s.normals[i], spreadPoint(static_cast<uint32_t>(i), k))},
                                   reach);
          blocked += here;
        });
      },
      2);
}

void benchMaps(const Document& d) {
  const Surface& s = *d.surface;
  const RaysPointer rays = *d.maps->rays();
  const float diagonal = s.bounds.diagonal();
  const double pass = onePass(s);
  const auto against = [&](const char* what, double seconds, double limit, const char* name,
                           const char* aim) {
    add({fmt::format("{}, 2 M points", what), milliseconds(seconds),
         fmt::format("{}: {}", name, milliseconds(limit)), fmt::format("{:.2f}", seconds / limit), aim});
  };
  against("occlusion map",
          secondsOf(
              "occlusion", [&] { (void)occlusion(*rays, 0.1f * diagonal); }, 2),
          bareRays(*rays, 0.1f * diagonal), "bare rays as long", "≤ 1.2");
  against("thickness map",
          secondsOf(
              "thickness", [&] { (void)thickness(*rays, 0.12f * diagonal); }, 2),
          bareRays(*rays, 0.12f * diagonal), "bare rays as long", "≤ 2");
  against("exposure map",
          secondsOf(
              "exposure", [&] { (void)exposure(*rays, Vec3::UnitY()); }, 2),
          bareRays(*rays, 2 * diagonal), "bare rays as long", "≤ 1.2");
  against("ladder to melt along",
          secondsOf(
              "ladder", [&] { (void)skinLadder(skinGraph(s), s.spacing); }, 3),
          pass, "one pass", "");
  const auto ladder = d.maps->ladder();
  against("cavity map",
          secondsOf(
              "cavity", [&] { (void)meanCurvature(s, *ladder, 0.008f * diagonal); }, 3),
          pass, "one pass", "");
  against("elevation map",
          secondsOf(
              "elevation", [&] { (void)elevation(s, Vec3::UnitY()); }, 3),
          pass, "one pass", "≤ 2");
  against("facing map",
          secondsOf(
              "facing", [&] { (void)facing(s, Vec3::UnitY()); }, 3),
          pass, "one pass", "≤ 2");
  std::vector<float> values(s.size(), 0.5f);
  const auto melted = [&](float spacings) {
    for (size_t i = 0; i < values.size(); ++i) values[i] = static_cast<float>(i % 7) / 7;
    return secondsOf(
        fmt::format("melt by {} spacings", spacings), [&] { melt(*ladder, values, spacings * s.spacing); },
        3);
  };
  const double narrow = melted(4);
  against("melt by 4 spacings", narrow, pass, "one pass", "");
  against("melt by 64 spacings", melted(64), narrow, "by 4 spacings", "≤ 1");
}

void benchPalette() {
  // 24 million pixels of the demo's pictures, as a large camera makes them
  std::vector<uint32_t> pixels;
  const auto pictures = demo::boardPictures();
  while (pixels.size() < 24'000'000)
    for (const auto& p : pictures) pixels.insert(pixels.end(), p.pixels.begin(), p.pixels.end());
  pixels.resize(24'000'000);
  std::vector<uint32_t> copy(pixels.size());
  const double copying = secondsOf("copy of 24 megapixels", [&] { copy = pixels; });
  const double seconds = secondsOf(
      "palette of 24 megapixels", [&] { (void)paletteOf(pixels, 12); }, 3);
  add({"palette of 12 from 24 megapixels", milliseconds(seconds),
       fmt::format("copy: {}", milliseconds(copying)), fmt::format("{:.1f}", seconds / copying), ""});
}

}  // namespace

void benchSurface() {
  benchMaps(ferryman(kPoints));
  benchPalette();
}

}  // namespace juvenor::bench
