#include "app/layer_card/marking_page.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/controls/labels.h"

namespace juvenor::app {

template <>
struct KindSettings<Speckle> {
  static const Speckle* of(const LayerSource& s) { return speckleOf(s); }
  static SourcePointer source(Speckle settings) { return speckleSource(std::move(settings)); }
};

template <>
struct KindSettings<Mottle> {
  static const Mottle* of(const LayerSource& s) { return mottleOf(s); }
  static SourcePointer source(Mottle settings) { return mottleSource(std::move(settings)); }
};

template <>
struct KindSettings<Veins> {
  static const Veins* of(const LayerSource& s) { return veinsOf(s); }
  static SourcePointer source(Veins settings) { return veinSource(std::move(settings)); }
};

namespace {

// Changed, whichever marking it is.
template <class Change>
SourcePointer changedMarking(const LayerSource& source, Change change) {
  if (speckleOf(source)) return changed<Speckle>(source, change);
  if (mottleOf(source)) return changed<Mottle>(source, change);
  if (veinsOf(source)) return changed<Veins>(source, change);
  return nullptr;
}

}  // namespace

MarkingPage::MarkingPage(Session& session, const SourceKind& kind) : SettingsPage(session, "marking") {
  const std::string key(kind.key);
  setObjectName(QString::fromStdString(key + " page"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  if (key == "speckle") buildSpeckle(column);
  if (key == "mottle") buildMottle(column);
  if (key == "veins") buildVeins(column);
  addSeed(column);
}

void MarkingPage::buildSpeckle(QVBoxLayout* column) {
  addOwnColor<Speckle>(column);
  addMembers<Speckle>(column, "cover", "height");
}

void MarkingPage::buildMottle(QVBoxLayout* column) {
  buildTones(column);
  addMembers<Mottle>(column, "size", "crease");
}

void MarkingPage::buildVeins(QVBoxLayout* column) {
  addOwnColor<Veins>(column);
  buildDirections(column);
  addMembers<Veins>(column, "fan", "height");
}

void MarkingPage::buildTones(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(3);
  tones_ = new QHBoxLayout;
  tones_->setSpacing(3);
  row->addLayout(tones_);
  row->addStretch();
  const auto button = [&](const QString& text, const QString& tip, auto act) {
    auto* b = new QPushButton(text);
    b->setFlat(true);
    b->setToolTip(tip);
    row->addWidget(b);
    connect(b, &QPushButton::clicked, this, [this, act] {
      change(
          [&](const LayerSource& s) {
            return changed<Mottle>(s, [&](Mottle& next) {
              act(next);
              tone_ = std::min(tone_, next.tones.size() - 1);
            });
          },
          tr("Tones of mottle"));
    });
    return b;
  };
  auto* more = button("+", tr("One tone more, in the mixer's colour; four at most"), [this](Mottle& m) {
    if (m.tones.size() < 4) m.tones.push_back({session_.tools().color(), 0.5f});
    tone_ = m.tones.size() - 1;
  });
  more->setObjectName("more tones");
  button("−", tr("Takes the chosen tone away; two stay"), [this](Mottle& m) {
    if (m.tones.size() > 2) m.tones.erase(m.tones.begin() + static_cast<std::ptrdiff_t>(tone_));
  });
  auto* take = button(tr("take"), tr("Gives the chosen tone the mixer's colour"),
                      [this](Mottle& m) { m.tones[tone_].color = session_.tools().color(); });
  take->setObjectName("take tone");
  column->addLayout(row);
  addSetting(column, tr("Tone covers"), tr("How much the chosen tone covers what lies below"),
             {{},
              [this](const LayerSource& s) {
                return mottleOf(s)->tones[std::min(tone_, mottleOf(s)->tones.size() - 1)].alpha;
              },
              [this](const LayerSource& s, float v) {
                return changed<Mottle>(
                    s, [&](Mottle& next) { next.tones[std::min(tone_, next.tones.size() - 1)].alpha = v; });
              }});
  whenShown([this](const LayerSource&) { showTones(); });
}

void MarkingPage::showTones() {
  const LayerPointer now = layer_.now();
  const Mottle* m = now ? mottleOf(*now->source) : nullptr;
  if (!m) return;
  tone_ = std::min(tone_, m->tones.size() - 1);
  while (tones_->count() > static_cast<int>(m->tones.size())) {
    QLayoutItem* last = tones_->takeAt(tones_->count() - 1);
    last->widget()->deleteLater();
    delete last;
  }
  while (tones_->count() < static_cast<int>(m->tones.size())) {
    auto* b = new QToolButton;
    const auto index = static_cast<size_t>(tones_->count());
    b->setObjectName(QString("tone %1").arg(index));
    b->setToolTip(tr("Chooses this tone; each takes the same share of the skin"));
    tones_->addWidget(b);
    connect(b, &QToolButton::clicked, this, [this, index] {
      tone_ = index;
      if (const LayerPointer l = layer_.now()) show(*l);
    });
  }
  for (size_t i = 0; i < m->tones.size(); ++i)
    showSwatch(qobject_cast<QToolButton*>(tones_->itemAt(static_cast<int>(i))->widget()), m->tones[i].color,
               m->tones[i].alpha, i == tone_);
}

void MarkingPage::buildDirections(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->addWidget(quietLabel(tr("Grow")));
  auto* box = new QComboBox;
  box->setObjectName("veins toward");
  box->setToolTip(tr("The way they grow; on the other side of the sculpt mirrored"));
  static const Vec3 kWays[] = {Vec3::UnitY(),  -Vec3::UnitY(), Vec3::UnitZ(),
                               -Vec3::UnitZ(), Vec3::UnitX(),  -Vec3::UnitX()};
  box->addItems(
      {tr("up"), tr("down"), tr("to the front"), tr("to the back"), tr("to the right"), tr("to the left")});
  row->addWidget(box, 1);
  column->addLayout(row);
  connect(box, &QComboBox::activated, this, [this](int way) {
    change(
        [way](const LayerSource& s) {
          return changed<Veins>(s, [&](Veins& next) { next.toward = kWays[way]; });
        },
        tr("Direction of veins"));
  });
  whenShown([box](const LayerSource& s) {
    const Vec3 toward = veinsOf(s)->toward;
    const auto nearest =
        std::ranges::max_element(kWays, {}, [&](const Vec3& way) { return way.dot(toward); });
    box->setCurrentIndex(static_cast<int>(nearest - std::begin(kWays)));
  });
}

template <class Kind>
void MarkingPage::addOwnColor(QVBoxLayout* column) {
  addColor(
      column, tr("Click to take the mixer's colour"),
      [](const LayerSource& s) { return KindSettings<Kind>::of(s)->color; },
      [](const LayerSource& s, const EncodedColor& color) {
        return changed<Kind>(s, [&](Kind& next) { next.color = color; });
      },
      tr("Colour of markings"));
}

void MarkingPage::addSeed(QVBoxLayout* column) {
  auto* again = new QPushButton(tr("Throw anew"));
  again->setObjectName("throw anew");
  again->setToolTip(tr("Others of the same kind, in other places"));
  column->addWidget(again);
  connect(again, &QPushButton::clicked, this, [this] {
    change([](const LayerSource& s) { return changedMarking(s, [](auto& kind) { ++kind.seed; }); },
           tr("Throw markings anew"));
  });
}

}  // namespace juvenor::app

#include "moc_marking_page.cpp"
