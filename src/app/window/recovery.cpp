// Work of processes that are gone, offered back.
#include <QFileDialog>
#include <QMessageBox>
#include <QPushButton>

#include "app/session/history_memory.h"
#include "app/session/job.h"
#include "app/session/opening.h"
#include "app/window/file_places.h"
#include "app/window/main_window.h"

namespace juvenor::app {

// Where the document is by now that the strokes were painted on; empty: it is not known.
QString MainWindow::askGround(const LeftBehind& left) {
  const QString title = QString::fromStdString(left.title);
  QMessageBox box(QMessageBox::Question, "Juvenor", tr("Where is “%1” now?").arg(title),
                  QMessageBox::NoButton, this);
  box.setObjectName("ground");
  box.setInformativeText(
      tr("Its last strokes go on from the document that was at\n%1\nIt is not there any more, or "
         "holds other work by now. If you renamed or moved it, show where it is.")
          .arg(QString::fromStdString(left.saved.string())));
  auto* look = box.addButton(tr("Look for it …"), QMessageBox::AcceptRole);
  box.addButton(tr("Ask me next time"), QMessageBox::RejectRole);
  box.exec();
  if (box.clickedButton() != look) return {};
  return QFileDialog::getOpenFileName(this, tr("The document “%1”").arg(title), placeFor(*session_),
                                      tr("Juvenor document (*.juvenor)"));
}

bool MainWindow::bringBack(LeftBehind left) {
  Result<Opened> opened = Error{};
  for (std::filesystem::path ground;;) {
    opened = runJobFor<Opened>(this, tr("Bringing your work back …"), [&](const Progress& p) {
      return allPrepared(recover(left, p, historyBudget(), ground), p);
    });
    if (opened || !isGroundMissing(opened.error())) break;
    const QString found = askGround(left);
    if (found.isEmpty()) return false;
    ground = left.saved = pathOf(found);
  }
  if (!opened) {
    complain(opened.error(), tr("The work could not be brought back; it stays where it is."));
    return false;
  }
  const size_t current = opened->current;
  session_->takeRecovered(History(std::move(opened->steps), current), QString::fromStdString(left.title),
                          left.saved, opened->save);
  session_->tellForgotten(opened->forgotten);
  if (const Outcome kept = session_->flush(); !kept)
    complain(kept.error(), tr("The work is open, but cannot be kept on disk; its journal stays as well."));
  else
    discard(left);
  return true;
}

// Nothing is deleted: who changes his mind finds it there.
void MainWindow::putWorkAside(const LeftBehind& left) {
  const auto now = putAside(left.journal);
  if (!now) return complain(now.error(), tr("It could not be put aside; it stays where it is."));
  session_->say(
      tr("“%1” is offered no more; it lies in %2.")
          .arg(QString::fromStdString(left.title), QString::fromStdString(now->parent_path().string())));
}

bool MainWindow::offerRecovery() {
  const LeftBehindList found = leftBehind(journalFolder());
  for (const Error& unreadable : found.unreadable) {
    QMessageBox box(QMessageBox::Warning, "Juvenor",
                    tr("Strokes that were not saved lie in a journal that cannot be read."), QMessageBox::Ok,
                    this);
    box.setObjectName("unreadable");
    box.setInformativeText(
        tr("%1\n\nReason: %2\n\nIt stays where it is.")
            .arg(QString::fromStdString(unreadable.where), QString::fromStdString(unreadable.what)));
    box.exec();
  }
  for (const LeftBehind& left : found.journals) {
    QMessageBox box(QMessageBox::Question, "Juvenor",
                    tr("“%1” was not closed properly.").arg(QString::fromStdString(left.title)),
                    QMessageBox::NoButton, this);
    box.setObjectName("recovery");
    box.setInformativeText(tr("Steps of work that are in no saved file: %1. Everything up to the last "
                              "finished stroke is here.")
                               .arg(left.steps));
    auto* take = box.addButton(tr("Take it up again"), QMessageBox::AcceptRole);
    auto* aside = box.addButton(tr("Put it aside"), QMessageBox::DestructiveRole);
    box.addButton(tr("Ask me next time"), QMessageBox::RejectRole);
    box.exec();
    if (box.clickedButton() == aside) putWorkAside(left);
    if (box.clickedButton() == take && bringBack(left)) return true;
  }
  return false;
}

}  // namespace juvenor::app
