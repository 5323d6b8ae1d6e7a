#include "app/controls/channel_grid.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "app/controls/spoken.h"
#include "app/session/words.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {

// Pixels across which a drag goes from one end of a value to the other.
constexpr float kWholeDrag = 160;

}  // namespace

void drawChannelSign(QPainter& p, Channel channel, const QRectF& place, const QColor& ink) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(ink, 1.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.setBrush(Qt::NoBrush);
  const QRectF r = place.adjusted(1, 1, -1, -1);
  switch (channel) {
    case Channel::Color:
      p.drawEllipse(r);
      break;
    case Channel::Gloss:
      p.drawEllipse(r);
      p.setPen(Qt::NoPen);
      p.setBrush(ink);
      p.drawEllipse(r.center() + QPointF(0.16 * r.width(), -0.18 * r.height()), 0.17 * r.width(),
                    0.17 * r.height());
      break;
    case Channel::Metal:
      p.drawPolygon(QPolygonF(
          {QPointF(r.center().x(), r.top()), QPointF(r.right(), r.bottom()), QPointF(r.left(), r.bottom())}));
      break;
    case Channel::Glow: {
      // rays around a core
      for (int i = 0; i < 8; ++i) {
        const QPointF way(std::cos(i * M_PI / 4), std::sin(i * M_PI / 4));
        p.drawLine(r.center() + 0.34 * r.width() * way, r.center() + 0.5 * r.width() * way);
      }
      p.setBrush(ink);
      p.setPen(Qt::NoPen);
      p.drawEllipse(r.center(), 0.2 * r.width(), 0.2 * r.height());
      break;
    }
    case Channel::Wander: {
      // a ray that goes in, wanders and comes out
      p.drawLine(QPointF(r.left(), r.center().y() - 1), QPointF(r.right(), r.center().y() - 1));
      QPainterPath way(QPointF(r.left() + 2, r.top()));
      way.lineTo(r.center().x() - 2, r.center().y() + 0.2 * r.height());
      way.cubicTo(r.center().x() - 1, r.bottom(), r.center().x() + 2, r.bottom(), r.right() - 2, r.top() + 1);
      p.drawPath(way);
      break;
    }
    case Channel::Coat: {
      // a drop
      QPainterPath drop(QPointF(r.center().x(), r.top()));
      drop.cubicTo(r.right() + 1, r.center().y(), r.right() - 1, r.bottom(), r.center().x(), r.bottom());
      drop.cubicTo(r.left() + 1, r.bottom(), r.left() - 1, r.center().y(), r.center().x(), r.top());
      p.drawPath(drop);
      break;
    }
    case Channel::Fuzz:
      p.drawLine(r.bottomLeft(), r.bottomRight());
      for (int i = 0; i < 4; ++i) {
        const double x = r.left() + (0.12 + 0.25 * i) * r.width();
        p.drawLine(QPointF(x, r.bottom()), QPointF(x + 0.18 * r.width(), r.top() + (i % 2 == 0 ? 1 : 4)));
      }
      break;
    case Channel::Relief: {
      QPainterPath hill(QPointF(r.left(), r.bottom() - 1));
      hill.cubicTo(r.center().x() - 1, r.bottom() - 1, r.center().x() - 2, r.top() + 1, r.center().x(),
                   r.top() + 1);
      hill.cubicTo(r.center().x() + 2, r.top() + 1, r.center().x() + 1, r.bottom() - 1, r.right(),
                   r.bottom() - 1);
      p.drawPath(hill);
      break;
    }
  }
  p.restore();
}

ChannelButton::ChannelButton(Channel channel) : channel_(channel) {
  setCheckable(true);
  setFixedHeight(24);
  setFocusPolicy(Qt::StrongFocus);
  setAttribute(Qt::WA_Hover);
  const ChannelFacts& facts = factsOf(channel);
  setObjectName("lays " + QString::fromUtf8(facts.key));
  setAccessibleName(told(facts.label));
  QString tip = tr("%1. Press to switch it on or off").arg(told(facts.does));
  if (hasValue()) tip += tr("; drag across to change its value, double click to type it");
  setToolTip(tip);
  Spoken spoken{QAccessible::CheckBox, [this] { return text(); }};
  if (hasValue()) {
    spoken.number = [this] { return static_cast<double>(value_); };
    spoken.set = [this](double value) {
      setValue(static_cast<float>(value));
      emit settled();
    };
    spoken.range = [this] {
      return isHeight() ? std::pair(-static_cast<double>(scale_.reach), static_cast<double>(scale_.reach))
                        : std::pair(0.0, 1.0);
    };
  }
  speak(this, std::move(spoken));
}

void ChannelButton::show(bool on, float value, const EncodedColor& color, const HeightScale& scale) {
  setChecked(on);
  value_ = value;
  color_ = color;
  scale_ = scale;
  update();
}

QString ChannelButton::text() const {
  if (!hasValue()) return {};
  if (!isHeight()) return QString("%1 %").arg(std::lround(100 * value_));
  const QString sign = value_ < 0 ? "−" : "+";
  return sign + shortLength(std::abs(value_), scale_.millimetres);
}

void ChannelButton::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const bool on = isChecked();
  const int lighter = underMouse() && isEnabled() ? 8 : 0;
  const int grey = (on ? 0x6d : 0x4a) + lighter - (isDown() ? 16 : 0);
  p.setOpacity(isEnabled() ? 1 : 0.4);
  p.setPen(hasFocus() ? QPen(look::kAccent, 1.2) : QPen(Qt::NoPen));
  p.setBrush(QColor(grey, grey, grey));
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
  const QColor ink = on ? QColor(Qt::white) : look::kQuiet;
  const QRectF sign(7, height() / 2.0 - 6, 12, 12);
  if (channel_ == Channel::Color && on) {
    p.setPen(QPen(ink, 1.2));
    p.setBrush(toQColor(color_));
    p.drawEllipse(sign.adjusted(1, 1, -1, -1));
  } else {
    drawChannelSign(p, channel_, sign, ink);
  }
  QFont small = font();
  small.setPixelSize(12);
  p.setFont(small);
  p.setPen(ink);
  const QRect words = rect().adjusted(25, 0, -7, 0);
  p.drawText(words, Qt::AlignLeft | Qt::AlignVCenter, told(factsOf(channel_).label));
  p.drawText(words, Qt::AlignRight | Qt::AlignVCenter, on ? text() : QString(hasValue() ? "—" : ""));
}

void ChannelButton::setValue(float value) {
  const float low = isHeight() ? -scale_.reach : 0, high = isHeight() ? scale_.reach : 1;
  value = std::clamp(value, low, high);
  if (value == value_) return;
  value_ = value;
  update();
  tellValue(this);
  emit valueChanged(value);
}

void ChannelButton::mousePressEvent(QMouseEvent* event) {
  pressed_ = event->position();
  from_ = value_;
  dragged_ = false;
  QAbstractButton::mousePressEvent(event);
}

void ChannelButton::mouseMoveEvent(QMouseEvent* event) {
  const double way = event->position().x() - pressed_.x();
  if (!(event->buttons() & Qt::LeftButton) || !hasValue()) return QAbstractButton::mouseMoveEvent(event);
  if (!dragged_ && std::abs(way) < 5) return;
  if (!std::exchange(dragged_, true) && !isChecked()) {
    setChecked(true);
    emit clicked(true);
  }
  const float range = isHeight() ? 2 * scale_.reach : 1;
  setValue(from_ + range * static_cast<float>(way) / kWholeDrag);
}

void ChannelButton::mouseReleaseEvent(QMouseEvent* event) {
  if (!std::exchange(dragged_, false)) return QAbstractButton::mouseReleaseEvent(event);
  setDown(false);
  emit settled();
}

void ChannelButton::mouseDoubleClickEvent(QMouseEvent* event) {
  if (!hasValue()) return QAbstractButton::mouseDoubleClickEvent(event);
  // the first of the two presses has switched it; who types a value wants it on
  if (!isChecked()) {
    setChecked(true);
    emit clicked(true);
  }
  type();
}

void ChannelButton::keyPressEvent(QKeyEvent* event) {
  const float range = isHeight() ? 2 * scale_.reach : 1;
  const bool up = event->key() == Qt::Key_Up, down = event->key() == Qt::Key_Down;
  if (hasValue() && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)) return type();
  if (!hasValue() || !(up || down)) return QAbstractButton::keyPressEvent(event);
  setValue(value_ + (up ? 0.05f : -0.05f) * range);
  emit settled();
}

void ChannelButton::type() {
  if (edit_) return;
  edit_ = new QLineEdit(this);
  edit_->setGeometry(width() - 78, 1, 76, height() - 2);
  edit_->setAlignment(Qt::AlignRight);
  edit_->setAccessibleName(accessibleName());
  edit_->setText(isHeight() ? QString::number(static_cast<double>(value_ * scale_.millimetres), 'g', 3)
                            : QString::number(std::lround(100 * value_)));
  edit_->selectAll();
  edit_->show();
  edit_->setFocus();
  connect(edit_, &QLineEdit::editingFinished, this, [this] {
    if (!edit_) return;
    QLineEdit* typed = std::exchange(edit_, nullptr);
    bool ok = false;
    QString figures = typed->text();
    for (const QString& unit : {QString("mm"), QString("%")}) figures.remove(unit);
    const float number = figures.trimmed().replace(',', '.').replace("−", "-").toFloat(&ok);
    typed->deleteLater();
    if (!ok) return;
    setValue(isHeight() ? number / scale_.millimetres : number / 100);
    emit settled();
  });
}

ChannelGrid::ChannelGrid(int columns, QWidget* title)
    : columns_(columns),
      title_(title),
      grid_(new QGridLayout(this)),
      more_(new QPushButton(tr("more"), this)) {
  grid_->setContentsMargins(0, 0, 0, 0);
  grid_->setSpacing(4);
  more_->setObjectName("more channels");
  more_->setToolTip(tr("Shows the channels that are seldom wanted: glow, wander, coat, fuzz"));
  more_->setCheckable(true);
  more_->setFixedHeight(24);
  more_->setStyleSheet("padding: 0 6px; font-size: 12px;");
  connect(more_, &QPushButton::toggled, this, &ChannelGrid::layOut);
  for (size_t i = 0; i < kChannelCount; ++i) {
    auto* b = buttons_[i] = new ChannelButton(static_cast<Channel>(i));
    b->setParent(this);
    connect(b, &QAbstractButton::clicked, this, [this, b](bool on) { emit toggled(b->channel(), on); });
    connect(b, &ChannelButton::valueChanged, this, [this, b](float v) { emit changed(b->channel(), v); });
    connect(b, &ChannelButton::settled, this, &ChannelGrid::settled);
  }
  for (int c = 0; c < columns; ++c) grid_->setColumnStretch(c, 1);
  layOut();
}

bool ChannelGrid::wanted(const ChannelButton& button) const {
  return more_->isChecked() || button.isChecked() || button.channel() <= Channel::Metal;
}

void ChannelGrid::layOut() {
  int place = 0;
  const auto put = [&](QWidget* widget) {
    grid_->addWidget(widget, place / columns_, place % columns_);
    ++place;
  };
  if (title_) put(title_);
  for (ChannelButton* b : buttons_) {
    grid_->removeWidget(b);
    const bool shown = wanted(*b);
    if (shown) put(b);
    b->setVisible(shown);
  }
  grid_->removeWidget(more_);
  put(more_);
}

void ChannelGrid::show(ChannelSet on, const EncodedColor& color,
                       const std::array<float, kChannelCount>& values, const HeightScale& scale) {
  for (ChannelButton* b : buttons_)
    b->show(on.has(b->channel()), values[static_cast<size_t>(b->channel())], color, scale);
  if (std::ranges::any_of(buttons_, [&](const ChannelButton* b) { return b->isHidden() == wanted(*b); }))
    layOut();
}

}  // namespace juvenor::app

#include "moc_channel_grid.cpp"
