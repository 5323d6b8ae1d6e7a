#include "app/session/stages.h"

#include <algorithm>

namespace juvenor::app {
namespace {

bool isZones(const Layer& layer) {
  return layer.source->kind().key == "zones";
}

// The topmost layer of zones, unless one is chosen already.
void chooseZones(Session& session) {
  const Document& d = session.document();
  const LayerPointer active = layerOf(d, d.activeLayer);
  if (active && isZones(*active)) return;
  const LayerStack layers = d.layers;
  const auto zones = std::find_if(layers.rbegin(), layers.rend(), [](const auto& l) { return isZones(*l); });
  if (zones == layers.rend()) return;
  session.settleStrokes();
  session.chooseLayer((*zones)->id);
}

}  // namespace

QStringList stageNames() {
  return {Session::tr("Base"),    Session::tr("Zones"), Session::tr("Pigment"),
          Session::tr("Pattern"), Session::tr("Photo"), Session::tr("Finish")};
}

QStringList stageTips() {
  return {Session::tr("Base: a tone for every part, then shadows and light from the shape"),
          Session::tr("Zones: landmarks and hue zones of blood and bone, melted into the base"),
          Session::tr("Pigment: markings with the airbrush, as a stain"),
          Session::tr("Pattern: a surface layer to draw marks on"),
          Session::tr("Photo: colours by eye, with Pick"),
          Session::tr("Finish: judge the values, then export")};
}

void goToStage(Session& session, int stage) {
  session.tools().setStage(stage);
  if (stage == kZonesStage && session.isOpen()) chooseZones(session);
}

void enterStage(Session& session, int stage) {
  goToStage(session, stage);
  Tools& tools = session.tools();
  emit tools.stageEntered(stage);
  Brush brush = tools.brush();
  switch (stage) {
    case kBaseStage:
      tools.setTool(Tool::Fill);
      return session.say(Session::tr(
          "Base: one tone per part in one go, or press a part to fill it; then shadows and light from the "
          "shape."));
    case kZonesStage:
      tools.setTool(Tool::Zones);
      return session.say(
          Session::tr("Zones: place landmarks, lay the usual zones, then drag their handles."));
    case kPigmentStage:
      tools.setTool(Tool::Airbrush);
      return session.say(Session::tr(
          "Pigment: markings on a Pigment layer; blend mode Stain lets the flesh shine through."));
    case kPatternStage:
      brush.hardness = 0.7f;
      tools.setBrush(brush);
      tools.setTool(Tool::Airbrush);
      return session.say(Session::tr("Pattern: a harder brush on a Surface layer."));
    case kPhotoStage:
      tools.setTool(Tool::Slide);
      return session.say(Session::tr(
          "Photo: hang a photo before the eye, pin it to the skin, throw it or paint through it."));
    default:
      return session.say(Session::tr("Finish: squint at the values; File ▸ Export hands the colours on."));
  }
}

}  // namespace juvenor::app
