#include "app/stage/pigment_page.h"

#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/controls/kind_icon.h"
#include "app/controls/labels.h"
#include "app/style/style.h"
#include "core/color/lab.h"
#include "core/document/edits/usual_markings.h"
#include "core/document/whole_stack.h"
#include "core/layers/sources/fill.h"

namespace juvenor::app {
namespace {

constexpr int kToneWide = 84, kToneHigh = 42, kFirstColumns = 2;
constexpr int kAfter = 500;  // milliseconds without a change before the check is done again

// The wells by lightness: the darkest, the middle one, the lightest.
EncodedColor toneFor(const Document& document, size_t which, const EncodedColor& otherwise) {
  std::vector<EncodedColor> wells = document.wells, warm;
  if (wells.empty()) return otherwise;
  // of those that could be skin, when there are enough
  std::ranges::copy_if(wells, std::back_inserter(warm), [](const EncodedColor& c) {
    const Lab lab = toLab(c);
    return lab.a > 3 && lab.b > 5 && lab.a < 2 * lab.b;
  });
  if (warm.size() >= 3) wells = std::move(warm);
  std::ranges::stable_sort(wells, {}, [](const EncodedColor& c) { return toLab(c).l; });
  return wells[which * (wells.size() - 1) / 2];
}

QIcon toneIcon(const EncodedColor& tone) {
  QPixmap swatch(kToneWide, kToneHigh);
  swatch.fill(QColor(0x4a, 0x4a, 0x4a));
  QPainter painter(&swatch);
  QRadialGradient fade(kToneWide / 2.0, kToneHigh / 2.0, kToneWide / 2.0);
  fade.setColorAt(0, toQColor(tone));
  fade.setColorAt(0.45, toQColor(tone));
  QColor clear = toQColor(tone);
  clear.setAlpha(0);
  fade.setColorAt(1, clear);
  painter.fillRect(swatch.rect(), fade);
  return QIcon(swatch);
}

Result<Document> withMarking(const Document& d, const QString& name, SourcePointer source, BlendMode blend,
                             float opacity) {
  const Document added = withSourceLayer(d, name.toStdString(), Stratum::Pigment, std::move(source));
  LayerChange change;
  change.blend = blend;
  change.opacity = opacity;
  return withLayerChanged(added, added.activeLayer, change);
}

}  // namespace

PigmentPage::PigmentPage(Session& session) : session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 6, 12, 8);
  column->setSpacing(6);
  column->addWidget(titleLabel(tr("Pigment")));
  share_ = quietLabel({});
  column->addWidget(share_);
  column->addWidget(quietLabel(tr("Passes at low strength, each letting the one below show")));
  auto* passes = new QGridLayout;
  passes->setSpacing(4);
  buildPasses(*passes);
  column->addLayout(passes);
  column->addWidget(quietLabel(tr("Markings that stay live")));
  auto* markings = new QGridLayout;
  markings->setSpacing(4);
  buildMarkings(*markings);
  column->addLayout(markings);
  column->addWidget(quietLabel(tr("Shows through")));
  number_ = new QLabel;
  number_->setObjectName("shows through");
  number_->setWordWrap(true);
  column->addWidget(number_);
  see_ = new QPushButton(tr("See where"));
  see_->setObjectName("see what shows");
  see_->setCheckable(true);
  see_->setToolTip(tr("White where all of what lies below shows, black where the layer buries it"));
  column->addWidget(see_);
  column->addStretch();
  later_.setSingleShot(true);
  later_.setInterval(kAfter);
  connect(&later_, &QTimer::timeout, this, &PigmentPage::check);
  connect(see_, &QPushButton::toggled, this, [this](bool on) { emit overlayWanted(on ? field_ : nullptr); });
}

QToolButton* PigmentPage::addFirst(QGridLayout& grid, int place, const QString& name, const QString& tip,
                                   const Edit& edit) {
  auto* b = new QToolButton;
  b->setObjectName("first " + name);
  b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
  b->setIconSize({kToneWide, kToneHigh});
  b->setText(name);
  b->setToolTip(tip);
  b->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  grid.addWidget(b, place / kFirstColumns, place % kFirstColumns);
  connect(b, &QToolButton::clicked, this, [this, name, edit] {
    if (!session_.isOpen()) return;
    session_.edit(tr("Add %1").arg(name), [&](const Document& d, const Progress&) { return edit(d); });
  });
  return b;
}

void PigmentPage::buildPasses(QGridLayout& grid) {
  const QString names[] = {tr("Dark pass"), tr("Middle pass"), tr("Light pass")};
  const QString tips[] = {tr("A painted layer for the darkest bursts; the pen takes the darkest well"),
                          tr("A painted layer for the tones between; the pen takes the middle well"),
                          tr("A painted layer for the lightest; the pen takes the lightest well")};
  for (int i = 0; i < 3; ++i) {
    auto* b = addFirst(grid, i, names[i], tips[i], [name = names[i]](const Document& d) -> Result<Document> {
      return withPaintedLayer(d, name.toStdString(), Stratum::Pigment);
    });
    passes_[static_cast<size_t>(i)] = b;
    connect(b, &QToolButton::clicked, this, [this, i] {
      if (!session_.isOpen()) return;
      session_.tools().setColor(
          toneFor(session_.document(), static_cast<size_t>(i), session_.tools().color()));
      session_.tools().setTool(Tool::Airbrush);
    });
  }
}

namespace {
constexpr EncodedColor kBlood{0.66f, 0.28f, 0.24f};
}  // namespace

void PigmentPage::buildMarkings(QGridLayout& grid) {
  const auto add = [&](int place, const QString& name, const QString& tip, const char* kind,
                       const Edit& edit) {
    QToolButton* b = addFirst(grid, place, name, tip, edit);
    showKindIcon(b, *sourceKind(kind), {kToneWide, kToneHigh});
    return b;
  };
  add(0, tr("Freckles"), tr("Speckle in melanin, more over nose and cheeks"), "speckle",
      [](const Document& d) {
        return withMarking(d, tr("Freckles"), speckleSource(usualFreckles(d)), BlendMode::Melanin, 0.8f);
      });
  add(1, tr("Mottling"), tr("Blood that comes and goes in clouds"), "mottle", [](const Document& d) {
    return withMarking(d, tr("Mottling"), mottleSource(usualMottling(d)), BlendMode::Blood, 0.8f);
  });
  QToolButton* veins =
      add(2, tr("Veins"), tr("Vessels from the temples; or place their roots on the skin"), "veins",
          [](const Document& d) {
            return withMarking(d, tr("Veins"), veinSource(usualVeins(d)), BlendMode::Normal, 0.55f);
          });
  // what is in hand belongs to the window; the edit runs beside it
  connect(veins, &QToolButton::clicked, this, [this] {
    if (session_.isOpen() && session_.document().landmarks.empty()) session_.tools().setTool(Tool::Zones);
  });
  addFirst(grid, 3, tr("Blush"),
           tr("A flush of blood over cheeks, nose and ears; paint its mask to change it"),
           [](const Document& d) -> Result<Document> {
             auto added = withMarking(d, tr("Blush"), fillSource(kBlood), BlendMode::Blood, 0.5f);
             if (!added) return added;
             return withMaskField(*added, added->activeLayer, usualBlush(d));
           })
      ->setIcon(toneIcon(kBlood));
}

void PigmentPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  later_.start();
}

void PigmentPage::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  see_->setChecked(false);
}

void PigmentPage::showTones() {
  for (size_t i = 0; i < passes_.size(); ++i)
    passes_[i]->setIcon(toneIcon(toneFor(session_.document(), i, session_.tools().color())));
}

void PigmentPage::refresh() {
  const Document& d = session_.document();
  const auto own = std::ranges::count_if(d.layers, [](const auto& l) { return stageOf(*l) == 2; });
  share_->setText(tr("%1 of %2 layers, marked in the Strata").arg(own).arg(d.layers.size()));
  showTones();
  if (of_.are(d.layers) && active_ == d.activeLayer) return;
  of_ = SeenLayers(d.layers);
  active_ = d.activeLayer;
  // what was seen is of the work as it was
  field_.reset();
  if (see_->isChecked()) emit overlayWanted(nullptr);
  if (isVisible()) later_.start();
}

void PigmentPage::check() {
  if (!session_.isOpen() || !isVisible()) return;
  const auto result = std::make_shared<std::optional<ShowThrough>>();
  work_.start(
      tr("Looking at what shows through"),
      [d = session_.document(), result](const Progress& p) -> Outcome {
        const auto stack = wholeStackOf(d, p);
        if (!stack) return stack.error();
        auto shows = showThrough(*stack, d.activeLayer, *d.surface, d.bare, p);
        if (!shows) return shows.error();
        *result = std::move(*shows);
        return Done{};
      },
      [this, result](const Outcome& done) {
        see_->setEnabled(static_cast<bool>(done));
        if (done) return told(**result);
        number_->setText(tr("The active layer shows no colour."));
        see_->setChecked(false);
      });
}

void PigmentPage::told(const ShowThrough& shows) {
  field_ = shows.field;
  const LayerPointer below = layerOf(session_.document(), shows.below);
  if (shows.covered < 0.0005f)
    number_->setText(tr("Nothing of this layer covers the skin yet."));
  else
    number_->setText(tr("<b>%1 %</b> of %2 still shows where this layer lies, on %3 % of the skin.%4")
                         .arg(std::lround(100 * shows.shows))
                         .arg(below ? tr("“%1”").arg(QString::fromStdString(below->name).toHtmlEscaped())
                                    : tr("what is below"))
                         .arg(std::lround(100 * shows.covered))
                         .arg(shows.shows < 0.35f ? tr(" It buries it.") : QString()));
  if (see_->isChecked()) emit overlayWanted(field_);
}

}  // namespace juvenor::app

#include "moc_pigment_page.cpp"
