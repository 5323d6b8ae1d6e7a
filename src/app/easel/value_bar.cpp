#include "app/easel/value_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QSpinBox>
#include <algorithm>
#include <cmath>

#include "app/style/style.h"

namespace juvenor::app {
namespace {
constexpr int kPicture = 128;  // width of the histogram
}

ValueBar::ValueBar() {
  setObjectName("value bar");
  setFixedSize(340, 24);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, kPicture + 8, 0);
  row->setSpacing(5);
  const auto number = [&](const QString& name, const QString& tip, int low, int high, const QString& unit) {
    auto* label = new QLabel(name);
    label->setProperty("quiet", true);
    auto* box = new QSpinBox;
    box->setRange(low, high);
    box->setSuffix(unit);
    box->setToolTip(tip);
    box->setAccessibleName(name);
    box->setFixedSize(62, 22);
    row->addWidget(label);
    row->addWidget(box);
    connect(box, &QSpinBox::valueChanged, this, &ValueBar::tell);
    return box;
  };
  steps_ =
      number(tr("Steps"), tr("Cuts the values into 2 to 9 steps of grey; 1 leaves them smooth"), 1, 9, {});
  squint_ =
      number(tr("Squint"), tr("Blurs the picture, as half-closed eyes do, so that only big shapes are left"),
             0, 40, tr(" px"));
  setToolTip(tr("How much of the sculpt is how bright, dark to light"));
}

void ValueBar::tell() {
  const int steps = steps_->value();
  emit changed({steps < 2 ? 0 : steps, static_cast<float>(squint_->value())});
}

void ValueBar::set(const ValueCheck& check) {
  steps_->setValue(std::max(1, check.steps));
  squint_->setValue(static_cast<int>(std::lround(check.squint)));
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
  const QRectF area(width() - kPicture, 1, kPicture, height() - 2);
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

#include "moc_value_bar.cpp"
