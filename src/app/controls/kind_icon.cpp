#include "app/controls/kind_icon.h"

#include <QImage>
#include <QPixmap>

#include "core/render/kind_picture.h"

namespace juvenor::app {

QIcon kindIcon(const SourceKind& kind, const QSize& size) {
  const auto pixels = kindPicture(kind, {size.width(), size.height()});
  if (!pixels) return {};
  return QPixmap::fromImage(QImage(reinterpret_cast<const uchar*>(pixels->data()), size.width(),
                                   size.height(), size.width() * 4, QImage::Format_RGB32)
                                .copy());
}

}  // namespace juvenor::app
