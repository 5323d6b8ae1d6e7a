#include "app/brush_strip/brush_strip.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QWidgetAction>

#include "app/controls/bind_key.h"
#include "app/style/style.h"
#include "core/color/lab.h"

namespace juvenor::app {

BrushPreview::BrushPreview(Tools& tools) : tools_(tools) {
  setFixedSize(92, 44);
  setToolTip(tr("The brush from rim to rim: how strong it is where"));
  connect(&tools, &Tools::changed, this, QOverload<>::of(&QWidget::update));
}

void BrushPreview::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  QPainterPath path;
  path.moveTo(0, height() - 2);
  for (int x = 0; x <= width(); ++x) {
    const float t = std::abs(2.f * static_cast<float>(x) / static_cast<float>(width()) - 1);
    path.lineTo(
        x, height() - 2 -
               (height() - 6) * falloff(t, tools_.brush().hardness) * (0.25 + 0.75 * tools_.brush().opacity));
  }
  path.lineTo(width(), height() - 2);
  p.setPen(QPen(QColor(0xd8, 0xd8, 0xd8), 1.3));
  p.setBrush(QColor(0x6d, 0x6d, 0x6d));
  p.drawPath(path);
}

CurveEditor::CurveEditor(Tools& tools) : tools_(tools) {
  setFixedSize(168, 168);
  setToolTip(tr("Drag the two handles: pressure across, strength up"));
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
}

void CurveEditor::mousePressEvent(QMouseEvent* event) {
  const PressureCurve& c = tools_.brush().curve;
  held_ = QLineF(event->position(), at(c.first)).length() <= QLineF(event->position(), at(c.second)).length()
              ? 0
              : 1;
  mouseMoveEvent(event);
}

void CurveEditor::mouseMoveEvent(QMouseEvent* event) {
  Brush brush = tools_.brush();
  const Vec2 v(
      std::clamp(static_cast<float>((event->position().x() - 10) / (width() - 20)), 0.f, 1.f),
      std::clamp(static_cast<float>((height() - 10 - event->position().y()) / (height() - 20)), 0.f, 1.f));
  (held_ == 0 ? brush.curve.first : brush.curve.second) = v;
  tools_.setBrush(brush);
  update();
}

BrushStrip::BrushStrip(Session& session) : session_(session) {
  setObjectName("strip");
  setFixedHeight(60);
  setAutoFillBackground(true);
  QPalette p = palette();
  p.setColor(QPalette::Window, look::kGround);
  setPalette(p);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(14, 6, 14, 6);
  row->setSpacing(16);
  row->addWidget(preview_ = new BrushPreview(session_.tools()));
  const ValueSlider::Scale percent{0, 1, 100, "%", false, 0};
  size_ = new ValueSlider(tr("Size"), {0.1, 100, 1, "mm", true, 1});
  size_->setToolTip(tr("Radius of the brush on the skin (comma and full stop)"));
  hardness_ = new ValueSlider(tr("Hardness"), percent);
  hardness_->setToolTip(tr("How much of the brush is at full strength"));
  opacity_ = new ValueSlider(tr("Opacity"), percent);
  opacity_->setToolTip(tr("What one stroke can reach at most"));
  flow_ = new ValueSlider(tr("Flow"), {0.001, 1, 100, "%", true, 1});
  flow_->setToolTip(tr("What each dab adds; 2 to 3 % builds colour up slowly"));
  steady_ = new ValueSlider(tr("Steady"), {0, 1, 1, "s", false, 2});
  steady_->setToolTip(tr("Smooths the hand: the paint trails the pen by this long"));
  for (ValueSlider* s : {size_, hardness_, opacity_, flow_, steady_}) row->addWidget(s, 1);
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
  fill_->setText(b.allParts ? tr("Fill all") : tr("Fill part"));
  strength_->show(static_cast<double>(session_.tools().fillStrength()));
  // the numbers of the tool in hand; those of zones are under Layer, and picking has none
  const Tool tool = session_.tools().tool();
  const bool fills = tool == Tool::Fill, paints = usesBrush(tool);
  spare_->setVisible(!paints);
  for (QWidget* w : {static_cast<QWidget*>(strength_), static_cast<QWidget*>(fill_)}) w->setVisible(fills);
  for (QWidget* w : {preview_, static_cast<QWidget*>(size_), static_cast<QWidget*>(hardness_),
                     static_cast<QWidget*>(opacity_), static_cast<QWidget*>(flow_),
                     static_cast<QWidget*>(steady_), static_cast<QWidget*>(pen_)})
    w->setVisible(paints);
}

void BrushStrip::takeUnit() {
  const Document& document = session_.document();
  if (std::exchange(unitOf_, std::pair(document.sculpt.get(), document.placement.millimetres)) ==
      std::pair(document.sculpt.get(), document.placement.millimetres))
    return;
  const double d = static_cast<double>(document.surface->bounds.diagonal());
  size_->setScale({0.0005 * d, 0.4 * d, static_cast<double>(document.placement.millimetres), "mm", true, 1});
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
  QString more = tr("gloss %1 %").arg(std::lround(100 * probe->gloss));
  if (probe->metal > 0) more += tr(" metal %1 %").arg(std::lround(100 * probe->metal));
  if (probe->relief != 0)
    more += tr(" relief %1%2")
                .arg(probe->relief < 0 ? "−" : "+",
                     shortLength(std::abs(probe->relief), session_.document().placement.millimetres));
  channelsLabel_->setText(more);
}

}  // namespace juvenor::app
