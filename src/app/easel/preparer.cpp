#include "app/easel/preparer.h"

#include "core/quietly.h"
#include "core/surface/polygon_lines.h"

namespace juvenor::app {

Preparer::Preparer(std::function<void()> done)
    : done_(std::move(done)),
      beside_([this](const Wish& wish, const Progress& wanted) { quietly([&] { grant(wish, wanted); }); }) {}

void Preparer::grant(const Wish& wish, const Progress& wanted) {
  const auto stack = prepared(wish.layers, *wish.maps, wanted);
  if (stack && !wish.shown.empty()) (void)maskOf(*wish.maps, wish.shown, wanted);
  if (wish.lines) (void)polygonLinesOf(*wish.maps, *wish.lines);
  if (stack) done_();
  if (wanted(0) && wish.maps->refineRays(wanted)) done_();
}

}  // namespace juvenor::app
