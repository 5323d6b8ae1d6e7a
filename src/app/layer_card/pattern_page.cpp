#include "app/layer_card/pattern_page.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/layer_card/ramp_bar.h"

namespace juvenor::app {

PatternPage::PatternPage(Session& session) : SettingsPage(session, "pattern") {}

template <class Member>
void PatternPage::addGuide(QVBoxLayout* column, const QString& name, const QString& tip, Member member,
                           const Range& range) {
  addSetting(column, name, tip,
             {range, [member](const LayerSource& s) { return s.guides() ? member(*s.guides()) : 0.f; },
              [member](const LayerSource& s, float v) -> SourcePointer {
                if (!s.guides()) return nullptr;
                Guides next = *s.guides();
                member(next) = v;
                return s.withGuides(std::move(next));
              }});
}

void PatternPage::buildGuides(QVBoxLayout* column, const QString& sizeName, const QString& sizeTip,
                              const Range& range) {
  addGuide(
      column, sizeName, sizeTip, [](auto& g) -> auto& { return g.size.size; }, range);
  addGuide(column, tr("Smallest"), tr("Of that, where areas and maps make it small"),
           [](auto& g) -> auto& { return g.size.smallest; }, {Unit::Part, 0.1, 1});
  addDirection(column);
  addExceptions(column);
}

void PatternPage::addDirection(QVBoxLayout* column) {
  addGuide(
      column, tr("Along forms"), tr("How much it lies along limbs, ridges and creases"),
      [](auto& g) -> auto& { return g.direction.curvature; });
  addGuide(column, tr("Turn"), tr("How it lies against the direction"),
           [](auto& g) -> auto& { return g.direction.turn; }, {Unit::Degrees, -90, 90});
  addCombs(column);
}

void PatternPage::addExceptions(QVBoxLayout* column) {
  auto* button = new QPushButton(tr("Leave out lids, lips, eyes"));
  button->setObjectName("leave out");
  button->setToolTip(
      tr("Masks the usual places: lids and lips by their landmarks, eyes, teeth and nails by the names of "
         "their parts"));
  column->addWidget(button);
  connect(button, &QPushButton::clicked, this, [this] {
    const uint32_t id = layer_.id();
    session_.edit(tr("Leave out the usual places"),
                  [id](const Document& d, const Progress&) { return withUsualExceptions(d, id); });
  });
}

void PatternPage::addCombs(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(3);
  auto* combs = quietLabel({});
  row->addWidget(combs, 1);
  auto* comb = new QPushButton(tr("Comb"));
  comb->setObjectName("take comb");
  comb->setToolTip(tr("Takes the comb in hand: stroke the way it is to lie (C)"));
  auto* clear = new QPushButton(tr("Clear"));
  clear->setObjectName("clear combs");
  clear->setToolTip(tr("Forgets every stroke of the comb"));
  row->addWidget(comb);
  row->addWidget(clear);
  column->addLayout(row);
  connect(comb, &QPushButton::clicked, this, [this] { session_.tools().setTool(Tool::Comb); });
  connect(clear, &QPushButton::clicked, this, [this] {
    change(
        [](const LayerSource& s) {
          Guides next = *s.guides();
          next.direction.combs.clear();
          return s.withGuides(std::move(next));
        },
        tr("Clear the combs"));
  });
  whenShown([combs, clear](const LayerSource& s) {
    const auto count = s.guides() ? static_cast<int>(s.guides()->direction.combs.size()) : 0;
    combs->setText(count == 0 ? tr("Not combed") : count == 1 ? tr("1 stroke") : tr("%1 strokes").arg(count));
    clear->setEnabled(count > 0);
  });
}

void PatternPage::addRamp(QVBoxLayout* column, const std::function<const RampStops&(const LayerSource&)>& get,
                          const std::function<SourcePointer(const LayerSource&, const RampStops&)>& with) {
  auto* ramp = new RampBar;
  ramp->setObjectName("pattern ramp");
  column->addWidget(ramp);
  const Change recolored = [ramp, with](const LayerSource& s) { return with(s, ramp->ramp()); };
  connect(ramp, &RampBar::sliding, this, [this, recolored] { preview(recolored); });
  connect(ramp, &RampBar::changed, this,
          [this, recolored] { change(recolored, tr("Colours of the pattern")); });
  connect(&session_.tools(), &Tools::changed, ramp,
          [this, ramp] { ramp->setColor(session_.tools().color()); });
  whenShown([this, ramp, get](const LayerSource& s) {
    ramp->show(get(s));
    ramp->setColor(session_.tools().color());
  });
}

void PatternPage::addAgain(QVBoxLayout* column, const Change& again) {
  auto* button = new QPushButton(tr("Throw anew"));
  button->setObjectName("throw anew");
  button->setToolTip(tr("Another one of the same kind"));
  column->addWidget(button);
  connect(button, &QPushButton::clicked, this,
          [this, again] { change(again, tr("Throw the pattern anew")); });
}

}  // namespace juvenor::app

#include "moc_pattern_page.cpp"
