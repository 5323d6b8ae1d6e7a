#include "app/session/session.h"

#include <algorithm>

namespace juvenor::app {

Session::Session(std::filesystem::path journals) : journals_(std::move(journals)) {
  connect(&engine_, &Engine::strokeFinished, this, &Session::collect, Qt::QueuedConnection);
  connect(
      &engine_, &Engine::refused, this, [this](const QString& why) { say(why, true); }, Qt::QueuedConnection);
  connect(
      &engine_, &Engine::tooFine, this,
      [this] {
        say(tr("The brush is finer than the points here, so no point was reached. Choose a larger size, or "
               "refine the surface."),
            true);
      },
      Qt::QueuedConnection);
}

Session::~Session() {
  close();
}

bool Session::unsaved() const {
  return history_ && history_->steps()[history_->current()]->id != savedStep_;
}

void Session::setActivePart(uint32_t part) {
  activePart_ = part;
  emit documentChanged();
}

void Session::take(History history, QString title, std::filesystem::path path,
                   const std::filesystem::path& base) {
  background_.stop();
  engine_.drain();
  journal_.reset();
  store_.reset();
  history_ = std::make_unique<History>(std::move(history));
  now_ = history_->document();
  title_ = std::move(title);
  path_ = std::move(path);
  activePart_ = 0;
  if (!path_.empty())
    if (auto store = Store::open(path_)) store_ = std::make_unique<Store>(std::move(*store));
  savedStep_ = history_->steps()[history_->current()]->id;
  journal_ = std::make_unique<Journal>(journals_, path_.empty() ? base : path_, title_.toStdString());
  // a sculpt that lies in no document file goes into the journal at once
  if (path_.empty() && base.empty()) keep();
  Brush brush = tools_.brush();
  brush.radius = 0.035f * document().surface->bounds.diagonal();
  tools_.setBrush(brush);
  engine_.setDocument(document());
  emit opened();
  emit documentChanged();
}

void Session::takeRecovered(History history, QString title, std::filesystem::path path) {
  take(std::move(history), std::move(title), std::move(path));
  savedStep_ = 0;
  keep();
  const Outcome kept = journal_->flush();
  if (!kept) say(QString::fromStdString(kept.error().message()), true);
}

void Session::chooseLayer(uint32_t id) {
  if (!layerOf(now_, id) || now_.activeLayer == id) return;
  now_.activeLayer = id;
  engine_.setDocument(now_);
  emit documentChanged();
}

void Session::keep() {
  journal_->keep({history_->steps().begin(), history_->steps().end()},
                 history_->steps()[history_->current()]->id);
  emit savedStateChanged();
}

void Session::show() {
  now_ = history_->document();
  engine_.setDocument(now_);
  keep();
  emit documentChanged();
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

void Session::measured(const MaskTerms& terms, std::function<void()> then) {
  const SurfaceMapsPointer maps = document().maps;
  const bool ready = std::ranges::all_of(terms, [&](const MaskTerm& t) { return maps->has(t.map); });
  if (ready) return then();
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
  collect();
  const uint32_t chosen = now_.activeLayer;
  history_->goTo(step);
  show();
  chooseLayer(chosen);
}

void Session::takeIn(std::vector<Document> finished) {
  for (Document& d : finished) {
    // the engine knows the stack it painted on; what is beside the layers is the session's
    Document next = now_;
    next.layers = d.layers;
    next.guard = d.guard;
    next.strokeCount = d.strokeCount;
    history_->push(std::move(next), strokeName_.toStdString());
    now_ = history_->document();
    keep();
    emit documentChanged();
  }
}

void Session::collect() {
  if (history_) takeIn(engine_.takeFinished());
}

void Session::settleStrokes() {
  if (!history_) return;
  engine_.endStroke();
  takeIn(engine_.drain());
  const Outcome kept = journal_->flush();
  if (!kept)
    say(tr("Strokes cannot be kept on disk: %1. Painting goes on; save elsewhere soon.")
            .arg(QString::fromStdString(kept.error().message())),
        true);
}

Outcome Session::saveTo(const std::filesystem::path& path) {
  settleStrokes();
  const std::vector<StepPointer> steps(history_->steps().begin(), history_->steps().end());
  const uint64_t current = steps[history_->current()]->id;
  const bool here = store_ && path == path_;
  Outcome done = Done{};
  if (here) {
    done = store_->write(steps, current);
  } else {
    auto store = saveAs(path, steps, current);
    if (store)
      store_ = std::make_unique<Store>(std::move(*store));
    else
      done = store.error();
  }
  if (!done) return done;
  path_ = path;
  title_ = QString::fromStdString(path.stem().string());
  savedStep_ = current;
  journal_->restartFrom(path_);
  emit savedStateChanged();
  return Done{};
}

Outcome Session::save() {
  if (path_.empty()) return Error{"the work has no file yet"};
  return saveTo(path_);
}

void Session::close() {
  background_.stop();
  engine_.drain();
  journal_.reset();
  store_.reset();
}

void Session::beginStroke(bool erasing, const PenPoint& point) {
  settleStrokes();
  StrokeSetting setting;
  setting.brush = tools_.brush();
  setting.color = tools_.color();
  setting.layer = document().activeLayer;
  setting.activePart = activePart_;
  const Tool tool = tools_.tool();
  setting.onMask = tool == Tool::Mask;
  setting.onGuard = tool == Tool::Guard;
  const bool erase = erasing || tool == Tool::Erase;
  setting.ink = inkKind(erase                 ? "erase"
                        : tool == Tool::Blend ? "blend"
                        : tool == Tool::Smear ? "smear"
                                              : "lay");
  if (setting.onMask) {
    const LayerPointer layer = layerOf(document(), setting.layer);
    if (layer && !layer->mask && layer->visible && !layer->locked)
      apply(withMask(document(), setting.layer), tr("Add mask"));
  }
  strokeName_ = setting.onGuard  ? (erase ? tr("Free from the guard") : tr("Guard"))
                : setting.onMask ? (erase ? tr("Show through mask") : tr("Hide with mask"))
                                 : QString::fromUtf8(setting.ink->label.data(),
                                                     static_cast<int>(setting.ink->label.size()));
  if (setting.ink->key == "lay" && !setting.onMask && !setting.onGuard)
    strokeName_ += " " + QString::fromStdString(toHex(setting.color));
  engine_.beginStroke(setting, point);
}

void Session::fillNow() {
  settleStrokes();
  const uint32_t part = tools_.brush().allParts ? kNone : activePart_;
  const LayerPointer layer = layerOf(document(), document().activeLayer);
  if (layer && fillColor(*layer->source)) {
    LayerChange change;
    change.fill = tools_.color();
    apply(withLayerChanged(document(), layer->id, change), tr("Fill layer colour"));
    return;
  }
  apply(withFilled(document(), document().activeLayer, tools_.color(), tools_.fillStrength(), part),
        tr("Fill %1 % %2")
            .arg(std::lround(100 * tools_.fillStrength()))
            .arg(QString::fromStdString(toHex(tools_.color()))));
}

}  // namespace juvenor::app
