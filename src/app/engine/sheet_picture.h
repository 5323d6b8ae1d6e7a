// The picture of the sheet beside the easel's: cast again only when its camera, the sheet or hidden parts
// change, shaded anew where the skin changed, of fewer pixels while it moves, smooth when the hand rests. It
// belongs to the engine's thread.
#pragma once

#include "app/engine/engine_signals.h"
#include "app/engine/viewing.h"
#include "core/pen/eye.h"
#include "core/render/edge_average.h"

namespace juvenor::app {

class SheetPicture {
 public:
  explicit SheetPicture(EngineSignals& tells) : tells_(tells) {}

  const SheetViewing& viewing() const { return viewing_; }
  void take(SheetViewing viewing);
  /// Of another surface's sheet nothing is drawn.
  void setSurface(std::shared_ptr<const Surface> surface);
  bool shown() const { return viewing_.shown && fits(); }
  /// The skin laid flat when squares are to lie over it, else null.
  const Surface* squares() const { return viewing_.squares && fits() ? viewing_.sheet->flat.get() : nullptr; }
  /// What a pen moves over here; only while it is shown.
  Eye eye(const Rays& skin, const std::set<uint32_t>& hidden) const;

  /// The rays' picture is to be made anew.
  void forgetRays() { stale_ = true; }
  /// All of it, or what shows these chunks, is to be shaded anew.
  void oweAll();
  void owe(std::span<const uint32_t> chunks);
  bool owes() const { return shown() && (stale_ || !owed_.empty()); }
  /// Whether the hand that moves it would wait for all the pixels.
  bool hurries() const { return shown() && stale_ && viewing_.moving && cost_ > kSlow; }
  /// The whole of it in fewer pixels; true when other chunks may be seen then.
  bool drawSmall(const ShadeInput& easel, const std::set<uint32_t>& hidden);
  /// Casts what is to be cast; true when other chunks may be seen then.
  bool cast(const std::set<uint32_t>& hidden);
  const std::vector<uint32_t>& seen() const { return seen_; }
  /// Shades what is owed, a piece at a time until `stop` says so; `easel`: how the easel is shaded.
  void shadeOwed(const ShadeInput& easel, const std::function<bool()>& stop);
  bool rough() const { return shown() && !owes() && !small_ && !edges_.smooth(); }
  /// One more ray a pixel, of a picture that owes nothing.
  void smooth(const ShadeInput& easel, const std::set<uint32_t>& hidden, const std::function<bool()>& stop);

 private:
  bool fits() const { return viewing_.sheet && viewing_.sheet->skin == surface_; }
  ShadeInput input(const ShadeInput& easel) const;
  void layOutBehind(uint32_t background);
  std::vector<uint32_t> tileBehind(const ViewSize& size, uint32_t background) const;
  bool sees(const VisibilityImage& visibility);
  PixelRect whole() const { return {0, 0, viewing_.size.width, viewing_.size.height}; }
  void emitPixels(const PixelRect& rect);

  static constexpr double kSlow = 0.03;

  EngineSignals& tells_;
  std::shared_ptr<const Surface> surface_;
  SheetViewing viewing_;
  VisibilityImage visibility_;
  std::vector<uint32_t> frame_, behind_, seen_;
  std::vector<Vec3> light_;
  uint32_t background_ = 0;
  std::vector<PixelRect> owed_;
  EdgeAverage edges_;
  bool stale_ = true, behindStale_ = true, small_ = false;
  double cost_ = 0, castCost_ = 0;  ///< seconds that all the pixels took last, and their rays alone
};

}  // namespace juvenor::app
