#include "app/engine/engine.h"

#include <QElapsedTimer>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/document/edits/edits.h"

namespace juvenor::app {

Light lightIn(const Viewing& viewing) {
  Light out = viewing.light;
  const Vec3 back = viewing.camera.back();
  if (viewing.lightFollows && back.x() * back.x() + back.z() * back.z() > 1e-6f)
    out.dial += std::atan2(back.x(), back.z()) * 180 / std::numbers::pi_v<float>;
  return out;
}

StillSetting stillSettingOf(const Viewing& viewing) {
  StillSetting out;
  out.camera = viewing.camera;
  out.size = viewing.size;
  out.view = viewing.view;
  out.light = lightIn(viewing);
  out.background = viewing.background;
  return out;
}

Engine::Engine()
    : preparer_([this] { post(Prepared{}); },
                [this](Preparer::Glimpses glimpses) { post(std::move(glimpses)); }),
      spreader_([this](Spreader::Done done) { post(std::move(done)); }) {
  thread_ = std::thread([this] { run(); });
}

Engine::~Engine() {
  {
    const std::lock_guard hold(mutex_);
    quit_ = true;
    pending_ = true;
  }
  wake_.notify_all();
  thread_.join();
}

void Engine::post(Command command) {
  {
    const std::lock_guard hold(mutex_);
    // of several cameras, or documents, waiting in a row only the last matters
    if (!commands_.empty() &&
        (std::holds_alternative<Viewing>(command) || std::holds_alternative<Document>(command)) &&
        command.index() == commands_.back().index())
      commands_.back() = std::move(command);
    else
      commands_.push_back(std::move(command));
    settled_ = false;
    pending_ = true;
  }
  wake_.notify_all();
}

void Engine::setDocument(const Document& document) {
  post(document);
}

void Engine::setViewing(const Viewing& viewing) {
  post(viewing);
}

void Engine::beginStroke(const StrokeSetting& setting, const PenPoint& point, const QString& name) {
  {
    const std::lock_guard hold(mutex_);
    ++strokesOut_;
  }
  ++pensWaiting_;
  post(Begin{setting, point, name});
}

void Engine::moveStroke(const PenPoint& point) {
  post(point);
}

void Engine::endStroke() {
  post(End{});
}

void Engine::drain() {
  std::unique_lock hold(mutex_);
  idle_.wait(hold, [&] { return commands_.empty() && !working_; });
}

std::vector<FinishedStroke> Engine::finishStrokes() {
  {
    std::unique_lock hold(mutex_);
    idle_.wait(hold, [&] { return strokesOut_ == 0; });
  }
  return takeFinished();
}

std::vector<FinishedStroke> Engine::takeFinished() {
  const std::lock_guard hold(mutex_);
  return std::exchange(finished_, {});
}

void Engine::waitSettled() {
  std::unique_lock hold(mutex_);
  idle_.wait(hold, [&] { return commands_.empty() && !working_ && settled_ && !waiting_ && !spreading_; });
}

void Engine::run() {
  std::unique_lock hold(mutex_);
  for (;;) {
    if (commands_.empty() && settled_) {
      idle_.notify_all();
      wake_.wait(hold, [&] { return quit_ || !commands_.empty(); });
    }
    if (quit_) return;
    working_ = !commands_.empty();
    QElapsedTimer since;
    since.start();
    // pen events are taken together for as long as a frame may wait
    while (!commands_.empty() && since.elapsed() < 10 && !quit_) {
      Command command = std::move(commands_.front());
      commands_.pop_front();
      pending_ = quit_ || !commands_.empty();
      hold.unlock();
      const Outcome done = caught([&]() -> Outcome {
        std::visit([this](auto& c) { handle(c); }, command);
        return Done{};
      });
      if (!done) emit refused(QString::fromStdString(done.error().message()));
      hold.lock();
    }
    const bool wasWorking = working_;
    hold.unlock();
    bool more = true;
    const Outcome drawn = caught([&]() -> Outcome {
      if (wasWorking)
        draw();
      else
        more = settleOnce();
      return Done{};
    });
    if (!drawn) {
      more = false;
      emit refused(QString::fromStdString(drawn.error().message()));
    }
    hold.lock();
    working_ = false;
    settled_ = !more && commands_.empty();
    if (commands_.empty()) idle_.notify_all();
  }
}

// A new surface: nothing of the old one may be looked at any more. False when its rays cannot be had.
bool Engine::takeSurface(const Document& document) {
  emit preparing(true);
  stroke_.reset();
  path_.reset();
  spreader_.giveUp();
  thumbnails_.reset();
  lighting_.reset();
  stack_.clear();
  rays_.reset();
  overlay_.reset();
  lines_.reset();
  seen_.clear();
  auto rays = document.maps->rays([this](float) {
    const std::lock_guard hold(mutex_);
    return !quit_;
  });
  if (rays) {
    rays_ = std::move(*rays);
    lighting_ = std::make_unique<Lighting>(document.surface);
    lighting_->setMillimetres(document.placement.millimetres);
    setLight();
    thumbnails_ = std::make_unique<LayerThumbnails>(*rays_, kThumbnailEdge);
    flood_.prepare(*document.surface);
  } else if (!isCancelled(rays.error())) {
    emit refused(QString::fromStdString(rays.error().message()));
  }
  skin_ = bareSkin(document.surface->size());
  relief_ = ReliefNormals(document.surface);
  stale_.assign(chunkCount(skin_.size()), ChannelSet::all());
  staleCount_ = stale_.size();
  visibilityStale_ = true;
  emit preparing(false);
  return rays_ != nullptr;
}

void Engine::handle(Document& document) {
  const bool newSurface = document.surface != document_.surface;
  const bool newBare = !(document.bare == document_.bare);
  if (newSurface && !takeSurface(document)) {
    // the next one is a new surface again, and nothing is read off this one
    document_ = {};
    const std::lock_guard hold(readings_);
    published_.reset();
    return;
  }
  if (document.hiddenParts != document_.hiddenParts) visibilityStale_ = true;
  if (lighting_) lighting_->setMillimetres(document.placement.millimetres);
  document_ = std::move(document);
  if (newBare) {
    for (ChannelSet& stale : stale_) stale |= Channel::Color;
    staleCount_ = stale_.size();
  }
  takeStack(preparedNow(document_.layers, *document_.maps, stack_));
  if (newSurface || std::ranges::any_of(stack_, [](const PreparedLayer& p) { return p.waiting; })) wish();
  refreshLines();
  if (viewing_.map || viewing_.masked) {
    refreshOverlay();
    owe(wholePicture());
  }
}

// The sculpt's lines, once they are there.
void Engine::refreshLines() {
  lines_.reset();
  if (!viewing_.lines || !document_.maps) return;
  if (!arePolygonLinesReady(*document_.maps)) return;
  if (const auto lines = polygonLinesOf(*document_.maps, *document_.sculpt)) lines_ = *lines;
}

void Engine::markStale(std::span<const uint32_t> chunks, ChannelSet channels) {
  for (const uint32_t c : chunks) {
    staleCount_ += !isStale(c);
    stale_[c] |= channels;
  }
}

// Marks what the new stack changes; what is in the picture is composited at once, the rest at rest.
void Engine::takeStack(PreparedStack stack) {
  stack = linked(std::move(stack), document_.bare, skin_.size(), stack_);
  for (size_t c = 0; c < kChannelCount; ++c) {
    const auto channel = static_cast<Channel>(c);
    markStale(changedChunks(stack_, stack, skin_.size(), channel), channel);
  }
  stack_ = std::move(stack);
  if (thumbnails_) {
    thumbnails_->setStack(stack_, document_.bare);
    thumbnailsLeft_ = true;
  }
  tellTroubles();
  noteWaiting();
  compositeSeen();
}

// What is seen and stale, piece by piece until the pen wants something; the rest follows when it rests.
void Engine::compositeSeen() {
  constexpr size_t kPiece = 8;
  std::vector<uint32_t> left;
  for (const uint32_t c : seen_)
    if (isStale(c)) left.push_back(c);
  std::span<const uint32_t> todo(left);
  while (!todo.empty() && !penWaits()) {
    const size_t n = std::min(kPiece, todo.size());
    compositeNow(todo.first(n));
    oweSeen(todo.first(n));
    todo = todo.subspan(n);
  }
  staleSeen_ = !todo.empty();
  publish();
}

void Engine::compositeNow(std::span<const uint32_t> chunks) {
  const ChannelSet shown = channelsOf(stack_);
  for (size_t i = 0; i < kChannelCount; ++i) {
    const auto channel = static_cast<Channel>(i);
    std::vector<uint32_t> of;
    for (const uint32_t c : chunks)
      if (stale_[c].has(channel)) of.push_back(c);
    // what no layer brings any more is bare again, and costs nothing where it always was
    if (of.empty() || !(shown | skin_.written()).has(channel)) continue;
    updateComposite(skin_, stack_, document_.bare, of, channel);
    if (channel == Channel::Relief)
      relief_.update(skin_.get<Channel::Relief>(), kLevel, document_.reliefStep, of);
  }
  for (const uint32_t c : chunks) {
    staleCount_ -= isStale(c);
    stale_[c] = {};
  }
}

void Engine::oweSeen(std::span<const uint32_t> chunks) {
  owe(rectOfChunks(*document_.surface, viewing_.camera, viewing_.size, chunks));
}

// A piece of what nobody looks at; false when nothing is left.
bool Engine::compositeStale() {
  if (staleCount_ == 0) return false;
  constexpr size_t kPiece = 24;
  std::vector<uint32_t> piece;
  for (uint32_t c = 0; c < stale_.size() && piece.size() < kPiece; ++c)
    if (isStale(c)) piece.push_back(c);
  compositeNow(piece);
  publish();
  return true;
}

void Engine::publish() {
  auto fresh = std::make_shared<Published>(Published{document_, stack_, skin_, stale_, rays_, viewing_});
  const std::lock_guard hold(readings_);
  published_ = std::move(fresh);
}

void Engine::handle(Viewing& viewing) {
  const bool sameRays = viewing.camera == viewing_.camera && viewing.size == viewing_.size;
  if (!sameRays) visibilityStale_ = true;
  if (coarse_ && !viewing.moving) visibilityStale_ = true;
  const bool sameOverlay =
      viewing.map == viewing_.map && viewing.masked == viewing_.masked && viewing.shows == viewing_.shows;
  viewing_ = std::move(viewing);
  owe(wholePicture());
  setLight();
  if (!sameOverlay) {
    refreshOverlay();
    if (viewing_.map && !overlay_ && document_.maps) wish();
  }
  if (viewing_.lines != (lines_ != nullptr)) {
    refreshLines();
    if (viewing_.lines && !lines_ && document_.maps) wish();
  }
  if (document_.surface) publish();
}

void Engine::handle(Begin& begin) {
  --pensWaiting_;
  // light can wander on when the hand rests
  spreader_.giveUp();
  const auto refuse = [&](const QString& why) {
    {
      const std::lock_guard hold(mutex_);
      --strokesOut_;
    }
    emit refused(why);
  };
  if (stroke_) {
    End end;
    handle(end);
  }
  if (!rays_) return refuse(tr("The surface is still being prepared."));
  if (begin.setting.slide && begin.setting.slide->split.part == PhotoPart::Detail) {
    // what it is laid over is the skin as it looks now
    SlidePaint slide = *begin.setting.slide;
    slide.skin = skin_.color();
    begin.setting.slide = std::make_shared<const SlidePaint>(std::move(slide));
  }
  auto stroke = caught([&] { return PaintStroke::begin(document_, begin.setting, flood_); });
  if (!stroke) return refuse(QString::fromStdString(stroke.error().what));
  stroke_ = std::move(*stroke);
  strokeName_ = begin.name;
  path_ = std::make_unique<PenPath>(*rays_, viewing_.camera, viewing_.size, document_.hiddenParts,
                                    begin.setting.brush);
  handle(begin.point);
}

void Engine::handle(PenPoint& point) {
  if (!stroke_) return;
  path_->move(point, stroke_->stroke());
  refreshTouched();
}

void Engine::handle(End&) {
  if (!stroke_) return;
  path_->finish(stroke_->stroke());
  refreshTouched();
  const bool touched = stroke_->stroke().dabCount() > 0;
  if (touched && stroke_->stroke().reached() == 0) emit tooFine();
  auto done = caught([&] { return stroke_->finish(); });
  stroke_.reset();
  path_.reset();
  {
    const std::lock_guard hold(mutex_);
    --strokesOut_;
    if (done && touched) finished_.push_back({*done, strokeName_});
  }
  if (!done) emit refused(QString::fromStdString(done.error().message()));
  if (done && touched) {
    document_ = std::move(*done);
    takeStack(preparedNow(document_.layers, *document_.maps, stack_));
    emit strokeFinished();
  }
  if (preparedMeanwhile_) {
    Prepared prepared;
    handle(prepared);
  }
}

void Engine::handle(Snap& snap) {
  Snapshot out{document_, skin_, relief_, rays_, {}, {}, {}, lines_};
  if (lighting_) {
    out.lit.assign(lighting_->samples().begin(), lighting_->samples().end());
    out.open.assign(lighting_->open().begin(), lighting_->open().end());
    out.by = lighting_->light();
  }
  snap->set_value(std::move(out));
}

// While a stroke goes on only its own layer is exchanged.
void Engine::refreshTouched() {
  std::vector<uint32_t> chunks = stroke_->takeTouched();
  if (chunks.empty()) return;
  if (const LayerPointer now = stroke_->layerNow()) {
    const auto place = std::ranges::find(stack_, now->id, [](const PreparedLayer& p) { return p.layer->id; });
    if (place != stack_.end()) {
      place->layer = now;
      if (now->source->fields()) place->source = *now->source->prepare(*document_.maps);
      // a mask hides all the layer brings
      const ChannelSet worked = stroke_->channels();
      chunks = feltChunks(stack_, now->id, chunks, skin_.size());
      stack_ = linked(stack_, document_.bare, skin_.size(), stack_, chunks);
      markStale(chunks, worked.empty() ? now->source->channels() : worked);
    }
  }
  compositeNow(chunks);
  touched_ = touched_.united(rectOfChunks(*document_.surface, viewing_.camera, viewing_.size, chunks));
  publish();
  if (!viewing_.masked || viewing_.map || viewing_.shows) return;
  if (const PreparedLayer* masked = maskedLayer(); masked && masked->maps && overlay_)
    updateMask(*overlay_, *masked, chunks);
  else
    refreshOverlay();
}

const PreparedLayer* Engine::maskedLayer() const {
  const auto layer =
      std::ranges::find_if(stack_, [&](const PreparedLayer& p) { return p.layer->id == viewing_.masked; });
  return layer == stack_.end() ? nullptr : &*layer;
}

// What lies over the skin now: a map, or a mask with what its maps and its paint hide together.
void Engine::refreshOverlay() {
  overlay_.reset();
  if (!document_.maps) return;
  if (viewing_.shows && viewing_.shows->size() == document_.maps->size()) {
    overlay_ = *viewing_.shows;
    return;
  }
  if (viewing_.map) {
    const MaskTerms shown{*viewing_.map};
    if (!isMaskReady(*document_.maps, shown)) return;
    if (const auto map = maskOf(*document_.maps, shown)) overlay_ = **map;
    return;
  }
  if (!viewing_.masked) return;
  if (*viewing_.masked == kGuard) {
    overlay_ = stroke_ && stroke_->onGuard() ? std::optional(stroke_->mask()) : document_.guard;
    return;
  }
  const PreparedLayer* layer = maskedLayer();
  if (!layer) return;
  if (!layer->maps) {
    overlay_ = layer->layer->mask;
    return;
  }
  overlay_ = wholeMask(*layer, document_.maps->size());
}

}  // namespace juvenor::app
