#include "batch/script_stroke.h"

#include <fmt/format.h>

#include "core/document/paint_stroke.h"
#include "core/document/state_json.h"
#include "core/surface/rays.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

// The ray structure of the last surface: a script lays many strokes on one.
const Rays& raysOver(const std::shared_ptr<const Surface>& surface) {
  static std::unique_ptr<Rays> rays;
  if (!rays || rays->sharedSurface() != surface) rays = std::make_unique<Rays>(surface, Rays::Quality::Quick);
  return *rays;
}

Result<Brush> brushFrom(const json& step, float usualRadius) {
  const json j = step.value("brush", json::object());
  Brush b;
  b.radius = j.value("size", usualRadius);
  b.hardness = j.value("hardness", b.hardness);
  b.opacity = j.value("opacity", b.opacity);
  b.flow = j.value("flow", b.flow);
  b.spacing = j.value("spacing", b.spacing);
  b.frontOnly = j.value("front only", b.frontOnly);
  b.allParts = j.value("all parts", b.allParts);
  b.mirrorTolerance = j.value("mirror tolerance", b.mirrorTolerance);
  for (const char axis : j.value("mirror", std::string())) {
    if (axis < 'x' || axis > 'z') return Error{"\"mirror\" is made of the letters x, y and z"};
    b.mirror[static_cast<size_t>(axis - 'x')] = true;
  }
  const auto drives = j.value("pressure", std::vector<std::string>{"size", "flow"});
  const auto has = [&](const char* what) { return std::ranges::find(drives, what) != drives.end(); };
  b.pressureSize = has("size");
  b.pressureOpacity = has("opacity");
  b.pressureFlow = has("flow");
  if (!(b.radius > 0) || !(b.spacing > 0)) return Error{"the brush needs a size and a spacing above zero"};
  return b;
}

}  // namespace

Result<Document> withScriptedStroke(const json& step, const Document& d, uint32_t layer,
                                    uint32_t activePart) {
  auto brush = brushFrom(step, 0.035f * d.surface->bounds.diagonal());
  if (!brush) return brush.error();
  StrokeSetting setting;
  setting.brush = *brush;
  setting.layer = layer;
  setting.onMask = step.value("on mask", false);
  setting.activePart = activePart;
  const std::string ink = step.value("ink", "lay");
  setting.ink = inkKind(ink);
  if (!setting.ink) return Error{fmt::format("there is no ink '{}'", ink)};
  if (step.contains("color")) {
    const auto color = colorFromJson(step["color"]);
    if (!color) return Error{fmt::format("{} is no colour", step["color"].dump())};
    setting.color = *color;
  }
  const json points = step.value("points", json::array());
  if (points.empty()) return Error{"needs \"points\": [[x, y, z, pressure], …]"};
  Flood flood;
  auto stroke = PaintStroke::begin(d, setting, flood);
  if (!stroke) return stroke.error();
  const Rays& rays = raysOver(d.surface);
  for (const json& p : points) {
    if (!p.is_array() || p.size() < 3)
      return Error{fmt::format("{} is no point; expected [x, y, z, pressure]", p.dump())};
    const Vec3 at(p[0].get<float>(), p[1].get<float>(), p[2].get<float>());
    const auto place = rays.nearest(at, 2 * setting.brush.radius);
    if (place)
      (*stroke)->stroke().moveTo(*place, p.size() > 3 ? p[3].get<float>() : 1.f);
    else
      (*stroke)->stroke().lift();
  }
  if ((*stroke)->stroke().dabCount() == 0) return Error{"no point of the stroke lies near the surface"};
  return (*stroke)->finish();
}

}  // namespace juvenor::batch
