#include "app/layer_card/term_editor.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>
#include <utility>

#include "app/controls/emptied.h"
#include "app/layer_card/settings_page.h"
#include "app/session/words.h"

namespace juvenor::app {
namespace {

struct NamedDirection {
  const char* name;
  Vec3 direction;
};
const NamedDirection kDirections[] = {{"from above", Vec3::UnitY()},     {"from below", -Vec3::UnitY()},
                                      {"from the front", Vec3::UnitZ()}, {"from the back", -Vec3::UnitZ()},
                                      {"from the right", Vec3::UnitX()}, {"from the left", -Vec3::UnitX()}};

}  // namespace

TermEditor::TermEditor() {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  numbers_ = new QHBoxLayout;
  numbers_->setSpacing(2);
  row->addLayout(numbers_);
  row->addStretch();
  auto* adding = new QPushButton(tr("+ map"));
  adding->setObjectName("add map");
  adding->setFlat(true);
  adding->setToolTip(tr("Adds a surface map; several are multiplied, added or subtracted"));
  remove_ = new QPushButton(tr("remove"));
  remove_->setFlat(true);
  remove_->setToolTip(tr("Takes this map away"));
  row->addWidget(remove_);
  row->addWidget(adding);
  column->addLayout(row);
  settings_ = new QWidget;
  auto* inside = new QVBoxLayout(settings_);
  inside->setContentsMargins(0, 0, 0, 0);
  inside->setSpacing(3);
  buildRange(inside);
  column->addWidget(settings_);
  connect(adding, &QPushButton::clicked, this, [this] {
    MaskTerm term;
    term.map = usualMap(&kCavityMap, diagonal_);
    terms_.push_back(term);
    chosen_ = static_cast<int>(terms_.size()) - 1;
    refresh();
    emit changed();
  });
  connect(remove_, &QPushButton::clicked, this, [this] {
    terms_.erase(terms_.begin() + chosen_);
    chosen_ = std::max(0, chosen_ - 1);
    refresh();
    emit changed();
  });
}

void TermEditor::buildRange(QVBoxLayout* column) {
  kind_ = new QComboBox;
  kind_->setObjectName("map kind");
  kind_->setToolTip(tr("What is measured on the shape"));
  for (const MapKind* kind : mapKinds()) kind_->addItem(told(kind->label));
  combine_ = new QComboBox;
  combine_->setToolTip(tr("How this map joins the ones before it"));
  combine_->addItems({tr("multiply"), tr("add"), tr("subtract")});
  auto* row = new QHBoxLayout;
  row->setSpacing(3);
  row->addWidget(kind_, 1);
  row->addWidget(combine_);
  column->addLayout(row);
  direction_ = new QComboBox;
  direction_->setToolTip(tr("The direction that counts"));
  for (const NamedDirection& d : kDirections) direction_->addItem(tr(d.name));
  direction_->addItem(tr("from the viewer now"));
  column->addWidget(direction_);
  scale_ = new ValueSlider(tr("Scale"), {0.1, 100, 1, "mm", true, 2});
  scale_->setToolTip(tr("The size of the forms that count, along the skin"));
  column->addWidget(scale_);
  again_ = new QPushButton(tr("Throw anew"));
  again_->setObjectName("other noise");
  again_->setToolTip(tr("Another noise of the same kind"));
  column->addWidget(again_);
  connect(again_, &QPushButton::clicked, this, [this] { edit([](MaskTerm& t) { ++t.map.seed; }, true); });
  // another scale is another map: it is measured when the slider comes to rest
  connect(scale_, &ValueSlider::changed, this, [this](double v) {
    if (!showing_ && term()) terms_[static_cast<size_t>(chosen_)].map.scale = static_cast<float>(v);
  });
  connect(scale_, &ValueSlider::settled, this, [this] {
    if (!showing_) emit changed();
  });
  for (const Member<MaskTerm>& member : membersOf<MaskTerm>()) {
    auto* s = new ValueSlider(told(member.facts.label), scaleOf(rangeOf(member.facts), 1, 1));
    s->setToolTip(told(member.facts.does));
    column->addWidget(s);
    connect(s, &ValueSlider::changed, this, [this, of = member.of](double v) {
      edit([&](MaskTerm& t) { of(t) = static_cast<float>(v); }, false);
    });
    connect(s, &ValueSlider::settled, this, [this] {
      if (!showing_) emit changed();
    });
    values_.push_back({member, s});
  }
  invert_ = new QCheckBox(tr("Invert"));
  invert_->setToolTip(tr("Shows what was hidden, and hides what was shown"));
  column->addWidget(invert_);
  connect(invert_, &QCheckBox::toggled, this,
          [this](bool on) { edit([&](MaskTerm& t) { t.invert = on; }, true); });
  connect(kind_, &QComboBox::activated, this, [this](int k) {
    edit([&](MaskTerm& t) { t.map = usualMap(mapKinds()[static_cast<size_t>(k)], diagonal_); }, true);
  });
  connect(combine_, &QComboBox::activated, this,
          [this](int c) { edit([&](MaskTerm& t) { t.combine = static_cast<MaskCombine>(c); }, true); });
  connect(direction_, &QComboBox::activated, this, [this](int d) {
    edit(
        [&](MaskTerm& t) {
          const bool named = d < static_cast<int>(std::size(kDirections));
          t.map.direction = named ? kDirections[d].direction : viewer_;
        },
        true);
  });
}

const MaskTerm* TermEditor::term() const {
  return chosen_ < static_cast<int>(terms_.size()) ? &terms_[static_cast<size_t>(chosen_)] : nullptr;
}

void TermEditor::edit(const std::function<void(MaskTerm&)>& change, bool final) {
  if (showing_ || !term()) return;
  change(terms_[static_cast<size_t>(chosen_)]);
  if (final) {
    refresh();
    emit changed();
  } else {
    emit sliding();
  }
}

void TermEditor::show(const MaskTerms& terms, float diagonal, float millimetres) {
  millimetres_ = millimetres;
  terms_ = terms;
  diagonal_ = diagonal;
  chosen_ = std::clamp(chosen_, 0, std::max(0, static_cast<int>(terms.size()) - 1));
  refresh();
}

void TermEditor::choose(int term) {
  chosen_ = term;
  refresh();
}

void TermEditor::refresh() {
  showing_ = true;
  empty(*numbers_);
  for (int i = 0; i < static_cast<int>(terms_.size()); ++i) {
    auto* b = new QPushButton(QString::number(i + 1));
    b->setCheckable(true);
    b->setChecked(i == chosen_);
    b->setFixedSize(22, 20);
    b->setStyleSheet("padding: 0;");
    b->setToolTip(told(terms_[static_cast<size_t>(i)].map.kind->label));
    connect(b, &QPushButton::clicked, this, [this, i] { choose(i); });
    numbers_->addWidget(b);
  }
  const MaskTerm* t = term();
  settings_->setVisible(t);
  remove_->setVisible(t);
  if (t) {
    const MapKind& facts = *t->map.kind;
    kind_->setCurrentIndex(static_cast<int>(std::ranges::find(mapKinds(), &facts) - mapKinds().begin()));
    kind_->setToolTip(tr("1 means: %1").arg(told(facts.shows)));
    combine_->setVisible(chosen_ > 0);
    combine_->setCurrentIndex(static_cast<int>(t->combine));
    scale_->setVisible(facts.hasScale);
    scale_->setScale({0.0005 * static_cast<double>(diagonal_), 0.4 * static_cast<double>(diagonal_),
                      static_cast<double>(millimetres_), "mm", true, 2});
    scale_->show(static_cast<double>(t->map.scale));
    again_->setVisible(facts.hasSeed);
    direction_->setVisible(facts.hasDirection);
    direction_->setCurrentIndex(static_cast<int>(std::size(kDirections)));
    for (int d = 0; d < static_cast<int>(std::size(kDirections)); ++d)
      if ((kDirections[d].direction - t->map.direction).norm() < 1e-3f) direction_->setCurrentIndex(d);
    for (const auto& [member, slider] : values_) {
      slider->setScale(scaleOf(rangeOf(member.facts), diagonal_, millimetres_));
      slider->show(static_cast<double>(memberOf(member, *t)));
    }
    invert_->setChecked(t->invert);
  }
  showing_ = false;
}

}  // namespace juvenor::app

#include "moc_term_editor.cpp"
