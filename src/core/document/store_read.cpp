#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cstring>

#include "core/document/edits.h"
#include "core/document/packing.h"
#include "core/document/state_json.h"
#include "core/document/store.h"

namespace juvenor {
namespace {

std::vector<uint64_t> idsFrom(const std::string& text) {
  std::vector<uint64_t> out;
  const char* at = text.data();
  const char* end = at + text.size();
  while (at < end) {
    uint64_t id = 0;
    const auto [next, ec] = std::from_chars(at, end, id);
    if (ec != std::errc()) break;
    out.push_back(id);
    at = next < end ? next + 1 : end;
  }
  return out;
}

}  // namespace

Result<Store> Store::open(const std::filesystem::path& path, bool readOnly) {
  std::error_code ec;
  if (!std::filesystem::exists(path, ec)) return Error{"no such file", path.string()};
  if (std::filesystem::file_size(path, ec) == 0) return Error{"the file is empty", path.string()};
  auto db = Database::open(path, readOnly ? Database::Mode::ReadOnly : Database::Mode::ReadWrite);
  if (!db) return db.error();
  int64_t application = 0, version = 0;
  Outcome ok = db->query("PRAGMA application_id", {},
                         [&](const SqlRow& r) { return application = r.integer(0), true; });
  if (ok)
    ok = db->query("PRAGMA user_version", {}, [&](const SqlRow& r) { return version = r.integer(0), true; });
  if (!ok) return ok.error();
  if (application != 1247106638) return Error{"is not a Juvenor document", path.string()};
  if (version > kFormat)
    return Error{
        fmt::format("was saved by a newer version of Juvenor (format {}); this one reads up to format {}",
                    version, kFormat),
        path.string()};
  Store store(std::move(*db), path);
  store.format_ = static_cast<int>(version);
  return store;
}

Result<std::string> Store::meta(std::string_view key) {
  std::string value;
  const Outcome ok = db_.query("SELECT value FROM meta WHERE key = ?", {key}, [&](const SqlRow& row) {
    value = row.text(0);
    return true;
  });
  if (!ok) return ok.error();
  return value;
}

Result<std::vector<uint64_t>> Store::stepIds() {
  auto order = meta("order");
  if (!order) return order.error();
  return idsFrom(*order);
}

Outcome Store::readRows(std::map<uint64_t, Row>& rows) {
  Outcome ok = db_.query("SELECT id, name, state FROM step", {}, [&](const SqlRow& r) {
    const auto id = static_cast<uint64_t>(r.integer(0));
    rows[id] = {id, r.text(1), r.text(2), {}, this};
    return true;
  });
  if (!ok) return ok;
  return db_.query("SELECT step, layer, field, chunk, data FROM change", {}, [&](const SqlRow& r) {
    const auto found = rows.find(static_cast<uint64_t>(r.integer(0)));
    if (found != rows.end())
      found->second.changes.push_back({static_cast<uint32_t>(r.integer(1)), static_cast<int>(r.integer(2)),
                                       static_cast<uint32_t>(r.integer(3)), r.integer(4)});
    return true;
  });
}

Result<Sculpt> Store::readSculpt() {
  return unpackSculpt(
      [&](std::string_view name) {
        std::string data;
        (void)db_.query("SELECT data FROM shape WHERE name = ?", {name}, [&](const SqlRow& row) {
          data = row.blob(0);
          return true;
        });
        return data;
      },
      path_.string());
}

template <int P>
Outcome Store::loadField(const Row& row, uint32_t layer, Field<P>& field) {
  for (const Change& c : row.changes) {
    if (c.layer != layer || c.field != (P == 4 ? 0 : 1)) continue;
    if (c.chunk >= field.chunkCount()) return Error{"a chunk lies outside the surface", path_.string()};
    if (c.data == 0) {
      field.setChunk(c.chunk, nullptr);
      continue;
    }
    auto& known = chunkOfId_[c.data];
    if (!known) {
      Outcome ok = Error{"a chunk of colour is missing", path_.string()};
      const Outcome asked = db_.query("SELECT data FROM chunk WHERE id = ?", {c.data}, [&](const SqlRow& r) {
        auto chunk = unpackedChunk<P>(r.blob(0));
        if (chunk) {
          known = *chunk;
          idOfChunk_[known] = c.data;
          ok = Done{};
        } else {
          ok = Error{chunk.error().what, path_.string()};
        }
        return false;
      });
      if (!asked) return asked;
      if (!ok) return ok;
    }
    field.setChunk(c.chunk, std::static_pointer_cast<const Chunk<P>>(known));
  }
  return Done{};
}

Outcome Store::loadMaps(const std::vector<Refinement>& refinements, SurfaceMaps& maps) {
  if (format_ < 2) return Done{};
  const std::string key = nlohmann::json(refinements).dump();
  return db_.query("SELECT setting, data FROM map WHERE refinements = ?", {std::string_view(key)},
                   [&](const SqlRow& r) {
                     const auto bytes = unpacked(r.blob(1), maps.size() * sizeof(uint16_t));
                     // a map is measured again when what the file kept of it is damaged
                     if (!bytes || bytes->size() != maps.size() * sizeof(uint16_t)) return true;
                     auto values = std::make_shared<MapValues>(maps.size());
                     std::memcpy(values->data(), bytes->data(), bytes->size());
                     maps.take(r.text(0), std::move(values));
                     return true;
                   });
}

Result<PicturePointer> Store::loadPicture(const BoardPicture& picture) {
  PicturePointer& known = pictures_[picture.fingerprint];
  if (known) return known;
  const std::string key = fmt::format("{:016x}", picture.fingerprint);
  std::string bytes;
  const Outcome asked = db_.query("SELECT data FROM picture WHERE fingerprint = ?", {std::string_view(key)},
                                  [&](const SqlRow& r) {
                                    bytes = r.blob(0);
                                    return false;
                                  });
  if (!asked) return asked.error();
  auto data = decodePicture(std::move(bytes), picture.name);
  if (!data) return Error{data.error().message(), path_.string()};
  return known = *data;
}

Result<Document> Store::documentOf(const Row& row, const Document* before, size_t samples) {
  const auto state = nlohmann::json::parse(row.state, nullptr, false);
  if (state.is_discarded()) return Error{"a step of the history is damaged", path_.string()};
  auto document = documentFromState(state, samples);
  if (!document) return document;
  if (document->guard) {
    const bool known = before && before->guard && before->guard->size() == samples;
    ScalarField field = known ? *before->guard : openMask(samples);
    const Outcome ok = row.store->loadField<1>(row, kGuard, field);
    if (!ok) return ok.error();
    document->guard = std::move(field);
  }
  for (BoardPicture& picture : document->board) {
    auto data = row.store->loadPicture(picture);
    if (!data) return data.error();
    picture.data = *data;
  }
  for (LayerPointer& pointer : document->layers) {
    Layer layer = *pointer;
    const LayerPointer old = before ? layerOf(*before, layer.id) : nullptr;
    if (layer.source->painted()) {
      const ColorField* from = old ? old->source->painted() : nullptr;
      ColorField field = from && from->size() == samples ? *from : ColorField(samples);
      const Outcome ok = row.store->loadField<4>(row, layer.id, field);
      if (!ok) return ok.error();
      layer.source = paintedSource(std::move(field));
    }
    if (layer.mask) {
      ScalarField field = old && old->mask && old->mask->size() == samples ? *old->mask : openMask(samples);
      const Outcome ok = row.store->loadField<1>(row, layer.id, field);
      if (!ok) return ok.error();
      layer.mask = std::move(field);
    }
    pointer = std::make_shared<Layer>(std::move(layer));
  }
  return document;
}

Result<Opened> Store::assemble(const std::vector<uint64_t>& order, std::map<uint64_t, Row>& rows,
                               uint64_t current, const Sculpt& sculpt, const Progress& progress) {
  if (order.empty()) return Error{"holds no step of the work", path_.string()};
  const auto shared = std::make_shared<const Sculpt>(sculpt);
  std::map<std::vector<Refinement>, SurfaceMapsPointer> surfaces;
  Opened out;
  for (size_t i = 0; i < order.size(); ++i) {
    const auto row = rows.find(order[i]);
    if (row == rows.end())
      return Error{fmt::format("step {} of the history is missing", order[i]), path_.string()};
    const auto state = nlohmann::json::parse(row->second.state, nullptr, false);
    if (state.is_discarded()) return Error{"a step of the history is damaged", path_.string()};
    auto& maps = surfaces[refinementsOfState(state)];
    if (!maps) {
      auto built = surfaceAfter(sculpt, refinementsOfState(state),
                                [&](float f) { return report(progress, 0.2f + 0.6f * f); });
      if (!built) return built.error();
      maps = std::make_shared<SurfaceMaps>(*built);
      const Outcome ok = row->second.store->loadMaps(refinementsOfState(state), *maps);
      if (!ok) return ok.error();
    }
    const Document* before = out.steps.empty() ? nullptr : &out.steps.back()->document;
    auto document = documentOf(row->second, before, maps->size());
    if (!document) return document.error();
    document->sculpt = shared;
    document->maps = maps;
    document->surface = maps->sharedSurface();
    auto step = std::make_shared<Step>();
    step->id = row->first;
    step->name = row->second.name;
    step->bytes = before ? newBytes(*before, *document) : 0;
    step->document = std::move(*document);
    if (step->id == current) out.current = i;
    out.steps.push_back(std::move(step));
    if (!report(progress, 0.8f + 0.2f * static_cast<float>(i + 1) / static_cast<float>(order.size())))
      return cancelledError();
  }
  return out;
}

Result<Opened> Store::readFrom(Store& shapes, const std::vector<Store*>& stores, const Progress& progress) {
  auto sculpt = shapes.readSculpt();
  if (!sculpt) return sculpt.error();
  if (!report(progress, 0.2f)) return cancelledError();
  std::map<uint64_t, Row> rows;
  for (Store* store : stores) {
    const Outcome ok = store->readRows(rows);
    if (!ok) return ok.error();
  }
  const auto order = stepIds();
  const auto current = meta("current");
  if (!order || !current) return Error{"is damaged", path_.string()};
  const auto id = idsFrom(*current);
  return assemble(*order, rows, id.empty() ? 0 : id.front(), *sculpt, progress);
}

Result<Opened> Store::read(const Progress& progress) {
  return readFrom(*this, {this}, progress);
}

Result<Opened> Store::readOver(Store& base, const Progress& progress) {
  return readFrom(base, {&base, this}, progress);
}

}  // namespace juvenor
