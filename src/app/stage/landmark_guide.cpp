#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

#include "app/session/words.h"
#include "app/stage/stage.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {

QString labelOf(const LandmarkFacts& f) {
  return told(f.label);
}

bool isPlaced(const Session& session, std::string_view key) {
  const auto& placed = session.document().landmarks;
  return std::ranges::find(placed, key, &Landmark::key) != placed.end();
}

}  // namespace

LandmarkGuide::LandmarkGuide(Session& session) : session_(session) {
  setFixedHeight(196);
  setObjectName("landmark guide");
  setAccessibleName(tr("Landmarks"));
  setMouseTracking(true);
}

QPointF LandmarkGuide::placeOf(int landmark, bool otherSide) const {
  const LandmarkFacts& f = landmarkFacts()[static_cast<size_t>(landmark)];
  const double x = otherSide ? 1 - static_cast<double>(f.x) : static_cast<double>(f.x);
  // a face is three quarters as wide as it is high
  const double h = height() - 12, w = 0.76 * h;
  return {(width() - w) / 2 + x * w, 6 + static_cast<double>(f.y) * h};
}

int LandmarkGuide::landmarkAt(const QPointF& position) const {
  for (int i = 0; i < kLandmarkCount; ++i)
    for (const bool other : {false, true})
      if (QLineF(placeOf(i, other), position).length() < 9) return i;
  return -1;
}

void LandmarkGuide::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double h = height() - 12, w = 0.76 * h, left = (width() - w) / 2;
  const auto at = [&](double x, double y) { return QPointF(left + x * w, 6 + y * h); };
  p.setPen(QPen(QColor(0x9a, 0x9a, 0x9a), 1.4));
  p.setBrush(QColor(0x3c, 0x3c, 0x3c));
  QPainterPath head(at(0.5, 0.02));
  head.cubicTo(at(0.85, 0.02), at(0.93, 0.26), at(0.9, 0.48));
  head.cubicTo(at(0.89, 0.72), at(0.74, 0.86), at(0.6, 0.965));
  head.quadTo(at(0.5, 1.0), at(0.4, 0.965));
  head.cubicTo(at(0.26, 0.86), at(0.11, 0.72), at(0.1, 0.48));
  head.cubicTo(at(0.07, 0.26), at(0.15, 0.02), at(0.5, 0.02));
  p.drawPath(head);
  p.setBrush(Qt::NoBrush);
  for (const double side : {-1.0, 1.0}) {
    const auto m = [&](double x, double y) { return at(0.5 + side * (x - 0.5), y); };
    QPainterPath features(m(0.9, 0.42));
    features.cubicTo(m(1.0, 0.40), m(0.99, 0.58), m(0.89, 0.60));
    features.moveTo(m(0.58, 0.475));
    features.quadTo(m(0.67, 0.43), m(0.76, 0.475));
    features.quadTo(m(0.67, 0.51), m(0.58, 0.475));
    features.moveTo(m(0.55, 0.40));
    features.quadTo(m(0.68, 0.36), m(0.79, 0.41));
    features.moveTo(m(0.5, 0.655));
    features.quadTo(m(0.57, 0.66), m(0.575, 0.625));
    features.moveTo(m(0.5, 0.755));
    features.quadTo(m(0.57, 0.755), m(0.62, 0.752));
    p.drawPath(features);
  }
  const bool open = session_.isOpen();
  for (int i = 0; i < kLandmarkCount; ++i) {
    const LandmarkFacts& f = landmarkFacts()[static_cast<size_t>(i)];
    const bool next = open && session_.tools().landmark() == f.key;
    for (const bool other : {false, true}) {
      if (other && !f.paired) continue;
      p.setPen(QPen(next ? look::kAccent : QColor(Qt::white), next ? 2.2 : 1.3));
      p.setBrush(open && isPlaced(session_, f.key) ? QBrush(look::kText) : QBrush(QColor(0x2a, 0x2a, 0x2a)));
      p.drawEllipse(placeOf(i, other), next ? 6.0 : 4.2, next ? 6.0 : 4.2);
    }
  }
}

void LandmarkGuide::mousePressEvent(QMouseEvent* event) {
  const int i = landmarkAt(event->position());
  if (i < 0 || !session_.isOpen()) return;
  session_.tools().setTool(Tool::Zones);
  session_.tools().setLandmark(std::string(landmarkFacts()[static_cast<size_t>(i)].key));
}

bool LandmarkGuide::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const int i = landmarkAt(help->pos());
  QToolTip::showText(help->globalPos(),
                     i < 0 ? tr("Click a point, then click the same place on the sculpt")
                           : labelOf(landmarkFacts()[static_cast<size_t>(i)]),
                     this);
  return true;
}

}  // namespace juvenor::app
