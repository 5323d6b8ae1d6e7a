// Live markings on a whole head: made for the first time, and after a setting was changed; and the tips of
// brushes against a plain dab.
#include <fmt/format.h>

#include <cmath>

#include "core/brush/brush_roll.h"
#include "core/brush/made_stamps.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/place_stamp.h"
#include "core/document/edits/usual_markings.h"
#include "core/layers/composite/composite.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

// All chunks of a source on all cores, as a picture of the whole head wants them.
void workOut(const LayerSource& source, SurfaceMaps& maps) {
  const Document& d = ferryman(2'000'000);
  const LayerStack stack{
      std::make_shared<Layer>(Layer{1, "m", Stratum::Pigment, source.refined({}), {}, {}})};
  (void)*compositeOf(stack, maps, d.bare);
}

// `made(seed)` is one that was not made before, `changed(step)` the same one with another setting.
void benchMarking(const char* name, const std::function<SourcePointer(uint32_t)>& made,
                  const std::function<SourcePointer(int)>& changed) {
  const Document& d = ferryman(2'000'000);
  SurfaceMaps& maps = *d.maps;
  (void)maps.ladder();
  uint32_t seed = 100;
  const double whole = leastSecondsOf(
      fmt::format("{} whole", name), [&] { workOut(*made(++seed), maps); }, 3);
  int step = 0;
  workOut(*changed(0), maps);
  const double after = leastSecondsOf(
      fmt::format("{} changed", name), [&] { workOut(*changed(++step), maps); }, 5);
  add({fmt::format("{} over the whole head, 2 M points", name), milliseconds(whole), "aim of 2 s",
       fmt::format("{:.2f}", whole / 2), "≤ 1"});
  add({fmt::format("the same with another setting, all of it"), milliseconds(after),
       "aim of 150 ms, for what is seen", fmt::format("{:.2f}", after / 0.15), "≤ 2.5"});
}

// Seconds a touched sample of strokes with a brush, laid along one short line.
double perSample(const Document& d, const Brush& brush, const char* name) {
  StrokeSetting setting;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  setting.paint.color = {0.6f, 0.3f, 0.2f};
  setting.brush = brush;
  setting.brush.frontOnly = false;
  const auto rays = *d.maps->rays();
  std::vector<SurfacePoint> line;
  for (int i = 0; i < 24; ++i)
    if (const auto at = rays->nearest({-30 + 2.5f * static_cast<float>(i), 66, 88}, 60)) line.push_back(*at);
  Flood flood;
  size_t reached = 1;
  const double seconds = leastSecondsOf(
      name,
      [&] {
        auto stroke = PaintStroke::begin(d, setting, flood);
        for (const SurfacePoint& p : line) (*stroke)->stroke().moveTo(p, 1);
        (*stroke)->stroke().end();
        reached = std::max<size_t>(1, (*stroke)->stroke().reached());
      },
      5);
  return seconds / static_cast<double>(reached);
}

void benchTips() {
  const Document& d = ferryman(2'000'000);
  Brush plain;
  plain.radius = 14;
  plain.flow = 0.05f;
  Brush stamp = plain, spray = plain;
  stamp.tip = TipKind::Stamp;
  stamp.stamp.stamp = madeStamp("crackle");
  stamp.step = 0.6f;
  spray.tip = TipKind::Spray;
  const double lay = perSample(d, plain, "lay");
  for (const auto& [name, brush] : {std::pair("stamp dab", stamp), std::pair("spray dab", spray)}) {
    const double own = perSample(d, brush, name);
    add({fmt::format("{}, a sample it lays, 2 M points", name), fmt::format("{:.0f} ns", own * 1e9),
         fmt::format("lay dab: {:.0f} ns", lay * 1e9), fmt::format("{:.1f}", own / lay), ""});
  }
  // placed as large as a tattoo: what one sees while it is dragged is worked out anew each time
  StrokeSetting setting;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  setting.paint.color = {0.2f, 0.3f, 0.3f};
  setting.brush = stamp;
  SurfacePoint at = *(*d.maps->rays())->nearest({0, 66, 88}, 60);
  at.toViewer = at.normal;
  Flood flood;
  const double placed = leastSecondsOf(
      "placed stamp", [&] { (void)withStampPlaced(d, setting, at, Vec3::UnitX(), 25, flood); }, 7);
  add({"a stamp of 50 mm placed, 2 M points", milliseconds(placed), "two refreshes: 33.3 ms",
       fmt::format("{:.2f}", placed / 0.0333), "≤ 1"});
}

}  // namespace

void benchMarkings() {
  const Document& d = ferryman(2'000'000);
  const Speckle freckles = [&] {
    Speckle out = usualFreckles(d);
    out.density.clear();
    out.everywhere = 1;
    return out;
  }();
  benchMarking(
      "speckle",
      [=](uint32_t seed) {
        Speckle s = freckles;
        s.seed = seed;
        return speckleSource(s);
      },
      [=](int step) {
        Speckle s = freckles;
        s.cover = 0.1f + 0.01f * static_cast<float>(step % 10);
        return speckleSource(s);
      });
  const Mottle clouds = usualMottling(d);
  benchMarking(
      "mottle",
      [=](uint32_t seed) {
        Mottle m = clouds;
        m.seed = seed;
        return mottleSource(m);
      },
      [=](int step) {
        Mottle m = clouds;
        m.size *= 1 + 0.01f * static_cast<float>(step);
        return mottleSource(m);
      });
  Veins vessels = usualVeins(d);
  HueZone root;
  root.anchor = {70, 60, 20};
  root.part = 0;
  root.reach = 150;
  root.strength = 1;
  vessels.roots = {root};
  vessels.fan = 1;
  if (const auto grown = grownVeins(*d.maps, vessels); !grown || grown->size() < 100)
    throw std::runtime_error("the veins that are measured hardly grow");
  benchMarking(
      "veins",
      [=](uint32_t seed) {
        Veins v = vessels;
        v.seed = seed;
        return veinSource(v);
      },
      [=](int step) {
        Veins v = vessels;
        v.depth *= 1 + 0.01f * static_cast<float>(step);
        return veinSource(v);
      });
  benchTips();
}

}  // namespace juvenor::bench
