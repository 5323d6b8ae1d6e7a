#include "app/controls/kind_icon.h"

#include <QImage>
#include <QPixmap>

#include "core/render/kind_picture.h"

namespace juvenor::app {

namespace {

QIcon iconOf(const Result<std::vector<uint32_t>>& pixels, const QSize& size) {
  if (!pixels) return {};
  return QPixmap::fromImage(QImage(reinterpret_cast<const uchar*>(pixels->data()), size.width(),
                                   size.height(), size.width() * 4, QImage::Format_RGB32)
                                .copy());
}

}  // namespace

QIcon kindIcon(const SourceKind& kind, const QSize& size) {
  return iconOf(kindPicture(kind, {size.width(), size.height()}), size);
}

QIcon sourceIcon(SourcePointer source, const QSize& size) {
  return iconOf(sourcePicture(std::move(source), {size.width(), size.height()}), size);
}

}  // namespace juvenor::app
