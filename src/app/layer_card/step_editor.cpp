#include "app/layer_card/step_editor.h"

#include <QMenu>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/controls/emptied.h"
#include "app/controls/labels.h"
#include "app/controls/value_slider.h"
#include "app/session/words.h"

namespace juvenor::app {

StepEditor::StepEditor(Session& session) : session_(session), layer_(session) {
  setObjectName("mask steps");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  auto* head = new QHBoxLayout;
  head->addWidget(quietLabel(tr("Done to the mask, live")), 1);
  auto* adding = new QPushButton(tr("+ step"));
  adding->setObjectName("add mask step");
  adding->setFlat(true);
  adding->setToolTip(tr("Softens, grows, frays or breaks up the mask; the paint under it stays as it is"));
  auto* menu = new QMenu(adding);
  buildAdding(*menu);
  adding->setMenu(menu);
  head->addWidget(adding);
  column->addLayout(head);
  rows_ = new QVBoxLayout;
  rows_->setSpacing(2);
  column->addLayout(rows_);
  settings_ = new QWidget;
  auto* inside = new QVBoxLayout(settings_);
  inside->setContentsMargins(0, 0, 0, 0);
  inside->setSpacing(3);
  buildSettings(inside);
  column->addWidget(settings_);
}

void StepEditor::buildAdding(QMenu& menu) {
  const auto usual = [this](MaskStep::Way way) {
    const Surface& surface = *session_.document().surface;
    MaskStep out;
    out.way = way;
    out.amount = factsOf(way).usual;
    out.size = std::max(0.005f * surface.bounds.diagonal(), 2 * surface.spacing);
    return out;
  };
  QAction* ragged = menu.addAction(tr("Ragged edge"), this, [this, usual] {
    add({usual(MaskStep::Way::Melt), usual(MaskStep::Way::BreakUp)});
  });
  ragged->setToolTip(tr("Melt, then break up"));
  menu.addSeparator();
  for (size_t w = 0; w < maskStepFacts().size(); ++w) {
    const auto way = static_cast<MaskStep::Way>(w);
    QAction* act = menu.addAction(told(factsOf(way).label), this, [this, way, usual] { add({usual(way)}); });
    act->setObjectName("add step " + QString::fromUtf8(factsOf(way).key));
    act->setToolTip(told(factsOf(way).does));
  }
  menu.setToolTipsVisible(true);
}

void StepEditor::buildSettings(QVBoxLayout* column) {
  size_ = new ValueSlider({}, {0, 1, 1, "mm", true, 2});
  size_->setObjectName("mask step size");
  amount_ = new ValueSlider({}, {0, 1, 100, "%", false, 0});
  amount_->setObjectName("mask step amount");
  again_ = new QPushButton(tr("Throw anew"));
  again_->setToolTip(tr("Another noise of the same kind"));
  for (QWidget* w :
       {static_cast<QWidget*>(size_), static_cast<QWidget*>(amount_), static_cast<QWidget*>(again_)})
    column->addWidget(w);
  const auto bind = [this](ValueSlider* slider, float MaskStep::*member) {
    connect(slider, &ValueSlider::changed, this, [this, member](double v) {
      if (MaskStep* step = chosen()) step->*member = static_cast<float>(v);
      layer_.preview(edit());
    });
    connect(slider, &ValueSlider::settled, this, [this] { keep(tr("Change a step of the mask")); });
  };
  bind(size_, &MaskStep::size);
  bind(amount_, &MaskStep::amount);
  connect(again_, &QPushButton::clicked, this, [this] {
    if (MaskStep* step = chosen()) ++step->seed;
    keep(tr("Throw anew"));
  });
}

ShownLayer::Edit StepEditor::edit() const {
  return [steps = steps_](const Document& d, const Layer& l) { return withMaskSteps(d, l.id, steps); };
}

void StepEditor::keep(const QString& what) {
  layer_.keep(what, edit());
}

void StepEditor::add(std::initializer_list<MaskStep> steps) {
  steps_.insert(steps_.end(), steps);
  chosen_ = steps_.size() - 1;
  keep(tr("Add a step to the mask"));
}

void StepEditor::move(size_t step, int by) {
  const size_t to = step + static_cast<size_t>(by);
  if (to >= steps_.size()) return;
  std::swap(steps_[step], steps_[to]);
  chosen_ = to;
  keep(tr("Move a step of the mask"));
}

void StepEditor::takeAway(size_t step) {
  steps_.erase(steps_.begin() + static_cast<std::ptrdiff_t>(step));
  chosen_ = std::min(chosen_, steps_.empty() ? 0 : steps_.size() - 1);
  keep(tr("Take a step of the mask away"));
}

QWidget* StepEditor::rowOf(size_t step) {
  auto* row = new QWidget;
  auto* inside = new QHBoxLayout(row);
  inside->setContentsMargins(0, 0, 0, 0);
  inside->setSpacing(2);
  auto* name = new QPushButton(tr("%1  %2").arg(step + 1).arg(told(factsOf(steps_[step].way).label)));
  name->setObjectName(QString("mask step %1").arg(step + 1));
  name->setCheckable(true);
  name->setChecked(step == chosen_);
  name->setStyleSheet("padding: 2px 5px; font-size: 11px; text-align: left;");
  name->setToolTip(told(factsOf(steps_[step].way).does));
  connect(name, &QPushButton::clicked, this, [this, step] {
    chosen_ = step;
    refresh();
  });
  inside->addWidget(name, 1);
  const auto small = [&](const QString& sign, const QString& tip, bool may, auto act) {
    auto* b = new QToolButton;
    b->setText(sign);
    b->setToolTip(tip);
    b->setAccessibleName(tip);
    b->setEnabled(may);
    b->setFixedSize(20, 22);
    b->setStyleSheet("padding: 0;");
    connect(b, &QToolButton::clicked, this, act);
    inside->addWidget(b);
  };
  small("↑", tr("Earlier"), step > 0, [this, step] { move(step, -1); });
  small("↓", tr("Later"), step + 1 < steps_.size(), [this, step] { move(step, 1); });
  small("×", tr("Take away"), true, [this, step] { takeAway(step); });
  return row;
}

void StepEditor::show(const Layer& layer) {
  if (layer_.id() != layer.id) chosen_ = 0;
  layer_.set(layer);
  steps_ = layer.steps;
  chosen_ = std::min(chosen_, steps_.empty() ? 0 : steps_.size() - 1);
  refresh();
}

void StepEditor::refresh() {
  empty(*rows_);
  for (size_t i = 0; i < steps_.size(); ++i) rows_->addWidget(rowOf(i));
  const MaskStep* step = chosen();
  settings_->setVisible(step);
  if (!step) return;
  const MaskStepFacts& facts = factsOf(step->way);
  const Document& d = session_.document();
  const double diagonal = static_cast<double>(d.surface->bounds.diagonal());
  size_->setVisible(!facts.size.empty());
  size_->setLabel(told(facts.size));
  size_->setScale(
      {0.0005 * diagonal, 0.05 * diagonal, static_cast<double>(d.placement.millimetres), "mm", true, 2});
  size_->show(static_cast<double>(step->size));
  amount_->setVisible(!facts.amount.empty());
  amount_->setLabel(told(facts.amount));
  amount_->setScale({static_cast<double>(facts.least), static_cast<double>(facts.most), 100, "%", false, 0});
  amount_->show(static_cast<double>(step->amount));
  again_->setVisible(facts.seeded);
}

}  // namespace juvenor::app

#include "moc_step_editor.cpp"
