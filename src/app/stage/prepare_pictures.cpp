#include "app/stage/prepare_pictures.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/style/style.h"

namespace juvenor::app {
namespace {

// Twice as many pixels as places, for screens that have them.
constexpr int kFine = 2;

QImage blank(int edge) {
  QImage out(edge * kFine, edge * kFine, QImage::Format_RGB32);
  out.setDevicePixelRatio(kFine);
  out.fill(look::kWell);
  return out;
}

}  // namespace

QImage pointsPicture(float spacing, float thing, int edge) {
  QImage out = blank(edge);
  QPainter p(&out);
  p.setRenderHint(QPainter::Antialiasing);
  // the thing fills two thirds, whatever its size
  const double across = edge / 1.5,
               apart = std::clamp(across * static_cast<double>(spacing / thing), 1.5, 4.0 * edge);
  const QPointF middle(edge / 2.0, edge / 2.0);
  p.setPen(Qt::NoPen);
  p.setBrush(QColor(0x62, 0x62, 0x62));
  p.drawEllipse(middle, across / 2, across / 2);
  p.setBrush(look::kText);
  const int reach = static_cast<int>(edge / apart) + 1;
  for (int row = -reach; row <= reach; ++row)
    for (int column = -reach; column <= reach; ++column)
      p.drawEllipse(middle + QPointF((column + 0.5 * (row & 1)) * apart, row * apart * 0.866),
                    std::min(1.3, 0.3 * apart), std::min(1.3, 0.3 * apart));
  return out;
}

QImage shellsPicture(size_t shells, size_t parts, int edge) {
  QImage out = blank(edge);
  QPainter p(&out);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  const int shown = static_cast<int>(std::clamp<size_t>(shells, 1, 9));
  const int side = static_cast<int>(std::ceil(std::sqrt(shown)));
  const double room = static_cast<double>(edge - 4) / side;
  for (int i = 0; i < shown; ++i) {
    p.setBrush(parts > 1 && i % 2 == 1 ? QColor(0x86, 0x86, 0x86) : QColor(0xc2, 0xc2, 0xc2));
    p.drawEllipse(QRectF(3 + i % side * room, 3 + i / side * room, room - 2, room - 2));
  }
  return out;
}

QImage squaresPicture(const Readiness& found, int edge) {
  QImage out = blank(edge);
  QPainter p(&out);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF tile(4.5, 4.5, edge - 9, edge - 9);
  p.setPen(QPen(QColor(0x7a, 0x7a, 0x7a), 1, found.layout ? Qt::SolidLine : Qt::DashLine));
  p.drawRect(tile);
  if (!found.layout) return out;
  // the largest islands as they lie in their tiles
  p.setBrush(QColor(0xa0, 0xa0, 0xa0, 150));
  p.setPen(QPen(look::kText, 0.6));
  for (const UvIsland& island :
       std::span(found.layout->islands).first(std::min<size_t>(24, found.layout->islands.size()))) {
    const auto inTile = [&](const Vec2& at) {
      return QPointF(
          tile.left() +
              tile.width() * std::clamp(static_cast<double>(at.x() - std::floor(island.low.x())), 0.0, 1.0),
          tile.bottom() -
              tile.height() * std::clamp(static_cast<double>(at.y() - std::floor(island.low.y())), 0.0, 1.0));
    };
    p.drawRect(QRectF(inTile(island.low), inTile(island.high)).normalized());
  }
  return out;
}

QImage mirrorPicture(const Readiness& found, int edge) {
  QImage out = blank(edge);
  QPainter p(&out);
  p.setRenderHint(QPainter::Antialiasing);
  const QPointF middle(edge / 2.0, edge * 0.42);
  QPainterPath bust;
  bust.addEllipse(middle, edge * 0.2, edge * 0.27);
  bust.moveTo(edge * 0.12, edge * 0.95);
  bust.quadTo(edge * 0.5, edge * 0.45, edge * 0.88, edge * 0.95);
  p.setPen(Qt::NoPen);
  p.fillPath(bust, QColor(0x86, 0x86, 0x86));
  p.setPen(QPen(found.mirrors ? look::kText : QColor(0x6a, 0x6a, 0x6a), 1.2, Qt::DashLine));
  const double aside = found.planeIsOurs || !found.mirrors ? 0 : 5;
  p.drawLine(QPointF(edge / 2.0 + aside, 2), QPointF(edge / 2.0 + aside, edge - 2));
  return out;
}

QImage boardPicture(const std::vector<BoardPicture>& board, int edge) {
  QImage out = blank(edge);
  QPainter p(&out);
  p.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
  if (board.empty()) {
    p.setPen(QPen(QColor(0x7a, 0x7a, 0x7a), 1, Qt::DashLine));
    p.drawRect(QRectF(5.5, 8.5, edge - 11, edge - 17));
    return out;
  }
  const int count = static_cast<int>(std::min<size_t>(board.size(), 4)), side = count > 1 ? 2 : 1,
            room = (edge - 2) / side;
  for (int i = 0; i < count; ++i) {
    const PictureData& data = *board[static_cast<size_t>(i)].data;
    const QImage whole(reinterpret_cast<const uchar*>(data.pixels.data()), data.width, data.height,
                       data.width * 4, QImage::Format_RGB32);
    const int part = std::min(data.width, data.height);
    p.drawImage(QRectF(1 + i % side * room, 1 + i / side * room, room - 1, room - 1), whole,
                QRectF((data.width - part) / 2.0, (data.height - part) / 2.0, part, part));
  }
  return out;
}

}  // namespace juvenor::app
