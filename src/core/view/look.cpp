#include "core/view/look.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/color/color_json.h"
#include "core/color/lamp_color.h"
#include "core/view/camera_json.h"

namespace juvenor {
namespace {

constexpr std::array<std::string_view, 5> kViews{"flat", "value", "channel", "clay", "skin"};
constexpr std::array<std::string_view, 4> kBackdrops{"plain", "gradient", "picture", "surroundings"};

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

std::string_view viewKey(View view) {
  return kViews[static_cast<size_t>(view)];
}

std::optional<View> viewFromKey(std::string_view key) {
  const auto found = std::ranges::find(kViews, key);
  if (found == kViews.end()) return std::nullopt;
  return static_cast<View>(found - kViews.begin());
}

std::string_view backdropKindKey(BackdropKind kind) {
  return kBackdrops[static_cast<size_t>(kind)];
}

std::optional<BackdropKind> backdropKindFromKey(std::string_view key) {
  const auto found = std::ranges::find(kBackdrops, key);
  if (found == kBackdrops.end()) return std::nullopt;
  return static_cast<BackdropKind>(found - kBackdrops.begin());
}

nlohmann::json toJson(const Focus& focus) {
  nlohmann::json out{{"aperture", focus.aperture}};
  if (focus.sharp) out["sharp"] = {focus.sharp->x(), focus.sharp->y(), focus.sharp->z()};
  return out;
}

Result<Focus> focusFromJson(const nlohmann::json& said) {
  Focus out;
  Vec3 sharp = Vec3::Zero();
  JsonFields fields(said);
  const Outcome ok =
      fields.number("aperture", out.aperture, 0, kNarrowestAperture).vector("sharp", sharp).done();
  if (!ok) return ok.error();
  if (out.aperture > 0) out.aperture = std::max(kWidestAperture, out.aperture);
  if (fields.has("sharp")) out.sharp = sharp;
  return out;
}

nlohmann::json toJson(const Backdrop& b) {
  nlohmann::json out{{"kind", backdropKindKey(b.kind)},
                     {"color", toJson(b.color)},
                     {"top", toJson(b.top)},
                     {"picture", b.picture},
                     {"blur", b.blur},
                     {"ground", b.ground}};
  return out;
}

Result<Backdrop> backdropFromJson(const nlohmann::json& said) {
  Backdrop out;
  std::string kind(backdropKindKey(out.kind));
  const Outcome ok = JsonFields(said)
                         .text("kind", kind)
                         .value("color", out.color, kJsonColor)
                         .value("top", out.top, kJsonColor)
                         .text("picture", out.picture)
                         .number("blur", out.blur, 0, 1)
                         .flag("ground", out.ground)
                         .done();
  if (!ok) return ok.error();
  const auto known = backdropKindFromKey(kind);
  if (!known) return Error{fmt::format("know no backdrop '{}'", kind)};
  out.kind = *known;
  return out;
}

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
  if (look.focus != Focus{}) out["focus"] = toJson(look.focus);
  if (look.backdrop != Backdrop{}) out["backdrop"] = toJson(look.backdrop);
  if (!look.stage.empty()) out["stage"] = look.stage;
  return out;
}

Result<Look> lookFrom(const nlohmann::json& said) {
  Look out;
  std::string view(viewKey(out.view));
  const nlohmann::json *light = nullptr, *camera = nullptr, *focus = nullptr, *backdrop = nullptr;
  Outcome ok = JsonFields(said)
                   .any("light", light)
                   .flag("with view", out.lightFollows)
                   .text("view", view)
                   .flag("lines", out.lines)
                   .text("stage", out.stage)
                   .any("camera", camera)
                   .any("focus", focus)
                   .any("backdrop", backdrop)
                   .done();
  if (ok && light) ok = readLight(*light, out.light);
  const auto take = [&ok](const auto& read, auto& into) {
    if (read)
      into = *read;
    else
      ok = read.error();
  };
  if (ok && camera) take(cameraFromJson(*camera), out.camera);
  if (ok && focus) take(focusFromJson(*focus), out.focus);
  if (ok && backdrop) take(backdropFromJson(*backdrop), out.backdrop);
  if (!ok) return Error{"how it is looked at " + ok.error().what};
  const auto known = viewFromKey(view);
  if (!known) return Error{fmt::format("there is no view '{}'", view)};
  out.view = *known;
  return out;
}

Light turnedWith(Light light, const Camera& camera) {
  const Vec3 back = camera.back();
  if (back.x() * back.x() + back.z() * back.z() > 1e-6f)
    light.dial += std::atan2(back.x(), back.z()) * 180 / std::numbers::pi_v<float>;
  return light;
}

Light lightIn(const Look& look) {
  return look.lightFollows ? turnedWith(look.light, look.camera) : look.light;
}

}  // namespace juvenor
