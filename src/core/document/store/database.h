// A thin owner of one SQLite connection: statements that bind, step and end by themselves, errors as values.
#pragma once

#include <cstdint>
#include <filesystem>
#include <functional>
#include <memory>
#include <span>
#include <string>
#include <variant>
#include <vector>

#include "core/result.h"

struct sqlite3;
struct sqlite3_stmt;

namespace juvenor {

using Blob = std::string;
struct Null {};
/// What can be bound; a Blob is bound as bytes, a string_view as text.
using SqlValue = std::variant<Null, int64_t, std::string_view, const Blob*>;

/// One row of a result, valid inside the callback only.
class SqlRow {
 public:
  explicit SqlRow(sqlite3_stmt* statement) : statement_(statement) {}
  enum class Kind { Integer, Real, Text, Bytes, Null };
  /// What a column really holds; the others convert in silence.
  Kind kind(int column) const;
  int64_t integer(int column) const;
  std::string text(int column) const;
  std::string_view blob(int column) const;

 private:
  sqlite3_stmt* statement_;
};

class Database {
 public:
  enum class Mode { ReadWrite, ReadOnly, Create };
  /// A save that was cut off is taken back first, also for who only reads; the error says so where that
  /// cannot be.
  static Result<Database> open(const std::filesystem::path& path, Mode mode);

  /// One or more statements without results.
  Outcome run(const char* sql);
  /// One statement with values; `row` is called for each row and returns false to stop.
  Outcome query(const char* sql, std::span<const SqlValue> values,
                const std::function<bool(const SqlRow&)>& row = {});
  Outcome query(const char* sql, std::initializer_list<SqlValue> values,
                const std::function<bool(const SqlRow&)>& row = {}) {
    return query(sql, std::span(values.begin(), values.size()), row);
  }
  int64_t lastInsertId() const;
  /// Whether what lies at the path by now is another file than the one that is open, or none.
  bool hasMoved() const;

 private:
  struct Close {
    void operator()(sqlite3* db) const;
  };
  static Result<Database> connected(const std::filesystem::path& path, Mode mode);
  bool holdsHalfASave() const;
  static Outcome takenBack(const std::filesystem::path& path);
  Error error() const;

  std::unique_ptr<sqlite3, Close> db_;
  std::string where_;
};

}  // namespace juvenor
