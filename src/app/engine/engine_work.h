// What the engine does on its own thread: it alone paints, composites and shades. Settling goes in pieces of
// a few milliseconds, and whatever takes longer (measuring maps, the better ray structure, spreading light)
// is done beside it. Everything here belongs to that one thread; who else asks goes through the queue, who
// reads through the readings.
#pragma once

#include "app/engine/engine_queue.h"
#include "app/engine/engine_signals.h"
#include "app/engine/grower.h"
#include "app/engine/readings.h"
#include "app/engine/sheet_picture.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/kept_chunks.h"
#include "core/render/edge_average.h"
#include "core/render/layer_thumbnails.h"
#include "core/render/moving_picture.h"
#include "core/render/still.h"
#include "core/view/look.h"

namespace juvenor::app {

/// Pixels of a thumbnail's edge.
inline constexpr int kThumbnailEdge = 60;

class EngineWork {
 public:
  EngineWork(EngineQueue& queue, Readings& readings, EngineSignals& tells);

  void carryOut(Command& command) {
    std::visit([this](auto& c) { handle(c); }, command);
  }
  /// Answers what was carried out with a picture.
  void draw();
  /// One small piece of settling, and what is left.
  EngineQueue::Left settleOnce();

  /// What hair was grown from.
  struct GrownFrom {
    struct From {
      LayerPointer layer;
      PreparedSourcePointer source;
      std::shared_ptr<const ScalarField> maps;
      bool operator==(const From&) const = default;
    };
    std::vector<From> layers;
    std::set<uint32_t> hidden;
    bool operator==(const GrownFrom&) const = default;
  };

 private:
  bool pending() const { return queue_.pending(); }
  /// Whether something the pen did is to be answered.
  bool penWaits() const { return queue_.pensWaiting() > 0 || (stroke_ && pending()); }

  void handle(Document& document);
  void handle(Viewing& viewing);
  void handle(SheetViewing& viewing);
  void handle(BeginStroke& begin);
  void handle(PenPoint& point);
  void handle(EndStroke&);
  void handle(Prepared&);
  void handle(Preparer::Glimpses& glimpses);
  void handle(Spreader::Done& spread);
  void handleTransfer(const Spreader::Done& spread);
  void beginSpreading();
  void beginTransfer();
  void handle(Snap& snap);
  // (engine_hair.cpp)
  void handle(Grower::Done& grown);
  void refreshHair();
  void forgetHair();
  void showHair();
  const FibreRays* shownHair() const;
  bool seeHair(VisibilityImage& image, const Vec2& jitter, const PixelRect& rect,
               const std::function<bool()>& stop = {}) const;
  bool takeSurface(const Document& document);
  void forgetSurface();
  void takeStack(PreparedStack stack);
  void markStale(std::span<const uint32_t> chunks, ChannelSet channels);
  bool isStale(uint32_t chunk) const { return !stale_[chunk].empty(); }
  std::vector<uint32_t> seenFromTheMiddle() const;
  void noteWaiting();
  void publish();
  void compositeNow(std::span<const uint32_t> chunks, bool tuning = false);
  void compositeSeen();
  bool compositeStale();
  void refreshTouched();
  void tellTroubles();
  void refreshOverlay();
  void refreshLines();
  void wish();  // engine_waiting.cpp, as are the other answers to what is waited for
  const PreparedLayer* maskedLayer() const;

  // drawing, light and settling (engine_picture.cpp)
  // what the channel view shows (engine_own.cpp)
  bool showsOwn() const { return viewing_.view == View::Channel && viewing_.own != 0; }
  const ChannelFields& shownSkin() const;
  void freshenOwn();
  void forgetOwn();
  void staleOwn(std::span<const uint32_t> chunks);
  void measureHeights();

  bool lit() const { return viewing_.view >= View::Clay; }
  bool spreads() const { return viewing_.view == View::Skin && worldLight().depth > 0; }
  Light worldLight() const { return lightOn(document_, lightIn(viewing_)); }
  void setLight();
  void shadeTouched();
  bool shadeOwed();
  void drawEasel();
  void drawSheet();
  /// While the eye moves, light over the sheet waits.
  bool sheetWaits() const { return !sheet_.owes() || (viewing_.moving && lit()); }
  void owe(const PixelRect& rect);
  void oweAll();
  void oweSeen(std::span<const uint32_t> chunks);
  void drawMoving();
  bool sketchLight();
  std::vector<uint32_t> behindAt(const ViewSize& size) const;
  std::vector<uint32_t> shadedSmall(const VisibilityImage& visibility) const;
  void emitEnlarged(std::span<const uint32_t> pixels, int part);
  void lookAt(const VisibilityImage& visibility);
  void lookAtAlso(const VisibilityImage& visibility);
  void lookAtSeen();
  bool drawFull();
  bool settleLight();
  bool settleEdges();
  bool settleThumbnails();
  ShadeInput shadeInput() const;
  template <class Shaded>
  bool shadeSides(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& rect,
                  Shaded shaded) const;
  void shadeSkin(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& rect,
                 std::vector<uint32_t>& out) const;
  PixelRect wholePicture() const { return {0, 0, viewing_.size.width, viewing_.size.height}; }
  void emitFrame(const PixelRect& rect);

  EngineQueue& queue_;
  Readings& readings_;
  EngineSignals& tells_;

  Document document_;
  PreparedStack stack_;
  PreparedStack still_;  ///< without what a stroke in the air still writes: for other threads to read
  RaysPointer rays_;
  ChannelFields skin_;
  ReliefNormals relief_;
  ChannelFields own_;           ///< what one layer brings, while that is looked at
  std::vector<char> ownFresh_;  ///< of each chunk
  uint32_t ownOf_ = 0;
  float shownHeight_ = 0;          ///< the channel view's scale goes to, scene units
  std::vector<ChannelSet> stale_;  ///< of each chunk
  size_t staleCount_ = 0;          ///< chunks that have any
  bool staleSeen_ = false;         ///< some of what is seen is not composited yet
  std::vector<uint32_t> seen_;     ///< chunks in the easel's picture or the sheet's
  std::vector<uint32_t> onEasel_;  ///< of them those in the easel's
  Viewing viewing_;
  std::optional<ScalarField> overlay_;
  std::shared_ptr<const PolygonLines> lines_;
  QMap<uint32_t, QString> troubles_, notes_;
  std::unique_ptr<Lighting> lighting_;
  std::unique_ptr<LayerThumbnails> thumbnails_;
  bool thumbnailsLeft_ = false;

  Flood flood_;
  std::unique_ptr<PaintStroke> stroke_;
  std::optional<KeptChunks> kept_;   ///< what that does not change
  std::optional<KeptChunks> tuned_;  ///< what does not change while one layer's opacity is moved
  std::unique_ptr<PenPath> path_;
  SheetPointer strokeSheet_;  ///< the path of the stroke lies on
  QString strokeName_;
  bool preparedMeanwhile_ = false;  ///< something was prepared while a stroke was in the air

  VisibilityImage visibility_;
  std::vector<uint32_t> frame_, checked_;
  std::vector<Vec3> light_;  ///< of the picture that edges are smoothed with
  std::vector<Cornea> corneas_;
  FibreRaysPointer hair_;
  GrownFrom grownFrom_;
  uint64_t hairCounter_ = 0;
  bool visibilityStale_ = true, coarse_ = false;
  MovingPicture moving_;
  int movingPart_ = 2;       ///< its pixels are so many of the whole picture's each way
  bool lightMoved_ = false;  ///< and no picture showed it so far
  bool transferUnderWay_ = false;
  PixelRect touched_;        ///< by the pen: shaded at once
  PixelRect owed_, shaded_;  ///< what else is to be shaded, and what of it is and was not sent yet
  EdgeAverage edges_;
  SheetPicture sheet_;
  double fullCost_ = 0.05;  ///< seconds a full frame took last

  Preparer preparer_;  // these go first: they post to the queue
  Spreader spreader_;
  Grower grower_;
};

}  // namespace juvenor::app
