#include "app/strata/strata.h"

#include "app/controls/scrolled.h"
#include "app/session/add_layer.h"
#include "app/session/words.h"
#include "app/strata/kind_card.h"
#include "app/style/style.h"
#include "core/layers/group.h"
#include "core/layers/nesting.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

namespace juvenor::app {

namespace {

// From so many layers on one looks for them.
constexpr size_t kManyLayers = 15;
constexpr auto kDenseKey = "strata dense";

}  // namespace

Strata::Strata(Session& session) : session_(session) {
  // once the work is seen, so that the card of kinds has its pictures when it is asked for
  constexpr int kLater = 3000;  // milliseconds
  QTimer::singleShot(kLater, this, &KindCard::drawAhead);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 6, 0, 0);
  column->setSpacing(6);
  column->addWidget(buildHead());
  rows_ = new StrataRows(session_);
  find_ = new QLineEdit;
  find_->setObjectName("find layer");
  find_->setPlaceholderText(tr("Find a layer by its name or kind"));
  find_->setAccessibleName(find_->placeholderText());
  find_->setClearButtonEnabled(true);
  find_->hide();
  auto* finding = new QHBoxLayout;
  finding->setContentsMargins(14, 0, 14, 0);
  finding->addWidget(find_);
  column->addLayout(finding);
  scroll_ = scrolled(rows_);
  column->addWidget(scroll_, 1);
  connect(find_, &QLineEdit::textChanged, rows_, &StrataRows::setFind);
  connect(add_, &QPushButton::clicked, this, &Strata::addCard);
  connect(rows_, &StrataRows::menuWanted, this, &Strata::menu);
  connect(blend_, &QComboBox::activated, this, [this](int index) {
    session_.settleStrokes();
    LayerChange change;
    const LayerPointer active = layerOf(session_.document(), session_.document().activeLayer);
    const bool passes = index == kBlendModeCount;
    if (!passes) change.blend = static_cast<BlendMode>(index);
    if (active && isGroup(*active)) change.passes = passes;
    session_.apply(withLayerChanged(session_.document(), session_.document().activeLayer, change),
                   tr("Blend mode"));
  });
  connect(&session_, &Session::documentChanged, this, &Strata::refresh);
  connect(&session_, &Session::opened, this, [this] {
    shown_ = 0;
    refresh();
  });
  dense_->setChecked(QSettings().value(kDenseKey, false).toBool());
  connect(&session_.tools(), &Tools::changed, this, [this, stage = -1]() mutable {
    if (std::exchange(stage, session_.tools().stage()) != session_.tools().stage()) rows_->update();
  });
}

QWidget* Strata::buildHead() {
  auto* box = new QWidget;
  auto* head = new QHBoxLayout(box);
  head->setContentsMargins(14, 0, 8, 0);
  head->setSpacing(4);
  auto* title = new QLabel(tr("Strata"));
  title->setProperty("title", true);
  dense_ = new QToolButton;
  dense_->setObjectName("dense strata");
  dense_->setCheckable(true);
  dense_->setStyleSheet(
      "QToolButton { background: transparent; padding: 2px; } QToolButton:hover { background: #525252; }"
      "QToolButton:checked { background: #6d6d6d; }");
  dense_->setIcon(icon("rows"));
  dense_->setToolTip(tr("More rows, of one line each"));
  dense_->setAccessibleName(dense_->toolTip());
  blend_ = new QComboBox;
  blend_->setToolTip(tr("How the active layer mixes with what is under it"));
  blend_->setAccessibleName(tr("Blend mode"));
  for (int i = 0; i < kBlendModeCount; ++i) {
    const auto label = blendModeLabel(static_cast<BlendMode>(i));
    blend_->addItem(told(label));
  }
  blend_->setFixedWidth(106);
  add_ = new QPushButton(tr("+ layer"));
  add_->setObjectName("add layer");
  add_->setFlat(true);
  add_->setToolTip(tr("Every kind of layer, with a picture of what it does; Ctrl+L adds one to paint on"));
  head->addWidget(title);
  head->addWidget(dense_);
  head->addStretch();
  head->addWidget(blend_);
  head->addWidget(add_);
  connect(dense_, &QToolButton::toggled, this, [this](bool on) {
    rows_->setDense(on);
    QSettings().setValue(kDenseKey, on);
    emit listed();
  });
  return box;
}

int Strata::roomWanted() const {
  return rows_->listHeight() - scroll_->viewport()->height();
}

void Strata::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  emit listed();
}

void Strata::refresh() {
  const bool many = session_.isOpen() && session_.document().layers.size() >= kManyLayers;
  if (!many) find_->clear();
  find_->setVisible(many);
  rows_->refresh();
  emit listed();
  const LayerPointer active = layerOf(session_.document(), session_.document().activeLayer);
  blend_->setEnabled(active != nullptr);
  // a group may have no mode at all
  const Group* group = active ? groupOf(*active->source) : nullptr;
  if (group && blend_->count() == kBlendModeCount)
    blend_->addItem(tr("Passes through"));
  else if (!group && blend_->count() > kBlendModeCount)
    blend_->removeItem(kBlendModeCount);
  if (active)
    blend_->setCurrentIndex(group && group->passes ? kBlendModeCount : static_cast<int>(active->blend));
  // a layer one goes to comes into view; nothing moves otherwise
  if (std::exchange(shown_, session_.document().activeLayer) != session_.document().activeLayer)
    QTimer::singleShot(0, this, &Strata::showActive);  // when the rows have their places
}

void Strata::showActive() {
  const QRect row = rows_->activeRect();
  if (!row.isEmpty()) scroll_->ensureVisible(row.center().x(), row.center().y(), 0, row.height());
}

void Strata::addCard() {
  if (!session_.isOpen()) return;
  auto* card = new KindCard(this);
  card->setAttribute(Qt::WA_DeleteOnClose);
  connect(card, &KindCard::chosen, this, &Strata::addLayer);
  card->openAt(add_->mapToGlobal(QPoint(add_->width(), add_->height() + 2)));
}

void Strata::addLayer(const SourceKind* kind, Stratum stratum) {
  if (addLayerOf(session_, *kind, stratum)) emit settingsWanted();
}

}  // namespace juvenor::app

#include "moc_strata.cpp"
