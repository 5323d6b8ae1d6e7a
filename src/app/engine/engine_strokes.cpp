// Strokes: the pen's way becomes dabs, and what they touched is composited.
#include <algorithm>

#include "app/engine/engine_work.h"
#include "core/document/edits/edits.h"

namespace juvenor::app {

void EngineWork::handle(BeginStroke& begin) {
  queue_.noteStrokeTaken();
  // light can wander on when the hand rests
  spreader_.giveUp();
  const auto refuse = [&](const QString& why) {
    queue_.noteStrokeEnded({});
    emit tells_.refused(why);
  };
  if (stroke_) {
    EndStroke end;
    handle(end);
  }
  if (!rays_ || (begin.onSheet && !sheet_.shown()))
    return refuse(EngineSignals::tr("The surface is still being prepared."));
  if (begin.setting.slide && begin.setting.slide->split.part == PhotoPart::Detail) {
    // what it is laid over is the skin as it looks now
    SlidePaint slide = *begin.setting.slide;
    slide.skin = skin_.color();
    begin.setting.slide = std::make_shared<const SlidePaint>(std::move(slide));
  }
  auto stroke = caught([&] { return PaintStroke::begin(document_, begin.setting, flood_); });
  if (!stroke) return refuse(QString::fromStdString(stroke.error().what));
  stroke_ = std::move(*stroke);
  kept_.emplace(begin.setting.layer);
  tuned_.reset();
  strokeName_ = begin.name;
  strokeSheet_ = sheet_.viewing().sheet;
  const Eye easel{rays_.get(), nullptr, viewing_.camera, viewing_.size, document_.hiddenParts};
  path_ = std::make_unique<PenPath>(begin.onSheet ? sheet_.eye(*rays_, document_.hiddenParts) : easel,
                                    begin.setting.brush);
  handle(begin.point);
}

void EngineWork::handle(PenPoint& point) {
  if (!stroke_) return;
  path_->move(point, stroke_->stroke());
  refreshTouched();
}

void EngineWork::handle(EndStroke&) {
  if (!stroke_) return;
  path_->finish(stroke_->stroke());
  refreshTouched();
  const bool touched = stroke_->stroke().dabCount() > 0;
  if (touched && stroke_->stroke().reached() == 0) emit tells_.tooFine();
  auto done = caught([&] { return stroke_->finish(); });
  stroke_.reset();
  kept_.reset();
  path_.reset();
  strokeSheet_.reset();
  queue_.noteStrokeEnded(done && touched ? std::optional(FinishedStroke{*done, strokeName_}) : std::nullopt);
  if (!done) emit tells_.refused(QString::fromStdString(done.error().message()));
  const bool stays = done && touched;
  if (stays) document_ = std::move(*done);
  // (what could not be finished shows no more)
  if (stays || !done) takeStack(preparedNow(document_.layers, *document_.maps, still_));
  if (stays) emit tells_.strokeFinished();
  if (preparedMeanwhile_) {
    Prepared prepared;
    handle(prepared);
  }
}

// While a stroke goes on only its own layer is exchanged.
void EngineWork::refreshTouched() {
  std::vector<uint32_t> chunks = stroke_->takeTouched();
  if (chunks.empty()) return;
  if (const LayerPointer now = stroke_->layerNow()) {
    const auto place = std::ranges::find(stack_, now->id, [](const PreparedLayer& p) { return p.layer->id; });
    if (place != stack_.end()) {
      place->layer = now;
      if (now->source->fields()) place->source = *now->source->prepare(*document_.maps);
      // a mask hides all the layer brings, and what is covered shows all that hangs on it
      const ChannelSet worked = feltChannels(stack_, now->id, stroke_->channels());
      chunks = feltChunks(stack_, now->id, chunks, skin_.size());
      stack_ = linked(stack_, document_.bare, skin_.size(), stack_, chunks);
      markStale(chunks, worked);
    }
  }
  compositeNow(chunks);
  sheet_.owe(chunks);
  touched_ = touched_.united(rectOfChunks(*document_.surface, viewing_.camera, viewing_.size, chunks));
  publish();
  if (!viewing_.masked || viewing_.map || viewing_.shows) return;
  if (const PreparedLayer* masked = maskedLayer(); masked && !isPainted(*masked) && overlay_)
    updateMask(*overlay_, *masked, chunks);
  else
    refreshOverlay();
}

}  // namespace juvenor::app
