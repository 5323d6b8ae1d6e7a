#include "core/carry/match_parts.h"

#include <algorithm>
#include <cctype>
#include <map>

#include "core/parallel.h"

namespace juvenor {
namespace {

std::string lower(std::string text) {
  std::ranges::transform(text, text.begin(), [](unsigned char c) { return std::tolower(c); });
  return text;
}

// Names that only one part bears.
std::map<std::string, uint32_t> named(const std::vector<std::string>& parts) {
  std::map<std::string, uint32_t> out;
  for (uint32_t p = 0; p < parts.size(); ++p) {
    const auto [at, first] = out.emplace(lower(parts[p]), p);
    if (!first) at->second = kNone;
  }
  std::erase_if(out, [](const auto& entry) { return entry.second == kNone; });
  return out;
}

// How much of a new part lies on each old one, 0…1.
std::vector<float> overlapOf(const FitPoints& points, const Rays& old, const Bend& bend, float reach) {
  std::vector<uint32_t> on(points.positions.size(), kNone);
  parallel(
      on.size(),
      [&](size_t i) {
        const Vec3 normal = bend.normalToOld(points.positions[i], points.normals[i]);
        const auto hit = old.nearestAlike(bend.toOld(points.positions[i]), reach, {normal});
        if (hit) on[i] = old.surface().triangleParts[hit->triangle];
      },
      64);
  std::vector<float> out(old.surface().partCount, 0.f);
  for (const uint32_t part : on)
    if (part < out.size()) out[part] += 1 / static_cast<float>(on.size());
  return out;
}

}  // namespace

PartSources matchedParts(const Sculpt& fresh, const Surface& freshSurface, const Sculpt& old,
                         const Rays& oldRays, const Bend& bend, float reach) {
  constexpr size_t kLooks = 1500;
  constexpr float kLies = 0.05f, kAlso = 0.15f, kElsewhere = 0.6f;
  PartSources out(fresh.parts.size());
  if (fresh.parts.size() == 1 && old.parts.size() == 1) return {{0}};
  const auto oldNames = named(old.parts), freshNames = named(fresh.parts);
  std::set<uint32_t> taken;  // by their names
  for (const auto& [name, part] : freshNames)
    if (const auto same = oldNames.find(name); same != oldNames.end()) taken.insert(same->second);
  for (uint32_t part = 0; part < fresh.parts.size(); ++part) {
    const FitPoints points = fitPointsOf(freshSurface, kLooks, part);
    if (points.positions.empty()) continue;
    const std::vector<float> overlap = overlapOf(points, oldRays, bend, reach);
    const std::string name = lower(fresh.parts[part]);
    const auto same = oldNames.find(name);
    if (freshNames.contains(name) && same != oldNames.end()) {
      // a name may lie ("object 1"): then all of it lies on something nobody else is called
      uint32_t elsewhere = kNone;
      for (uint32_t o = 0; o < overlap.size(); ++o)
        if (!taken.contains(o) && overlap[o] >= kElsewhere && overlap[same->second] < kLies) elsewhere = o;
      out[part].insert(elsewhere == kNone ? same->second : elsewhere);
      continue;
    }
    for (const bool free : {true, false}) {
      uint32_t most = kNone;
      for (uint32_t o = 0; o < overlap.size(); ++o)
        if (taken.contains(o) != free && overlap[o] >= kLies && (most == kNone || overlap[o] > overlap[most]))
          most = o;
      if (most == kNone) continue;
      out[part].insert(most);
      for (uint32_t o = 0; o < overlap.size(); ++o)
        if (taken.contains(o) != free && overlap[o] >= kAlso) out[part].insert(o);
      break;
    }
  }
  return out;
}

bool sameName(std::string_view a, std::string_view b) {
  return lower(std::string(a)) == lower(std::string(b));
}

std::vector<uint32_t> lostParts(const PartSources& sources, size_t oldParts) {
  std::vector<uint32_t> out;
  for (uint32_t o = 0; o < oldParts; ++o)
    if (std::ranges::none_of(sources, [&](const auto& of) { return of.contains(o); })) out.push_back(o);
  return out;
}

}  // namespace juvenor
