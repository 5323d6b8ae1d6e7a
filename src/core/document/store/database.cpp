#include "core/document/store/database.h"

#include <sqlite3.h>

namespace juvenor {

int64_t SqlRow::integer(int column) const {
  return sqlite3_column_int64(statement_, column);
}

std::string SqlRow::text(int column) const {
  const auto* t = reinterpret_cast<const char*>(sqlite3_column_text(statement_, column));
  return t ? std::string(t, static_cast<size_t>(sqlite3_column_bytes(statement_, column))) : std::string();
}

std::string_view SqlRow::blob(int column) const {
  const auto* b = static_cast<const char*>(sqlite3_column_blob(statement_, column));
  return b ? std::string_view(b, static_cast<size_t>(sqlite3_column_bytes(statement_, column)))
           : std::string_view();
}

SqlRow::Kind SqlRow::kind(int column) const {
  switch (sqlite3_column_type(statement_, column)) {
    case SQLITE_INTEGER:
      return Kind::Integer;
    case SQLITE_FLOAT:
      return Kind::Real;
    case SQLITE_TEXT:
      return Kind::Text;
    case SQLITE_BLOB:
      return Kind::Bytes;
    default:
      return Kind::Null;
  }
}

void Database::Close::operator()(sqlite3* db) const {
  sqlite3_close_v2(db);
}

// What a person can do about it comes first; SQLite's own words are for the rest.
Error Database::error() const {
  const int code = sqlite3_errcode(db_.get()) & 0xff;
  std::string what;
  switch (code) {
    case SQLITE_FULL:
      what = "the disk is full; what was there before is intact";
      break;
    case SQLITE_READONLY:
    case SQLITE_PERM:
      what = "the file or its folder may not be written";
      break;
    case SQLITE_CANTOPEN:
      what = "cannot be opened";
      break;
    case SQLITE_NOTADB:
      what = "is not a Juvenor document";
      break;
    case SQLITE_CORRUPT:
      what = "is damaged";
      break;
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
      what = "is in use by another program";
      break;
    case SQLITE_TOOBIG:
      what = "holds more than a document can: one array is larger than a thousand megabytes";
      break;
    case SQLITE_NOMEM:
      what = "there is not enough memory";
      break;
    case SQLITE_IOERR:
      what = "could not be read or written; the disk may be full or gone";
      break;
    default:
      what = sqlite3_errmsg(db_.get());
  }
  return {what, where_};
}

Result<Database> Database::connected(const std::filesystem::path& path, Mode mode) {
  Database out;
  out.where_ = path.string();
  const int flags = mode == Mode::ReadOnly
                        ? SQLITE_OPEN_READONLY
                        : SQLITE_OPEN_READWRITE | (mode == Mode::Create ? SQLITE_OPEN_CREATE : 0);
  sqlite3* db = nullptr;
  const int code = sqlite3_open_v2(path.c_str(), &db, flags | SQLITE_OPEN_FULLMUTEX, nullptr);
  out.db_.reset(db);
  if (code != SQLITE_OK) return out.error();
  sqlite3_busy_timeout(db, 2000);
  sqlite3_extended_result_codes(db, 1);
  // what a file holds beside our tables (views, triggers, functions in its schema) must not run
  sqlite3_db_config(db, SQLITE_DBCONFIG_TRUSTED_SCHEMA, 0, nullptr);
  sqlite3_db_config(db, SQLITE_DBCONFIG_ENABLE_TRIGGER, 0, nullptr);
  sqlite3_db_config(db, SQLITE_DBCONFIG_ENABLE_VIEW, 0, nullptr);
  sqlite3_db_config(db, SQLITE_DBCONFIG_DEFENSIVE, 1, nullptr);
  return out;
}

Result<Database> Database::open(const std::filesystem::path& path, Mode mode) {
  auto out = connected(path, mode);
  if (mode != Mode::ReadOnly || !out || !out->holdsHalfASave()) return out;
  out->db_.reset();
  if (const Outcome back = takenBack(path); !back) return back.error();
  return connected(path, mode);
}

// A save that was cut off is taken back by who opens the file next, and that writes: who only reads is
// refused until it is done.
bool Database::holdsHalfASave() const {
  if (sqlite3_exec(db_.get(), "PRAGMA schema_version", nullptr, nullptr, nullptr) == SQLITE_OK) return false;
  const int code = sqlite3_extended_errcode(db_.get());
  return code == SQLITE_READONLY_ROLLBACK || code == SQLITE_READONLY_RECOVERY ||
         code == SQLITE_READONLY_CANTINIT;
}

Outcome Database::takenBack(const std::filesystem::path& path) {
  auto writing = connected(path, Mode::ReadWrite);
  Outcome done = writing ? writing->run("PRAGMA schema_version") : Outcome(writing.error());
  // a folder one may not write in: said here, for who reads would try again for ever
  if (done && writing->holdsHalfASave()) done = writing->error();
  if (done) return done;
  return Error{"a save of it was cut off and cannot be taken back here (" + done.error().what +
                   "); copy it, with the file ending in -journal beside it, to where it may be written",
               path.string()};
}

Outcome Database::run(const char* sql) {
  if (sqlite3_exec(db_.get(), sql, nullptr, nullptr, nullptr) != SQLITE_OK) return error();
  return Done{};
}

namespace {

int bind(sqlite3_stmt* statement, int place, const SqlValue& value) {
  if (const auto* n = std::get_if<int64_t>(&value)) return sqlite3_bind_int64(statement, place, *n);
  if (const auto* t = std::get_if<std::string_view>(&value))
    return sqlite3_bind_text64(statement, place, t->data(), t->size(), SQLITE_STATIC, SQLITE_UTF8);
  if (const auto* b = std::get_if<const Blob*>(&value))
    return sqlite3_bind_blob64(statement, place, (*b)->data(), (*b)->size(), SQLITE_STATIC);
  return sqlite3_bind_null(statement, place);
}

}  // namespace

Outcome Database::query(const char* sql, std::span<const SqlValue> values,
                        const std::function<bool(const SqlRow&)>& row) {
  sqlite3_stmt* raw = nullptr;
  if (sqlite3_prepare_v2(db_.get(), sql, -1, &raw, nullptr) != SQLITE_OK) return error();
  const std::unique_ptr<sqlite3_stmt, int (*)(sqlite3_stmt*)> statement(raw, sqlite3_finalize);
  for (size_t i = 0; i < values.size(); ++i)
    if (bind(raw, static_cast<int>(i) + 1, values[i]) != SQLITE_OK) return error();
  for (;;) {
    const int code = sqlite3_step(raw);
    if (code == SQLITE_DONE) return Done{};
    if (code != SQLITE_ROW) return error();
    if (row && !row(SqlRow(raw))) return Done{};
  }
}

bool Database::hasMoved() const {
  int moved = 0;
  return sqlite3_file_control(db_.get(), "main", SQLITE_FCNTL_HAS_MOVED, &moved) == SQLITE_OK && moved != 0;
}

int64_t Database::lastInsertId() const {
  return sqlite3_last_insert_rowid(db_.get());
}

}  // namespace juvenor
