#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <random>
#include <set>

#include "core/document/store/journal.h"
#include "core/document/store/journal_ground.h"
#include "core/document/store/packing.h"
#include "core/document/store/schema.h"
#include "core/document/store/state_json.h"
#include "core/document/store/store.h"
#include "core/json_fields.h"
#include "core/layers/prepared_layer.h"

namespace juvenor {
namespace {

constexpr std::string_view kChangedElsewhere = "was saved by another program since it was opened here";

std::string randomName() {
  std::random_device device;
  return fmt::format("{:08x}{:08x}", device(), device());
}

}  // namespace

Result<Store> Store::create(const std::filesystem::path& path, const Document& document) {
  auto db = Database::open(path, Database::Mode::Create);
  if (!db) return db.error();
  Store store(std::move(*db), path);
  // room that dropped steps leave can be given back then; it is asked before there is any table
  Outcome ok = store.db_.run("PRAGMA auto_vacuum = INCREMENTAL; BEGIN IMMEDIATE");
  if (ok) ok = store.db_.run(kSchema);
  if (ok)
    ok = packSculpt(*importedSculpt(document), [&](std::string_view name, const std::string& data) {
      return store.db_.query("INSERT INTO shape VALUES(?, ?)", {name, &data});
    });
  if (ok && document.shape != 0) ok = store.setMeta("shape", fmt::format("{:016x}", document.shape));
  if (ok) ok = store.db_.run("COMMIT");
  if (!ok) return ok.error();
  return store;
}

Result<Store> Store::createBeside(const std::filesystem::path& path, Store& base) {
  auto db = Database::open(path, Database::Mode::Create);
  if (!db) return db.error();
  Store store(std::move(*db), path);
  Outcome ok = store.db_.run("BEGIN IMMEDIATE");
  if (ok) ok = store.db_.run(kSchema);
  if (ok) ok = store.db_.run("COMMIT");
  if (!ok) return ok.error();
  auto ids = base.stepIds();
  if (!ids) return ids.error();
  store.baseSteps_ = std::move(*ids);
  store.named_ = base.named_;
  return store;
}

Outcome Store::setMeta(std::string_view key, std::string_view value) {
  return db_.query("INSERT OR REPLACE INTO meta VALUES(?, ?)", {key, value});
}

template <int P>
Result<int64_t> Store::chunkId(const std::shared_ptr<const Chunk<P>>& chunk) {
  if (const auto known = idOfChunk_.find(chunk); known != idOfChunk_.end()) return known->second;
  const auto data = packedChunk<P>(*chunk);
  if (!data) return data.error();
  const Outcome ok = db_.query("INSERT INTO chunk(data) VALUES(?)", {&*data});
  if (!ok) return ok.error();
  const int64_t id = db_.lastInsertId();
  idOfChunk_.emplace(chunk, id);
  chunkOfId_[id] = {chunk, P};
  return id;
}

template <int P>
Outcome Store::insertField(uint64_t step, FieldId id, const Field<P>* before, const Field<P>& after) {
  if (!after.holdsAny() && !(before && before->holdsAny())) return Done{};
  for (uint32_t i = 0; i < after.chunkCount(); ++i) {
    const auto& chunk = after.chunk(i);
    if (before ? before->chunk(i) == chunk : !chunk) continue;
    SqlValue data = Null{};
    if (chunk) {
      const auto stored = chunkId<P>(chunk);
      if (!stored) return stored.error();
      data = *stored;
    }
    const Outcome ok =
        db_.query("INSERT INTO change VALUES(?, ?, ?, ?, ?)",
                  {static_cast<int64_t>(step), int64_t{id.layer}, int64_t{id.number}, int64_t{i}, data});
    if (!ok) return ok;
  }
  return Done{};
}

Outcome Store::insertChanges(const Step& step, const Document* before) {
  Outcome ok = Done{};
  eachChangedField(step.document, before, [&]<int P>(FieldId id, const Field<P>& field, const Field<P>* old) {
    if (ok) ok = insertField<P>(step.id, id, old, field);
  });
  return ok;
}

// Formats 1 and 2 kept the order of steps as one text.
Outcome Store::listSteps() {
  Outcome ok = db_.run(kSince3);
  for (size_t i = 0; ok && i < order_.size(); ++i)
    ok = db_.query("INSERT INTO sequence VALUES(?, ?)",
                   {static_cast<int64_t>(i), static_cast<int64_t>(order_[i])});
  return ok ? db_.run("DELETE FROM meta WHERE key = 'order'") : ok;
}

// Brings the tables, and the states of the steps, to the form this version writes.
Outcome Store::bringUpToDate() {
  Outcome ok = format_ < 2 ? db_.run(kSince2) : Done{};
  if (ok && format_ < 3) ok = listSteps();
  if (ok && format_ < 4) ok = db_.run(kSince4);
  if (ok && format_ < 5) ok = db_.run(kSince5);
  if (ok && format_ < 6) ok = db_.run(kSince6);
  if (ok && format_ < 7) ok = db_.run(kSince7);
  if (ok && format_ < 8) ok = db_.run(kSince8);
  if (ok && format_ < 9) ok = db_.run(kSince9);
  if (ok && format_ < 10) ok = db_.run(kSince10);
  if (ok && format_ < 11) ok = db_.run(kSince11);
  if (ok) ok = db_.run(kSince12);
  if (ok) ok = db_.run(kSince13);
  if (ok) ok = db_.run(kSince14);
  if (ok) ok = db_.run(kSince15);
  // (states of format 8 are as they are written today)
  if (!ok || format_ >= 8) return ok;
  std::map<uint64_t, Row> rows;
  if (ok) ok = readRows(rows);
  for (const auto& [id, row] : rows) {
    if (!ok) return ok;
    nlohmann::json now = broughtUpToDate(parsedOrNull(row.state), format_);
    ok = pieces_.take(db_, now);
    if (!ok) return ok;
    const std::string state = textOf(now);
    ok = db_.query("UPDATE step SET state = ? WHERE id = ?",
                   {std::string_view(state), static_cast<int64_t>(id)});
  }
  return ok;
}

Outcome Store::insertStep(const Step& step, const Document* before) {
  nlohmann::json told = stateOf(step.document);
  if (const Outcome taken = pieces_.take(db_, told); !taken) return taken;
  const std::string state = textOf(told);
  // nothing may be written that could not be read again: it would take the whole document with it
  if (const auto back = documentFromState(parsedOrNull(state), step.document.surface->size(), kDocumentFormat,
                                          pieces_.reader(db_));
      !back)
    return Error{fmt::format("the step “{}” cannot be kept, for it could not be read again: {}", step.name,
                             back.error().what),
                 path_.string()};
  const Outcome ok = db_.query(
      "INSERT INTO step VALUES(?, ?, ?, ?)",
      {static_cast<int64_t>(step.id), std::string_view(step.name), std::string_view(state), step.time});
  return ok ? insertChanges(step, before) : ok;
}

// Of steps that lie in the file a journal goes on from too.
Outcome Store::writeNames(std::span<const StepPointer> steps) {
  for (const StepPointer& step : steps) {
    const auto known = named_.find(step->id);
    if (step->given == (known == named_.end() ? std::string_view() : std::string_view(known->second)))
      continue;
    const Outcome ok = db_.query("INSERT OR REPLACE INTO named VALUES(?, ?)",
                                 {static_cast<int64_t>(step->id), std::string_view(step->given)});
    if (!ok) return ok;
    named_[step->id] = step->given;
  }
  return Done{};
}

Outcome Store::dropSteps(const std::vector<uint64_t>& ids) {
  for (const uint64_t id : ids) {
    Outcome ok = db_.query("DELETE FROM step WHERE id = ?", {static_cast<int64_t>(id)});
    if (ok) ok = db_.query("DELETE FROM change WHERE step = ?", {static_cast<int64_t>(id)});
    if (ok) ok = db_.query("DELETE FROM named WHERE step = ?", {static_cast<int64_t>(id)});
    if (!ok) return ok;
    named_.erase(id);
  }
  if (ids.empty()) return Done{};
  Outcome ok = pieces_.dropUnused(db_);
  if (ok) ok = db_.run("DELETE FROM chunk WHERE id NOT IN (SELECT data FROM change WHERE data IS NOT NULL)");
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

// Makes `map` or `grown` hold what is wanted, by refinements and setting; what it holds already stays as it
// is.
Outcome Store::writeMeasured(const char* table, const std::map<Measured, BytesOf>& wanted) {
  std::set<Measured> here;
  const std::string list = fmt::format("SELECT refinements, setting FROM {}", table);
  Outcome ok = db_.query(list.c_str(), {}, [&](const SqlRow& r) {
    here.emplace(r.text(0), r.text(1));
    return true;
  });
  const std::string insert = fmt::format("INSERT INTO {} VALUES(?, ?, ?)", table);
  for (const auto& [key, bytes] : wanted) {
    if (!ok) return ok;
    if (here.contains(key)) continue;
    const auto data = packed(bytes());
    if (!data) return data.error();
    ok = db_.query(insert.c_str(), {std::string_view(key.first), std::string_view(key.second), &*data});
  }
  const std::string drop = fmt::format("DELETE FROM {} WHERE refinements = ? AND setting = ?", table);
  for (const Measured& key : here)
    if (ok && !wanted.contains(key))
      ok = db_.query(drop.c_str(), {std::string_view(key.first), std::string_view(key.second)});
  return ok;
}

// Only maps that some step's layers are made from: what was measured while a slider moved goes again.
Outcome Store::writeMaps(std::span<const StepPointer> steps) {
  std::map<Measured, BytesOf> wanted;
  for (const StepPointer& step : steps) {
    const std::string surface = surfaceKey(step->document);
    for (const MapSetting& setting : mapsNeeded(step->document.layers))
      if (const MapPointer values = step->document.maps->known(setting))
        wanted[{surface, textOf(toJson(setting))}] = [values] {
          return std::string(reinterpret_cast<const char*>(values->data()),
                             values->size() * sizeof(uint16_t));
        };
  }
  return writeMeasured("map", wanted);
}

// Only for the step that is shown: patterns take more room than maps, and grow again in seconds.
Outcome Store::writeGrown(const Document& shown) {
  std::map<Measured, BytesOf> wanted;
  for (const LayerPointer& layer : shown.layers)
    if (const std::string key = layer->source->grownKey(); !key.empty() && shown.maps->hasGrown(key))
      wanted[{surfaceKey(shown), key}] = [maps = shown.maps, key] {
        return maps->grownBytes(key).value_or(std::string());
      };
  return writeMeasured("grown", wanted);
}

namespace {

std::vector<uint64_t> idsOf(std::span<const StepPointer> steps) {
  std::vector<uint64_t> out;
  for (const StepPointer& step : steps) out.push_back(step->id);
  return out;
}

bool dropsAny(const std::vector<uint64_t>& before, std::span<const StepPointer> steps) {
  const std::vector<uint64_t> ids = idsOf(steps);
  const std::set<uint64_t> left(ids.begin(), ids.end());
  return !std::ranges::all_of(before, [&](uint64_t id) { return left.contains(id); });
}

// The steps that lie before `first` in what a file or its base holds, none when it does not hold `first`.
std::vector<uint64_t> olderThan(uint64_t first, const std::vector<uint64_t>& known) {
  const auto at = std::ranges::find(known, first);
  return at == known.end() ? std::vector<uint64_t>() : std::vector<uint64_t>(known.begin(), at);
}

}  // namespace

Outcome Store::writeOrder(const std::vector<uint64_t>& order) {
  const auto same = static_cast<size_t>(std::ranges::mismatch(order_, order).in1 - order_.begin());
  Outcome ok = Done{};
  if (same < order_.size())
    ok = db_.query("DELETE FROM sequence WHERE place >= ?", {static_cast<int64_t>(same)});
  for (size_t i = same; ok && i < order.size(); ++i)
    ok = db_.query("INSERT INTO sequence VALUES(?, ?)",
                   {static_cast<int64_t>(i), static_cast<int64_t>(order[i])});
  return ok;
}

// Work in the database follows what is new, not how many steps there are.
Outcome Store::writeAll(std::span<const StepPointer> steps, uint64_t currentStep,
                        std::vector<uint64_t>& order) {
  const bool journal = !baseSteps_.empty();
  const std::set<uint64_t> base(baseSteps_.begin(), baseSteps_.end());
  const std::set<uint64_t> known(order_.begin(), order_.end());
  const uint64_t first = steps.front()->id;
  Outcome ok = Done{};

  // A file whose oldest steps gave way to the memory budget needs its first step written in full; a journal
  // keeps them.
  order = olderThan(first, order_.empty() ? baseSteps_ : order_);
  if (!journal && !order.empty()) {
    ok = db_.query("DELETE FROM change WHERE step = ?", {static_cast<int64_t>(first)});
    if (ok) ok = insertChanges(*steps.front(), nullptr);
    order.clear();
  }
  size_t fresh = steps.size();
  for (size_t i = 0; ok && i < steps.size(); ++i) {
    order.push_back(steps[i]->id);
    if (known.contains(steps[i]->id) || base.contains(steps[i]->id)) continue;
    fresh = std::min(fresh, i);
    ok = insertStep(*steps[i], i > 0 ? &steps[i - 1]->document : nullptr);
  }
  if (!ok) return ok;
  const std::set<uint64_t> kept(order.begin(), order.end());
  std::vector<uint64_t> gone;
  for (const uint64_t id : order_)
    if (!kept.contains(id)) gone.push_back(id);
  ok = dropSteps(gone);
  if (ok && !journal) ok = writeMaps(steps);
  const auto shown = std::ranges::find(steps, currentStep, [](const StepPointer& s) { return s->id; });
  if (ok && !journal && shown != steps.end()) ok = writeGrown((*shown)->document);
  const auto needing = gone.empty() ? steps.subspan(fresh) : steps;
  if (ok) ok = writePictures(needing, !gone.empty());
  if (ok) ok = writeMade(needing, !gone.empty());
  if (ok) ok = writeSculpts(needing, !gone.empty());
  if (ok) ok = writeNames(steps);
  if (ok) ok = writeOrder(order);
  if (ok) ok = setMeta("current", std::to_string(currentStep));
  return ok;
}

Outcome Store::unchangedElsewhere() {
  const auto save = meta("save");
  if (!save) return save.error();
  if (*save == save_) return Done{};
  return Error{std::string(kChangedElsewhere), path_.string()};
}

Outcome Store::writeNow(std::span<const StepPointer> steps, uint64_t currentStep, std::string_view look) {
  Outcome ok = unchangedElsewhere();
  // before anything is written: the copy is taken of the file itself
  if (ok && baseSteps_.empty() && dropsAny(order_, steps))
    ok = keepGrounds(journalFolder(), path_, idsOf(steps));
  if (ok && format_ < kDocumentFormat) ok = bringUpToDate();
  std::vector<uint64_t> order;
  if (ok) ok = writeAll(steps, currentStep, order);
  if (ok && !look.empty()) ok = setMeta("look", look);
  const std::string save = randomName();
  if (ok) ok = setMeta("save", save);
  if (ok) ok = db_.run("COMMIT");
  if (!ok) return ok;
  format_ = kDocumentFormat;
  save_ = save;
  order_ = std::move(order);
  return ok;
}

Outcome Store::write(std::span<const StepPointer> steps, uint64_t currentStep, std::string_view look) {
  Outcome ok = db_.run("BEGIN IMMEDIATE");
  if (!ok) return ok;
  int64_t lastChunk = 0;
  ok = db_.query("SELECT coalesce(max(id), 0) FROM chunk", {}, [&](const SqlRow& row) {
    lastChunk = row.integer(0);
    return true;
  });
  const auto namesBefore = named_;
  if (ok) ok = caught([&] { return writeNow(steps, currentStep, look); });
  if (!ok) {
    (void)db_.run("ROLLBACK");
    pieces_.forget();
    named_ = namesBefore;
  }
  // the work is safe already; a file that stays large is no reason to call it unsaved
  if (ok && baseSteps_.empty()) (void)compact();
  // Known are chunks that are in the file and that some document still holds beside the two lists here.
  std::erase_if(chunkOfId_, [&](const auto& entry) {
    return ok ? entry.second.pointer.use_count() <= 2 : entry.first > lastChunk;
  });
  std::erase_if(idOfChunk_, [&](const auto& entry) { return !chunkOfId_.contains(entry.second); });
  return ok;
}

Outcome Store::compact(bool all) {
  constexpr int64_t kWorthIt = 16 << 20;  // bytes
  const auto number = [&](const char* pragma) {
    int64_t out = 0;
    (void)db_.query(pragma, {}, [&](const SqlRow& row) { return out = row.integer(0), true; });
    return out;
  };
  const int64_t free = number("PRAGMA freelist_count"), pages = number("PRAGMA page_count");
  if (!all && (free * number("PRAGMA page_size") < kWorthIt || free < pages / 4)) return Done{};
  // a file of an older version cannot give pages back one by one before it was written anew
  const bool incremental = number("PRAGMA auto_vacuum") == 2;
  if (incremental && !all) return db_.run("PRAGMA incremental_vacuum");
  return db_.run("PRAGMA auto_vacuum = INCREMENTAL; VACUUM");
}

bool isChangedElsewhere(const Error& error) {
  return error.what == kChangedElsewhere;
}

namespace {

// A save of the file that is about to be replaced may have been cut off: what SQLite left beside it to take
// that back would be played into the new file. Opening it once takes it back now.
void settleWhatIsReplaced(const std::filesystem::path& path) {
  std::error_code ec;
  const auto left = [&](const char* ending) { return std::filesystem::path(path.string() + ending); };
  if (std::filesystem::exists(left("-journal"), ec)) (void)Store::open(path);
  for (const char* ending : {"-journal", "-wal", "-shm"}) std::filesystem::remove(left(ending), ec);
}

}  // namespace

Result<Store> saveAs(const std::filesystem::path& path, std::span<const StepPointer> steps,
                     uint64_t currentStep, std::string_view look) {
  const std::filesystem::path partial = path.string() + ".part";
  std::error_code ec;
  std::filesystem::remove(partial, ec);
  const auto undo = [&](const Error& e) {
    std::filesystem::remove(partial, ec);
    std::filesystem::remove(partial.string() + "-journal", ec);
    return Error{e.what, path.string()};
  };
  {
    auto store = Store::create(partial, steps.front()->document);
    if (!store) return undo(store.error());
    const Outcome ok = store->write(steps, currentStep, look);
    if (!ok) return undo(ok.error());
  }
  settleWhatIsReplaced(path);
  if (std::filesystem::exists(path, ec))
    if (const Outcome kept = keepGrounds(journalFolder(), path, idsOf(steps)); !kept)
      return undo(kept.error());
  std::filesystem::rename(partial, path, ec);
  if (ec) return undo({"was not written (" + ec.message() + ")"});
  // opened anew so that SQLite knows the file by its final name
  return Store::open(path);
}

}  // namespace juvenor
