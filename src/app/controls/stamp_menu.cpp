#include "app/controls/stamp_menu.h"
#include "app/session/words.h"

#include <QFileDialog>
#include <QGridLayout>
#include <QMenu>
#include <QToolButton>
#include <QWidgetAction>
#include <cmath>

#include "core/brush/made_stamps.h"

namespace juvenor::app {

QIcon stampIcon(const Stamp& stamp) {
  constexpr int kEdge = 56;
  QImage image(kEdge, kEdge, QImage::Format_RGB32);
  for (int y = 0; y < kEdge; ++y)
    for (int x = 0; x < kEdge; ++x) {
      const Vec2 at(2 * (static_cast<float>(x) + 0.5f) / kEdge - 1,
                    1 - 2 * (static_cast<float>(y) + 0.5f) / kEdge);
      const StampValue v = stamp.at(at, 2.f / kEdge);
      const auto mixed = [&](float ink) {
        return static_cast<int>(std::lround(200 + v.shape * (255 * ink - 200)));
      };
      image.setPixel(x, y,
                     stamp.hasColor() ? qRgb(mixed(v.color.r), mixed(v.color.g), mixed(v.color.b))
                                      : qRgb(mixed(0.1f), mixed(0.1f), mixed(0.1f)));
    }
  return QPixmap::fromImage(image);
}

ChosenStamp askStamp(QWidget* parent, const QPoint& global) {
  ChosenStamp out;
  QMenu menu(parent);
  auto* box = new QWidget;
  auto* grid = new QGridLayout(box);
  grid->setSpacing(4);
  int place = 0;
  for (const MadeStamp& made : madeStamps()) {
    auto* b = new QToolButton;
    const QString label = told(made.label);
    b->setObjectName("stamp " + QString::fromUtf8(made.label));
    b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    b->setIconSize({56, 56});
    b->setText(label);
    const StampPointer stamp = madeStamp(made.key);
    b->setIcon(stampIcon(*stamp));
    grid->addWidget(b, place / 4, place % 4);
    ++place;
    QObject::connect(b, &QToolButton::clicked, &menu, [&out, stamp, &menu] {
      out.stamp = stamp;
      menu.close();
    });
  }
  auto* action = new QWidgetAction(&menu);
  action->setDefaultWidget(box);
  menu.addAction(action);
  QAction* file = menu.addAction(QObject::tr("From a picture file …"));
  if (menu.exec(global) != file) return out;
  const QString path =
      QFileDialog::getOpenFileName(parent, QObject::tr("A stamp from a picture"), {},
                                   QObject::tr("Pictures (*.png *.tif *.tiff *.exr *.jpg *.webp)"));
  if (path.isEmpty()) return out;
  auto read = readStamp(path.toStdString());
  if (read)
    out.stamp = *read;
  else
    out.trouble = QString::fromStdString(read.error().message());
  return out;
}

}  // namespace juvenor::app
