#include "app/engine/engine.h"

#include <QElapsedTimer>

namespace juvenor::app {

Engine::Engine() : work_(queue_, readings_, *this) {
  thread_ = std::thread([this] { run(); });
}

Engine::~Engine() {
  queue_.quit();
  thread_.join();
}

std::vector<FinishedStroke> Engine::finishStrokes() {
  queue_.awaitStrokes();
  return takeFinished();
}

void Engine::run() {
  // pen events are taken together for as long as a frame may wait
  constexpr int kTogether = 10;  // milliseconds
  const auto tell = [this](const Outcome& done) {
    if (!done) emit refused(QString::fromStdString(done.error().message()));
  };
  for (;;) {
    const EngineQueue::Turn turn = queue_.begin();
    if (turn == EngineQueue::Turn::Quit) return;
    QElapsedTimer since;
    since.start();
    while (since.elapsed() < kTogether) {
      std::optional<Command> command = queue_.next();
      if (!command) break;
      tell(caught([&]() -> Outcome {
        work_.carryOut(*command);
        return Done{};
      }));
    }
    auto left = EngineQueue::Left::More;
    const Outcome drawn = caught([&]() -> Outcome {
      if (turn == EngineQueue::Turn::Commands)
        work_.draw();
      else
        left = work_.settleOnce();
      return Done{};
    });
    tell(drawn);
    queue_.end(drawn ? left : EngineQueue::Left::Nothing);
  }
}

QImage Engine::still(const Viewing& viewing, int smooth) {
  waitSettled();
  const auto promise = std::make_shared<std::promise<Snapshot>>();
  auto future = promise->get_future();
  queue_.post(promise);
  const Snapshot now = future.get();
  if (!now.rays) return {};
  ShadeInput input = shadeInputOf(*now.document.surface, now.skin, now.lit, stillSettingOf(viewing));
  if (now.relief.any()) input.relief = &now.relief;
  input.open = now.open;
  input.received = now.received;
  const std::vector<Cornea> corneas = corneasOf(now.document.layers);
  input.corneas = corneas;
  input.rays = now.rays.get();
  input.hair = now.hair.get();
  input.by = &now.by;
  if (now.lines) input.lines = *now.lines;
  if (viewing.behind && viewing.behind->size() == static_cast<size_t>(viewing.size.width) *
                                                      static_cast<size_t>(viewing.size.height))
    input.behind = *viewing.behind;
  const auto pixels = picture(*now.rays, input, viewing.size, now.document.hiddenParts, smooth);
  return QImage(reinterpret_cast<const uchar*>(pixels.data()), viewing.size.width, viewing.size.height,
                viewing.size.width * 4, QImage::Format_RGB32)
      .copy();
}

}  // namespace juvenor::app

#include "moc_engine.cpp"
