// Stacks of many layers: a dab among forty, a stroke on the mask of a live layer, a tick of opacity.
#include <fmt/format.h>

#include <QApplication>
#include <QScrollArea>
#include <QScrollBar>
#include <filesystem>
#include <map>

#include "app/strata/strata.h"
#include "core/layers/sources/markings.h"
#include "core/layers/sources/zones.h"
#include "figures.h"
#include "watching.h"

namespace juvenor::bench {
namespace {

double median(const std::vector<double>& ascending) {
  return ascending.empty() ? 0 : ascending[ascending.size() / 2];
}

// The ferryman's skin under so many half-covering layers below and above the one that is painted on.
Document stacked(int below, int above) {
  Document d = ferryman(2'000'000);
  d.layers.clear();
  d = withFillLayer(d, "Tone", Stratum::Flesh, {0.6f, 0.45f, 0.35f});
  const auto films = [&](int count) {
    for (int i = 0; i < count; ++i) {
      d = withPaintedLayer(d, "film", Stratum::Pigment);
      d = *withFilled(d, d.activeLayer, {0.1f * static_cast<float>(i % 10), 0.5f, 0.4f}, 0.05f);
    }
  };
  films(below);
  d = withPaintedLayer(d, "painted", Stratum::Pigment);
  const uint32_t painted = d.activeLayer;
  films(above);
  d.activeLayer = painted;
  return d;
}

void dabAmongMany() {
  const double few = median(penTimes(stacked(0, 0), {0.7f, 0.3f, 0.2f})),
               many = median(penTimes(stacked(20, 20), {0.7f, 0.3f, 0.2f}));
  add({"Pen event to pixels with 20 layers below and 20 above, 2 M points, median", milliseconds(many),
       "with 1 below: " + milliseconds(few), fmt::format("{:.2f}", many / few), "≤ 1.3"});
}

void maskOfLiveLayers() {
  Document d = ferryman(2'000'000);
  d.layers.clear();
  d = withFillLayer(d, "Tone", Stratum::Flesh, {0.6f, 0.45f, 0.35f});
  const auto stroked = [&](Document with) {
    with = *withMask(with, with.activeLayer);
    return median(penTimes(with, {0.f, 0.f, 0.f}, true));
  };
  // a painted layer of the same channels: what three cost the picture is nobody's fault
  const auto painted = [&](ChannelSet channels) {
    ChannelValues values;
    if (channels.has(Channel::Color)) values.color = {0.3f, 0.2f, 0.2f};
    for (size_t c = 1; c < kChannelCount; ++c)
      if (channels.has(static_cast<Channel>(c))) values.number[c] = 0.1f;
    const Document with = withPaintedLayer(d, "Painted", Stratum::Pigment);
    return stroked(*withFilled(with, with.activeLayer, values, 0.5f));
  };
  std::map<std::string, double> known;
  const auto row = [&](const char* name, const SourcePointer& source) {
    const std::string channels = textOf(keysOf(source->channels()));
    if (!known.contains(channels)) known[channels] = painted(source->channels());
    const double live = stroked(withSourceLayer(d, "Live", Stratum::Pigment, source)), by = known[channels];
    add({fmt::format("A stroke on the mask of {}, 2 M points, median", name), milliseconds(live),
         "on a painted layer's of its channels: " + milliseconds(by), fmt::format("{:.2f}", live / by),
         "≤ 1.5"});
  };
  const auto fresh = [&](const char* kind) {
    return sourceKind(kind)->fresh(*d.surface, {0.4f, 0.25f, 0.2f});
  };
  for (const char* kind : {"fineskin", "spots", "speckle", "mottle", "scales", "bands"})
    row(kind, fresh(kind));
}

// What is seen of a stack of twenty whose layer in the middle, the active one, gets another opacity.
void opacityTick() {
  Document d = stacked(10, 9);
  d.activeLayer = d.layers[10]->id;
  app::Engine engine;
  Frames frames(engine);
  app::Viewing viewing = viewingOf(d);
  viewing.view = View::Flat;
  engine.setViewing(viewing);
  engine.setDocument(d);
  engine.waitSettled();
  std::vector<double> times;
  for (int tick = 0; tick < 25; ++tick) {
    LayerChange change;
    change.opacity = 0.5f + 0.01f * static_cast<float>(tick);
    d = *withLayerChanged(d, d.activeLayer, change);
    const int before = frames.count();
    const auto from = Clock::now();
    engine.setDocument(d);
    (void)frames.waitBeyond(before);
    times.push_back(since(from));
    engine.waitSettled();
  }
  std::ranges::sort(times);
  add({"A tick of opacity in a stack of 20, 2 M points, to all pixels that are seen, median",
       milliseconds(median(times)), "two refreshes: 33.3 ms", fmt::format("{:.2f}", median(times) / 0.0333),
       "≤ 1"});
}

// The strata of sixty layers from top to bottom, eight pixels a step, each step drawn.
void scrolling() {
  const auto folder = std::filesystem::temp_directory_path() / "juvenor-bench-journals";
  {
    app::Session session(folder);
    Document d = stacked(30, 28);
    session.take(History(d, "sixty"), "sixty");
    app::Strata strata(session);
    strata.resize(286, 480);
    strata.show();
    session.engine().waitSettled();
    QApplication::processEvents();
    auto* bar = strata.findChild<QScrollArea*>()->verticalScrollBar();
    std::vector<double> times;
    for (int at = 0; at <= bar->maximum(); at += 8) {
      const auto from = Clock::now();
      bar->setValue(at);
      (void)strata.grab();
      times.push_back(since(from));
    }
    std::ranges::sort(times);
    const double slow = times[times.size() * 95 / 100];
    add({fmt::format("The strata of 60 layers scrolled, {} steps, 95th percentile", times.size()),
         milliseconds(slow), "a screen refresh at 60 Hz: 16.7 ms", fmt::format("{:.2f}", slow / 0.0167),
         "≤ 1"});
    session.close();
  }
  std::filesystem::remove_all(folder);
}

}  // namespace

void benchStacks() {
  opacityTick();
  dabAmongMany();
  scrolling();
  maskOfLiveLayers();
}

}  // namespace juvenor::bench
