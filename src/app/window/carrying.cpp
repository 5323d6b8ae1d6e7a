// What the Sculpt menu does with other sculpts: all work carried over to one, single parts taken in again,
// parts let go.
#include <QActionGroup>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QStandardPaths>
#include <algorithm>

#include "app/carry/carry_dialog.h"
#include "app/controls/ask_file.h"
#include "app/session/job.h"
#include "app/window/file_places.h"
#include "app/window/main_window.h"
#include "core/carry/carry_json.h"
#include "core/carry/joined_sculpt.h"
#include "core/carry/part_back.h"
#include "core/carry/rest_from_sculpt.h"
#include "core/carry/twin.h"
#include "core/sculpt/formats.h"

namespace juvenor::app {

void MainWindow::carryOver() {
  if (!session_->isOpen()) return;
  const QString file =
      QFileDialog::getOpenFileName(this, tr("Carry all work over to"), placeFor(*session_),
                                   tr("Sculpts (%1)").arg(patterns(readableSculptEndings())));
  if (!file.isEmpty()) carryOverTo(file);
}

void MainWindow::carryOverTo(const QString& file) {
  if (!session_->isOpen()) return;
  session_->settleStrokes();
  const auto sculpt = runJobFor<Sculpt>(this, tr("Reading %1 …").arg(QFileInfo(file).fileName()),
                                        [&](const Progress&) { return readSculpt(pathOf(file)); });
  if (!sculpt) return complain(sculpt.error(), tr("“%1” was not read.").arg(file));
  CarryDialog dialog(session_->document(), std::make_shared<const Sculpt>(*sculpt),
                     QFileInfo(file).fileName(), this);
  if (dialog.exec() != QDialog::Accepted || !dialog.result()) return;
  const auto made = dialog.result();
  if (session_->edit(tr("Carry over"), dialog.edit()))
    session_->say(tr("Carried over to “%1”: %2. Masks and views have “Doubt” as a map.")
                      .arg(QFileInfo(file).fileName(), QString::fromStdString(sentenceOf(made->report))),
                  false);
}

void MainWindow::carryOverToOlder() {
  if (!session_->isOpen()) return;
  // as fine as what is open
  const size_t points = std::clamp<size_t>(session_->document().surface->size(), 20'000, 2'000'000);
  const QString file =
      QString("%1/%2-%3-1.ply")
          .arg(QStandardPaths::writableLocation(QStandardPaths::CacheLocation), tr("ferry-keeper-older"))
          .arg(points);
  if (!QFileInfo::exists(file)) {
    const auto made =
        runJobFor<Done>(this, tr("Sculpting the older keeper, once …"), [&](const Progress& p) -> Outcome {
          const auto sculpt = demo::makeSculpt(demo::Figure::OlderKeeper, points, p);
          if (!sculpt) return sculpt.error();
          std::error_code ec;
          std::filesystem::create_directories(pathOf(file).parent_path(), ec);
          return writeSculpt(pathOf(file), *sculpt, {});
        });
    if (!made) return complain(made.error(), tr("The older keeper could not be made."));
  }
  carryOverTo(file);
}

// What lies on one side goes to the other: of the active layer or of all, as it is or varied.
void MainWindow::addOtherSide(QMenu* layer) {
  QMenu* menu = layer->addMenu(tr("Other side"));
  menu->setObjectName("other side");
  // as one sees it from the front
  QAction *right = menu->addAction(tr("Right onto left")), *left = menu->addAction(tr("Left onto right"));
  menu->addSeparator();
  QAction* all = menu->addAction(tr("All layers that are not locked"));
  all->setCheckable(true);
  menu->addSeparator();
  auto* ways = new QActionGroup(menu);
  for (const int mm : {0, 1, 2, 5}) {
    QAction* way = menu->addAction(mm == 0 ? tr("The mirror image") : tr("Varied by %1 mm").arg(mm));
    way->setCheckable(true);
    way->setChecked(mm == 0);
    way->setData(mm);
    ways->addAction(way);
  }
  for (QAction* side : {right, left})
    connect(side, &QAction::triggered, this, [this, ways, all, fromRight = side == right] {
      if (!session_->isOpen()) return;
      const float vary = ways->checkedAction()->data().toFloat();
      session_->edit(tr("Other side"),
                     [=, whole = all->isChecked()](const Document& d, const Progress& p) -> Result<Document> {
                       MirrorPlane plane = d.mirror;
                       if (plane == MirrorPlane{}) {
                         const auto found = mirrorPlaneOf(d, p);
                         if (!found) return found.error();
                         plane = found->plane;
                       }
                       CopySetting setting;
                       if (!whole) setting.layers = {d.activeLayer};
                       setting.vary = vary / d.placement.millimetres;
                       // each time another way
                       setting.seed = d.strokeCount + 1;
                       auto copied = copiedToOtherSide(d, plane, fromRight, setting, p);
                       if (!copied) return copied.error();
                       return std::move(copied->document);
                     });
    });
}

void MainWindow::takeRestPose() {
  if (!session_->isOpen()) return;
  const QString file = QFileDialog::getOpenFileName(
      this, tr("The same sculpt in a pose in which it is symmetric"), placeFor(*session_),
      tr("Sculpts (%1)").arg(patterns(readableSculptEndings())));
  if (!file.isEmpty()) takeRestPoseFrom(file);
}

void MainWindow::takeRestPoseFrom(const QString& file) {
  session_->settleStrokes();
  const bool done = session_->edit(
      tr("Rest pose"), [path = pathOf(file)](const Document& d, const Progress& p) -> Result<Document> {
        const auto sculpt = readSculpt(path);
        if (!sculpt) return sculpt.error();
        auto posed = withRestFrom(d, *sculpt, p);
        if (!posed) return Error{posed.error().what, path.string()};
        return posed;
      });
  if (done)
    session_->say(tr("Mirrored strokes and “Other side” find the other side as “%1” has it.")
                      .arg(QFileInfo(file).fileName()));
}

void MainWindow::writePart(uint32_t part) {
  if (!session_->isOpen()) return;
  const QString name = QString::fromStdString(session_->document().sculpt->parts[part]);
  const QString file = askSaveFile(this, tr("Write “%1” alone").arg(name),
                                   placeFor(*session_, QString(name).replace('/', '-') + ".obj"),
                                   tr("Sculpts (*.obj *.ply *.glb)"), {"obj", "ply", "glb"});
  if (file.isEmpty()) return;
  const Outcome done = runJobFor<Done>(
      this, tr("Writing %1 …").arg(QFileInfo(file).fileName()),
      [sculpt = session_->document().sculpt, part, file](const Progress&) -> Outcome {
        return writeSculpt(pathOf(file), partsOf(*sculpt, {part}), {});
      },
      Meanwhile::Painting);
  if (!done) return complain(done.error(), tr("“%1” was not written.").arg(file));
  session_->say(tr("“%1” was written. Changed, it comes back by Sculpt ▸ Take changed parts in …").arg(name));
}

void MainWindow::partsBack() {
  if (!session_->isOpen()) return;
  const QString file =
      QFileDialog::getOpenFileName(this, tr("Parts that were changed"), placeFor(*session_),
                                   tr("Sculpts (%1)").arg(patterns(readableSculptEndings())));
  if (file.isEmpty()) return;
  session_->settleStrokes();
  session_->edit(tr("Changed parts"),
                 [path = pathOf(file)](const Document& d, const Progress& p) -> Result<Document> {
                   const auto sculpt = readSculpt(path);
                   if (!sculpt) return sculpt.error();
                   auto carried = withPartsBack(d, *sculpt, {}, {}, p);
                   if (!carried) return Error{carried.error().what, path.string()};
                   return std::move(carried->document);
                 });
}

void MainWindow::lettingPartsGo() {
  if (!session_->isOpen()) return;
  session_->settleStrokes();
  const std::set<uint32_t> hidden = session_->document().hiddenParts;
  if (hidden.empty()) return session_->say(tr("No part is hidden: hide those that are to go first."), true);
  session_->edit(tr("Let parts go"), [hidden](const Document& d, const Progress& p) -> Result<Document> {
    auto carried = withoutParts(d, hidden, p);
    if (!carried) return carried.error();
    return std::move(carried->document);
  });
}

}  // namespace juvenor::app
