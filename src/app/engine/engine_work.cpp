// Documents, views and the composite: what is to be shown.
#include "app/engine/engine_work.h"

#include <algorithm>

namespace juvenor::app {

EngineWork::EngineWork(EngineQueue& queue, Readings& readings, EngineSignals& tells)
    : queue_(queue),
      readings_(readings),
      tells_(tells),
      sheet_(tells),
      preparer_([this] { queue_.post(Prepared{}); },
                [this](Preparer::Glimpses glimpses) { queue_.post(std::move(glimpses)); }),
      spreader_([this](Spreader::Done done) { queue_.post(std::move(done)); }),
      grower_([this](Grower::Done done) { queue_.post(std::move(done)); }) {}

// Nothing of it is kept, and nothing may be looked at any more.
void EngineWork::forgetSurface() {
  stroke_.reset();
  kept_.reset();
  tuned_.reset();
  forgetOwn();
  path_.reset();
  spreader_.giveUp();
  forgetHair();
  queue_.noteGrowing(false);
  thumbnails_.reset();
  lighting_.reset();
  stack_.clear();
  still_.clear();
  rays_.reset();
  overlay_.reset();
  lines_.reset();
  moving_.forget();
  seen_.clear();
  onEasel_.clear();
  sheet_.setSurface(nullptr);
}

// False when the rays of the new one cannot be had.
bool EngineWork::takeSurface(const Document& document) {
  emit tells_.preparing(true);
  forgetSurface();
  auto rays = document.maps->rays([this](float) { return !queue_.quitting(); });
  if (rays) {
    rays_ = std::move(*rays);
    lighting_ = std::make_unique<Lighting>(document.surface);
    lighting_->setMillimetres(document.placement.millimetres);
    lighting_->setHidden(document.hiddenParts);
    setLight();
    thumbnails_ = std::make_unique<LayerThumbnails>(*rays_, kThumbnailEdge);
    flood_.prepare(*document.surface);
  } else if (!isCancelled(rays.error())) {
    emit tells_.refused(QString::fromStdString(rays.error().message()));
  }
  sheet_.setSurface(document.surface);
  skin_ = bareSkin(document.surface->size());
  relief_ = ReliefNormals(document.surface);
  stale_.assign(chunkCount(skin_.size()), ChannelSet::all());
  staleCount_ = stale_.size();
  visibilityStale_ = true;
  emit tells_.preparing(false);
  return rays_ != nullptr;
}

void EngineWork::handle(Document& document) {
  if (!document.surface) {
    forgetSurface();
    preparer_.forget();
    readings_.clear();
    document_ = {};
    skin_ = {};
    relief_ = {};
    stale_.clear();
    staleCount_ = 0;
    return;
  }
  const bool newSurface = document.surface != document_.surface;
  const bool newBare = !(document.bare == document_.bare);
  if (newSurface && !takeSurface(document)) {
    // the next one is a new surface again, and nothing is read off this one
    document_ = {};
    readings_.clear();
    return;
  }
  if (document.hiddenParts != document_.hiddenParts) {
    visibilityStale_ = true;
    moving_.forget();
    sheet_.forgetRays();
  }
  if (lighting_) {
    lighting_->setMillimetres(document.placement.millimetres);
    lighting_->setHidden(document.hiddenParts);
  }
  document_ = std::move(document);
  setLight();
  if (newBare) {
    for (ChannelSet& stale : stale_) stale |= Channel::Color;
    staleCount_ = stale_.size();
    tuned_.reset();
  }
  takeStack(preparedNow(document_.layers, *document_.maps, still_));
  if (newSurface || std::ranges::any_of(stack_, [](const PreparedLayer& p) { return p.waiting; })) wish();
  refreshLines();
  if (viewing_.map || viewing_.masked) {
    refreshOverlay();
    oweAll();
  }
}

void EngineWork::handle(SheetViewing& viewing) {
  const bool squares = viewing.squares != sheet_.viewing().squares ||
                       (viewing.squares && viewing.sheet != sheet_.viewing().sheet);
  sheet_.take(std::move(viewing));
  if (squares) owe(wholePicture());
  if (document_.surface) publish();
}

void EngineWork::handle(Viewing& viewing) {
  const bool sameRays = viewing.camera == viewing_.camera && viewing.size == viewing_.size;
  if (!sameRays) visibilityStale_ = true;
  if (coarse_ && !viewing.moving) visibilityStale_ = true;
  const bool sameOverlay = viewing.map == viewing_.map && viewing.masked == viewing_.masked &&
                           viewing.shows == viewing_.shows && viewing.showsLook == viewing_.showsLook;
  const bool sameScale = viewing.view == viewing_.view && viewing.channel == viewing_.channel;
  const bool sameSkin = sameOverlay && sameScale && viewing.own == viewing_.own &&
                        viewing.light == viewing_.light && viewing.lightFollows == viewing_.lightFollows &&
                        viewing.background == viewing_.background && viewing.lines == viewing_.lines;
  // the light on flat colours is the same from everywhere
  const bool sameSheet = sameSkin && (sameRays || viewing.view < View::Clay);
  viewing_ = std::move(viewing);
  if (viewing_.moving && transferUnderWay_) spreader_.giveUp();
  if (!sameScale && document_.surface) measureHeights();
  owe(wholePicture());
  if (!sameSkin) moving_.forget();
  if (!sameSheet) sheet_.oweAll();
  setLight();
  if (!sameOverlay) {
    refreshOverlay();
    if (viewing_.map && !overlay_ && document_.maps) wish();
  }
  if (!sameOverlay || !sameScale) showHair();
  if (viewing_.lines != (lines_ != nullptr)) {
    refreshLines();
    if (viewing_.lines && !lines_ && document_.maps) wish();
  }
  if (document_.surface) publish();
}

void EngineWork::markStale(std::span<const uint32_t> chunks, ChannelSet channels) {
  // (a mask over a layer that brings nothing yet)
  if (channels.empty()) return;
  for (const uint32_t c : chunks) {
    staleCount_ += !isStale(c);
    stale_[c] |= channels;
  }
}

// Marks what the new stack changes; what is in the picture is composited at once, the rest at rest.
void EngineWork::takeStack(PreparedStack stack) {
  stack = linked(std::move(stack), document_.bare, skin_.size(), stack_);
  for (size_t c = 0; c < kChannelCount; ++c) {
    const auto channel = static_cast<Channel>(c);
    markStale(changedChunks(stack_, stack, skin_.size(), channel), channel);
  }
  const uint32_t tuned = kept_ ? 0 : tunedLayer(stack_, stack);
  if (tuned == 0)
    tuned_.reset();
  else if (!tuned_ || tuned_->painted() != tuned)
    tuned_.emplace(tuned);
  stack_ = std::move(stack);
  still_ = stack_;
  corneas_ = corneasOf(document_.layers);
  forgetOwn();
  if (kept_) kept_.emplace(kept_->painted());
  if (thumbnails_) {
    thumbnails_->setStack(stack_, document_.bare);
    thumbnailsLeft_ = true;
  }
  tellTroubles();
  noteWaiting();
  refreshHair();
  compositeSeen();
}

// What is seen and stale, piece by piece until the pen wants something; the rest follows when it rests.
void EngineWork::compositeSeen() {
  constexpr size_t kPiece = 16;
  std::vector<uint32_t> left;
  for (const uint32_t c : seen_)
    if (isStale(c)) left.push_back(c);
  std::span<const uint32_t> todo(left);
  while (!todo.empty() && !penWaits()) {
    const size_t n = std::min(kPiece, todo.size());
    compositeNow(todo.first(n), true);
    oweSeen(todo.first(n));
    todo = todo.subspan(n);
  }
  staleSeen_ = !todo.empty();
  publish();
}

void EngineWork::compositeNow(std::span<const uint32_t> chunks, bool tuning) {
  KeptChunks* kept = kept_ ? &*kept_ : tuning && tuned_ ? &*tuned_ : nullptr;
  const ChannelSet shown = channelsOf(stack_);
  for (size_t i = 0; i < kChannelCount; ++i) {
    const auto channel = static_cast<Channel>(i);
    std::vector<uint32_t> of;
    for (const uint32_t c : chunks)
      if (stale_[c].has(channel)) of.push_back(c);
    // what no layer brings any more is bare again, and costs nothing where it always was
    if (of.empty() || !(shown | skin_.written()).has(channel)) continue;
    if (kept)
      updateComposite(skin_, stack_, document_.bare, of, channel, *kept);
    else
      updateComposite(skin_, stack_, document_.bare, of, channel);
    if (channel == Channel::Relief)
      relief_.update(skin_.get<Channel::Relief>(), kLevel, document_.reliefStep, of);
  }
  for (const uint32_t c : chunks) {
    staleCount_ -= isStale(c);
    stale_[c] = {};
  }
  staleOwn(chunks);
}

void EngineWork::oweSeen(std::span<const uint32_t> chunks) {
  sheet_.owe(chunks);
  owe(rectOfChunks(*document_.surface, viewing_.camera, viewing_.size, chunks));
}

// A piece of what nobody looks at; false when nothing is left.
bool EngineWork::compositeStale() {
  if (staleCount_ == 0) return false;
  constexpr size_t kPiece = 24;
  std::vector<uint32_t> piece;
  for (uint32_t c = 0; c < stale_.size() && piece.size() < kPiece; ++c)
    if (isStale(c)) piece.push_back(c);
  compositeNow(piece);
  publish();
  return true;
}

void EngineWork::publish() {
  readings_.publish({document_, still_, skin_, stale_, rays_, viewing_, sheet_.viewing()});
}

void EngineWork::handle(Snap& snap) {
  Snapshot out{document_, skin_, relief_, rays_, {}, {}, {}, {}, lines_, hair_};
  if (lighting_) {
    out.lit.assign(lighting_->samples().begin(), lighting_->samples().end());
    out.open.assign(lighting_->open().begin(), lighting_->open().end());
    out.received.assign(lighting_->received().begin(), lighting_->received().end());
    out.by = lighting_->light();
  }
  snap->set_value(std::move(out));
}

}  // namespace juvenor::app
