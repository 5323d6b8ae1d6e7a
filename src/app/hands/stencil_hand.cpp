#include "app/hands/stencil_hand.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <cmath>

#include "app/controls/stamp_menu.h"
#include "app/controls/value_slider.h"
#include "core/brush/stencil.h"

namespace juvenor::app {
namespace {

constexpr float kMostLaid = 3000;  // pixels across up to which the held picture is kept as it lies

constexpr float kCornerReach = 14;  // pixels around the corner's grip
constexpr int kMostPixels = 1024;   // of the image that is drawn

}  // namespace

StencilHand::StencilHand(Session& session) : session_(session), controls_(new HandControls("stencil bar")) {
  controls_->addPicture();
  dim_ = new ValueSlider(tr("Dim"), {0.05, 0.9, 100, "%", false, 0});
  dim_->setToolTip(tr("How strongly the stencil is seen; paint goes through it all the same"));
  dim_->setFixedWidth(110);
  dim_->show(0.45);
  controls_->row().addWidget(dim_);
  colors_ = controls_->addButton("stencil colours", tr("Its colours"),
                                 tr("Lays the picture's own colours in place of the mixer's"));
  inverted_ =
      controls_->addButton("stencil inverted", tr("Inverted"), tr("Paint goes where the picture is not"));
  show_ =
      controls_->addButton("stencil shown", tr("Held"), tr("Shows the stencil, or puts it aside (Shift+D)"));
  for (QPushButton* b : {colors_, inverted_, show_}) b->setCheckable(true);
  show_->setChecked(true);
  connect(dim_, &ValueSlider::changed, this, &StencilHand::changed);
  for (QPushButton* b : {colors_, inverted_})
    connect(b, &QPushButton::toggled, this, [this] {
      makeImage();
      emit changed();
    });
  connect(show_, &QPushButton::toggled, this, &StencilHand::setShown);
  connect(controls_, &HandControls::pictureWanted, this, [this] {
    const ChosenStamp chosen = askStamp(controls_, controls_->mapToGlobal(QPoint(0, -10)));
    if (!chosen.trouble.isEmpty()) session_.say(chosen.trouble, true);
    if (chosen.stamp) take(chosen.stamp);
  });
  connect(&session_.tools(), &Tools::changed, this, &StencilHand::refresh);
  refresh();
}

void StencilHand::refresh() {
  controls_->showPicture(picture_);
  colors_->setEnabled(picture_ && picture_->hasColor());
  for (QWidget* w : {static_cast<QWidget*>(inverted_), static_cast<QWidget*>(show_)})
    w->setEnabled(picture_ != nullptr);
}

void StencilHand::take(const StampPointer& picture) {
  picture_ = picture;
  shown_ = true;
  middle_ = {0.5f * static_cast<float>(size_.width), 0.5f * static_cast<float>(size_.height)};
  half_ = 0.3f * static_cast<float>(std::min(size_.width, size_.height));
  turn_ = 0;
  colors_->setChecked(picture->hasColor());
  show_->setChecked(true);
  makeImage();
  refresh();
  emit changed();
}

void StencilHand::setShown(bool shown) {
  if (shown_ == shown) return;
  shown_ = shown;
  show_->setChecked(shown);
  emit changed();
}

// As it lets paint through: the shape in black, or its colours.
void StencilHand::makeImage() {
  if (!picture_) return;
  const int longest = std::max(picture_->width(), picture_->height());
  const float shrink = std::min(1.f, static_cast<float>(kMostPixels) / static_cast<float>(longest));
  const int width = std::max(1, static_cast<int>(shrink * static_cast<float>(picture_->width()))),
            height = std::max(1, static_cast<int>(shrink * static_cast<float>(picture_->height())));
  const float unit = 2 / static_cast<float>(std::max(width, height));
  image_ = QImage(width, height, QImage::Format_ARGB32);
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) {
      const Vec2 at((static_cast<float>(x) + 0.5f - 0.5f * static_cast<float>(width)) * unit,
                    (0.5f * static_cast<float>(height) - static_cast<float>(y) - 0.5f) * unit);
      const StampValue v = picture_->at(at, unit);
      const float shape = inverted_->isChecked() ? 1 - v.shape : v.shape;
      const EncodedColor ink = colors_->isChecked() && picture_->hasColor() ? v.color : EncodedColor{};
      const auto byte = [](float f) { return static_cast<int>(std::lround(255 * std::clamp(f, 0.f, 1.f))); };
      image_.setPixel(x, y, qRgba(byte(ink.r), byte(ink.g), byte(ink.b), byte(shape)));
    }
}

Vec2 StencilHand::corner() const {
  const float longest = static_cast<float>(std::max(picture_->width(), picture_->height()));
  const Vec2 at(static_cast<float>(picture_->width()) / longest,
                -static_cast<float>(picture_->height()) / longest);
  return middle_ + half_ * (Eigen::Rotation2Df(-turn_) * at);
}

bool StencilHand::press(const Viewing&, const Vec2& pixel) {
  if (!picture_ || !shown_) {
    session_.say(picture_ ? tr("The stencil is put aside; Held, or Shift+D, takes it up again.")
                          : tr("Choose a picture for the stencil below, or drop one on the easel."));
    return true;
  }
  held_ = pixel - middle_;
  grip_ = (corner() - pixel).norm() < kCornerReach ? Grip::Corner : Grip::Middle;
  return true;
}

void StencilHand::drag(const Viewing&, const Vec2& pixel) {
  if (grip_ == Grip::Middle) {
    middle_ = pixel - held_;
  } else if (grip_ == Grip::Corner) {
    const Vec2 now = pixel - middle_, before = corner() - middle_;
    if (now.norm() < 8) return;
    half_ = std::clamp(half_ * now.norm() / before.norm(), 8.f, 20000.f);
    turn_ += std::atan2(before.y(), before.x()) - std::atan2(now.y(), now.x());
  }
  emit changed();
}

void StencilHand::drawPicture(QPainter& painter, double scale) const {
  if (!shown()) return;
  const QPointF middle = QPointF(middle_.x(), middle_.y()) / scale;
  const double factor = 2 * static_cast<double>(half_) / scale / std::max(image_.width(), image_.height());
  const QTransform place = QTransform().rotate(static_cast<double>(-turn_) * 57.29578).scale(factor, factor);
  painter.save();
  painter.setOpacity(dim_->value());
  if (2 * half_ > kMostLaid) {
    // what is far larger than the easel is drawn where it is seen alone
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.translate(middle);
    painter.setTransform(place, true);
    painter.drawImage(QPointF(-0.5 * image_.width(), -0.5 * image_.height()), image_);
  } else {
    if (laid_.image != image_.cacheKey() || laid_.factor != factor || laid_.turn != turn_)
      laid_ = {image_.cacheKey(), factor, turn_,
               QPixmap::fromImage(image_.transformed(place, Qt::SmoothTransformation))};
    painter.drawPixmap(middle - QRectF(laid_.pixels.rect()).center(), laid_.pixels);
  }
  painter.restore();
}

void StencilHand::draw(QPainter& painter, const Viewing&, double scale) const {
  drawPicture(painter, scale);
  if (!shown()) return;
  const float longest = static_cast<float>(std::max(picture_->width(), picture_->height()));
  const Vec2 side(static_cast<float>(picture_->width()) / longest,
                  static_cast<float>(picture_->height()) / longest);
  QPolygonF outline;
  for (const auto& [i, j] : {std::pair(-1.f, -1.f), {1, -1}, {1, 1}, {-1, 1}, {-1, -1}}) {
    const Vec2 p = middle_ + half_ * (Eigen::Rotation2Df(-turn_) * Vec2(i * side.x(), j * side.y()));
    outline << QPointF(p.x(), p.y()) / scale;
  }
  drawOutline(painter, outline, true);
  drawGrip(painter, QPointF(corner().x(), corner().y()) / scale, grip_ == Grip::Corner);
}

std::shared_ptr<const Stencil> StencilHand::stencil(const Viewing& viewing) const {
  if (!shown()) return nullptr;
  auto out = std::make_shared<Stencil>();
  out->picture = picture_;
  out->ownColors = colors_->isChecked();
  out->inverted = inverted_->isChecked();
  // from pixels, y down, to the picture's own x and y
  Eigen::Matrix3f place;
  const float c = std::cos(turn_) / half_, s = std::sin(turn_) / half_;
  place << c, -s, -c * middle_.x() + s * middle_.y(),  //
      -s, -c, s * middle_.x() + c * middle_.y(),       //
      0, 0, 1;
  out->toPicture = place * projection(viewing.camera, viewing.size);
  return out;
}

}  // namespace juvenor::app

#include "moc_stencil_hand.cpp"
