#include "app/window/file_places.h"

#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>

namespace juvenor::app {

std::filesystem::path pathOf(const QString& file) {
  return std::filesystem::path(file.toStdString());
}

QString patterns(const std::vector<std::string>& endings) {
  QStringList out;
  for (const std::string& e : endings) out << "*." + QString::fromStdString(e);
  return out.join(' ');
}

QString documentsFolder() {
  const QString documents = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation);
  return QFileInfo(documents).isDir() ? documents : QDir::homePath();
}

QString placeFor(const Session& session, const QString& name) {
  const QStringList recent = QSettings().value("recent").toStringList();
  const QString beside =
      !session.path().empty() ? QString::fromStdString(session.path().string()) : recent.value(0);
  const QFileInfo folder(QFileInfo(beside).path());
  return QDir(!beside.isEmpty() && folder.isDir() ? folder.filePath() : documentsFolder()).filePath(name);
}

}  // namespace juvenor::app
