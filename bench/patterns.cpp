// Patterns on a whole head: grown for the first time, and with another look; against one melt along the skin
// and one pass over the memory they fill; a comb's field; and a dab of the mask on a live pattern.
#include <fmt/format.h>

#include <cstring>

#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/patterns.h"
#include "core/surface/graph/melt.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

LayerStack stackOf(SourcePointer source) {
  return {std::make_shared<Layer>(Layer{1, "p", Stratum::Surface, std::move(source), {}, {}})};
}

struct Limits {
  double melt, pass;
};

void benchPattern(const char* name, double aim, const std::function<SourcePointer(float)>& grown,
                  const std::function<SourcePointer(int)>& changed, const Limits& limits) {
  const Document& d = ferryman(2'000'000);
  SurfaceMaps& maps = *d.maps;
  float size = 1;
  const double whole = leastSecondsOf(
      fmt::format("{} whole", name), [&] { (void)skinOf(stackOf(grown(size *= 1.001f)), maps, d.bare); }, 3);
  (void)skinOf(stackOf(changed(0)), maps, d.bare);
  int step = 0;
  const double after = leastSecondsOf(
      fmt::format("{} changed", name), [&] { (void)skinOf(stackOf(changed(++step)), maps, d.bare); }, 5);
  add({fmt::format("{} over the whole head, 2 M points", name), milliseconds(whole),
       fmt::format("aim of {:.0f} s", aim), fmt::format("{:.2f}", whole / aim), "≤ 1"});
  add({"the same against one melt of 6 mm", milliseconds(whole),
       fmt::format("melt: {}", milliseconds(limits.melt)), fmt::format("{:.1f}", whole / limits.melt), ""});
  add({"another look of it, all of it", milliseconds(after),
       fmt::format("a pass over what it fills: {}", milliseconds(limits.pass)),
       fmt::format("{:.1f}", after / limits.pass), "≤ 200 ms"});
}

// A kind grown at another size each time, and with a look that `change` alters by a step of hundredths.
template <class Kind, class Change>
void benchKind(const char* name, double aim, const Kind& kind, SourcePointer (*source)(Kind), Change change,
               const Limits& limits) {
  benchPattern(
      name, aim,
      [&](float factor) {
        Kind next = kind;
        next.guides.size.size *= factor;
        return source(std::move(next));
      },
      [&](int step) {
        Kind next = kind;
        change(next, 0.01f * static_cast<float>(step));
        return source(std::move(next));
      },
      limits);
}

// What combs cost: another stroke, the whole field anew.
void benchComb() {
  const Document& d = ferryman(2'000'000);
  DirectionGuide guide;
  guide.form = 25;
  guide.combs = {{{Vec3(20, 60, 90), Vec3(60, 60, 60)}, 0, 20, 1}};
  (void)directionsOf(*d.maps, guide, Symmetry::Direction);
  const double field = leastSecondsOf(
      "comb",
      [&] {
        guide.combs[0].width *= 1.01f;
        (void)directionsOf(*d.maps, guide, Symmetry::Direction);
      },
      5);
  add({"the direction after a stroke of the comb, 2 M points", milliseconds(field), "aim of 1 s",
       fmt::format("{:.2f}", field), "≤ 1"});
}

// The chunks a dab of the mask touches, composited with a live pattern and with a painted layer in its place.
void benchDab(const SourcePointer& pattern) {
  const Document& d = ferryman(2'000'000);
  const size_t samples = d.surface->size();
  std::vector<uint32_t> touched;
  for (uint32_t c = 100; c < 112; ++c) touched.push_back(c);
  const auto seconds = [&](const char* name, SourcePointer source) {
    const auto stack = prepared(stackOf(std::move(source)), *d.maps);
    ChannelFields skin = bareSkin(samples);
    return leastSecondsOf(
        name, [&] { updateComposite(skin, *stack, d.bare, touched, channelsOf(*stack)); }, 15);
  };
  const double live = seconds("dab on a pattern", pattern);
  ChannelValues values(0.5f, 0.4f, 0.3f);
  values[Channel::Gloss] = 0.5f;
  values[Channel::Relief] = 0.1f;
  const double plain = seconds("dab on a fill", fillSource(values));
  add({"twelve chunks of a live pattern composited, three channels", milliseconds(live),
       fmt::format("of a fill: {}", milliseconds(plain)), fmt::format("{:.1f}", live / plain), "≤ 16 ms"});
}

}  // namespace

BenchedPatterns benchedPatterns(const Document& d) {
  BenchedPatterns out;
  for (Guides* guides : {&out.scales.guides, &out.bands.guides, &out.spots.guides, &out.skin.guides})
    *guides = usualGuides(d.surface->bounds.diagonal());
  out.bands.guides.size.size = 18;
  out.spots.guides.size.size = 15;
  out.skin.guides.size.size = 1.9f;
  return out;
}

void benchPatterns() {
  const Document& d = ferryman(2'000'000);
  const auto ladder = d.maps->ladder();
  std::vector<float> values(d.surface->size(), 0);
  for (size_t i = 0; i < values.size(); i += 97) values[i] = 1;
  Limits limits{};
  limits.melt = leastSecondsOf(
      "melt", [&] { melt(*ladder, values, 6); }, 3);
  // four planes of colour, two of gloss, one of relief
  std::vector<uint16_t> from(7 * d.surface->size(), 1), to(from.size());
  limits.pass = leastSecondsOf(
      "pass", [&] { std::memcpy(to.data(), from.data(), 2 * from.size()); }, 5);
  const auto [scales, bands, spots, skin] = benchedPatterns(d);
  for (const auto& [name, shape] :
       {std::pair("pebbles", ScaleShape::Pebble), std::pair("leaves", ScaleShape::Leaf)})
    benchKind(
        name, 4, usualScales(shape, scales), scaleSource,
        [](Scales& next, float step) { next.depth *= 1 + step; }, limits);
  benchKind(
      "bands", 2, bands, bandSource, [](Bands& next, float step) { next.width = 0.4f + step; }, limits);
  benchKind(
      "spots", 8, spots, spotSource, [](Spots& next, float step) { next.amount = 0.4f + step; }, limits);
  benchKind(
      "fine skin", 2, skin, fineSkinSource, [](FineSkin& next, float step) { next.pores = 0.4f + step; },
      limits);
  benchComb();
  benchDab(scaleSource(usualScales(ScaleShape::Pebble, scales)));
}

}  // namespace juvenor::bench
