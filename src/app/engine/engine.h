// The thread behind the easel. It alone paints, composites and shades, so that the window only ever copies
// finished pixels; the window posts what happened and receives frames. While something moves it answers at
// once with what is cheap, at rest it settles: what is not composited yet, full resolution, light ray by ray,
// smooth edges, thumbnails. Settling goes in pieces of a few milliseconds, and whatever takes longer
// (measuring maps, the better ray structure) is done beside it by the preparer.
#pragma once

#include <QImage>
#include <QMap>
#include <QObject>
#include <atomic>
#include <condition_variable>
#include <deque>
#include <future>
#include <mutex>
#include <thread>
#include <variant>

#include "app/engine/preparer.h"
#include "app/engine/spreader.h"
#include "core/document/edits/paint_stroke.h"
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "core/pen/pen_path.h"
#include "core/render/edge_average.h"
#include "core/render/layer_thumbnails.h"
#include "core/render/look.h"
#include "core/render/picture.h"
#include "core/render/still.h"
#include "core/render/value_check.h"
#include "core/surface/maps/polygon_lines.h"

namespace juvenor::app {

/// Another skin of the same surface, shown in part of the picture to compare.
struct ComparedSkin {
  std::shared_ptr<const Surface> surface;
  ChannelFields skin;
  ReliefNormals relief;
};

/// What the viewer chose; everything that changes the picture but the document.
struct Viewing {
  Camera camera;
  ViewSize size{640, 480};
  View view = View::Skin;
  Light light;
  bool lightFollows = true;  ///< the light goes with the view; otherwise it stands still in the scene
  uint32_t background = 0xff6c6c6c;
  bool lines = false;   ///< the sculpt's polygon edges over it
  bool moving = false;  ///< the camera is being dragged: speed before resolution
  ValueCheck check;     ///< in the value view
  /// What is shown on the skin in place of its colours: a map, or what the mask of `masked` (a layer, or
  /// kGuard) hides.
  std::optional<MaskTerm> map;
  OverlayLook mapLook = OverlayLook::FalseColor;
  std::optional<uint32_t> masked;
  /// In grey in place of both: how much of what lies below shows through a layer; null: not.
  std::shared_ptr<const ScalarField> shows;
  std::shared_ptr<const ComparedSkin> compared;         ///< left of `comparedUpTo`; null: none
  int comparedUpTo = 0;                                 ///< pixels
  std::shared_ptr<const std::vector<uint32_t>> behind;  ///< a picture of the view's size, or null
};

/// The light as it stands in the scene for a view.
Light lightIn(const Viewing& viewing);

/// A still of what is viewed, without what lies over the skin.
StillSetting stillSettingOf(const Viewing& viewing);

/// What the skin is under the pen, and where.
struct Probe {
  SurfacePoint point;
  uint32_t sample = 0;
  EncodedColor composite;
  float gloss = 0, metal = 0;         ///< 0…1
  float relief = 0;                   ///< scene units
  std::optional<EncodedColor> layer;  ///< of the active layer, when it has any there
};

/// The document with one more stroke on it.
struct FinishedStroke {
  Document document;
  QString name;
};

/// Pixels of a thumbnail's edge.
inline constexpr int kThumbnailEdge = 60;

class Engine : public QObject {
  Q_OBJECT
 public:
  Engine();
  ~Engine() override;

  // ---- for the window's thread; none of these waits

  void setDocument(const Document& document);
  void setViewing(const Viewing& viewing);
  /// `name` is what the history calls it.
  void beginStroke(const StrokeSetting& setting, const PenPoint& point, const QString& name = {});
  void moveStroke(const PenPoint& point);
  void endStroke();
  /// Finished strokes, oldest first.
  std::vector<FinishedStroke> takeFinished();
  /// Whether the picture is one of this document's surface already: a new one takes a while to prepare.
  bool shows(const Document& document);
  /// What lies at a pixel of the picture now; nothing while that is one of another surface than the
  /// document's.
  std::optional<Probe> probe(const Document& document, const Vec2& pixel);
  RaysPointer rays();
  /// The skin's colours as they are composited now; null before there are any. What is not seen may be older.
  std::shared_ptr<const ColorField> skinNow();

  // ---- for any thread; these wait

  /// Until everything posted is done, settling aside; gives the finished strokes. While no stroke is in the
  /// air it returns at once.
  std::vector<FinishedStroke> finishStrokes();
  /// Until everything posted is done, settling aside.
  void drain();
  /// Until the picture has settled completely.
  void waitSettled();
  /// A still of the current document and light, when they have settled.
  QImage still(const Viewing& viewing, int smooth);
  /// The whole composite; of its channels those that layers bring.
  ChannelFields skin();

 signals:
  /// `pixels` replaces the rectangle at `place` of the picture; a full frame when it has the picture's size.
  void frameReady(const QImage& pixels, const QPoint& place);
  /// How bright the sculpt's pixels are, whenever the value view was drawn.
  void valuesCounted(const juvenor::ValueHistogram& histogram);
  void strokeFinished();
  /// In words for the artist.
  void refused(const QString& why);
  void tooFine();
  void preparing(bool busy);
  /// Why layers show nothing though they should, by their ids; empty when all is well.
  /// `troubles`: why layers show nothing though they should; `notes`: what one should know of others.
  void troubled(const QMap<uint32_t, QString>& troubles, const QMap<uint32_t, QString>& notes);
  void thumbnailReady(uint32_t layer, const QImage& image);

 private:
  struct Begin {
    StrokeSetting setting;
    PenPoint point;
    QString name;
  };
  struct End {};
  struct Prepared {};  ///< the preparer is done with something
  /// All a still is made from, copied.
  struct Snapshot {
    Document document;
    ChannelFields skin;
    ReliefNormals relief;
    RaysPointer rays;
    std::vector<LitSample> lit;
    std::vector<OpenSample> open;
    LitBy by;
    std::shared_ptr<const PolygonLines> lines;
  };
  using Snap = std::shared_ptr<std::promise<Snapshot>>;
  using Command = std::variant<Document, Viewing, Begin, PenPoint, End, Prepared, Preparer::Glimpses,
                               Spreader::Done, Snap>;
  /// What readings are taken from. A new one with every change; who reads keeps the one he has.
  struct Published {
    Document document;
    PreparedStack stack;
    ChannelFields skin;
    std::vector<ChannelSet> stale;  ///< of each chunk the channels that are older than the stack
    RaysPointer rays;
    Viewing viewing;
  };

  void post(Command command);
  bool pending() const { return pending_; }
  /// Whether something the pen did is to be answered.
  bool penWaits() const { return pensWaiting_ > 0 || (stroke_ && pending_); }
  std::shared_ptr<const Published> published();
  std::shared_ptr<const Published> publishedOf(const Document& document);

  // ---- the engine's thread alone

  void run();
  void handle(Document& document);
  void handle(Viewing& viewing);
  void handle(Begin& begin);
  void handle(PenPoint& point);
  void handle(End&);
  void handle(Prepared&);
  void handle(Preparer::Glimpses& glimpses);
  void handle(Spreader::Done& spread);
  void beginSpreading();
  void handle(Snap& snap);
  bool takeSurface(const Document& document);
  void takeStack(PreparedStack stack);
  void markStale(std::span<const uint32_t> chunks, ChannelSet channels);
  bool isStale(uint32_t chunk) const { return !stale_[chunk].empty(); }
  std::vector<uint32_t> seenFromTheMiddle() const;
  void noteWaiting();
  void publish();
  void compositeNow(std::span<const uint32_t> chunks);
  void compositeSeen();
  bool compositeStale();
  void refreshTouched();
  void tellTroubles();
  void refreshOverlay();
  void refreshLines();
  void wish();  // engine_waiting.cpp, as are the other answers to what is waited for
  const PreparedLayer* maskedLayer() const;

  // drawing, light and settling (engine_picture.cpp)
  bool lit() const { return viewing_.view >= View::Clay; }
  bool spreads() const { return viewing_.view == View::Skin; }
  Light worldLight() const { return lightIn(viewing_); }
  void setLight();
  void draw();
  void shadeTouched();
  bool shadeOwed();
  void owe(const PixelRect& rect);
  void oweSeen(std::span<const uint32_t> chunks);
  void drawMoving();
  bool sketchLight();
  void emitSmall(const VisibilityImage& visibility);
  void lookAt(const VisibilityImage& visibility);
  void lookAtAlso(const VisibilityImage& visibility);
  void lookAtChunks(std::vector<uint32_t> chunks);
  bool drawFull();
  bool settleOnce();
  bool settleLight();
  bool settleEdges();
  bool settleThumbnails();
  ShadeInput shadeInput() const;
  bool shadeSkin(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& rect,
                 std::vector<uint32_t>& out, const std::function<bool()>& stop = {}) const;
  PixelRect wholePicture() const { return {0, 0, viewing_.size.width, viewing_.size.height}; }
  void emitFrame(const PixelRect& rect);

  // guarded by mutex_
  std::mutex mutex_;
  std::condition_variable wake_, idle_;
  std::deque<Command> commands_;
  bool quit_ = false, working_ = false, settled_ = true;
  std::vector<FinishedStroke> finished_;
  int strokesOut_ = 0;  ///< begun by the window and not yet finished or refused here
  std::atomic<bool> pending_ = false;
  std::atomic<int> pensWaiting_ = 0;     ///< strokes whose beginning was posted and not handled yet
  bool waiting_ = false;                 ///< for layers the preparer is at
  std::atomic<bool> spreading_ = false;  ///< light is being spread through the skin

  // guarded by readings_
  std::mutex readings_;
  std::shared_ptr<const Published> published_;

  // the engine's thread alone
  Document document_;
  PreparedStack stack_;
  RaysPointer rays_;
  ChannelFields skin_;
  ReliefNormals relief_;
  std::vector<ChannelSet> stale_;  ///< of each chunk
  size_t staleCount_ = 0;          ///< chunks that have any
  bool staleSeen_ = false;         ///< some of what is seen is not composited yet
  std::vector<uint32_t> seen_;     ///< chunks in the picture
  Viewing viewing_;
  std::optional<ScalarField> overlay_;
  std::shared_ptr<const PolygonLines> lines_;
  QMap<uint32_t, QString> troubles_, notes_;
  std::unique_ptr<Lighting> lighting_;
  std::unique_ptr<LayerThumbnails> thumbnails_;
  bool thumbnailsLeft_ = false;

  Flood flood_;
  std::unique_ptr<PaintStroke> stroke_;
  std::unique_ptr<PenPath> path_;
  QString strokeName_;
  bool preparedMeanwhile_ = false;  ///< something was prepared while a stroke was in the air

  VisibilityImage visibility_;
  std::vector<uint32_t> frame_;
  bool visibilityStale_ = true, coarse_ = false;
  bool lightMoved_ = false;  ///< and no picture showed it so far
  PixelRect touched_;        ///< by the pen: shaded at once
  PixelRect owed_, shaded_;  ///< what else is to be shaded, and what of it is and was not sent yet
  EdgeAverage edges_;
  double fullCost_ = 0.05;  ///< seconds a full frame took last

  std::thread thread_;
  Preparer preparer_;  // these go first: they post here
  Spreader spreader_;
};

}  // namespace juvenor::app
