// What grafts cost: taking one of 1024 pixels, and laying it, as it is and with its tone adapted.
#include <fmt/format.h>

#include "core/document/edits/edits.h"
#include "core/document/edits/lay_graft.h"
#include "core/document/edits/place_stamp.h"
#include "figures.h"

namespace juvenor::bench {

void benchGrafts() {
  const Document& d = ferryman(2'000'000);
  const auto rays = *d.maps->rays();
  SurfacePoint at = *rays->nearest({40, -75, 90}, 80);
  at.toViewer = at.normal;
  const GraftSkin skin = *graftSkinOf(d);
  GraftTake take;
  take.millimetres = d.placement.millimetres;
  take.form = true;
  take.cut = 4;
  Graft graft;
  const double taken = secondsOf(
      "graft taken",
      [&] {
        graft = *takenGraft(*d.surface, skin, PatchRectangle{at, Vec3::UnitX(), {20, 20}}, take, "cheek");
      },
      5);
  add({"A graft of 1024 taken with its form, 40 mm, 2 M points", milliseconds(taken), "aim of 0.5 s",
       fmt::format("{:.2f}", taken / 0.5), "≤ 1"});
  const Document sheet = withPaintedLayer(d, "Paint", Stratum::Surface);
  Flood flood;
  flood.prepare(*d.surface);
  for (const bool adapts : {false, true}) {
    const StrokeSetting setting = *layingOf(graft, sheet, {sheet.activeLayer, ChannelSet::all(), 1, adapts});
    const double laid = secondsOf(adapts ? "graft laid and adapted" : "graft laid", [&] {
      if (!withStampPlaced(sheet, setting, at, Vec3::UnitX(), setting.brush.radius, flood)) std::abort();
    });
    add({adapts ? "The same laid with its tone adapted" : "The same laid in three channels",
         milliseconds(laid), adapts ? "aim of 0.3 s" : "aim of 50 ms",
         fmt::format("{:.2f}", laid / (adapts ? 0.3 : 0.05)), "≤ 1"});
  }
}

}  // namespace juvenor::bench
