#include "core/layers/mask_recipe.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>

#include "core/surface/melt.h"

namespace juvenor {
namespace {

constexpr std::array<std::string_view, 3> kCombines{"multiply", "add", "subtract"};

// The map, softened along the skin when the term asks for it.
Result<MapPointer> softened(SurfaceMaps& maps, const MaskTerm& term, const Progress& progress) {
  auto map = maps.map(term.map, progress);
  if (!map || !(term.blur > 0)) return map;
  const std::string key = fmt::format("blur {} {}", term.blur, toJson(term.map).dump());
  return maps.derived<MapValues>(key, maps.size() * 2, [&]() -> Result<MapPointer> {
    std::vector<float> values((*map)->begin(), (*map)->end());
    melt(*maps.ladder(), values, term.blur);
    auto out = std::make_shared<MapValues>(values.size());
    std::ranges::transform(values, out->begin(),
                           [](float v) { return static_cast<uint16_t>(std::clamp(v, 0.f, 65535.f) + 0.5f); });
    return MapPointer(std::move(out));
  });
}

uint16_t combined(MaskCombine how, uint16_t before, uint16_t now) {
  switch (how) {
    case MaskCombine::Multiply:
      return static_cast<uint16_t>((uint32_t{before} * now + 32767) / 65535);
    case MaskCombine::Add:
      return static_cast<uint16_t>(std::min<uint32_t>(65535, uint32_t{before} + now));
    default:
      return static_cast<uint16_t>(before > now ? before - now : 0);
  }
}

struct ReadyTerm {
  MapPointer map;
  std::vector<uint16_t> table;  // what each of the 65,536 values becomes
  MaskCombine combine;
};

ScalarField evaluated(const std::vector<ReadyTerm>& terms, size_t samples) {
  ScalarField out(samples, {65535});
  tbb::parallel_for(size_t{0}, out.chunkCount(), [&](size_t c) {
    const size_t begin = c * kChunkSize, end = std::min(samples, begin + kChunkSize);
    auto chunk = out.writable(c);
    for (size_t t = 0; t < terms.size(); ++t)
      for (size_t s = begin; s < end; ++s) {
        uint16_t& v = chunk->plane[0][s - begin];
        const uint16_t now = terms[t].table[(*terms[t].map)[s]];
        v = t == 0 ? now : combined(terms[t].combine, v, now);
      }
    out.setChunk(c, std::move(chunk));
  });
  return out;
}

Result<MaskTerm> termFrom(const nlohmann::json& j) {
  auto map = mapSettingFrom(j);
  if (!map) return map.error();
  MaskTerm out;
  out.map = *map;
  const auto number = [&](const char* key, float& value, float low, float high) -> Outcome {
    const auto found = j.find(key);
    if (found == j.end()) return Done{};
    if (!found->is_number()) return Error{fmt::format("\"{}\" must be a number", key)};
    value = std::clamp(found->get<float>(), low, high);
    return Done{};
  };
  for (const Outcome& o :
       {number("blur", out.blur, 0, 1e9f), number("low", out.low, 0, 1), number("high", out.high, 0, 1),
        number("fade", out.fade, 0, 1), number("contrast", out.contrast, -1, 1)})
    if (!o) return o.error();
  if (const auto invert = j.find("invert"); invert != j.end()) {
    if (!invert->is_boolean()) return Error{"\"invert\" must be true or false"};
    out.invert = invert->get<bool>();
  }
  if (const auto combine = j.find("combine"); combine != j.end()) {
    const auto found = std::ranges::find(kCombines, combine->is_string() ? combine->get<std::string>() : "");
    if (found == kCombines.end()) return Error{"\"combine\" must be multiply, add or subtract"};
    out.combine = static_cast<MaskCombine>(found - kCombines.begin());
  }
  return out;
}

}  // namespace

std::string_view maskCombineKey(MaskCombine combine) {
  return kCombines[static_cast<size_t>(combine)];
}

float shaped(const MaskTerm& term, float value) {
  const float low = std::min(term.low, term.high), high = std::max(term.low, term.high);
  float m = 1;
  if (value < low) m = term.fade > 0 ? 1 - (low - value) / term.fade : 0.f;
  if (value > high) m = term.fade > 0 ? 1 - (value - high) / term.fade : 0.f;
  m = std::clamp(m, 0.f, 1.f);
  const float slope = term.contrast >= 1 ? 1e6f : (1 + term.contrast) / (1 - term.contrast);
  m = std::clamp(0.5f + (m - 0.5f) * slope, 0.f, 1.f);
  return term.invert ? 1 - m : m;
}

Result<std::shared_ptr<const ScalarField>> maskOf(SurfaceMaps& maps, const MaskRecipe& recipe,
                                                  const Progress& progress) {
  using Mask = std::shared_ptr<const ScalarField>;
  // every chunk under the pen asks: what is remembered must cost no more than finding it
  return maps.derived<ScalarField>("mask " + toJson(recipe).dump(), maps.size() * 2, [&]() -> Result<Mask> {
    std::vector<ReadyTerm> terms;
    for (size_t t = 0; t < recipe.size(); ++t) {
      auto map = softened(maps, recipe[t], [&](float f) {
        return report(progress, (static_cast<float>(t) + f) / static_cast<float>(recipe.size()));
      });
      if (!map) return map.error();
      ReadyTerm term{*map, std::vector<uint16_t>(65536), recipe[t].combine};
      for (size_t v = 0; v < 65536; ++v)
        term.table[v] = to16(shaped(recipe[t], static_cast<float>(v) / 65535.f));
      terms.push_back(std::move(term));
    }
    return std::make_shared<const ScalarField>(evaluated(terms, maps.size()));
  });
}

nlohmann::json toJson(const MaskRecipe& recipe) {
  nlohmann::json out = nlohmann::json::array();
  for (const MaskTerm& t : recipe) {
    nlohmann::json j = toJson(t.map);
    j.update({{"blur", t.blur},
              {"low", t.low},
              {"high", t.high},
              {"fade", t.fade},
              {"contrast", t.contrast},
              {"invert", t.invert},
              {"combine", maskCombineKey(t.combine)}});
    out.push_back(std::move(j));
  }
  return out;
}

Result<MaskRecipe> maskRecipeFrom(const nlohmann::json& json) {
  if (!json.is_array()) return Error{"a mask recipe is a list of maps"};
  MaskRecipe out;
  for (const auto& j : json) {
    auto term = termFrom(j);
    if (!term) return Error{fmt::format("term {} of the mask: {}", out.size() + 1, term.error().what)};
    out.push_back(*term);
  }
  return out;
}

}  // namespace juvenor
