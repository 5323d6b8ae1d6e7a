#include "app/layer_card/settings_page.h"

#include <QPainter>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/controls/value_slider.h"
#include "app/style/style.h"

namespace juvenor::app {

void showSwatch(QToolButton* button, const EncodedColor& color, float alpha, bool chosen) {
  QPixmap swatch(34, 22);
  QPainter painter(&swatch);
  painter.fillRect(swatch.rect(), QColor(0x9a, 0x9a, 0x9a));
  painter.fillRect(17, 0, 17, 22, QColor(0x6a, 0x6a, 0x6a));
  painter.setOpacity(static_cast<double>(alpha));
  painter.fillRect(swatch.rect(), toQColor(color));
  painter.setOpacity(1);
  if (chosen) {
    painter.setPen(QPen(Qt::white, 2));
    painter.drawRect(1, 1, 32, 20);
  }
  painter.end();
  button->setIcon(QIcon(swatch));
  button->setIconSize({34, 22});
}

SettingRange rangeOf(const MemberFacts& facts) {
  const bool all = facts.from == 0 && facts.to == 0;
  return {facts.unit, static_cast<double>(all ? facts.least : facts.from),
          static_cast<double>(all ? facts.most : facts.to)};
}

ValueSlider::Scale scaleOf(const SettingRange& range, float diagonal, float millimetres) {
  const double whole = static_cast<double>(diagonal);
  switch (range.unit) {
    case MemberUnit::Length:
      return {
          range.low * whole, range.high * whole, static_cast<double>(millimetres), "mm", range.low > 0, 2};
    case MemberUnit::Degrees:
      return {range.low, range.high, 1, "°", false, 0};
    case MemberUnit::Plain:
      return {range.low, range.high, 1, {}, false, range.high < 20 ? 2 : 0};
    case MemberUnit::Part:
      break;
  }
  return {range.low, range.high, 100, "%", false, 0};
}

SettingsPage::SettingsPage(Session& session, QString named)
    : session_(session), layer_(session), named_(std::move(named)) {}

void SettingsPage::addSetting(QVBoxLayout* column, const QString& name, const QString& tip, Setting setting) {
  auto* slider = new ValueSlider(name, scaleOf(setting.range, 1, 1));
  slider->setObjectName(named_ + " " + name);
  slider->setToolTip(tip);
  column->addWidget(slider);
  const Change moved = [slider, with = setting.with](const LayerSource& s) {
    return with(s, static_cast<float>(slider->value()));
  };
  connect(slider, &ValueSlider::changed, this, [this, moved] { preview(moved); });
  connect(slider, &ValueSlider::settled, this, [this, moved, name] { change(moved, name); });
  sliders_.push_back({slider, std::move(setting)});
}

void SettingsPage::addColor(QVBoxLayout* column, const QString& name,
                            const std::function<EncodedColor(const LayerSource&)>& get,
                            const std::function<SourcePointer(const LayerSource&, const EncodedColor&)>& with,
                            const QString& step) {
  auto* row = new QHBoxLayout;
  auto* swatch = new QToolButton;
  swatch->setObjectName(named_ + " colour");
  swatch->setToolTip(tr("Takes the mixer's colour"));
  row->addWidget(swatch);
  row->addWidget(quietLabel(name), 1);
  column->addLayout(row);
  connect(swatch, &QToolButton::clicked, this, [this, with, step] {
    change([&](const LayerSource& s) { return with(s, session_.tools().color()); }, step);
  });
  whenShown([swatch, get](const LayerSource& s) { showSwatch(swatch, get(s), 1, false); });
}

void SettingsPage::addChannels(QVBoxLayout* column, const std::function<ChannelSet(const LayerSource&)>& get,
                               const std::function<SourcePointer(const LayerSource&, ChannelSet)>& with) {
  constexpr int kAcross = 4;
  auto* grid = new QGridLayout;
  grid->setSpacing(2);
  std::array<QPushButton*, kChannelCount> buttons;
  for (size_t c = 0; c < kChannelCount; ++c) {
    const QString label = told(kChannels[c].label);
    auto* b = buttons[c] = new QPushButton(label);
    b->setObjectName(named_ + " on " + QString::fromUtf8(kChannels[c].key));
    b->setCheckable(true);
    b->setStyleSheet("padding: 2px 0; font-size: 11px;");
    b->setToolTip(tr("Works on %1").arg(label.toLower()));
    grid->addWidget(b, static_cast<int>(c) / kAcross, static_cast<int>(c) % kAcross);
    connect(b, &QPushButton::clicked, this, [this, c, get, with](bool on) {
      change(
          [&](const LayerSource& s) -> SourcePointer {
            const auto channel = static_cast<Channel>(c);
            const ChannelSet was = get(s), now = on ? was | channel : was.without(channel);
            return with(s, now.empty() ? was : now);
          },
          tr("What it works on"));
    });
  }
  column->addLayout(grid);
  whenShown([buttons, get](const LayerSource& s) {
    for (size_t c = 0; c < kChannelCount; ++c) {
      buttons[c]->setChecked(get(s).has(static_cast<Channel>(c)));
      buttons[c]->update();
    }
  });
}

namespace {

ShownLayer::Edit editOf(const std::function<SourcePointer(const LayerSource&)>& with) {
  return [with](const Document& d, const Layer& layer) -> Result<Document> {
    SourcePointer next = with(*layer.source);
    if (!next) return Error{SettingsPage::tr("The layer is of another kind.").toStdString()};
    return withSource(d, layer.id, std::move(next));
  };
}

}  // namespace

void SettingsPage::preview(const Change& with) {
  layer_.preview(editOf(with));
}

void SettingsPage::change(const Change& with, const QString& step) {
  layer_.keep(step, editOf(with));
}

void SettingsPage::show(const Layer& layer) {
  layer_.set(layer);
  const Document& d = session_.document();
  for (const auto& show : shows_) show(*layer.source);
  for (const auto& [slider, setting] : sliders_) {
    if (setting.range.unit == Unit::Length)
      slider->setScale(scaleOf(setting.range, d.surface->bounds.diagonal(), d.placement.millimetres));
    slider->show(static_cast<double>(setting.get(*layer.source)));
  }
}

}  // namespace juvenor::app

#include "moc_settings_page.cpp"
