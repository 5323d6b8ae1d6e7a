// What carrying over costs: two million points onto as many others with twenty painted layers, against
// building their surface and copying the layers.
#include <fmt/format.h>

#include <chrono>

#include "core/carry/carry_field.h"
#include "core/carry/carry_over.h"
#include "core/carry/twin.h"
#include "core/document/edits/edits.h"
#include "core/layers/sources/painted.h"
#include "core/parallel.h"
#include "core/surface/build/refine.h"
#include "demo/demo.h"
#include "figures.h"
#include "support/made.h"

namespace juvenor::bench {
namespace {

constexpr int kLayers = 20;

Document withLayers(Document d, int layers) {
  ColorField field(d.surface->size());
  field.makeRoom();
  parallel(
      field.chunkCount(),
      [&](size_t c) {
        auto chunk = field.writable(c);
        for (size_t i = 0; i < kChunkSize; ++i)
          setSample(*chunk, i, {static_cast<uint16_t>(i * 7 + c), 20000, static_cast<uint16_t>(i), 40000});
        field.setChunk(c, std::move(chunk));
      },
      1);
  for (int i = 0; i < layers; ++i) d = withSourceLayer(d, "Paint", Stratum::Pigment, paintedSource(field));
  return d;
}

// Two eyes of a hundred thousand points, one painted; and points added on a twentieth of two million.
void benchTwinAndPlaces(const Document& large) {
  Sculpt eye = test::sphere(316, 12);
  for (Vec3& v : eye.vertices) {
    v.z() += 3 * std::exp(-(v - Vec3(2, 1, 12)).squaredNorm() / 30);
    v += Vec3(30, 0, 0);
  }
  eye.parts = {"Left eye"};
  Sculpt other = test::insideOut(eye);
  for (Vec3& v : other.vertices) v.x() = -v.x();
  other.parts = {"Right eye"};
  const Document eyes = withLayers(test::documentOf(test::together(eye, other)), 1);
  (void)*eyes.maps->rays();
  const auto fit = twinFit(eyes, 0, 1);
  if (!fit) return std::fprintf(stderr, "%s\n", fit.error().what.c_str()), void();
  const double copied = leastSecondsOf(
      "copy to twin", [&] { (void)*copiedToTwin(eyes, 0, 1, *fit); }, 3);
  add({fmt::format("Copy to twin, {} points", eyes.surface->size() / 2), milliseconds(copied), "aim of 0.3 s",
       fmt::format("{:.2f}", copied / 0.3), "≤ 1"});
  const Surface& surface = *large.surface;
  Refinement there{
      0.5f * surface.spacing, RefineShape::Round, 40, {0, static_cast<uint32_t>(surface.size() / 20)}};
  size_t after = 0;
  const double added = leastSecondsOf(
      "points in places", [&] { after = refine(surface, there)->surface->size(); }, 2);
  const double built = leastSecondsOf(
      "surface", [&] { (void)*buildSurface(*large.sculpt); }, 2);
  add({fmt::format("Points twice as close on a twentieth of 2 M, {} added", after - surface.size()),
       milliseconds(added), "building the surface: " + milliseconds(built),
       fmt::format("{:.2f}", added / built), ""});
}

}  // namespace

void benchCarry() {
  // two sculpts of one figure, of other polygons
  const auto old = std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::Ferryman, 2'000'000)),
             fresh = std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::Ferryman, 1'900'000));
  const Document d = withLayers(newDocument(old, *buildSurface(*old)), kLayers);
  (void)*d.maps->rays();
  const double built = leastSecondsOf(
      "surface", [&] { (void)*buildSurface(*fresh); }, 2);
  double find = 0, work = 0;
  const double all = leastSecondsOf(
      "carry over",
      [&] {
        using Clock = std::chrono::steady_clock;
        const auto from = Clock::now();
        auto began = from;
        const auto carried = carriedOver(d, fresh, {}, [&](float f) {
          if (f < 0.8f) began = Clock::now();
          return true;
        });
        if (!carried) std::fprintf(stderr, "%s\n", carried.error().what.c_str());
        find = std::chrono::duration<double>(began - from).count();
        work = std::chrono::duration<double>(Clock::now() - began).count();
      },
      2);
  add({"2 M points carried over to 1.9 M others, where each comes from", milliseconds(find),
       "building their surface: " + milliseconds(built), fmt::format("{:.2f}", find / built), "≤ 4"});
  add({"… twenty painted layers then", milliseconds(work), "aim of 6 s", fmt::format("{:.2f}", work / 6),
       "≤ 1"});
  add({"… all of it", milliseconds(all), "building their surface: " + milliseconds(built),
       fmt::format("{:.2f}", all / built), ""});
  benchTwinAndPlaces(d);
}

}  // namespace juvenor::bench
