#include "app/stage/stage.h"

#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/controls/channel_grid.h"
#include "app/controls/labels.h"
#include "app/controls/scrolled.h"
#include "app/session/stages.h"
#include "app/session/words.h"
#include "app/style/style.h"
#include "core/color/lab.h"
#include "core/layers/nesting.h"
#include "core/layers/sources/ramp.h"
#include "core/layers/sources/zones.h"

namespace juvenor::app {
namespace {

QVBoxLayout* columnOf(QWidget* page) {
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(12, 6, 12, 8);
  column->setSpacing(6);
  return column;
}

MaskTerm termOf(const MapKind* kind, float scale, float low, float fade, float melt = 0) {
  MaskTerm t;
  t.map = {kind, scale, Vec3::UnitY()};
  t.low = low;
  t.fade = fade;
  t.melt = melt;
  return t;
}

// Which well suits a part by its name: eyes and teeth the lightest, tongue and gills the reddest, fins and
// claws the yellowest; everything else a middle skin tone.
EncodedColor suggestedTone(const std::string& part, const std::vector<EncodedColor>& wells) {
  const QString name = QString::fromStdString(part).toLower();
  const auto has = [&](std::initializer_list<const char*> words) {
    return std::ranges::any_of(words, [&](const char* w) { return name.contains(w); });
  };
  const auto best = [&](auto score) { return *std::ranges::max_element(wells, {}, score); };
  if (has({"eye", "teeth", "tooth"})) return best([](const EncodedColor& c) { return toLab(c).l; });
  if (has({"tongue", "gill", "gum", "lip"})) return best([](const EncodedColor& c) { return toLab(c).a; });
  if (has({"fin", "claw", "nail", "horn", "beak", "crest"}))
    return best([](const EncodedColor& c) { return toLab(c).b; });
  return wells[std::min<size_t>(2, wells.size() - 1)];
}

}  // namespace

Stage::Stage(Session& session, Easel& easel) : session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  pages_ = new QStackedWidget;
  pages_->addWidget(scrolled(prepare_ = new PreparePage(session_, easel)));
  pages_->addWidget(buildBase());
  pages_->addWidget(buildZones());
  pages_->addWidget(pigment_ = new PigmentPage(session_));
  pages_->addWidget(patterns_ = new PatternsPage(session_));
  pages_->addWidget(scrolled(photo_ = new PhotoPage(session_, easel)));
  pages_->addWidget(finish_ = new FinishPages(session_, easel));
  column->addWidget(pages_);
  pages_->setCurrentIndex(session_.tools().stage() - kPrepareStage);
  // tones and ticks are of one sculpt's parts, however many another one has
  connect(&session_, &Session::opened, this, [this] { parts_->setRowCount(0); });
  connect(&session_, &Session::documentChanged, this, &Stage::refresh);
  connect(&session_.tools(), &Tools::changed, this, [this] {
    pages_->setCurrentIndex(session_.tools().stage() - kPrepareStage);
    if (session_.isOpen()) refresh();
  });
  connect(patterns_, &PatternsPage::settingsWanted, this, &Stage::settingsWanted);
  connect(pigment_, &PigmentPage::overlayWanted, &easel,
          [&easel](const std::shared_ptr<const ScalarField>& shows) { easel.setShows(shows); });
}

namespace {

// Pixels a part's name has: the column beside the easel never changes its width.
constexpr int kNameRoom = 62;

// The columns of the parts that hold per cents.
constexpr std::pair<int, Channel> kNumberColumns[] = {{2, Channel::Gloss}, {3, Channel::Metal}};

QIcon signOf(Channel channel) {
  QPixmap sign(32, 32);
  sign.setDevicePixelRatio(2);
  sign.fill(Qt::transparent);
  QPainter painter(&sign);
  drawChannelSign(painter, channel, {2, 2, 12, 12}, look::kText);
  painter.end();
  return QIcon(sign);
}

}  // namespace

QWidget* Stage::buildBase() {
  auto* page = new QWidget;
  auto* column = columnOf(page);
  column->addWidget(titleLabel(tr("Base")));
  shareBase_ = quietLabel({});
  column->addWidget(shareBase_);
  column->addWidget(
      quietLabel(tr("One tone per part, in one go. Click a tone, gloss or metal to give it what the pen has; "
                    "again takes gloss or metal away.")));
  parts_ = new QTableWidget(0, 4);
  parts_->setObjectName("part tones");
  parts_->setHorizontalHeaderLabels({tr("Part"), tr("Tone")});
  // signs leave room for names
  for (const auto& [place, channel] : kNumberColumns) {
    auto* head = new QTableWidgetItem(signOf(channel), QString());
    head->setToolTip(told(factsOf(channel).label));
    parts_->setHorizontalHeaderItem(place, head);
  }
  parts_->horizontalHeader()->setSectionsClickable(false);
  parts_->horizontalHeader()->setMinimumSectionSize(30);
  parts_->verticalHeader()->hide();
  parts_->verticalHeader()->setDefaultSectionSize(24);
  parts_->setShowGrid(false);
  parts_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  parts_->setSelectionMode(QAbstractItemView::NoSelection);
  parts_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  for (int cell = 1; cell < 4; ++cell)
    parts_->horizontalHeader()->setSectionResizeMode(cell, QHeaderView::ResizeToContents);
  parts_->setToolTip(tr("Tick the parts to fill; click a tone, gloss or metal to give it what the pen has"));
  column->addWidget(parts_, 1);
  connect(parts_, &QTableWidget::cellClicked, this, [this](int row, int cell) {
    ChannelValues& tone = tones_[static_cast<size_t>(row)];
    const Tools& tools = session_.tools();
    if (cell == 1) tone.color = tools.color();
    for (const auto& [place, channel] : kNumberColumns) {
      if (cell != place) continue;
      auto& value = tone[channel];
      value = value == tools.number(channel) ? std::nullopt : std::optional(tools.number(channel));
    }
    refreshParts();
  });
  auto* fill = new QPushButton(tr("Fill the ticked parts"));
  fill->setObjectName("fill parts");
  fill->setToolTip(
      tr("Lays every ticked part's tone at the fill strength, on the active or a new base layer"));
  column->addWidget(fill);
  connect(fill, &QPushButton::clicked, this, &Stage::fillParts);
  column->addWidget(quietLabel(tr("Usual first layers")));
  const auto first = [&](const QString& text, const QString& tip, auto make) {
    auto* b = new QPushButton(text);
    b->setToolTip(tip);
    column->addWidget(b);
    connect(b, &QPushButton::clicked, this, [this, make] {
      if (session_.isOpen()) make(session_.document().surface->bounds.diagonal());
    });
  };
  first(tr("Shadow in the creases"), tr("A ramp over Cavity, multiplied"), [this](float d) {
    addRamp(tr("Shadow: creases"), BlendMode::Multiply, 0.6f, termOf(&kCavityMap, 0.006f * d, 0.55f, 0.5f),
            {0.54f, 0.32f, 0.26f});
  });
  first(tr("Shadow in closed forms"), tr("A ramp over Occlusion, multiplied"), [this](float d) {
    addRamp(tr("Shadow: closed forms"), BlendMode::Multiply, 0.55f,
            termOf(&kOcclusionMap, 0.1f * d, 0.75f, 0.75f), {0.49f, 0.29f, 0.24f});
  });
  first(tr("Rubbed light on ridges"), tr("A ramp over Ridge, in soft light"), [this](float d) {
    addRamp(tr("Rubbed light: ridges"), BlendMode::SoftLight, 0.45f,
            termOf(&kRidgeMap, 0.008f * d, 0.5f, 0.45f), {0.96f, 0.89f, 0.78f});
  });
  first(tr("Darker toward the feet"), tr("A ramp over Elevation, multiplied"), [this](float) {
    MaskTerm t = termOf(&kElevationMap, 0, 1, 1);
    t.invert = true;
    addRamp(tr("Darker below"), BlendMode::Multiply, 0.4f, t, {0.45f, 0.38f, 0.36f});
  });
  first(tr("Sun on what faces up"), tr("A ramp over Exposure, multiplied"), [this](float d) {
    addRamp(tr("Sun from above"), BlendMode::Multiply, 0.35f,
            termOf(&kExposureMap, 0, 0.95f, 0.5f, 0.008f * d), {0.79f, 0.55f, 0.4f});
  });
  return page;
}

QWidget* Stage::buildZones() {
  auto* page = new QWidget;
  auto* column = columnOf(page);
  column->addWidget(titleLabel(tr("Zones")));
  shareZones_ = quietLabel({});
  column->addWidget(shareZones_);
  column->addWidget(new LandmarkGuide(session_));
  placed_ = quietLabel({});
  column->addWidget(placed_);
  auto* place = new QPushButton(tr("Place landmarks"));
  place->setObjectName("place landmarks");
  place->setCheckable(true);
  place->setToolTip(
      tr("Then click each ringed place on the sculpt; either side does, the other is mirrored"));
  column->addWidget(place);
  auto* lay = new QPushButton(tr("Lay the usual zones"));
  lay->setObjectName("usual zones");
  lay->setToolTip(
      tr("Brow and skull yellow, cheeks, nose and ears red, jaw blue-grey, lids orange to purple"));
  column->addWidget(lay);
  auto* empty = new QPushButton(tr("Empty layer of zones"));
  empty->setObjectName("empty zones");
  empty->setToolTip(tr("For creatures: then click the skin to add zones where you want them"));
  column->addWidget(empty);
  column->addWidget(quietLabel(
      tr("Drag a zone's handle to move it. Its settings are under Layer. Paint the layer's mask to "
         "hold it back.")));
  column->addStretch();
  connect(place, &QPushButton::clicked, this, [this](bool on) {
    if (!session_.isOpen()) return;
    session_.tools().setTool(Tool::Zones);
    std::string next;
    if (on)
      for (const LandmarkFacts& f : landmarkFacts()) {
        const auto& there = session_.document().landmarks;
        const bool open = std::ranges::find(there, f.key, &Landmark::key) == there.end();
        if (next.empty() && (open || there.size() == landmarkFacts().size())) next = f.key;
      }
    session_.tools().setLandmark(next);
  });
  connect(&session_.tools(), &Tools::changed, place,
          [this, place] { place->setChecked(!session_.tools().landmark().empty()); });
  connect(lay, &QPushButton::clicked, this, &Stage::usualZones);
  connect(empty, &QPushButton::clicked, this, [this] {
    if (!session_.isOpen()) return;
    session_.settleStrokes();
    session_.apply(
        withSourceLayer(session_.document(), tr("Hue zones").toStdString(), Stratum::Flesh, zoneSource({})),
        tr("Add layer of zones"));
    session_.tools().setTool(Tool::Zones);
  });
  return page;
}

void Stage::goTo(int stage) {
  goToStage(session_, stage);
}

int Stage::shown() const {
  return pages_->currentIndex() + kPrepareStage;
}

void Stage::refresh() {
  const Document& d = session_.document();
  const auto share = [&](int stage) {
    // groups are no layers of their own
    const auto count = [&](auto counts) {
      return std::ranges::count_if(d.layers, [&](const auto& l) { return !isGroup(*l) && counts(*l); });
    };
    const auto own = count([&](const Layer& l) { return stageOf(l) == stage; });
    return tr("%1 of %2 layers, marked in the Strata").arg(own).arg(count([](const Layer&) { return true; }));
  };
  shareBase_->setText(share(0));
  shareZones_->setText(share(1));
  const std::string& next = session_.tools().landmark();
  const LandmarkFacts* facts = landmarkFacts(next);
  placed_->setText(facts ? tr("Click on the sculpt: %1").arg(told(facts->label))
                         : tr("%1 of %2 landmarks placed").arg(d.landmarks.size()).arg(kLandmarkCount));
  if (shown() == kPrepareStage) prepare_->refresh();
  if (shown() == kBaseStage) refreshParts();
  if (shown() == kPigmentStage) pigment_->refresh();
  if (shown() == kPatternStage) patterns_->refresh();
  if (shown() == kPhotoStage) photo_->refresh();
  if (shown() == kFinishStage) finish_->refresh();
}

void Stage::refreshParts() {
  const auto& parts = session_.document().sculpt->parts;
  const auto& wells = session_.document().wells;
  if (parts_->rowCount() != static_cast<int>(parts.size())) {
    tones_.clear();
    parts_->setRowCount(static_cast<int>(parts.size()));
    for (size_t i = 0; i < parts.size(); ++i) {
      tones_.push_back(wells.empty() ? session_.tools().color() : suggestedTone(parts[i], wells));
      auto* name = new QTableWidgetItem;
      name->setFlags(Qt::ItemIsEnabled | Qt::ItemIsUserCheckable);
      name->setCheckState(Qt::Checked);
      parts_->setItem(static_cast<int>(i), 0, name);
      for (int column = 1; column < 4; ++column) {
        auto* cell = new QTableWidgetItem;
        cell->setTextAlignment(Qt::AlignCenter);
        parts_->setItem(static_cast<int>(i), column, cell);
      }
    }
  }
  for (size_t i = 0; i < parts.size(); ++i) {
    const QString name = QString::fromStdString(parts[i]);
    parts_->item(static_cast<int>(i), 0)->setText(name);
    parts_->item(static_cast<int>(i), 0)->setFont(fitted(parts_->font(), name, kNameRoom));
    // the longest are cut short all the same
    parts_->item(static_cast<int>(i), 0)->setToolTip(name);
    parts_->item(static_cast<int>(i), 1)->setBackground(toQColor(*tones_[i].color));
    for (const auto& [place, channel] : kNumberColumns) {
      const auto& value = tones_[i][channel];
      parts_->item(static_cast<int>(i), place)
          ->setText(value ? QString("%1").arg(std::lround(100 * *value)) : QString("—"));
    }
  }
}

void Stage::fillParts() {
  if (!session_.isOpen()) return;
  session_.settleStrokes();
  std::map<uint32_t, ChannelValues> tones;
  for (int row = 0; row < parts_->rowCount(); ++row)
    if (parts_->item(row, 0)->checkState() == Qt::Checked)
      tones[static_cast<uint32_t>(row)] = tones_[static_cast<size_t>(row)];
  if (tones.empty()) return session_.say(tr("Tick a part to fill first."), true);
  const float strength = session_.tools().fillStrength();
  session_.edit(tr("Base tones"), [&](const Document& now, const Progress&) {
    const LayerPointer active = layerOf(now, now.activeLayer);
    const bool base =
        active && active->stratum == Stratum::Flesh && active->source->painted() && !active->locked;
    // a layer that is no base stays as it is
    const Document d = base ? now : withPaintedLayer(now, tr("Base tone").toStdString(), Stratum::Flesh);
    return withPartsFilled(d, d.activeLayer, tones, strength);
  });
}

void Stage::addRamp(const QString& name, BlendMode blend, float opacity, const MaskTerm& term,
                    const EncodedColor& color) {
  session_.measured("new ramp", {term}, [=, this] {
    session_.settleStrokes();
    Document d = withSourceLayer(session_.document(), name.toStdString(), Stratum::Flesh,
                                 rampSource({term}, {{0, color, 0}, {1, color, 1}}));
    LayerChange change;
    change.blend = blend;
    change.opacity = opacity;
    session_.apply(withLayerChanged(d, d.activeLayer, change), tr("Add %1").arg(name));
  });
}

void Stage::usualZones() {
  if (!session_.isOpen()) return;
  session_.settleStrokes();
  if (session_.apply(withUsualZones(session_.document()), tr("Lay the usual zones"))) {
    session_.tools().setLandmark({});
    session_.tools().setTool(Tool::Zones);
  }
}

}  // namespace juvenor::app

#include "moc_stage.cpp"
