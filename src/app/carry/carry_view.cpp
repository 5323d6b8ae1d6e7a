#include "app/carry/carry_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/style/style.h"
#include "core/carry/carry_picture.h"

namespace juvenor::app {
namespace {

constexpr int kDragStarts = 4;  // pixels
constexpr int kRadius = 9;      // of a mark
constexpr uint32_t kEaselGrey = 0xff6c6c6c;

}  // namespace

CarryView::CarryView(QWidget* parent) : QWidget(parent) {
  setMinimumSize(300, 240);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
  setToolTip(tr("Drag turns both, the middle button moves them, the wheel goes nearer. Press: a pin"));
  setAttribute(Qt::WA_OpaquePaintEvent);
}

void CarryView::setDocument(std::shared_ptr<const Document> document, const QString& why) {
  document_ = std::move(document);
  why_ = why;
  if (!document_) picture_ = {};
  draw();
}

void CarryView::setLook(const CarryLook& look) {
  look_ = look;
  draw();
}

void CarryView::setDoubt(bool doubt) {
  doubt_ = doubt;
  draw();
}

void CarryView::setMarks(std::vector<Mark> marks) {
  marks_ = std::move(marks);
  update();
}

Camera CarryView::camera() const {
  if (!document_) return {};
  const Box& box = document_->surface->bounds;
  Camera out = framed({}, {width(), height()}, box);
  out.turn = look_.turn;
  out.distance *= look_.nearer;
  out.target = box.center() + box.diagonal() * look_.shift;
  return out;
}

void CarryView::lookThrough(const Camera& camera) {
  const Box& box = document_->surface->bounds;
  CarryLook look = look_;
  look.turn = camera.turn;
  look.shift = (camera.target - box.center()) / std::max(box.diagonal(), 1e-12f);
  emit looked(look);
}

// One picture at a time; what was asked for meanwhile comes next.
void CarryView::draw() {
  ++wanted_;
  update();
  if (drawing_ || !document_ || width() < 2 || height() < 2) {
    if (!document_) shown_ = wanted_;
    return;
  }
  drawing_ = true;
  const uint64_t number = wanted_;
  const auto pixels = std::make_shared<std::vector<uint32_t>>();
  const ViewSize size{width(), height()};
  background_.start(
      tr("Pictures of both"),
      [pixels, size, document = document_, look = camera(), doubt = doubt_](const Progress& p) -> Outcome {
        *pixels = carryPicture(*document, look, size, doubt, p);
        return Done{};
      },
      [this, pixels, size, number](const Outcome&) {
        drawing_ = false;
        shown_ = number;
        if (!pixels->empty() && document_)
          picture_ = QImage(reinterpret_cast<const uchar*>(pixels->data()), size.width, size.height,
                            QImage::Format_RGB32)
                         .copy();
        update();
        if (number != wanted_) {
          --wanted_;
          draw();
        }
      });
}

void CarryView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), QColor::fromRgba(kEaselGrey));
  if (!picture_.isNull()) painter.drawImage(rect(), picture_);
  if (!document_) {
    painter.setPen(Qt::white);
    painter.drawText(rect().adjusted(24, 24, -24, -24), Qt::AlignCenter | Qt::TextWordWrap, why_);
    return;
  }
  painter.setRenderHint(QPainter::Antialiasing);
  const Camera look = camera();
  for (const Mark& mark : marks_) {
    const Vec3 at = project(look, {width(), height()}, mark.place);
    if (at.z() <= 0) continue;
    const QPointF middle(static_cast<double>(at.x()), static_cast<double>(at.y()));
    painter.setPen(QPen(Qt::black, 3));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(middle, kRadius, kRadius);
    painter.setPen(QPen(mark.whole ? look::kAccent : look::kWarning, 1.6));
    painter.setBrush(QColor(0x2e, 0x2e, 0x2e, 200));
    painter.drawEllipse(middle, kRadius, kRadius);
    painter.setPen(look::kText);
    painter.drawText(QRectF(middle.x() - kRadius, middle.y() - kRadius, 2 * kRadius, 2 * kRadius),
                     Qt::AlignCenter, QString::number(mark.number));
  }
}

void CarryView::resizeEvent(QResizeEvent*) {
  draw();
}

void CarryView::mousePressEvent(QMouseEvent* event) {
  pressed_ = last_ = event->position();
  dragged_ = false;
}

void CarryView::mouseMoveEvent(QMouseEvent* event) {
  if (!document_ || event->buttons() == Qt::NoButton) return;
  const QPointF now = event->position();
  if (!dragged_ && (now - pressed_).manhattanLength() < kDragStarts) return;
  dragged_ = true;
  const Vec2 drag(static_cast<float>(now.x() - last_.x()), static_cast<float>(now.y() - last_.y()));
  last_ = now;
  lookThrough(event->buttons() & Qt::MiddleButton ? panned(camera(), {width(), height()}, drag)
                                                  : turned(camera(), drag));
}

void CarryView::mouseReleaseEvent(QMouseEvent* event) {
  // rays are there once there is a picture
  if (!document_ || dragged_ || event->button() != Qt::LeftButton || picture_.isNull()) return;
  const auto rays = document_->maps->rays();
  if (!rays) return;
  const Vec2 pixel(static_cast<float>(event->position().x()), static_cast<float>(event->position().y()));
  const auto hit = (*rays)->first(rayThrough(camera(), {width(), height()}, pixel), document_->hiddenParts);
  if (hit) emit placed((*rays)->pointOf(*hit, Vec3::UnitZ()).position);
}

void CarryView::wheelEvent(QWheelEvent* event) {
  CarryLook look = look_;
  look.nearer =
      std::clamp(look.nearer * std::pow(0.999f, static_cast<float>(event->angleDelta().y())), 0.02f, 4.f);
  emit looked(look);
}

}  // namespace juvenor::app

#include "moc_carry_view.cpp"
