#include "app/board/picture_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>

#include "app/style/style.h"

namespace juvenor::app {

PictureView::PictureView(Session& session, uint32_t picture) : session_(session), picture_(picture) {
  setObjectName("board picture");
  setCursor(Qt::CrossCursor);
  setToolTip(
      tr("Press to pick a colour; wheel goes nearer, middle drag moves, double click fits; right click for "
         "more"));
  refresh();
}

const BoardPicture* PictureView::now() const {
  const auto& board = session_.document().board;
  const auto found = std::ranges::find(board, picture_, &BoardPicture::id);
  return found == board.end() ? nullptr : &*found;
}

void PictureView::refresh() {
  const BoardPicture* p = now();
  if (!p) return;
  centerX_ = p->centerX;
  centerY_ = p->centerY;
  nearer_ = p->nearer;
  setAccessibleName(QString::fromStdString(p->name));
  update();
}

QSize PictureView::sizeHint() const {
  const BoardPicture* p = now();
  const int w = 184;
  return {w, p ? std::clamp(w * p->data->height / std::max(1, p->data->width), 60, 240) : 120};
}

void PictureView::resizeEvent(QResizeEvent*) {
  small_ = {};
}

QRectF PictureView::shown() const {
  const BoardPicture* p = now();
  const double w = p->data->width, h = p->data->height;
  // the whole picture fits at nearer 1
  const double scale = std::max(w / width(), h / height()) / static_cast<double>(nearer_);
  const double seenW = width() * scale, seenH = height() * scale;
  return {static_cast<double>(centerX_) * w - seenW / 2, static_cast<double>(centerY_) * h - seenH / 2, seenW,
          seenH};
}

void PictureView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), look::kWell);
  const BoardPicture* picture = now();
  if (!picture) return;
  const PictureData& source = *picture->data;
  const QImage whole(reinterpret_cast<const uchar*>(source.pixels.data()), source.width, source.height,
                     source.width * 4, QImage::Format_ARGB32);
  if (drawn_ != picture->data || small_.isNull()) {
    small_ = whole.scaled(size() * 2, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    drawn_ = picture->data;
  }
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  const QRectF seen = shown();
  if (nearer_ <= 2.01f) {
    const double part = static_cast<double>(small_.width()) / source.width;
    p.drawImage(QRectF(rect()), small_, QRectF(seen.topLeft() * part, seen.size() * part));
  } else {
    p.drawImage(QRectF(rect()), whole, seen);
  }
}

void PictureView::look(float centerX, float centerY, float nearer) {
  nearer_ = std::clamp(nearer, 1.f, 64.f);
  centerX_ = std::clamp(centerX, 0.f, 1.f);
  centerY_ = std::clamp(centerY, 0.f, 1.f);
  update();
}

void PictureView::keep() {
  const BoardPicture* p = now();
  if (!p || (p->centerX == centerX_ && p->centerY == centerY_ && p->nearer == nearer_)) return;
  session_.lookAtPicture(picture_, centerX_, centerY_, nearer_);
}

void PictureView::pick(const QPointF& position) {
  const BoardPicture* p = now();
  if (!p) return;
  const QRectF seen = shown();
  const double x = seen.x() + position.x() / width() * seen.width(),
               y = seen.y() + position.y() / height() * seen.height();
  if (x < 0 || y < 0 || x >= p->data->width || y >= p->data->height) return;
  emit picked(meanColor(*p->data, static_cast<float>(x), static_cast<float>(y), averaging_));
}

void PictureView::mousePressEvent(QMouseEvent* event) {
  last_ = event->position();
  moved_ = false;
  if (event->button() == Qt::LeftButton) pick(event->position());
}

void PictureView::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() & Qt::LeftButton) return pick(event->position());
  if (!(event->buttons() & (Qt::MiddleButton | Qt::RightButton))) return;
  const QPointF drag = event->position() - last_;
  if (!moved_ && drag.manhattanLength() < 3) return;
  moved_ = true;
  last_ = event->position();
  const QRectF seen = shown();
  const PictureData& source = *now()->data;
  look(centerX_ - static_cast<float>(drag.x() / width() * seen.width() / source.width),
       centerY_ - static_cast<float>(drag.y() / height() * seen.height() / source.height), nearer_);
}

void PictureView::mouseReleaseEvent(QMouseEvent* event) {
  if (moved_)
    keep();
  else if (event->button() == Qt::RightButton)
    emit menuWanted(picture_, event->globalPosition().toPoint());
}

void PictureView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  look(0.5f, 0.5f, 1);
  keep();
}

void PictureView::wheelEvent(QWheelEvent* event) {
  event->accept();
  const float factor = std::pow(1.0016f, static_cast<float>(event->angleDelta().y()));
  const QRectF seen = shown();
  const PictureData& source = *now()->data;
  // the place under the pen stays where it is
  const double u = event->position().x() / width() - 0.5, v = event->position().y() / height() - 0.5;
  const float next = std::clamp(nearer_ * factor, 1.f, 64.f);
  const double kept = 1 - static_cast<double>(nearer_ / next);
  look(centerX_ + static_cast<float>(u * seen.width() / source.width * kept),
       centerY_ + static_cast<float>(v * seen.height() / source.height * kept), next);
  keep();
}

}  // namespace juvenor::app

#include "moc_picture_view.cpp"
