// What the pen and fills begin with: the tool, the brush and the colours in hand, and what the history calls
// it.
#include "app/session/session.h"
#include "app/session/words.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/layers/sources/fill.h"

namespace juvenor::app {
namespace {

// What the history calls work with some channels: "colour #b98570, gloss 80 %".
QString nameOf(const ChannelValues& values, bool withValues) {
  QStringList out;
  eachChannel([&](auto c) {
    if (!values.channels().has(c())) return;
    QString name = told(factsOf(c()).label).toLower();
    if (withValues && c() == Channel::Color)
      name += " " + QString::fromStdString(toHex(*values.color));
    else if (withValues && factsOf(c()).rule == ChannelRule::Add)
      name += QString(" %1").arg(static_cast<double>(*values[c()]), 0, 'g', 2);
    else if (withValues)
      name += QString(" %1 %").arg(std::lround(100 * *values[c()]));
    out << name;
  });
  return out.join(", ");
}

QString nameOf(const InkKind& ink, const ChannelValues& paint) {
  // of what only moves what is there, colour goes without saying
  if (!ink.brings && paint.channels() == ChannelSet(Channel::Color)) return told(ink.label);
  return told(ink.label) + " " + nameOf(paint, ink.brings);
}

}  // namespace

StrokeSetting Session::strokeSetting(bool erasing) const {
  StrokeSetting setting;
  setting.brush = tools_.brush();
  setting.paint = tools_.paint();
  setting.layer = document().activeLayer;
  setting.activePart = activePart_;
  const Tool tool = tools_.tool();
  setting.onMask = tool == Tool::Mask || (tool == Tool::Restore && tools_.restoresMask());
  setting.onGuard = tool == Tool::Guard;
  // where a layer is painted by its mask a pen brings it, and its other end takes it away
  const LayerPointer layer = setting.onMask ? layerOf(document(), setting.layer) : nullptr;
  if (layer && layer->source->kind().paintedOn) erasing = !erasing;
  setting.ink = inkKind(erasing || tool == Tool::Erase ? "erase"
                        : tool == Tool::Blend          ? "blend"
                        : tool == Tool::Smear          ? "smear"
                        : tool == Tool::Restore        ? "restore"
                                                       : "lay");
  if (setting.ink->bringsBack && checkpointOf(document(), tools_.checkpoint()))
    setting.checkpoint = tools_.checkpoint();
  return setting;
}

void Session::beginStroke(bool erasing, const PenPoint& point, const BeforeSkin& before, bool onSheet) {
  collect();
  // the stroke before is on disk by now, unless the disk is slower than the hand: then it follows
  (void)disk_.flushWithin(std::chrono::milliseconds(8));
  StrokeSetting setting = strokeSetting(erasing);
  setting.stencil = before.stencil;
  setting.slide = before.slide;
  if (!onSheet) setting.cutAway = before.cutAway;
  if (tools_.adapts() && setting.brush.tip == TipKind::Stamp && setting.brush.stamp.ownColors)
    setting.adaptsTo = engine_.skinNow();
  const bool erase = setting.ink == inkKind("erase");
  if (setting.onMask) {
    const LayerPointer layer = layerOf(document(), setting.layer);
    if (layer && !layer->mask && layer->visible && !layer->locked) {
      settleStrokes();
      apply(withMask(document(), setting.layer), tr("Add mask"));
    }
  }
  if (!setting.onGuard)
    if (const Outcome may = paintable(document(), setting.layer, setting.onMask); !may)
      return offerWayOut(may.error());
  const QString name = setting.onGuard ? (erase ? tr("Free from the guard") : tr("Guard"))
                       : setting.ink->bringsBack && setting.onMask ? tr("Restore mask")
                       : setting.onMask            ? (erase ? tr("Show through mask") : tr("Hide with mask"))
                       : goesThroughSlide(setting) ? tr("Paint through slide")
                                                   : nameOf(*setting.ink, setting.paint);
  engine_.beginStroke(setting, point, name, onSheet);
  if (setting.ink->brings && setting.paint.color && !setting.onMask && !setting.onGuard)
    tools_.noteUsed(*setting.paint.color);
}

// What the hand meant cannot be; what it takes is a press away.
void Session::offerWayOut(const Error& why) {
  const QString text = QString::fromStdString(why.message());
  const LayerPointer layer = layerOf(document(), document().activeLayer);
  const auto change = [this](const LayerChange& to, const QString& name) {
    settleStrokes();
    apply(withLayerChanged(document(), document().activeLayer, to), name);
  };
  LayerChange to;
  if (layer && !layer->visible) {
    to.visible = true;
    emit offered(text, tr("Show it"), [change, to] { change(to, tr("Show layer")); });
  } else if (layer && layer->locked) {
    to.locked = false;
    emit offered(text, tr("Unlock it"), [change, to] { change(to, tr("Unlock layer")); });
  } else {
    emit offered(text, tr("Add a painted layer"), [this] {
      settleStrokes();
      const LayerPointer active = layerOf(document(), document().activeLayer);
      apply(withPaintedLayer(document(), tr("Paint").toStdString(),
                             active ? active->stratum : Stratum::Pigment),
            tr("Add layer"));
    });
  }
}

void Session::fillNow() {
  settleStrokes();
  const uint32_t part = tools_.brush().allParts ? kNone : activePart_;
  const LayerPointer layer = layerOf(document(), document().activeLayer);
  const ChannelValues paint = tools_.paint();
  if (paint.channels().empty())
    return say(tr("Nothing to fill with: choose colour, gloss or another channel under the wells."), true);
  if (paint.color) tools_.noteUsed(*paint.color);
  if (layer && fillValues(*layer->source)) {
    LayerChange change;
    change.values = *fillValues(*layer->source);
    if (paint.color) change.values->color = paint.color;
    for (size_t c = 0; c < kChannelCount; ++c)
      if (paint.number[c]) change.values->number[c] = paint.number[c];
    apply(withLayerChanged(document(), layer->id, change), tr("Fill layer: %1").arg(nameOf(paint, true)));
    return;
  }
  const float strength = tools_.fillStrength();
  edit(tr("Fill %1 % %2").arg(std::lround(100 * strength)).arg(nameOf(paint, true)),
       [=](const Document& d, const Progress&) {
         return withFilled(d, d.activeLayer, paint, strength, part);
       });
}

}  // namespace juvenor::app
