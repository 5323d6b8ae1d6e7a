#include "screens/shots.h"

#include <QPainter>

namespace juvenor::screens {
namespace {

constexpr int kApart = 12;

QPixmap ground(int width, int height) {
  QPixmap out(width, height);
  out.fill(QColor(0x3a, 0x3a, 0x3a));
  return out;
}

}  // namespace

void keep(const QPixmap& shot, const QString& file) {
  if (!shot.save(file)) qFatal("%s was not written", qPrintable(file));
  qInfo("%s", qPrintable(file));
}

void keepSettled(test::DrivenWindow& w, const QString& file) {
  w.settleFully();
  QCoreApplication::processEvents();
  keep(w.window.grab(), file);
}

void keepWithPage(test::DrivenWindow& w, QWidget& page, const QString& file) {
  w.settleFully();
  QPixmap shot = w.window.grab();
  QPainter(&shot).drawPixmap(w.window.mapFromGlobal(page.pos()), page.grab());
  keep(shot, file);
}

QPixmap beside(const QList<QPixmap>& pictures) {
  int width = -kApart, height = 0;
  for (const QPixmap& p : pictures) {
    width += p.width() + kApart;
    height = std::max(height, p.height());
  }
  QPixmap all = ground(width, height);
  QPainter painter(&all);
  int left = 0;
  for (const QPixmap& p : pictures) {
    painter.drawPixmap(left, 0, p);
    left += p.width() + kApart;
  }
  return all;
}

QPixmap above(const QPixmap& upper, const QPixmap& lower) {
  QPixmap all = ground(std::max(upper.width(), lower.width()), upper.height() + kApart + lower.height());
  QPainter painter(&all);
  painter.drawPixmap(0, 0, upper);
  painter.drawPixmap(0, upper.height() + kApart, lower);
  return all;
}

void keepBeside(const QList<QPixmap>& pictures, const QString& file) {
  keep(beside(pictures), file);
}

}  // namespace juvenor::screens
