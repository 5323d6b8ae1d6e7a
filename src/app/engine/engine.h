// The engine as everybody else sees it: the window posts what happened and receives frames, and only ever
// copies finished pixels. What it does on its own thread is EngineWork's. While something moves it answers at
// once with what is cheap, at rest it settles: what is not composited yet, full resolution, light ray by ray,
// smooth edges, thumbnails.
#pragma once

#include <thread>

#include "app/engine/engine_work.h"

namespace juvenor::app {

class Engine : public EngineSignals {
  Q_OBJECT
 public:
  Engine();
  ~Engine() override;

  // ---- for the window's thread; none of these waits

  /// One without a surface: there is none any more.
  void setDocument(const Document& document) { queue_.post(document); }
  void setViewing(const Viewing& viewing) { queue_.post(viewing); }
  void setSheet(const SheetViewing& viewing) { queue_.post(viewing); }
  /// `name` is what the history calls it; `onSheet`: the pen is over the sheet.
  void beginStroke(const StrokeSetting& setting, const PenPoint& point, const QString& name = {},
                   bool onSheet = false) {
    queue_.post(BeginStroke{setting, point, name, onSheet});
  }
  void moveStroke(const PenPoint& point) { queue_.post(point); }
  void endStroke() { queue_.post(EndStroke{}); }
  /// Finished strokes, oldest first.
  std::vector<FinishedStroke> takeFinished() { return queue_.takeFinished(); }
  /// Whether the picture is one of this document's surface already: a new one takes a while to prepare.
  bool shows(const Document& document) const { return readings_.shows(document); }
  /// What lies at a pixel of the picture now; nothing while that is one of another surface than the
  /// document's.
  std::optional<Probe> probe(const Document& document, const Vec2& pixel) const {
    return readings_.probe(document, pixel);
  }
  /// The same at a pixel of the sheet.
  std::optional<Probe> probeSheet(const Document& document, const Vec2& pixel) const {
    return readings_.probeSheet(document, pixel);
  }
  RaysPointer rays() const { return readings_.rays(); }
  /// The skin's colours as they are composited now; null before there are any. What is not seen may be older.
  std::shared_ptr<const ColorField> skinNow() const { return readings_.skinNow(); }

  // ---- for any thread; these wait

  /// Until everything posted is done, settling aside; gives the finished strokes. While no stroke is in the
  /// air it returns at once.
  std::vector<FinishedStroke> finishStrokes();
  /// Until everything posted is done, settling aside.
  void drain() { queue_.drain(); }
  /// Until the picture has settled completely.
  void waitSettled() { queue_.awaitRest(); }
  /// A still of the current document and light, when they have settled.
  QImage still(const Viewing& viewing, int smooth);
  /// The whole composite; of its channels those that layers bring.
  ChannelFields skin() const { return readings_.skin(); }

 private:
  void run();

  EngineQueue queue_;
  Readings readings_;
  EngineWork work_;  ///< goes first: it posts to the queue
  std::thread thread_;
};

}  // namespace juvenor::app
