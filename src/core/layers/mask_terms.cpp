#include "core/layers/mask_terms.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/json_fields.h"
#include "core/surface/graph/melt.h"
#include "core/surface/map_field.h"

namespace juvenor {
namespace {

constexpr std::array<std::string_view, 3> kCombines{"multiply", "add", "subtract"};

std::string meltedKey(const MaskTerm& term) {
  return fmt::format("melt {} {}", term.melt, textOf(toJson(term.map)));
}

std::string maskKey(const MaskTerms& terms) {
  return "mask " + textOf(toJson(terms));
}

// The map, melted along the skin when the term asks for it.
Result<MapPointer> melted(SurfaceMaps& maps, const MaskTerm& term, const Progress& progress) {
  auto map = maps.map(term.map, progress);
  if (!map || !(term.melt > 0)) return map;
  return maps.derived<MapValues>(meltedKey(term), [&]() -> Result<MapPointer> {
    std::vector<float> values((*map)->begin(), (*map)->end());
    melt(*maps.ladder(), values, term.melt);
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
  const ScalarField open(samples, {65535});
  return mapField(open, [&](size_t c, size_t begin, size_t end) {
    auto chunk = open.writable(c);
    for (size_t t = 0; t < terms.size(); ++t)
      for (size_t s = begin; s < end; ++s) {
        uint16_t& v = chunk->plane[0][s - begin];
        const uint16_t now = terms[t].table[(*terms[t].map)[s]];
        v = t == 0 ? now : combined(terms[t].combine, v, now);
      }
    return chunk;
  });
}

constexpr Member<MaskTerm> kTermMembers[] = {
    {{"low", "Low", "From here on the mask is full"}, [](MaskTerm& t) -> float& { return t.low; }},
    {{"high", "High", "Up to here the mask is full"}, [](MaskTerm& t) -> float& { return t.high; }},
    {{"fade", "Fade", "Over how much of the map it fades in and out"},
     [](MaskTerm& t) -> float& { return t.fade; }},
    {{"contrast", "Contrast", "Harder or softer around the middle", MemberUnit::Part, -1, 1, -0.95f, 0.95f},
     [](MaskTerm& t) -> float& { return t.contrast; }},
    {{"melt", "Melt", "Melts the map along the skin first", MemberUnit::Length, 0, kEndless, 0, 0.08f},
     [](MaskTerm& t) -> float& { return t.melt; }},
};

Result<MaskTerm> termFrom(const nlohmann::json& json) {
  MaskTerm out;
  std::string combine(kCombines[0]);
  JsonFields fields(json);
  readMembers(fields, out).flag("invert", out.invert).text("combine", combine);
  auto map = mapSettingFrom(fields);
  if (!map) return map.error();
  out.map = *map;
  const auto found = std::ranges::find(kCombines, combine);
  if (found == kCombines.end()) return Error{"\"combine\" must be multiply, add or subtract"};
  out.combine = static_cast<MaskCombine>(found - kCombines.begin());
  return out;
}

}  // namespace

template <>
std::span<const Member<MaskTerm>> membersOf() {
  return kTermMembers;
}

std::string_view maskCombineKey(MaskCombine combine) {
  return kCombines[static_cast<size_t>(combine)];
}

float contrasted(float value, float contrast) {
  const float slope = contrast >= 1 ? 1e6f : (1 + contrast) / (1 - contrast);
  return std::clamp(0.5f + (value - 0.5f) * slope, 0.f, 1.f);
}

float shaped(const MaskTerm& term, float value) {
  const float low = std::min(term.low, term.high), high = std::max(term.low, term.high);
  float m = 1;
  if (value < low) m = term.fade > 0 ? 1 - (low - value) / term.fade : 0.f;
  if (value > high) m = term.fade > 0 ? 1 - (value - high) / term.fade : 0.f;
  m = std::clamp(m, 0.f, 1.f);
  m = contrasted(m, term.contrast);
  return term.invert ? 1 - m : m;
}

std::vector<MapSetting> mapsOf(const MaskTerms& terms) {
  std::vector<MapSetting> out;
  for (const MaskTerm& t : terms) out.push_back(t.map);
  return out;
}

bool isMaskReady(SurfaceMaps& maps, const MaskTerms& terms) {
  return maps.hasDerived(maskKey(terms)) || std::ranges::all_of(terms, [&](const MaskTerm& t) {
           return t.melt > 0 ? maps.hasDerived(meltedKey(t)) : maps.known(t.map) != nullptr;
         });
}

Result<std::shared_ptr<const ScalarField>> maskOf(SurfaceMaps& maps, const MaskTerms& terms,
                                                  const Progress& progress) {
  using Mask = std::shared_ptr<const ScalarField>;
  return maps.derived<ScalarField>(maskKey(terms), [&]() -> Result<Mask> {
    std::vector<ReadyTerm> ready;
    for (size_t t = 0; t < terms.size(); ++t) {
      auto map = melted(maps, terms[t], [&](float f) {
        return report(progress, (static_cast<float>(t) + f) / static_cast<float>(terms.size()));
      });
      if (!map) return map.error();
      ReadyTerm term{*map, std::vector<uint16_t>(65536), terms[t].combine};
      for (size_t v = 0; v < 65536; ++v)
        term.table[v] = to16(shaped(terms[t], static_cast<float>(v) / 65535.f));
      ready.push_back(std::move(term));
    }
    return std::make_shared<const ScalarField>(evaluated(ready, maps.size()));
  });
}

nlohmann::json toJson(const MaskTerms& terms) {
  nlohmann::json out = nlohmann::json::array();
  for (const MaskTerm& t : terms) {
    nlohmann::json j = toJson(t.map);
    addMembers(j, t);
    j.update({{"invert", t.invert}, {"combine", maskCombineKey(t.combine)}});
    out.push_back(std::move(j));
  }
  return out;
}

Result<MaskTerms> maskTermsFrom(const nlohmann::json& list) {
  if (!list.is_array()) return Error{"mask terms are a list of maps"};
  MaskTerms out;
  for (const auto& j : list) {
    auto term = termFrom(j);
    if (!term) return Error{fmt::format("term {} of the mask: {}", out.size() + 1, term.error().what)};
    out.push_back(*term);
  }
  return out;
}

}  // namespace juvenor
