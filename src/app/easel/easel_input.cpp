// What hands do on the easel: pen, mouse, wheel, keys and pictures that are dropped.
#include <QDragEnterEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QTabletEvent>
#include <QWheelEvent>
#include <cmath>

#include "app/easel/easel.h"
#include "app/session/picture_intake.h"
#include "core/pen/pen_path.h"

namespace juvenor::app {

PenPoint Easel::penAt(const QPointF& position, float pressure) const {
  return {pixelAt(position), pressure, {0, 0}, static_cast<double>(clock_.nsecsElapsed()) * 1e-9};
}

// A pen that stands still tells nothing; said again with the time it goes on spraying.
void Easel::restOn() {
  if (drag_ != Drag::Paint) return resting_.stop();
  PenPoint point = pen_;
  point.seconds = static_cast<double>(clock_.nsecsElapsed()) * 1e-9;
  strokeTo(point);
}

// What a press does that does not paint; null while a brush is in hand.
EaselHand* Easel::handOf(Tool tool) {
  switch (tool) {
    case Tool::Zones:
      return &handles_;
    case Tool::Stamp:
      return &stamp_;
    case Tool::Stencil:
      return &stencil_;
    case Tool::Slide:
      return &slide_;
    case Tool::Graft:
      return &graft_;
    case Tool::CutLine:
      return &cut_;
    case Tool::Comb:
      return &comb_;
    case Tool::Touch:
      return &touch_;
    default:
      return nullptr;
  }
}

void Easel::endStroke() {
  session_.engine().endStroke();
  update();
}

void Easel::repeatStroke() {
  if (!session_.isOpen() || drag_ != Drag::None) return;
  LastStroke again = stroke_;
  repeat(session_, again, before());
}

void Easel::strokeTo(PenPoint point) {
  point.pixel = axes_.held(point.pixel, axesHeld_);
  const float string = session_.tools().brush().steady;
  stringEnd_ = string > 0 ? pulled(stringEnd_, point.pixel, string) : point.pixel;
  pen_ = point;
  stroke_.points.push_back(point);
  if (recordingOn_ && !recording_.strokes.empty()) recording_.strokes.back().push_back(point);
  session_.engine().moveStroke(point);
}

void Easel::setRecording(bool on) {
  recordingOn_ = on;
  if (on) recording_ = {viewing_.size, {}};
}

void Easel::replay(const PenRecording& recording) {
  if (!session_.isOpen()) return;
  for (const auto& stroke : scaledTo(recording, viewing_.size).strokes) {
    if (stroke.empty()) continue;
    session_.beginStroke(false, stroke.front());
    for (size_t i = 1; i < stroke.size(); ++i) session_.engine().moveStroke(stroke[i]);
    session_.engine().endStroke();
  }
}

void Easel::pick(const QPointF& position, bool ownLayer) {
  const auto probe = session_.engine().probe(session_.document(), pixelAt(position));
  if (!probe) return;
  if (ownLayer && !probe->layer) {
    session_.say(tr("The active layer has no colour here."));
    return;
  }
  const EncodedColor color = ownLayer ? *probe->layer : probe->composite;
  session_.tools().setColor(color);
  session_.tools().pin(false, color);
}

void Easel::press(const PenPoint& point, const QPointF& position, bool erasing,
                  Qt::KeyboardModifiers modifiers) {
  if (!session_.isOpen()) return;
  if (!session_.engine().shows(session_.document()))
    return session_.say(tr("The surface is still being prepared."), true);
  if (split_.press(position, size())) {
    drag_ = Drag::Split;
    return;
  }
  const Tool tool = session_.tools().tool();
  if (session_.tools().picks()) {
    drag_ = Drag::Pick;
    pick(position, modifiers & Qt::ShiftModifier);
    return;
  }
  if (EaselHand* held = hand()) {
    held->feel(point.pressure);
    const bool taken = held->press(viewing_, point.pixel);
    if (held->dragging()) drag_ = Drag::Hand;
    if (!taken && tool == Tool::Slide) drag_ = Drag::Turn;
    return update();
  }
  const auto probe = session_.engine().probe(session_.document(), pixelAt(position));
  if (tool == Tool::Fill) {
    if (!probe) return;
    session_.setActivePart(probe->point.part);
    session_.fillNow();
    return;
  }
  const bool wholeBody = session_.tools().brush().allParts;
  if (probe && !wholeBody && probe->point.part != session_.activePart()) {
    const auto& parts = session_.document().sculpt->parts;
    session_.setActivePart(probe->point.part);
    session_.say(tr("“%1” is the active part now. Press again to paint it, or turn on all parts.")
                     .arg(QString::fromStdString(parts[probe->point.part])));
    return;
  }
  drag_ = Drag::Paint;
  if (recordingOn_) recording_.strokes.push_back({point});
  axes_.begin(point.pixel);
  axesHeld_ = modifiers & Qt::ShiftModifier;
  stringEnd_ = point.pixel;
  stroke_ = {{point}, viewing_.camera, viewing_.size};
  session_.beginStroke(erasing, point, before());
  pen_ = point;
  if (session_.tools().brush().tip == TipKind::Spray) resting_.start(33);
}

void Easel::mousePressEvent(QMouseEvent* event) {
  setFocus();
  last_ = pressed_ = event->position();
  moved_ = false;
  if (event->button() == Qt::RightButton) drag_ = Drag::Turn;
  if (event->button() == Qt::MiddleButton) drag_ = Drag::Pan;
  if (event->button() == Qt::LeftButton) {
    const float pressure = simulatedPen_.press(event->position(), clock_.elapsed());
    press(penAt(event->position(), pressure), event->position(), false, event->modifiers());
  }
}

void Easel::mouseMoveEvent(QMouseEvent* event) {
  const QPointF delta = event->position() - last_;
  const Vec2 drag = pixelAt(delta);
  if (QLineF(pressed_, event->position()).length() > 3) moved_ = true;
  switch (drag_) {
    case Drag::Turn:
      if (!moved_) return;
      if (EaselHand* held = hand(); held && held->takesView()) {
        held->turnBy(drag / static_cast<float>(devicePixelRatioF()));
        break;
      }
      viewing_.camera = turned(viewing_.camera, drag / static_cast<float>(devicePixelRatioF()));
      post(true);
      break;
    case Drag::Pan:
      viewing_.camera = panned(viewing_.camera, viewing_.size, drag);
      post(true);
      break;
    case Drag::Paint:
      axesHeld_ = event->modifiers() & Qt::ShiftModifier;
      strokeTo(penAt(event->position(), simulatedPen_.move(event->position(), clock_.elapsed())));
      break;
    case Drag::Pick:
      pick(event->position(), event->modifiers() & Qt::ShiftModifier);
      break;
    case Drag::Hand:
      dragHand(penAt(event->position(), simulatedPen_.move(event->position(), clock_.elapsed())));
      break;
    case Drag::Split:
      split_.drag(event->position(), size());
      break;
    case Drag::None:
      break;
  }
  last_ = event->position();
  hover(event->position());
}

void Easel::dragHand(const PenPoint& point) {
  EaselHand* held = hand();
  if (!held) return;
  held->feel(point.pressure);
  held->drag(viewing_, point.pixel);
}

void Easel::mouseReleaseEvent(QMouseEvent* event) {
  const Drag drag = drag_;
  drag_ = Drag::None;
  if (drag == Drag::Paint) endStroke();
  EaselHand* held = hand();
  if (held && (drag == Drag::Hand || (drag == Drag::Turn && moved_ && held->takesView()))) held->release();
  if (drag == Drag::Turn && !moved_) emit cardWanted(event->globalPosition().toPoint());
  if (drag == Drag::Turn || drag == Drag::Pan) post(false);
}

void Easel::wheelEvent(QWheelEvent* event) {
  if (!session_.isOpen()) return;
  if (EaselHand* held = hand(); held && held->takesView())
    return held->scaleBy(std::pow(1.0012f, static_cast<float>(event->angleDelta().y())),
                         pixelAt(event->position()));
  const float factor = std::pow(0.9988f, static_cast<float>(event->angleDelta().y()));
  viewing_.camera = zoomed(viewing_.camera, viewing_.size, factor, pixelAt(event->position()));
  post(false);
  hover(event->position());
}

void Easel::tabletEvent(QTabletEvent* event) {
  event->accept();
  const bool erasing = event->pointerType() == QPointingDevice::PointerType::Eraser;
  PenPoint point = penAt(event->position(), static_cast<float>(event->pressure()));
  point.tilt = {static_cast<float>(event->xTilt()), static_cast<float>(event->yTilt())};
  if (event->type() == QEvent::TabletPress && event->button() == Qt::LeftButton) {
    tabletDown_ = true;
    press(point, event->position(), erasing, event->modifiers());
  } else if (event->type() == QEvent::TabletMove && tabletDown_) {
    axesHeld_ = event->modifiers() & Qt::ShiftModifier;
    if (drag_ == Drag::Paint) strokeTo(point);
    if (drag_ == Drag::Pick) pick(event->position(), event->modifiers() & Qt::ShiftModifier);
    if (drag_ == Drag::Hand) dragHand(point);
    if (drag_ == Drag::Split) split_.drag(event->position(), size());
  } else if (event->type() == QEvent::TabletRelease) {
    if (drag_ == Drag::Paint) endStroke();
    if (drag_ == Drag::Hand && hand()) hand()->release();
    tabletDown_ = false;
    drag_ = Drag::None;
  }
  last_ = event->position();
  hover(event->position());
}

void Easel::keyPressEvent(QKeyEvent* event) {
  EaselHand* held = hand();
  const bool done = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
  if (!held || (!done && event->key() != Qt::Key_Escape)) return QWidget::keyPressEvent(event);
  done ? held->finish() : held->giveUp();
  update();
}

void Easel::mouseDoubleClickEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton && session_.tools().tool() == Tool::Stamp && stamp_.placing()) {
    stamp_.finish();
    return update();
  }
  mousePressEvent(event);
}

// A picture becomes the stamp or the stencil in hand; everything else is the window's.
void Easel::dragEnterEvent(QDragEnterEvent* event) {
  const Tool tool = session_.tools().tool();
  const auto urls = event->mimeData()->urls();
  if ((tool != Tool::Stamp && tool != Tool::Stencil && tool != Tool::Slide) || urls.isEmpty() ||
      !isPicture(urls.front().toLocalFile()))
    return event->ignore();
  event->acceptProposedAction();
}

void Easel::dropEvent(QDropEvent* event) {
  if (session_.tools().tool() == Tool::Slide)
    return emit photoDropped(event->mimeData()->urls().front().toLocalFile());
  const auto stamp = readStamp(event->mimeData()->urls().front().toLocalFile().toStdString());
  if (!stamp) return session_.say(QString::fromStdString(stamp.error().message()), true);
  if (session_.tools().tool() == Tool::Stencil)
    stencil_.take(*stamp);
  else
    stamp_.take(*stamp);
  update();
}

void Easel::leaveEvent(QEvent*) {
  probe_.reset();
  emit probed(probe_);
  update();
}

void Easel::hover(const QPointF& position) {
  if (!session_.isOpen() || drag_ == Drag::Turn || drag_ == Drag::Pan) return;
  setCursor(split_.press(position, size()) ? Qt::SplitHCursor : Qt::CrossCursor);
  probe_ = session_.engine().probe(session_.document(), pixelAt(position));
  emit probed(probe_);
  update();
}

}  // namespace juvenor::app
