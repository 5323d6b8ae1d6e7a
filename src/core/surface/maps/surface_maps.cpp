#include "core/surface/maps/surface_maps.h"

#include <tbb/task_arena.h>

#include <algorithm>
#include <new>

#include "core/json_fields.h"
#include "core/surface/graph/melt.h"

namespace juvenor {
namespace {

constexpr size_t kUnusedBudget = size_t{512} << 20;
// Above so many a quickly built ray structure serves first.
constexpr size_t kQuickTriangles = 1'000'000;

std::string keyOf(const MapSetting& setting) {
  return "map " + textOf(toJson(setting));
}

}  // namespace

Result<RaysPointer> SurfaceMaps::rays(const Progress& progress) {
  auto made = remembered("rays", nullptr, [&]() -> Result<Any> {
    const bool large = surface_->triangles.size() > kQuickTriangles;
    auto rays = buildRays(surface_, large ? Rays::Quality::Quick : Rays::Quality::Full, progress);
    if (!rays) return rays.error();
    return Any(std::move(*rays));
  });
  if (!made) return made.error();
  return std::static_pointer_cast<const Rays>(*made);
}

Outcome SurfaceMaps::refineRays(const Progress& progress) {
  if (surface_->triangles.size() <= kQuickTriangles) return Done{};
  auto made = remembered("full rays", nullptr, [&]() -> Result<Any> {
    auto rays = buildRays(surface_, Rays::Quality::Full, progress);
    if (!rays) return rays.error();
    return Any(std::move(*rays));
  });
  if (!made) return made.error();
  const std::lock_guard hold(mutex_);
  if (const auto quick = entries_.find("rays"); quick != entries_.end()) quick->second->value = *made;
  return Done{};
}

std::shared_ptr<const SkinLadder> SurfaceMaps::ladder() {
  auto made = remembered("ladder", nullptr, [&]() -> Result<Any> {
    return Any(std::make_shared<const SkinLadder>(skinLadder(skinGraph(*surface_), surface_->spacing)));
  });
  if (!made) throw std::bad_alloc();  // nothing else keeps it from being made
  return std::static_pointer_cast<const SkinLadder>(*made);
}

Result<MapPointer> SurfaceMaps::map(const MapSetting& setting, const Progress& progress) {
  auto made = remembered(keyOf(setting), &bytesIn<MapValues>, [&]() -> Result<Any> {
    if (whole_) {
      const auto values = whole_->map(setting, progress);
      if (!values) return values.error();
      return Any(std::make_shared<const MapValues>(cutValues(cut_, **values)));
    }
    auto values = setting.kind->measure(*this, setting, progress);
    if (!values) return values.error();
    // the few rays' noise goes, the form stays
    if (setting.kind->fewRays) melt(*ladder(), *values, 1.2f * surface_->spacing);
    auto out = std::make_shared<MapValues>(values->size());
    std::ranges::transform(*values, out->begin(), [](float v) {
      return static_cast<uint16_t>(std::clamp(v, 0.f, 1.f) * 65535.f + 0.5f);
    });
    return Any(std::shared_ptr<const MapValues>(std::move(out)));
  });
  if (!made) return made.error();
  return std::static_pointer_cast<const MapValues>(*made);
}

bool SurfaceMaps::hasDerived(const std::string& key) {
  const std::lock_guard hold(mutex_);
  const auto found = entries_.find(key);
  return found != entries_.end() && found->second->value;
}

MapPointer SurfaceMaps::known(const MapSetting& setting) {
  const std::lock_guard hold(mutex_);
  const auto found = entries_.find(keyOf(setting));
  if (found == entries_.end()) return nullptr;
  return std::static_pointer_cast<const MapValues>(found->second->value);
}

void SurfaceMaps::take(const std::string& key, MapPointer values) {
  if (values->size() != size()) return;
  (void)remembered("map " + key, &bytesIn<MapValues>,
                   [&]() -> Result<Any> { return Any(std::move(values)); });
}

void SurfaceMaps::give(const MapSetting& setting, MapPointer values) {
  if (values->size() != size()) return;
  (void)remembered(keyOf(setting), nullptr, [&]() -> Result<Any> { return Any(std::move(values)); });
}

void SurfaceMaps::takeGrown(const std::string& key, ReadKept read) {
  const std::lock_guard hold(mutex_);
  kept_[key] = std::move(read);
}

std::optional<std::string> SurfaceMaps::keptFor(const std::string& key) {
  ReadKept read;
  {
    const std::lock_guard hold(mutex_);
    const auto found = kept_.find(key);
    if (found == kept_.end()) return std::nullopt;
    read = std::move(found->second);
    kept_.erase(found);
  }
  return read();
}

void SurfaceMaps::noteKeeping(const std::string& key, ToKept toKept) {
  const std::lock_guard hold(mutex_);
  if (const auto found = entries_.find(key); found != entries_.end()) found->second->toKept = toKept;
}

bool SurfaceMaps::hasGrown(const std::string& key) {
  const std::lock_guard hold(mutex_);
  const auto found = entries_.find(key);
  return kept_.contains(key) || (found != entries_.end() && found->second->value && found->second->toKept);
}

std::optional<std::string> SurfaceMaps::grownBytes(const std::string& key) {
  Any value;
  ToKept toKept = nullptr;
  ReadKept read;
  {
    const std::lock_guard hold(mutex_);
    if (const auto found = entries_.find(key); found != entries_.end()) {
      value = found->second->value;
      toKept = found->second->toKept;
    }
    if (const auto found = kept_.find(key); found != kept_.end()) read = found->second;
  }
  if (value && toKept) return toKept(value.get());
  return read ? read() : std::nullopt;
}

Result<SurfaceMaps::Any> SurfaceMaps::remembered(const std::string& key, BytesOf bytesOf,
                                                 const std::function<Result<Any>()>& make) {
  std::shared_ptr<Entry> entry;
  {
    const std::lock_guard hold(mutex_);
    auto& slot = entries_[key];
    if (!slot) slot = std::make_shared<Entry>();
    entry = slot;
    entry->used = ++clock_;
    if (entry->value) return entry->value;
  }
  // One thread makes it, others that want the same wait for it; who wants another value does not.
  const std::lock_guard making(entry->making);
  {
    const std::lock_guard hold(mutex_);
    if (entry->value) return entry->value;
  }
  // A thread that waits inside for parallel work must not pick up other work that asks for this same value.
  Result<Any> made = tbb::this_task_arena::isolate([&] { return caught(make); });
  const std::lock_guard hold(mutex_);
  if (!made) {
    if (entry.use_count() <= 2) entries_.erase(key);
    return made;
  }
  entry->value = *made;
  entry->bytesOf = bytesOf;
  keepToBudget();
  return made;
}

std::vector<SurfaceMaps::Booked> SurfaceMaps::booked() {
  std::vector<Booked> out;
  const std::lock_guard hold(mutex_);
  for (const auto& [key, entry] : entries_)
    if (entry->value && entry->bytesOf) out.push_back({key, entry->bytesOf(entry->value.get())});
  return out;
}

// What somebody holds would not be freed: only the rest counts, so that what the visible layers are made from
// stays however much it is.
void SurfaceMaps::keepToBudget() {
  const auto unused = [&](const Entry& e) {
    return e.value && e.bytesOf && e.used != clock_ && e.value.use_count() == 1;
  };
  const auto bytes = [](const Entry& e) { return e.bytesOf(e.value.get()); };
  size_t total = 0;
  for (const auto& [key, entry] : entries_) total += unused(*entry) ? bytes(*entry) : 0;
  while (total > kUnusedBudget) {
    auto oldest = entries_.end();
    for (auto e = entries_.begin(); e != entries_.end(); ++e)
      if (unused(*e->second) && (oldest == entries_.end() || e->second->used < oldest->second->used))
        oldest = e;
    if (oldest == entries_.end()) return;
    total -= bytes(*oldest->second);
    entries_.erase(oldest);
  }
}

}  // namespace juvenor
