#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <charconv>
#include <cstring>

#include "core/document/store/journal_ground.h"
#include "core/document/store/packing.h"
#include "core/document/store/state_json.h"
#include "core/document/store/store.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

// Numbers joined by commas; nothing when anything else stands among them.
std::optional<std::vector<uint64_t>> idsFrom(const std::string& text) {
  std::vector<uint64_t> out;
  const char* at = text.data();
  const char* end = at + text.size();
  while (at < end) {
    uint64_t id = 0;
    const auto [next, ec] = std::from_chars(at, end, id);
    if (ec != std::errc() || (next < end && *next != ',')) return std::nullopt;
    out.push_back(id);
    at = next < end ? next + 1 : end;
  }
  return out;
}

constexpr std::string_view kGone = "no such file";

}  // namespace

bool isGone(const Error& error) {
  return error.what == kGone;
}

Result<Store> Store::open(const std::filesystem::path& path, bool readOnly) {
  std::error_code ec;
  if (!std::filesystem::exists(path, ec)) return Error{std::string(kGone), path.string()};
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
  if (version > kDocumentFormat)
    return Error{
        fmt::format("was saved by a newer version of Juvenor (format {}); this one reads up to format {}",
                    version, kDocumentFormat),
        path.string()};
  if (version < 1) return Error{"is no Juvenor document of any format", path.string()};
  Store store(std::move(*db), path);
  store.format_ = static_cast<int>(version);
  auto save = store.meta("save");
  if (!save) return save.error();
  store.save_ = std::move(*save);
  auto order = store.stepIds();
  if (!order) return order.error();
  store.order_ = std::move(*order);
  auto names = store.readNames();
  if (!names) return names.error();
  store.named_ = std::move(*names);
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

Result<std::set<uint64_t>> Store::storedSteps() {
  std::set<uint64_t> out;
  const Outcome ok = db_.query("SELECT id FROM step", {}, [&](const SqlRow& r) {
    out.insert(static_cast<uint64_t>(r.integer(0)));
    return true;
  });
  if (!ok) return ok.error();
  return out;
}

Result<std::vector<uint64_t>> Store::stepIds() {
  std::vector<uint64_t> ids;
  if (format_ < 3) {
    const auto order = meta("order");
    if (!order) return order.error();
    const auto read = idsFrom(*order);
    if (!read) return damaged("the order of its steps cannot be read");
    ids = *read;
  } else {
    bool sound = true;
    const Outcome ok = db_.query("SELECT step FROM sequence ORDER BY place", {}, [&](const SqlRow& r) {
      sound &= r.kind(0) == SqlRow::Kind::Integer && r.integer(0) > 0;
      ids.push_back(static_cast<uint64_t>(r.integer(0)));
      return true;
    });
    if (!ok) return ok.error();
    if (!sound) return damaged("the order of its steps cannot be read");
  }
  const std::set<uint64_t> different(ids.begin(), ids.end());
  if (different.size() != ids.size()) return damaged("a step is listed twice");
  return ids;
}

Error Store::damaged(std::string_view what) const {
  return {fmt::format("is damaged: {}", what), path_.string()};
}

Outcome Store::readRows(std::map<uint64_t, Row>& rows) {
  using Kind = SqlRow::Kind;
  bool sound = true;
  const char* sql =
      format_ < 7 ? "SELECT id, name, state, 0 FROM step" : "SELECT id, name, state, time FROM step";
  const Outcome asked = db_.query(sql, {}, [&](const SqlRow& r) {
    sound = r.kind(0) == Kind::Integer && r.integer(0) > 0 && r.kind(1) == Kind::Text &&
            r.kind(2) == Kind::Text && r.kind(3) == Kind::Integer;
    const auto id = static_cast<uint64_t>(r.integer(0));
    if (sound) rows[id] = {id, r.text(1), r.text(2), saneTime(r.integer(3)), {}, this};
    return sound;
  });
  if (!asked) return asked;
  return sound ? readChanges(rows) : damaged("a step of the history is no step");
}

Result<std::map<uint64_t, std::string>> Store::readNames() {
  std::map<uint64_t, std::string> out;
  if (format_ < 7) return out;
  bool sound = true;
  const Outcome asked = db_.query("SELECT step, name FROM named", {}, [&](const SqlRow& r) {
    sound = r.kind(1) == SqlRow::Kind::Text;
    if (sound) out[static_cast<uint64_t>(r.integer(0))] = r.text(1);
    return sound;
  });
  if (!asked) return asked.error();
  if (!sound) return damaged("a step's name is no text");
  return out;
}

Outcome Store::readChanges(std::map<uint64_t, Row>& rows) {
  using Kind = SqlRow::Kind;
  bool sound = true;
  const Outcome asked =
      db_.query("SELECT step, layer, field, chunk, data FROM change", {}, [&](const SqlRow& r) {
        for (int c = 0; c < 4; ++c) sound &= r.kind(c) == Kind::Integer && r.integer(c) >= 0;
        sound &= r.integer(1) < kNone &&
                 planesOfField(static_cast<int>(std::min<int64_t>(r.integer(2), 99))) > 0 &&
                 r.integer(3) < kNone;
        sound &= r.kind(4) == Kind::Null || (r.kind(4) == Kind::Integer && r.integer(4) > 0);
        const auto row = rows.find(static_cast<uint64_t>(r.integer(0)));
        if (sound && row != rows.end())
          row->second.changes.push_back(
              {{static_cast<uint32_t>(r.integer(1)), static_cast<int>(r.integer(2))},
               static_cast<uint32_t>(r.integer(3)),
               r.integer(4)});
        return sound;
      });
  if (!asked) return asked;
  return sound ? Outcome(Done{}) : damaged("a change of the history is no change");
}

// It is filled when all steps are read, if one of them still holds it then.
template <int P>
Result<std::shared_ptr<const Chunk<P>>> Store::chunkOf(int64_t id) {
  if (const auto known = chunkOfId_.find(id); known != chunkOfId_.end()) {
    if (known->second.planes != P)
      return damaged("a chunk of another kind is named where a layer's should be");
    return std::static_pointer_cast<const Chunk<P>>(known->second.pointer);
  }
  const auto chunk = std::make_shared<Chunk<P>>();
  empty_[id] = chunk.get();
  idOfChunk_[chunk] = id;
  chunkOfId_[id] = {chunk, P};
  return std::shared_ptr<const Chunk<P>>(chunk);
}

template <int P>
Outcome Store::loadField(const Row& row, FieldId id, Field<P>& field) {
  for (const Change& c : row.changes) {
    if (c.field != id) continue;
    if (c.chunk >= field.chunkCount()) return damaged("a chunk lies outside the surface");
    if (c.data == 0) {
      field.setChunk(c.chunk, nullptr);
      continue;
    }
    auto chunk = chunkOf<P>(c.data);
    if (!chunk) return chunk.error();
    field.setChunk(c.chunk, std::move(*chunk));
  }
  return Done{};
}

Outcome Store::loadMaps(const std::string& key, SurfaceMaps& maps) {
  if (format_ < 2) return Done{};
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

// They are unpacked when a layer asks for them; what is damaged grows again.
Outcome Store::loadGrown(const std::string& key, SurfaceMaps& maps) {
  if (format_ < 5) return Done{};
  constexpr size_t kMostASample = 64;  // bytes: what is larger is none of ours
  const size_t most = (maps.size() + kChunkSize) * kMostASample;
  return db_.query(
      "SELECT setting, data FROM grown WHERE refinements = ?", {std::string_view(key)}, [&](const SqlRow& r) {
        maps.takeGrown(r.text(0), [packed = std::string(r.blob(1)), most]() -> std::optional<std::string> {
          auto bytes = unpacked(packed, most);
          if (!bytes) return std::nullopt;
          return std::move(*bytes);
        });
        return true;
      });
}

Outcome Store::loadPictures(Document& document) {
  const auto give = [&](uint64_t fingerprint, const std::string& name, PicturePointer& to) -> Outcome {
    auto data = loadPicture(fingerprint, name);
    if (!data) return data.error();
    to = std::move(*data);
    return Done{};
  };
  for (BoardPicture& b : document.board)
    if (const Outcome ok = give(b.fingerprint, b.name, b.data); !ok) return ok;
  for (Slide& s : document.slides)
    if (const Outcome ok = give(s.fingerprint, s.name, s.picture); !ok) return ok;
  Outcome ok = Done{};
  eachLayer(document, [&](LayerPointer& pointer) {
    auto source = pointer->source->withPictures(
        [&](uint64_t fingerprint, const std::string& name) { return loadPicture(fingerprint, name); });
    if (!source && ok) ok = source.error();
    if (!source || !*source) return;
    Layer layer = *pointer;
    layer.source = std::move(*source);
    pointer = std::make_shared<Layer>(std::move(layer));
  });
  return ok;
}

void Store::forgetUnshared() {
  std::erase_if(chunkOfId_, [](const auto& entry) { return entry.second.pointer.use_count() <= 2; });
  std::erase_if(idOfChunk_, [&](const auto& entry) { return !chunkOfId_.contains(entry.second); });
  std::erase_if(empty_, [&](const auto& entry) { return !chunkOfId_.contains(entry.first); });
}

Outcome Store::fillChunks() {
  forgetUnshared();
  constexpr size_t kAtOnce = 1024;  // packed ones held meanwhile
  struct Packed {
    std::string bytes;
    void* into;
    int planes;
  };
  while (!empty_.empty()) {
    std::vector<Packed> some;
    while (!empty_.empty() && some.size() < kAtOnce) {
      const auto [id, into] = *empty_.begin();
      Packed packed{{}, into, chunkOfId_.at(id).planes};
      bool found = false;
      const Outcome asked = db_.query("SELECT data FROM chunk WHERE id = ?", {id}, [&](const SqlRow& r) {
        packed.bytes = r.blob(0);
        found = true;
        return false;
      });
      if (!asked) return asked;
      if (!found) return damaged("a chunk of colour is missing");
      some.push_back(std::move(packed));
      empty_.erase(empty_.begin());
    }
    std::atomic<bool> sound = true;
    parallelEach(some.size(), [&](size_t i) {
      const auto unpack = [&]<int P>(Chunk<P>* into) { return unpackChunk<P>(some[i].bytes, *into); };
      const Outcome done = some[i].planes == 1   ? unpack(static_cast<Chunk<1>*>(some[i].into))
                           : some[i].planes == 2 ? unpack(static_cast<Chunk<2>*>(some[i].into))
                                                 : unpack(static_cast<Chunk<4>*>(some[i].into));
      if (!done) sound = false;
    });
    if (!sound) return damaged("a stored chunk of colour cannot be unpacked");
  }
  return Done{};
}

Result<std::vector<uint64_t>> Store::readRowsOver(Store& base, std::map<uint64_t, Row>& rows) {
  auto order = stepIds();
  if (!order) return order;
  std::map<uint64_t, Row> ground;
  Outcome ok = base.readRows(ground);
  if (ok) ok = readRows(rows);
  if (!ok) return ok.error();
  const auto stored = storedSteps();
  if (!stored) return stored.error();
  const auto first = firstThatStands(*order, *stored, base.order_);
  if (!first) return damaged("steps are missing that later ones stand on");
  order->erase(order->begin(), order->begin() + static_cast<std::ptrdiff_t>(*first));
  // the first that stands is told in full by the ground alone
  if (*first > 0) rows.erase(order->front());
  rows.merge(ground);
  return order;
}

Result<Opened> Store::readFrom(Store* base, const Progress& progress, size_t budget, bool onlyShown) {
  Parts parts;
  if (base) parts.stores.push_back(base);
  parts.stores.push_back(this);
  // what was never a document is told before anything else is looked at
  if (const auto sculpt = sculptOf(0, parts); !sculpt) return sculpt.error();
  if (!report(progress, 0.2f)) return cancelledError();
  parts.budget = budget;
  parts.onlyShown = onlyShown;
  auto order = base ? readRowsOver(*base, parts.rows) : stepIds();
  if (!order) return order.error();
  parts.order = std::move(*order);
  if (!base)
    if (const Outcome ok = readRows(parts.rows); !ok) return ok.error();
  if (base) parts.names = base->named_;
  for (const auto& [step, name] : named_) parts.names[step] = name;
  const auto current = meta("current");
  if (!current) return current.error();
  const auto shown = idsFrom(*current);
  if (!shown || shown->size() != 1 || std::ranges::find(parts.order, shown->front()) == parts.order.end())
    return damaged("it does not say which step is shown");
  parts.current = shown->front();
  auto opened = assemble(parts, progress);
  if (!opened) return opened;
  for (Store* store : {this, base})
    if (store)
      if (const Outcome filled = store->fillChunks(); !filled) return filled.error();
  return opened;
}

Result<Opened> Store::readShown(const Progress& progress) {
  return caught([&] { return readFrom(nullptr, progress, 0, true); });
}

Result<Opened> Store::read(const Progress& progress, size_t budget) {
  auto opened = caught([&] { return readFrom(nullptr, progress, budget); });
  if (!opened) return opened;
  opened->save = save_;
  auto look = meta("look");
  if (!look) return look.error();
  opened->look = std::move(*look);
  return opened;
}

Result<Opened> Store::readOver(Store& base, const Progress& progress, size_t budget) {
  auto opened = caught([&] { return readFrom(&base, progress, budget); });
  if (opened) opened->save = base.save_;
  return opened;
}

}  // namespace juvenor
