#include "app/brush_strip/brush_strip.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QWidgetAction>
#include <cmath>

#include "app/brush_roll/brush_page.h"
#include "app/brush_roll/roll_panel.h"
#include "app/controls/bind_key.h"
#include "app/controls/spoken.h"
#include "app/style/style.h"
#include "core/color/lab.h"

namespace juvenor::app {

BrushPreview::BrushPreview(Tools& tools, BrushPictures& pictures) : tools_(tools), pictures_(pictures) {
  setObjectName("brush in hand");
  setFixedSize(96, 56);
  setFocusPolicy(Qt::TabFocus);
  setToolTip(tr("The brush in hand. Press for the brush roll (B)"));
  setAccessibleName(tr("Brush roll"));
  speak(this, {QAccessible::ButtonMenu, [this] { return name(); }});
  wait_.setSingleShot(true);
  wait_.setInterval(120);
  connect(&wait_, &QTimer::timeout, this, [this] { redraw(); });
  connect(&tools, &Tools::changed, this, [this] {
    wait_.start();
    update();
  });
  redraw();
}

void BrushPreview::redraw() {
  RollBrush now = tools_.brushForRoll({});
  if (now == drawn_ && !picture_.isNull()) return;
  drawn_ = now;
  pictures_.draw(now, this, [this](const QImage& image) {
    picture_ = image;
    update();
  });
}

QString BrushPreview::name() const {
  const QString name =
      tools_.taken().name.empty() ? tr("Airbrush") : QString::fromStdString(tools_.taken().name);
  return tools_.isBrushChanged() ? name + tr(" · changed") : name;
}

void BrushPreview::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  const QRectF place(1, 1, width() - 2, 38);
  QPainterPath rim;
  rim.addRoundedRect(place, 3, 3);
  p.setClipPath(rim);
  p.fillRect(place, look::kWell);
  if (!picture_.isNull()) p.drawImage(place, picture_, QRectF(0, 3, kBrushWide, kBrushHigh - 6));
  p.setClipping(false);
  p.setPen(QPen(hasFocus() ? look::kAccent : underMouse() ? look::kQuiet : look::kSelected, 1));
  p.drawPath(rim);
  QFont small = font();
  small.setPixelSize(11);
  p.setFont(small);
  p.setPen(look::kText);
  const QRect line(0, 41, width() - 12, 15);
  p.drawText(line, Qt::AlignLeft | Qt::AlignVCenter,
             p.fontMetrics().elidedText(name(), Qt::ElideRight, line.width()));
  p.setPen(look::kQuiet);
  p.drawText(QRect(0, 41, width() - 1, 15), Qt::AlignRight | Qt::AlignVCenter, "B");
}

CurveEditor::CurveEditor(Tools& tools) : tools_(tools) {
  setFixedSize(168, 168);
  setFocusPolicy(Qt::TabFocus);
  setAccessibleName(tr("Pressure curve"));
  setToolTip(
      tr("Drag the two handles: pressure across, strength up. By keys: arrows, page up and down for the "
         "other one"));
  speak(this, {QAccessible::Graphic, [this] {
                 const PressureCurve& c = tools_.brush().curve;
                 const Vec2& v = held_ == 0 ? c.first : c.second;
                 return tr("handle %1: pressure %2 %, strength %3 %")
                     .arg(held_ + 1)
                     .arg(std::lround(100 * v.x()))
                     .arg(std::lround(100 * v.y()));
               }});
}

QPointF CurveEditor::at(const Vec2& v) const {
  return {10 + v.x() * (width() - 20), height() - 10 - v.y() * (height() - 20)};
}

void CurveEditor::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), look::kWell);
  const PressureCurve& c = tools_.brush().curve;
  p.setPen(QPen(QColor(0x5a, 0x5a, 0x5a), 1));
  p.drawRect(QRectF(at({0, 1}), at({1, 0})));
  p.drawLine(at({0, 0}), at(c.first));
  p.drawLine(at({1, 1}), at(c.second));
  QPainterPath path(at({0, 0}));
  path.cubicTo(at(c.first), at(c.second), at({1, 1}));
  p.setPen(QPen(look::kText, 1.8));
  p.drawPath(path);
  p.setBrush(look::kText);
  p.setPen(Qt::NoPen);
  p.drawEllipse(at(c.first), 5, 5);
  p.drawEllipse(at(c.second), 5, 5);
  if (!hasFocus()) return;
  p.setPen(QPen(look::kAccent, 2));
  p.setBrush(Qt::NoBrush);
  p.drawEllipse(at(held_ == 0 ? c.first : c.second), 8, 8);
}

void CurveEditor::mousePressEvent(QMouseEvent* event) {
  const PressureCurve& c = tools_.brush().curve;
  held_ = QLineF(event->position(), at(c.first)).length() <= QLineF(event->position(), at(c.second)).length()
              ? 0
              : 1;
  mouseMoveEvent(event);
}

void CurveEditor::mouseMoveEvent(QMouseEvent* event) {
  move({static_cast<float>((event->position().x() - 10) / (width() - 20)),
        static_cast<float>((height() - 10 - event->position().y()) / (height() - 20))});
}

void CurveEditor::move(const Vec2& to) {
  Brush brush = tools_.brush();
  (held_ == 0 ? brush.curve.first : brush.curve.second) = to.cwiseMax(0.f).cwiseMin(1.f);
  tools_.setBrush(brush);
  update();
  tellValue(this);
}

void CurveEditor::keyPressEvent(QKeyEvent* event) {
  const int key = event->key();
  const auto steps = [&](int more, int less) { return static_cast<float>((key == more) - (key == less)); };
  const Vec2 way(steps(Qt::Key_Right, Qt::Key_Left), steps(Qt::Key_Up, Qt::Key_Down));
  if (key == Qt::Key_PageUp || key == Qt::Key_PageDown) {
    held_ = 1 - held_;
    update();
    return tellValue(this);
  }
  if (way.isZero()) return QWidget::keyPressEvent(event);
  const PressureCurve& c = tools_.brush().curve;
  move((held_ == 0 ? c.first : c.second) + 0.02f * way);
}

BrushStrip::BrushStrip(Session& session) : session_(session) {
  setObjectName("strip");
  setFixedHeight(60);
  setAutoFillBackground(true);
  QPalette p = palette();
  p.setColor(QPalette::Window, look::kGround);
  setPalette(p);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(14, 2, 14, 2);
  row->setSpacing(16);
  auto* preview = new BrushPreview(session_.tools(), pictures_);
  row->addWidget(preview_ = preview);
  connect(preview, &QAbstractButton::clicked, this,
          [this] { openRoll(preview_->mapToGlobal(QPoint(preview_->width() / 2, 0))); });
  const ValueSlider::Scale percent{0, 1, 100, "%", false, 0};
  size_ = new ValueSlider(tr("Size"), {0.1, 100, 1, "mm", true, 1});
  size_->setToolTip(tr("Radius of the brush on the skin (comma and full stop)"));
  hardness_ = new ValueSlider(tr("Hardness"), percent);
  hardness_->setToolTip(tr("How much of the brush is at full strength"));
  opacity_ = new ValueSlider(tr("Opacity"), percent);
  opacity_->setToolTip(tr("What one stroke can reach at most"));
  flow_ = new ValueSlider(tr("Flow"), {0.001, 1, 100, "%", true, 1});
  flow_->setToolTip(tr("What each dab adds; 2 to 3 % builds colour up slowly"));
  steady_ = new ValueSlider(tr("Steady"), {0, 120, 1, "px", false, 0});
  steady_->setToolTip(tr("Smooths the hand: the pen pulls the brush by a string this long"));
  dots_ = new ValueSlider(tr("Dots"), {0.05, 400, 1, "/cm²", true, 1});
  dots_->setToolTip(tr("How many dots a square centimetre gets where the brush passes once"));
  dotSize_ = new ValueSlider(tr("Dot size"), {0.05, 10, 1, "mm", true, 2});
  dotSize_->setToolTip(tr("Radius of a dot; finer ones than the points shade them by their part"));
  step_ = new ValueSlider(tr("Step"), {0.02, 4, 100, "%", true, 0});
  step_->setToolTip(tr("Distance of stamps, as a part of the radius"));
  spread_ = new ValueSlider(tr("Spread"), percent);
  spread_->setToolTip(tr("How much dabs or dots differ: in size and strength; more under Brush"));
  for (ValueSlider* s : {size_, opacity_, flow_, hardness_, dots_, dotSize_, step_, spread_, steady_})
    row->addWidget(s, 1);
  more_ = new QPushButton(tr("Brush"));
  more_->setObjectName("brush settings");
  more_->setFlat(true);
  more_->setToolTip(tr("All of the brush: tip, stamp, dots, spread (Shift+B)"));
  row->addWidget(more_);
  connect(more_, &QPushButton::clicked, this, [this] {
    if (!page_) page_ = new BrushPage(session_, window());
    page_->openAbove(*more_);
  });
  auto* deeper = new QShortcut(QKeySequence("Shift+B"), this);
  connect(deeper, &QShortcut::activated, more_, &QPushButton::click);
  pen_ = new QPushButton(tr("Pen"));
  pen_->setFlat(true);
  pen_->setToolTip(tr("What the pen's pressure drives, and how"));
  row->addWidget(pen_);
  strength_ = new ValueSlider(tr("Fill strength"), percent);
  strength_->setToolTip(tr("How far a fill moves the colour: 26 % moves it 26 % of the way"));
  fill_ = new QPushButton(tr("Fill"));
  fill_->setObjectName("fill now");
  fill_->setToolTip(
      tr("Fills the active part, or all parts when those are on, at the strength shown beside it (Shift+F)"));
  fill_->setFixedWidth(76);
  // also while the button is not there
  auto* key = new QShortcut(QKeySequence("Shift+F"), this);
  connect(key, &QShortcut::activated, fill_, &QPushButton::click);
  row->addWidget(strength_, 1);
  row->addWidget(fill_);
  spare_ = new QWidget;
  row->addWidget(spare_, 3);
  auto* readings = new QVBoxLayout;
  hexLabel_ = new QLabel;
  labLabel_ = new QLabel;
  channelsLabel_ = new QLabel;
  channelsLabel_->setObjectName("channels under pen");
  readings->setSpacing(0);
  for (QLabel* l : {labLabel_, channelsLabel_}) l->setProperty("quiet", true);
  for (QLabel* l : {hexLabel_, labLabel_, channelsLabel_}) {
    l->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    l->setFixedWidth(172);
    readings->addWidget(l);
  }
  row->addLayout(readings);

  const auto bind = [&](ValueSlider* slider, auto member) {
    connect(slider, &ValueSlider::changed, this,
            [this, member](double v) { changeBrush([&](Brush& b) { b.*member = static_cast<float>(v); }); });
  };
  bind(size_, &Brush::radius);
  bind(hardness_, &Brush::hardness);
  bind(opacity_, &Brush::opacity);
  bind(flow_, &Brush::flow);
  bind(steady_, &Brush::steady);
  bind(step_, &Brush::step);
  connect(dots_, &ValueSlider::changed, this, [this](double v) {
    changeBrush([&](Brush& b) { b.spray.density = densityOf(v, unitOf_.second > 0 ? unitOf_.second : 1.f); });
  });
  connect(dotSize_, &ValueSlider::changed, this,
          [this](double v) { changeBrush([&](Brush& b) { b.spray.dotRadius = static_cast<float>(v); }); });
  connect(spread_, &ValueSlider::changed, this, [this](double v) {
    changeBrush([&](Brush& b) {
      const auto s = static_cast<float>(v);
      (b.tip == TipKind::Spray ? b.spray.dotSpread : b.spread.size) = s;
      b.spread.strength = s;
    });
  });
  connect(strength_, &ValueSlider::changed, this,
          [this](double v) { session_.tools().setFillStrength(static_cast<float>(v)); });
  connect(fill_, &QPushButton::clicked, this, [this] {
    if (session_.isOpen()) session_.fillNow();
  });
  connect(pen_, &QPushButton::clicked, this, &BrushStrip::openPen);
  connect(&session_.tools(), &Tools::changed, this, &BrushStrip::refresh);
  connect(&session_, &Session::opened, this, &BrushStrip::takeUnit);
  connect(&session_, &Session::documentChanged, this, &BrushStrip::takeUnit);
  refresh();
  showProbe(std::nullopt);
}

void BrushStrip::changeBrush(const std::function<void(Brush&)>& change) {
  Brush b = session_.tools().brush();
  change(b);
  session_.tools().setBrush(b);
}

void BrushStrip::refresh() {
  const Brush& b = session_.tools().brush();
  size_->show(static_cast<double>(b.radius));
  hardness_->show(static_cast<double>(b.hardness));
  opacity_->show(static_cast<double>(b.opacity));
  flow_->show(static_cast<double>(b.flow));
  steady_->show(static_cast<double>(b.steady));
  step_->show(static_cast<double>(b.step));
  dots_->show(dotsPerSquareCentimetre(b.spray.density, unitOf_.second > 0 ? unitOf_.second : 1.f));
  dotSize_->show(static_cast<double>(b.spray.dotRadius));
  spread_->show(static_cast<double>(b.tip == TipKind::Spray ? b.spray.dotSpread : b.spread.size));
  fill_->setText(b.allParts ? tr("Fill all") : tr("Fill part"));
  strength_->show(static_cast<double>(session_.tools().fillStrength()));
  // the numbers of the tool in hand; those of zones are under Layer, and picking has none
  const Tool tool = session_.tools().tool();
  const bool fills = tool == Tool::Fill, paints = usesBrush(tool);
  spare_->setVisible(!paints || tool == Tool::Stamp);
  for (QWidget* w : {static_cast<QWidget*>(strength_), static_cast<QWidget*>(fill_)}) w->setVisible(fills);
  for (QWidget* w :
       {preview_, static_cast<QWidget*>(size_), static_cast<QWidget*>(opacity_), static_cast<QWidget*>(flow_),
        static_cast<QWidget*>(steady_), static_cast<QWidget*>(more_), static_cast<QWidget*>(pen_)})
    w->setVisible(paints);
  const bool placed = tool == Tool::Stamp;  // its size is dragged, and it lies once
  hardness_->setVisible(paints && b.tip == TipKind::Falloff && !placed);
  for (ValueSlider* s : {size_, flow_, steady_}) s->setVisible(paints && !placed);
  step_->setVisible(paints && b.tip == TipKind::Stamp && !placed);
  spread_->setVisible(paints && b.tip != TipKind::Falloff && !placed);
  for (ValueSlider* s : {dots_, dotSize_}) s->setVisible(paints && b.tip == TipKind::Spray && !placed);
}

void BrushStrip::openRoll(const QPoint& global) {
  if (!roll_) roll_ = new RollPanel(session_, pictures_, window());
  roll_->openAt(global);
}

void BrushStrip::takeUnit() {
  const Document& document = session_.document();
  if (std::exchange(unitOf_, std::pair(document.sculpt.get(), document.placement.millimetres)) ==
      std::pair(document.sculpt.get(), document.placement.millimetres))
    return;
  const double d = static_cast<double>(document.surface->bounds.diagonal());
  const auto millimetres = static_cast<double>(document.placement.millimetres);
  size_->setScale({0.0005 * d, 0.4 * d, millimetres, "mm", true, 1});
  dotSize_->setScale({0.0001 * d, 0.04 * d, millimetres, "mm", true, 2});
  refresh();
}

void BrushStrip::openPen() {
  QMenu menu(this);
  const auto add = [&](const QString& text, bool Brush::*member) {
    QAction* a = menu.addAction(text);
    a->setCheckable(true);
    a->setChecked(session_.tools().brush().*member);
    connect(a, &QAction::toggled, this,
            [this, member](bool on) { changeBrush([&](Brush& b) { b.*member = on; }); });
  };
  add(tr("Pressure drives size"), &Brush::pressureSize);
  add(tr("Pressure drives opacity"), &Brush::pressureOpacity);
  add(tr("Pressure drives flow"), &Brush::pressureFlow);
  add(tr("Pressure drives how many dots"), &Brush::pressureDots);
  auto* curve = new QWidgetAction(&menu);
  curve->setDefaultWidget(new CurveEditor(session_.tools()));
  menu.addAction(curve);
  const double millimetres =
      session_.isOpen() ? static_cast<double>(session_.document().placement.millimetres) : 1;
  const float usual = 3 * (session_.isOpen() ? session_.document().surface->spacing : 1.f);
  auto* box = new QWidget;
  auto* inside = new QVBoxLayout(box);
  auto* tolerance = new ValueSlider(tr("Mirror tolerance"),
                                    {0, 10.0 * static_cast<double>(usual), millimetres, "mm", false, 2});
  tolerance->setToolTip(
      tr("How far the other side may lie from where the mirror says; 0 takes three times the spacing"));
  tolerance->show(static_cast<double>(session_.tools().brush().mirrorTolerance));
  inside->addWidget(tolerance);
  connect(tolerance, &ValueSlider::changed, this,
          [this](double v) { changeBrush([&](Brush& b) { b.mirrorTolerance = static_cast<float>(v); }); });
  auto* toleranceAction = new QWidgetAction(&menu);
  toleranceAction->setDefaultWidget(box);
  menu.addAction(toleranceAction);
  menu.exec(pen_->mapToGlobal(QPoint(0, -menu.sizeHint().height())));
}

void BrushStrip::showProbe(const std::optional<Probe>& probe) {
  if (!probe) {
    hexLabel_->setText(tr("under pen —"));
    labLabel_->setText(tr("L* — a* — b* —"));
    channelsLabel_->setText(tr("gloss —"));
    return;
  }
  const Lab lab = toLab(probe->composite);
  hexLabel_->setText(tr("under pen %1").arg(QString::fromStdString(toHex(probe->composite))));
  labLabel_->setText(
      QString("L* %1 a* %2 b* %3").arg(lab.l, 0, 'f', 1).arg(lab.a, 0, 'f', 1).arg(lab.b, 0, 'f', 1));
  // gloss is always there; of the others what is not none
  QStringList more;
  for (size_t c = 1; c < kChannelCount; ++c) {
    const float value = probe->number[c];
    if (value == 0 && static_cast<Channel>(c) != Channel::Gloss) continue;
    const QString number = kChannels[c].rule == ChannelRule::Add
                               ? (value < 0 ? "−" : "+") +
                                     shortLength(std::abs(value), session_.document().placement.millimetres)
                               : tr("%1 %").arg(std::lround(100 * value));
    more << told(kChannels[c].label).toLower() + " " + number;
  }
  channelsLabel_->setText(more.join(" "));
}

}  // namespace juvenor::app

#include "moc_brush_strip.cpp"
