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

namespace {

struct StageWords {
  const char *key, *name, *tip;
};
// In the order of the course.
constexpr StageWords kStages[] = {
    {"prepare", QT_TRANSLATE_NOOP("juvenor::app::Session", "Prepare"),
     QT_TRANSLATE_NOOP("juvenor::app::Session",
                       "Prepare: whether the sculpt can carry paint, and what would help")},
    {"base", QT_TRANSLATE_NOOP("juvenor::app::Session", "Base"),
     QT_TRANSLATE_NOOP("juvenor::app::Session",
                       "Base: a tone for every part, then shadows and light from the shape")},
    {"zones", QT_TRANSLATE_NOOP("juvenor::app::Session", "Zones"),
     QT_TRANSLATE_NOOP("juvenor::app::Session",
                       "Zones: landmarks and hue zones of blood and bone, melted into the base")},
    {"pigment", QT_TRANSLATE_NOOP("juvenor::app::Session", "Pigment"),
     QT_TRANSLATE_NOOP("juvenor::app::Session", "Pigment: markings with the airbrush, as a stain")},
    {"pattern", QT_TRANSLATE_NOOP("juvenor::app::Session", "Pattern"),
     QT_TRANSLATE_NOOP("juvenor::app::Session",
                       "Pattern: scales, bands, spots and fine skin that grow on the form")},
    {"photo", QT_TRANSLATE_NOOP("juvenor::app::Session", "Photo"),
     QT_TRANSLATE_NOOP("juvenor::app::Session",
                       "Photo: pictures pinned to the skin, judged, evened, thrown or painted through")},
    {"finish", QT_TRANSLATE_NOOP("juvenor::app::Session", "Finish"),
     QT_TRANSLATE_NOOP("juvenor::app::Session", "Finish: step back, hand the work on, show it")}};
static_assert(std::size(kStages) == kStageCount);

const StageWords& wordsOf(int stage) {
  return kStages[std::clamp<int>(stage, kPrepareStage, kFinishStage) - kPrepareStage];
}

}  // namespace

QString stageName(int stage) {
  return Session::tr(wordsOf(stage).name);
}

QString stageTip(int stage) {
  return Session::tr(wordsOf(stage).tip);
}

QString stageKey(int stage) {
  return wordsOf(stage).key;
}

int stageFromKey(const QString& key) {
  for (int stage = kPrepareStage; stage <= kFinishStage; ++stage)
    if (key == stageKey(stage)) return stage;
  return kBaseStage;
}

void goToStage(Session& session, int stage) {
  session.tools().setStage(stage);
  if (stage == kZonesStage && session.isOpen()) chooseZones(session);
}

void enterStage(Session& session, int stage) {
  goToStage(session, stage);
  Tools& tools = session.tools();
  emit tools.stageEntered(stage);
  switch (stage) {
    case kPrepareStage:
      return session.say(
          Session::tr("Prepare: a row each for what the sculpt must have; a button mends what it lacks."));
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
      tools.setTool(Tool::Airbrush);
      return session.say(
          Session::tr("Pattern: press what is to grow on the skin; comb it, and work on it by Touch."));
    case kPhotoStage:
      tools.setTool(Tool::Slide);
      return session.say(Session::tr(
          "Photo: hang a photo before the eye, pin it to the skin, throw it or paint through it."));
    default:
      return session.say(Session::tr("Finish: squint, step back, then write maps or show the work."));
  }
}

}  // namespace juvenor::app
