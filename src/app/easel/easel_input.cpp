// What hands do on the easel: pen, mouse, wheel, keys and pictures that are dropped.
#include <QDragEnterEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QTabletEvent>
#include <QWheelEvent>
#include <cmath>
#include <utility>

#include "app/easel/easel.h"
#include "app/session/picture_intake.h"
#include "app/style/style.h"
#include "core/pen/pen_path.h"

namespace juvenor::app {

PenPoint Easel::penAt(const QPointF& position, float pressure) const {
  return {pixelAt(position), pressure, {0, 0}, static_cast<double>(clock_.nsecsElapsed()) * 1e-9};
}

// A pen that stands still tells nothing; said again with the time it goes on spraying.
void Easel::restOn() {
  if (drag_.kind != Drag::Paint) return resting_.stop();
  PenPoint point = pen_;
  point.seconds = static_cast<double>(clock_.nsecsElapsed()) * 1e-9;
  strokeTo(point);
}

// What a press does that does not paint; null while a brush is in hand.
EaselHand* Easel::handOf(Tool tool) {
  switch (tool) {
    case Tool::Zones:
      return eyes_.eyes() ? static_cast<EaselHand*>(&eyes_) : &handles_;
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
    case Tool::Lasso:
      return &lasso_;
    case Tool::MirrorPlane:
      return &mirror_;
    default:
      return nullptr;
  }
}

void Easel::endStroke() {
  session_.engine().endStroke();
  // a straight line goes on from here
  const auto probe = session_.engine().probe(session_.document(), pen_.pixel);
  probe ? line_.startAt(session_.document().surface, probe->point.position) : line_.forget();
  update();
}

// With Ctrl a press draws the line from where the last stroke ended, and the release lays it.
bool Easel::drawsLine(Qt::KeyboardModifiers modifiers) const {
  return modifiers & Qt::ControlModifier && !hand() && !session_.tools().picks() &&
         session_.tools().tool() != Tool::Fill;
}

StraightLine::End Easel::lineEnd() const {
  std::optional<Vec3> place;
  if (probe_) place = probe_->point.position;
  return StraightLine::endAt(viewing_, session_.tools().brush(), mirrorsOf(session_.document()), pen_.pixel,
                             place);
}

void Easel::layLine(bool erasing) {
  const auto rays = session_.engine().rays();
  if (!rays) return;
  const StraightLine::End end = lineEnd();
  std::vector<PenPoint> way;
  if (line_.begins(session_.document().surface))
    way = line_.way(viewing_, *rays, session_.document().hiddenParts, session_.tools().brush(),
                    mirrorsOf(session_.document()), end, pen_.pressure);
  if (way.empty()) way = {{end.pixel, pen_.pressure, {0, 0}, 0}};
  stroke_ = {way, viewing_.camera, viewing_.size};
  if (recordingOn_) recording_.strokes.push_back(way);
  session_.beginStroke(erasing, way.front(), before());
  for (size_t i = 1; i < way.size(); ++i) session_.engine().moveStroke(way[i]);
  pen_.pixel = end.pixel;
  endStroke();
}

void Easel::repeatStroke() {
  if (!session_.isOpen() || inUse()) return;
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
  probe ? pickFrom(*probe, ownLayer) : pickBehind(position);
}

void Easel::pickFrom(const Probe& probe, bool ownLayer) {
  if (ownLayer && !probe.layer) return session_.say(tr("The active layer has no colour here."));
  const EncodedColor color = ownLayer ? *probe.layer : probe.composite;
  session_.tools().setColor(color);
  session_.tools().pin(false, color);
}

PatternHand* Easel::patternHand() {
  return dynamic_cast<PatternHand*>(hand());
}

void Easel::showPenBeside(const std::optional<Probe>& probe) {
  beside_ = probe;
  update();
}

// Off the sculpt, the picture behind it.
void Easel::pickBehind(const QPointF& position) {
  const Vec2 at = pixelAt(position);
  const auto x = static_cast<int>(at.x()), y = static_cast<int>(at.y());
  const auto& [width, height] = viewing_.size;
  if (!viewing_.behind || x < 0 || y < 0 || x >= width || y >= height) return;
  const QColor color(
      (*viewing_.behind)[static_cast<size_t>(y) * static_cast<size_t>(width) + static_cast<size_t>(x)]);
  session_.tools().setColor(fromQColor(color));
  session_.tools().pin(true, fromQColor(color));
}

void Easel::press(const PenPoint& point, const QPointF& position, bool erasing,
                  Qt::KeyboardModifiers modifiers) {
  if (!session_.isOpen()) return;
  if (!session_.engine().shows(session_.document()))
    return session_.say(tr("The surface is still being prepared."), true);
  if (split_.press(position, size())) {
    drag_.kind = Drag::Split;
    return;
  }
  if (session_.tools().picks()) {
    drag_.kind = Drag::Pick;
    pick(position, modifiers & Qt::ShiftModifier);
    return;
  }
  if (EaselHand* held = hand()) {
    held->feel(point.pressure);
    const bool taken = held->press(viewing_, point.pixel);
    if (held->dragging()) {
      drag_.kind = Drag::Hand;
      drag_.hand = held;
    } else if (!taken && session_.tools().tool() == Tool::Slide) {
      drag_.kind = Drag::Turn;
    }
    return update();
  }
  if (!beginsStroke(session_.engine().probe(session_.document(), pixelAt(position)))) return;
  if (!drawsLine(modifiers)) return paint(point, erasing, modifiers);
  drag_.kind = Drag::Line;
  drag_.erasing = erasing;
  pen_ = point;
}

bool Easel::beginsStroke(const std::optional<Probe>& probe) {
  if (session_.tools().tool() == Tool::Fill) {
    if (!probe) return false;
    session_.setActivePart(probe->point.part);
    session_.fillNow();
    return false;
  }
  const bool wholeBody = session_.tools().brush().allParts;
  if (!probe || wholeBody || probe->point.part == session_.activePart()) return true;
  const auto& parts = session_.document().sculpt->parts;
  session_.setActivePart(probe->point.part);
  session_.say(tr("“%1” is the active part now. Press again to paint it, or turn on all parts.")
                   .arg(QString::fromStdString(parts[probe->point.part])));
  return false;
}

void Easel::paint(const PenPoint& point, bool erasing, Qt::KeyboardModifiers modifiers) {
  if (recordingOn_) recording_.strokes.push_back({point});
  axes_.begin(point.pixel);
  axesHeld_ = modifiers & Qt::ShiftModifier;
  stringEnd_ = point.pixel;
  stroke_ = {{point}, viewing_.camera, viewing_.size};
  session_.beginStroke(erasing, point, before());
  // only now: what it needs first, such as a mask, changes the work
  drag_.kind = Drag::Paint;
  pen_ = point;
  if (session_.tools().brush().tip == TipKind::Spray) resting_.start(33);
}

// What is pressed while a drag is under way belongs to nobody.
void Easel::pressed(Qt::MouseButton button, const PenPoint& point, const QPointF& position, bool pen,
                    bool erasing, Qt::KeyboardModifiers modifiers) {
  setFocus();
  if (inUse()) return;
  drag_ = {Drag::None, button, pen, nullptr, position, position, false};
  if (button == Qt::RightButton) {
    EaselHand* held = session_.isOpen() ? hand() : nullptr;
    drag_.kind = Drag::Turn;
    if (held && held->takesView()) drag_.hand = held;
  } else if (button == Qt::MiddleButton) {
    drag_.kind = Drag::Pan;
  } else if (button == Qt::LeftButton) {
    press(point, position, erasing, modifiers);
  }
}

void Easel::turnOrPan(const QPointF& position) {
  if (!drag_.moved) return;
  const Vec2 drag = pixelAt(position - drag_.last);
  const Vec2 turn = drag / static_cast<float>(devicePixelRatioF());
  if (drag_.kind == Drag::Turn && drag_.hand) return drag_.hand->turnBy(turn);
  viewing_.camera =
      drag_.kind == Drag::Turn ? turned(viewing_.camera, turn) : panned(viewing_.camera, viewing_.size, drag);
  post(true);
}

void Easel::dragged(const PenPoint& point, const QPointF& position, Qt::KeyboardModifiers modifiers) {
  drag_.moved |= QLineF(drag_.pressed, position).length() > 3;
  switch (drag_.kind) {
    case Drag::Turn:
    case Drag::Pan:
      turnOrPan(position);
      break;
    case Drag::Paint:
      axesHeld_ = modifiers & Qt::ShiftModifier;
      strokeTo(point);
      break;
    case Drag::Line:
      pen_.pixel = point.pixel;
      pen_.pressure = std::max(pen_.pressure, point.pressure);
      break;
    case Drag::Pick:
      pick(position, modifiers & Qt::ShiftModifier);
      break;
    case Drag::Hand:
      drag_.hand->feel(point.pressure);
      drag_.hand->drag(viewing_, point.pixel);
      break;
    case Drag::Split:
      split_.drag(position, size());
      break;
    case Drag::None:
      break;
  }
  drag_.last = position;
}

void Easel::endDrag() {
  if (!inUse()) return;
  const DragInHand ended = std::exchange(drag_, {});
  if (ended.kind == Drag::Paint) endStroke();
  if (ended.kind == Drag::Line) layLine(ended.erasing);
  if (ended.hand && (ended.kind == Drag::Hand || ended.moved)) ended.hand->release();
  if (ended.kind == Drag::Turn || ended.kind == Drag::Pan) post(false);
}

void Easel::mousePressEvent(QMouseEvent* event) {
  if (inUse()) return;
  const bool left = event->button() == Qt::LeftButton;
  const float pressure = left ? simulatedPen_.press(event->position(), clock_.elapsed()) : 1;
  pressed(event->button(), penAt(event->position(), pressure), event->position(), false, false,
          event->modifiers());
}

void Easel::mouseMoveEvent(QMouseEvent* event) {
  // a box that came between has swallowed the release
  if (inUse() && !drag_.pen && !(event->buttons() & drag_.button)) endDrag();
  if (inUse() && !drag_.pen)
    dragged(penAt(event->position(), simulatedPen_.move(event->position(), clock_.elapsed())),
            event->position(), event->modifiers());
  hover(event->position());
}

void Easel::mouseReleaseEvent(QMouseEvent* event) {
  if (drag_.pen || event->button() != drag_.button) return;
  const bool clicked = drag_.kind == Drag::Turn && drag_.button == Qt::RightButton && !drag_.moved;
  endDrag();
  if (clicked) emit cardWanted(event->globalPosition().toPoint());
}

void Easel::wheelEvent(QWheelEvent* event) {
  // the brush stays where the hand has it
  if (!session_.isOpen() || inUse()) return;
  if (EaselHand* held = hand(); held && held->takesView())
    return held->scaleBy(std::pow(1.0012f, static_cast<float>(event->angleDelta().y())),
                         pixelAt(event->position()));
  if (event->modifiers() & Qt::ControlModifier) {
    // a hundredth of the sculpt at a notch
    const DepthRange range = depthRange(viewing_.camera, session_.document().surface->bounds);
    const float now = viewing_.camera.cuts() ? range.front - viewing_.camera.cutAway : 0;
    setCutAway(now + (range.front - range.back) * static_cast<float>(event->angleDelta().y()) / 12000);
    return hover(event->position());
  }
  const float factor = std::pow(0.9988f, static_cast<float>(event->angleDelta().y()));
  viewing_.camera = zoomed(viewing_.camera, viewing_.size, factor, pixelAt(event->position()));
  post(false);
  hover(event->position());
}

// The pen's tip is the left button, those on its barrel are the right and the middle one: a pen alone turns,
// pans and opens the card.
void Easel::tabletEvent(QTabletEvent* event) {
  event->accept();
  const bool erasing = event->pointerType() == QPointingDevice::PointerType::Eraser;
  PenPoint point = penAt(event->position(), static_cast<float>(event->pressure()));
  point.tilt = {static_cast<float>(event->xTilt()), static_cast<float>(event->yTilt())};
  if (event->type() == QEvent::TabletPress) {
    pressed(event->button(), point, event->position(), true, erasing, event->modifiers());
  } else if (event->type() == QEvent::TabletMove) {
    if (inUse() && drag_.pen && !(event->buttons() & drag_.button)) endDrag();
    if (inUse() && drag_.pen) dragged(point, event->position(), event->modifiers());
  } else if (event->type() == QEvent::TabletRelease && drag_.pen && event->button() == drag_.button) {
    const bool clicked = drag_.kind == Drag::Turn && drag_.button == Qt::RightButton && !drag_.moved;
    endDrag();
    if (clicked) emit cardWanted(event->globalPosition().toPoint());
  }
  hover(event->position());
}

// A window that another one blocks, that is hidden or left, gets no release.
bool Easel::event(QEvent* event) {
  if (event->type() == QEvent::WindowDeactivate) endDrag();
  return QWidget::event(event);
}

void Easel::focusOutEvent(QFocusEvent* event) {
  endDrag();
  QWidget::focusOutEvent(event);
}

void Easel::hideEvent(QHideEvent* event) {
  endDrag();
  QWidget::hideEvent(event);
}

// Arrows turn, with Shift they pan; plus and minus come nearer and go farther. What a hand holds in place of
// the view turns and grows by the same keys.
bool Easel::moveByKey(const QKeyEvent& event) {
  constexpr float kTurn = 7.5f / kDegreesPerPixel, kPan = 40;
  const int key = event.key();
  const int across = (key == Qt::Key_Right) - (key == Qt::Key_Left),
            down = (key == Qt::Key_Down) - (key == Qt::Key_Up);
  const int nearer = (key == Qt::Key_Plus || key == Qt::Key_Equal) - (key == Qt::Key_Minus);
  if (!session_.isOpen() || (across == 0 && down == 0 && nearer == 0)) return false;
  const Vec2 way(static_cast<float>(across), static_cast<float>(down));
  const ViewSize& size = viewing_.size;
  const Vec2 middle = 0.5f * Vec2(static_cast<float>(size.width), static_cast<float>(size.height));
  const float factor = nearer > 0 ? 0.85f : 1 / 0.85f;
  const bool pans = event.modifiers() & Qt::ShiftModifier;
  EaselHand* held = hand() && hand()->takesView() && !pans ? hand() : nullptr;
  if (held) {
    nearer != 0 ? held->scaleBy(1 / factor, middle) : held->turnBy(kTurn * way);
    update();
    return true;
  }
  Camera& camera = viewing_.camera;
  camera = nearer != 0 ? zoomed(camera, size, factor, middle)
           : pans      ? panned(camera, size, kPan * way)
                       : turned(camera, kTurn * way);
  post(false);
  return true;
}

void Easel::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape && inUse()) {
    if (drag_.kind == Drag::Line) {
      drag_ = {};
      return update();
    }
    EaselHand* dragged = drag_.kind == Drag::Hand ? drag_.hand : nullptr;
    if (!dragged) return endDrag();
    drag_ = {};
    dragged->breakOff();
    return update();
  }
  if (event->key() == Qt::Key_Control) update();
  if (!inUse() && moveByKey(*event)) return;
  EaselHand* held = hand();
  const bool done = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
  if (!held || (!done && event->key() != Qt::Key_Escape)) return QWidget::keyPressEvent(event);
  done ? held->finish() : held->giveUp();
  update();
}

void Easel::keyReleaseEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Control) update();
  QWidget::keyReleaseEvent(event);
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
  if (!stamp) return session_.tell(stamp.error());
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
  if (!session_.isOpen() || drag_.kind == Drag::Turn || drag_.kind == Drag::Pan) return;
  setCursor(split_.press(position, size()) ? Qt::SplitHCursor : Qt::CrossCursor);
  probe_ = session_.engine().probe(session_.document(), pixelAt(position));
  if (!inUse()) pen_.pixel = pixelAt(position);
  emit probed(probe_);
  update();
}

}  // namespace juvenor::app
