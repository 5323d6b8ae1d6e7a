#include "app/easel/channel_bar.h"

#include <QButtonGroup>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>
#include <QToolButton>

#include "app/controls/channel_grid.h"
#include "app/session/words.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {

constexpr int kScaleWide = 150;

QPixmap signOf(Channel channel, const QColor& ink) {
  QPixmap out(32, 32);
  out.setDevicePixelRatio(2);
  out.fill(Qt::transparent);
  QPainter painter(&out);
  drawChannelSign(painter, channel, {2, 2, 12, 12}, ink);
  return out;
}

QToolButton* signButton(Channel channel) {
  auto* out = new QToolButton;
  QIcon icon(signOf(channel, look::kText));
  // a button that is pressed is light
  icon.addPixmap(signOf(channel, QColor(0x20, 0x20, 0x20)), QIcon::Normal, QIcon::On);
  out->setIcon(icon);
  out->setIconSize({16, 16});
  out->setCheckable(true);
  out->setFixedSize(26, 22);
  out->setStyleSheet("padding: 0;");
  out->setToolTip(told(factsOf(channel).label));
  out->setAccessibleName(out->toolTip());
  out->setObjectName("view " + QString::fromUtf8(factsOf(channel).key));
  return out;
}

}  // namespace

ChannelBar::ChannelBar() {
  setObjectName("channel bar");
  setFixedSize(566 + 27 * 3, 24);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, kScaleWide + 8, 0);
  row->setSpacing(3);
  channels_ = new QButtonGroup(this);
  for (size_t c = 0; c < kChannelCount; ++c) {
    auto* b = signButton(static_cast<Channel>(c));
    channels_->addButton(b, static_cast<int>(c));
    row->addWidget(b);
  }
  channels_->button(static_cast<int>(look_.channel))->setChecked(true);
  const auto toggle = [&](const char* name, const QString& text, const QString& tip) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    b->setToolTip(tip);
    b->setCheckable(true);
    b->setFixedHeight(22);
    b->setStyleSheet("padding: 0 6px; font-size: 11px;");
    b->setFixedWidth(b->fontMetrics().horizontalAdvance(text) + 14);
    row->addWidget(b);
    connect(b, &QPushButton::clicked, this, &ChannelBar::tell);
    return b;
  };
  falseColor_ =
      toggle("view false colour", tr("False colour"), tr("From blue over green to yellow; off: as grey"));
  own_ = toggle("view own", tr("Layer alone"),
                tr("What the active layer brings by itself, with its mask and as strongly as it shows"));
  height_ = new QDoubleSpinBox;
  height_->setRange(0, 1000);
  height_->setDecimals(3);
  height_->setSingleStep(0.01);
  height_->setPrefix("± ");
  height_->setSuffix(tr(" mm"));
  height_->setSpecialValueText(tr("± all"));
  height_->setToolTip(tr("The height either way the scale goes to; 0: to the highest there is"));
  height_->setAccessibleName(tr("Height of the scale"));
  height_->setFixedSize(92, 22);
  height_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  row->addWidget(height_);
  connect(channels_, &QButtonGroup::idClicked, this, &ChannelBar::tell);
  connect(height_, &QDoubleSpinBox::valueChanged, this, &ChannelBar::tell);
  height_->setEnabled(heights());
}

bool ChannelBar::own() const {
  return own_->isChecked();
}

bool ChannelBar::heights() const {
  return factsOf(look_.channel).rule == ChannelRule::Add;
}

void ChannelBar::tell() {
  look_.channel = static_cast<Channel>(channels_->checkedId());
  look_.falseColor = falseColor_->isChecked();
  look_.height = static_cast<float>(height_->value()) / millimetres_;
  height_->setEnabled(heights());
  falseColor_->setEnabled(look_.channel != Channel::Color);
  update();
  emit changed();
}

void ChannelBar::set(const ChannelLook& look, bool own) {
  channels_->button(static_cast<int>(look.channel))->setChecked(true);
  falseColor_->setChecked(look.falseColor);
  own_->setChecked(own);
  const QSignalBlocker quiet(height_);
  height_->setValue(static_cast<double>(look.height * millimetres_));
  tell();
}

void ChannelBar::showHeight(float height, float millimetres) {
  shownHeight_ = height;
  millimetres_ = millimetres;
  update();
}

// The scale with what its ends mean.
void ChannelBar::paintEvent(QPaintEvent*) {
  if (look_.channel == Channel::Color) return;
  QPainter p(this);
  QFont small = font();
  small.setPixelSize(11);
  p.setFont(small);
  QString low = tr("0"), high = tr("100 %");
  if (heights()) {
    const QString most = shortLength(shownHeight_, millimetres_);
    low = "−" + most;
    high = "+" + most;
  }
  const QFontMetrics metrics(small);
  const int lowWide = metrics.horizontalAdvance(low) + 5, highWide = metrics.horizontalAdvance(high) + 5;
  const QRect area(width() - kScaleWide + lowWide, 7, kScaleWide - lowWide - highWide, 10);
  for (int x = 0; x < area.width(); ++x) {
    const int step = 255 * x / std::max(1, area.width() - 1);
    const Rgba16& c = falseColors()[static_cast<size_t>(step)];
    p.setPen(look_.falseColor ? QColor(c.r >> 8, c.g >> 8, c.b >> 8) : QColor(step, step, step));
    p.drawLine(area.left() + x, area.top(), area.left() + x, area.bottom());
  }
  p.setPen(look::kText);
  p.drawText(QRect(width() - kScaleWide, 0, lowWide - 5, height()), Qt::AlignRight | Qt::AlignVCenter, low);
  p.drawText(QRect(area.right() + 5, 0, highWide, height()), Qt::AlignLeft | Qt::AlignVCenter, high);
}

}  // namespace juvenor::app

#include "moc_channel_bar.cpp"
