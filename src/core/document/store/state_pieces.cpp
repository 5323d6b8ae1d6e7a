#include "core/document/store/state_pieces.h"

#include <fmt/format.h>

#include <set>

#include "core/json_fields.h"

namespace juvenor {

using nlohmann::json;

namespace {

// Understood layers are kept for the steps to come; more than a history has different ones at a time are not.
constexpr size_t kMostUnderstood = 256;

std::optional<int64_t> numberOf(const json& said) {
  if (!said.is_number_unsigned() ||
      said.get<uint64_t>() > static_cast<uint64_t>(std::numeric_limits<int64_t>::max()))
    return std::nullopt;
  return said.get<int64_t>();
}

// A list of an object; null where there is none.
template <class Json>
Json* listOf(Json& holder, const char* key) {
  if (!holder.is_object()) return nullptr;
  const auto found = holder.find(key);
  return found != holder.end() && found->is_array() ? &*found : nullptr;
}

Result<json> pieceOf(Database& db, int64_t id) {
  std::string text;
  bool found = false;
  const Outcome asked = db.query("SELECT state FROM piece WHERE id = ?", {id}, [&](const SqlRow& r) {
    text = r.text(0);
    found = true;
    return false;
  });
  if (!asked) return asked.error();
  if (!found) return Error{fmt::format("names a piece {} that is missing", id)};
  return parsedOrNull(text);
}

}  // namespace

void StatePieces::forget() {
  listed_ = false;
  idOf_.clear();
  checkpoints_.clear();
  layers_.clear();
}

Outcome StatePieces::listKnown(Database& db) {
  if (listed_) return Done{};
  const Outcome asked = db.query("SELECT id, state FROM piece", {}, [&](const SqlRow& r) {
    idOf_.emplace(r.text(1), r.integer(0));
    return true;
  });
  listed_ = static_cast<bool>(asked);
  return asked;
}

Outcome StatePieces::takeOne(Database& db, json& piece) {
  if (!piece.is_object()) return Done{};
  const std::string text = textOf(piece);
  auto known = idOf_.find(text);
  if (known == idOf_.end()) {
    const Outcome ok = db.query("INSERT INTO piece(state) VALUES(?)", {std::string_view(text)});
    if (!ok) return ok;
    known = idOf_.emplace(text, db.lastInsertId()).first;
  }
  piece = static_cast<uint64_t>(known->second);
  return Done{};
}

Outcome StatePieces::take(Database& db, json& state) {
  Outcome ok = listKnown(db);
  const auto takeAll = [&](json* list) {
    if (list)
      for (json& piece : *list)
        if (ok) ok = takeOne(db, piece);
  };
  takeAll(listOf(state, "layers"));
  if (json* checkpoints = listOf(state, "checkpoints")) {
    for (json& checkpoint : *checkpoints) takeAll(listOf(checkpoint, "layers"));
    takeAll(checkpoints);
  }
  return ok;
}

Result<const json*> StatePieces::whole(Database& db, const json& said) {
  const auto id = numberOf(said);
  if (!id) return &said;
  const auto known = checkpoints_.find(*id);
  if (known != checkpoints_.end()) return &known->second;
  auto piece = pieceOf(db, *id);
  if (!piece) return piece.error();
  return &(checkpoints_[*id] = std::move(*piece));
}

Result<LayerPointer> StatePieces::layer(Database& db, const json& said, size_t samples) {
  const auto id = numberOf(said);
  if (!id) return layerFromState(said, samples);
  if (const auto known = layers_.find({*id, samples}); known != layers_.end()) return known->second;
  const auto piece = pieceOf(db, *id);
  if (!piece) return piece.error();
  auto layer = layerFromState(*piece, samples);
  if (!layer) return layer;
  if (layers_.size() >= kMostUnderstood) layers_.clear();
  return layers_[{*id, samples}] = std::move(*layer);
}

PieceReader StatePieces::reader(Database& db) {
  return {[this, &db](const json& said) { return whole(db, said); },
          [this, &db](const json& said, size_t samples) { return layer(db, said, samples); }};
}

Outcome StatePieces::dropUnused(Database& db) {
  std::set<int64_t> used;
  const auto noteAll = [&](const json* list) {
    if (list)
      for (const json& said : *list)
        if (const auto id = numberOf(said)) used.insert(*id);
  };
  std::set<int64_t> checkpoints;
  Outcome ok = db.query("SELECT state FROM step", {}, [&](const SqlRow& r) {
    const json state = parsedOrNull(r.text(0));
    noteAll(listOf(state, "layers"));
    noteAll(listOf(state, "checkpoints"));
    if (const json* list = listOf(state, "checkpoints"))
      for (const json& said : *list)
        if (const auto id = numberOf(said)) checkpoints.insert(*id);
    return true;
  });
  for (const int64_t id : checkpoints) {
    if (!ok) return ok;
    const auto piece = pieceOf(db, id);
    if (piece) noteAll(listOf(*piece, "layers"));
  }
  std::set<int64_t> unused;
  if (ok)
    ok = db.query("SELECT id FROM piece", {}, [&](const SqlRow& r) {
      if (!used.contains(r.integer(0))) unused.insert(r.integer(0));
      return true;
    });
  for (const int64_t id : unused)
    if (ok) ok = db.query("DELETE FROM piece WHERE id = ?", {id});
  std::erase_if(idOf_, [&](const auto& entry) { return unused.contains(entry.second); });
  std::erase_if(checkpoints_, [&](const auto& entry) { return unused.contains(entry.first); });
  std::erase_if(layers_, [&](const auto& entry) { return unused.contains(entry.first.first); });
  return ok;
}

}  // namespace juvenor
