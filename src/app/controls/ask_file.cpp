#include "app/controls/ask_file.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMessageBox>
#include <QPushButton>

namespace juvenor::app {

QString askSaveFile(QWidget* parent, const QString& title, const QString& suggested, const QString& filter,
                    const QStringList& endings) {
  QString start = suggested;
  for (;;) {
    QString file = QFileDialog::getSaveFileName(parent, title, start, filter, nullptr,
                                                QFileDialog::DontConfirmOverwrite);
    if (file.isEmpty()) return {};
    if (!endings.contains(QFileInfo(file).suffix().toLower())) file += "." + endings.front();
    if (mayReplace(parent, file)) return file;
    start = file;
  }
}

bool mayReplace(QWidget* parent, const QString& file) {
  const QFileInfo info(file);
  if (!info.exists()) return true;
  QMessageBox box(QMessageBox::Warning, "Juvenor", QObject::tr("“%1” is there already.").arg(info.fileName()),
                  QMessageBox::NoButton, parent);
  box.setObjectName("replace");
  box.setInformativeText(QObject::tr("It lies in %1. What it holds would be lost.").arg(info.absolutePath()));
  auto* replace = box.addButton(QObject::tr("Replace it"), QMessageBox::AcceptRole);
  auto* other = box.addButton(QObject::tr("Another name"), QMessageBox::RejectRole);
  box.setDefaultButton(other);
  box.setEscapeButton(other);
  box.exec();
  return box.clickedButton() == replace;
}

QString freeName(const QString& path) {
  const QFileInfo info(path);
  QString out = path;
  for (int i = 2; QFileInfo::exists(out); ++i)
    out = QDir(info.path())
              .filePath(QString("%1-%2.%3").arg(info.completeBaseName()).arg(i).arg(info.suffix()));
  return out;
}

}  // namespace juvenor::app
