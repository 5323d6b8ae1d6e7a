// What files keep by fingerprints: pictures, UV sets that were made here, and sculpts all was carried over
// to.
#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/document/store/packing.h"
#include "core/document/store/store.h"

namespace juvenor {
namespace {

std::string hexOf(uint64_t fingerprint) {
  return fmt::format("{:016x}", fingerprint);
}

}  // namespace

// Makes a table hold what is wanted; when steps were dropped, nothing else.
Outcome Store::writeByFingerprint(const char* table, const std::map<uint64_t, PackedBytes>& wanted,
                                  bool dropped) {
  if (wanted.empty() && !dropped) return Done{};
  std::map<std::string, const PackedBytes*> named;
  for (const auto& [fingerprint, bytes] : wanted) named[hexOf(fingerprint)] = &bytes;
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

Outcome Store::writeMade(std::span<const StepPointer> steps, bool dropped) {
  std::map<uint64_t, PackedBytes> uvs, parts, rest;
  for (const StepPointer& step : steps) {
    for (const MadeUvs& made : step->document.uvs)
      uvs[made.fingerprint] = [set = made.set] { return packedUvs(*set); };
    if (const MadeParts& made = step->document.parts; made.any())
      parts[made.fingerprint] = [labels = made.labels] { return packedLabels(*labels); };
    if (const RestPose& pose = step->document.rest; pose.any())
      rest[pose.fingerprint] = [vertices = pose.vertices] { return packedPlaces(*vertices); };
  }
  Outcome ok = writeByFingerprint("uvs", uvs, dropped);
  if (ok) ok = writeByFingerprint("parts", parts, dropped);
  return ok ? writeByFingerprint("rest", rest, dropped) : ok;
}

Result<std::string> Store::byFingerprint(const char* table, uint64_t fingerprint) {
  const std::string key = hexOf(fingerprint),
                    ask = fmt::format("SELECT data FROM {} WHERE fingerprint = ?", table);
  std::string bytes;
  const Outcome asked = db_.query(ask.c_str(), {std::string_view(key)}, [&](const SqlRow& r) {
    bytes = r.blob(0);
    return false;
  });
  if (!asked) return asked.error();
  return bytes;
}

// Each of its arrays by the sculpt's fingerprint and its name; those that lie there stay as they are.
Outcome Store::writeSculpts(std::span<const StepPointer> steps, bool dropped) {
  const auto own = meta("shape");
  if (!own) return own.error();
  std::map<std::string, const Document*> wanted;
  for (const StepPointer& step : steps)
    if (const Document& d = step->document; d.shape != 0 && hexOf(d.shape) != *own)
      wanted[hexOf(d.shape)] = &d;
  if (wanted.empty() && !dropped) return Done{};
  std::set<std::string> here;
  Outcome ok = db_.query("SELECT DISTINCT fingerprint FROM sculpt", {}, [&](const SqlRow& r) {
    here.insert(r.text(0));
    return true;
  });
  for (const auto& [key, d] : wanted)
    if (ok && !here.contains(key))
      ok = packSculpt(*importedSculpt(*d), [&](std::string_view name, const std::string& data) {
        return db_.query("INSERT INTO sculpt VALUES(?, ?, ?)", {std::string_view(key), name, &data});
      });
  for (const std::string& key : here)
    if (ok && dropped && !wanted.contains(key))
      ok = db_.query("DELETE FROM sculpt WHERE fingerprint = ?", {std::string_view(key)});
  return ok;
}

Result<std::shared_ptr<const Sculpt>> Store::readSculpt(uint64_t shape) {
  const std::string key = hexOf(shape);
  const auto own = meta("shape");
  if (!own) return own.error();
  const bool first = shape == 0 || *own == key;
  if (!first && format_ < 10) return Error{"holds no such sculpt", path_.string()};
  Outcome asked = Done{};
  auto sculpt = unpackSculpt(
      [&](std::string_view name) {
        std::string data;
        const auto take = [&](const SqlRow& row) {
          data = row.blob(0);
          return true;
        };
        const Outcome ok = first ? db_.query("SELECT data FROM shape WHERE name = ?", {name}, take)
                                 : db_.query("SELECT data FROM sculpt WHERE fingerprint = ? AND name = ?",
                                             {std::string_view(key), name}, take);
        if (!ok && asked) asked = ok;
        return data;
      },
      path_.string());
  if (!asked) return asked.error();
  if (!sculpt) return sculpt.error();
  return std::make_shared<const Sculpt>(std::move(*sculpt));
}

Result<std::shared_ptr<const Sculpt>> Store::sculptOf(uint64_t shape, Parts& parts) {
  if (const auto known = parts.sculpts.find(shape); known != parts.sculpts.end()) return known->second;
  Error last{"holds no sculpt", path_.string()};
  for (Store* store : parts.stores) {
    auto sculpt = store->readSculpt(shape);
    if (sculpt) return parts.sculpts[shape] = std::move(*sculpt);
    last = sculpt.error();
  }
  return last;
}

Result<std::shared_ptr<const PartLabels>> Store::labelsOf(const SurfaceState& surface, Store& store,
                                                          Parts& parts) {
  if (surface.parts == 0) return std::shared_ptr<const PartLabels>();
  auto& known = parts.labels[surface.parts];
  if (known) return known;
  const auto sculpt = sculptOf(surface.shape, parts);
  if (!sculpt) return sculpt.error();
  if (store.format_ < 11) return store.damaged("a step has parts of a later format");
  const auto bytes = store.byFingerprint("parts", surface.parts);
  if (!bytes) return bytes.error();
  auto labels = unpackedLabels(*bytes, (*sculpt)->polygonCount());
  if (!labels) return store.damaged(labels.error().what);
  if (const Outcome sound = checked(*labels, **sculpt); !sound) return store.damaged(sound.error().what);
  return known = std::make_shared<const PartLabels>(std::move(*labels));
}

Outcome Store::giveUvs(Document& document, Store& store, Parts& parts, size_t corners) {
  for (MadeUvs& uvs : document.uvs) {
    const auto known = std::ranges::find(parts.made, uvs);
    if (known != parts.made.end()) {
      uvs.set = known->set;
      continue;
    }
    if (store.format_ < 9) return store.damaged("a step has UVs of a later format");
    const auto bytes = store.byFingerprint("uvs", uvs.fingerprint);
    if (!bytes) return bytes.error();
    auto set = unpackedUvs(*bytes, corners);
    if (!set) return store.damaged(set.error().what);
    set->name = uvs.name;
    uvs.set = std::make_shared<const UvSet>(std::move(*set));
  }
  return Done{};
}

Outcome Store::giveSculpt(Document& document, Store& store, Parts& parts) {
  const auto base = sculptOf(document.shape, parts);
  if (!base) return base.error();
  const bool same = parts.withMade && parts.made == document.uvs && parts.madeParts == document.parts &&
                    parts.madeFor == document.shape;
  if (same) {
    document.uvs = parts.made;
    document.parts = parts.madeParts;
    document.sculpt = parts.withMade;
    return Done{};
  }
  if (const Outcome ok = giveUvs(document, store, parts, (*base)->corners.size()); !ok) return ok;
  if (document.parts.any()) {
    SurfaceState on;
    on.shape = document.shape;
    on.parts = document.parts.fingerprint;
    const auto labels = labelsOf(on, store, parts);
    if (!labels) return labels.error();
    // (the same labels may be known of another sculpt)
    if (const Outcome sound = checked(**labels, **base); !sound) return store.damaged(sound.error().what);
    if (document.parts.names.size() != (*labels)->own.size())
      return store.damaged("a step names other parts than it has");
    document.parts.labels = *labels;
  }
  setImported(document, *base);
  parts.made = document.uvs;
  parts.madeParts = document.parts;
  parts.withMade = document.sculpt;
  parts.madeFor = document.shape;
  return Done{};
}

// Steps that stand on one surface share one skin at rest.
Outcome Store::giveRest(Document& document, Store& store, Parts& parts) {
  if (!document.rest.any()) return Done{};
  auto& known = parts.rests[{document.rest.fingerprint, document.surface.get()}];
  if (!known.any()) {
    if (store.format_ < 11) return store.damaged("a step has a rest pose of a later format");
    const auto imported = sculptOf(document.shape, parts);
    if (!imported) return imported.error();
    const auto bytes = store.byFingerprint("rest", document.rest.fingerprint);
    if (!bytes) return bytes.error();
    auto places = unpackedPlaces(*bytes, (*imported)->vertices.size());
    if (!places) return store.damaged(places.error().what);
    auto pose = restPose(**imported, document.surface, document.placement,
                         std::make_shared<const std::vector<Vec3>>(std::move(*places)));
    if (!pose) return store.damaged(pose.error().what);
    known = std::move(*pose);
    // (whatever its bytes come to, it is called what the step calls it)
    known.fingerprint = document.rest.fingerprint;
  }
  document.rest = known;
  return Done{};
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
