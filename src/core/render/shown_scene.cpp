#include "core/render/shown_scene.h"

#include "core/hair/grown_hair.h"
#include "core/layers/composite/composite.h"
#include "core/render/spread_light.h"

namespace juvenor {
namespace {

Outcome spreadNow(Lighting& lighting, SurfaceMaps& maps, const Progress& progress) {
  const auto received = lighting.toSpread();
  if (!received) return Done{};
  const auto spread = spreadLight(*received, maps, progress);
  if (!spread) return spread.error();
  (void)lighting.takeSpread(*spread, received->counter);
  return Done{};
}

// The part of a piece of work from `from` to `to`.
Progress within(const Progress& progress, float from, float to) {
  if (!progress) return {};
  return [&progress, from, to](float f) { return progress(from + (to - from) * f); };
}

}  // namespace

Light lightOn(const Document& document, Light light) {
  if (!hasColor(document)) light.depth = 0;
  return light;
}

Result<ShownScene::Pointer> ShownScene::of(const Document& document, bool hair, const Progress& progress) {
  auto out = std::make_shared<ShownScene>();
  out->document_ = document;
  auto rays = document.maps->rays(within(progress, 0, 0.4f));
  if (!rays) return rays.error();
  out->rays_ = std::move(*rays);
  auto skin = skinOf(document.layers, *document.maps, document.bare, within(progress, 0.4f, 0.8f));
  if (!skin) return skin.error();
  out->skin_ = std::move(*skin);
  out->relief_ = std::make_unique<ReliefNormals>(
      reliefNormals(document.surface, out->skin_.get<Channel::Relief>(), kLevel, document.reliefStep));
  out->corneas_ = corneasOf(document.layers);
  if (hair) {
    auto grown = grownHair(document, within(progress, 0.8f, 1));
    if (!grown) return grown.error();
    out->hair_ = std::move(*grown);
  }
  return out;
}

Outcome ShownScene::setLight(const Light& light, const Eigen::Matrix3f& clayFrom, bool spread,
                             const Progress& progress) {
  light_ = light;
  if (!lighting_) {
    lighting_ = std::make_unique<Lighting>(document_.surface);
    lighting_->setMillimetres(document_.placement.millimetres);
    lighting_->setHidden(document_.hiddenParts);
  }
  lighting_->setLight(lightOn(document_, light), clayFrom);
  if (!lighting_->settle(*rays_, [&] { return !report(progress, 0.3f); })) return cancelledError();
  if (!spread) return Done{};
  return spreadNow(*lighting_, *document_.maps, within(progress, 0.6f, 1));
}

Outcome ShownScene::readyForTurningLight(const Progress& progress) {
  if (!lighting_) return Done{};
  float done = 0;
  while (const auto piece = lighting_->transferToSpread()) {
    const Progress part = within(progress, done, done + 1.f / kTransferPieces);
    if (const Outcome spread = spreadPiece(*piece, *document_.maps, part); !spread) return spread;
    if (!lighting_->takeTransfer(piece->counter)) break;
    done += 1.f / kTransferPieces;
  }
  return Done{};
}

ShadeInput ShownScene::input(const Camera& camera, View view) const {
  ShadeInput out;
  out.surface = document_.surface.get();
  out.skin = &skin_;
  out.camera = camera;
  out.light = light_;
  out.view = view;
  if (relief_->any()) out.relief = relief_.get();
  out.reliefStep = document_.reliefStep;
  out.channel.height = 0;
  out.corneas = corneas_;
  out.rays = rays_.get();
  if (view == View::Skin) out.hair = hair_.get();
  if (!lighting_) return out;
  out.lit = lighting_->samples();
  out.open = lighting_->open();
  out.received = lighting_->received();
  out.by = &lighting_->light();
  return out;
}

}  // namespace juvenor
