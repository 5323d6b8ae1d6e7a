#include "app/mixer/mixer.h"

#include <QHBoxLayout>
#include <QIntValidator>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>
#include <cmath>

#include "app/style/style.h"

namespace juvenor::app {
namespace {
constexpr float kMostChroma = 0.26f;
constexpr int kWells = 10;
}  // namespace

ColorField2D::ColorField2D(Kind kind) : kind_(kind) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(kind == Kind::Hue ? tr("Hue") : tr("Chroma and lightness"));
  setToolTip(kind == Kind::Hue
                 ? tr("Hue, in degrees")
                 : tr("Chroma across, lightness up; the line is the edge of what the screen can show"));
}

void ColorField2D::show(const Oklch& color) {
  color_ = color;
  update();
}

Oklch ColorField2D::at(double x, double y) const {
  const double u = std::clamp(x / width(), 0.0, 1.0), v = std::clamp(1 - y / height(), 0.0, 1.0);
  if (kind_ == Kind::Hue) return {color_.l, color_.c, static_cast<float>(u * 360)};
  return {static_cast<float>(v), static_cast<float>(u) * kMostChroma, color_.h};
}

void ColorField2D::redraw() {
  image_ = QImage(size(), QImage::Format_RGB32);
  for (int y = 0; y < height(); ++y)
    for (int x = 0; x < width(); ++x) {
      Oklch c = at(x + 0.5, y + 0.5);
      if (kind_ == Kind::Hue) c = {0.7f, 0.12f, c.h};
      const LinearColor linear = fromOklab(fromOklch(c));
      QColor shown = toQColor(toEncoded(c));
      // beyond the edge only a hint of the nearest colour
      if (kind_ == Kind::ChromaLightness && !insideSrgb(linear)) shown = QColor(0x38, 0x38, 0x38);
      image_.setPixelColor(x, y, shown);
    }
  drawnHue_ = color_.h;
}

void ColorField2D::paintEvent(QPaintEvent*) {
  if (image_.size() != size() || (kind_ == Kind::ChromaLightness && drawnHue_ != color_.h)) redraw();
  QPainter p(this);
  p.drawImage(0, 0, image_);
  p.setRenderHint(QPainter::Antialiasing);
  const double x = kind_ == Kind::Hue ? color_.h / 360.0 * width() : color_.c / kMostChroma * width();
  const double y = kind_ == Kind::Hue ? height() / 2.0 : (1 - color_.l) * height();
  const double r = kind_ == Kind::Hue ? 5 : 6;
  p.setPen(QPen(QColor(20, 20, 20, 180), 3.2));
  p.drawEllipse(QPointF(x, y), r, r);
  p.setPen(QPen(Qt::white, 1.8));
  p.drawEllipse(QPointF(x, y), r, r);
  if (hasFocus()) {
    p.setPen(QPen(look::kAccent, 2));
    p.drawRect(rect().adjusted(1, 1, -1, -1));
  }
}

void ColorField2D::mousePressEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton)) return;
  color_ = at(event->position().x(), event->position().y());
  emit chosen(color_);
  update();
}

void ColorField2D::keyPressEvent(QKeyEvent* event) {
  Oklch c = color_;
  const float sign = event->key() == Qt::Key_Left || event->key() == Qt::Key_Down ? -1.f : 1.f;
  const bool across = event->key() == Qt::Key_Left || event->key() == Qt::Key_Right;
  const bool upward = event->key() == Qt::Key_Up || event->key() == Qt::Key_Down;
  if (!across && !upward) return QWidget::keyPressEvent(event);
  if (kind_ == Kind::Hue)
    c.h = std::fmod(c.h + 2 * sign + 360, 360.f);
  else if (across)
    c.c = std::clamp(c.c + 0.004f * sign, 0.f, kMostChroma);
  else
    c.l = std::clamp(c.l + 0.01f * sign, 0.f, 1.f);
  color_ = c;
  emit chosen(c);
  update();
}

Mixer::Mixer(Session& session) : session_(session) {
  setFixedHeight(262);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 8, 14, 8);
  column->setSpacing(8);
  auto* head = new QHBoxLayout;
  auto* title = new QLabel(tr("Mixer"));
  title->setProperty("title", true);
  auto* kind = new QLabel(tr("free colour"));
  kind->setProperty("quiet", true);
  head->addWidget(title);
  head->addStretch();
  head->addWidget(kind);
  column->addLayout(head);
  field_ = new ColorField2D(ColorField2D::Kind::ChromaLightness);
  field_->setFixedSize(176, 120);
  hue_ = new ColorField2D(ColorField2D::Kind::Hue);
  hue_->setFixedSize(176, 16);
  column->addWidget(field_);
  column->addWidget(hue_);
  auto* numbers = new QHBoxLayout;
  numbers->setSpacing(4);
  hex_ = new QLineEdit;
  hex_->setObjectName("hex");
  hex_->setFixedWidth(72);
  hex_->setToolTip(tr("The colour as hex, sRGB"));
  numbers->addWidget(hex_);
  numbers->addStretch();
  for (int i = 0; i < 3; ++i) {
    rgb_[i] = new QLineEdit;
    rgb_[i]->setFixedWidth(40);
    rgb_[i]->setValidator(new QIntValidator(0, 255, rgb_[i]));
    rgb_[i]->setToolTip(QStringList{tr("Red, 0 to 255"), tr("Green, 0 to 255"), tr("Blue, 0 to 255")}[i]);
    auto* l = new QLabel(QStringList{"R", "G", "B"}[i]);
    l->setProperty("quiet", true);
    numbers->addWidget(l);
    numbers->addWidget(rgb_[i]);
    connect(rgb_[i], &QLineEdit::editingFinished, this, [this] {
      session_.tools().setColor({rgb_[0]->text().toFloat() / 255, rgb_[1]->text().toFloat() / 255,
                                 rgb_[2]->text().toFloat() / 255});
    });
  }
  column->addLayout(numbers);
  column->addStretch();
  connect(hex_, &QLineEdit::editingFinished, this, [this] {
    if (const auto c = fromHex(hex_->text().trimmed().toStdString()))
      session_.tools().setColor(*c);
    else
      refresh();
  });
  connect(field_, &ColorField2D::chosen, this, &Mixer::choose);
  connect(hue_, &ColorField2D::chosen, this, &Mixer::choose);
  connect(&session_.tools(), &Tools::changed, this, &Mixer::refresh);
  connect(&session_, &Session::documentChanged, this, QOverload<>::of(&QWidget::update));
  setToolTip(tr("Click a well to take its colour; right click puts the current colour into it"));
  refresh();
}

void Mixer::choose(const Oklch& color) {
  color_ = color;
  session_.tools().setColor(toEncoded(color));
}

void Mixer::refresh() {
  const EncodedColor& c = session_.tools().color();
  const Oklch shown = toOklch(c);
  // a grey has no hue of its own: the one chosen stays
  const float hue = shown.c < 0.004f ? color_.h : shown.h;
  const EncodedColor mine = toEncoded(color_);
  if (std::abs(mine.r - c.r) + std::abs(mine.g - c.g) + std::abs(mine.b - c.b) > 0.004f)
    color_ = {shown.l, shown.c, hue};
  field_->show(color_);
  hue_->show(color_);
  hex_->setText(QString::fromStdString(toHex(c)));
  const float channels[3] = {c.r, c.g, c.b};
  for (int i = 0; i < 3; ++i) rgb_[i]->setText(QString::number(std::lround(channels[i] * 255)));
  update();
}

QRect Mixer::wellRect(int index) const {
  const int span = (width() - 28) / kWells;
  return {14 + index * span + (span - 20) / 2, height() - 34, 20, 20};
}

void Mixer::keepWell(int index) {
  if (!session_.isOpen()) return;
  Document d = session_.document();
  d.wells.resize(std::max<size_t>(d.wells.size(), static_cast<size_t>(index) + 1), session_.tools().color());
  d.wells[static_cast<size_t>(index)] = session_.tools().color();
  session_.apply(std::move(d), tr("Keep colour in a well"));
}

void Mixer::mousePressEvent(QMouseEvent* event) {
  for (int i = 0; i < kWells; ++i) {
    if (!wellRect(i).adjusted(-2, -2, 2, 2).contains(event->pos())) continue;
    if (event->button() == Qt::RightButton) return keepWell(i);
    if (session_.isOpen() && static_cast<size_t>(i) < session_.document().wells.size())
      session_.tools().setColor(session_.document().wells[static_cast<size_t>(i)]);
  }
  if (QRect(width() - 14 - 66, field_->y() + 64, 66, 28).contains(event->pos()))
    session_.tools().setColor(session_.tools().previousColor());
}

void Mixer::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  const int x = width() - 14 - 66, top = field_->y();
  p.setBrush(toQColor(session_.tools().color()));
  p.drawRoundedRect(QRectF(x, top, 66, 62), 3, 3);
  p.setBrush(toQColor(session_.tools().previousColor()));
  p.drawRoundedRect(QRectF(x, top + 64, 66, 28), 3, 3);
  p.setPen(look::kQuiet);
  QFont small = font();
  small.setPixelSize(11);
  p.setFont(small);
  p.drawText(
      QRect(x, top + 96, 66, 46), Qt::AlignLeft | Qt::TextWordWrap,
      tr("L %1\nC %2\nh %3°").arg(color_.l, 0, 'f', 2).arg(color_.c, 0, 'f', 3).arg(color_.h, 0, 'f', 0));
  if (!session_.isOpen()) return;
  const auto& wells = session_.document().wells;
  for (int i = 0; i < kWells; ++i) {
    p.setPen(QPen(QColor(0x2a, 0x2a, 0x2a), 1));
    p.setBrush(static_cast<size_t>(i) < wells.size() ? toQColor(wells[static_cast<size_t>(i)]) : look::kWell);
    p.drawEllipse(wellRect(i));
  }
}

}  // namespace juvenor::app
