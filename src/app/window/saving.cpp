// Saving the work, what stands in its way, and whether it may be left.
#include <QFileInfo>
#include <QMessageBox>
#include <QPushButton>

#include "app/controls/ask_file.h"
#include "app/session/job.h"
#include "app/session/opening.h"
#include "app/window/file_places.h"
#include "app/window/main_window.h"
#include "core/json_fields.h"

namespace juvenor::app {

bool MainWindow::saveTo(const QString& file) {
  return saveTo(file, false);
}

bool MainWindow::saveTo(const QString& file, bool anew) {
  if (saving_) {
    session_->say(tr("The work is being saved already."));
    return false;
  }
  saving_ = true;
  session_->say(tr("Saving %1 …").arg(QFileInfo(file).fileName()));
  session_->setLook(textOf(toJson(easel_->look())));
  const auto work = session_->saving(pathOf(file), anew);
  const auto saved = runJobFor<Session::Saved>(
      this, tr("Saving …"), [&](const Progress&) { return work(); }, Meanwhile::Painting);
  saving_ = false;
  if (!saved && isChangedElsewhere(saved.error())) return settleConflict(file);
  if (!saved && isGone(saved.error())) return settleGone(file);
  if (!saved) {
    complain(saved.error(),
             tr("“%1” was not saved. Your work is still open; save it elsewhere, or make room and try again.")
                 .arg(QFileInfo(file).fileName()));
    return false;
  }
  remember(file);
  if (!session_->noteSaved(*saved)) {
    session_->say(tr("Saved %1, which other work has taken the place of.").arg(QFileInfo(file).fileName()));
    return true;
  }
  session_->say(tr("Saved %1.").arg(QFileInfo(file).fileName()));
  return true;
}

// Another program has saved the file since it was opened here. Nothing was written over it.
bool MainWindow::settleConflict(const QString& file) {
  const QString name = QFileInfo(file).fileName();
  QMessageBox box(QMessageBox::Warning, "Juvenor",
                  tr("“%1” was changed by another program since it was opened here.").arg(name),
                  QMessageBox::NoButton, this);
  box.setObjectName("conflict");
  box.setInformativeText(
      tr("Nothing was written. Your steps can be put after those in the file, where both did not change the "
         "same; or save your work under another name. Every stroke is kept meanwhile."));
  auto* after = box.addButton(tr("Put mine after theirs"), QMessageBox::AcceptRole);
  auto* elsewhere = box.addButton(tr("Save as …"), QMessageBox::ActionRole);
  box.addButton(tr("Not now"), QMessageBox::RejectRole);
  box.exec();
  if (box.clickedButton() == elsewhere) {
    saveAs();
    return !session_->unsaved();
  }
  if (box.clickedButton() != after) return false;
  session_->settleStrokes();
  const auto work = session_->puttingAfter();
  auto joined = runJobFor<Opened>(this, tr("Putting your steps after theirs …"),
                                  [&](const Progress& p) { return allPrepared(work(), p); });
  if (!joined) {
    complain(joined.error(), tr("Your steps could not be put after theirs; save under another name."));
    return false;
  }
  session_->takePutAfter(std::move(*joined));
  return saveTo(file);
}

// The file is not where it was opened: renamed, moved, or on a disk that is gone.
bool MainWindow::settleGone(const QString& file) {
  QMessageBox box(QMessageBox::Warning, "Juvenor",
                  tr("“%1” is not where it was any more.").arg(QFileInfo(file).fileName()),
                  QMessageBox::NoButton, this);
  box.setObjectName("gone");
  box.setInformativeText(
      tr("It was at\n%1\nand may have been renamed, moved or deleted. Your work is all here; "
         "every stroke is kept meanwhile.")
          .arg(file));
  auto* again = box.addButton(tr("Save it there again"), QMessageBox::AcceptRole);
  auto* elsewhere = box.addButton(tr("Save as …"), QMessageBox::ActionRole);
  box.addButton(tr("Not now"), QMessageBox::RejectRole);
  box.exec();
  if (box.clickedButton() == again) return saveTo(file, true);
  if (box.clickedButton() != elsewhere) return false;
  saveAs();
  return !session_->unsaved();
}

void MainWindow::save() {
  if (!session_->isOpen()) return;
  if (session_->path().empty()) return saveAs();
  saveTo(QString::fromStdString(session_->path().string()));
}

void MainWindow::saveAs() {
  if (!session_->isOpen()) return;
  const QString file = askSaveFile(this, tr("Save as"), placeFor(*session_, session_->title() + ".juvenor"),
                                   tr("Juvenor document (*.juvenor)"), {"juvenor"});
  if (!file.isEmpty()) saveTo(file);
}

bool MainWindow::mayLeave() {
  if (!session_->isOpen()) return true;
  session_->settleStrokes();
  const bool placing = easel_->stampPlacing().placing();
  if (!session_->unsaved() && !placing) return true;
  QMessageBox box(QMessageBox::Question, "Juvenor",
                  tr("“%1” has strokes that are not saved.").arg(session_->title()), QMessageBox::NoButton,
                  this);
  box.setObjectName("leaving");
  if (placing) box.setInformativeText(tr("A stamp is placed, too, and not laid yet. Save lays it first."));
  auto* keep = box.addButton(tr("Save"), QMessageBox::AcceptRole);
  auto* leave = box.addButton(tr("Leave without saving"), QMessageBox::DestructiveRole);
  box.addButton(tr("Stay"), QMessageBox::RejectRole);
  box.exec();
  if (box.clickedButton() == keep) {
    easel_->stampPlacing().finish();
    save();
    return !session_->unsaved();
  }
  return box.clickedButton() == leave;
}

}  // namespace juvenor::app
