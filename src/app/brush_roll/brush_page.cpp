#include "app/brush_roll/brush_page.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/controls/stamp_menu.h"
#include "app/session/words.h"
#include "core/brush/made_stamps.h"

namespace juvenor::app {
namespace {

const ValueSlider::Scale kPercent{0, 1, 100, "%", false, 0};

}  // namespace

double dotsPerSquareCentimetre(float density, float millimetres) {
  return static_cast<double>(density) * 100 / static_cast<double>(millimetres * millimetres);
}

float densityOf(double dots, float millimetres) {
  return static_cast<float>(dots / 100 * static_cast<double>(millimetres * millimetres));
}

BrushPage::BrushPage(Session& session, QWidget* parent) : QFrame(parent, Qt::Popup), session_(session) {
  setObjectName("brush page");
  setStyleSheet("QFrame#brush\\ page { background: #434343; border: 1px solid #6d6d6d; }");
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(14, 12, 14, 12);
  row->setSpacing(20);
  for (auto build : {&BrushPage::buildTip, &BrushPage::buildSpread}) {
    auto* box = new QWidget;
    box->setFixedWidth(216);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    (this->*build)(column);
    column->addStretch();
    row->addWidget(box);
  }
  connect(&session_.tools(), &Tools::changed, this, [this] {
    if (isVisible()) refresh();
  });
}

ValueSlider* BrushPage::slider(QVBoxLayout* column, const QString& name, const QString& tip,
                               const ValueSlider::Scale& scale, std::function<float(const Brush&)> get,
                               std::function<void(Brush&, float)> set) {
  auto* s = new ValueSlider(name, scale);
  s->setToolTip(tip);
  s->setFixedHeight(34);
  column->addWidget(s);
  connect(s, &ValueSlider::changed, this, [this, set = std::move(set)](double v) {
    change([&](Brush& b) { set(b, static_cast<float>(v)); });
  });
  sliders_.push_back({s, std::move(get)});
  return s;
}

void BrushPage::buildTip(QVBoxLayout* column) {
  column->addWidget(titleLabel(tr("Tip")));
  tips_ = new QButtonGroup(this);
  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  const std::pair<QString, QString> tips[] = {{tr("Soft disc"), tr("Fades from the middle to the rim")},
                                              {tr("Stamp"), tr("A picture laid flat on the skin")},
                                              {tr("Spray"), tr("Dots that keep their distance")}};
  for (int i = 0; i < kTipKindCount; ++i) {
    auto* b = new QPushButton(tips[i].first);
    b->setObjectName(
        QString("tip %1").arg(QString::fromStdString(std::string(tipKey(static_cast<TipKind>(i))))));
    b->setToolTip(tips[i].second);
    b->setCheckable(true);
    tips_->addButton(b, i);
    row->addWidget(b);
  }
  column->addLayout(row);
  connect(tips_, &QButtonGroup::idClicked, this, [this](int id) {
    const auto kind = static_cast<TipKind>(id);
    change([&](Brush& b) {
      b.tip = kind;
      if (kind == TipKind::Stamp && !b.stamp.stamp) b.stamp.stamp = madeStamp("pores");
      // dots a tenth of the brush, some dozens under it
      if (kind == TipKind::Spray && session_.tools().taken().brush.tip != TipKind::Spray) {
        b.spray.dotRadius = 0.05f * b.radius;
        b.spray.density = densityOfCover(b.spray, 0.15f);
      }
    });
  });
  stamp_ = new QPushButton(tr("Stamp …"));
  stamp_->setObjectName("choose stamp");
  stamp_->setToolTip(tr("Chooses a stamp that ships, or a picture from a file"));
  stamp_->setIconSize({28, 28});
  connect(stamp_, &QPushButton::clicked, this, &BrushPage::chooseStamp);
  column->addWidget(stamp_);
  const auto check = [&](const QString& text, const QString& tip, bool StampTip::*member) {
    auto* box = new QCheckBox(text);
    box->setToolTip(tip);
    connect(box, &QCheckBox::clicked, this,
            [this, member](bool on) { change([&](Brush& b) { b.stamp.*member = on; }); });
    column->addWidget(box);
    return box;
  };
  ownColors_ = check(tr("The picture's own colours"), tr("Lays them in place of the mixer's colour"),
                     &StampTip::ownColors);
  inverted_ = check(tr("Where the shape is not"), tr("Turns the shape inside out"), &StampTip::inverted);
  ofStamp_ = {stamp_, ownColors_, inverted_};
  slider(
      column, tr("Step"), tr("Distance of dabs, as a part of the radius"), {0.02, 4, 100, "%", true, 0},
      [](const Brush& b) { return b.step; }, [](Brush& b, float v) { b.step = v; });
  slider(
      column, tr("Hardness"), tr("How much of the brush is at full strength"), kPercent,
      [](const Brush& b) { return b.hardness; }, [](Brush& b, float v) { b.hardness = v; });
  ofSpray_ = {
      slider(
          column, tr("Cover"), tr("How much of the skin one pass covers with dots"), kPercent,
          [](const Brush& b) { return coverOfDensity(b.spray); },
          [](Brush& b, float v) { b.spray.density = densityOfCover(b.spray, v); }),
      slider(
          column, tr("Sizes of dots"), tr("0 all the same … 100 % from tiny to twice as large"), kPercent,
          [](const Brush& b) { return b.spray.dotSpread; }, [](Brush& b, float v) { b.spray.dotSpread = v; }),
      slider(
          column, tr("Hard dots"), tr("0 soft … 100 % with a sharp rim"), kPercent,
          [](const Brush& b) { return b.spray.dotHardness; },
          [](Brush& b, float v) { b.spray.dotHardness = v; }),
      slider(
          column, tr("Ragged"), tr("0 round … 100 % torn"), kPercent,
          [](const Brush& b) { return b.spray.ragged; }, [](Brush& b, float v) { b.spray.ragged = v; })};
}

void BrushPage::buildSpread(QVBoxLayout* column) {
  auto* top = new QHBoxLayout;
  top->addWidget(titleLabel(tr("Spread")));
  top->addStretch();
  back_ = new QPushButton(tr("Back to the roll's"));
  back_->setObjectName("brush back");
  back_->setFlat(true);
  back_->setToolTip(tr("Takes the brush as it lies in the roll"));
  connect(back_, &QPushButton::clicked, this, [this] { session_.tools().resetBrush(); });
  top->addWidget(back_);
  column->addLayout(top);
  turn_ = new QComboBox;
  turn_->setObjectName("turn by");
  turn_->addItems(
      {tr("Upright"), tr("Turned along the stroke"), tr("Turned by the pen's tilt"), tr("Turned at random")});
  turn_->setToolTip(tr("What turns each dab"));
  column->addWidget(turn_);
  connect(turn_, &QComboBox::activated, this,
          [this](int by) { change([&](Brush& b) { b.turnBy = static_cast<TurnBy>(by); }); });
  slider(
      column, tr("Turn"), tr("By which every dab is turned beside that"), {-180, 180, 1, "°", false, 0},
      [](const Brush& b) { return b.angle; }, [](Brush& b, float v) { b.angle = v; });
  const auto spread = [&](const QString& name, const QString& tip, const ValueSlider::Scale& scale,
                          float Spread::*member) {
    slider(
        column, name, tip, scale, [member](const Brush& b) { return b.spread.*member; },
        [member](Brush& b, float v) { b.spread.*member = v; });
  };
  spread(tr("Place"), tr("How far from the path dabs may lie, in radii"), {0, 3, 100, "%", false, 0},
         &Spread::position);
  spread(tr("Size"), tr("How much dabs differ in size"), kPercent, &Spread::size);
  spread(tr("Angle"), tr("How far dabs are turned either way"), {0, 180, 1, "°", false, 0}, &Spread::angle);
  spread(tr("Strength"), tr("How much weaker dabs or dots may be"), kPercent, &Spread::strength);
  spread(tr("Lightness"), tr("How much lighter or darker their colours may be"), {0, 0.3, 100, "%", false, 0},
         &Spread::lightness);
  spread(tr("Chroma"), tr("How much purer or greyer their colours may be"), kPercent, &Spread::chroma);
  spread(tr("Hue"), tr("How far their hue may turn either way"), {0, 90, 1, "°", false, 0}, &Spread::hue);
  slider(
      column, tr("Mirror varies"), tr("0 the other side is the same … 100 % only the region is"), kPercent,
      [](const Brush& b) { return b.looseness; }, [](Brush& b, float v) { b.looseness = v; })
      ->setObjectName("mirror varies");
}

void BrushPage::change(const std::function<void(Brush&)>& change) {
  Brush b = session_.tools().brush();
  change(b);
  session_.tools().setBrush(b);
}

void BrushPage::takeStamp(const StampPointer& stamp) {
  if (!stamp) return;
  change([&](Brush& b) {
    b.tip = TipKind::Stamp;
    b.stamp.stamp = stamp;
    b.stamp.ownColors = stamp->hasColor();
  });
}

void BrushPage::chooseStamp() {
  const ChosenStamp chosen = askStamp(this, stamp_->mapToGlobal(QPoint(0, stamp_->height())));
  if (!chosen.trouble.isEmpty()) session_.say(chosen.trouble, true);
  takeStamp(chosen.stamp);
}

void BrushPage::refresh() {
  const Brush& b = session_.tools().brush();
  tips_->button(static_cast<int>(b.tip))->setChecked(true);
  turn_->setCurrentIndex(static_cast<int>(b.turnBy));
  for (const Bound& bound : sliders_) bound.slider->show(static_cast<double>(bound.get(b)));
  for (QWidget* w : ofSpray_) w->setVisible(b.tip == TipKind::Spray);
  for (QWidget* w : ofStamp_) w->setVisible(b.tip == TipKind::Stamp);
  if (b.stamp.stamp) {
    stamp_->setText(told(b.stamp.stamp->name()));
    stamp_->setIcon(stampIcon(*b.stamp.stamp));
    ownColors_->setEnabled(b.stamp.stamp->hasColor());
  }
  ownColors_->setChecked(b.stamp.ownColors);
  inverted_->setChecked(b.stamp.inverted);
  back_->setVisible(session_.tools().isBrushChanged());
}

void BrushPage::openAbove(const QWidget& widget) {
  refresh();
  adjustSize();
  const QPoint corner = widget.mapToGlobal(QPoint(0, 0));
  const QRect inside(parentWidget()->mapToGlobal(QPoint(0, 0)), parentWidget()->size());
  move(std::clamp(corner.x(), inside.left() + 4, std::max(inside.left() + 4, inside.right() - width() - 4)),
       std::max(inside.top(), corner.y() - height() - 6));
  show();
}

}  // namespace juvenor::app

#include "moc_brush_page.cpp"
