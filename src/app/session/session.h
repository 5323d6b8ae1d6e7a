// The open work: its history, the engine that shows it, and where it lies on disk. Panels read the document
// here and ask for edits here; nothing else changes it.
#pragma once

#include <QObject>
#include <deque>
#include <filesystem>
#include <memory>

#include "app/engine/engine.h"
#include "app/session/background.h"
#include "app/session/tools.h"
#include "app/session/work_on_disk.h"
#include "core/document/edits/edit_groups.h"

namespace juvenor::app {

/// What hangs between the eye and the sculpt while one paints.
struct BeforeSkin {
  std::shared_ptr<const Stencil> stencil = {};
  std::shared_ptr<const SlidePaint> slide = {};
  std::optional<CutPlane> cutAway = {};  ///< before the easel; the sheet has none
};

class Session : public QObject {
  Q_OBJECT
 public:
  explicit Session(std::filesystem::path journals);
  ~Session() override;

  bool isOpen() const { return history_ != nullptr; }
  /// The current step, with the layer that was chosen since.
  const Document& document() const { return now_; }
  const History& history() const { return *history_; }
  Engine& engine() { return engine_; }
  Tools& tools() { return tools_; }
  const std::filesystem::path& path() const { return disk_.path(); }
  const QString& title() const { return disk_.title(); }
  bool unsaved() const { return history_ && disk_.unsaved(*history_); }
  uint32_t activePart() const { return activePart_; }
  void setActivePart(uint32_t part);
  /// Which of the sculpt's UV sets is meant: the one that was chosen, else the first; those made here come
  /// first.
  size_t uvSet() const;
  void setUvSet(size_t set);

  /// Takes over opened work: that of the file at `path`, as it was when it bore `save`, so that the journal
  /// need not hold it; or work of no file of the artist's own.
  void take(History history, QString title, std::filesystem::path path = {}, std::string save = {});
  /// Puts the result of an edit into the history; an error is told to the artist. For edits that look at
  /// layers, not at samples.
  bool apply(Result<Document> result, const QString& name);
  /// The same for edits that look at samples: finished strokes are taken in, then the edit is worked out
  /// beside the window, which answers meanwhile and takes no other edit.
  using Edit = std::function<Result<Document>(const Document&, const Progress&)>;
  bool edit(const QString& name, const Edit& edit);
  /// Shows a document on the easel without making it a step: while a slider or a handle is dragged. The next
  /// apply, or showing the current document again, ends it.
  void preview(const Document& document) { engine_.setDocument(document); }
  /// The same for edits that look at samples: worked out beside the window; a newer one takes its place.
  void preview(const Edit& edit);
  void endPreview();
  /// Measures what terms need, beside the painting when it takes long, then calls `then`; `otherwise` when it
  /// was cancelled or the work is other work by then. One after the other, but a newer one of the same `who`
  /// takes the older one's place.
  void measured(const QString& who, const MaskTerms& terms, std::function<void()> then,
                std::function<void()> otherwise = {});
  Background& background() { return background_; }
  Background& measuring() { return measuring_; }
  /// Whether long work is under way, which is told: other work would make it be given up.
  bool isBusy();
  void goTo(size_t step);
  /// How much of the machine's memory steps may take, in percent; kept for other work too.
  void setHistoryShare(int percent);
  /// Says that steps with names of the artist's own gave way.
  void tellForgotten(const std::vector<std::string>& names);
  /// Calls a step of the history something of the artist's own.
  void callStep(size_t step, const QString& given);
  /// Makes a layer the active one. Choosing is no step of the work.
  void chooseLayer(uint32_t id);
  /// Chooses several; the last of them is the active one.
  void chooseLayers(std::vector<uint32_t> ids);
  /// The layers that are chosen, bottom first: the active one, and those chosen with it.
  std::vector<uint32_t> chosenLayers() const;
  /// The layer or group that is shown alone just now; 0: none.
  uint32_t aloneLayer() const;
  /// Shows one layer or group alone, and all as it was before again.
  void showAlone(uint32_t id);
  void endAlone();
  /// Keeps a layer's mask to be laid on others.
  void holdMask(uint32_t layer);
  /// Null when none is kept, or it is of another surface.
  const CopiedMask* heldMask() const;
  /// Lists what lies in a group, or not: no step either.
  void fold(uint32_t group, bool folded);
  /// Looks at a picture of the board: that is no step of the work either.
  void lookAtPicture(uint32_t id, float centerX, float centerY, float nearer);
  /// Keeps what the last step of the history was as a checkpoint of the current one: for what the next change
  /// would cut off.
  bool keepLater();
  /// Keeps the layers as they are now, to compare with and to restore from.
  void keepCheckpoint();
  /// Takes in every finished stroke.
  void collect();
  /// Ends a stroke in the air and takes in every finished one, before an edit begins. Waits for no more than
  /// the last dabs of a stroke.
  void settleStrokes();
  /// Waits until all strokes are on disk.
  Outcome flush() { return disk_.flush(); }

  // ---- saving, see WorkOnDisk

  using Saved = WorkOnDisk::Saved;
  void setLook(std::string look) { disk_.setLook(std::move(look)); }
  /// `anew`: nothing that was written there before is looked for.
  std::function<Result<Saved>()> saving(const std::filesystem::path& path, bool anew = false);
  /// False when other work is open by now.
  bool noteSaved(const Saved& saved);
  /// All three at once.
  Outcome saveTo(const std::filesystem::path& path);
  std::function<Result<Opened>()> puttingAfter() const { return disk_.puttingAfter(*history_); }
  /// Takes over the outcome of it, unsaved.
  void takePutAfter(Opened opened);
  std::optional<std::string> otherUser() const { return disk_.otherUser(); }
  /// Takes over what a journal brought back: the work of `path` (or of no file yet) with steps that are in no
  /// file.
  void takeRecovered(History history, QString title, std::filesystem::path path, std::string save);
  /// The journal is no longer wanted: the work was saved or given up.
  void close();
  /// The same, and no work is open then; what panels still show is nobody's any more.
  void leave();

  // ---- strokes and fills with what is in hand (session_strokes.cpp)

  /// What a stroke with the tool in hand is; `erasing`: with the pen's other end.
  StrokeSetting strokeSetting(bool erasing) const;
  /// `onSheet`: the pen is over the sheet, not the easel.
  void beginStroke(bool erasing, const PenPoint& point, const BeforeSkin& before = {}, bool onSheet = false);
  void fillNow();
  /// Says something in the status line; `seriously` marks a failure.
  void say(const QString& text, bool seriously = false) { emit said(text, seriously); }
  /// Says what went wrong; what the artist cancelled did not.
  void tell(const Error& error);

 signals:
  /// The work is about to change, or other work to come: whatever a hand has under way ends now.
  void settling();
  void opened();
  /// There is no work any more.
  void left();
  /// The sculpt that is shown from now on lies elsewhere, or is of another size.
  void movedAway();
  /// The document is another one; panels read it again.
  void documentChanged();
  void said(const QString& text, bool seriously);
  /// What is worked on asks for points so close (scene units) where it lies.
  void pointsWanted(float spacing);
  /// Says why something cannot be, and offers what would help.
  void offered(const QString& text, const QString& action, const std::function<void()>& act);
  void savedStateChanged();
  void uvSetChanged();

 private:
  void begin(History history, QString title, std::filesystem::path path, std::string save, bool saved);
  void show();
  void followSculpt(const Document& before);
  void keep();
  void offerWayOut(const Error& why);
  void takeIn(std::vector<FinishedStroke> finished);

  Engine engine_;
  Tools tools_;
  struct Measuring {
    QString who;
    SurfaceMapsPointer maps;
    MaskTerms terms;
    std::function<void()> then, otherwise;
  };
  void measureNext();

  Background background_, previews_, measuring_;
  std::deque<Measuring> measurings_;  ///< the first is under way
  uint64_t revision_ = 0;             ///< counts what was made the current document
  std::unique_ptr<History> history_;
  Document now_;
  WorkOnDisk disk_;
  std::optional<CopiedMask> heldMask_;
  uint32_t alone_ = 0;
  std::map<uint32_t, bool> besideAlone_;  ///< what was visible before one layer was shown alone
  std::vector<uint32_t> chosen_;          ///< counts as long as the active layer is among them
  uint32_t activePart_ = kNone;
  std::string uvSet_;  ///< the name of the one that was chosen
};

}  // namespace juvenor::app
