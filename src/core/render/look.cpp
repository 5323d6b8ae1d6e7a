#include "core/render/look.h"

#include <fmt/format.h>

#include "core/json_fields.h"
#include "core/view/camera_json.h"

namespace juvenor {
namespace {

nlohmann::json lampJson(const Lamp& lamp) {
  nlohmann::json out{{"on", lamp.on},     {"around", lamp.around},
                     {"up", lamp.up},     {"strength", lamp.strength},
                     {"size", lamp.size}, {"kelvin", lamp.kelvin}};
  if (lamp.shineOnly) out["mirrored only"] = true;
  return out;
}

Outcome readLamp(const nlohmann::json& said, Lamp& lamp) {
  return JsonFields(said)
      .flag("on", lamp.on)
      .number("around", lamp.around, -360, 360)
      .number("up", lamp.up, -90, 90)
      .number("strength", lamp.strength, 0, 20)
      .number("size", lamp.size, 0, 120)
      .number("kelvin", lamp.kelvin, kWarmestKelvin, kCoolestKelvin)
      .flag("mirrored only", lamp.shineOnly)
      .done();
}

Outcome readLight(const nlohmann::json& said, Light& light) {
  std::string kind(lightKindKey(light.kind));
  const nlohmann::json* lamps = nullptr;
  const Outcome ok = JsonFields(said)
                         .text("kind", kind)
                         .number("dial", light.dial, -1e6f, 1e6f)
                         .number("patch", light.patch, 0, 20)
                         .list("lamps", lamps)
                         .text("surroundings", light.surroundings)
                         .number("brightness", light.brightness, 0, 20)
                         .number("exposure", light.exposure, -10, 10)
                         .number("depth", light.depth, 0, 20)
                         .done();
  if (!ok) return ok;
  const auto known = lightKindFromKey(kind);
  if (!known) return Error{fmt::format("there is no light '{}'", kind)};
  light.kind = *known;
  for (size_t i = 0; lamps && i < lamps->size() && i < kLampCount; ++i)
    if (const Outcome read = readLamp((*lamps)[i], light.lamps[i]); !read) return read;
  return Done{};
}

}  // namespace

nlohmann::json toJson(const Look& look) {
  const Light& l = look.light;
  nlohmann::json lamps = nlohmann::json::array();
  for (const Lamp& lamp : l.lamps) lamps.push_back(lampJson(lamp));
  nlohmann::json out{{"light",
                      {{"kind", lightKindKey(l.kind)},
                       {"dial", l.dial},
                       {"patch", l.patch},
                       {"lamps", lamps},
                       {"surroundings", l.surroundings},
                       {"brightness", l.brightness},
                       {"exposure", l.exposure},
                       {"depth", l.depth}}},
                     {"with view", look.lightFollows},
                     {"view", viewKey(look.view)},
                     {"lines", look.lines},
                     {"camera", toJson(look.camera)}};
  if (!look.stage.empty()) out["stage"] = look.stage;
  return out;
}

Result<Look> lookFrom(const nlohmann::json& said) {
  Look out;
  std::string view(viewKey(out.view));
  const nlohmann::json *light = nullptr, *camera = nullptr;
  Outcome ok = JsonFields(said)
                   .any("light", light)
                   .flag("with view", out.lightFollows)
                   .text("view", view)
                   .flag("lines", out.lines)
                   .text("stage", out.stage)
                   .any("camera", camera)
                   .done();
  if (ok && light) ok = readLight(*light, out.light);
  if (ok && camera) {
    auto stands = cameraFromJson(*camera);
    if (stands)
      out.camera = *stands;
    else
      ok = stands.error();
  }
  if (!ok) return Error{"how it is looked at " + ok.error().what};
  const auto known = viewFromKey(view);
  if (!known) return Error{fmt::format("there is no view '{}'", view)};
  out.view = *known;
  return out;
}

}  // namespace juvenor
