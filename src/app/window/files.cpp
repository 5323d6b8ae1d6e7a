// Opening, exporting, pictures and recorded strokes: what of the window touches files. (Saving and recovery
// have files of their own.)
#include <QCloseEvent>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>

#include "app/controls/ask_file.h"
#include "app/session/history_memory.h"
#include "app/session/job.h"
#include "app/session/opening.h"
#include "app/session/picture_intake.h"
#include "app/session/stages.h"
#include "app/style/style.h"
#include "app/window/export_dialog.h"
#include "app/window/file_places.h"
#include "app/window/main_window.h"
#include "core/files.h"
#include "core/hair/fibre_lines.h"
#include "core/json_fields.h"
#include "core/photo/picture_file.h"
#include "core/sculpt/formats.h"
#include "core/textures/wear_materials.h"

namespace juvenor::app {
namespace {

// Below so many points paint looks coarse on a head (common practice: half a million and more).
constexpr size_t kFewPoints = 60'000;

}  // namespace

void MainWindow::complain(const Error& error, const QString& what) {
  if (isCancelled(error)) return session_->tell(error);
  QMessageBox box(QMessageBox::Warning, "Juvenor", what, QMessageBox::Ok, this);
  box.setObjectName("complaint");
  box.setInformativeText(QString::fromStdString(error.message()));
  box.exec();
}

void MainWindow::remember(const QString& opened) {
  const QString file = QFileInfo(opened).absoluteFilePath();
  QSettings settings;
  QStringList recent = settings.value("recent").toStringList();
  recent.removeAll(file);
  recent.prepend(file);
  settings.setValue("recent", recent.mid(0, 10));
  first_->setRecent(recent);
}

void MainWindow::keepForLater(const QString& file) {
  remember(file);
  session_->say(tr("Your work is back. “%1” was not opened over it; File ▸ Open has it when you are ready.")
                    .arg(QFileInfo(file).fileName()));
}

namespace {

// What a file says of how it was looked at; of surroundings that cannot be read the rest is kept.
Outcome readLook(const std::string& said, std::optional<Look>& out) {
  auto look = lookFrom(parsedOrNull(said));
  if (!look) return look.error();
  Outcome whole = Done{};
  if (look->light.kind == LightKind::Surroundings) {
    auto environment = environmentFor(look->light.surroundings);
    if (environment)
      look->light.environment = std::move(*environment);
    else
      whole = environment.error();
  }
  out = std::move(*look);
  return whole;
}

}  // namespace

bool MainWindow::takeDocument(const QString& file, bool asTemplate, const QString& title) {
  std::optional<Look> look;
  Outcome looked = Done{};
  auto opened = runJobFor<Opened>(this, tr("Opening %1 …").arg(title), [&](const Progress& p) {
    auto work = openedAndPrepared(pathOf(file), p, historyBudget());
    if (work && !work->look.empty()) looked = readLook(work->look, look);
    return work;
  });
  if (!opened) {
    complain(opened.error(), tr("“%1” could not be opened.").arg(title));
    return false;
  }
  const size_t current = opened->current;
  History history(std::move(opened->steps), current);
  if (asTemplate)
    session_->take(std::move(history), title);
  else
    session_->take(std::move(history), title, pathOf(file), opened->save);
  session_->tellForgotten(opened->forgotten);
  if (look) easel_->setLook(*look);
  goToStage(*session_, stageFromKey(look ? QString::fromStdString(look->stage) : QString()));
  if (!looked)
    session_->say(tr("The light of “%1” is not all there: %2")
                      .arg(title, QString::fromStdString(looked.error().message())),
                  true);
  if (const auto other = session_->otherUser())
    session_->say(tr("“%1” is open in another window too (process %2). Who saves second is asked what to do.")
                      .arg(title, QString::fromStdString(*other)),
                  true);
  return true;
}

bool MainWindow::openFile(const QString& file) {
  if (!mayLeave()) return false;
  const QFileInfo info(file);
  bool ok = false;
  if (info.suffix().toLower() == "juvenor") {
    ok = takeDocument(info.absoluteFilePath(), false, info.completeBaseName());
  } else {
    ok = takeSculpt(info.absoluteFilePath());
  }
  if (ok) remember(info.absoluteFilePath());
  return ok;
}

bool MainWindow::takeSculpt(const QString& file) {
  const QFileInfo info(file);
  struct Read {
    std::shared_ptr<const Sculpt> sculpt;
    std::shared_ptr<const Surface> surface;
    std::shared_ptr<const BroughtMaterials> materials;
  };
  const auto read =
      runJobFor<Read>(this, tr("Reading %1 …").arg(info.fileName()), [&](const Progress& p) -> Result<Read> {
        auto sculpt = readSculpt(pathOf(info.filePath()), [&](float f) { return report(p, 0.6f * f); });
        if (!sculpt) return sculpt.error();
        auto materials = std::exchange(sculpt->materials, nullptr);
        const auto shared = std::make_shared<const Sculpt>(std::move(*sculpt));
        auto surface = buildSurface(*shared, [&](float f) { return report(p, 0.6f + 0.4f * f); });
        if (!surface) return surface.error();
        return Read{shared, *surface, std::move(materials)};
      });
  if (!read) {
    complain(read.error(), tr("“%1” could not be opened.").arg(info.fileName()));
    return false;
  }
  const PlacementGuess guess = guessedPlacement(*read->sculpt, endingOf(pathOf(info.filePath())));
  Placement placement = guess.placement;
  if (asks_ && !(guess.standsCertainly && guess.unitCertain)) {
    const auto said = askPlacement(read->surface, placement, info.fileName());
    if (!said) {
      session_->say(tr("Cancelled; everything is as it was."));
      return false;
    }
    placement = *said;
  }
  auto document =
      runJobFor<Worn>(this, tr("Opening %1 …").arg(info.fileName()), [&](const Progress& p) -> Result<Worn> {
        Worn worn{newDocument(read->sculpt, read->surface, placement), {}, 0, 0, {}};
        if (read->materials) {
          auto done = withWornMaterials(worn.document, *read->materials, p);
          if (!done) return done.error();
          worn = std::move(*done);
        }
        worn.document = withPaintedLayer(worn.document, tr("Paint").toStdString(), Stratum::Pigment);
        return worn;
      });
  if (!document) {
    complain(document.error(), tr("“%1” could not be opened.").arg(info.fileName()));
    return false;
  }
  session_->take(History(document->document, "Open " + info.fileName().toStdString()),
                 info.completeBaseName());
  goToStage(*session_, kPrepareStage);
  side_->show(SideColumn::Page::Stage);
  QStringList remarks;
  for (const std::string& remark : document->remarks) remarks << QString::fromStdString(remark);
  for (const std::string& remark : read->sculpt->remarks) remarks << QString::fromStdString(remark);
  if (read->surface->size() < kFewPoints)
    remarks
        << tr("only %1 points: paint will be as coarse as they lie. Sculpt ▸ Add points … (Ctrl+R) adds some")
               .arg(shortCount(read->surface->size()));
  if (!remarks.isEmpty()) session_->say(tr("%1: %2").arg(info.fileName(), remarks.join("; ")));
  if (document->texelsAPoint > 1.5f) offerPoints(*document, read->materials, remarks);
  return true;
}

// Textures finer than the points: what is lost, and a way to keep it.
void MainWindow::offerPoints(const Worn& worn, const std::shared_ptr<const BroughtMaterials>& materials,
                             const QStringList& remarks) {
  const Document& d = session_->document();
  const QString said =
      tr("Its textures became layers; their texels are %1 times finer than the points, %2 apart.")
          .arg(static_cast<double>(worn.texelsAPoint), 0, 'f', 1)
          .arg(shortLength(d.surface->spacing, d.placement.millimetres));
  std::vector<LayerPointer> made;
  for (const uint32_t id : worn.layers) made.push_back(layerOf(d, id));
  emit session_->offered((remarks + QStringList(said)).join("; "), tr("Add points …"),
                         [this, materials, made, spacing = worn.texelSpacing] {
                           // what was painted on since stays as it is
                           std::vector<uint32_t> untouched;
                           for (const LayerPointer& layer : made) {
                             const LayerPointer now = layerOf(session_->document(), layer->id);
                             if (now && now->source == layer->source) untouched.push_back(layer->id);
                           }
                           refine(spacing, [materials, untouched](const Document& finer, const Progress& p) {
                             return withWornMaterialsAnew(finer, *materials, untouched, p);
                           });
                         });
}

bool MainWindow::exportTo(const QString& file, const ColouredSetting& setting) {
  session_->settleStrokes();
  const Document document = session_->document();
  const auto done = runJobFor<Done>(this, tr("Exporting …"), [&](const Progress& p) -> Outcome {
    const auto skin =
        skinOf(document.layers, *document.maps, document.bare, [&](float f) { return report(p, 0.3f * f); });
    if (!skin) return skin.error();
    return writeColoured(pathOf(file), document, *skin, setting,
                         [&](float f) { return report(p, 0.3f + 0.4f * f); });
  });
  if (!done) {
    complain(done.error(), tr("“%1” was not exported.").arg(QFileInfo(file).fileName()));
    return false;
  }
  session_->say(tr("Exported %1 with the composite as vertex colours.").arg(QFileInfo(file).fileName()));
  return true;
}

void MainWindow::open() {
  const QString file = QFileDialog::getOpenFileName(
      this, tr("Open"), placeFor(*session_),
      tr("Sculpts and documents (*.juvenor %1)").arg(patterns(readableSculptEndings())));
  if (!file.isEmpty()) openFile(file);
}

void MainWindow::openSculpt() {
  const QString file =
      QFileDialog::getOpenFileName(this, tr("New from a sculpt"), placeFor(*session_),
                                   tr("Sculpts (%1)").arg(patterns(readableSculptEndings())));
  if (!file.isEmpty()) openFile(file);
}

void MainWindow::closeWork() {
  if (!session_->isOpen() || saving_ || !mayLeave()) return;
  session_->leave();
  showMessage({}, false);
  menuBar()->setCornerWidget(nullptr);
  saved_->hide();
  setWindowTitle("Juvenor");
  first_->setRecent(QSettings().value("recent").toStringList());
  pages_->setCurrentIndex(0);
  first_->setFocus();
}

void MainWindow::restorePlace() {
  const QSettings settings;
  if (!restoreGeometry(settings.value("window").toByteArray())) resize(firstSize(screen()->availableSize()));
  keepsPlace_ = true;
}

void MainWindow::exportFile() {
  if (!session_->isOpen()) return;
  ExportDialog dialog(session_->document(), session_->title(), session_->path(), this);
  while (dialog.exec() == QDialog::Accepted)
    if (mayReplace(this, dialog.file())) {
      exportTo(dialog.file(), dialog.setting());
      return;
    }
}

void MainWindow::exportHair() {
  if (!session_->isOpen()) return;
  session_->settleStrokes();
  const Document document = session_->document();
  if (hairLayers(document.layers).empty())
    return session_->say(tr("No layer of hair shows: add one in the strata first."));
  const QString file =
      askSaveFile(this, tr("Export hair as lines"), placeFor(*session_, session_->title() + " hair.glb"),
                  tr("Lines (*.glb *.obj)"), {"glb", "obj"});
  if (file.isEmpty()) return;
  const auto done = runJobFor<Done>(this, tr("Growing the hair …"), [&](const Progress& p) -> Outcome {
    return writeHair(pathOf(file), document, p);
  });
  if (!done) return complain(done.error(), tr("“%1” was not exported.").arg(QFileInfo(file).fileName()));
  session_->say(tr("Exported %1: a line for every fibre.").arg(QFileInfo(file).fileName()));
}

void MainWindow::exportPicture() {
  if (!session_->isOpen()) return;
  const QString file =
      askSaveFile(this, tr("Export picture"), placeFor(*session_, session_->title() + ".png"),
                  tr("Pictures (*.png *.tif *.jpg)"), {"png", "tif", "tiff", "jpg", "jpeg"});
  if (file.isEmpty()) return;
  const Outcome done = runJobFor<Done>(
      this, tr("Making the picture …"),
      [&, viewing = easel_->viewing()](const Progress&) -> Outcome {
        const QImage image = session_->engine().still(viewing, 16).convertToFormat(QImage::Format_RGB32);
        const std::span pixels(reinterpret_cast<const uint32_t*>(image.constBits()),
                               static_cast<size_t>(image.width()) * static_cast<size_t>(image.height()));
        return writePicture(pathOf(file), {image.width(), image.height()}, pixels);
      },
      Meanwhile::Painting);
  if (!done) complain(done.error(), tr("The picture was not written."));
}

void MainWindow::saveRecording() {
  if (easel_->recording().strokes.empty()) return session_->say(tr("Nothing was painted while recording."));
  const QString file =
      askSaveFile(this, tr("Keep recorded strokes"), "strokes.json", tr("Pen strokes (*.json)"), {"json"});
  if (file.isEmpty()) return;
  const Outcome done = writeBytes(pathOf(file), textOf(toJson(easel_->recording()), 1));
  if (!done) complain(done.error(), tr("The strokes were not written."));
}

void MainWindow::replayRecording() {
  const QString file =
      QFileDialog::getOpenFileName(this, tr("Replay strokes"), {}, tr("Pen strokes (*.json)"));
  if (!file.isEmpty()) replayFile(file);
}

bool MainWindow::replayFile(const QString& file) {
  const auto recording = [&]() -> Result<PenRecording> {
    const auto bytes = readBytes(pathOf(file));
    if (!bytes) return bytes.error();
    auto read = penRecordingFrom(parsedOrNull(*bytes));
    if (!read) return Error{read.error().what, file.toStdString()};
    return read;
  }();
  if (!recording) {
    complain(recording.error(), tr("“%1” could not be replayed.").arg(QFileInfo(file).fileName()));
    return false;
  }
  easel_->replay(*recording);
  return true;
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (saving_ || !mayLeave()) return event->ignore();
  session_->close();
  if (keepsPlace_) QSettings().setValue("window", saveGeometry());
  event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  const auto urls = event->mimeData()->urls();
  if (urls.isEmpty() || !urls.front().isLocalFile()) return;
  const QString file = urls.front().toLocalFile();
  if (!isPicture(file)) {
    openFile(file);
    return;
  }
  QStringList files;
  for (const QUrl& url : urls) files << url.toLocalFile();
  side_->board().add(files);
  side_->show(SideColumn::Page::Board);
}

}  // namespace juvenor::app
