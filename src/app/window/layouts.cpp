// What the menus do with layouts: UVs made here, layers sent to a painting program in a tile's layout and
// taken back.
#include <QFileDialog>
#include <QFileInfo>
#include <QSettings>

#include "app/session/job.h"
#include "app/window/main_window.h"
#include "app/window/unwrap_dialog.h"
#include "core/textures/picture_layers.h"

namespace juvenor::app {

void MainWindow::unwrapSculpt() {
  if (!session_->isOpen()) return;
  session_->settleStrokes();
  UnwrapDialog dialog(*session_->document().sculpt, this);
  if (dialog.exec() != QDialog::Accepted) return;
  const UnwrapSetting setting = dialog.setting();
  const bool begun = session_->edit(
      tr("Unwrap"), [setting](const Document& d, const Progress& p) { return withUnwrapped(d, setting, p); });
  if (begun && sheet_->isHidden()) setSheetRoom(SheetRoom::Beside);
}

void MainWindow::sendLayers() {
  if (!session_->isOpen()) return;
  session_->settleStrokes();
  if (session_->document().sculpt->uvSets.empty())
    return session_->say(tr("The sculpt has no UVs: Sculpt ▸ Unwrap makes them."), true);
  QSettings settings;
  const QString beside = settings.value("layers folder").toString();
  QString file =
      QFileDialog::getSaveFileName(this, tr("Layers as a layered picture"),
                                   beside + "/" + session_->title() + ".ora", tr("OpenRaster (*.ora)"));
  if (file.isEmpty()) return;
  if (QFileInfo(file).suffix().compare("ora", Qt::CaseInsensitive) != 0) file += ".ora";
  settings.setValue("layers folder", QFileInfo(file).absolutePath());
  sendLayersTo(file);
}

bool MainWindow::sendLayersTo(const QString& file, int pixels) {
  LayersToSend wish;
  wish.pixels = pixels;
  wish.tile = sheet_->view().viewing().tile;
  wish.uvSet = session_->uvSet();
  const Document document = session_->document();
  const auto looks = runJobFor<std::vector<std::string>>(
      this, tr("Sending the layers …"),
      [&](const Progress& p) { return juvenor::sendLayers(document, file.toStdString(), wish, p); },
      Meanwhile::Painting);
  if (!looks) {
    session_->tell(looks.error());
    return false;
  }
  QString said =
      tr("Sent to %1. Take layers back brings what is changed there.").arg(QFileInfo(file).fileName());
  if (!looks->empty())
    said +=
        " " + tr("Layers sent as they look, for their mode is this program's own: %1.").arg(looks->size());
  session_->say(said);
  return true;
}

void MainWindow::takeLayersBack() {
  if (!session_->isOpen()) return;
  const QString file =
      QFileDialog::getOpenFileName(this, tr("Layers that come back"),
                                   QSettings().value("layers folder").toString(), tr("OpenRaster (*.ora)"));
  if (!file.isEmpty()) takeLayersFrom(file);
}

bool MainWindow::takeLayersFrom(const QString& file) {
  session_->settleStrokes();
  LayersToSend wish;
  wish.tile = sheet_->view().viewing().tile;
  wish.uvSet = session_->uvSet();
  const Document document = session_->document();
  auto back = runJobFor<ReturnedLayers>(this, tr("Taking the layers back …"), [&](const Progress& p) {
    return takenBack(document, file.toStdString(), wish, p);
  });
  if (!back) {
    session_->tell(back.error());
    return false;
  }
  if (back->painted.empty() && back->added.empty()) {
    session_->say(tr("Nothing was changed in %1.").arg(QFileInfo(file).fileName()));
    return true;
  }
  if (!session_->apply(std::move(back->document), tr("Layers back"))) return false;
  QString said = tr("Layers painted on: %1, new: %2.").arg(back->painted.size()).arg(back->added.size());
  if (!back->missing.empty())
    said += " " + tr("Did not come back, and stay as they are: %1.").arg(back->missing.size());
  session_->say(said);
  return true;
}

}  // namespace juvenor::app
