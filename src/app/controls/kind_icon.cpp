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

using Draw = std::function<Result<std::vector<uint32_t>>()>;

void showDrawn(QAbstractButton* button, const std::string& key, const QSize& size, Draw draw) {
  // asked for and filled on the window's thread alone
  static std::map<std::string, QIcon> known;
  if (button) button->setIconSize(size);
  if (const auto found = known.find(key); found != known.end()) {
    if (button) button->setIcon(found->second);
    return;
  }
  QThreadPool::globalInstance()->start([button = QPointer(button), key, size, draw = std::move(draw)] {
    Result<std::vector<uint32_t>> pixels = Error{"not made"};
    quietly([&] { pixels = draw(); });
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

ViewSize viewSize(const QSize& size) {
  return {size.width(), size.height()};
}

}  // namespace

void showKindIcon(QAbstractButton* button, const SourceKind& kind, const QSize& size) {
  const std::string key =
      "kind " + std::string(kind.key) + std::to_string(size.width()) + "x" + std::to_string(size.height());
  showDrawn(button, key, size, [&kind, size] { return kindPicture(kind, viewSize(size)); });
}

void showSourceIcon(QAbstractButton* button, SourcePointer source, const QSize& size) {
  const std::string key = std::string(source->kind().key) + textOf(source->parameters());
  showDrawn(button, key, size,
            [source = std::move(source), size] { return sourcePicture(source, viewSize(size)); });
}

}  // namespace juvenor::app
