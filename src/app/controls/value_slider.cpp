#include "app/controls/value_slider.h"

#include <QApplication>
#include <QKeyEvent>
#include <QLineEdit>
#include <QLineF>
#include <QMouseEvent>
#include <QPainter>
#include <QTimer>
#include <cmath>

#include "app/controls/spoken.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {
constexpr int kGroove = 27;  // middle of the groove, from the top
constexpr int kKnob = 7;
constexpr int kTrack = 17;  // where the groove's part begins; above stand the name and the number
}  // namespace

ValueSlider::ValueSlider(const QString& label, const Scale& scale, QWidget* parent)
    : QWidget(parent), label_(label), scale_(scale) {
  setFocusPolicy(Qt::StrongFocus);
  setMinimumWidth(84);
  setFixedHeight(38);
  setAccessibleName(label);
  setAttribute(Qt::WA_Hover);
  const auto set = [this](double number) {
    show(number / scale_.factor);
    emit changed(value_);
    emit settled();
  };
  speak(this, {QAccessible::Slider, [this] { return text(); }, [this] { return value_ * scale_.factor; }, set,
               [this] { return std::pair(scale_.low * scale_.factor, scale_.high * scale_.factor); }});
}

void ValueSlider::setLabel(const QString& label) {
  label_ = label;
  setAccessibleName(label);
  update();
}

void ValueSlider::show(double value) {
  value_ = std::clamp(value, scale_.low, scale_.high);
  update();
  tellValue(this);
}

void ValueSlider::setScale(const Scale& scale) {
  scale_ = scale;
  show(value_);
}

double ValueSlider::place() const {
  if (scale_.logarithmic) return std::log(value_ / scale_.low) / std::log(scale_.high / scale_.low);
  return (value_ - scale_.low) / (scale_.high - scale_.low);
}

void ValueSlider::setPlace(double place) {
  const double t = std::clamp(place, 0.0, 1.0);
  value_ = scale_.logarithmic ? scale_.low * std::pow(scale_.high / scale_.low, t)
                              : scale_.low + t * (scale_.high - scale_.low);
  update();
  tellValue(this);
  emit changed(value_);
}

// What ranges over magnitudes has three figures, whatever its size.
QString ValueSlider::figures() const {
  const double number = value_ * scale_.factor, size = std::abs(number);
  int decimals = scale_.decimals;
  if (decimals > 0 && scale_.logarithmic) decimals = size >= 9.995 ? 1 : size >= 0.9995 ? 2 : 3;
  return QString::number(number, 'f', size >= 99.95 ? 0 : decimals);
}

QString ValueSlider::text() const {
  return figures() + (scale_.unit == "°" ? "" : " ") + scale_.unit;
}

void ValueSlider::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const bool on = isEnabled();
  p.setOpacity(on ? 1 : 0.4);
  p.setPen(look::kQuiet);
  const QFont usual = p.font();
  p.setFont(fitted(usual, label_, width() - p.fontMetrics().horizontalAdvance(text()) - 4));
  p.drawText(QRect(0, 2, width(), 16), Qt::AlignLeft | Qt::AlignVCenter, label_);
  p.setFont(usual);
  p.setPen(look::kText);
  p.drawText(QRect(0, 2, width(), 16), Qt::AlignRight | Qt::AlignVCenter, text());
  const QRectF groove(0, kGroove - 3, width(), 6);
  p.setPen(Qt::NoPen);
  p.setBrush(look::kWell);
  p.drawRoundedRect(groove, 3, 3);
  const double x = kKnob + std::clamp(place(), 0.0, 1.0) * (width() - 2 * kKnob);
  p.setBrush(QColor(0xc0, 0xc0, 0xc0));
  p.drawRoundedRect(QRectF(0, kGroove - 3, x, 6), 3, 3);
  p.setBrush(underMouse() && on ? QColor(255, 255, 255) : look::kText);
  if (hasFocus()) p.setPen(QPen(look::kAccent, 2));
  p.drawEllipse(QPointF(x, kGroove), kKnob - 0.5, kKnob - 0.5);
}

void ValueSlider::mousePressEvent(QMouseEvent* event) {
  setFocus();
  pressed_ = event->position();
  onTrack_ = event->position().y() > kTrack;
  if (onTrack_) mouseMoveEvent(event);
}

void ValueSlider::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton)) return;
  // a hand that shakes while it presses the number twice means no other value
  const double way = QLineF(pressed_, event->position()).length();
  if (!dragged_ && !onTrack_ && way < QApplication::startDragDistance()) return;
  dragged_ = true;
  setPlace((event->position().x() - kKnob) / (width() - 2 * kKnob));
}

void ValueSlider::mouseReleaseEvent(QMouseEvent*) {
  if (std::exchange(dragged_, false)) emit settled();
}

void ValueSlider::mouseDoubleClickEvent(QMouseEvent*) {
  type();
}

void ValueSlider::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? 0.1 : 0.01;
  if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Down)
    setPlace(place() - step);
  else if (event->key() == Qt::Key_Right || event->key() == Qt::Key_Up)
    setPlace(place() + step);
  else if (hasFocus() && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter))
    type();  // not the Return that just closed the line one types into
  else if (edit_ && event->key() == Qt::Key_Escape)
    return (void)typed();  // and everything stays
  else
    return QWidget::keyPressEvent(event);
  if (!edit_) emit settled();
}

void ValueSlider::type() {
  if (edit_) return;
  edit_ = new QLineEdit(figures(), this);
  edit_->setGeometry(width() / 2, 0, width() - width() / 2, 22);
  edit_->setAlignment(Qt::AlignRight);
  edit_->selectAll();
  edit_->QWidget::show();
  edit_->setFocus();
  connect(edit_, &QLineEdit::editingFinished, this, [this] {
    if (!edit_) return;
    bool ok = false;
    const double number = typed().remove(scale_.unit).replace(',', '.').trimmed().toDouble(&ok);
    if (!ok) return;
    show(number / scale_.factor);
    emit changed(value_);
    emit settled();
  });
}

// Ends typing. Keys go back to the easel: a letter typed next is a shortcut again.
QString ValueSlider::typed() {
  QLineEdit* edit = std::exchange(edit_, nullptr);
  const QString text = edit->text();
  if (QWidget* easel = window()->findChild<QWidget*>("easel"); easel && easel->isVisible())
    easel->setFocus();
  else
    QTimer::singleShot(0, this, [this] { setFocus(); });
  edit->deleteLater();
  return text;
}

}  // namespace juvenor::app

#include "moc_value_slider.cpp"
