// Pictures that come in from files and the clipboard, read beside the window: a large photo takes a second.
#pragma once

#include <QImage>
#include <QStringList>

#include "app/session/session.h"
#include "core/photo/picture_data.h"

namespace juvenor::app {

/// A picture to be read: a file, or what the clipboard held.
struct PictureToRead {
  QString name, file;
  QImage image = {};
};
std::vector<PictureToRead> picturesIn(const QStringList& files);
/// The picture, or the files of pictures, the clipboard holds; may be none.
std::vector<PictureToRead> picturesHeld();
/// Whether a file's ending is one of a picture's.
bool isPicture(const QString& file);

/// Reads them and calls `then` for each in turn, here; those that cannot be read are told.
void readBeside(Session& session, std::vector<PictureToRead> pictures,
                std::function<void(const QString&, const PicturePointer&)> then);

}  // namespace juvenor::app
