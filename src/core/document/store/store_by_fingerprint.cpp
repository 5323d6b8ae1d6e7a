// What files keep by fingerprints: pictures, and UV sets that were made here.
#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/document/store/packing.h"
#include "core/document/store/store.h"

namespace juvenor {

// Makes a table hold what is wanted; when steps were dropped, nothing else.
Outcome Store::writeByFingerprint(const char* table, const std::map<uint64_t, PackedBytes>& wanted,
                                  bool dropped) {
  if (wanted.empty() && !dropped) return Done{};
  std::map<std::string, const PackedBytes*> named;
  for (const auto& [fingerprint, bytes] : wanted) named[fmt::format("{:016x}", fingerprint)] = &bytes;
  std::set<std::string> here;
  Outcome ok = db_.query(fmt::format("SELECT fingerprint FROM {}", table).c_str(), {}, [&](const SqlRow& r) {
    here.insert(r.text(0));
    return true;
  });
  const std::string insert = fmt::format("INSERT INTO {} VALUES(?, ?)", table),
                    drop = fmt::format("DELETE FROM {} WHERE fingerprint = ?", table);
  for (const auto& [key, bytes] : named) {
    if (!ok) return ok;
    if (here.contains(key)) continue;
    const auto data = (*bytes)();
    if (!data) return data.error();
    ok = db_.query(insert.c_str(), {std::string_view(key), &*data});
  }
  for (const std::string& key : here)
    if (ok && dropped && !named.contains(key)) ok = db_.query(drop.c_str(), {std::string_view(key)});
  return ok;
}

Outcome Store::writePictures(std::span<const StepPointer> steps, bool dropped) {
  std::map<uint64_t, PackedBytes> wanted;
  for (const StepPointer& step : steps)
    for (auto& [fingerprint, picture] : picturesOf(step->document))
      wanted[fingerprint] = [picture] { return Result<std::string>(picture->file); };
  return writeByFingerprint("picture", wanted, dropped);
}

Outcome Store::writeUvs(std::span<const StepPointer> steps, bool dropped) {
  std::map<uint64_t, PackedBytes> wanted;
  for (const StepPointer& step : steps)
    for (const MadeUvs& uvs : step->document.uvs)
      wanted[uvs.fingerprint] = [set = uvs.set] { return packedUvs(*set); };
  return writeByFingerprint("uvs", wanted, dropped);
}

Result<std::string> Store::byFingerprint(const char* table, uint64_t fingerprint) {
  const std::string key = fmt::format("{:016x}", fingerprint),
                    ask = fmt::format("SELECT data FROM {} WHERE fingerprint = ?", table);
  std::string bytes;
  const Outcome asked = db_.query(ask.c_str(), {std::string_view(key)}, [&](const SqlRow& r) {
    bytes = r.blob(0);
    return false;
  });
  if (!asked) return asked.error();
  return bytes;
}

Result<std::shared_ptr<const Sculpt>> Store::sculptFor(Document& document, Store& store, Parts& parts) {
  if (document.uvs.empty()) return parts.sculpt;
  const bool same = parts.withMade && parts.made == document.uvs;
  if (!same) {
    for (MadeUvs& uvs : document.uvs) {
      const auto known = std::ranges::find(parts.made, uvs);
      if (known != parts.made.end()) {
        uvs.set = known->set;
        continue;
      }
      if (store.format_ < 9) return store.damaged("a step has UVs of a later format");
      const auto bytes = store.byFingerprint("uvs", uvs.fingerprint);
      if (!bytes) return bytes.error();
      auto set = unpackedUvs(*bytes, parts.sculpt->corners.size());
      if (!set) return store.damaged(set.error().what);
      set->name = uvs.name;
      uvs.set = std::make_shared<const UvSet>(std::move(*set));
    }
    parts.made = document.uvs;
    parts.withMade = sculptWith(parts.sculpt, parts.made);
  }
  document.uvs = parts.made;
  return parts.withMade;
}

Result<PicturePointer> Store::loadPicture(uint64_t fingerprint, const std::string& name) {
  PicturePointer& known = pictures_[fingerprint];
  if (known) return known;
  auto bytes = byFingerprint("picture", fingerprint);
  if (!bytes) return bytes.error();
  auto data = decodePicture(std::move(*bytes), name);
  if (!data) return Error{data.error().message(), path_.string()};
  return known = *data;
}

}  // namespace juvenor
