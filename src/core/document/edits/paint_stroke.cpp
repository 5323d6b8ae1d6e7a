#include "core/document/edits/paint_stroke.h"

#include <fmt/format.h>

#include <cmath>

#include "core/brush/paints/adapted.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edits.h"
#include "core/layers/sources/painted.h"

namespace juvenor {
namespace {

// Another rounding offset for every stroke, evenly spread over 0…1 (the golden ratio's multiples, Weyl 1916).
float ditherOf(uint32_t stroke) {
  const double turn = 0.6180339887498949 * static_cast<double>(stroke + 1);
  return static_cast<float>(turn - std::floor(turn));
}

Error nothingToDo(const StrokeSetting& setting, const Layer& layer) {
  if (setting.paint.channels().empty())
    return {"The pen lays nothing: choose colour, gloss or another channel under the wells."};
  return {fmt::format("“{}” has nothing of what the pen is set to. Choose colour, or lay some first.",
                      layer.name)};
}

}  // namespace

bool goesThroughSlide(const StrokeSetting& setting) {
  return setting.slide && setting.ink->brings && !setting.ink->bringsBack && !setting.onMask &&
         !setting.onGuard;
}

void PaintStroke::work(std::optional<Channel> channel, WorkingField::Any field, const ScalarField* guard,
                       std::shared_ptr<const WorkingField::Any> kept) {
  const bool keepsCover =
      channel && factsOf(*channel).rule != ChannelRule::Add && layerOf(document_, setting_.layer)->keepsCover;
  work_.push_back({setting_.ink->make({channel, setting_.paint, document_.maps->reliefStep(), std::move(kept),
                                       ditherOf(document_.strokeCount)}),
                   std::make_unique<WorkingField>(std::move(field), guard, keepsCover)});
}

Outcome PaintStroke::workOnMask() {
  // the copy in `document_` lives as long as the fields
  const ScalarField* guard = document_.guard ? &*document_.guard : nullptr;
  std::shared_ptr<const WorkingField::Any> kept;
  if (setting_.ink->bringsBack) {
    auto then = maskKeptOf(document_, setting_.checkpoint, setting_.layer);
    if (!then) return then.error();
    kept = std::make_shared<const WorkingField::Any>(std::move(*then));
  }
  work({}, *layerOf(document_, setting_.layer)->mask, guard, std::move(kept));
  return Done{};
}

Outcome PaintStroke::workOnLayer() {
  const ScalarField* guard = document_.guard ? &*document_.guard : nullptr;
  std::optional<ChannelFields> then;
  if (setting_.ink->bringsBack) {
    auto fields = fieldsKeptOf(document_, setting_.checkpoint, setting_.layer);
    if (!fields) return fields.error();
    then = std::move(*fields);
  }
  eachChannel([&](auto c) {
    if (channels().has(c()))
      work(c(), layerOf(document_, setting_.layer)->source->fields()->template get<c()>(), guard,
           then ? std::make_shared<const WorkingField::Any>(then->get<c()>()) : nullptr);
  });
  return Done{};
}

Result<std::unique_ptr<PaintStroke>> PaintStroke::begin(const Document& document,
                                                        const StrokeSetting& setting, Flood& flood) {
  if (!setting.onGuard)
    if (const Outcome ok = paintable(document, setting.layer, setting.onMask); !ok) return ok.error();
  if (!setting.ink) return Error{"no ink is chosen"};
  std::unique_ptr<PaintStroke> out(new PaintStroke(document, setting));
  if (setting.ink->bringsBack) {
    if (setting.onGuard) return Error{"Checkpoints keep layers, not the guard."};
    if (document.checkpoints.empty())
      return Error{"There is no checkpoint yet to restore from: keep one first."};
    if (setting.checkpoint == 0) out->setting_.checkpoint = document.checkpoints.back().id;
  }
  const LayerPointer layer = layerOf(document, setting.layer);
  Outcome ok = Done{};
  if (setting.onGuard)
    out->work({}, document.guard.value_or(openMask(document.surface->size())), nullptr);
  else
    ok = setting.onMask ? out->workOnMask() : out->workOnLayer();
  if (!ok) return ok.error();
  if (out->work_.empty()) return nothingToDo(setting, *layer);
  std::shared_ptr<Paint> paint;
  if (goesThroughSlide(setting)) {
    auto light = lightOver(setting.slide->slide, *document.maps);
    if (!light) return light.error();
    paint = std::make_shared<PaintThroughSlide>(
        *setting.slide, *light,
        setting.paint[Channel::Relief].has_value() || setting.paint[Channel::Gloss].has_value());
  }
  if (!paint && setting.adaptsTo && setting.adaptsTo->size() == document.surface->size())
    paint = std::make_shared<AdaptedPaint>(*setting.adaptsTo);
  out->stroke_ = std::make_unique<Stroke>(
      *document.surface,
      Stroke::Setting{setting.brush, setting.activePart, setting.seed.value_or(document.strokeCount + 1),
                      setting.paint.color, setting.stencil, paint, mirrorsOf(document), document.hiddenParts,
                      setting.cutAway},
      out->work_, flood);
  return out;
}

// An ink that brings nothing has nothing to do with a channel nobody touched; colour is always at hand.
ChannelSet PaintStroke::channels() const {
  if (setting_.onMask || setting_.onGuard) return {};
  const ChannelSet ticked = setting_.paint.channels();
  if (setting_.ink->brings) return ticked;
  return ticked & (layerOf(document_, setting_.layer)->source->channels() | Channel::Color);
}

std::vector<uint32_t> PaintStroke::takeTouched() {
  std::vector<uint32_t> out;
  // every ink works on the same samples
  for (const InkAtWork& w : work_) out = w.field->takeTouched();
  return out;
}

ChannelFields PaintStroke::fieldsNow() const {
  ChannelFields out = *layerOf(document_, setting_.layer)->source->fields();
  size_t next = 0;
  eachChannel([&](auto c) {
    if (channels().has(c())) out.get<c()>() = work_[next++].field->template as<factsOf(c()).planes()>();
  });
  return out;
}

LayerPointer PaintStroke::layerNow() const {
  if (setting_.onGuard) return nullptr;
  Layer layer = *layerOf(document_, setting_.layer);
  if (setting_.onMask)
    layer.mask = mask();
  else
    layer.source = paintedSource(fieldsNow());
  return std::make_shared<Layer>(std::move(layer));
}

Result<Document> PaintStroke::finish() {
  if (stroke_) stroke_->end();
  stroke_.reset();
  (void)takeTouched();
  auto out = setting_.onGuard  ? withMaskField(document_, kGuard, mask())
             : setting_.onMask ? withMaskField(document_, setting_.layer, mask())
                               : withPainted(document_, setting_.layer, fieldsNow());
  if (out) ++out->strokeCount;
  return out;
}

}  // namespace juvenor
