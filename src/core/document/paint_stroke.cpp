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
  const Outcome ok = paintable(document, setting.layer, setting.onMask);
  if (!ok) return ok.error();
  if (!setting.ink) return Error{"no ink is chosen"};
  std::unique_ptr<PaintStroke> out(new PaintStroke(document, setting));
  const LayerPointer layer = layerOf(document, setting.layer);
  out->field_ = setting.onMask ? std::make_unique<WorkingField>(*layer->mask)
                               : std::make_unique<WorkingField>(*layer->source->painted());
  out->stroke_ = std::make_unique<Stroke>(
      *document.surface, setting.brush, setting.activePart,
      setting.ink->make({setting.color, setting.onMask, ditherOf(document.strokeCount)}), *out->field_,
      flood);
  return out;
}

LayerStack PaintStroke::layersNow() const {
  LayerStack layers = document_.layers;
  const size_t at = placeOf(document_, setting_.layer);
  Layer layer = *layers[at];
  if (setting_.onMask)
    layer.mask = field_->scalar();
  else
    layer.source = paintedSource(field_->color());
  layers[at] = std::make_shared<Layer>(std::move(layer));
  return layers;
}

Document PaintStroke::finish() {
  stroke_.reset();
  Document out = setting_.onMask ? withMaskField(document_, setting_.layer, field_->scalar())
                                 : withPainted(document_, setting_.layer, field_->color());
  ++out.strokeCount;
  return out;
}

}  // namespace juvenor
