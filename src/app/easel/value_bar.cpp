#include "app/easel/value_bar.h"

#include <QHBoxLayout>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/controls/value_slider.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {
constexpr int kPicture = 150;  // width of the histogram
}

ValueBar::ValueBar(QWidget* parent) : QWidget(parent) {
  setObjectName("value bar");
  setFixedSize(430, 58);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 8, kPicture + 24, 8);
  row->setSpacing(16);
  steps_ = new ValueSlider(tr("Steps"), {1, 9, 1, "", false, 0});
  steps_->setToolTip(tr("Cuts the values into 2 to 9 steps of grey; 1 leaves them smooth"));
  squint_ = new ValueSlider(tr("Squint"), {0, 40, 1, "px", false, 0});
  squint_->setToolTip(tr("Blurs the picture, as half-closed eyes do, so that only big shapes are left"));
  steps_->show(1);
  row->addWidget(steps_);
  row->addWidget(squint_);
  for (ValueSlider* s : {steps_, squint_}) connect(s, &ValueSlider::changed, this, &ValueBar::tell);
  setToolTip(tr("How much of the sculpt is how bright, dark to light"));
}

void ValueBar::tell() {
  const int steps = static_cast<int>(std::lround(steps_->value()));
  emit changed({steps < 2 ? 0 : steps, static_cast<float>(squint_->value())});
}

void ValueBar::set(const ValueCheck& check) {
  steps_->show(std::max(1, check.steps));
  squint_->show(static_cast<double>(check.squint));
  tell();
}

void ValueBar::show(const ValueHistogram& histogram) {
  histogram_ = histogram;
  update();
}

void ValueBar::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  p.setBrush(QColor(0x38, 0x38, 0x38, 235));
  p.drawRoundedRect(rect(), 4, 4);
  const QRectF area(width() - kPicture - 12, 8, kPicture, height() - 16);
  p.setBrush(look::kWell);
  p.drawRect(area);
  const uint32_t most = std::max(1u, *std::ranges::max_element(histogram_));
  const double step = area.width() / static_cast<double>(histogram_.size());
  for (size_t i = 0; i < histogram_.size(); ++i) {
    const int grey = static_cast<int>(i) * 4;
    // the darkest bars keep apart from the ground
    p.setBrush(QColor(std::max(0x58, grey), std::max(0x58, grey), std::max(0x58, grey)));
    const double h = area.height() * std::sqrt(static_cast<double>(histogram_[i]) / most);
    p.drawRect(QRectF(area.left() + static_cast<double>(i) * step, area.bottom() - h, step + 0.2, h));
  }
}

}  // namespace juvenor::app
