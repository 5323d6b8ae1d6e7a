// The document on disk: an SQLite database, described in docs/file-format.md. Saving writes, in one
// transaction, the steps the file does not have yet and the chunks they changed; opening gives back every
// step.
#pragma once

#include <limits>
#include <map>
#include <set>
#include <unordered_map>

#include "core/document/document_fields.h"
#include "core/document/history.h"
#include "core/document/store/database.h"
#include "core/document/store/state_json.h"
#include "core/document/store/state_pieces.h"

namespace juvenor {

/// What a file held.
struct Opened {
  std::vector<StepPointer> steps;
  size_t current = 0;
  /// The name of the save they were read from; a journal's: of the file it goes on from.
  std::string save = {};
  /// How it was looked at when it was saved, as its writer said; empty: nothing.
  std::string look = {};
  /// What the artist calls steps that gave way to the memory budget, oldest first.
  std::vector<std::string> forgotten = {};
};

/// No bound to the memory that steps take.
inline constexpr size_t kNoBudget = std::numeric_limits<size_t>::max();

class Store {
 public:
  /// A new database at `path` (which must not exist) with the sculpt of a document in it, and no step yet.
  static Result<Store> create(const std::filesystem::path& path, const Document& document);
  /// A new database without a sculpt, whose steps go on from those of another file: a journal.
  static Result<Store> createBeside(const std::filesystem::path& path, Store& base);
  static Result<Store> open(const std::filesystem::path& path, bool readOnly = false);

  /// Makes the file hold exactly these steps. On an error the file is what it was; the one of
  /// `isChangedElsewhere` when another program has saved it since this store opened or wrote it.
  /// `look`: how the work is looked at, in the words of its writer; empty: it stays as the file says.
  Outcome write(std::span<const StepPointer> steps, uint64_t currentStep, std::string_view look = {});
  /// All steps, sculpt and surface; of those that take more than `budget` bytes the oldest give way, as in
  /// History.
  Result<Opened> read(const Progress& progress = {}, size_t budget = kNoBudget);
  /// The step that is shown alone, in a fraction of the time when the history is long. What it gives must not
  /// be written: the others would be dropped.
  Result<Opened> readShown(const Progress& progress = {});
  /// The same for a journal whose first steps lie in `base`.
  Result<Opened> readOver(Store& base, const Progress& progress = {}, size_t budget = kNoBudget);

  /// Commits append to a log and are flushed to the disk one by one: for journals.
  Outcome useWriteAhead() { return db_.run("PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL"); }

  /// The name of the save this store knows; another one with every save.
  const std::string& save() const { return save_; }
  /// What was read from the file before was this save; when it is another by now, nothing is written over it.
  void standOn(std::string save) { save_ = std::move(save); }
  /// The steps that lie in this file itself; a journal's others lie in the file it goes on from.
  Result<std::set<uint64_t>> storedSteps();

  Result<std::string> meta(std::string_view key);
  Outcome setMeta(std::string_view key, std::string_view value);
  /// The ids of the steps, in order.
  Result<std::vector<uint64_t>> stepIds();

  /// Whether the file was moved, renamed, replaced or deleted since it was opened: what is written through
  /// this store would go nowhere.
  bool hasMoved() const { return db_.hasMoved(); }
  /// Gives room that dropped steps left back to the disk: when it is a good part of the file, or `all` of it.
  /// A crash meanwhile loses nothing.
  Outcome compact(bool all = false);

 private:
  explicit Store(Database db, std::filesystem::path path) : db_(std::move(db)), path_(std::move(path)) {}

  struct Change {
    FieldId field;
    uint32_t chunk;
    int64_t data;  ///< 0: the default again
  };
  /// A chunk this connection has written or read.
  struct Known {
    std::shared_ptr<const void> pointer;
    int planes;
  };
  struct Row {
    uint64_t id = 0;
    std::string name, state;
    int64_t time = 0;
    std::vector<Change> changes;
    Store* store = nullptr;
  };
  Outcome writeAll(std::span<const StepPointer> steps, uint64_t currentStep, std::vector<uint64_t>& order);
  Outcome writeNow(std::span<const StepPointer> steps, uint64_t currentStep, std::string_view look);
  /// An error when the file is not the one this store knows.
  Outcome unchangedElsewhere();
  Error damaged(std::string_view what) const;
  Outcome bringUpToDate();
  Outcome listSteps();
  Outcome writeOrder(const std::vector<uint64_t>& order);
  Outcome insertStep(const Step& step, const Document* before);
  Outcome insertChanges(const Step& step, const Document* before);
  template <int P>
  Outcome insertField(uint64_t step, FieldId id, const Field<P>* before, const Field<P>& after);
  template <int P>
  Result<int64_t> chunkId(const std::shared_ptr<const Chunk<P>>& chunk);
  template <int P>
  Result<std::shared_ptr<const Chunk<P>>> chunkOf(int64_t id);
  Outcome writeNames(std::span<const StepPointer> steps);
  Outcome dropSteps(const std::vector<uint64_t>& ids);
  /// The sculpt of one store, the rows of several (later ones win), in this one's order.
  Result<Opened> readFrom(Store* base, const Progress& progress, size_t budget, bool onlyShown = false);
  /// Those of a journal over those of its ground, and the order in which they can be read.
  Result<std::vector<uint64_t>> readRowsOver(Store& base, std::map<uint64_t, Row>& rows);
  Outcome readRows(std::map<uint64_t, Row>& rows);
  Result<std::map<uint64_t, std::string>> readNames();
  Outcome readChanges(std::map<uint64_t, Row>& rows);
  Result<std::shared_ptr<const Sculpt>> readSculpt(uint64_t shape);
  template <int P>
  Outcome loadField(const Row& row, FieldId id, Field<P>& field);
  /// What steps are put together from.
  struct Parts {
    std::vector<uint64_t> order;
    std::map<uint64_t, Row> rows;
    uint64_t current = 0;
    std::map<uint64_t, std::string> names;
    std::vector<Store*> stores = {};  ///< where sculpts are looked for
    /// As their files gave them, by their fingerprints; 0: that of the document's file.
    std::map<uint64_t, std::shared_ptr<const Sculpt>> sculpts = {};
    /// With sets that steps were given: as long as they stay the same they share one.
    std::vector<MadeUvs> made = {};
    MadeParts madeParts = {};
    std::shared_ptr<const Sculpt> withMade = {};
    uint64_t madeFor = 0;  ///< the sculpt those are of
    /// Of parts made here, by their fingerprints.
    std::map<uint64_t, std::shared_ptr<const PartLabels>> labels = {};
    /// By their fingerprints and the surfaces they are of.
    std::map<std::pair<uint64_t, const Surface*>, RestPose> rests = {};
    size_t budget = kNoBudget;
    bool onlyShown = false;
  };
  Result<Opened> assemble(Parts& parts, const Progress& progress);
  /// As its file gave it.
  Result<std::shared_ptr<const Sculpt>> sculptOf(uint64_t shape, Parts& parts);
  /// Gives a document its sculpt, and what was made for it here its data.
  Outcome giveSculpt(Document& document, Store& store, Parts& parts);
  Outcome giveRest(Document& document, Store& store, Parts& parts);
  Outcome giveUvs(Document& document, Store& store, Parts& parts, size_t corners);
  /// Null for the number 0, which stands for no parts made here.
  Result<std::shared_ptr<const PartLabels>> labelsOf(const SurfaceState& surface, Store& store, Parts& parts);
  Result<std::string> byFingerprint(const char* table, uint64_t fingerprint);
  /// Chunks that only this store holds are read again when they are asked for.
  void forgetUnshared();
  /// Gives what steps hold by now its content.
  Outcome fillChunks();
  Outcome loadMaps(const std::string& key, SurfaceMaps& maps);
  Outcome loadGrown(const std::string& key, SurfaceMaps& maps);
  Result<PicturePointer> loadPicture(uint64_t fingerprint, const std::string& name);
  /// Gives a state's board, slides and layers their pictures.
  Outcome loadPictures(Document& document);
  /// Maps, patterns and pictures the steps have and the file has not; those no step needs any more go.
  Outcome writeMaps(std::span<const StepPointer> steps);
  Outcome writeGrown(const Document& shown);
  using Measured = std::pair<std::string, std::string>;  ///< refinements, setting
  using BytesOf = std::function<std::string()>;
  Outcome writeMeasured(const char* table, const std::map<Measured, BytesOf>& wanted);
  Outcome writePictures(std::span<const StepPointer> steps, bool dropped);
  Outcome writeMade(std::span<const StepPointer> steps, bool dropped);
  Outcome writeSculpts(std::span<const StepPointer> steps, bool dropped);
  using PackedBytes = std::function<Result<std::string>()>;
  Outcome writeByFingerprint(const char* table, const std::map<uint64_t, PackedBytes>& wanted, bool dropped);
  /// The step before as it was read, and what its file says of it.
  struct StepBefore {
    const Document* document = nullptr;
    const nlohmann::json* state = nullptr;
    const Store* store = nullptr;
  };
  Result<Document> documentOf(const Row& row, const nlohmann::json& state, const StepBefore& before,
                              size_t samples);
  PieceReader pieceReader() { return format_ < 8 ? wholePieces() : pieces_.reader(db_); }
  const nlohmann::json* saidOfCheckpoint(const nlohmann::json* state, size_t checkpoint);
  static bool hasNewPaint(const Row& row, const Layer& layer, const Layer& ground, size_t samples);
  Result<LayerPointer> layerFrom(const Row& row, Layer layer, const LayerPointer& before, size_t samples);

  Database db_;
  std::filesystem::path path_;
  /// By pointer, and the other way round; holding them keeps the pointers unique.
  std::unordered_map<std::shared_ptr<const void>, int64_t> idOfChunk_;
  std::unordered_map<int64_t, Known> chunkOfId_;
  std::map<int64_t, void*> empty_;               ///< of those the chunks that are still to be filled
  std::map<uint64_t, PicturePointer> pictures_;  ///< read so far
  StatePieces pieces_;
  int format_ = kDocumentFormat;
  std::string save_;                       ///< the name of the save this store knows
  std::map<uint64_t, std::string> named_;  ///< steps with names of the artist's own, as it knows them
  std::vector<uint64_t> order_;            ///< the steps of the file as this store knows it
  std::vector<uint64_t> baseSteps_;        ///< of a journal: steps that lie in the file it goes on from
};

/// Whether an error of Store::write says that another program has saved the file.
bool isChangedElsewhere(const Error& error);
/// Whether an error of Store::open says that there is no such file.
bool isGone(const Error& error);

/// Saves to a new place: writes beside the target and renames. An existing file stays as it was on any error.
Result<Store> saveAs(const std::filesystem::path& path, std::span<const StepPointer> steps,
                     uint64_t currentStep, std::string_view look = {});

}  // namespace juvenor
