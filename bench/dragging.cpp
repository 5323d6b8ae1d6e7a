// A size that is dragged while the pattern it belongs to is live: how long after a step of the hand the first
// pixels with the new size come, also while the size before it is still growing over the whole head.
#include <fmt/format.h>

#include <algorithm>
#include <thread>

#include "core/layers/guides.h"
#include "figures.h"
#include "watching.h"

namespace juvenor::bench {

namespace {

void benchDragged(const char* name, const SourcePointer& source) {
  Document d = withSourceLayer(ferryman(2'000'000), name, Stratum::Surface, source);
  app::Engine engine;
  app::Viewing viewing = viewingOf(d);
  viewing.view = View::Flat;  // no light is to settle between the rounds
  engine.setViewing(viewing);
  engine.setDocument(d);
  engine.waitSettled();
  std::vector<double> rested, moving;
  float size = source->guides()->size.size;
  const auto drag = [&](std::vector<double>& times) {
    Guides guides = *source->guides();
    guides.size.size = size *= 1.01f;
    d = *withSource(d, d.activeLayer, source->withGuides(std::move(guides)));
    Dabs pieces(engine);
    const auto from = Clock::now();
    engine.setDocument(d);
    (void)pieces.wait();
    times.push_back(since(from));
  };
  for (int round = 0; round < 6; ++round) {
    drag(rested);
    // by now all of it has begun to grow
    std::this_thread::sleep_for(std::chrono::milliseconds(50 + 40 * round));
    drag(moving);
    engine.waitSettled();
  }
  for (auto* times : {&rested, &moving}) std::ranges::sort(*times);
  const auto row = [&](const char* when, const std::vector<double>& times) {
    const double late = times.back();
    add({fmt::format("a size of {} dragged, 2 M points, {}, the slowest of six (median {})", name, when,
                     milliseconds(times[times.size() / 2])),
         milliseconds(late), "aim of 200 ms", fmt::format("{:.2f}", late / 0.2), "≤ 1"});
  };
  row("first pixels", rested);
  row("while the last size still grows", moving);
}

}  // namespace

void benchDragging() {
  const auto [scales, bands, spots, skin] = benchedPatterns(ferryman(2'000'000));
  benchDragged("pebbles", scaleSource(usualScales(ScaleShape::Pebble, scales)));
  benchDragged("bands", bandSource(bands));
  benchDragged("spots", spotSource(spots));
  benchDragged("fine skin", fineSkinSource(skin));
}

}  // namespace juvenor::bench
