#include "app/sheet/sheet_view.h"

#include <QDragEnterEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QTabletEvent>
#include <QWheelEvent>
#include <cmath>
#include <numbers>
#include <utility>

#include "app/controls/spoken.h"
#include "app/session/picture_intake.h"
#include "app/session/words.h"
#include "app/style/style.h"

namespace juvenor::app {

SheetView::SheetView(Session& session, Easel& easel) : session_(session), alive_(&session), easel_(easel) {
  setObjectName("sheet");
  setAccessibleName(tr("Sheet"));
  speak(this, {QAccessible::Canvas, [this] { return told(factsOf(session_.tools().tool()).label); }});
  setMouseTracking(true);
  setTabletTracking(true);
  setAcceptDrops(true);
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::CrossCursor);
  setAttribute(Qt::WA_OpaquePaintEvent);
  setMinimumSize(180, 200);
  clock_.start();
  connect(&session_.engine(), &Engine::sheetReady, this, [this](const QImage& pixels, const QPoint& place) {
    const QSize size(viewing_.size.width, viewing_.size.height);
    if (pixels.size() == size && place.isNull()) {
      image_ = pixels;
    } else if (image_.size() == size) {
      image_.setDevicePixelRatio(1);
      QPainter painter(&image_);
      painter.setCompositionMode(QPainter::CompositionMode_Source);
      painter.drawImage(place, pixels);
    }
    image_.setDevicePixelRatio(devicePixelRatioF());
    update();
  });
  connect(&easel_, &Easel::probed, this, [this](const std::optional<Probe>& probe) {
    beside_ = probe;
    if (isVisible()) update();
  });
  connect(&session_, &Session::settling, this, &SheetView::endDrag);
  connect(&session_, &Session::documentChanged, this, [this] {
    if (viewing_.sheet && viewing_.sheet->skin == session_.document().surface) return;
    probe_.reset();
    beside_.reset();
  });
  connect(&resting_, &QTimer::timeout, this, &SheetView::restOn);
  standing_.setSingleShot(true);
  connect(&standing_, &QTimer::timeout, this, [this] { post(false); });
}

void SheetView::setSheet(SheetPointer sheet, const QString& words) {
  endDrag();
  words_ = words;
  const bool first = !viewing_.sheet && sheet;
  // one that was waited for shows its preview, another has another layout
  if (!first) preview_ = {};
  viewing_.sheet = std::move(sheet);
  if (!viewing_.sheet) image_ = {};
  probe_.reset();
  beside_.reset();
  if (first)
    frameTile();
  else
    post(false);
  update();
}

void SheetView::setTile(int tile) {
  viewing_.tile = tile;
  frameTile();
}

void SheetView::setNote(const QString& note) {
  note_ = note;
  update();
}

void SheetView::setPreview(const QImage& picture, int tile, const QString& said) {
  preview_ = picture;
  previewTile_ = tile;
  previewSaid_ = said;
  update();
}

void SheetView::drawPreview(QPainter& painter) const {
  const Lens lens(viewing_.camera, viewing_.size);
  const Vec2 corner = cornerOfTile(previewTile_);
  const Vec3 low = lens.project({corner.x(), corner.y(), 0}),
             high = lens.project({corner.x() + 1, corner.y() + 1, 0});
  const double scale = devicePixelRatioF();
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.drawImage(QRectF(QPointF(static_cast<double>(low.x()), static_cast<double>(high.y())) / scale,
                           QPointF(static_cast<double>(high.x()), static_cast<double>(low.y())) / scale),
                    preview_);
}

void SheetView::setSquares(bool on) {
  viewing_.squares = on;
  post(false);
}

void SheetView::setCamera(const Camera& camera) {
  viewing_.camera = camera;
  post(false);
}

void SheetView::frameTile() {
  viewing_.camera = framedTile(viewing_.camera, viewing_.size, viewing_.tile);
  post(false);
}

void SheetView::post(bool moving) {
  viewing_.moving = moving;
  viewing_.shown = isVisible() && viewing_.sheet;
  session_.engine().setSheet(viewing_);
}

Vec2 SheetView::pixelAt(const QPointF& position) const {
  const double scale = devicePixelRatioF();
  return {static_cast<float>(position.x() * scale), static_cast<float>(position.y() * scale)};
}

PenPoint SheetView::penAt(const QPointF& position, float pressure) const {
  return {pixelAt(position), pressure, {0, 0}, static_cast<double>(clock_.nsecsElapsed()) * 1e-9};
}

std::optional<Probe> SheetView::probeAt(const QPointF& position) const {
  if (!session_.isOpen() || !viewing_.sheet) return std::nullopt;
  return session_.engine().probeSheet(session_.document(), pixelAt(position));
}

void SheetView::resizeEvent(QResizeEvent*) {
  const double scale = devicePixelRatioF();
  viewing_.size = {std::max(1, static_cast<int>(std::lround(width() * scale))),
                   std::max(1, static_cast<int>(std::lround(height() * scale)))};
  frameTile();
}

void SheetView::showEvent(QShowEvent*) {
  post(false);
}

void SheetView::hideEvent(QHideEvent*) {
  if (!alive_) return;
  endDrag();
  post(false);
}

void SheetView::pick(const QPointF& position, bool ownLayer) {
  if (const auto probe = probeAt(position)) easel_.pickFrom(*probe, ownLayer);
}

void SheetView::press(const PenPoint& point, const QPointF& position, bool erasing,
                      Qt::KeyboardModifiers modifiers) {
  if (!session_.isOpen() || !viewing_.sheet) return;
  if (session_.tools().picks()) {
    drag_.kind = Drag::Pick;
    return pick(position, modifiers & Qt::ShiftModifier);
  }
  const auto probe = probeAt(position);
  if (PatternHand* held = easel_.patternHand()) {
    held->feel(point.pressure);
    held->pressAt(probe);
    if (!held->dragging()) return;
    drag_.kind = Drag::Hand;
    trail_ = {position};
    return;
  }
  if (easel_.holdsHand()) return session_.say(tr("This tool works on the easel."));
  if (!easel_.beginsStroke(probe)) return;
  stroke_ = {{point}, viewing_.camera, viewing_.size, viewing_.sheet};
  session_.beginStroke(erasing, point, easel_.before(), true);
  drag_.kind = Drag::Paint;
  pen_ = point;
  if (session_.tools().brush().tip == TipKind::Spray) resting_.start(33);
}

void SheetView::pressed(Qt::MouseButton button, const PenPoint& point, const QPointF& position, bool pen,
                        bool erasing, Qt::KeyboardModifiers modifiers) {
  setFocus();
  if (inUse() || easel_.inUse()) return;
  drag_ = {Drag::None, button, pen, position, position, false};
  if (button == Qt::RightButton || button == Qt::MiddleButton) drag_.kind = Drag::Pan;
  if (button == Qt::LeftButton && previews()) return setPreview({}, 1001, {});
  if (button == Qt::LeftButton) press(point, position, erasing, modifiers);
}

void SheetView::dragged(const PenPoint& point, const QPointF& position, Qt::KeyboardModifiers modifiers) {
  drag_.moved |= QLineF(drag_.pressed, position).length() > 3;
  if (drag_.kind == Drag::Paint) {
    pen_ = point;
    stroke_.points.push_back(point);
    session_.engine().moveStroke(point);
  } else if (drag_.kind == Drag::Pick) {
    pick(position, modifiers & Qt::ShiftModifier);
  } else if (drag_.kind == Drag::Hand) {
    if (PatternHand* held = easel_.patternHand()) {
      held->feel(point.pressure);
      held->dragAt(probeAt(position));
    }
    trail_ << position;
  } else if (drag_.kind == Drag::Pan && drag_.moved) {
    pan(pixelAt(position - drag_.last));
  }
  drag_.last = position;
}

void SheetView::pan(const Vec2& pixels) {
  viewing_.camera = panned(viewing_.camera, viewing_.size, pixels);
  post(drag_.kind == Drag::Pan);
}

void SheetView::endDrag() {
  resting_.stop();
  const DragInHand ended = std::exchange(drag_, {});
  trail_.clear();
  if (ended.kind == Drag::Paint) {
    session_.engine().endStroke();
    easel_.setLastStroke(stroke_);
  }
  if (ended.kind == Drag::Pan && ended.moved) post(false);
  if (ended.kind == Drag::Hand)
    if (PatternHand* held = easel_.patternHand()) held->release();
  if (ended.kind != Drag::None) update();
}

void SheetView::released(Qt::MouseButton button, const QPointF& globalPosition) {
  if (button != drag_.button) return;
  const bool clicked = drag_.kind == Drag::Pan && button == Qt::RightButton && !drag_.moved;
  endDrag();
  if (clicked) emit cardWanted(globalPosition.toPoint());
}

void SheetView::mousePressEvent(QMouseEvent* event) {
  if (inUse()) return;
  const bool left = event->button() == Qt::LeftButton;
  const float pressure = left ? easel_.simulatedPen().press(event->position(), clock_.elapsed()) : 1;
  pressed(event->button(), penAt(event->position(), pressure), event->position(), false, false,
          event->modifiers());
}

void SheetView::mouseMoveEvent(QMouseEvent* event) {
  // a box that came between has swallowed the release
  if (inUse() && !drag_.pen && !(event->buttons() & drag_.button)) endDrag();
  if (inUse() && !drag_.pen)
    dragged(penAt(event->position(), easel_.simulatedPen().move(event->position(), clock_.elapsed())),
            event->position(), event->modifiers());
  hover(event->position());
}

void SheetView::mouseReleaseEvent(QMouseEvent* event) {
  if (!drag_.pen) released(event->button(), event->globalPosition());
}

void SheetView::tabletEvent(QTabletEvent* event) {
  event->accept();
  const bool erasing = event->pointerType() == QPointingDevice::PointerType::Eraser;
  PenPoint point = penAt(event->position(), static_cast<float>(event->pressure()));
  point.tilt = {static_cast<float>(event->xTilt()), static_cast<float>(event->yTilt())};
  if (event->type() == QEvent::TabletPress) {
    pressed(event->button(), point, event->position(), true, erasing, event->modifiers());
  } else if (event->type() == QEvent::TabletMove) {
    if (inUse() && drag_.pen && !(event->buttons() & drag_.button)) endDrag();
    if (inUse() && drag_.pen) dragged(point, event->position(), event->modifiers());
  } else if (event->type() == QEvent::TabletRelease && drag_.pen) {
    released(event->button(), event->globalPosition());
  }
  hover(event->position());
}

void SheetView::restOn() {
  if (drag_.kind != Drag::Paint) return resting_.stop();
  PenPoint point = pen_;
  point.seconds = static_cast<double>(clock_.nsecsElapsed()) * 1e-9;
  session_.engine().moveStroke(point);
}

void SheetView::wheelEvent(QWheelEvent* event) {
  event->accept();
  if (!viewing_.sheet || inUse()) return;
  const float factor = std::pow(0.9988f, static_cast<float>(event->angleDelta().y()));
  viewing_.camera = zoomed(viewing_.camera, viewing_.size, factor, pixelAt(event->position()));
  // a wheel has no end of its own
  post(true);
  standing_.start(200);
  hover(event->position());
}

// Arrows pan, plus and minus come nearer and go farther, as on the easel.
void SheetView::keyPressEvent(QKeyEvent* event) {
  constexpr float kPan = 40;
  const int key = event->key();
  if (key == Qt::Key_Escape && inUse()) return endDrag();
  if (key == Qt::Key_Escape && previews()) return setPreview({}, 1001, {});
  const int across = (key == Qt::Key_Right) - (key == Qt::Key_Left),
            down = (key == Qt::Key_Down) - (key == Qt::Key_Up);
  const int nearer = (key == Qt::Key_Plus || key == Qt::Key_Equal) - (key == Qt::Key_Minus);
  if (!viewing_.sheet || inUse() || (across == 0 && down == 0 && nearer == 0))
    return QWidget::keyPressEvent(event);
  if (nearer == 0) return pan(-kPan * Vec2(static_cast<float>(across), static_cast<float>(down)));
  const Vec2 middle(0.5f * static_cast<float>(viewing_.size.width),
                    0.5f * static_cast<float>(viewing_.size.height));
  viewing_.camera = zoomed(viewing_.camera, viewing_.size, nearer > 0 ? 0.85f : 1 / 0.85f, middle);
  post(false);
}

void SheetView::hover(const QPointF& position) {
  if (drag_.kind == Drag::Pan) return;
  probe_ = probeAt(position);
  if (!inUse()) pen_.pixel = pixelAt(position);
  easel_.showPenBeside(probe_);
  emit probed(probe_);
  update();
}

void SheetView::leaveEvent(QEvent*) {
  probe_.reset();
  easel_.showPenBeside(probe_);
  emit probed(probe_);
  update();
}

void SheetView::focusOutEvent(QFocusEvent* event) {
  endDrag();
  QWidget::focusOutEvent(event);
}

bool SheetView::event(QEvent* event) {
  if (event->type() == QEvent::WindowDeactivate) endDrag();
  return QWidget::event(event);
}

void SheetView::dragEnterEvent(QDragEnterEvent* event) {
  const auto urls = event->mimeData()->urls();
  if (viewing_.sheet && urls.size() == 1 && isPicture(urls.front().toLocalFile()))
    event->acceptProposedAction();
}

void SheetView::dropEvent(QDropEvent* event) {
  emit pictureDropped(event->mimeData()->urls().front().toLocalFile());
}

// The brush as it lies in the layout: drawn out and turned as the skin is there.
void SheetView::drawRing(QPainter& painter) const {
  const std::optional<Probe>& under = probe_ ? probe_ : beside_;
  if (!under || !usesBrush(session_.tools().tool())) return;
  const Brush& brush = session_.tools().brush();
  const Surface& skin = *viewing_.sheet->skin;
  if (under->point.triangle >= skin.triangles.size()) return;
  const Triangle& t = skin.triangles[under->point.triangle];
  const Vec3 edge = skin.positions[t[1]] - skin.positions[t[0]];
  const Vec3 normal =
      normalizedOr(edge.cross(skin.positions[t[2]] - skin.positions[t[0]]), under->point.normal);
  const Vec3 x = normal.unitOrthogonal(), y = normal.cross(x);
  const Lens lens(viewing_.camera, viewing_.size);
  const auto ring = [&](float radius) {
    constexpr int kSteps = 48;
    QPolygonF out;
    for (int i = 0; i <= kSteps; ++i) {
      const float a = 2 * std::numbers::pi_v<float> * static_cast<float>(i) / kSteps;
      SurfacePoint rim = under->point;
      rim.position += radius * (std::cos(a) * x + std::sin(a) * y);
      const auto uv = placeOnSheet(*viewing_.sheet, rim);
      if (!uv) return QPolygonF();
      const Vec3 p = lens.project({uv->x(), uv->y(), 0});
      out << QPointF(static_cast<double>(p.x()), static_cast<double>(p.y())) / devicePixelRatioF();
    }
    return out;
  };
  const auto stroke = [&](const QPolygonF& line, qreal width) {
    painter.setPen(QPen(QColor(20, 20, 20, 150), width + 1.6));
    painter.drawPolyline(line);
    painter.setPen(
        QPen(QColor(255, 255, 255, probe_ ? 240 : 190), width, probe_ ? Qt::SolidLine : Qt::DashLine));
    painter.drawPolyline(line);
  };
  stroke(ring(brush.radius), 1.4);
  if (probe_ && brush.hardness > 0.02f) stroke(ring(brush.radius * brush.hardness), 0.9);
}

void SheetView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  const int grey = static_cast<int>(easel_.viewing().background & 0xff);
  const bool there = viewing_.sheet && image_.size() == QSize(viewing_.size.width, viewing_.size.height);
  if (!there) painter.fillRect(rect(), QColor(grey, grey, grey));
  if (there) painter.drawImage(QPointF(0, 0), image_);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(textOn(grey));
  if (!viewing_.sheet) {
    painter.drawText(rect().adjusted(20, 20, -20, -20), Qt::AlignCenter | Qt::TextWordWrap, words_);
    return;
  }
  if (!session_.isOpen()) return;
  if (previews()) drawPreview(painter);
  painter.drawText(rect().adjusted(12, 10, -12, -10), Qt::AlignTop | Qt::AlignLeft | Qt::TextWordWrap,
                   previews() ? previewSaid_ : note_);
  if (trail_.size() > 1) drawOutline(painter, trail_);
  drawRing(painter);
}

}  // namespace juvenor::app

#include "moc_sheet_view.cpp"
