#include "app/engine/preparer.h"

#include <chrono>

#include "core/quietly.h"
#include "core/surface/maps/polygon_lines.h"

namespace juvenor::app {

Preparer::Preparer(std::function<void()> done, std::function<void(Glimpses)> glimpsed)
    : done_(std::move(done)),
      glimpsed_(std::move(glimpsed)),
      whole_([this](const Wish& wish, const Progress& wanted) { quietly([&] { workOut(wish, wanted); }); }),
      glimpsing_([this](const Wish& wish, const Progress& wanted) {
        glimpse(wish);
        if (wish.maps && wanted(0)) whole_.wish(wish);
      }) {}

void Preparer::wish(Wish wish) {
  whole_.giveUp();
  glimpsing_.wish(std::move(wish));
}

void Preparer::workOut(const Wish& wish, const Progress& wanted) {
  const auto stack = prepared(wish.layers, *wish.maps, wanted);
  if (stack && !wish.shown.empty()) (void)maskOf(*wish.maps, wish.shown, wanted);
  if (wish.lines) (void)polygonLinesOf(*wish.maps, *wish.lines);
  if (stack) done_();
  if (wanted(0) && wish.maps->refineRays(wanted)) done_();
}

// Not to be cancelled: while a slider moves there is always something newer.
void Preparer::glimpse(const Wish& wish) {
  using Clock = std::chrono::steady_clock;
  using namespace std::chrono_literals;
  // one of another sculpt would keep all that was measured on that one
  if (glimpse_ && !glimpse_->isOf(wish.maps)) glimpse_.reset();
  if (wish.seen.empty()) return;
  const auto start = Clock::now();
  const std::vector<uint32_t> chunks = chunksToGlimpse(wish.seen, room_);
  Glimpses out{wish.maps, chunks, {}};
  for (const LayerPointer& layer : wish.layers) {
    if (!contributes(*layer) || !wantsGlimpse(*layer->source, *wish.maps)) continue;
    // what there is no memory for shows when all of it has grown, or that says so
    (void)caught([&]() -> Outcome {
      if (!glimpse_ || !glimpse_->isOf(wish.maps, chunks))
        glimpse_ = std::make_unique<Glimpse>(wish.maps, chunks);
      if (auto source = glimpse_->of(*layer->source)) out.layers.emplace_back(layer, std::move(source));
      return Done{};
    });
  }
  if (out.layers.empty()) return;
  glimpsed_(std::move(out));
  const auto took = Clock::now() - start;
  if (took < 45ms) room_ = std::min(kMostRoom, 2 * room_);
  if (took > 140ms) room_ = std::max(kLeastRoom, room_ / 2);
}

}  // namespace juvenor::app
