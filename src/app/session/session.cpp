#include "app/session/session.h"

#include <QApplication>
#include <algorithm>

#include "app/session/history_memory.h"
#include "app/session/job.h"
#include "core/document/edits/edit_checkpoints.h"

namespace juvenor::app {

Session::Session(std::filesystem::path journals) : disk_(std::move(journals)) {
  connect(&engine_, &Engine::strokeFinished, this, &Session::collect, Qt::QueuedConnection);
  connect(
      &engine_, &Engine::refused, this, [this](const QString& why) { say(why, true); }, Qt::QueuedConnection);
  connect(
      &engine_, &Engine::tooFine, this,
      [this] {
        say(tr("The brush is finer than the points here, so no point was reached. Choose a larger size, or "
               "Sculpt ▸ Add points."),
            true);
      },
      Qt::QueuedConnection);
}

Session::~Session() {
  close();
}

void Session::setActivePart(uint32_t part) {
  activePart_ = part;
  emit documentChanged();
}

void Session::take(History history, QString title, std::filesystem::path path, std::string save) {
  begin(std::move(history), std::move(title), std::move(path), std::move(save), true);
}

void Session::takeRecovered(History history, QString title, std::filesystem::path path, std::string save) {
  begin(std::move(history), std::move(title), std::move(path), std::move(save), false);
}

void Session::begin(History history, QString title, std::filesystem::path path, std::string save,
                    bool saved) {
  background_.giveUp();
  previews_.giveUp();
  settleStrokes();
  disk_.putAway(std::move(history_));
  history_ = std::make_unique<History>(std::move(history));
  history_->setBudget(historyBudget());
  now_ = history_->document();
  activePart_ = 0;
  disk_.begin(*history_, std::move(title), std::move(path), std::move(save));
  if (!saved) {
    disk_.noteUnsaved();
    disk_.keep(*history_);
  }
  // what was kept of the work before goes when this is kept, not sooner: it may be the same work
  disk_.letGo();
  emit savedStateChanged();
  Brush brush = tools_.brush();
  brush.radius = 0.035f * document().surface->bounds.diagonal();
  tools_.setBrush(brush);
  // about as high as a wart
  tools_.setNumber(Channel::Relief, 0.0015f * document().surface->bounds.diagonal());
  engine_.setDocument(document());
  emit opened();
  emit documentChanged();
}

void Session::chooseLayer(uint32_t id) {
  if (!layerOf(now_, id) || now_.activeLayer == id) return;
  now_.activeLayer = id;
  engine_.setDocument(now_);
  emit documentChanged();
}

void Session::setHistoryShare(int percent) {
  app::setHistoryShare(percent);
  if (!history_) return;
  history_->setBudget(historyBudget(percent));
  keep();
  emit documentChanged();
}

// A step the artist named is a promise; that it could not be kept is said.
void Session::tellForgotten(const std::vector<std::string>& names) {
  for (const std::string& name : names)
    say(tr("The history is full, and the step you called “%1” gave way. More memory can be "
           "given to it below the history.")
            .arg(QString::fromStdString(name)),
        true);
}

void Session::keep() {
  disk_.keep(*history_);
  tellForgotten(history_->takeForgotten());
  emit savedStateChanged();
}

void Session::show() {
  now_ = history_->document();
  engine_.setDocument(now_);
  keep();
  emit documentChanged();
}

bool Session::isBusy() {
  if (!background_.running()) return false;
  say(tr("Still under way, and to be waited for or cancelled first: %1").arg(background_.name()), true);
  return true;
}

bool Session::apply(Result<Document> result, const QString& name) {
  if (!result) {
    say(QString::fromStdString(result.error().message()), true);
    return false;
  }
  history_->push(std::move(*result), name.toStdString());
  show();
  return true;
}

bool Session::edit(const QString& name, const Edit& edit) {
  settleStrokes();
  previews_.giveUp();
  const Document copy = now_;
  return apply(runJobFor<Document>(QApplication::activeWindow(), name,
                                   [&](const Progress& p) { return edit(copy, p); }),
               name);
}

void Session::preview(const Edit& edit) {
  const auto shown = std::make_shared<std::optional<Document>>();
  previews_.start(
      tr("Working out the preview"),
      [copy = now_, edit, shown](const Progress& p) -> Outcome {
        auto next = edit(copy, p);
        if (!next) return next.error();
        *shown = std::move(*next);
        return Done{};
      },
      [this, shown](const Outcome& done) {
        if (done) preview(**shown);
      });
}

void Session::endPreview() {
  previews_.giveUp();
  engine_.setDocument(now_);
}

void Session::measured(const MaskTerms& terms, std::function<void()> then) {
  const SurfaceMapsPointer maps = document().maps;
  if (isMaskReady(*maps, terms)) return then();
  background_.start(
      tr("Measuring the surface"),
      [maps, terms](const Progress& p) -> Outcome {
        const auto mask = maskOf(*maps, terms, p);
        return mask ? Outcome(Done{}) : mask.error();
      },
      [this, maps, then](const Outcome& done) {
        if (!done)
          return say(isCancelled(done.error()) ? tr("Cancelled; everything is as it was.")
                                               : QString::fromStdString(done.error().message()),
                     true);
        if (document().maps == maps) then();
      });
}

void Session::goTo(size_t step) {
  settleStrokes();
  const uint32_t chosen = now_.activeLayer;
  history_->goTo(step);
  show();
  chooseLayer(chosen);
}

void Session::callStep(size_t step, const QString& given) {
  history_->call(step, given.toStdString());
  disk_.noteRenamed();
  keep();
  emit documentChanged();
}

void Session::keepCheckpoint() {
  if (!history_) return;
  settleStrokes();
  const QString name = tr("Checkpoint %1").arg(now_.nextCheckpoint);
  if (apply(withCheckpoint(now_, name.toStdString(), timeNow()), tr("Keep checkpoint")))
    tools_.setCheckpoint(now_.checkpoints.back().id);
}

void Session::takeIn(std::vector<FinishedStroke> finished) {
  for (FinishedStroke& f : finished) {
    // the engine knows the stack it painted on; what is beside the layers is the session's
    Document next = now_;
    next.layers = std::move(f.document.layers);
    next.guard = std::move(f.document.guard);
    next.strokeCount = f.document.strokeCount;
    history_->push(std::move(next), f.name.toStdString());
    now_ = history_->document();
    keep();
    emit documentChanged();
  }
  if (finished.empty()) return;
  if (const Outcome kept = disk_.journalState(); !kept)
    say(tr("Strokes cannot be kept on disk: %1. Painting goes on; save elsewhere soon.")
            .arg(QString::fromStdString(kept.error().message())),
        true);
}

void Session::collect() {
  if (history_) takeIn(engine_.takeFinished());
}

void Session::settleStrokes() {
  if (!history_) return;
  engine_.endStroke();
  takeIn(engine_.finishStrokes());
}

std::function<Result<Session::Saved>()> Session::saving(const std::filesystem::path& path, bool anew) {
  settleStrokes();
  return disk_.saving(*history_, path, anew);
}

bool Session::noteSaved(const Saved& saved) {
  if (!disk_.noteSaved(saved, *history_)) return false;
  emit savedStateChanged();
  return true;
}

Outcome Session::saveTo(const std::filesystem::path& path) {
  const auto saved = caught(saving(path));
  if (!saved) return saved.error();
  noteSaved(*saved);
  return Done{};
}

void Session::takePutAfter(Opened opened) {
  const size_t current = opened.current;
  takeRecovered(History(std::move(opened.steps), current), title(), path(), opened.save);
}

void Session::close() {
  background_.giveUp();
  previews_.giveUp();
  settleStrokes();
  disk_.close();
}

}  // namespace juvenor::app
