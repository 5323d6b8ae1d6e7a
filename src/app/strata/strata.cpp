#include "app/strata/strata.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace juvenor::app {

Strata::Strata(Session& session) : session_(session) {
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
    blend_->addItem(QString::fromUtf8(label.data(), static_cast<int>(label.size())));
  }
  blend_->setFixedWidth(118);
  auto* add = new QPushButton(tr("+ layer"));
  add->setFlat(true);
  add->setToolTip(tr("Adds a layer to paint on, or one of a single colour (Ctrl+L)"));
  head->addWidget(title);
  head->addStretch();
  head->addWidget(blend_);
  head->addWidget(add);
  column->addLayout(head);
  rows_ = new StrataRows(session_);
  auto* scroll = new QScrollArea;
  scroll->setWidget(rows_);
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setFrameShape(QFrame::NoFrame);
  column->addWidget(scroll, 1);
  connect(add, &QPushButton::clicked, this, &Strata::addMenu);
  connect(rows_, &StrataRows::menuWanted, this, &Strata::menu);
  connect(blend_, &QComboBox::activated, this, [this](int index) {
    session_.settleStrokes();
    LayerChange change;
    change.blend = static_cast<BlendMode>(index);
    session_.apply(withLayerChanged(session_.document(), session_.document().activeLayer, change),
                   tr("Blend mode"));
  });
  connect(&session_, &Session::documentChanged, this, &Strata::refresh);
  connect(&session_.tools(), &Tools::changed, this, [this, stage = -1]() mutable {
    if (std::exchange(stage, session_.tools().stage()) != session_.tools().stage()) rows_->update();
  });
}

void Strata::refresh() {
  rows_->refresh();
  const LayerPointer active = layerOf(session_.document(), session_.document().activeLayer);
  blend_->setEnabled(active != nullptr);
  if (active) blend_->setCurrentIndex(static_cast<int>(active->blend));
}

void Strata::addMenu() {
  if (!session_.isOpen()) return;
  session_.settleStrokes();
  QMenu menu;
  const char* names[3] = {"Flesh", "Pigment", "Surface"};
  for (int s = 2; s >= 0; --s)
    menu.addAction(tr("Painted layer in %1").arg(tr(names[s])), this, [this, s, names] {
      session_.apply(withPaintedLayer(session_.document(), tr("%1 paint").arg(tr(names[s])).toStdString(),
                                      static_cast<Stratum>(s)),
                     tr("Add layer"));
    });
  menu.addSeparator();
  for (int s = 2; s >= 0; --s)
    menu.addAction(tr("Fill layer in %1, in the mixer's colour").arg(tr(names[s])), this, [this, s] {
      session_.apply(withFillLayer(session_.document(), tr("Fill").toStdString(), static_cast<Stratum>(s),
                                   session_.tools().color()),
                     tr("Add fill layer"));
    });
  menu.addSeparator();
  menu.addAction(tr("Hue zones in Flesh"), this, [this] {
    session_.apply(
        withSourceLayer(session_.document(), tr("Hue zones").toStdString(), Stratum::Flesh, zoneSource({})),
        tr("Add layer of zones"));
    session_.tools().setTool(Tool::Zones);
  });
  for (int s = 2; s >= 0; --s)
    menu.addAction(tr("Colour ramp over a map in %1").arg(tr(names[s])), this, [this, s] {
      MaskTerm term;
      term.map = usualMap(MapKind::Elevation, session_.document().surface->bounds.diagonal());
      const EncodedColor color = session_.tools().color();
      session_.apply(withSourceLayer(session_.document(), tr("Ramp").toStdString(), static_cast<Stratum>(s),
                                     rampSource({term}, {{0, color, 0}, {1, color, 1}})),
                     tr("Add colour ramp"));
    });
  menu.exec(QCursor::pos());
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
