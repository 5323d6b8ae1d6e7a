#include "app/kit/kit.h"

#include <QAction>
#include <QApplication>
#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QToolButton>
#include <QVBoxLayout>
#include <utility>

#include "app/controls/bind_key.h"
#include "app/session/stages.h"
#include "app/session/words.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {

constexpr int kShortPress = 300;  // milliseconds; what is held longer springs back

}  // namespace

Kit::Kit(Session& session) : session_(session) {
  setFixedWidth(68);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(4, 8, 4, 8);
  column->setSpacing(2);
  column->setSizeConstraint(QLayout::SetNoConstraint);
  Tools& tools = session_.tools();
  addSecondKey();
  for (int i = 0; i < kToolCount; ++i)
    if (factsOf(static_cast<Tool>(i)).stages == 0) column->addWidget(addTool(static_cast<Tool>(i)));
  stage_ = new QLabel;
  stage_->setProperty("quiet", true);
  stage_->setAlignment(Qt::AlignCenter);
  stage_->setFixedHeight(20);
  stage_->setStyleSheet("border-top: 1px solid #2e2e2e; font-size: 11px;");
  column->addWidget(stage_);
  ofStage_ = new QGridLayout;
  ofStage_->setSpacing(2);
  for (int i = 0; i < kToolCount; ++i)
    if (factsOf(static_cast<Tool>(i)).stages != 0) ofStage_->addWidget(addTool(static_cast<Tool>(i)), i, 0);
  column->addLayout(ofStage_);
  column->addStretch();
  const auto toggle = [&](const QString& text, const QString& tip, const QString& key, auto flip) {
    auto* b = new QToolButton;
    b->setText(text);
    b->setCheckable(true);
    b->setToolTip(key.isEmpty() ? tip : tip + " (" + key + ")");
    bindKey(b, key);
    connect(b, &QToolButton::clicked, this, [&tools, flip](bool on) {
      Brush brush = tools.brush();
      flip(brush, on);
      tools.setBrush(brush);
    });
    return b;
  };
  auto* caption = new QLabel(tr("Mirror"));
  caption->setProperty("quiet", true);
  caption->setAlignment(Qt::AlignCenter);
  column->addWidget(caption);
  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  for (size_t axis = 0; axis < 3; ++axis) {
    const QString name(QChar('X' + static_cast<int>(axis)));
    auto* b = toggle(
        name,
        tr("Mirrors strokes across %1 = 0; where a midplane is set, across it and square to it").arg(name),
        axis == 0 ? "M" : "", [axis](Brush& brush, bool on) { brush.mirror[axis] = on; });
    b->setFixedSize(18, 22);
    b->setStyleSheet("padding: 0;");
    row->addWidget(b);
    mirrors_.push_back(b);
  }
  column->addLayout(row);
  frontOnly_ = toggle(tr("Front"), tr("Paint stays on skin that faces you and never reaches the far side"),
                      "O", [](Brush& b, bool on) { b.frontOnly = on; });
  allParts_ =
      toggle(tr("All parts"),
             tr("Paint every part under the brush, and fill the whole sculpt, not only the active part"), "J",
             [](Brush& b, bool on) { b.allParts = on; });
  for (QToolButton* b : {frontOnly_, allParts_}) {
    b->setFixedSize(60, 24);
    b->setStyleSheet("padding: 0; font-size: 11px;");
    column->addWidget(b);
  }
  connect(&tools, &Tools::changed, this, &Kit::refresh);
  qApp->installEventFilter(this);
  refresh();
}

QToolButton* Kit::addTool(Tool tool) {
  const ToolFacts& facts = factsOf(tool);
  auto* b = new QToolButton;
  b->setObjectName("kit");
  b->setProperty("tool", QString(facts.label));
  b->setIcon(icon(facts.icon));
  b->setIconSize({20, 20});
  b->setText(told(facts.label));
  b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
  b->setCheckable(true);
  b->setFixedSize(60, 45);
  b->setToolTip(tr("%1 (%2)").arg(told(facts.tip), facts.key));
  const auto choose = [this, tool] {
    session_.tools().setTool(tool);
    refresh();
  };
  // a tool keeps its key in every stage, also while its button is not there
  auto* key = new QAction(this);
  key->setShortcut(QKeySequence(facts.key));
  addAction(key);
  key->setAutoRepeat(false);
  if (tool == Tool::Pick)
    connect(key, &QAction::triggered, this, &Kit::holdPick);
  else
    connect(key, &QAction::triggered, this, choose);
  connect(b, &QToolButton::clicked, this, choose);
  tools_[tool] = b;
  return b;
}

// Held down its key picks and the tool stays; a short press takes Pick in hand.
void Kit::holdPick() {
  if (session_.tools().tool() == Tool::Pick) return;
  held_.start();
  heldColor_ = session_.tools().color();
  session_.tools().setHoldsPick(true);
}

void Kit::letGo() {
  Tools& tools = session_.tools();
  const bool took = held_.elapsed() < kShortPress && tools.color() == heldColor_;
  tools.setHoldsPick(false);
  if (took) tools.setTool(Tool::Pick);
}

// A short press changes the two colours' places; held down it does so for as long.
void Kit::holdSecond() {
  if (holdsSecond_) return;
  held_.start();
  holdsSecond_ = true;
  session_.tools().swapColors();
}

void Kit::letGoOfSecond() {
  if (std::exchange(holdsSecond_, false) && held_.elapsed() >= kShortPress) session_.tools().swapColors();
}

bool Kit::eventFilter(QObject* object, QEvent* event) {
  if (holdsSecond_) {
    const auto* key = event->type() == QEvent::KeyRelease ? static_cast<QKeyEvent*>(event) : nullptr;
    if ((key && !key->isAutoRepeat() && key->key() == Qt::Key_0) ||
        event->type() == QEvent::ApplicationDeactivate)
      letGoOfSecond();
  }
  if (session_.tools().holdsPick()) {
    const auto* key = event->type() == QEvent::KeyRelease ? static_cast<QKeyEvent*>(event) : nullptr;
    if (key && !key->isAutoRepeat() && QKeySequence(key->key()) == QKeySequence(factsOf(Tool::Pick).key))
      letGo();
    // whoever goes to another window lets go there
    if (event->type() == QEvent::ApplicationDeactivate) session_.tools().setHoldsPick(false);
  }
  return QWidget::eventFilter(object, event);
}

void Kit::addSecondKey() {
  auto* key = new QAction(this);
  key->setShortcut(QKeySequence("0"));
  key->setAutoRepeat(false);
  addAction(key);
  connect(key, &QAction::triggered, this, &Kit::holdSecond);
}

void Kit::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  arrange();
}

// The stage's tools below each other with their names, or where the window is too low as pictures, two in a
// row.
void Kit::arrange() {
  constexpr int kRest = 126, kEach = 47;  // switches, line and margins; a tool with its name
  std::vector<QToolButton*> shown;
  int named = 0;
  for (const auto& [tool, button] : tools_) {
    if (factsOf(tool).stages == 0)
      ++named;
    else if (!button->isHidden())
      shown.push_back(button);
  }
  const bool low = height() < kRest + kEach * (named + static_cast<int>(shown.size()));
  for (size_t i = 0; i < shown.size(); ++i) {
    QToolButton* b = shown[i];
    b->setToolButtonStyle(low ? Qt::ToolButtonIconOnly : Qt::ToolButtonTextUnderIcon);
    b->setFixedSize(low ? QSize(29, 34) : QSize(60, 45));
    const int at = static_cast<int>(i);
    ofStage_->addWidget(b, low ? at / 2 : at, low ? at % 2 : 0);
  }
}

void Kit::refresh() {
  const Tools& tools = session_.tools();
  stage_->setText(stageName(tools.stage()));
  for (const auto& [tool, button] : tools_) {
    button->setChecked(tools.holdsPick() ? tool == Tool::Pick : tools.tool() == tool);
    const ToolFacts& facts = factsOf(tool);
    // one from elsewhere shows while it is in hand
    button->setVisible(facts.stages == 0 || facts.servesAt(tools.stage()) || tools.tool() == tool);
  }
  arrange();
  for (size_t i = 0; i < 3; ++i) mirrors_[i]->setChecked(tools.brush().mirror[i]);
  frontOnly_->setChecked(tools.brush().frontOnly);
  allParts_->setChecked(tools.brush().allParts);
}

}  // namespace juvenor::app

#include "moc_kit.cpp"
