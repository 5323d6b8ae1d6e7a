#include "core/document/paint_stroke.h"

#include <cmath>

#include "core/document/edits.h"

namespace juvenor {
namespace {

// Another rounding offset for every stroke, evenly spread over 0…1 (the golden ratio's multiples, Weyl 1916).
float ditherOf(uint32_t stroke) {
  const double turn = 0.6180339887498949 * static_cast<double>(stroke + 1);
  return static_cast<float>(turn - std::floor(turn));
}

}  // namespace

Result<std::unique_ptr<PaintStroke>> PaintStroke::begin(const Document& document,
                                                        const StrokeSetting& setting, Flood& flood) {
  if (!setting.onGuard)
    if (const Outcome ok = paintable(document, setting.layer, setting.onMask); !ok) return ok.error();
  if (!setting.ink) return Error{"no ink is chosen"};
  std::unique_ptr<PaintStroke> out(new PaintStroke(document, setting));
  const LayerPointer layer = layerOf(document, setting.layer);
  // the copy in `out` lives as long as the field
  const ScalarField* guard = out->document_.guard ? &*out->document_.guard : nullptr;
  if (setting.onGuard)
    out->field_ = std::make_unique<WorkingField>(document.guard.value_or(openMask(document.surface->size())));
  else if (setting.onMask)
    out->field_ = std::make_unique<WorkingField>(*layer->mask, guard);
  else
    out->field_ = std::make_unique<WorkingField>(*layer->source->painted(), guard);
  out->stroke_ = std::make_unique<Stroke>(
      *document.surface, setting.brush, setting.activePart,
      setting.ink->make({setting.color, setting.onMask || setting.onGuard, ditherOf(document.strokeCount)}),
      *out->field_, flood);
  return out;
}

LayerPointer PaintStroke::layerNow() const {
  if (setting_.onGuard) return nullptr;
  Layer layer = *layerOf(document_, setting_.layer);
  if (setting_.onMask)
    layer.mask = field_->scalar();
  else
    layer.source = paintedSource(field_->color());
  return std::make_shared<Layer>(std::move(layer));
}

Result<Document> PaintStroke::finish() {
  stroke_.reset();
  (void)field_->takeTouched();
  auto out = setting_.onGuard  ? withMaskField(document_, kGuard, field_->scalar())
             : setting_.onMask ? withMaskField(document_, setting_.layer, field_->scalar())
                               : withPainted(document_, setting_.layer, field_->color());
  if (out) ++out->strokeCount;
  return out;
}

}  // namespace juvenor
