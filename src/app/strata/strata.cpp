#include "app/strata/strata.h"

#include "app/session/words.h"
#include "app/strata/kind_card.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

namespace juvenor::app {

Strata::Strata(Session& session) : session_(session) {
  // once the work is seen, so that the card of kinds has its pictures when it is asked for
  constexpr int kLater = 3000;  // milliseconds
  QTimer::singleShot(kLater, this, &KindCard::drawAhead);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 6, 0, 0);
  column->setSpacing(6);
  auto* head = new QHBoxLayout;
  head->setContentsMargins(14, 0, 8, 0);
  auto* title = new QLabel(tr("Strata"));
  title->setProperty("title", true);
  blend_ = new QComboBox;
  blend_->setToolTip(tr("How the active layer mixes with what is under it"));
  blend_->setAccessibleName(tr("Blend mode"));
  for (int i = 0; i < kBlendModeCount; ++i) {
    const auto label = blendModeLabel(static_cast<BlendMode>(i));
    blend_->addItem(told(label));
  }
  blend_->setFixedWidth(118);
  add_ = new QPushButton(tr("+ layer"));
  add_->setObjectName("add layer");
  add_->setFlat(true);
  add_->setToolTip(tr("Every kind of layer, with a picture of what it does; Ctrl+L adds one to paint on"));
  head->addWidget(title);
  head->addStretch();
  head->addWidget(blend_);
  head->addWidget(add_);
  column->addLayout(head);
  rows_ = new StrataRows(session_);
  scroll_ = scrolled(rows_);
  column->addWidget(scroll_, 1);
  connect(add_, &QPushButton::clicked, this, &Strata::addCard);
  connect(rows_, &StrataRows::menuWanted, this, &Strata::menu);
  connect(blend_, &QComboBox::activated, this, [this](int index) {
    session_.settleStrokes();
    LayerChange change;
    change.blend = static_cast<BlendMode>(index);
    session_.apply(withLayerChanged(session_.document(), session_.document().activeLayer, change),
                   tr("Blend mode"));
  });
  connect(&session_, &Session::documentChanged, this, &Strata::refresh);
  connect(&session_, &Session::opened, this, [this] {
    shown_ = 0;
    refresh();
  });
  connect(&session_.tools(), &Tools::changed, this, [this, stage = -1]() mutable {
    if (std::exchange(stage, session_.tools().stage()) != session_.tools().stage()) rows_->update();
  });
}

void Strata::refresh() {
  rows_->refresh();
  const LayerPointer active = layerOf(session_.document(), session_.document().activeLayer);
  blend_->setEnabled(active != nullptr);
  if (active) blend_->setCurrentIndex(static_cast<int>(active->blend));
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
  session_.settleStrokes();
  const SourcePointer source = kind->fresh(*session_.document().surface, session_.tools().color());
  const QString name = told(kind->label);
  session_.apply(withSourceLayer(session_.document(), name.toStdString(), stratum, source),
                 tr("Add layer: %1").arg(name));
  if (const auto tool = toolOf(*kind)) session_.tools().setTool(*tool);
  // a tone is set in the mixer, all others on their page
  if (!kind->keys.empty() && kind->key != "fill") emit settingsWanted();
}

void Strata::menu(uint32_t id, const QPoint& at) {
  session_.settleStrokes();
  const Document& d = session_.document();
  const LayerPointer layer = layerOf(d, id);
  if (!layer) return;
  QMenu menu;
  const auto act = [&](const QString& text, const QString& name, auto edit) {
    menu.addAction(text, this, [this, name, edit, id] {
      session_.edit(name, [&](const Document& x, const Progress&) { return edit(x, id); });
    });
  };
  act(tr("Duplicate"), tr("Duplicate layer"),
      [](const Document& x, uint32_t i) { return withDuplicate(x, i); });
  act(tr("Merge down"), tr("Merge down"), [](const Document& x, uint32_t i) { return withMergedDown(x, i); });
  menu.addSeparator();
  if (layer->mask) {
    act(tr("Invert mask"), tr("Invert mask"),
        [](const Document& x, uint32_t i) { return withInvertedMask(x, i); });
    act(tr("Remove mask"), tr("Remove mask"),
        [](const Document& x, uint32_t i) { return withoutMask(x, i); });
  } else {
    act(tr("Add mask"), tr("Add mask"), [](const Document& x, uint32_t i) { return withMask(x, i); });
  }
  const bool locked = layer->locked;
  act(locked ? tr("Unlock") : tr("Lock"), locked ? tr("Unlock layer") : tr("Lock layer"),
      [locked](const Document& x, uint32_t i) {
        LayerChange change;
        change.locked = !locked;
        return withLayerChanged(x, i, change);
      });
  menu.addSeparator();
  act(tr("Delete"), tr("Delete layer"), [](const Document& x, uint32_t i) { return withoutLayer(x, i); });
  menu.exec(at);
}

}  // namespace juvenor::app

#include "moc_strata.cpp"
