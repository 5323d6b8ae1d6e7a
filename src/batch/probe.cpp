// What the skin is at one place: the composite of every channel and what each layer adds to it.
#include <fmt/format.h>

#include <cstdio>
#include <iostream>

#include "batch/commands.h"
#include "core/color/lab.h"
#include "core/document/store/store.h"
#include "core/document/whole_stack.h"
#include "core/json_fields.h"
#include "core/layers/composite/composite.h"
#include "core/surface/build/search.h"
#include "core/surface/rays/rays.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

Result<Vec3> placeFrom(const std::string& said) {
  Vec3 out;
  char rest = 0;
  if (std::sscanf(said.c_str(), "%f,%f,%f%c", &out.x(), &out.y(), &out.z(), &rest) != 3 || !out.allFinite())
    return Error{fmt::format("'{}' is no place; expected X,Y,Z", said)};
  return out;
}

json labJson(const EncodedColor& color) {
  const Lab lab = toLab(color);
  return {lab.l, lab.a, lab.b};
}

template <Channel C>
double numberOf(const typename ChannelField<C>::Value& value, float reliefStep) {
  if constexpr (factsOf(C).rule == ChannelRule::Add) return heightOf(value[0], reliefStep);
  return value[1] == 0 ? 0 : static_cast<double>(value[0]) / value[1];
}

// What one layer holds at a place of a chunk, by itself; nothing of what it does not cover.
json ownJson(const PreparedLayer& p, const ColorField::Pointer& colors, size_t chunk, size_t place,
             float reliefStep) {
  json out{{"layer", p.layer->name}, {"id", p.layer->id}};
  ScalarChunk scratch;
  const ScalarChunk* mask = maskChunk(p, chunk, scratch);
  out["shows"] =
      contributes(*p.layer) ? p.layer->opacity * (mask ? from16(mask->plane[0][place]) : 1.f) : 0.f;
  if (!p.source) return out;
  if (colors && colors->plane[3][place] > 0) {
    out["color"] = toHex(straight(sampleOf(*colors, place)));
    out["alpha"] = from16(colors->plane[3][place]);
  }
  eachChannel([&](auto c) {
    if constexpr (factsOf(c()).rule != ChannelRule::Blend) {
      const auto own = ownChunk<c()>(p, chunk);
      if (!own) return;
      typename ChannelField<c()>::Value value;
      for (size_t k = 0; k < value.size(); ++k) value[k] = own->plane[k][place];
      if (value == nothingOf<c()>()) return;
      out[factsOf(c()).key] = numberOf<c()>(value, reliefStep);
      if constexpr (factsOf(c()).rule == ChannelRule::Cover)
        out[std::string(factsOf(c()).key) + " cover"] = from16(value[1]);
    }
  });
  return out;
}

json probed(const Document& d, const PreparedStack& stack, uint32_t sample) {
  const size_t chunk = sample / kChunkSize, place = sample % kChunkSize;
  const EncodedColor color = straight(sampleOf(*compositeChunk(stack, d.bare, chunk), place));
  const Vec3& p = d.surface->positions[sample];
  json out{{"at", {p.x(), p.y(), p.z()}},
           {"point", sample},
           {"part", d.sculpt->parts[d.surface->parts[sample]]},
           {"color", toHex(color)},
           {"lab", labJson(color)}};
  const ChannelFields bare = bareSkin(d.surface->size());
  eachChannel([&](auto c) {
    if constexpr (factsOf(c()).rule != ChannelRule::Blend) {
      auto value = bare.get<c()>().fallback();
      if (const auto own = compositeChunk<c()>(stack, d.bare, chunk))
        for (size_t k = 0; k < value.size(); ++k) value[k] = own->plane[k][place];
      out[factsOf(c()).key] = numberOf<c()>(value, d.reliefStep);
    }
  });
  json layers = json::array();
  eachOwnChunk(stack, d.bare, chunk, [&](const PreparedLayer& layer, const ColorField::Pointer& colors) {
    layers.push_back(ownJson(layer, colors, chunk, place, d.reliefStep));
  });
  out["layers"] = std::move(layers);
  return out;
}

}  // namespace

Outcome probe(const fs::path& document, const std::string& at) {
  const auto place = placeFrom(at);
  if (!place) return place.error();
  auto store = Store::open(document, true);
  if (!store) return store.error();
  const auto opened = store->read();
  if (!opened) return opened.error();
  const Document& d = opened->steps[opened->current]->document;
  const auto stack = wholeStackOf(d);
  if (!stack) return stack.error();
  const auto sample = nearestSample(*d.surface, *place, std::numeric_limits<float>::max());
  if (!sample) return Error{"has no skin", document.string()};
  std::cout << textOf(probed(d, *stack, *sample), 2) << "\n";
  return Done{};
}

}  // namespace juvenor::batch
