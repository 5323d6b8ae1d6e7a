// How the engine draws what is dirty, and how the picture comes to rest.
#include <QElapsedTimer>
#include <algorithm>
#include <cmath>

#include "app/engine/engine_work.h"
#include "core/render/enlarged.h"
#include "core/render/still.h"

namespace juvenor::app {

ShadeInput EngineWork::shadeInput() const {
  ShadeInput in =
      shadeInputOf(*document_.surface, shownSkin(), lighting_->samples(), stillSettingOf(viewing_));
  if (relief_.any()) in.relief = &relief_;
  in.reliefStep = document_.reliefStep;
  in.channel.height = shownHeight_;
  if (lines_) in.lines = *lines_;
  in.squares = sheet_.squares();
  in.open = lighting_->open();
  in.received = lighting_->received();
  in.by = &lighting_->light();
  if (lit() && !lighting_->seenIsLit()) in.lighting = lighting_.get();
  in.corneas = corneas_;
  in.rays = rays_.get();
  in.hair = shownHair();
  if (overlay_) {
    in.overlay = &*overlay_;
    in.overlayLook = viewing_.shows ? viewing_.showsLook
                     : viewing_.map ? viewing_.mapLook
                                    : OverlayLook::Mask;
  }
  const auto pixels = static_cast<size_t>(viewing_.size.width) * static_cast<size_t>(viewing_.size.height);
  if (viewing_.behind && viewing_.behind->size() == pixels) in.behind = *viewing_.behind;
  return in;
}

// Left of the line to compare at, the other skin; under the same light. `shaded(input, rect)` shades.
template <class Shaded>
bool EngineWork::shadeSides(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& rect,
                            Shaded shaded) const {
  const ComparedSkin* other = viewing_.compared.get();
  const int line = other && other->surface == document_.surface
                       ? viewing_.comparedUpTo * visibility.size.width / std::max(1, viewing_.size.width)
                       : 0;
  PixelRect left = rect, right = rect;
  left.right = std::min(rect.right, line);
  right.left = std::max(rect.left, line);
  if (!left.empty()) {
    ShadeInput then = input;
    then.skin = &other->skin;
    then.relief = other->relief.any() ? &other->relief : nullptr;
    if (!shaded(then, left)) return false;
  }
  return right.empty() || shaded(input, right);
}

void EngineWork::shadeSkin(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& rect,
                           std::vector<uint32_t>& out) const {
  shadeSides(input, visibility, rect, [&](const ShadeInput& side, const PixelRect& part) {
    return shade(side, visibility, part, out);
  });
}

void EngineWork::emitFrame(const PixelRect& rect) {
  const int w = rect.right - rect.left, h = rect.bottom - rect.top;
  const QImage whole(reinterpret_cast<const uchar*>(frame_.data()), viewing_.size.width, viewing_.size.height,
                     viewing_.size.width * 4, QImage::Format_RGB32);
  if (viewing_.view == View::Value) {
    emit tells_.valuesCounted(valueHistogram(visibility_, frame_));
    if (viewing_.check.active()) {
      checked_.resize(frame_.size());
      const PixelRect touched = touchedBy(viewing_.check, rect, viewing_.size);
      checkValues(viewing_.check, visibility_, frame_, touched, checked_);
      const QImage checked(reinterpret_cast<const uchar*>(checked_.data()), viewing_.size.width,
                           viewing_.size.height, viewing_.size.width * 4, QImage::Format_RGB32);
      emit tells_.frameReady(
          checked.copy(touched.left, touched.top, touched.right - touched.left, touched.bottom - touched.top),
          {touched.left, touched.top});
      return;
    }
  }
  emit tells_.frameReady(whole.copy(rect.left, rect.top, w, h), {rect.left, rect.top});
}

void EngineWork::draw() {
  if (!rays_) return;
  freshenOwn();
  drawEasel();
  drawSheet();
}

void EngineWork::drawSheet() {
  if (sheetWaits()) return;
  if (sheet_.hurries()) {
    if (sheet_.drawSmall(shadeInput(), document_.hiddenParts)) lookAtSeen();
    return;
  }
  if (sheet_.cast(document_.hiddenParts)) lookAtSeen();
  // what the pen touches is shaded whatever waits
  sheet_.shadeOwed(shadeInput(), [this] { return !stroke_ && penWaits(); });
}

void EngineWork::drawEasel() {
  const bool lightMoved = std::exchange(lightMoved_, false);
  if (visibilityStale_) {
    drawMoving();
    return;
  }
  shadeTouched();
  if (lightMoved && !stroke_ && sketchLight()) return;
  // a hand that paints is not kept waiting for the rest, nor is one about to
  while (!stroke_ && !penWaits() && shadeOwed()) {
  }
}

// What the pen has just painted.
void EngineWork::shadeTouched() {
  const PixelRect rect = std::exchange(touched_, {}).clipped(viewing_.size);
  if (rect.empty() || coarse_) return;
  edges_.begin(rect);
  shadeSkin(shadeInput(), visibility_, rect, frame_);
  emitFrame(rect);
}

void EngineWork::owe(const PixelRect& rect) {
  owed_ = owed_.united(rect);
}

void EngineWork::oweAll() {
  moving_.forget();
  owe(wholePicture());
  sheet_.oweAll();
}

// A band of what is to be shaded beside what the pen paints; it is sent when all of it is there. False when
// nothing is left.
bool EngineWork::shadeOwed() {
  constexpr int kBand = 32;
  if (coarse_) owed_ = {};
  PixelRect band = owed_ = owed_.clipped(viewing_.size);
  if (band.empty()) return false;
  band.bottom = std::min(band.bottom, band.top + kBand);
  if (owed_ == wholePicture())
    edges_.begin();
  else
    edges_.begin(band);
  shadeSkin(shadeInput(), visibility_, band, frame_);
  shaded_ = shaded_.united(band);
  owed_.top = band.bottom;
  if (owed_.empty()) {
    const PixelRect done = std::exchange(shaded_, {});
    emitFrame(done);
  }
  return true;
}

// The picture behind the sculpt in fewer pixels; empty when there is none.
std::vector<uint32_t> EngineWork::behindAt(const ViewSize& size) const {
  std::vector<uint32_t> out;
  const auto& [width, height] = viewing_.size;
  if (!viewing_.behind || viewing_.behind->size() != static_cast<size_t>(width) * static_cast<size_t>(height))
    return out;
  for (int y = 0; y < size.height; ++y)
    for (int x = 0; x < size.width; ++x)
      out.push_back(
          (*viewing_.behind)[static_cast<size_t>(y * height / size.height) * static_cast<size_t>(width) +
                             static_cast<size_t>(x * width / size.width)]);
  return out;
}

// The pixels of a picture that has `part` × `part` of the whole one's in each.
std::vector<uint32_t> EngineWork::shadedSmall(const VisibilityImage& visibility) const {
  std::vector<uint32_t> pixels(visibility.triangle.size());
  ShadeInput input = shadeInput();
  const std::vector<uint32_t> behind = behindAt(visibility.size);
  input.behind = behind;
  shadeSkin(input, visibility, {0, 0, visibility.size.width, visibility.size.height}, pixels);
  return pixels;
}

void EngineWork::emitEnlarged(std::span<const uint32_t> pixels, int part) {
  const auto& [width, height] = viewing_.size;
  QImage image(width, height, QImage::Format_RGB32);
  enlarge(
      pixels, part, viewing_.size,
      {reinterpret_cast<uint32_t*>(image.bits()), static_cast<size_t>(width) * static_cast<size_t>(height)});
  emit tells_.frameReady(image, {0, 0});
}

// The quickest whole picture: fewer pixels when a full frame takes too long for a moving hand.
void EngineWork::drawMoving() {
  if (!viewing_.moving || fullCost_ < 0.045) {
    if (drawFull()) {
      const int all = viewing_.size.width * viewing_.size.height;
      if (viewing_.moving) emit tells_.castWhileMoving(all, all);
      return;
    }
  }
  // what a hand can turn smoothly; a ninth of the pixels where a quarter takes longer
  constexpr double kSmooth = 0.045;
  QElapsedTimer timer;
  timer.start();
  // (left of a line to compare at another skin is seen)
  if (viewing_.compared) moving_.forget();
  if (moving_.rests() && visibility_.size == viewing_.size)
    moving_.startFrom(visibility_, frame_, *document_.surface, movingPart_);
  moving_.see(*rays_, viewing_.camera, viewing_.size, movingPart_, document_.hiddenParts, lit(), shownHair());
  // what is carried over was looked at when it was cast
  if (moving_.carries())
    lookAtAlso(moving_.fresh());
  else
    lookAt(moving_.visibility());
  emitEnlarged(moving_.shaded(shadedSmall(moving_.fresh())), movingPart_);
  emit tells_.castWhileMoving(static_cast<int>(moving_.visibility().triangle.size()),
                              static_cast<int>(moving_.raysCast()));
  // (the first picture carries nothing over)
  if (moving_.carries() && static_cast<double>(timer.nsecsElapsed()) * 1e-9 > kSmooth) movingPart_ = 3;
  coarse_ = true;
  visibilityStale_ = false;
  touched_ = owed_ = shaded_ = {};
}

// A light that is being moved shows at once, with fewer pixels; the rest follows at rest. False when a whole
// picture takes no longer.
bool EngineWork::sketchLight() {
  constexpr int kManyPixels = 260'000;
  const int w = viewing_.size.width, h = viewing_.size.height;
  if (coarse_ || !lit() || w * h < kManyPixels) return false;
  const int part = std::max(2, static_cast<int>(std::lround(std::sqrt(w * h / double{kManyPixels}))));
  VisibilityImage some;
  some.resize(partOf(viewing_.size, part));
  for (int y = 0; y < some.size.height; ++y)
    for (int x = 0; x < some.size.width; ++x) {
      const auto to = static_cast<size_t>(y) * static_cast<size_t>(some.size.width) + static_cast<size_t>(x);
      const auto from = static_cast<size_t>(std::min(h - 1, y * part + part / 2)) * static_cast<size_t>(w) +
                        static_cast<size_t>(std::min(w - 1, x * part + part / 2));
      some.triangle[to] = visibility_.triangle[from];
      some.weights[to] = visibility_.weights[from];
      if (!visibility_.fibre.empty()) some.fibre.push_back(visibility_.fibre[from]);
    }
  emitEnlarged(shadedSmall(some), part);
  return true;
}

// Everything a picture with these pixels shows is composited and lit.
void EngineWork::lookAt(const VisibilityImage& visibility) {
  onEasel_ = chunksSeen(*document_.surface, visibility);
  lookAtSeen();
}

// A ray beside the first may meet a chunk that no pixel showed so far.
void EngineWork::lookAtAlso(const VisibilityImage& visibility) {
  const std::vector<uint32_t> more = chunksSeen(*document_.surface, visibility);
  if (std::ranges::includes(onEasel_, more)) return;
  std::vector<uint32_t> both;
  std::ranges::set_union(onEasel_, more, std::back_inserter(both));
  onEasel_ = std::move(both);
  lookAtSeen();
}

void EngineWork::lookAtSeen() {
  seen_.clear();
  std::ranges::set_union(onEasel_, sheet_.seen(), std::back_inserter(seen_));
  std::vector<uint32_t> stale;
  for (const uint32_t c : seen_)
    if (isStale(c)) stale.push_back(c);
  if (!stale.empty()) {
    compositeNow(stale);
    publish();
  }
  staleSeen_ = false;
  lighting_->setSeen(seen_);
}

// The whole picture with one ray a pixel. False when something newer came in between.
bool EngineWork::drawFull() {
  QElapsedTimer timer;
  timer.start();
  if (!castVisibility(*rays_, viewing_.camera, viewing_.size, {0.5f, 0.5f}, document_.hiddenParts,
                      visibility_))
    return false;
  seeHair(visibility_, {0.5f, 0.5f}, wholePicture());
  lookAt(visibility_);
  frame_.resize(visibility_.triangle.size());
  shadeSkin(shadeInput(), visibility_, wholePicture(), frame_);
  emitFrame(wholePicture());
  coarse_ = false;
  visibilityStale_ = false;
  touched_ = owed_ = shaded_ = {};
  edges_.begin();
  moving_.rest(viewing_.camera);
  movingPart_ = 2;
  fullCost_ = static_cast<double>(timer.nsecsElapsed()) * 1e-9;
  return true;
}

// One small piece of settling. Smooth edges take many pictures, and the next touch makes them stale: they
// wait until the hand rests.
EngineQueue::Left EngineWork::settleOnce() {
  using enum EngineQueue::Left;
  const auto andOn = [](bool did) { return did ? More : Nothing; };
  if (!rays_) return Nothing;
  if (coarse_ || visibilityStale_) {
    if (viewing_.moving) return Nothing;
    drawFull();
    return More;
  }
  if (shadeOwed()) return More;
  if (!sheetWaits()) {
    drawSheet();
    return More;
  }
  if (staleSeen_) {
    compositeSeen();
    return More;
  }
  if (stroke_) return Nothing;
  if (settleThumbnails()) return More;
  if (lit() && lighting_->firstRaysMissing()) return andOn(settleLight());
  // light that comes soon would make smooth edges stale at once; the sky's takes long
  const bool missing = !edges_.smooth() || sheet_.rough(), edges = missing && queue_.handRests();
  if (edges && lit() && lighting_->skyIsMissing()) return andOn(settleEdges());
  if (lit() && settleLight()) return More;
  if (compositeStale()) return More;
  beginSpreading();
  if (missing && !edges) return Later;
  if (edges && !queue_.spreading()) return andOn(settleEdges());
  if (!missing) beginTransfer();
  return Nothing;
}

// Clay's light goes with the view, but only who looks at clay waits for it.
void EngineWork::setLight() {
  if (!lighting_) return;
  if (lighting_->setLight(worldLight(),
                          viewing_.view == View::Clay ? viewAxes(viewing_.camera) : lighting_->clayFrom()))
    lightMoved_ = true;
}

void EngineWork::beginSpreading() {
  if (!spreads() || stroke_ || (queue_.spreading() && !transferUnderWay_)) return;
  auto received = lighting_->toSpread();
  if (!received) return;
  // what is only prepared makes way for what is looked at
  if (queue_.spreading()) return spreader_.giveUp();
  queue_.noteSpreading(true);
  spreader_.spread(std::move(*received), document_.maps);
}

// When nothing else is to be done: how any light of the sky leaves the skin.
void EngineWork::beginTransfer() {
  if (queue_.spreading() || !spreads() || stroke_ || viewing_.moving) return;
  auto piece = lighting_->transferToSpread();
  if (!piece) return;
  queue_.noteSpreading(true);
  transferUnderWay_ = true;
  spreader_.spread(std::move(*piece), document_.maps);
}

void EngineWork::handle(Spreader::Done& spread) {
  queue_.noteSpreading(false);
  transferUnderWay_ = false;
  if (spread.isTransfer) return handleTransfer(spread);
  if (spread.trouble && lighting_ && spread.maps == document_.maps) {
    // once is enough: what failed for this light would fail again
    lighting_->leaveUnspread(spread.counter);
    oweAll();
    emit tells_.refused(
        QString::fromStdString("Light cannot be spread through the skin: " + spread.trouble->message()));
  }
  if (lighting_ && spread.light && spread.maps == document_.maps &&
      lighting_->takeSpread(*spread.light, spread.counter))
    oweAll();
}

// (until it is there, and without it, each light is spread by itself)
void EngineWork::handleTransfer(const Spreader::Done& spread) {
  if (!lighting_ || spread.maps != document_.maps) return;
  if (spread.pieceTaken)
    (void)lighting_->takeTransfer(spread.counter);
  else if (spread.trouble)
    lighting_->leaveTransfer(spread.counter);
}

bool EngineWork::settleLight() {
  const Lighting::Advance done = lighting_->advance(*rays_, [this] { return pending(); });
  // what is spread through the skin right after is not worth a picture of its own
  if (done.seenChanged && !(done.last && spreads())) oweAll();
  return done.more;
}

bool EngineWork::settleEdges() {
  const auto stop = [this] { return pending(); };
  if (edges_.smooth()) {
    sheet_.smooth(shadeInput(), document_.hiddenParts, stop);
    return true;
  }
  // the picture with one ray a pixel is the first of them
  VisibilityImage beside;
  const bool first = edges_.pass() == 0;
  const PixelRect rect = edges_.wanted(viewing_.size).clipped(viewing_.size);
  if (!first) {
    if (!castVisibility(*rays_, viewing_.camera, viewing_.size, jitterOf(edges_.pass()),
                        document_.hiddenParts, rect, beside, stop) ||
        !seeHair(beside, jitterOf(edges_.pass()), rect, stop))
      return true;
    lookAtAlso(beside);
  }
  const VisibilityImage& visibility = first ? visibility_ : beside;
  ShadeInput input = shadeInput();
  input.turn = static_cast<uint32_t>(edges_.pass());
  light_.resize(frame_.size());
  if (!shadeSides(input, visibility, rect, [&](const ShadeInput& side, const PixelRect& part) {
        return shadeLight(side, visibility, part, light_, stop);
      }))
    return true;
  edges_.add(light_, viewing_.size, toningOf(input), frame_);
  emitFrame(rect);
  return true;
}

bool EngineWork::settleThumbnails() {
  if (!thumbnailsLeft_) return false;
  for (const auto& made : thumbnails_->advance(thumbnailsLeft_)) {
    const QImage image(reinterpret_cast<const uchar*>(made.pixels.data()), kThumbnailEdge, kThumbnailEdge,
                       kThumbnailEdge * 4, QImage::Format_RGB32);
    emit tells_.thumbnailReady(made.layer, image.copy());
  }
  return true;
}

}  // namespace juvenor::app
