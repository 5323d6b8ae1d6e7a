#include "app/session/picture_intake.h"

#include <QBuffer>
#include <QClipboard>
#include <QFileInfo>
#include <QGuiApplication>
#include <QMimeData>
#include <QUrl>

#include "core/photo/picture_file.h"

namespace juvenor::app {
namespace {

Result<PicturePointer> readOf(const PictureToRead& picture) {
  if (!picture.file.isEmpty()) return readPicture(picture.file.toStdString());
  QByteArray png;
  QBuffer buffer(&png);
  buffer.open(QIODevice::WriteOnly);
  if (!picture.image.save(&buffer, "PNG")) return Error{"the picture of the clipboard cannot be kept"};
  return decodePicture(png.toStdString(), picture.name.toStdString());
}

}  // namespace

bool isPicture(const QString& file) {
  const std::string ending = QFileInfo(file).suffix().toLower().toStdString();
  const auto known = readablePictureEndings();
  return std::ranges::find(known, ending) != known.end();
}

std::vector<PictureToRead> picturesIn(const QStringList& files) {
  std::vector<PictureToRead> out;
  for (const QString& file : files) out.push_back({QFileInfo(file).completeBaseName(), file});
  return out;
}

std::vector<PictureToRead> picturesHeld() {
  const QMimeData* held = QGuiApplication::clipboard()->mimeData();
  if (!held) return {};
  QStringList files;
  for (const QUrl& url : held->urls())
    if (url.isLocalFile() && isPicture(url.toLocalFile())) files << url.toLocalFile();
  if (!files.isEmpty()) return picturesIn(files);
  const QImage image = qvariant_cast<QImage>(held->imageData());
  if (image.isNull()) return {};
  return {{QObject::tr("pasted picture"), {}, image}};
}

void readBeside(Session& session, std::vector<PictureToRead> pictures,
                std::function<void(const QString&, const PicturePointer&)> then) {
  if (pictures.empty() || session.isBusy()) return;
  struct Read {
    QString name;
    Result<PicturePointer> picture;
  };
  const auto read = std::make_shared<std::vector<Read>>();
  session.background().start(
      QObject::tr("Reading pictures"),
      [pictures = std::move(pictures), read](const Progress& progress) -> Outcome {
        for (size_t i = 0; i < pictures.size(); ++i) {
          if (!report(progress, static_cast<float>(i) / static_cast<float>(pictures.size())))
            return cancelledError();
          read->push_back({pictures[i].name, caught([&] { return readOf(pictures[i]); })});
        }
        return Done{};
      },
      [&session, read, then = std::move(then)](const Outcome& done) {
        if (!done) return session.tell(done.error());
        for (const Read& r : *read) {
          if (!r.picture) {
            session.tell(r.picture.error());
            continue;
          }
          if (!(*r.picture)->note.empty()) session.say(QString::fromStdString((*r.picture)->note), true);
          then(r.name, *r.picture);
        }
      });
}

}  // namespace juvenor::app
