// The document on disk: an SQLite database, described in docs/file-format.md. Saving writes, in one
// transaction, the steps the file does not have yet and the chunks they changed; opening gives back every
// step.
#pragma once

#include <map>
#include <unordered_map>

#include "core/document/database.h"
#include "core/document/history.h"

namespace juvenor {

/// What a file held.
struct Opened {
  std::vector<StepPointer> steps;
  size_t current = 0;
};

class Store {
 public:
  /// A new database at `path` (which must not exist) with the sculpt in it, and no step yet.
  static Result<Store> create(const std::filesystem::path& path, const Sculpt& sculpt);
  /// A new database without a sculpt, whose steps go on from those of another file: a journal.
  static Result<Store> createBeside(const std::filesystem::path& path, Store& base);
  static Result<Store> open(const std::filesystem::path& path, bool readOnly = false);

  /// Makes the file hold exactly these steps. On an error the file is what it was.
  Outcome write(std::span<const StepPointer> steps, uint64_t currentStep);
  /// All steps, sculpt and surface.
  Result<Opened> read(const Progress& progress = {});
  /// The same for a journal whose first steps lie in `base`.
  Result<Opened> readOver(Store& base, const Progress& progress = {});

  /// The format this version writes; it reads older ones. 2 added maps and pictures.
  static constexpr int kFormat = 2;

  /// Commits append to a log and are flushed to the disk one by one: for journals.
  Outcome useWriteAhead() { return db_.run("PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL"); }

  Result<std::string> meta(std::string_view key);
  Outcome setMeta(std::string_view key, std::string_view value);
  /// The ids of the steps, in order.
  Result<std::vector<uint64_t>> stepIds();

 private:
  explicit Store(Database db, std::filesystem::path path) : db_(std::move(db)), path_(std::move(path)) {}

  struct Change {
    uint32_t layer;
    int field;
    uint32_t chunk;
    int64_t data;  ///< 0: the default again
  };
  struct Row {
    uint64_t id = 0;
    std::string name, state;
    std::vector<Change> changes;
    Store* store = nullptr;
  };
  Outcome writeAll(std::span<const StepPointer> steps, uint64_t currentStep);
  Outcome insertStep(const Step& step, const Document* before);
  Outcome insertChanges(const Step& step, const Document* before);
  template <int P>
  Outcome insertField(uint64_t step, uint32_t layer, const Field<P>* before, const Field<P>& after);
  Result<int64_t> chunkId(const std::shared_ptr<const void>& pointer,
                          const std::function<std::string()>& bytes);
  Outcome dropSteps(const std::vector<uint64_t>& ids);
  /// The sculpt of one store, the rows of several (later ones win), in this one's order.
  Result<Opened> readFrom(Store& shapes, const std::vector<Store*>& stores, const Progress& progress);
  Outcome readRows(std::map<uint64_t, Row>& rows);
  Result<Sculpt> readSculpt();
  template <int P>
  Outcome loadField(const Row& row, uint32_t layer, Field<P>& field);
  Result<Opened> assemble(const std::vector<uint64_t>& order, std::map<uint64_t, Row>& rows, uint64_t current,
                          const Sculpt& sculpt, const Progress& progress);
  Outcome loadMaps(const std::vector<Refinement>& refinements, SurfaceMaps& maps);
  Result<PicturePointer> loadPicture(const BoardPicture& picture);
  /// Maps and pictures the steps have and the file has not; those no step needs any more go.
  Outcome writeMaps(std::span<const StepPointer> steps);
  Outcome writePictures(std::span<const StepPointer> steps);
  Result<Document> documentOf(const Row& row, const Document* before, size_t samples);

  Database db_;
  std::filesystem::path path_;
  /// Chunks this connection has written or read, by pointer; holding them keeps the pointers unique.
  std::unordered_map<std::shared_ptr<const void>, int64_t> idOfChunk_;
  std::unordered_map<int64_t, std::shared_ptr<const void>> chunkOfId_;
  std::map<uint64_t, PicturePointer> pictures_;  ///< read so far
  int format_ = kFormat;
  std::vector<uint64_t> baseSteps_;  ///< of a journal: steps that lie in the file it goes on from
};

/// Saves to a new place: writes beside the target and renames. An existing file stays as it was on any error.
Result<Store> saveAs(const std::filesystem::path& path, std::span<const StepPointer> steps,
                     uint64_t currentStep);

}  // namespace juvenor
