#include "app/layer_card/shown_layer.h"

namespace juvenor::app {

void ShownLayer::set(const Layer& layer) {
  id_ = layer.id;
  kind_ = &layer.source->kind();
}

LayerPointer ShownLayer::now() const {
  const LayerPointer layer = session_.isOpen() ? layerOf(session_.document(), id_) : nullptr;
  return layer && &layer->source->kind() == kind_ ? layer : nullptr;
}

void ShownLayer::preview(const Edit& edit) const {
  const LayerPointer layer = now();
  if (!layer) return;
  if (const auto shown = edit(session_.document(), *layer)) session_.preview(*shown);
}

bool ShownLayer::keep(const QString& step, const Edit& edit) const {
  if (!session_.isOpen()) return false;
  session_.settleStrokes();
  const LayerPointer layer = now();
  return session_.apply(layer ? edit(session_.document(), *layer)
                              : Error{Session::tr("The layer this was meant for is gone.").toStdString()},
                        step);
}

}  // namespace juvenor::app
