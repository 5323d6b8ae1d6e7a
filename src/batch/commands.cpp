#include "batch/commands.h"

#include <fmt/format.h>

#include <iostream>
#include <map>

#include "batch/script.h"
#include "batch/work.h"
#include "core/document/store/in_use.h"
#include "core/export/vertex_finish.h"
#include "core/files.h"
#include "core/hair/fibre_lines.h"
#include "core/json_fields.h"
#include "core/layers/composite/composite.h"
#include "core/photo/picture_file.h"
#include "core/sculpt/formats.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

std::array<float, 3> numbers(const Vec3& v) {
  return {v.x(), v.y(), v.z()};
}

// What a layer brings, by names.
json channelsJson(const Layer& layer) {
  json out = json::array();
  eachChannel([&](auto c) {
    if (layer.source->channels().has(c())) out.push_back(factsOf(c()).key);
  });
  return out;
}

json layersJson(const Document& d) {
  json out = json::array();
  for (const LayerPointer& l : d.layers) {
    out.push_back({{"id", l->id},
                   {"name", l->name},
                   {"stratum", stratumKey(l->stratum)},
                   {"kind", l->source->kind().key},
                   {"blend", blendModeKey(l->blend)},
                   {"opacity", l->opacity},
                   {"visible", l->visible},
                   {"mask", l->mask.has_value()},
                   {"channels", channelsJson(*l)}});
    if (l->group != 0) out.back()["group"] = l->group;
    if (l->clipped) out.back()["clipped"] = true;
    if (l->maskFrom != 0) out.back()["mask-from"] = l->maskFrom;
  }
  return out;
}

json sculptJson(const Sculpt& sculpt, const Surface& surface) {
  std::map<size_t, size_t> bySize;
  for (size_t p = 0; p < sculpt.polygonCount(); ++p) ++bySize[sculpt.polygon(p).size()];
  json polygons = json::object(), uvs = json::array();
  for (const auto& [size, count] : bySize) polygons[std::to_string(size)] = count;
  for (const UvSet& uv : sculpt.uvSets) uvs.push_back(uv.name);
  return {{"vertices", sculpt.vertices.size()},
          {"polygons", polygons},
          {"parts", sculpt.parts},
          {"uv sets", uvs},
          {"has colour", !sculpt.colors.empty()},
          {"bounds", {{"low", numbers(surface.bounds.low)}, {"high", numbers(surface.bounds.high)}}},
          {"points", surface.size()},
          {"spacing", surface.spacing},
          {"remarks", sculpt.remarks}};
}

}  // namespace

Outcome info(const fs::path& file) {
  json out;
  if (isDocument(file)) {
    auto store = Store::open(file, true);
    if (!store) return store.error();
    const auto shown = store->readShown();
    if (!shown) return shown.error();
    const auto steps = store->stepIds();
    if (!steps) return steps.error();
    const Document& d = shown->steps.front()->document;
    out = sculptJson(*d.sculpt, *d.surface);
    out["layers"] = layersJson(d);
    out["steps"] = steps->size();
    out["up"] = axisKey(d.placement.up);
    out["front"] = axisKey(d.placement.front);
    out["unit"] = fmt::format("{:g} mm", d.placement.millimetres);
  } else {
    const auto sculpt = readSculpt(file);
    if (!sculpt) return sculpt.error();
    const auto surface = buildSurface(*sculpt);
    if (!surface) return surface.error();
    out = sculptJson(*sculpt, **surface);
    const Placement guess = guessedPlacement(*sculpt, endingOf(file)).placement;
    out["up"] = axisKey(guess.up);
    out["front"] = axisKey(guess.front);
    out["unit"] = fmt::format("{:g} mm", guess.millimetres);
  }
  std::cout << textOf(out, 2) << "\n";
  return Done{};
}

Outcome newDocumentFile(const fs::path& file, const fs::path& document, const PlacementSaid& said,
                        bool force) {
  if (const Outcome may = mayWrite(document, force); !may) return may;
  const auto fresh = documentOver(file, said);
  return fresh ? saveNew(document, *fresh, "Open " + file.filename().string()) : fresh.error();
}

Outcome run(const fs::path& script, const fs::path& document, bool evenIfOpen) {
  if (const auto user = userOf(document); user && !evenIfOpen)
    return Error{fmt::format("is open in process {}; save and close it there, or say --even-if-open", *user),
                 document.string()};
  const auto text = readBytes(script);
  if (!text) return text.error();
  const auto parsed = parsedJson(*text);
  if (!parsed) return Error{parsed.error().what, script.string()};
  auto work = openWork(document, false);
  if (!work) return work.error();
  const Outcome done = runScript(*parsed, work->history);
  if (!done) return Error{done.error().what + "; the document is as it was", script.string()};
  // maps and zones are worked out here, so that they lie in the document
  const Document& now = work->history.document();
  if (const auto ready = prepared(now.layers, *now.maps); !ready) return ready.error();
  const std::vector<StepPointer> steps(work->history.steps().begin(), work->history.steps().end());
  return work->store.write(steps, steps[work->history.current()]->id);
}

Outcome exportDocument(const fs::path& document, const fs::path& out, const ColouredSetting& setting,
                       bool force) {
  if (const Outcome may = mayWrite(out, force); !may) return may;
  const auto d = documentIn(document);
  if (!d) return d.error();
  const auto skin = skinOf(d->layers, *d->maps, d->bare);
  if (!skin) return skin.error();
  return writeColoured(out, *d, *skin, setting);
}

Outcome exportHair(const fs::path& document, const fs::path& out, bool force) {
  if (const Outcome may = mayWrite(out, force); !may) return may;
  const auto d = documentIn(document);
  if (!d) return d.error();
  return writeHair(out, *d);
}

Outcome shot(const fs::path& document, const fs::path& out, const ShotSetting& setting) {
  StillSetting still;
  const auto channel = channelFromKey(setting.channel);
  if (!channel) return Error{fmt::format("there is no channel '{}'", setting.channel)};
  still.channel = {*channel, setting.falseColor};
  const auto size = sizeFrom(setting.size);
  if (!size) return size.error();
  still.size = *size;
  const auto d = documentIn(document);
  if (!d) return d.error();
  const auto look = lookFrom(setting.look, *d, *size);
  if (!look) return look.error();
  still.view = look->view;
  still.camera = look->camera;
  still.light = lightIn(*look);
  still.lines = setting.lines;
  if (setting.steps != 0 && (setting.steps < 2 || setting.steps > 9))
    return Error{"--steps goes from 2 to 9"};
  still.check = {setting.steps, std::clamp(setting.squint, 0.f, 200.f)};
  if (!setting.map.empty()) {
    auto terms = maskTermsFrom(nlohmann::json::array({parsedOrNull(setting.map)}));
    if (!terms) return Error{"--map: " + terms.error().what};
    still.map = terms->front();
  }
  const auto grey = static_cast<uint32_t>(std::clamp(setting.background, 0, 255));
  still.background = 0xff000000u | grey * 0x010101u;
  const auto pixels = stillOf(*d, still);
  if (!pixels) return pixels.error();
  return writePicture(out, still.size, *pixels);
}

Outcome demoFile(demo::Figure figure, size_t points, const fs::path& out, bool force) {
  if (const Outcome may = mayWrite(out, force); !may) return may;
  auto sculpt = demo::makeSculpt(figure, points);
  if (!sculpt) return sculpt.error();
  const auto shared = std::make_shared<const Sculpt>(std::move(*sculpt));
  const auto surface = buildSurface(*shared);
  if (!surface) return surface.error();
  const auto dressed = demo::dressed(figure, shared, *surface);
  if (!dressed) return dressed.error();
  const Document& d = *dressed;
  if (isDocument(out)) {
    auto laid = demo::laidOut(figure, d);
    if (!laid) return laid.error();
    return saveNew(out, std::move(*laid), "Demo, first layers");
  }
  const auto skin = skinOf(d.layers, *d.maps, d.bare);
  if (!skin) return skin.error();
  return writeSculpt(out, *shared, finishOf(d, *skin));
}

}  // namespace juvenor::batch
