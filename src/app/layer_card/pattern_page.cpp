#include "app/layer_card/pattern_page.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/layer_card/ramp_bar.h"

namespace juvenor::app {

PatternPage::PatternPage(Session& session) : SettingsPage(session, "pattern") {}

template <class Guide>
SettingsPage::Setting PatternPage::guideSetting(Guide Guides::*guide, const Member<Guide>& member,
                                                const Range& range) {
  return {range,
          [guide, member](const LayerSource& s) {
            return s.guides() ? memberOf(member, s.guides()->*guide) : 0.f;
          },
          [guide, of = member.of](const LayerSource& s, float v) -> SourcePointer {
            if (!s.guides()) return nullptr;
            Guides next = *s.guides();
            of(next.*guide) = v;
            return s.withGuides(std::move(next));
          }};
}

template <class Guide>
void PatternPage::addGuide(QVBoxLayout* column, Guide Guides::*guide, std::string_view key) {
  const Member<Guide>& m = memberWith<Guide>(key);
  addSetting(column, told(m.facts.label), told(m.facts.does), guideSetting(guide, m, rangeOf(m.facts)));
}

void PatternPage::buildGuides(QVBoxLayout* column, const QString& sizeName, const QString& sizeTip,
                              const Range& range) {
  addSize(column, sizeName, sizeTip, range);
  addDirection(column);
  addExceptions(column);
}

void PatternPage::addSize(QVBoxLayout* column, const QString& name, const QString& tip, const Range& range) {
  addSetting(column, name, tip, guideSetting(&Guides::size, memberWith<SizeGuide>("size"), range));
  addGuide(column, &Guides::size, "smallest");
}

void PatternPage::addDirection(QVBoxLayout* column) {
  addGuide(column, &Guides::direction, "curvature");
  addGuide(column, &Guides::direction, "turn");
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
