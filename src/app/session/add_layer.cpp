#include "app/session/add_layer.h"

#include "app/session/words.h"

namespace juvenor::app {

bool addLayerOf(Session& session, const SourceKind& kind, Stratum stratum) {
  session.settleStrokes();
  const SourcePointer source = kind.fresh(*session.document().surface, session.tools().color());
  const QString name = told(kind.label);
  Document with = withSourceLayer(session.document(), name.toStdString(), stratum, source);
  if (kind.paintedOn)
    if (auto hidden = withMaskField(with, with.activeLayer, closedMask(with.surface->size())))
      with = std::move(*hidden);
  session.apply(std::move(with), Session::tr("Add layer: %1").arg(name));
  if (const auto tool = toolOf(kind)) session.tools().setTool(*tool);
  return !kind.keys.empty() && kind.key != "fill";
}

}  // namespace juvenor::app
