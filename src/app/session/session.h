// The open work: its history, its file, its journal, and the engine that shows it. Panels read the document
// here and ask for edits here; nothing else changes it.
#pragma once

#include <QObject>
#include <filesystem>
#include <memory>

#include "app/easel/engine.h"
#include "app/session/background.h"
#include "app/session/tools.h"
#include "core/document/edits.h"
#include "core/document/journal.h"

namespace juvenor::app {

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
  const std::filesystem::path& path() const { return path_; }
  const QString& title() const { return title_; }
  bool unsaved() const;
  uint32_t activePart() const { return activePart_; }
  void setActivePart(uint32_t part);

  /// Takes over opened work. `path` is empty for work never saved; `base` may then name a file that already
  /// holds its steps (a demo in the cache), so that the journal need not.
  void take(History history, QString title, std::filesystem::path path,
            const std::filesystem::path& base = {});
  /// Puts the result of an edit into the history; an error is told to the artist.
  bool apply(Result<Document> result, const QString& name);
  /// Shows a document on the easel without making it a step: while a slider or a handle is dragged. The next
  /// apply, or showing the current document again, ends it.
  void preview(const Document& document) { engine_.setDocument(document); }
  void endPreview() { engine_.setDocument(now_); }
  /// Measures what a terms needs, beside the painting when it takes long, then calls `then`.
  void measured(const MaskTerms& terms, std::function<void()> then);
  Background& background() { return background_; }
  void goTo(size_t step);
  /// Makes a layer the active one. Choosing is no step of the work.
  void chooseLayer(uint32_t id);
  /// Takes in every finished stroke.
  void collect();
  /// Ends a stroke in the air, takes in every finished one, and waits until all of it is on disk: before the
  /// next stroke or edit begins.
  void settleStrokes();

  Outcome save();
  Outcome saveTo(const std::filesystem::path& path);
  /// Takes over what a journal brought back: the work of `path` (or of no file yet) with steps that are in no
  /// file.
  void takeRecovered(History history, QString title, std::filesystem::path path);
  /// The journal is no longer wanted: the work was saved or given up.
  void close();

  void beginStroke(bool erasing, const PenPoint& point);
  void fillNow();
  /// Says something in the status line; `seriously` marks a failure.
  void say(const QString& text, bool seriously = false) { emit said(text, seriously); }

 signals:
  void opened();
  /// The document is another one; panels read it again.
  void documentChanged();
  void said(const QString& text, bool seriously);
  void savedStateChanged();

 private:
  void show();
  void keep();
  void takeIn(std::vector<Document> finished);

  Engine engine_;
  Tools tools_;
  Background background_;
  std::unique_ptr<History> history_;
  Document now_;
  std::unique_ptr<Journal> journal_;
  std::unique_ptr<Store> store_;
  std::filesystem::path journals_, path_;
  QString title_, strokeName_;
  uint64_t savedStep_ = 0;
  uint32_t activePart_ = kNone;
};

}  // namespace juvenor::app
