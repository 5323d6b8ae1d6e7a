// The thread behind the easel. It alone paints, composites and shades, so that the window only ever copies
// finished pixels; the window posts what happened and receives frames. While something moves it answers at
// once with what is cheap, at rest it settles: full resolution, sky light ray by ray, smooth edges.
#pragma once

#include <QImage>
#include <QObject>
#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>
#include <variant>

#include "core/document/paint_stroke.h"
#include "core/layers/composite.h"
#include "core/pen/pen_path.h"
#include "core/render/picture.h"
#include "core/render/value_check.h"

namespace juvenor::app {

/// What the viewer chose; everything that changes the picture but the document.
struct Viewing {
  Camera camera;
  ViewSize size{640, 480};
  View view = View::Skin;
  Light light;
  uint32_t background = 0xff6c6c6c;
  bool moving = false;  ///< the camera is being dragged: speed before resolution
  ValueCheck check;     ///< in the value view
  /// What is shown on the skin in place of its colours: a map, or what the mask of `masked` (a layer, or
  /// kGuard) hides.
  std::optional<MaskTerm> map;
  OverlayLook mapLook = OverlayLook::FalseColor;
  std::optional<uint32_t> masked;
  std::shared_ptr<const std::vector<uint32_t>> behind;  ///< a picture of the view's size, or null
};

/// A colour under the pen and where it is.
struct Probe {
  SurfacePoint point;
  uint32_t sample = 0;
  EncodedColor composite;
  std::optional<EncodedColor> layer;  ///< of the active layer, when it has any there
};

class Engine : public QObject {
  Q_OBJECT
 public:
  Engine();
  ~Engine() override;

  void setDocument(const Document& document);
  void setViewing(const Viewing& viewing);
  void beginStroke(const StrokeSetting& setting, const PenPoint& point);
  void moveStroke(const PenPoint& point);
  void endStroke();

  /// Waits until everything posted is done (settling aside) and gives the finished strokes, oldest first.
  std::vector<Document> drain();
  /// Finished strokes without waiting.
  std::vector<Document> takeFinished();
  /// Waits until the picture has settled completely; for stills and tests.
  void waitSettled();

  /// What lies at a pixel of the picture now; thread-safe.
  std::optional<Probe> probe(const Vec2& pixel);
  std::shared_ptr<const Rays> rays();
  /// A still of any size with the current document and light.
  QImage still(const Viewing& viewing, int smooth);
  ColorField composite();

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

 private:
  struct Begin {
    StrokeSetting setting;
    PenPoint point;
  };
  struct End {};
  using Command = std::variant<Document, Viewing, Begin, PenPoint, End>;

  void post(Command command);
  void run();
  bool pending();
  void handle(Document& document);
  void handle(Viewing& viewing);
  void handle(Begin& begin);
  void handle(PenPoint& point);
  void handle(End&);
  void prepareSurface(const std::shared_ptr<const Surface>& surface);
  void refreshTouched(std::span<const uint32_t> chunks, const LayerStack& layers);
  void relight();
  void shadeDirty();
  void drawMoving();
  bool drawFull();
  bool settleOnce();
  bool settleLight();
  bool settleEdges();
  ShadeInput shadeInput() const;
  void refreshOverlay(const LayerStack& layers, const std::optional<ScalarField>& guard);
  void refreshOverlayChunks(const Layer& layer, std::span<const uint32_t> chunks);
  void emitFrame(const PixelRect& rect);

  // posted by the window
  std::mutex mutex_;
  std::condition_variable wake_, idle_;
  std::deque<Command> commands_;
  bool quit_ = false, working_ = false, settled_ = true;
  std::vector<Document> finished_;

  // the engine's own; `state_` guards what probes read
  std::mutex state_;
  Document document_;
  std::shared_ptr<const Rays> rays_;
  ColorField composite_;
  Viewing viewing_;
  std::optional<ScalarField> overlay_;

  std::unique_ptr<LightTransfer> transfer_;
  std::vector<float> curvature_;
  std::vector<LitSample> lit_;
  size_t lightCursor_ = 0;
  int lightRays_ = 0;
  bool litStale_ = true;

  Flood flood_;
  std::unique_ptr<PaintStroke> stroke_;
  std::unique_ptr<PenPath> path_;

  VisibilityImage visibility_;
  std::vector<uint32_t> frame_;
  bool visibilityStale_ = true, coarse_ = false;
  PixelRect dirty_;
  int edgePasses_ = 0;
  std::vector<std::array<uint16_t, 3>> edgeSums_;
  double fullCost_ = 0.05;  ///< seconds a full frame took last
  std::thread thread_;
};

}  // namespace juvenor::app
