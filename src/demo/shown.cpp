#include "demo/shown.h"

#include "core/document/edits/edit_cameras.h"
#include "core/document/edits/edit_variants.h"
#include "core/document/edits/edits.h"
#include "core/render/still.h"

namespace juvenor::demo {
namespace {

constexpr ViewSize kWide{16, 9};

Document kept(const Document& d, const std::string& name, const Look& look) {
  auto out = withCamera(d, name, look);
  return out ? *out : d;
}

Box eyesOf(const Document& d) {
  Box out;
  for (size_t s = 0; s < d.surface->size(); ++s)
    if (d.sculpt->parts[d.surface->parts[s]].find("ye") != std::string::npos)
      out.add(d.surface->positions[s]);
  return out;
}

Document withCameras(Document d) {
  Look look;
  look.camera = framed(look.camera, kWide, shownPoints(d));
  d = kept(d, "Front", look);
  Look side = look;
  side.camera = framed(turned(look.camera, Vec2(38, 6) / kDegreesPerPixel), kWide, shownPoints(d));
  side.light.kind = LightKind::Lamps;
  side.light.dial = 0;
  side.backdrop.kind = BackdropKind::Gradient;
  side.backdrop.color = {0.34f, 0.34f, 0.34f};
  side.backdrop.top = {0.16f, 0.16f, 0.16f};
  side.backdrop.ground = true;
  d = kept(d, "Three quarters, lamps", side);
  const Box eyes = eyesOf(d);
  if (eyes.empty()) return d;
  Look near = look;
  near.camera = framed(turned(look.camera, Vec2(-22, 2) / kDegreesPerPixel), kWide, eyes);
  near.camera.distance *= 1.1f;
  near.focus.aperture = 4;
  return kept(d, "Eye to eye", near);
}

// A variant in which some layers do not show; the document stays as it was.
Document without(const Document& d, const std::string& name, std::initializer_list<std::string_view> hidden) {
  Document out = d;
  for (const LayerPointer& layer : d.layers) {
    if (std::ranges::find(hidden, layer->name) == hidden.end()) continue;
    LayerChange change;
    change.visible = false;
    if (auto changed = withLayerChanged(out, layer->id, change)) out = std::move(*changed);
  }
  const auto variant = withVariant(out, name);
  if (!variant) return d;
  out = d;
  out.variants = variant->variants;
  out.nextVariant = variant->nextVariant;
  return out;
}

}  // namespace

Document withCamerasAndVariants(Document d, Figure figure) {
  d = withCameras(std::move(d));
  d = without(d, "As he lives", {});
  if (figure == Figure::Ferryman) {
    d = without(d, "Dry season", {"Slime and wet"});
    return without(d, "Plain hide", {"Markings", "Vessels"});
  }
  d = without(d, "Clean-shaven", {"Hair"});
  return without(d, "A winter indoors", {"Sun's marks", "Vessels"});
}

}  // namespace juvenor::demo
