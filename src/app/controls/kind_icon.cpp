#include "app/controls/kind_icon.h"

#include <QAbstractButton>
#include <QCoreApplication>
#include <QImage>
#include <QPixmap>
#include <QPointer>
#include <QThreadPool>
#include <map>

#include "core/json_fields.h"
#include "core/quietly.h"
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

void showSourceIcon(QAbstractButton* button, SourcePointer source, const QSize& size) {
  // asked for and filled on the window's thread alone
  static std::map<std::string, QIcon> known;
  const std::string key = std::string(source->kind().key) + textOf(source->parameters());
  button->setIconSize(size);
  if (const auto found = known.find(key); found != known.end()) return button->setIcon(found->second);
  QThreadPool::globalInstance()->start([button = QPointer(button), source, size, key] {
    Result<std::vector<uint32_t>> pixels = Error{"not made"};
    quietly([&] { pixels = sourcePicture(source, {size.width(), size.height()}); });
    QMetaObject::invokeMethod(
        qApp,
        [=] {
          const QIcon icon = iconOf(pixels, size);
          known[key] = icon;
          if (button) button->setIcon(icon);
        },
        Qt::QueuedConnection);
  });
}

}  // namespace juvenor::app
