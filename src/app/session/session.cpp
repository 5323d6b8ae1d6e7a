#include "app/session/session.h"

#include <QApplication>
#include <algorithm>

#include "app/session/history_memory.h"
#include "app/session/job.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edit_groups.h"
#include "core/layers/nesting.h"

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

size_t Session::uvSet() const {
  if (!isOpen() || now_.sculpt->uvSets.empty()) return 0;
  const auto& sets = now_.sculpt->uvSets;
  const auto chosen = std::ranges::find(sets, uvSet_, &UvSet::name);
  return uvSet_.empty() || chosen == sets.end() ? 0 : static_cast<size_t>(chosen - sets.begin());
}

void Session::setUvSet(size_t set) {
  if (!isOpen() || set >= now_.sculpt->uvSets.size() || set == uvSet()) return;
  uvSet_ = now_.sculpt->uvSets[set].name;
  emit uvSetChanged();
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
  measuring_.giveUp();
  measurings_.clear();
  heldMask_.reset();
  settleStrokes();
  disk_.putAway(std::move(history_));
  history_ = std::make_unique<History>(std::move(history));
  history_->setBudget(historyBudget());
  now_ = history_->document();
  ++revision_;
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
  // a stroke in the air is of the layer before
  settleStrokes();
  now_.activeLayer = id;
  engine_.setDocument(now_);
  emit documentChanged();
}

void Session::chooseLayers(std::vector<uint32_t> ids) {
  if (ids.empty()) return;
  const uint32_t active = ids.back();
  chosen_ = std::move(ids);
  if (now_.activeLayer == active) emit documentChanged();
  chooseLayer(active);
}

std::vector<uint32_t> Session::chosenLayers() const {
  std::vector<uint32_t> out;
  const bool several = std::ranges::find(chosen_, now_.activeLayer) != chosen_.end();
  for (const LayerPointer& layer : now_.layers)
    if (layer->id == now_.activeLayer || (several && std::ranges::find(chosen_, layer->id) != chosen_.end()))
      out.push_back(layer->id);
  return out;
}

uint32_t Session::aloneLayer() const {
  if (alone_ == 0) return 0;
  const auto alone = withShownAlone(now_, alone_);
  return alone && std::ranges::equal(alone->layers, now_.layers) ? alone_ : 0;
}

void Session::showAlone(uint32_t id) {
  settleStrokes();
  // from one to the next: what was seen before the first
  if (aloneLayer() == 0) {
    besideAlone_.clear();
    for (const LayerPointer& layer : now_.layers) besideAlone_[layer->id] = layer->visible;
  }
  if (apply(withShownAlone(withVisible(now_, besideAlone_), id), tr("Show one layer alone"))) alone_ = id;
}

void Session::endAlone() {
  settleStrokes();
  alone_ = 0;
  apply(withVisible(now_, besideAlone_), tr("Show all as before"));
}

void Session::holdMask(uint32_t layer) {
  settleStrokes();
  auto mask = copiedMask(now_, layer);
  if (!mask) return tell(mask.error());
  heldMask_ = std::move(*mask);
  say(tr("The mask is copied. Choose other layers, and lay it there from their menu."));
}

const CopiedMask* Session::heldMask() const {
  return heldMask_ && heldMask_->surface == now_.surface ? &*heldMask_ : nullptr;
}

void Session::fold(uint32_t group, bool folded) {
  settleStrokes();
  auto next = withFolded(now_, group, folded);
  if (!next) return tell(next.error());
  // what is not listed is not in hand
  const size_t row = placeOf(now_, group), active = placeOf(now_, now_.activeLayer);
  if (folded && active < row && active >= firstOf(now_.layers, row)) next->activeLayer = group;
  now_ = std::move(*next);
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

// After all work went to another sculpt, or back: the part in hand by its name, the brush as wide on the skin
// as it was.
void Session::followSculpt(const Document& before) {
  if (!before.sculpt || before.shape == now_.shape) return;
  const auto &was = before.sculpt->parts, &parts = now_.sculpt->parts;
  const auto same = activePart_ < was.size() ? std::ranges::find(parts, was[activePart_]) : parts.end();
  if (activePart_ != kNone)
    activePart_ = same == parts.end() ? 0 : static_cast<uint32_t>(same - parts.begin());
  const float scale = before.placement.millimetres / now_.placement.millimetres;
  if (scale != 1) {
    Brush brush = tools_.brush();
    brush.radius *= scale;
    tools_.setBrush(brush);
    tools_.setNumber(Channel::Relief, scale * tools_.number(Channel::Relief));
  }
  const Box &old = before.surface->bounds, &now = now_.surface->bounds;
  const float size = std::max(old.diagonal(), now.diagonal());
  if ((old.center() - now.center()).norm() > 0.5f * size ||
      std::min(old.diagonal(), now.diagonal()) < 0.5f * size)
    emit movedAway();
}

void Session::show() {
  const Document before = now_;
  now_ = history_->document();
  followSculpt(before);
  ++revision_;
  engine_.setDocument(now_);
  keep();
  emit documentChanged();
}

bool Session::isBusy() {
  if (!background_.running()) return false;
  say(tr("Still under way, and to be waited for or cancelled first: %1").arg(background_.name()), true);
  return true;
}

void Session::tell(const Error& error) {
  if (isCancelled(error))
    say(tr("Cancelled; everything is as it was."));
  else
    say(QString::fromStdString(error.message()), true);
}

bool Session::apply(Result<Document> result, const QString& name) {
  if (!result) {
    tell(result.error());
    return false;
  }
  history_->push(std::move(*result), name.toStdString());
  show();
  return true;
}

bool Session::edit(const QString& name, const Edit& edit) {
  settleStrokes();
  previews_.giveUp();
  // what was worked out beside the window may land meanwhile: then this is worked out of that again
  for (int tries = 0; tries < 3; ++tries) {
    const Document copy = now_;
    const uint64_t revision = revision_;
    auto result = runJobFor<Document>(QApplication::activeWindow(), name,
                                      [&](const Progress& p) { return edit(copy, p); });
    if (!result || revision == revision_) return apply(std::move(result), name);
  }
  say(tr("The work went on changing meanwhile; try “%1” again.").arg(name), true);
  return false;
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

void Session::measured(const QString& who, const MaskTerms& terms, std::function<void()> then,
                       std::function<void()> otherwise) {
  const bool first = !measurings_.empty() && measurings_.front().who == who;
  if (first) measuring_.giveUp();
  std::erase_if(measurings_, [&](const Measuring& m) { return m.who == who; });
  const SurfaceMapsPointer maps = document().maps;
  if (isMaskReady(*maps, terms)) {
    then();
  } else {
    measurings_.push_back({who, maps, terms, std::move(then), std::move(otherwise)});
  }
  if (!measuring_.running()) measureNext();
}

void Session::measureNext() {
  if (measurings_.empty() || measuring_.running()) return;
  measuring_.start(
      tr("Measuring the surface"),
      [maps = measurings_.front().maps, terms = measurings_.front().terms](const Progress& p) -> Outcome {
        const auto mask = maskOf(*maps, terms, p);
        return mask ? Outcome(Done{}) : mask.error();
      },
      [this](const Outcome& done) {
        const Measuring measured = std::move(measurings_.front());
        measurings_.pop_front();
        if (!done) tell(done.error());
        if (done && document().maps == measured.maps)
          measured.then();
        else if (measured.otherwise)
          measured.otherwise();
        measureNext();
      });
}

void Session::lookAtPicture(uint32_t id, float centerX, float centerY, float nearer) {
  auto seen = withPictureView(now_, id, centerX, centerY, nearer);
  if (!seen) return;
  now_.board = std::move(seen->board);
  emit documentChanged();
}

// What one looks at, and with which layer in hand, stays as it is.
void Session::goTo(size_t step) {
  settleStrokes();
  const uint32_t chosen = now_.activeLayer;
  const std::vector<BoardPicture> board = now_.board;
  history_->goTo(step);
  show();
  for (const BoardPicture& p : board)
    if (const auto now = std::ranges::find(now_.board, p.id, &BoardPicture::id);
        now != now_.board.end() && !(*now == p))
      lookAtPicture(p.id, p.centerX, p.centerY, p.nearer);
  chooseLayer(chosen);
}

bool Session::keepLater() {
  if (!history_ || !history_->canRedo()) return false;
  settleStrokes();
  const Step& last = *history_->steps().back();
  const QString name = QString::fromStdString(last.given.empty() ? last.name : last.given);
  return apply(withLaterKept(now_, last.document, name.toStdString(), last.time),
               tr("Keep later steps as a checkpoint"));
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
    ++revision_;
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
  emit settling();
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
  measuring_.giveUp();
  measurings_.clear();
  settleStrokes();
  disk_.close();
}

void Session::leave() {
  if (!history_) return;
  emit settling();
  close();
  ++revision_;
  history_.reset();
  now_ = {};
  engine_.setDocument(now_);
  emit left();
}

}  // namespace juvenor::app

#include "moc_session.cpp"
