#include "batch/look_said.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/document/edits/edit_cameras.h"
#include "core/render/still.h"
#include "core/show/film.h"

namespace juvenor::batch {
namespace {

Result<Side> sideFrom(const std::string& key) {
  const std::map<std::string, Side> sides{{"front", Side::Front},
                                          {"right", Side::Right},
                                          {"left", Side::Left},
                                          {"back", Side::Back},
                                          {"top", Side::Top}};
  const auto side = sides.find(key);
  if (side == sides.end())
    return Error{fmt::format("'{}' is no side; there are front, right, left, back and top", key)};
  return side->second;
}

Result<uint32_t> shownPart(const Document& document, const std::string& name) {
  if (name.empty()) return kNone;
  for (uint32_t i = 0; i < document.sculpt->parts.size(); ++i)
    if (document.sculpt->parts[i] == name) return i;
  return Error{
      fmt::format("there is no part '{}'; the sculpt has {}", name, fmt::join(document.sculpt->parts, ", "))};
}

Outcome setLightSaid(const LookSaid& said, Light& out) {
  char rest = 0;
  if (said.light) {
    if (const auto kind = lightKindFromKey(*said.light)) {
      out.kind = *kind;
      if (out.kind != LightKind::Overcast) out.dial = 0;
    } else if (std::sscanf(said.light->c_str(), "%f%c", &out.dial, &rest) != 1 || !std::isfinite(out.dial)) {
      return Error{
          fmt::format("there is no light '{}'; there are overcast, lamps and surroundings", *said.light)};
    }
  }
  if (said.surroundings && !said.surroundings->empty()) {
    out.kind = LightKind::Surroundings;
    out.surroundings = *said.surroundings;
    out.environment = nullptr;
  }
  if (said.dial) out.dial = *said.dial;
  if (said.exposure) out.exposure = std::clamp(*said.exposure, -10.f, 10.f);
  if (out.kind != LightKind::Surroundings || out.environment) return Done{};
  auto environment = environmentFor(out.surroundings);
  if (!environment) return Error{"--surroundings: " + environment.error().message()};
  out.environment = std::move(*environment);
  return Done{};
}

Result<EncodedColor> colorSaid(const std::string& text) {
  const auto color = fromHex(text);
  if (!color) return Error{fmt::format("--backdrop: '{}' is no colour like #6c6c6c", text)};
  return *color;
}

Outcome setBackdropSaid(const std::string& said, Backdrop& out) {
  if (said == "surroundings") {
    out.kind = BackdropKind::Surroundings;
    return Done{};
  }
  if (!said.starts_with('#')) {
    out.kind = BackdropKind::Picture;
    out.picture = said;
    return Done{};
  }
  const size_t dash = said.find('-');
  const auto color = colorSaid(said.substr(0, dash));
  if (!color) return color.error();
  out.color = *color;
  out.kind = BackdropKind::Plain;
  if (dash == std::string::npos) return Done{};
  const auto top = colorSaid(said.substr(dash + 1));
  if (!top) return top.error();
  out.top = *top;
  out.kind = BackdropKind::Gradient;
  return Done{};
}

}  // namespace

void addLook(CLI::App& command, LookSaid& said) {
  command.add_option("--camera", said.camera, "A camera that is kept in the document, by its name");
  command.add_option("--view", said.view, "flat, value, channel, clay or skin; else skin");
  command.add_option("--from", said.from, "front, right, left, back or top; else front, all of the figure");
  command.add_option("--turn", said.turn, "Degrees around the upright axis")->capture_default_str();
  command.add_option("--tilt", said.tilt, "Degrees up or down")->capture_default_str();
  command.add_option("--nearer", said.nearer, "How many times nearer")->capture_default_str();
  command.add_option("--part", said.part, "Frames this part");
  command.add_option("--light", said.light,
                     "overcast, lamps or surroundings; a number turns the overcast sky by degrees");
  command.add_option("--surroundings", said.surroundings,
                     "Light from a panorama: river, evening, room, window, or a .hdr, .exr or .png");
  command.add_option("--light-turn", said.dial, "Degrees by which the light is turned");
  command.add_option("--exposure", said.exposure, "Stops brighter, or darker below 0");
  command.add_flag("--parallel", said.parallel, "Without perspective");
}

void addStill(CLI::App& command, StillSaid& said) {
  addLook(command, said.look);
  command.add_option("--size", said.size, "WIDTHxHEIGHT in pixels")->capture_default_str();
  command.add_option("--samples", said.samples, "Rays a pixel through lens and pixel")->capture_default_str();
  command.add_option("--aperture", said.aperture, "f-number of the lens, 0.7 to 64; 0: all is sharp");
  command.add_option("--sharp", said.sharp, "X,Y,Z in scene units: a place that is sharp");
  command.add_option("--backdrop", said.backdrop,
                     "#rrggbb, #foot-#top, surroundings, or a picture; else a neutral grey");
  command.add_option("--blur", said.blur, "Of surroundings as a backdrop, 0 to 1");
  command.add_flag("--ground", said.ground, "A floor under the sculpt takes its shadow");
  command.add_option("--bloom", said.bloom, "Light around what is bright, 0 to 1")
      ->check(CLI::Range(0.f, 1.f));
  command.add_option("--vignette", said.vignette, "Darker corners, 0 to 1")->check(CLI::Range(0.f, 1.f));
  command.add_option("--grain", said.grain, "0 to 1")->check(CLI::Range(0.f, 1.f));
}

Result<ViewSize> sizeFrom(const std::string& text) {
  ViewSize out;
  char by = 0, rest = 0;
  if (std::sscanf(text.c_str(), "%d%c%d%c", &out.width, &by, &out.height, &rest) != 3 || by != 'x' ||
      out.width < 1 || out.height < 1 || out.width > kLargestStill || out.height > kLargestStill)
    return Error{fmt::format("'{}' is no size; expected WIDTHxHEIGHT, up to {} each", text, kLargestStill)};
  return out;
}

Result<Look> keptLook(const Document& document, const std::string& name) {
  if (const KeptCamera* kept = cameraNamed(document, name)) return lookOf(*kept);
  std::vector<std::string> names;
  for (const KeptCamera& c : document.cameras) names.push_back("“" + c.name + "”");
  return Error{names.empty()
                   ? fmt::format("there is no camera “{}”; none is kept yet", name)
                   : fmt::format("there is no camera “{}”; there are {}", name, fmt::join(names, ", "))};
}

Result<Look> lookFrom(const LookSaid& said, const Document& document, const ViewSize& size) {
  Look out;
  out.lightFollows = false;
  if (!said.camera.empty()) {
    if (said.from || said.part) return Error{"--camera says where one looks from: --from and --part do too"};
    auto kept = keptLook(document, said.camera);
    if (!kept) return kept.error();
    out = std::move(*kept);
  }
  if (said.view) {
    const auto view = viewFromKey(*said.view);
    if (!view)
      return Error{
          fmt::format("there is no view '{}'; there are flat, value, channel, clay and skin", *said.view)};
    out.view = *view;
  }
  if (const Outcome lit = setLightSaid(said, out.light); !lit) return lit.error();
  if (said.parallel) out.camera.parallel = true;
  if (said.camera.empty()) {
    const auto side = sideFrom(said.from.value_or("front"));
    if (!side) return side.error();
    out.camera = lookingFrom(out.camera, *side);
  }
  // the drag that turns by so many degrees
  constexpr float kDragPerDegree = 1 / kDegreesPerPixel;
  out.camera = turned(out.camera, kDragPerDegree * Vec2(said.turn, said.tilt));
  if (said.camera.empty()) {
    const auto part = shownPart(document, said.part.value_or(""));
    if (!part) return part.error();
    out.camera = framed(out.camera, size, shownPoints(document, *part));
  }
  out.camera.distance /= std::max(0.01f, said.nearer);
  return out;
}

Result<Look> lookFrom(const StillSaid& said, const Document& document, const ViewSize& size) {
  auto out = lookFrom(said.look, document, size);
  if (!out) return out;
  if (said.aperture) {
    if (*said.aperture != 0 && !(*said.aperture >= kWidestAperture && *said.aperture <= kNarrowestAperture))
      return Error{
          fmt::format("--aperture goes from {} to {}, or is 0", kWidestAperture, kNarrowestAperture)};
    out->focus.aperture = *said.aperture;
  }
  if (said.sharp) {
    Vec3 place;
    char rest = 0;
    if (std::sscanf(said.sharp->c_str(), "%f,%f,%f%c", &place.x(), &place.y(), &place.z(), &rest) != 3 ||
        !place.allFinite())
      return Error{fmt::format("--sharp: '{}' is no place; expected X,Y,Z", *said.sharp)};
    out->focus.sharp = place;
  }
  if (said.backdrop)
    if (const Outcome ok = setBackdropSaid(*said.backdrop, out->backdrop); !ok) return ok.error();
  if (said.blur) out->backdrop.blur = std::clamp(*said.blur, 0.f, 1.f);
  if (said.ground) out->backdrop.ground = true;
  return out;
}

}  // namespace juvenor::batch
