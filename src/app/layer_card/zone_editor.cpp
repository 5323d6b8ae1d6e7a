#include "app/layer_card/zone_editor.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/layer_card/marking_page.h"
#include "app/layer_card/settings_page.h"
#include "app/mixer/color_field.h"
#include "app/session/words.h"
#include "app/style/style.h"
#include "core/layers/sources/patterns.h"

namespace juvenor::app {
namespace {

QIcon swatchOf(const ZoneTint& tint) {
  QPixmap swatch(14, 14);
  swatch.fill(toQColor(tint.plain ? tint.color : toEncoded(Oklch{0.68f, 0.05f + tint.chroma, tint.hue})));
  return QIcon(swatch);
}

}  // namespace

ZoneEditor::ZoneEditor(Session& session) : session_(session), layer_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  auto* head = new QHBoxLayout;
  title_ = quietLabel({});
  place_ = new QPushButton(tr("place"));
  place_->setObjectName("place areas");
  place_->setFlat(true);
  place_->setToolTip(tr("Takes the Zones tool: click the skin to add one, drag its handle to move it"));
  head->addWidget(title_, 1);
  head->addWidget(place_);
  column->addLayout(head);
  connect(place_, &QPushButton::clicked, this, [this] { session_.tools().setTool(Tool::Zones); });
  auto* row = new QHBoxLayout;
  row->setSpacing(3);
  names_ = new QComboBox;
  names_->setObjectName("zones");
  names_->setToolTip(tr("The zone whose settings are shown; click a handle on the easel to choose it there"));
  names_->setIconSize({14, 14});
  auto* remove = new QPushButton(tr("remove"));
  remove->setFlat(true);
  remove->setToolTip(tr("Takes the zone away"));
  row->addWidget(names_, 1);
  row->addWidget(remove);
  column->addLayout(row);
  settings_ = new QWidget;
  auto* inside = new QVBoxLayout(settings_);
  inside->setContentsMargins(0, 0, 0, 0);
  inside->setSpacing(3);
  name_ = new QLineEdit;
  name_->setToolTip(tr("The name of the zone"));
  inside->addWidget(name_);
  like_ = new QComboBox;
  like_->setObjectName("region like");
  like_->setToolTip(tr("What skin it is like"));
  for (const SkinLike& like : skinLikes())
    like_->addItem(tr("Like %1").arg(told(like.label).toLower()), QString::fromUtf8(like.key));
  inside->addWidget(like_);
  connect(like_, &QComboBox::activated, this, [this] {
    edit([this](ZoneSet&, HueZone& z) { z.like = like_->currentData().toString().toStdString(); },
         tr("What the region is like"));
  });
  tint_ = new QWidget;
  auto* leaning = new QVBoxLayout(tint_);
  leaning->setContentsMargins(0, 0, 0, 0);
  leaning->setSpacing(3);
  buildTint(leaning);
  inside->addWidget(tint_);
  addNumbers(inside);
  mirrored_ = new QCheckBox(tr("On both sides"));
  mirrored_->setToolTip(tr("A second one on the other side: across x = 0, or the midplane where one is set"));
  inside->addWidget(mirrored_);
  column->addWidget(settings_);
  melt_ = new ValueSlider(tr("Melt all zones"), {0, 30, 1, "mm", false, 1});
  melt_->setToolTip(tr("Lets all zones of the layer flow along the skin, into each other"));
  column->addWidget(melt_);
  connect(melt_, &ValueSlider::changed, this,
          [this](double v) { previewed([v](ZoneSet& s, HueZone&) { s.melt = static_cast<float>(v); }); });
  connect(melt_, &ValueSlider::settled, this, &ZoneEditor::finish);
  connect(names_, &QComboBox::activated, this, [this](int i) { session_.tools().setZone(i); });
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    edit([this](ZoneSet&, HueZone& z) { z.name = name_->text().toStdString(); }, tr("Rename zone"));
  });
  connect(mirrored_, &QCheckBox::toggled, this, [this](bool on) {
    edit([on](ZoneSet&, HueZone& z) { z.mirrored = on; }, on ? tr("Mirror zone") : tr("Zone on one side"));
  });
  connect(remove, &QPushButton::clicked, this, [this] {
    const int at = session_.tools().zone();
    if (at >= static_cast<int>(set_.zones.size())) return;
    edit([at](ZoneSet& s, HueZone&) { s.zones.erase(s.zones.begin() + at); }, tr("Remove zone"));
    session_.tools().setZone(std::max(0, at - 1));
  });
  connect(&session_.tools(), &Tools::changed, this, &ZoneEditor::refresh);
}

void ZoneEditor::buildTint(QVBoxLayout* column) {
  auto* label = new QLabel(tr("Leans toward"));
  label->setProperty("quiet", true);
  column->addWidget(label);
  hue_ = new ColorField2D(ColorField2D::Kind::Hue);
  hue_->setObjectName("zone hue");
  hue_->setFixedHeight(16);
  column->addWidget(hue_);
  chroma_ = new ValueSlider(tr("By"), {0, 0.2, 100, "chroma", false, 1});
  chroma_->setToolTip(tr("How far it pushes the colour; lightness stays"));
  column->addWidget(chroma_);
  plain_ = new QCheckBox(tr("Plain colour of the mixer"));
  plain_->setToolTip(tr("Lays the mixer's colour instead of tinting what is below"));
  column->addWidget(plain_);
  connect(hue_, &ColorField2D::chosen, this,
          [this](const Oklch& c) { edit([c](ZoneSet&, HueZone& z) { z.tint.hue = c.h; }, tr("Zone hue")); });
  connect(chroma_, &ValueSlider::changed, this, [this](double v) {
    previewed([v](ZoneSet&, HueZone& z) { z.tint.chroma = static_cast<float>(v); });
  });
  connect(chroma_, &ValueSlider::settled, this, &ZoneEditor::finish);
  connect(plain_, &QCheckBox::toggled, this, [this](bool on) {
    edit(
        [this, on](ZoneSet&, HueZone& z) {
          z.tint.plain = on;
          if (on) z.tint.color = session_.tools().color();
        },
        tr("Zone tint"));
  });
}

void ZoneEditor::addNumbers(QVBoxLayout* column) {
  for (const Member<HueZone>& member : membersOf<HueZone>()) {
    auto* s = new ValueSlider(told(member.facts.label), scaleOf(rangeOf(member.facts), 1, 1));
    s->setToolTip(told(member.facts.does));
    column->addWidget(s);
    connect(s, &ValueSlider::changed, this, [this, of = member.of](double v) {
      previewed([v, of](ZoneSet&, HueZone& z) { of(z) = static_cast<float>(v); });
    });
    connect(s, &ValueSlider::settled, this, &ZoneEditor::finish);
    numbers_.push_back({member, s});
  }
}

// The layer with the zones as they are set here.
ShownLayer::Edit ZoneEditor::zones() const {
  return [set = set_](const Document& d, const Layer& layer) { return withZones(d, layer.id, set); };
}

void ZoneEditor::previewed(const std::function<void(ZoneSet&, HueZone&)>& change) {
  if (showing_) return;
  const auto at = static_cast<size_t>(session_.tools().zone());
  HueZone none;
  change(set_, at < set_.zones.size() ? set_.zones[at] : none);
  layer_.preview(zones());
}

void ZoneEditor::finish() {
  if (!showing_) layer_.keep(tr("Change zone"), zones());
}

void ZoneEditor::edit(const std::function<void(ZoneSet&, HueZone&)>& change, const QString& step) {
  if (showing_) return;
  ZoneSet before = set_;
  const auto at = static_cast<size_t>(session_.tools().zone());
  HueZone none;
  change(set_, at < set_.zones.size() ? set_.zones[at] : none);
  if (set_ == before) return;
  layer_.keep(step, zones());
}

void ZoneEditor::refresh() {
  if (!session_.isOpen()) return;
  const LayerPointer layer = layerOf(session_.document(), session_.document().activeLayer);
  const ZoneSet* zones = layer ? layer->source->zones() : nullptr;
  setVisible(zones);
  if (!zones) return;
  showing_ = true;
  layer_.set(*layer);
  set_ = *zones;
  const int at = std::clamp(session_.tools().zone(), 0, std::max(0, static_cast<int>(set_.zones.size()) - 1));
  names_->clear();
  for (const HueZone& z : set_.zones) names_->addItem(swatchOf(z.tint), QString::fromStdString(z.name));
  names_->setCurrentIndex(set_.zones.empty() ? -1 : at);
  settings_->setVisible(!set_.zones.empty());
  const AreaFacts& facts = *layer->source->kind().areas;
  title_->setText(told(facts.all));
  for (QWidget* w : {static_cast<QWidget*>(title_), static_cast<QWidget*>(place_)})
    w->setVisible(!facts.tint);
  for (QWidget* w : {tint_, static_cast<QWidget*>(melt_)}) w->setVisible(facts.tint);
  for (const auto& [member, slider] : numbers_)
    slider->setVisible(facts.rim || member.facts.key == "reach" || member.facts.key == "strength");
  like_->setVisible(facts.like);
  const float diagonal = session_.document().surface->bounds.diagonal(),
              unit = session_.document().placement.millimetres;
  melt_->setScale(scaleOf({MemberUnit::Length, 0, 0.06}, diagonal, unit));
  melt_->show(static_cast<double>(set_.melt));
  if (!set_.zones.empty()) {
    const HueZone& z = set_.zones[static_cast<size_t>(at)];
    if (!name_->hasFocus()) name_->setText(QString::fromStdString(z.name));
    hue_->show({0.7f, 0.12f, z.tint.hue});
    chroma_->show(static_cast<double>(z.tint.chroma));
    plain_->setChecked(z.tint.plain);
    chroma_->setEnabled(!z.tint.plain);
    hue_->setEnabled(!z.tint.plain);
    for (const auto& [member, slider] : numbers_) {
      slider->setScale(scaleOf(rangeOf(member.facts), diagonal, unit));
      slider->show(static_cast<double>(memberOf(member, z)));
    }
    mirrored_->setChecked(z.mirrored);
    like_->setCurrentIndex(like_->findData(QString::fromStdString(z.like)));
  }
  showing_ = false;
}

}  // namespace juvenor::app

#include "moc_zone_editor.cpp"
