// What the engine waits for, and what shows meanwhile.
#include "app/engine/engine_work.h"
#include "core/render/picture.h"

namespace juvenor::app {

void EngineWork::handle(Prepared&) {
  if (!document_.maps) return;
  // a stroke goes on with the rays and the stack it began on
  preparedMeanwhile_ = stroke_ != nullptr;
  if (stroke_) return;
  if (auto rays = document_.maps->rays(); rays && rays_) rays_ = std::move(*rays);
  takeStack(preparedNow(document_.layers, *document_.maps, still_));
  refreshOverlay();
  refreshLines();
  oweAll();
}

// What is to be worked out beside the engine.
void EngineWork::wish() {
  preparer_.wish({document_.maps, document_.layers, viewing_.map ? MaskTerms{*viewing_.map} : MaskTerms(),
                  viewing_.lines ? document_.sculpt : nullptr, seenFromTheMiddle()});
}

// Chunks in the picture, nearest to its middle first.
std::vector<uint32_t> EngineWork::seenFromTheMiddle() const {
  const Vec2 middle(0.5f * static_cast<float>(viewing_.size.width),
                    0.5f * static_cast<float>(viewing_.size.height));
  std::vector<std::pair<float, uint32_t>> ranked;
  for (const uint32_t c : seen_) {
    const Vec3 at = project(viewing_.camera, viewing_.size, document_.surface->positions[c * kChunkSize]);
    ranked.emplace_back((at.head<2>() - middle).squaredNorm(), c);
  }
  std::ranges::sort(ranked);
  std::vector<uint32_t> out;
  for (const auto& [away, chunk] : ranked) out.push_back(chunk);
  return out;
}

// Where a layer is still to grow its glimpse shows, even of a setting that is older by now.
void EngineWork::handle(Preparer::Glimpses& glimpses) {
  if (glimpses.maps != document_.maps || stroke_) return;
  PreparedStack stack = stack_;
  for (PreparedLayer& shown : stack)
    for (auto& [layer, source] : glimpses.layers)
      if (shown.waiting && shown.layer->id == layer->id &&
          &shown.layer->source->kind() == &layer->source->kind())
        shown.source = glimpsed(source, glimpses.chunks, shown.source);
  takeStack(std::move(stack));
}

void EngineWork::noteWaiting() {
  queue_.noteWaiting(std::ranges::any_of(stack_, [](const PreparedLayer& p) { return p.waiting; }));
}

void EngineWork::tellTroubles() {
  QMap<uint32_t, QString> now, notes;
  for (const PreparedLayer& p : stack_) {
    if (p.source)
      if (const std::string note = p.source->note(); !note.empty())
        notes[p.layer->id] = QString::fromStdString(note);
    if (p.trouble) now[p.layer->id] = QString::fromStdString(p.trouble->message());
    if (p.waiting) now[p.layer->id] = EngineSignals::tr("is being measured and shows when that is done");
  }
  if (now == troubles_ && notes == notes_) return;
  troubles_ = now;
  notes_ = notes;
  emit tells_.troubled(now, notes);
}

}  // namespace juvenor::app
