#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <random>
#include <set>

#include "core/document/edits.h"
#include "core/document/packing.h"
#include "core/document/state_json.h"
#include "core/document/store.h"

namespace juvenor {
namespace {

// What format 2 has beyond format 1.
#define JUVENOR_FORMAT_2                                                                   \
  "PRAGMA user_version = 2;"                                                               \
  "CREATE TABLE map(refinements TEXT NOT NULL, setting TEXT NOT NULL, data BLOB NOT NULL," \
  " PRIMARY KEY(refinements, setting));"                                                   \
  "CREATE TABLE picture(fingerprint TEXT PRIMARY KEY, data BLOB NOT NULL);"

constexpr const char* kSchema =
    "PRAGMA application_id = 1247106638;"  // "JUVN"
    "CREATE TABLE meta(key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;"
    "CREATE TABLE shape(name TEXT PRIMARY KEY, data BLOB NOT NULL);"
    "CREATE TABLE chunk(id INTEGER PRIMARY KEY, data BLOB NOT NULL);"
    "CREATE TABLE step(id INTEGER PRIMARY KEY, name TEXT NOT NULL, state TEXT NOT NULL);"
    "CREATE TABLE change(step INTEGER NOT NULL, layer INTEGER NOT NULL, field INTEGER NOT NULL,"
    " chunk INTEGER NOT NULL, data INTEGER, PRIMARY KEY(step, layer, field, chunk)) WITHOUT "
    "ROWID;" JUVENOR_FORMAT_2;
constexpr const char* kUpgrade = JUVENOR_FORMAT_2;

std::string randomName() {
  std::random_device device;
  return fmt::format("{:08x}{:08x}", device(), device());
}

std::string joined(const std::vector<uint64_t>& ids) {
  return fmt::format("{}", fmt::join(ids, ","));
}

}  // namespace

Result<Store> Store::create(const std::filesystem::path& path, const Sculpt& sculpt) {
  auto db = Database::open(path, Database::Mode::Create);
  if (!db) return db.error();
  Store store(std::move(*db), path);
  Outcome ok = store.db_.run("BEGIN IMMEDIATE");
  if (ok) ok = store.db_.run(kSchema);
  if (ok)
    ok = packSculpt(sculpt, [&](std::string_view name, const std::string& data) {
      return store.db_.query("INSERT INTO shape VALUES(?, ?)", {name, &data});
    });
  if (ok) ok = store.db_.run("COMMIT");
  if (!ok) return ok.error();
  return store;
}

Result<Store> Store::createBeside(const std::filesystem::path& path, Store& base) {
  auto db = Database::open(path, Database::Mode::Create);
  if (!db) return db.error();
  Store store(std::move(*db), path);
  const Outcome ok = store.db_.run(kSchema);
  if (!ok) return ok.error();
  auto ids = base.stepIds();
  if (!ids) return ids.error();
  store.baseSteps_ = std::move(*ids);
  return store;
}

Outcome Store::setMeta(std::string_view key, std::string_view value) {
  return db_.query("INSERT OR REPLACE INTO meta VALUES(?, ?)", {key, value});
}

Result<int64_t> Store::chunkId(const std::shared_ptr<const void>& pointer,
                               const std::function<std::string()>& bytes) {
  if (const auto known = idOfChunk_.find(pointer); known != idOfChunk_.end()) return known->second;
  const std::string data = bytes();
  const Outcome ok = db_.query("INSERT INTO chunk(data) VALUES(?)", {&data});
  if (!ok) return ok.error();
  const int64_t id = db_.lastInsertId();
  idOfChunk_.emplace(pointer, id);
  chunkOfId_[id] = pointer;
  return id;
}

template <int P>
Outcome Store::insertField(uint64_t step, uint32_t layer, const Field<P>* before, const Field<P>& after) {
  const bool comparable = before && before->size() == after.size();
  for (uint32_t i = 0; i < after.chunkCount(); ++i) {
    const auto& chunk = after.chunk(i);
    if (comparable ? before->chunk(i) == chunk : !chunk) continue;
    SqlValue data = Null{};
    if (chunk) {
      const auto id = chunkId(chunk, [&] { return packedChunk<P>(*chunk); });
      if (!id) return id.error();
      data = *id;
    }
    const Outcome ok =
        db_.query("INSERT INTO change VALUES(?, ?, ?, ?, ?)",
                  {static_cast<int64_t>(step), int64_t{layer}, int64_t{P == 4 ? 0 : 1}, int64_t{i}, data});
    if (!ok) return ok;
  }
  return Done{};
}

Outcome Store::insertChanges(const Step& step, const Document* before) {
  if (step.document.guard)
    if (const Outcome ok = insertField<1>(
            step.id, kGuard, before && before->guard ? &*before->guard : nullptr, *step.document.guard);
        !ok)
      return ok;
  for (const LayerPointer& layer : step.document.layers) {
    const LayerPointer old = before ? layerOf(*before, layer->id) : nullptr;
    if (old == layer) continue;
    Outcome ok = Done{};
    if (const ColorField* field = layer->source->painted())
      ok = insertField<4>(step.id, layer->id, old ? old->source->painted() : nullptr, *field);
    if (ok && layer->mask)
      ok = insertField<1>(step.id, layer->id, old && old->mask ? &*old->mask : nullptr, *layer->mask);
    if (!ok) return ok;
  }
  return Done{};
}

Outcome Store::insertStep(const Step& step, const Document* before) {
  const std::string state =
      stateOf(step.document).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
  const Outcome ok =
      db_.query("INSERT INTO step VALUES(?, ?, ?)",
                {static_cast<int64_t>(step.id), std::string_view(step.name), std::string_view(state)});
  return ok ? insertChanges(step, before) : ok;
}

Outcome Store::dropSteps(const std::vector<uint64_t>& ids) {
  for (const uint64_t id : ids) {
    Outcome ok = db_.query("DELETE FROM step WHERE id = ?", {static_cast<int64_t>(id)});
    if (ok) ok = db_.query("DELETE FROM change WHERE step = ?", {static_cast<int64_t>(id)});
    if (!ok) return ok;
  }
  if (ids.empty()) return Done{};
  const Outcome ok =
      db_.run("DELETE FROM chunk WHERE id NOT IN (SELECT data FROM change WHERE data IS NOT NULL)");
  if (!ok) return ok;
  std::set<int64_t> left;
  const Outcome listed = db_.query("SELECT id FROM chunk", {}, [&](const SqlRow& row) {
    left.insert(row.integer(0));
    return true;
  });
  std::erase_if(idOfChunk_, [&](const auto& entry) { return !left.contains(entry.second); });
  std::erase_if(chunkOfId_, [&](const auto& entry) { return !left.contains(entry.first); });
  return listed;
}

Outcome Store::writeMaps(std::span<const StepPointer> steps) {
  std::map<std::string, SurfaceMaps*> wanted;
  for (const StepPointer& step : steps)
    wanted[nlohmann::json(step->document.refinements).dump()] = step->document.maps.get();
  for (const auto& [surface, maps] : wanted)
    for (const auto& [setting, values] : maps->measured()) {
      bool there = false;
      Outcome ok = db_.query("SELECT 1 FROM map WHERE refinements = ? AND setting = ?",
                             {std::string_view(surface), std::string_view(setting)},
                             [&](const SqlRow&) { return there = true; });
      if (!ok) return ok;
      if (there) continue;
      const std::string data =
          packed({reinterpret_cast<const char*>(values->data()), values->size() * sizeof(uint16_t)});
      ok = db_.query("INSERT INTO map VALUES(?, ?, ?)",
                     {std::string_view(surface), std::string_view(setting), &data});
      if (!ok) return ok;
    }
  return Done{};
}

Outcome Store::writePictures(std::span<const StepPointer> steps) {
  std::map<std::string, const BoardPicture*> wanted;
  for (const StepPointer& step : steps)
    for (const BoardPicture& picture : step->document.board)
      wanted[fmt::format("{:016x}", picture.fingerprint)] = &picture;
  std::set<std::string> here;
  Outcome ok = db_.query("SELECT fingerprint FROM picture", {}, [&](const SqlRow& r) {
    here.insert(r.text(0));
    return true;
  });
  for (const auto& [key, picture] : wanted) {
    if (!ok) return ok;
    if (!here.contains(key))
      ok = db_.query("INSERT INTO picture VALUES(?, ?)", {std::string_view(key), &picture->data->file});
  }
  for (const std::string& key : here)
    if (ok && !wanted.contains(key))
      ok = db_.query("DELETE FROM picture WHERE fingerprint = ?", {std::string_view(key)});
  return ok;
}

Outcome Store::writeAll(std::span<const StepPointer> steps, uint64_t currentStep) {
  std::set<uint64_t> here;
  Outcome ok = db_.query("SELECT id FROM step", {}, [&](const SqlRow& row) {
    here.insert(static_cast<uint64_t>(row.integer(0)));
    return true;
  });
  if (!ok) return ok;
  const std::set<uint64_t> base(baseSteps_.begin(), baseSteps_.end());
  const uint64_t first = steps.front()->id;

  // A file whose oldest steps gave way to the memory budget needs its first step written in full; a journal
  // keeps them.
  const bool journal = !baseSteps_.empty();
  const bool trimmed = !journal && here.contains(first) && *here.begin() < first;
  if (trimmed) {
    ok = db_.query("DELETE FROM change WHERE step = ?", {static_cast<int64_t>(first)});
    if (ok) ok = insertChanges(*steps.front(), nullptr);
  }
  std::vector<uint64_t> order;
  for (size_t i = 0; ok && i < steps.size(); ++i) {
    order.push_back(steps[i]->id);
    if (here.contains(steps[i]->id) || base.contains(steps[i]->id)) continue;
    ok = insertStep(*steps[i], i > 0 ? &steps[i - 1]->document : nullptr);
  }
  if (!ok) return ok;

  std::vector<uint64_t> gone;
  for (const uint64_t id : here)
    if (std::ranges::find(order, id) == order.end() && !(journal && id < first)) gone.push_back(id);
  ok = dropSteps(gone);
  if (journal) {
    std::vector<uint64_t> older;
    for (const uint64_t id : baseSteps_)
      if (id < first) older.push_back(id);
    for (const uint64_t id : here)
      if (id < first && !base.contains(id)) older.push_back(id);
    order.insert(order.begin(), older.begin(), older.end());
  }
  if (ok && !journal) ok = writeMaps(steps);
  if (ok) ok = writePictures(steps);
  if (ok) ok = setMeta("order", joined(order));
  if (ok) ok = setMeta("current", std::to_string(currentStep));
  if (ok) ok = setMeta("save", randomName());
  return ok;
}

Outcome Store::write(std::span<const StepPointer> steps, uint64_t currentStep) {
  Outcome ok = db_.run("BEGIN IMMEDIATE");
  if (!ok) return ok;
  const int formatBefore = format_;
  if (format_ < kFormat) ok = db_.run(kUpgrade);
  if (ok) format_ = kFormat;
  int64_t lastChunk = 0;
  ok = db_.query("SELECT coalesce(max(id), 0) FROM chunk", {}, [&](const SqlRow& row) {
    lastChunk = row.integer(0);
    return true;
  });
  if (ok) ok = writeAll(steps, currentStep);
  if (ok) ok = db_.run("COMMIT");
  if (!ok) {
    (void)db_.run("ROLLBACK");
    format_ = formatBefore;
  }
  // Known are chunks that are in the file and that some document still holds beside the two lists here.
  std::erase_if(chunkOfId_, [&](const auto& entry) {
    return ok ? entry.second.use_count() <= 2 : entry.first > lastChunk;
  });
  std::erase_if(idOfChunk_, [&](const auto& entry) { return !chunkOfId_.contains(entry.second); });
  return ok;
}

Result<Store> saveAs(const std::filesystem::path& path, std::span<const StepPointer> steps,
                     uint64_t currentStep) {
  const std::filesystem::path partial = path.string() + ".part";
  std::error_code ec;
  std::filesystem::remove(partial, ec);
  const auto undo = [&](const Error& e) {
    std::filesystem::remove(partial, ec);
    std::filesystem::remove(partial.string() + "-journal", ec);
    return Error{e.what, path.string()};
  };
  {
    auto store = Store::create(partial, *steps.front()->document.sculpt);
    if (!store) return undo(store.error());
    const Outcome ok = store->write(steps, currentStep);
    if (!ok) return undo(ok.error());
  }
  std::filesystem::rename(partial, path, ec);
  if (ec) return undo({"was not written (" + ec.message() + ")"});
  // opened anew so that SQLite knows the file by its final name
  return Store::open(path);
}

}  // namespace juvenor
