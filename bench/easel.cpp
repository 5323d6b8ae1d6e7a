// From pen to pixels, turning, and the ray structure.
#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <thread>

#include "app/session/background.h"
#include "core/brush/brush_roll.h"
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/ramp.h"
#include "core/render/still.h"
#include "core/render/wandering_light.h"
#include "core/surface/graph/melt.h"
#include "figures.h"
#include "watching.h"

namespace juvenor::bench {

std::vector<double> penTimes(const Document& d, const ChannelValues& paint, bool onMask) {
  app::Engine engine;
  Frames frames(engine);
  const app::Viewing viewing = viewingOf(d);
  engine.setViewing(viewing);
  engine.setDocument(d);
  engine.waitSettled();  // what is live has grown
  StrokeSetting setting;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  setting.activePart = 0;
  setting.paint = paint;
  setting.onMask = onMask;
  setting.brush.radius = 12;  // millimetres: a wide airbrush over a head of 260
  setting.brush.flow = 0.03f;
  std::vector<double> times;
  for (int stroke = 0; stroke < 6; ++stroke) {
    engine.beginStroke(setting, {{560, 300 + 8.f * static_cast<float>(stroke)}, 0.5f, {0, 0}, 0});
    engine.drain();
    for (int i = 1; i <= 60; ++i) {
      // nothing of the dab before is under way any more: the next picture answers this one
      engine.drain();
      const int before = frames.count();
      const auto from = Clock::now();
      engine.moveStroke({{560 + 3.f * static_cast<float>(i), 300 + 8.f * static_cast<float>(stroke)},
                         0.8f,
                         {0, 0},
                         0.005 * i});
      // an answer that never came counts as late as it was waited for
      (void)frames.waitBeyond(before);
      times.push_back(since(from));
    }
    engine.endStroke();
    engine.drain();
  }
  std::sort(times.begin(), times.end());
  return times;
}

namespace {

void penToPixels(size_t points) {
  const std::vector<double> times = penTimes(ferryman(points), {0.7f, 0.3f, 0.2f});
  add({fmt::format("Pen event to pixels, {} M points, median", points / 1'000'000),
       milliseconds(times[times.size() / 2]), "a screen refresh at 60 Hz: 16.7 ms",
       fmt::format("{:.2f}", times[times.size() / 2] / 0.0167), "16 ms"});
  add({fmt::format("Pen event to pixels, {} M points, 95th percentile", points / 1'000'000),
       milliseconds(times[times.size() * 95 / 100]), "two refreshes: 33.3 ms",
       fmt::format("{:.2f}", times[times.size() * 95 / 100] / 0.0333), "33 ms"});
}

// A hand that sprays for as long as 500 dabs take, at a pen's rate: how many pictures come in the worst half
// second.
void sprayStroke() {
  const Document& d = ferryman(2'000'000);
  app::Engine engine;
  Frames frames(engine);
  engine.setViewing(viewingOf(d));
  engine.setDocument(d);
  engine.drain();
  StrokeSetting setting;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  setting.activePart = 0;
  setting.paint.color = {0.45f, 0.28f, 0.2f};
  const auto speckle =
      std::ranges::find(usualRoll(), std::string("Speckle"), [](const RollBrush& b) { return b.name; });
  setting.brush = fitted(speckle->brush, 1, d.surface->bounds.diagonal());
  setting.brush.radius = 14;
  constexpr int kEvents = 500;
  constexpr auto kEvery = std::chrono::milliseconds(8);
  std::vector<int> counts;  // of pictures, at each event
  const auto begun = Clock::now();
  engine.beginStroke(setting, {{520, 300}, 0.8f, {0, 0}, 0});
  for (int i = 1; i <= kEvents; ++i) {
    std::this_thread::sleep_until(begun + i * kEvery);
    const float along = static_cast<float>(i) * 0.05f;
    engine.moveStroke(
        {{620 + 90 * std::sin(along), 330 + 60 * std::sin(1.3f * along)}, 0.8f, {0, 0}, 0.008 * i});
    counts.push_back(frames.count());
  }
  engine.endStroke();
  engine.drain();
  constexpr size_t kHalfSecond = 62;
  int least = counts.back();
  for (size_t i = kHalfSecond; i < counts.size(); ++i)
    least = std::min(least, counts[i] - counts[i - kHalfSecond]);
  const double rate = least / (kHalfSecond * 0.008);
  add({"500 events of a spray 28 mm wide, 2 M points: pictures in the worst half second",
       fmt::format("{:.0f} a second", rate), "aim of 30 a second", fmt::format("{:.2f}", rate / 30), "≥ 1"});
}

// What the channels beside colour cost the pen.
void penWithAllChannels() {
  const Document& d = ferryman(2'000'000);
  ChannelValues all{0.7f, 0.3f, 0.2f};
  all[Channel::Gloss] = 0.8f;
  all[Channel::Metal] = 0.2f;
  all[Channel::Relief] = 0.4f;
  const auto one = penTimes(d, {0.7f, 0.3f, 0.2f}), four = penTimes(d, all);
  const double alone = one[one.size() / 2], together = four[four.size() / 2];
  add({"Pen event to pixels with all four channels, 2 M points, median", milliseconds(together),
       "colour alone: " + milliseconds(alone), fmt::format("{:.2f}", together / alone), "≤ 1.6"});
}

// Pen down to the first pixels, at a moment when the engine is busy with something else: nothing is drained
// first.
void penDown(size_t points, const std::string& when, const std::function<void(app::Engine&, Document&)>& busy,
             int rounds = 24) {
  Document d = ferryman(points);
  std::vector<double> times;
  for (int round = 0; round < rounds; ++round) {
    app::Engine engine;
    Frames frames(engine);
    app::Viewing viewing = viewingOf(d);
    engine.setViewing(viewing);
    engine.setDocument(d);
    while (frames.count() == 0) frames.waitBeyond(0);
    busy(engine, d);
    // any moment of settling
    std::this_thread::sleep_for(std::chrono::milliseconds(37 * round % 400));
    StrokeSetting setting;
    setting.ink = inkKind("lay");
    setting.layer = d.activeLayer;
    setting.activePart = 0;
    setting.paint.color = {0.7f, 0.3f, 0.2f};
    setting.brush.radius = 12;
    Dabs dabs(engine);
    const auto from = Clock::now();
    engine.beginStroke(setting, {{600, 320}, 0.8f, {0, 0}, 0});
    (void)dabs.wait();
    times.push_back(since(from));
    engine.endStroke();
    engine.drain();
  }
  std::sort(times.begin(), times.end());
  const double late = times[times.size() * 95 / 100];
  add({fmt::format("Pen down to first pixels {}, {} M points, 95th percentile (median {})", when,
                   points / 1'000'000, milliseconds(times[times.size() / 2])),
       milliseconds(late), "two refreshes: 33.3 ms", fmt::format("{:.2f}", late / 0.0333), "≤ 1"});
}

void penDownWhileBusy(size_t points) {
  penDown(points, "while light settles", [](app::Engine&, Document&) {});
  penDown(points, "after a layer was switched", [](app::Engine& engine, Document& d) {
    LayerChange change;
    change.visible = !d.layers.front()->visible;
    engine.drain();
    d = *withLayerChanged(d, d.layers.front()->id, change);
    engine.setDocument(d);
  });
  app::Background background;
  float scale = 1;
  penDown(points, "while a map is measured", [&](app::Engine&, Document& d) {
    MapSetting wanted{&kOcclusionMap, scale += 1, Vec3::UnitY()};
    background.start(
        "map",
        [maps = d.maps, wanted](const Progress& p) -> Outcome {
          const auto map = maps->map(wanted, p);
          return map ? Outcome(Done{}) : map.error();
        },
        [](const Outcome&) {});
  });
  background.giveUp();
}

// How many pictures come a second while one turns, how much of their pixels was met by rays of these pictures
// or the three before, and by how many of its own.
struct Turning {
  double rate = 0, seen = 0, cast = 0;
};
Turning framesWhileTurning(const Document& d) {
  app::Engine engine;
  Frames frames(engine);
  app::Viewing viewing = viewingOf(d);
  engine.setViewing(viewing);
  engine.setDocument(d);
  // light is there, and the rays that trace faster
  engine.waitSettled();
  viewing.moving = true;
  std::atomic<int64_t> pixels = 0, rays = 0, pictures = 0;
  QObject::connect(
      &engine, &app::Engine::castWhileMoving, &engine,
      [&](int seen, int cast) {
        pixels += seen;
        rays += cast;
        ++pictures;
      },
      Qt::DirectConnection);
  const int before = frames.count();
  const auto from = Clock::now();
  while (since(from) < 4) {
    viewing.camera = turned(viewing.camera, {3, 0});
    const int count = frames.count();
    engine.setViewing(viewing);
    frames.waitBeyond(count);
  }
  const double seconds = since(from);
  const double whole = static_cast<double>(viewing.size.width) * viewing.size.height;
  const double all = std::max<double>(1, static_cast<double>(pictures)) * whole;
  return {(frames.count() - before) / seconds, static_cast<double>(pixels) / all,
          static_cast<double>(rays) / all};
}

void turning(size_t points) {
  const Turning now = framesWhileTurning(ferryman(points));
  add({fmt::format(
           "Turning at 1280 × 800, {} M points, {:.0f} % of the pixels seen by rays, {:.0f} % cast anew",
           points / 1'000'000, 100 * now.seen, 100 * now.cast),
       fmt::format("{:.0f} frames a second", now.rate), "aim of 30", fmt::format("{:.2f}", now.rate / 30),
       "≥ 1"});
}

void turningWithEveryChannel() {
  const Document& d = ferryman(2'000'000);
  MaskTerm up;
  up.map = {&kElevationMap, 0, Vec3::UnitY()};
  RampStops stops{{0, {}, 1, {0, 0.2f, 0, -0.4f}}, {1, {}, 1, {0, 0.9f, 0, 0.4f}}};
  const Document wet = withSourceLayer(d, "Wet", Stratum::Surface,
                                       rampSource({up}, stops, ChannelSet(Channel::Gloss) | Channel::Relief));
  const double with = framesWhileTurning(wet).rate, without = framesWhileTurning(d).rate;
  add({"Turning with gloss and relief, 2 M points", fmt::format("{:.0f} frames a second", with),
       fmt::format("without: {:.0f}", without), fmt::format("{:.2f}", without / with), "≤ 1.3"});
}

// A lamp that moved: the first picture under it, and all of it settled and spread through the skin.
void lampMoved() {
  const Document& d = ferryman(2'000'000);
  app::Engine engine;
  Frames frames(engine);
  app::Viewing viewing = viewingOf(d);
  viewing.light.kind = LightKind::Lamps;
  viewing.lightFollows = false;
  engine.setViewing(viewing);
  engine.setDocument(d);
  engine.waitSettled();
  viewing.light.lamps[0].around += 25;
  const int before = frames.count();
  const auto from = Clock::now();
  engine.setViewing(viewing);
  frames.waitBeyond(before);
  const double first = since(from);
  engine.waitSettled();
  const double whole = since(from);
  add({"First picture after a lamp moved, 2 M points", milliseconds(first), "aim of 100 ms",
       fmt::format("{:.2f}", first / 0.1), "≤ 1"});
  add({"Light settled and spread after a lamp moved, 2 M points", milliseconds(whole), "aim of 6 s",
       fmt::format("{:.2f}", whole / 6), "≤ 1"});
}

void spreadOfLight() {
  const Document& d = ferryman(2'000'000);
  const auto ladder = d.maps->ladder();
  std::vector<ReceivedLight> received(d.surface->size());
  for (size_t s = 0; s < received.size(); ++s)
    received[s].fill(std::max(0.f, d.surface->normals[s].dot(Vec3(0.6f, 0.6f, 0.5f))));
  std::vector<float> values(received.size());
  for (size_t s = 0; s < values.size(); ++s) values[s] = received[s][0];
  const double one = leastSecondsOf(
      "melt", [&] { melt(*ladder, values, std::sqrt(1.99f)); }, 3);
  const double all = leastSecondsOf(
      "wandering", [&] { (void)wandered(ladder, received, 1, 1); }, 3);
  for (ReceivedLight& l : received) l[2] *= 0.8f;
  const double colored = leastSecondsOf(
      "wandering in colour", [&] { (void)wandered(ladder, received, 1, 1); }, 3);
  add({"Light spread through the skin, 2 M points", milliseconds(all),
       "one melt by 1.4 mm: " + milliseconds(one), fmt::format("{:.1f}", all / one), ""});
  add({"The same of coloured light", milliseconds(colored), "one melt by 1.4 mm: " + milliseconds(one),
       fmt::format("{:.1f}", colored / one), ""});
}

void dirtyRectangle() {
  const Document& d = ferryman(2'000'000);
  const app::Viewing v = viewingOf(d);
  const Rays rays(d.surface, Rays::Quality::Quick);
  const ChannelFields composite = *skinOf(d.layers, *d.maps, d.bare);
  Lighting lighting(d.surface);
  lighting.settle(rays);
  const ShadeInput input = shadeInputOf(*d.surface, composite, lighting.samples(), app::stillSettingOf(v));
  VisibilityImage seen;
  castVisibility(rays, v.camera, v.size, {0.5f, 0.5f}, {}, seen);
  std::vector<uint32_t> pixels(1280 * 800);
  const double part = secondsOf("dirty rectangle", [&] { shade(input, seen, {540, 250, 740, 450}, pixels); });
  const double whole = secondsOf("full frame", [&] {
    castVisibility(rays, v.camera, v.size, {0.5f, 0.5f}, {}, seen);
    shade(input, seen, {0, 0, 1280, 800}, pixels);
  });
  add({"Dirty rectangle 200 × 200, 2 M points", milliseconds(part),
       "full frame 1280 × 800: " + milliseconds(whole), fmt::format("{:.3f}", part / whole), "≤ 0.1"});
}

}  // namespace

void benchPen() {
  penToPixels(2'000'000);
  penDownWhileBusy(2'000'000);
  sprayStroke();
  penToPixels(8'000'000);
  penDownWhileBusy(8'000'000);
}

void benchChannels() {
  penWithAllChannels();
  turningWithEveryChannel();
  spreadOfLight();
  lampMoved();
}

void benchEasel() {
  dirtyRectangle();
  turning(2'000'000);
  turning(8'000'000);
  const Document& d = ferryman(2'000'000);
  const double full = secondsOf(
      "rays, full", [&] { const Rays r(d.surface, Rays::Quality::Full); }, 3);
  const double quick = secondsOf(
      "rays, quick", [&] { const Rays r(d.surface, Rays::Quality::Quick); }, 3);
  add({"Ray structure, 2 M points, quick", milliseconds(quick), "full quality: " + milliseconds(full),
       fmt::format("{:.2f}", quick / full), ""});
}

}  // namespace juvenor::bench
