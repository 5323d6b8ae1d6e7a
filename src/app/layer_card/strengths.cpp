#include "app/layer_card/strengths.h"

#include <QComboBox>
#include <QVBoxLayout>

#include "app/controls/channel_grid.h"
#include "app/controls/labels.h"
#include "app/controls/value_slider.h"
#include "app/session/words.h"
#include "core/layers/filters/adjust.h"
#include "core/layers/filters/filter.h"
#include "core/layers/nesting.h"
#include "core/layers/sources/fill.h"

namespace juvenor::app {
namespace {

HeightScale heightsOf(const Session& session) {
  const Document& d = session.document();
  return {d.placement.millimetres, 0.01f * d.surface->bounds.diagonal()};
}

// How values of a channel may meet those below.
QComboBox* modesOf(const ChannelFacts& facts) {
  auto* out = new QComboBox;
  out->setObjectName("mode " + QString::fromUtf8(facts.key));
  out->setAccessibleName(Strengths::tr("How %1 meets what lies below").arg(told(facts.label).toLower()));
  out->setToolTip(out->accessibleName());
  for (int m = 0; m < kChannelModeCount; ++m)
    if (const auto mode = static_cast<ChannelMode>(m); hasMode(facts.rule, mode))
      out->addItem(told(channelModeLabel(mode, facts.rule)), m);
  return out;
}

// Of a group those of what lies in it.
ChannelSet broughtBy(const Document& document, const Layer& layer) {
  ChannelSet out = layer.source->channels();
  const size_t at = placeOf(document, layer.id);
  if (!isGroup(layer) || at == document.layers.size()) return out;
  for (size_t i = firstOf(document.layers, at); i < at; ++i) out |= document.layers[i]->source->channels();
  return out;
}

}  // namespace

Strengths::Strengths(Session& session) : session_(session), layer_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(2);
  column->addWidget(quietLabel(tr("Strength of its channels")));
  for (size_t c = 0; c < kChannelCount; ++c) {
    const ChannelFacts& facts = kChannels[c];
    const QString label = told(facts.label);
    sliders_[c] = new ValueSlider(label, {static_cast<double>(facts.leastStrength), 1, 100, "%", false, 0});
    sliders_[c]->setObjectName("strength " + QString::fromUtf8(facts.label));
    sliders_[c]->setToolTip(facts.leastStrength < 0
                                ? tr("How much of the layer's relief shows; below 0 % heights become hollows")
                                : tr("How much of this channel of the layer shows, beside its opacity"));
    column->addWidget(sliders_[c]);
    if (facts.rule != ChannelRule::Blend) {
      modes_[c] = modesOf(facts);
      column->addWidget(modes_[c]);
      connect(modes_[c], &QComboBox::activated, this,
              [this, c] { changeMode(c, static_cast<ChannelMode>(modes_[c]->currentData().toInt())); });
    }
    connect(sliders_[c], &ValueSlider::changed, this, [this, c] { change(c, false); });
    connect(sliders_[c], &ValueSlider::settled, this, [this, c] { change(c, true); });
  }
}

void Strengths::show(const Layer& layer) {
  layer_.set(layer);
  const ChannelSet has = broughtBy(session_.document(), layer);
  for (size_t c = 0; c < kChannelCount; ++c) {
    sliders_[c]->setVisible(has.has(static_cast<Channel>(c)));
    sliders_[c]->show(static_cast<double>(layer.strengths.value[c]));
    if (!modes_[c]) continue;
    // what changes the skin below meets nothing
    modes_[c]->setVisible(has.has(static_cast<Channel>(c)) && !filterOf(*layer.source) &&
                          !adjustOf(*layer.source));
    modes_[c]->setCurrentIndex(modes_[c]->findData(static_cast<int>(layer.modes[c])));
  }
  setVisible(!has.empty());
}

void Strengths::changeMode(size_t channel, ChannelMode mode) {
  LayerChange change;
  change.mode[channel] = mode;
  layer_.keep(tr("How %1 meets what lies below").arg(told(kChannels[channel].label).toLower()),
              [change](const Document& d, const Layer& l) { return withLayerChanged(d, l.id, change); });
}

void Strengths::change(size_t channel, bool final) {
  LayerChange change;
  change.strength[channel] = static_cast<float>(sliders_[channel]->value());
  const auto edit = [change](const Document& d, const Layer& l) { return withLayerChanged(d, l.id, change); };
  if (final)
    layer_.keep(tr("Strength of %1").arg(told(kChannels[channel].label).toLower()), edit);
  else
    layer_.preview(edit);
}

FillEditor::FillEditor(Session& session) : session_(session), layer_(session) {
  setObjectName("fill values");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  column->addWidget(quietLabel(tr("Filled with")));
  grid_ = new ChannelGrid(1);
  column->addWidget(grid_);
  connect(grid_, &ChannelGrid::toggled, this, [this](Channel c, bool on) {
    if (c == Channel::Color)
      values_.color = on ? std::optional(session_.tools().color()) : std::nullopt;
    else
      values_[c] = on ? std::optional(kept_[static_cast<size_t>(c)]) : std::nullopt;
    change(true);
  });
  connect(grid_, &ChannelGrid::changed, this, [this](Channel c, float v) {
    values_[c] = v;
    change(false);
  });
  connect(grid_, &ChannelGrid::settled, this, [this] { change(true); });
}

void FillEditor::show(const Layer& layer) {
  const auto values = fillValues(*layer.source);
  if (!values) return;
  layer_.set(layer);
  values_ = *values;
  for (size_t c = 0; c < kChannelCount; ++c)
    if (values_.number[c]) kept_[c] = *values_.number[c];
  grid_->show(values_.channels(), values_.color.value_or(session_.tools().color()), kept_,
              heightsOf(session_));
}

void FillEditor::change(bool final) {
  if (values_.channels().empty()) {
    session_.say(tr("A fill brings one channel at least."), true);
    if (const LayerPointer layer = layer_.now()) show(*layer);
    return;
  }
  LayerChange change;
  change.values = values_;
  const auto edit = [change](const Document& d, const Layer& l) { return withLayerChanged(d, l.id, change); };
  if (final)
    layer_.keep(tr("Fill layer's values"), edit);
  else
    layer_.preview(edit);
}

}  // namespace juvenor::app

#include "moc_strengths.cpp"
