#include "core/document/edits/lay_graft.h"

#include "core/document/edits/edit_checkpoints.h"
#include "core/layers/composite/composite.h"

namespace juvenor {

float radiusOf(const Graft& graft, const Document& document) {
  return 0.5f * graft.across / document.placement.millimetres;
}

Result<StrokeSetting> layingOf(const Graft& graft, const Document& document, const GraftLaying& laying,
                               const Progress& progress) {
  const GraftStamp made = stampOf(graft);
  const ChannelSet channels = made.channels & laying.channels;
  if (channels.empty()) return Error{"the graft brings nothing of what is to be laid"};
  StrokeSetting out;
  out.ink = inkKind("lay");
  out.layer = laying.layer;
  out.brush.tip = TipKind::Stamp;
  out.brush.stamp = {made.stamp, true, false};
  out.brush.radius = radiusOf(graft, document);
  out.brush.hardness = 1;
  out.brush.opacity = laying.strength;
  out.brush.flow = 1;
  out.brush.step = 0.7f;
  out.brush.turnBy = TurnBy::Stroke;
  out.brush.pressureSize = out.brush.pressureFlow = false;
  out.paint.color.reset();
  if (channels.has(Channel::Color)) out.paint.color = EncodedColor{};
  if (channels.has(Channel::Gloss)) out.paint[Channel::Gloss] = 1.f;
  if (channels.has(Channel::Relief))
    out.paint[Channel::Relief] = made.height / document.placement.millimetres;
  if (laying.adapts && channels.has(Channel::Color)) {
    auto skin = compositeOf(document.layers, *document.maps, document.bare, progress);
    if (!skin) return skin.error();
    out.adaptsTo = std::make_shared<const ColorField>(std::move(*skin));
  }
  return out;
}

Result<GraftSkin> graftSkinOf(const Document& document, const Progress& progress) {
  auto skin = skinOf(document.layers, *document.maps, document.bare, progress);
  if (!skin) return skin.error();
  GraftSkin out;
  out.fields = std::move(*skin);
  out.reliefStep = document.reliefStep;
  return out;
}

Result<GraftSkin> graftSkinBetween(const Document& document, uint32_t before, uint32_t after,
                                   const Progress& progress) {
  const auto skin = [&](uint32_t id) -> Result<ChannelFields> {
    if (id == 0) return skinOf(document.layers, *document.maps, document.bare, progress);
    const auto then = asKept(document, id);
    if (!then) return then.error();
    return skinOf(then->layers, *then->maps, then->bare, progress);
  };
  auto first = skin(before);
  if (!first) return first.error();
  auto second = skin(after);
  if (!second) return second.error();
  return GraftSkin{std::move(*second), std::move(*first), document.reliefStep};
}

}  // namespace juvenor
