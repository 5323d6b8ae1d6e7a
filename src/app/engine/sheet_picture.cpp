#include "app/engine/sheet_picture.h"

#include <algorithm>
#include <chrono>
#include <cmath>

namespace juvenor::app {
namespace {

double secondsSince(std::chrono::steady_clock::time_point began) {
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
}

}  // namespace

void SheetPicture::take(SheetViewing viewing) {
  const bool same = viewing.sheet == viewing_.sheet && viewing.camera == viewing_.camera &&
                    viewing.size == viewing_.size && viewing.shown == viewing_.shown;
  behindStale_ |= !same || viewing.tile != viewing_.tile;
  viewing_ = std::move(viewing);
  if (!shown()) seen_.clear();
  stale_ |= !same || (small_ && !viewing_.moving);
  if (!small_ || stale_) oweAll();
}

void SheetPicture::setSurface(std::shared_ptr<const Surface> surface) {
  surface_ = std::move(surface);
  stale_ = true;
  seen_.clear();
}

Eye SheetPicture::eye(const Rays& skin, const std::set<uint32_t>& hidden) const {
  return {&skin, viewing_.sheet->rays.get(), viewing_.camera, viewing_.size, hidden};
}

void SheetPicture::oweAll() {
  owed_ = {whole()};
  stale_ |= small_;
}

void SheetPicture::owe(std::span<const uint32_t> chunks) {
  if (!shown() || stale_) return;
  if (small_) {
    stale_ = true;
    return;
  }
  for (const PixelRect& rect : rectsOfChunks(*viewing_.sheet, viewing_.camera, viewing_.size, chunks))
    owed_.push_back(rect);
  // many pieces on top of each other cost more than what lies between them
  constexpr size_t kMany = 48;
  if (owed_.size() > kMany) {
    PixelRect all;
    for (const PixelRect& rect : owed_) all = all.united(rect);
    owed_ = {all};
  }
}

// Notes which chunks a picture shows; true when they are others than before.
bool SheetPicture::sees(const VisibilityImage& visibility) {
  std::vector<uint32_t> seen = chunksSeen(*surface_, visibility);
  if (seen == seen_) return false;
  seen_ = std::move(seen);
  return true;
}

bool SheetPicture::cast(const std::set<uint32_t>& hidden) {
  if (!shown() || !stale_) return false;
  const auto began = std::chrono::steady_clock::now();
  castVisibility(*viewing_.sheet->rays, viewing_.camera, viewing_.size, {0.5f, 0.5f}, hidden, visibility_);
  frame_.resize(visibility_.triangle.size());
  stale_ = small_ = false;
  oweAll();
  castCost_ = secondsSince(began);
  return sees(visibility_);
}

bool SheetPicture::drawSmall(const ShadeInput& easel, const std::set<uint32_t>& hidden) {
  // a quarter of the pixels takes more than a quarter of the time: their rays lie apart, and it is enlarged
  const int part = cost_ < 2 * kSlow ? 2 : 3;
  const ViewSize size{std::max(1, viewing_.size.width / part), std::max(1, viewing_.size.height / part)};
  VisibilityImage visibility;
  castVisibility(*viewing_.sheet->rays, viewing_.camera, size, {0.5f, 0.5f}, hidden, visibility);
  const std::vector<uint32_t> behind = tileBehind(size, easel.background);
  ShadeInput in = input(easel);
  in.behind = behind;
  std::vector<uint32_t> pixels(visibility.triangle.size());
  shade(in, visibility, {0, 0, size.width, size.height}, pixels);
  const QImage image(reinterpret_cast<const uchar*>(pixels.data()), size.width, size.height, size.width * 4,
                     QImage::Format_RGB32);
  emit tells_.sheetReady(image.scaled(viewing_.size.width, viewing_.size.height, Qt::IgnoreAspectRatio,
                                      Qt::SmoothTransformation),
                         {0, 0});
  small_ = true;
  stale_ = false;
  owed_.clear();
  return sees(visibility);
}

void SheetPicture::layOutBehind(uint32_t background) {
  if (!behindStale_ && background == background_) return;
  behindStale_ = false;
  background_ = background;
  behind_ = tileBehind(viewing_.size, background);
}

// What lies beside the tile is darker.
std::vector<uint32_t> SheetPicture::tileBehind(const ViewSize& size, uint32_t background) const {
  const Lens lens(viewing_.camera, size);
  const Vec2 corner = cornerOfTile(viewing_.tile);
  const Vec3 low = lens.project({corner.x(), corner.y(), 0}),
             high = lens.project({corner.x() + 1, corner.y() + 1, 0});
  const auto grey = static_cast<uint32_t>(0.82f * static_cast<float>(background & 0xff));
  const uint32_t dark = 0xff000000u | grey << 16 | grey << 8 | grey;
  std::vector<uint32_t> out(static_cast<size_t>(size.width) * static_cast<size_t>(size.height), dark);
  const auto at = [](float v, int most) {
    return static_cast<int>(std::clamp(std::round(v), 0.f, static_cast<float>(most)));
  };
  const int left = at(low.x(), size.width), right = at(high.x(), size.width), top = at(high.y(), size.height),
            bottom = at(low.y(), size.height);
  for (int y = top; y < bottom; ++y) {
    const auto row = out.begin() + static_cast<std::ptrdiff_t>(y) * size.width;
    std::fill(row + left, row + right, background);
  }
  return out;
}

ShadeInput SheetPicture::input(const ShadeInput& easel) const {
  ShadeInput out = easel;
  out.sheet = viewing_.sheet->flat.get();
  out.sheetCamera = viewing_.camera;
  out.lines = viewing_.sheet->borders;
  out.behind = behind_;
  return out;
}

void SheetPicture::emitPixels(const PixelRect& rect) {
  const QImage all(reinterpret_cast<const uchar*>(frame_.data()), viewing_.size.width, viewing_.size.height,
                   viewing_.size.width * 4, QImage::Format_RGB32);
  emit tells_.sheetReady(all.copy(rect.left, rect.top, rect.right - rect.left, rect.bottom - rect.top),
                         {rect.left, rect.top});
}

void SheetPicture::shadeOwed(const ShadeInput& easel, const std::function<bool()>& stop) {
  if (!shown() || stale_ || owed_.empty()) return;
  layOutBehind(easel.background);
  const ShadeInput in = input(easel);
  edges_.begin();
  while (!owed_.empty() && !stop()) {
    const PixelRect rect = owed_.back().clipped(viewing_.size);
    owed_.pop_back();
    if (rect.empty()) continue;
    const auto began = std::chrono::steady_clock::now();
    shade(in, visibility_, rect, frame_);
    emitPixels(rect);
    if (rect == whole()) {
      owed_.clear();
      cost_ = castCost_ + secondsSince(began);
    }
  }
}

void SheetPicture::smooth(const ShadeInput& easel, const std::set<uint32_t>& hidden,
                          const std::function<bool()>& stop) {
  if (!rough()) return;
  const ShadeInput in = input(easel);
  // the picture with one ray a pixel is the first of them
  VisibilityImage beside;
  const bool first = edges_.pass() == 0;
  if (!first && !castVisibility(*viewing_.sheet->rays, viewing_.camera, viewing_.size,
                                jitterOf(edges_.pass()), hidden, beside, stop))
    return;
  light_.resize(frame_.size());
  if (!shadeLight(in, first ? visibility_ : beside, whole(), light_, stop)) return;
  edges_.add(light_, viewing_.size, toningOf(in), frame_);
  emitPixels(whole());
}

}  // namespace juvenor::app
