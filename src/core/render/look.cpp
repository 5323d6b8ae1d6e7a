#include "core/render/look.h"

#include <fmt/format.h>

#include "core/json_fields.h"

namespace juvenor {
namespace {

nlohmann::json lampJson(const Lamp& lamp) {
  return {{"on", lamp.on},     {"around", lamp.around}, {"up", lamp.up}, {"strength", lamp.strength},
          {"size", lamp.size}, {"kelvin", lamp.kelvin}};
}

Outcome readLamp(const nlohmann::json& said, Lamp& lamp) {
  return JsonFields(said)
      .flag("on", lamp.on)
      .number("around", lamp.around, -360, 360)
      .number("up", lamp.up, -90, 90)
      .number("strength", lamp.strength, 0, 20)
      .number("size", lamp.size, 0, 120)
      .number("kelvin", lamp.kelvin, kWarmestKelvin, kCoolestKelvin)
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

Outcome readCamera(const nlohmann::json& said, Camera& camera) {
  Vec3 turn = camera.turn.vec();
  float w = camera.turn.w();
  const Outcome ok = JsonFields(said)
                         .vector("target", camera.target)
                         .number("distance", camera.distance, 1e-6f, 1e9f)
                         .vector("turn", turn)
                         .number("turn w", w, -1, 1)
                         .number("field of view", camera.fieldOfView, 1, 120)
                         .flag("parallel", camera.parallel)
                         .done();
  if (!ok) return ok;
  const Eigen::Quaternionf said4(w, turn.x(), turn.y(), turn.z());
  if (!(said4.norm() > 0.1f) || !(said4.norm() < 10.f)) return Error{"is turned by nothing"};
  camera.turn = said4.normalized();
  return Done{};
}

}  // namespace

nlohmann::json toJson(const Look& look) {
  const Light& l = look.light;
  const Camera& c = look.camera;
  nlohmann::json lamps = nlohmann::json::array();
  for (const Lamp& lamp : l.lamps) lamps.push_back(lampJson(lamp));
  return {{"light",
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
          {"camera",
           {{"target", {c.target.x(), c.target.y(), c.target.z()}},
            {"distance", c.distance},
            {"turn", {c.turn.x(), c.turn.y(), c.turn.z()}},
            {"turn w", c.turn.w()},
            {"field of view", c.fieldOfView},
            {"parallel", c.parallel}}}};
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
                   .any("camera", camera)
                   .done();
  if (ok && light) ok = readLight(*light, out.light);
  if (ok && camera) ok = readCamera(*camera, out.camera);
  if (!ok) return Error{"how it is looked at " + ok.error().what};
  const auto known = viewFromKey(view);
  if (!known) return Error{fmt::format("there is no view '{}'", view)};
  out.view = *known;
  return out;
}

}  // namespace juvenor
