#include "app/easel/engine.h"

#include <QElapsedTimer>
#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/document/edits.h"
#include "core/render/still.h"

namespace juvenor::app {
namespace {

// What a new surface is first lit with; the rest follows in two more rounds.
constexpr int kFirstLightRays = 4;

// The layer of that id when maps take part in its mask.
const Layer* layerWithMaps(const LayerStack& layers, std::optional<uint32_t> id) {
  if (!id) return nullptr;
  const auto layer = std::ranges::find_if(layers, [&](const auto& l) { return l->id == *id; });
  return layer != layers.end() && !(*layer)->terms.empty() ? layer->get() : nullptr;
}

}  // namespace

Engine::Engine() {
  thread_ = std::thread([this] { run(); });
}

Engine::~Engine() {
  {
    const std::lock_guard hold(mutex_);
    quit_ = true;
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
  }
  wake_.notify_all();
}

void Engine::setDocument(const Document& document) {
  post(document);
}

void Engine::setViewing(const Viewing& viewing) {
  post(viewing);
}

void Engine::beginStroke(const StrokeSetting& setting, const PenPoint& point) {
  post(Begin{setting, point});
}

void Engine::moveStroke(const PenPoint& point) {
  post(point);
}

void Engine::endStroke() {
  post(End{});
}

std::vector<Document> Engine::drain() {
  {
    std::unique_lock hold(mutex_);
    idle_.wait(hold, [&] { return commands_.empty() && !working_; });
  }
  return takeFinished();
}

std::vector<Document> Engine::takeFinished() {
  const std::lock_guard hold(mutex_);
  return std::exchange(finished_, {});
}

void Engine::waitSettled() {
  std::unique_lock hold(mutex_);
  idle_.wait(hold, [&] { return commands_.empty() && !working_ && settled_; });
}

bool Engine::pending() {
  const std::lock_guard hold(mutex_);
  return !commands_.empty() || quit_;
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
      hold.unlock();
      std::visit([this](auto& c) { handle(c); }, command);
      hold.lock();
    }
    const bool wasWorking = working_;
    hold.unlock();
    if (wasWorking) {
      if (rays_) {
        if (visibilityStale_)
          drawMoving();
        else
          shadeDirty();
      }
    }
    const bool more = !wasWorking && settleOnce();
    hold.lock();
    working_ = false;
    if (!wasWorking) settled_ = !more && commands_.empty();
    if (commands_.empty()) idle_.notify_all();
  }
}

void Engine::prepareSurface(const std::shared_ptr<const Surface>& surface) {
  emit preparing(true);
  auto fresh = std::make_shared<Rays>(
      surface, surface->triangles.size() > 1'000'000 ? Rays::Quality::Quick : Rays::Quality::Full);
  {
    const std::lock_guard hold(state_);
    rays_ = std::move(fresh);
  }
  transfer_ = std::make_unique<LightTransfer>(surface->size());
  curvature_ = roughCurvature(*surface);
  lightCursor_ = 0;
  lightRays_ = 0;
  litStale_ = true;
  visibilityStale_ = true;
  emit preparing(false);
}

void Engine::handle(Document& document) {
  const bool newSurface = document.surface != document_.surface;
  if (newSurface) {
    stroke_.reset();
    path_.reset();
    prepareSurface(document.surface);
    document.maps->lendRays(rays_);
  }
  // what is still to be measured is measured before the window's questions have to wait
  (void)prepareLayers(document.layers, *document.maps);
  const bool all = newSurface || !(document.bare == document_.bare);
  const std::vector<uint32_t> chunks =
      all ? std::vector<uint32_t>() : changedChunks(document_.layers, document.layers, *document.maps);
  if (document.hiddenParts != document_.hiddenParts) visibilityStale_ = true;
  const std::lock_guard hold(state_);
  document_ = document;
  if (viewing_.map || viewing_.masked) {
    refreshOverlay(document_.layers, document_.guard);
    dirty_ = {0, 0, viewing_.size.width, viewing_.size.height};
  }
  if (all) {
    composite_ = compositeOf(document_.layers, *document_.maps, document_.bare);
    dirty_ = {0, 0, viewing_.size.width, viewing_.size.height};
  } else {
    updateComposite(composite_, document_.layers, *document_.maps, document_.bare, chunks);
    dirty_ = dirty_.united(rectOfChunks(*document_.surface, viewing_.camera, viewing_.size, chunks));
  }
}

void Engine::handle(Viewing& viewing) {
  const bool sameRays = viewing.camera == viewing_.camera && viewing.size == viewing_.size;
  if (!sameRays) visibilityStale_ = true;
  if (!(viewing.light == viewing_.light)) litStale_ = true;
  if (coarse_ && !viewing.moving) visibilityStale_ = true;
  dirty_ = {0, 0, viewing.size.width, viewing.size.height};
  const std::lock_guard hold(state_);
  viewing_ = viewing;
  refreshOverlay(document_.layers, document_.guard);
}

void Engine::handle(Begin& begin) {
  if (!rays_) return;
  auto stroke = PaintStroke::begin(document_, begin.setting, flood_);
  if (!stroke) {
    emit refused(QString::fromStdString(stroke.error().what));
    return;
  }
  stroke_ = std::move(*stroke);
  path_ = std::make_unique<PenPath>(*rays_, viewing_.camera, viewing_.size, document_.hiddenParts,
                                    begin.setting.brush);
  handle(begin.point);
}

void Engine::handle(PenPoint& point) {
  if (!stroke_) return;
  path_->move(point, stroke_->stroke());
  const std::vector<uint32_t> chunks = stroke_->field().takeTouched();
  if (!chunks.empty()) refreshTouched(chunks, stroke_->layersNow());
}

void Engine::handle(End&) {
  if (!stroke_) return;
  path_->finish(stroke_->stroke());
  const std::vector<uint32_t> chunks = stroke_->field().takeTouched();
  if (!chunks.empty()) refreshTouched(chunks, stroke_->layersNow());
  const bool touched = stroke_->stroke().dabCount() > 0;
  if (touched && stroke_->stroke().reached() == 0) emit tooFine();
  Document done = stroke_->finish();
  stroke_.reset();
  path_.reset();
  if (!touched) return;
  {
    const std::lock_guard hold(state_);
    document_ = done;
  }
  {
    const std::lock_guard hold(mutex_);
    finished_.push_back(std::move(done));
  }
  emit strokeFinished();
}

void Engine::refreshTouched(std::span<const uint32_t> chunks, const LayerStack& layers) {
  const std::lock_guard hold(state_);
  updateComposite(composite_, layers, *document_.maps, document_.bare, chunks);
  const Layer* masked = layerWithMaps(layers, viewing_.map ? std::nullopt : viewing_.masked);
  if (overlay_ && masked)
    refreshOverlayChunks(*masked, chunks);
  else if (overlay_ || viewing_.masked)
    refreshOverlay(layers, stroke_ && !stroke_->field().isColor() ? std::optional(stroke_->field().scalar())
                                                                  : document_.guard);
  dirty_ = dirty_.united(rectOfChunks(*document_.surface, viewing_.camera, viewing_.size, chunks));
}

ShadeInput Engine::shadeInput() const {
  ShadeInput in;
  in.surface = document_.surface.get();
  in.composite = &composite_;
  in.lit = &lit_;
  in.camera = viewing_.camera;
  in.light = viewing_.light;
  in.view = viewing_.view;
  in.background = viewing_.background;
  if (overlay_) {
    in.overlay = &*overlay_;
    in.overlayLook = viewing_.map ? viewing_.mapLook : OverlayLook::Mask;
  }
  const auto pixels = static_cast<size_t>(viewing_.size.width) * static_cast<size_t>(viewing_.size.height);
  if (viewing_.behind && viewing_.behind->size() == pixels) in.behind = *viewing_.behind;
  return in;
}

// What lies over the skin now: a map, or a mask with what its maps and its paint hide together.
void Engine::refreshOverlay(const LayerStack& layers, const std::optional<ScalarField>& guard) {
  overlay_.reset();
  if (!document_.maps) return;
  if (viewing_.map) {
    if (const auto map = maskOf(*document_.maps, {*viewing_.map})) overlay_ = **map;
    return;
  }
  if (!viewing_.masked) return;
  if (*viewing_.masked == kGuard) {
    overlay_ = guard;
    return;
  }
  const auto layer = std::ranges::find_if(layers, [&](const auto& l) { return l->id == *viewing_.masked; });
  if (layer == layers.end()) return;
  if ((*layer)->terms.empty()) {
    overlay_ = (*layer)->mask;
    return;
  }
  overlay_ = ScalarField(document_.maps->size(), {65535});
  std::vector<uint32_t> all(overlay_->chunkCount());
  std::iota(all.begin(), all.end(), 0);
  refreshOverlayChunks(**layer, all);
}

// What the maps and the paint of a layer's mask hide together, in some chunks.
void Engine::refreshOverlayChunks(const Layer& layer, std::span<const uint32_t> chunks) {
  for (const uint32_t c : chunks) {
    auto scratch = std::make_shared<ScalarChunk>();
    if (const ScalarChunk* mask = maskChunk(layer, *document_.maps, c, *scratch);
        mask && mask != scratch.get())
      *scratch = *mask;
    overlay_->setChunk(c, std::move(scratch));
  }
}

void Engine::emitFrame(const PixelRect& rect) {
  const int w = rect.right - rect.left, h = rect.bottom - rect.top;
  const QImage whole(reinterpret_cast<const uchar*>(frame_.data()), viewing_.size.width, viewing_.size.height,
                     viewing_.size.width * 4, QImage::Format_RGB32);
  if (viewing_.view == View::Value) {
    emit valuesCounted(valueHistogram(visibility_, frame_));
    if (viewing_.check.active()) {
      std::vector<uint32_t> checked = frame_;
      checkValues(viewing_.check, visibility_, checked);
      emit frameReady(QImage(reinterpret_cast<const uchar*>(checked.data()), viewing_.size.width,
                             viewing_.size.height, viewing_.size.width * 4, QImage::Format_RGB32)
                          .copy(),
                      {0, 0});
      return;
    }
  }
  emit frameReady(whole.copy(rect.left, rect.top, w, h), {rect.left, rect.top});
}

// Lights the samples anew where the view needs it and the light or its rays changed.
void Engine::relight() {
  if (!litStale_ || viewing_.view < View::Clay) return;
  lit_ = litSamples(*document_.surface, *transfer_, curvature_, viewing_.light);
  litStale_ = false;
}

void Engine::shadeDirty() {
  const PixelRect rect = dirty_.clipped(viewing_.size);
  dirty_ = {};
  if (rect.empty() || coarse_) return;
  edgePasses_ = 0;
  relight();
  shade(shadeInput(), visibility_, rect, frame_);
  emitFrame(rect);
}

// The quickest whole picture: fewer pixels when a full frame takes too long for a moving hand.
void Engine::drawMoving() {
  if (!viewing_.moving || fullCost_ < 0.045) {
    if (drawFull()) return;
  }
  const int part = fullCost_ < 0.1 ? 2 : 3;
  relight();
  const ViewSize small{std::max(1, viewing_.size.width / part), std::max(1, viewing_.size.height / part)};
  VisibilityImage visibility;
  castVisibility(*rays_, viewing_.camera, small, {0.5f, 0.5f}, document_.hiddenParts, visibility);
  std::vector<uint32_t> pixels(visibility.triangle.size());
  ShadeInput input = shadeInput();
  input.behind = {};
  shade(input, visibility, {0, 0, small.width, small.height}, pixels);
  const QImage image(reinterpret_cast<const uchar*>(pixels.data()), small.width, small.height,
                     small.width * 4, QImage::Format_RGB32);
  emit frameReady(image.scaled(viewing_.size.width, viewing_.size.height, Qt::IgnoreAspectRatio,
                               Qt::SmoothTransformation),
                  {0, 0});
  coarse_ = true;
  visibilityStale_ = false;
  dirty_ = {};
}

// The whole picture with one ray a pixel. False when something newer came in between.
bool Engine::drawFull() {
  QElapsedTimer timer;
  timer.start();
  relight();
  const bool whole = castVisibility(*rays_, viewing_.camera, viewing_.size, {0.5f, 0.5f},
                                    document_.hiddenParts, visibility_);
  if (!whole) return false;
  frame_.resize(visibility_.triangle.size());
  shade(shadeInput(), visibility_, {0, 0, viewing_.size.width, viewing_.size.height}, frame_);
  emitFrame({0, 0, viewing_.size.width, viewing_.size.height});
  coarse_ = false;
  visibilityStale_ = false;
  dirty_ = {};
  edgePasses_ = 0;
  fullCost_ = static_cast<double>(timer.nsecsElapsed()) * 1e-9;
  return true;
}

// One small piece of settling; false when nothing is left to do.
bool Engine::settleOnce() {
  if (!rays_ || stroke_) return false;
  if (coarse_ || visibilityStale_) {
    if (viewing_.moving) return false;
    drawFull();
    return true;
  }
  if (viewing_.view >= View::Clay && lightRays_ < kFirstLightRays) return settleLight();
  if (edgePasses_ < kSettledEdgeRays) return settleEdges();
  if (viewing_.view >= View::Clay && lightRays_ < kSettledLightRays) return settleLight();
  return false;
}

bool Engine::settleLight() {
  const size_t samples = document_.surface->size();
  const int rays = lightRays_ < kFirstLightRays ? kFirstLightRays : (kSettledLightRays - kFirstLightRays) / 2;
  const size_t end = std::min(samples, lightCursor_ + 65536);
  transfer_->addRays(*rays_, lightCursor_, end, rays);
  lightCursor_ = end;
  if (end < samples) return true;
  lightCursor_ = 0;
  lightRays_ += rays;
  litStale_ = true;
  dirty_ = {0, 0, viewing_.size.width, viewing_.size.height};
  shadeDirty();
  return true;
}

bool Engine::settleEdges() {
  const size_t n = frame_.size();
  const auto add = [&](const std::vector<uint32_t>& pixels) {
    for (size_t i = 0; i < n; ++i)
      for (size_t c = 0; c < 3; ++c)
        edgeSums_[i][c] = static_cast<uint16_t>(edgeSums_[i][c] + ((pixels[i] >> (16 - 8 * c)) & 0xff));
  };
  if (edgePasses_ == 0) {
    edgeSums_.assign(n, {});
    shade(shadeInput(), visibility_, {0, 0, viewing_.size.width, viewing_.size.height}, frame_);
    add(frame_);
    edgePasses_ = 1;
    return true;
  }
  VisibilityImage visibility;
  if (!castVisibility(*rays_, viewing_.camera, viewing_.size, jitterOf(edgePasses_), document_.hiddenParts,
                      visibility, [this] { return pending(); }))
    return true;
  std::vector<uint32_t> pixels(n);
  shade(shadeInput(), visibility, {0, 0, viewing_.size.width, viewing_.size.height}, pixels);
  add(pixels);
  const auto passes = static_cast<uint32_t>(++edgePasses_);
  for (size_t i = 0; i < n; ++i) {
    uint32_t p = 0xff;
    for (size_t c = 0; c < 3; ++c) p = p << 8 | ((edgeSums_[i][c] + passes / 2) / passes);
    frame_[i] = p;
  }
  emitFrame({0, 0, viewing_.size.width, viewing_.size.height});
  return true;
}

std::shared_ptr<const Rays> Engine::rays() {
  const std::lock_guard hold(state_);
  return rays_;
}

ColorField Engine::composite() {
  const std::lock_guard hold(state_);
  return composite_;
}

std::optional<Probe> Engine::probe(const Vec2& pixel) {
  const std::lock_guard hold(state_);
  if (!rays_ || rays_->sharedSurface() != document_.surface) return std::nullopt;
  const Ray ray = rayThrough(viewing_.camera, viewing_.size, pixel);
  const auto hit = rays_->first(ray, document_.hiddenParts);
  if (!hit) return std::nullopt;
  const float w = 1 - hit->u - hit->v;
  const Triangle& t = document_.surface->triangles[hit->triangle];
  Probe out;
  out.point = rays_->pointOf(*hit, -ray.direction);
  out.sample = w >= hit->u && w >= hit->v ? t[0] : hit->u >= hit->v ? t[1] : t[2];
  out.composite = straight(colorAt(composite_, out.sample));
  if (const LayerPointer layer = layerOf(document_, document_.activeLayer)) {
    if (const auto chunk =
            ownChunk(document_.layers, layer->id, *document_.maps, document_.bare, out.sample / kChunkSize)) {
      const Rgba16 c = sampleOf(*chunk, out.sample % kChunkSize);
      if (c.a > 0) out.layer = straight(c);
    }
  }
  return out;
}

QImage Engine::still(const Viewing& viewing, int smooth) {
  drain();
  waitSettled();
  const std::lock_guard hold(state_);
  ShadeInput input = shadeInput();
  input.camera = viewing.camera;
  input.view = viewing.view;
  input.overlay = nullptr;
  input.behind = {};
  const auto pixels = picture(*rays_, input, viewing.size, document_.hiddenParts, smooth);
  return QImage(reinterpret_cast<const uchar*>(pixels.data()), viewing.size.width, viewing.size.height,
                viewing.size.width * 4, QImage::Format_RGB32)
      .copy();
}

}  // namespace juvenor::app
