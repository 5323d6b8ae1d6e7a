#include "app/mixer/mixer.h"

#include <QApplication>
#include <QButtonGroup>
#include <QDrag>
#include <QDragEnterEvent>
#include <QHBoxLayout>
#include <QHelpEvent>
#include <QIntValidator>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QStackedWidget>
#include <QToolTip>
#include <QVBoxLayout>
#include <cmath>

#include "app/controls/spoken.h"
#include "app/controls/value_slider.h"
#include "app/mixer/color_field.h"
#include "app/mixer/tone_field.h"
#include "app/session/words.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {
constexpr int kWells = 10;
constexpr int kSide = 72;  // width of the swatches at the right
constexpr int kHeight = 306, kFolded = 76;
}  // namespace

Mixer::Mixer(Session& session) : session_(session) {
  setFixedHeight(kHeight);
  setAcceptDrops(true);
  setObjectName("mixer");
  setFocusPolicy(Qt::TabFocus);
  setAccessibleName(tr("Colours to take"));
  speak(this, {QAccessible::List, [this] { return words(); }});
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 8, 14, 8);
  column->setSpacing(6);
  column->addWidget(buildHead());
  column->addWidget(buildFields());
  numbers_ = buildNumbers();
  column->addWidget(numbers_);
  column->addStretch();
  connect(&session_.tools(), &Tools::changed, this, &Mixer::refresh);
  connect(&session_, &Session::documentChanged, this, QOverload<>::of(&QWidget::update));
  refresh();
}

QWidget* Mixer::buildHead() {
  auto* box = new QWidget;
  auto* head = new QHBoxLayout(box);
  head->setContentsMargins(0, 0, 0, 0);
  head->setSpacing(2);
  title_ = new QPushButton(tr("Mixer") + " ▼");
  title_->setObjectName("fold mixer");
  title_->setFlat(true);
  title_->setStyleSheet("QPushButton { padding: 2px 0; font-weight: 600; text-align: left; }");
  title_->setToolTip(tr("Folds the mixer to its wells, or opens it"));
  head->addWidget(title_);
  connect(title_, &QPushButton::clicked, this, [this] {
    foldedByHand_ = true;
    setFolded(!folded_);
  });
  head->addStretch();
  const auto way = [&](const QString& text, const QString& tip) {
    auto* b = new QPushButton(text);
    b->setCheckable(true);
    b->setToolTip(tip);
    b->setStyleSheet("padding: 2px 7px; font-size: 11px;");
    head->addWidget(b);
    return b;
  };
  skin_ = way(tr("Skin tone"), tr("Human skin, from melanin, blood and yellow"));
  free_ = way(tr("Free colour"), tr("Any colour, for creatures: hue, chroma and lightness"));
  grey_ = way(tr("Grey"), tr("Gives greys only, to lay values before hues"));
  auto* one = new QButtonGroup(this);
  one->addButton(skin_, 0);
  one->addButton(free_, 1);
  skin_->setChecked(true);
  connect(one, &QButtonGroup::idClicked, this, [this](int id) {
    ways_->setCurrentIndex(id);
    refresh();
  });
  connect(grey_, &QPushButton::clicked, this, [this](bool on) { session_.tools().setGreyLock(on); });
  return box;
}

QWidget* Mixer::buildFields() {
  ways_ = new QStackedWidget;
  const int width = 258 - kSide - 8;
  tones_ = new ToneField;
  tones_->setFixedSize(width, 88);
  yellow_ = new ValueSlider(tr("Yellow"), {0, 1, 100, "%", false, 0});
  yellow_->setToolTip(tr("Carotene and bilirubin: sallow, tanned, jaundiced"));
  yellow_->setFixedWidth(width);
  field_ = new ColorField2D(ColorField2D::Kind::ChromaLightness);
  field_->setFixedSize(width, 98);
  hue_ = new ColorField2D(ColorField2D::Kind::Hue);
  hue_->setFixedSize(width, 16);
  const auto page = [&](std::initializer_list<QWidget*> widgets) {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    for (QWidget* w : widgets) column->addWidget(w);
    column->addStretch();
    ways_->addWidget(box);
  };
  page({tones_, yellow_});
  page({field_, hue_});
  ways_->setFixedHeight(132);
  connect(tones_, &ToneField::chosen, this, &Mixer::chooseTone);
  connect(yellow_, &ValueSlider::changed, this, [this](double v) {
    SkinTone tone = tones_->tone();
    tone.yellow = static_cast<float>(v);
    chooseTone(tone);
  });
  connect(field_, &ColorField2D::chosen, this, &Mixer::choose);
  connect(hue_, &ColorField2D::chosen, this, &Mixer::choose);
  return ways_;
}

QWidget* Mixer::buildNumbers() {
  auto* box = new QWidget;
  auto* numbers = new QHBoxLayout(box);
  numbers->setContentsMargins(0, 0, 0, 0);
  numbers->setSpacing(4);
  hex_ = new QLineEdit;
  hex_->setObjectName("hex");
  hex_->setFixedWidth(72);
  hex_->setToolTip(tr("The colour as hex, sRGB"));
  hex_->setAccessibleName(hex_->toolTip());
  numbers->addWidget(hex_);
  numbers->addStretch();
  for (int i = 0; i < 3; ++i) {
    rgb_[i] = new QLineEdit;
    rgb_[i]->setFixedWidth(40);
    rgb_[i]->setValidator(new QIntValidator(0, 255, rgb_[i]));
    rgb_[i]->setToolTip(QStringList{tr("Red, 0 to 255"), tr("Green, 0 to 255"), tr("Blue, 0 to 255")}[i]);
    rgb_[i]->setAccessibleName(rgb_[i]->toolTip());
    auto* l = new QLabel(QStringList{"R", "G", "B"}[i]);
    l->setProperty("quiet", true);
    numbers->addWidget(l);
    numbers->addWidget(rgb_[i]);
    connect(rgb_[i], &QLineEdit::editingFinished, this, [this] {
      session_.tools().setColor({rgb_[0]->text().toFloat() / 255, rgb_[1]->text().toFloat() / 255,
                                 rgb_[2]->text().toFloat() / 255});
    });
  }
  connect(hex_, &QLineEdit::editingFinished, this, [this] {
    if (const auto c = fromHex(hex_->text().trimmed().toStdString()))
      session_.tools().setColor(*c);
    else
      refresh();
  });
  return box;
}

void Mixer::setFolded(bool folded) {
  if (folded_ == folded) return;
  folded_ = folded;
  title_->setText(tr("Mixer") + (folded ? " ▶" : " ▼"));
  for (QWidget* w : std::initializer_list<QWidget*>{skin_, free_, grey_, ways_, numbers_})
    w->setVisible(!folded);
  setFixedHeight(folded ? kFolded : kHeight);
  update();
}

void Mixer::makeRoom(int wanted) {
  if (foldedByHand_) return;
  // a few rows that are scrolled to are no reason
  constexpr int kFewRows = 100;
  if (!folded_ && wanted > kFewRows)
    setFolded(true);
  else if (folded_ && wanted + kHeight - kFolded <= kFewRows)
    setFolded(false);
}

void Mixer::choose(const Oklch& color) {
  color_ = color;
  session_.tools().setColor(toEncoded(color));
}

void Mixer::chooseTone(const SkinTone& tone) {
  tones_->show(tone);
  toneColor_ = colorOf(tone);
  toneDifference_ = 0;
  session_.tools().setColor(toneColor_);
}

void Mixer::refresh() {
  const EncodedColor& c = session_.tools().color();
  const Oklch shown = toOklch(c);
  // a grey has no hue of its own: the one chosen stays
  const float hue = shown.c < 0.004f ? color_.h : shown.h;
  const auto apart = [&](const EncodedColor& d) {
    return std::abs(d.r - c.r) + std::abs(d.g - c.g) + std::abs(d.b - c.b) > 0.004f;
  };
  if (apart(toEncoded(color_))) color_ = {shown.l, shown.c, hue};
  // a picked colour moves the marker to the nearest tone
  if (apart(toneColor_) && ways_->currentIndex() == 0 && !session_.tools().greyLock()) {
    const NearestTone nearest = nearestTone(c);
    toneColor_ = c;
    toneDifference_ = nearest.difference;
    if (isOffSkin())
      tones_->showNearest(nearestTone(c, tones_->tone().yellow).tone, c);
    else
      tones_->show(nearest.tone);
  }
  yellow_->show(static_cast<double>(tones_->tone().yellow));
  field_->show(color_);
  hue_->show(color_);
  grey_->setChecked(session_.tools().greyLock());
  hex_->setText(QString::fromStdString(toHex(c)));
  const float channels[3] = {c.r, c.g, c.b};
  for (int i = 0; i < 3; ++i) rgb_[i]->setText(QString::number(std::lround(channels[i] * 255)));
  update();
}

QRect Mixer::currentRect() const {
  if (folded_) return {width() - 14 - kSide, 10, kSide, 20};
  return {width() - 14 - kSide, ways_->y(), kSide, 36};
}

QRect Mixer::secondRect() const {
  return {width() - 14 - kSide, ways_->y() + 38, kSide, 14};
}

QRect Mixer::usedRect(size_t index) const {
  return {14 + static_cast<int>(index) * 16, height() - 58, 14, 14};
}

QRect Mixer::previousRect() const {
  return {width() - 14 - kSide, ways_->y() + 54, kSide, 20};
}

QRect Mixer::hintRect(size_t index) const {
  return {14 + static_cast<int>(index) * 26, height() - 90, 22, 22};
}

QRect Mixer::wellRect(int index) const {
  const int span = (width() - 28) / kWells;
  return {14 + index * span + (span - 20) / 2, height() - 32, 20, 20};
}

int Mixer::wellAt(const QPoint& position) const {
  for (int i = 0; i < kWells; ++i)
    if (wellRect(i).adjusted(-2, -4, 2, 4).contains(position)) return i;
  return -1;
}

void Mixer::keepWell(int index, const EncodedColor& color) {
  if (!session_.isOpen()) return;
  session_.settleStrokes();
  std::vector<EncodedColor> wells = session_.document().wells;
  wells.resize(std::max<size_t>(wells.size(), static_cast<size_t>(index) + 1), color);
  wells[static_cast<size_t>(index)] = color;
  session_.apply(withWells(session_.document(), std::move(wells)), tr("Keep colour in a well"));
}

// On tones they keep to what still looks like something in skin.
std::vector<HarmonyHint> Mixer::hints() const {
  return harmonyOf(session_.tools().color(), ways_->currentIndex() == 0 ? kSkinHarmonyChroma : 1.f);
}

std::vector<Mixer::Swatch> Mixer::swatches() const {
  const Tools& tools = session_.tools();
  std::vector<Swatch> out;
  if (!folded_) {
    out = {{secondRect(), tr("second colour"), tools.secondColor(), true},
           {previousRect(), tr("colour before"), tools.previousColor()}};
    const auto hints = this->hints();
    for (size_t i = 0; i < hints.size(); ++i) out.push_back({hintRect(i), tr(hints[i].name), hints[i].color});
    for (size_t i = 0; i < tools.usedColors().size(); ++i)
      out.push_back({usedRect(i), tr("used lately"), tools.usedColors()[i]});
  }
  if (!session_.isOpen()) return out;
  const auto& wells = session_.document().wells;
  for (int i = 0; i < kWells; ++i) {
    const bool empty = static_cast<size_t>(i) >= wells.size();
    out.push_back({wellRect(i), tr("well %1").arg(i + 1),
                   empty ? EncodedColor() : wells[static_cast<size_t>(i)], false, i, empty});
  }
  return out;
}

void Mixer::take(const Swatch& swatch) {
  if (swatch.swaps) return session_.tools().swapColors();
  if (!swatch.empty) session_.tools().setColor(swatch.color);
}

void Mixer::mousePressEvent(QMouseEvent* event) {
  const bool keeps = event->button() == Qt::RightButton;
  for (const Swatch& s : swatches()) {
    const QRect reach = s.well >= 0 ? s.rect.adjusted(-2, -4, 2, 4) : s.rect;
    if (reach.contains(event->pos()))
      return keeps && s.well >= 0 ? keepWell(s.well, session_.tools().color()) : take(s);
  }
}

void Mixer::keyPressEvent(QKeyEvent* event) {
  const auto swatches = this->swatches();
  if (swatches.empty()) return QWidget::keyPressEvent(event);
  const int key = event->key();
  chosen_ = std::min(chosen_, swatches.size() - 1);
  if (key == Qt::Key_Left || key == Qt::Key_Right) {
    chosen_ =
        (chosen_ + swatches.size() + (key == Qt::Key_Right ? 1 : swatches.size() - 1)) % swatches.size();
    update();
    return tellValue(this);
  }
  const Swatch& at = swatches[chosen_];
  if (key == Qt::Key_Insert && at.well >= 0)
    keepWell(at.well, session_.tools().color());
  else if (key == Qt::Key_Return || key == Qt::Key_Enter || key == Qt::Key_Space)
    take(at);
  else
    return QWidget::keyPressEvent(event);
  tellValue(this);
}

QString Mixer::words() const {
  const auto swatches = this->swatches();
  if (swatches.empty()) return {};
  const Swatch& at = swatches[std::min(chosen_, swatches.size() - 1)];
  return at.empty ? tr("%1, empty").arg(at.name) : at.name + " " + QString::fromStdString(toHex(at.color));
}

// The current colour can be dragged into a well.
void Mixer::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton) || !currentRect().contains(event->pos())) return;
  dragColor(this, session_.tools().color());
}

void Mixer::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasColor()) event->acceptProposedAction();
}

void Mixer::dropEvent(QDropEvent* event) {
  const EncodedColor color = fromQColor(event->mimeData()->colorData().value<QColor>());
  const int well = wellAt(event->position().toPoint());
  if (well >= 0)
    keepWell(well, color);
  else
    session_.tools().setColor(color);
  event->acceptProposedAction();
}

void Mixer::helpOpen(const QPoint& at, QString& text) const {
  const auto hints = this->hints();
  for (size_t i = 0; i < hints.size(); ++i)
    if (hintRect(i).contains(at)) text = tr("Goes with it: %1. Click to take it").arg(tr(hints[i].name));
  if (secondRect().contains(at))
    text = tr("The second colour; click, or press 0, to change places, hold 0 to have it for a while");
  for (size_t i = 0; i < session_.tools().usedColors().size(); ++i)
    if (usedRect(i).contains(at)) text = tr("Used lately; click to take it");
  if (previousRect().contains(at)) text = tr("The colour before; click to take it back");
}

bool Mixer::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    QString text =
        tr("Click a well to take its colour; right click, or drop a colour, to fill it. By keys: arrows, "
           "Return, Insert");
    if (currentRect().contains(help->pos()))
      text = tr("The colour in hand; drag it into a well");
    else if (!folded_)
      helpOpen(help->pos(), text);
    QToolTip::showText(help->globalPos(), text, this);
    return true;
  }
  return QWidget::event(event);
}

void Mixer::drawReadings(QPainter& p) const {
  const Lab lab = toLab(session_.tools().color());
  const double angle = typologyAngle(lab);
  QString text = tr("L* %1 a* %2\nb* %3\n").arg(lab.l, 0, 'f', 0).arg(lab.a, 0, 'f', 0).arg(lab.b, 0, 'f', 0);
  if (ways_->currentIndex() == 1)
    text += tr("C %1 h %2°").arg(color_.c, 0, 'f', 3).arg(color_.h, 0, 'f', 0);
  else if (isOffSkin())
    text += tr("off skin by\nΔE %1").arg(toneDifference_, 0, 'f', 0);
  else
    text += tr("ITA %1°\n%2").arg(angle, 0, 'f', 0).arg(told(typologyClass(angle)));
  p.setPen(look::kQuiet);
  QFont small = font();
  small.setPixelSize(11);
  p.setFont(small);
  p.drawText(QRect(width() - 14 - kSide, ways_->y() + 78, kSide + 10, 86), Qt::AlignLeft, text);
}

void Mixer::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  p.setBrush(toQColor(session_.tools().color()));
  p.drawRoundedRect(currentRect(), 3, 3);
  if (!folded_) drawOpen(p);
  drawWells(p);
}

// What is there while it is not folded.
void Mixer::drawOpen(QPainter& p) const {
  p.setBrush(toQColor(session_.tools().secondColor()));
  p.drawRoundedRect(secondRect(), 3, 3);
  const auto& used = session_.tools().usedColors();
  for (size_t i = 0; i < used.size(); ++i) {
    p.setBrush(toQColor(used[i]));
    p.drawRoundedRect(usedRect(i), 2, 2);
  }
  p.setBrush(toQColor(session_.tools().previousColor()));
  p.drawRoundedRect(previousRect(), 3, 3);
  const auto hints = this->hints();
  for (size_t i = 0; i < hints.size(); ++i) {
    p.setBrush(toQColor(hints[i].color));
    p.drawRoundedRect(hintRect(i), 3, 3);
  }
  drawReadings(p);
  p.drawText(QRect(14 + 5 * 26 + 4, height() - 90, 120, 22), Qt::AlignLeft | Qt::AlignVCenter,
             tr("go with it"));
}

void Mixer::drawWells(QPainter& p) const {
  if (!session_.isOpen()) return;
  const auto& wells = session_.document().wells;
  for (int i = 0; i < kWells; ++i) {
    p.setPen(QPen(QColor(0x2a, 0x2a, 0x2a), 1));
    p.setBrush(static_cast<size_t>(i) < wells.size() ? toQColor(wells[static_cast<size_t>(i)]) : look::kWell);
    p.drawEllipse(wellRect(i));
  }
  if (!hasFocus()) return;
  const auto swatches = this->swatches();
  p.setPen(QPen(look::kAccent, 2));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(swatches[std::min(chosen_, swatches.size() - 1)].rect.adjusted(-2, -2, 2, 2), 3, 3);
}

}  // namespace juvenor::app

#include "moc_mixer.cpp"
