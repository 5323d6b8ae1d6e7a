// From a file to the first picture on the easel, and from nothing to the first picture of a demo.
#include <fmt/format.h>

#include <chrono>
#include <condition_variable>
#include <filesystem>
#include <mutex>

#include "app/engine/engine.h"
#include "app/session/opening.h"
#include "core/document/edits/edits.h"
#include "core/files.h"
#include "core/render/still.h"
#include "core/sculpt/formats.h"
#include "demo/demo.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

// Seconds from the start of `open` until the first picture of the document it gives; the least of `rounds`.
// The end of the engine is not counted.
double toFirstPicture(const std::function<Document()>& open, int rounds) {
  double least = 1e9;
  for (int round = 0; round < rounds; ++round) {
    std::mutex mutex;
    std::condition_variable came;
    bool shown = false;
    app::Engine engine;
    QObject::connect(
        &engine, &app::Engine::frameReady, &engine,
        [&](const QImage&, const QPoint&) {
          const std::lock_guard hold(mutex);
          shown = true;
          came.notify_all();
        },
        Qt::DirectConnection);
    const auto from = std::chrono::steady_clock::now();
    const Document d = open();
    app::Viewing viewing;
    viewing.size = {1280, 800};
    viewing.camera = framed({}, viewing.size, shownPoints(d));
    engine.setViewing(viewing);
    engine.setDocument(d);
    std::unique_lock hold(mutex);
    came.wait(hold, [&] { return shown; });
    least = std::min(least, std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count());
  }
  return least;
}

void fromFile(size_t points) {
  const auto file = std::filesystem::temp_directory_path() / "juvenor-bench-opening.ply";
  {
    const auto sculpt = demo::makeSculpt(demo::Figure::Ferryman, points);
    VertexFinish finish;
    finish.colors.assign(sculpt->vertices.size(), {30000, 20000, 10000, 65535});
    if (!sculpt || !writeSculpt(file, *sculpt, finish)) return;
  }
  const double bytes = secondsOf(
      "bytes", [&] { (void)readBytes(file); }, 3);
  const double picture = toFirstPicture(
      [&] {
        const auto sculpt = std::make_shared<const Sculpt>(*readSculpt(file));
        return withPaintedLayer(newDocument(sculpt, *buildSurface(*sculpt)), "Paint", Stratum::Pigment);
      },
      3);
  std::filesystem::remove(file);
  const bool large = points > 4'000'000;
  add({fmt::format("File to first picture, {} M ply", points / 1'000'000), milliseconds(picture),
       "reading its bytes: " + milliseconds(bytes), fmt::format("{:.0f}", picture / bytes),
       large ? "≤ 6 s" : "≤ 25"});
}

// What the window does when a demo opens for the first time: it is sculpted and dressed, saved in the cache,
// and opened from there.
void fromNothing(size_t points) {
  const auto file = std::filesystem::temp_directory_path() / "juvenor-bench-demo.juvenor";
  const double seconds = toFirstPicture(
      [&] {
        std::filesystem::remove(file);
        const auto sculpt = std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::Ferryman, points));
        const History made(*demo::dressed(demo::Figure::Ferryman, sculpt, *buildSurface(*sculpt)), "Demo");
        const std::vector<StepPointer> steps(made.steps().begin(), made.steps().end());
        (void)saveAs(file, steps, steps.front()->id);
        const auto opened = app::openedAndPrepared(file, {}, size_t{2} << 30);
        return opened->steps[opened->current]->document;
      },
      2);
  std::filesystem::remove(file);
  add({fmt::format("A demo's first start, {:.1f} M points", static_cast<double>(points) / 1e6),
       milliseconds(seconds), "aim of 8 s", fmt::format("{:.2f}", seconds / 8),
       points < 1'000'000 ? "≤ 1" : "behind the artist's back"});
}

}  // namespace

void benchOpening() {
  fromNothing(200'000);
  fromNothing(2'000'000);
  fromFile(2'000'000);
  fromFile(8'000'000);
}

}  // namespace juvenor::bench
