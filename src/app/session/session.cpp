#include "app/session/session.h"

#include <QApplication>
#include <algorithm>

#include "app/session/job.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/store/put_after.h"
#include "core/layers/sources/fill.h"

namespace juvenor::app {

Session::Session(std::filesystem::path journals) : journals_(std::move(journals)) {
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

bool Session::unsaved() const {
  return history_ && (renamed_ || history_->steps()[history_->current()]->id != savedStep_);
}

void Session::setActivePart(uint32_t part) {
  activePart_ = part;
  emit documentChanged();
}

Journal::Ground Session::ground() const {
  return path_.empty() ? Journal::Ground() : Journal::Ground{path_, save_};
}

// Ending a journal waits for what it is writing, and the steps of large work are gigabytes to give back.
void Session::putAway() {
  std::erase_if(putAway_, [](const auto& p) {
    return p.wait_for(std::chrono::seconds(0)) == std::future_status::ready;
  });
  if (history_)
    putAway_.push_back(std::async(
        std::launch::async,
        [journal = std::move(journal_), history = std::move(history_), store = std::move(store_)]() mutable {
          journal.reset();
          store.reset();
          history.reset();
        }));
}

void Session::take(History history, QString title, std::filesystem::path path, std::string save) {
  background_.giveUp();
  previews_.giveUp();
  settleStrokes();
  putAway();
  mark_ = {};
  otherUser_.reset();
  history_ = std::make_unique<History>(std::move(history));
  renamed_ = false;
  now_ = history_->document();
  title_ = std::move(title);
  path_ = std::move(path);
  activePart_ = 0;
  save_ = std::move(save);
  if (!path_.empty()) {
    if (auto store = Store::open(path_)) store_ = std::make_shared<Store>(std::move(*store));
    if (store_) store_->standOn(save_);
    mark_ = InUse(path_);
    if (!mark_.held()) otherUser_ = userOf(path_);
  }
  savedStep_ = history_->steps()[history_->current()]->id;
  journal_ = std::make_unique<Journal>(journals_, ground(), title_.toStdString());
  // a sculpt that lies in no document file goes into the journal at once
  if (path_.empty()) keep();
  Brush brush = tools_.brush();
  brush.radius = 0.035f * document().surface->bounds.diagonal();
  tools_.setBrush(brush);
  // about as high as a wart
  tools_.setNumber(Channel::Relief, 0.0015f * document().surface->bounds.diagonal());
  engine_.setDocument(document());
  emit opened();
  emit documentChanged();
}

void Session::takeRecovered(History history, QString title, std::filesystem::path path, std::string save) {
  take(std::move(history), std::move(title), std::move(path), std::move(save));
  savedStep_ = 0;
  keep();
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
  renamed_ = true;
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
  if (finished.empty() || !journal_) return;
  if (const Outcome kept = journal_->state(); !kept)
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

Outcome Session::flush() {
  return journal_ ? journal_->flush() : Outcome(Done{});
}

std::function<Result<Session::Saved>()> Session::saving(const std::filesystem::path& path) {
  settleStrokes();
  std::vector<StepPointer> steps(history_->steps().begin(), history_->steps().end());
  const uint64_t current = steps[history_->current()]->id;
  const bool here = path == path_;
  // a store belongs to one save at a time: the window starts no second one while the first runs
  return [steps = std::move(steps), current, here, store = store_, save = save_, look = look_,
          path]() -> Result<Saved> {
    if (here) {
      std::shared_ptr<Store> same = store;
      if (!same) {
        auto opened = Store::open(path);
        if (!opened) return opened.error();
        opened->standOn(save);
        same = std::make_shared<Store>(std::move(*opened));
      }
      Outcome done = same->write(steps, current);
      if (done) done = same->setMeta("look", look);
      if (!done) return done.error();
      return Saved{path, current, same};
    }
    auto fresh = saveAs(path, steps, current);
    if (!fresh) return fresh.error();
    if (const Outcome kept = fresh->setMeta("look", look); !kept) return kept.error();
    return Saved{path, current, std::make_shared<Store>(std::move(*fresh))};
  };
}

void Session::noteSaved(const Saved& saved) {
  if (saved.path != path_) {
    mark_ = {};
    mark_ = InUse(saved.path);
    otherUser_.reset();
  }
  store_ = saved.store;
  save_ = store_->save();
  path_ = saved.path;
  title_ = QString::fromStdString(path_.stem().string());
  savedStep_ = saved.step;
  renamed_ = false;
  journal_->restartFrom(ground());
  // what was painted while it was written
  if (unsaved()) keep();
  emit savedStateChanged();
}

Outcome Session::saveTo(const std::filesystem::path& path) {
  const auto saved = caught(saving(path));
  if (!saved) return saved.error();
  noteSaved(*saved);
  return Done{};
}

std::function<Result<Opened>()> Session::puttingAfter() const {
  std::vector<StepPointer> mine(
      history_->steps().begin(),
      history_->steps().begin() + static_cast<std::ptrdiff_t>(history_->current()) + 1);
  return [mine = std::move(mine), path = path_]() -> Result<Opened> {
    auto store = Store::open(path, true);
    if (!store) return store.error();
    const auto theirs = store->read();
    if (!theirs) return theirs.error();
    auto steps = putAfter(*theirs, mine);
    if (!steps) return steps.error();
    const size_t current = steps->size() - 1;
    return Opened{std::move(*steps), current, theirs->save};
  };
}

void Session::takePutAfter(Opened opened) {
  const size_t current = opened.current;
  takeRecovered(History(std::move(opened.steps), current), title_, path_, opened.save);
}

void Session::close() {
  background_.giveUp();
  previews_.giveUp();
  settleStrokes();
  journal_.reset();
  store_.reset();
  mark_ = {};
}

namespace {

// What the history calls work with some channels: "colour #b98570, gloss 80 %".
QString nameOf(const ChannelValues& values, bool withValues) {
  QStringList out;
  eachChannel([&](auto c) {
    if (!values.channels().has(c())) return;
    QString name = QString::fromUtf8(factsOf(c()).label).toLower();
    if (withValues && c() == Channel::Color)
      name += " " + QString::fromStdString(toHex(*values.color));
    else if (withValues && factsOf(c()).rule == ChannelRule::Add)
      name += QString(" %1").arg(static_cast<double>(*values[c()]), 0, 'g', 2);
    else if (withValues)
      name += QString(" %1 %").arg(std::lround(100 * *values[c()]));
    out << name;
  });
  return out.join(", ");
}

QString nameOf(const InkKind& ink, const ChannelValues& paint) {
  // of what only moves what is there, colour goes without saying
  if (!ink.brings && paint.channels() == ChannelSet(Channel::Color)) return QString::fromUtf8(ink.label);
  return QString::fromUtf8(ink.label) + " " + nameOf(paint, ink.brings);
}

}  // namespace

StrokeSetting Session::strokeSetting(bool erasing) const {
  StrokeSetting setting;
  setting.brush = tools_.brush();
  setting.paint = tools_.paint();
  setting.layer = document().activeLayer;
  setting.activePart = activePart_;
  const Tool tool = tools_.tool();
  setting.onMask = tool == Tool::Mask || (tool == Tool::Restore && tools_.restoresMask());
  setting.onGuard = tool == Tool::Guard;
  setting.ink = inkKind(erasing || tool == Tool::Erase ? "erase"
                        : tool == Tool::Blend          ? "blend"
                        : tool == Tool::Smear          ? "smear"
                        : tool == Tool::Restore        ? "restore"
                                                       : "lay");
  if (setting.ink->bringsBack && checkpointOf(document(), tools_.checkpoint()))
    setting.checkpoint = tools_.checkpoint();
  return setting;
}

void Session::beginStroke(bool erasing, const PenPoint& point, const BeforeSkin& before) {
  collect();
  // the stroke before is on disk by now, unless the disk is slower than the hand: then it follows
  (void)journal_->flushWithin(std::chrono::milliseconds(8));
  StrokeSetting setting = strokeSetting(erasing);
  setting.stencil = before.stencil;
  setting.slide = before.slide;
  if (tools_.adapts() && setting.brush.tip == TipKind::Stamp && setting.brush.stamp.ownColors)
    setting.adaptsTo = engine_.skinNow();
  const bool erase = setting.ink == inkKind("erase");
  if (setting.onMask) {
    const LayerPointer layer = layerOf(document(), setting.layer);
    if (layer && !layer->mask && layer->visible && !layer->locked) {
      settleStrokes();
      apply(withMask(document(), setting.layer), tr("Add mask"));
    }
  }
  const QString name = setting.onGuard ? (erase ? tr("Free from the guard") : tr("Guard"))
                       : setting.ink->bringsBack && setting.onMask ? tr("Restore mask")
                       : setting.onMask            ? (erase ? tr("Show through mask") : tr("Hide with mask"))
                       : goesThroughSlide(setting) ? tr("Paint through slide")
                                                   : nameOf(*setting.ink, setting.paint);
  engine_.beginStroke(setting, point, name);
}

void Session::fillNow() {
  settleStrokes();
  const uint32_t part = tools_.brush().allParts ? kNone : activePart_;
  const LayerPointer layer = layerOf(document(), document().activeLayer);
  const ChannelValues paint = tools_.paint();
  if (paint.channels().empty())
    return say(tr("Nothing to fill with: choose colour, gloss, relief or metal under the wells."), true);
  if (layer && fillValues(*layer->source)) {
    LayerChange change;
    change.values = *fillValues(*layer->source);
    if (paint.color) change.values->color = paint.color;
    for (size_t c = 0; c < kChannelCount; ++c)
      if (paint.number[c]) change.values->number[c] = paint.number[c];
    apply(withLayerChanged(document(), layer->id, change), tr("Fill layer: %1").arg(nameOf(paint, true)));
    return;
  }
  const float strength = tools_.fillStrength();
  edit(tr("Fill %1 % %2").arg(std::lround(100 * strength)).arg(nameOf(paint, true)),
       [=](const Document& d, const Progress&) {
         return withFilled(d, d.activeLayer, paint, strength, part);
       });
}

}  // namespace juvenor::app
