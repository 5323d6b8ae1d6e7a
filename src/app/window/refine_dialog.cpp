#include "app/window/refine_dialog.h"

#include <QApplication>
#include <QButtonGroup>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPointer>
#include <QPushButton>
#include <QRadioButton>
#include <QThreadPool>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/controls/value_slider.h"
#include "app/style/style.h"
#include "core/document/edits/edits.h"
#include "core/surface/build/refine_where.h"

namespace juvenor::app {
namespace {

// Below so many points a sculpt counts as coarse: added points round it by default.
constexpr size_t kCoarse = 200'000;
// Memory of a sample in the surface and the rays over its two triangles, about; measured in bench/memory.cpp.
constexpr double kBytesPerSample = 330, kBytesPerPaintedSample = 8;

// A few vertices of a brow line, with the points added between them on straight or curved ways.
QIcon shapePicture(bool round) {
  QPixmap picture(96, 48);
  picture.fill(look::kWell);
  QPainter p(&picture);
  p.setRenderHint(QPainter::Antialiasing);
  const QPointF corners[] = {{8, 40}, {26, 17}, {50, 9}, {74, 18}, {88, 40}};
  QPainterPath path(corners[0]);
  for (int i = 1; i < 5; ++i) {
    const QPointF a = corners[i - 1], b = corners[i],
                  outward(0.14 * (b.y() - a.y()), -0.14 * (b.x() - a.x()));
    if (round)
      path.quadTo((a + b) / 2 + outward * 1.6, b);
    else
      path.lineTo(b);
  }
  p.setPen(QPen(look::kQuiet, 1.4));
  p.drawPath(path);
  p.setPen(Qt::NoPen);
  p.setBrush(look::kQuiet);
  for (int i = 0; i <= 16; ++i) p.drawEllipse(path.pointAtPercent(i / 16.0), 1.4, 1.4);
  p.setBrush(Qt::white);
  for (const QPointF& c : corners) p.drawEllipse(c, 2.6, 2.6);
  return picture;
}

}  // namespace

RefineDialog::RefineDialog(const Document& document, uint32_t part, QWidget* parent)
    : QDialog(parent),
      document_(document),
      surface_(document.surface),
      millimetres_(document.placement.millimetres),
      paintedLayers_(static_cast<size_t>(std::ranges::count_if(
          document.layers, [](const auto& l) { return l->source->painted() || l->mask; }))) {
  setObjectName("refine");
  setWindowTitle(tr("Add points"));
  setMinimumWidth(440);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(24, 20, 24, 18);
  column->setSpacing(8);
  auto* now =
      new QLabel(tr("%1 points now, %2 apart. Paint is as fine as the points lie; no vertex of the sculpt "
                    "moves, and exports keep them as they came.")
                     .arg(shortCount(surface_->size()), shortLength(surface_->spacing, millimetres_)));
  now->setWordWrap(true);
  column->addWidget(now);
  ways_ = new QButtonGroup(this);
  auto* four = new QRadioButton(tr("Four times the points"));
  auto* down = new QRadioButton(tr("Down to a distance of"));
  four->setObjectName("four times");
  down->setObjectName("down to");
  ways_->addButton(four, 0);
  ways_->addButton(down, 1);
  four->setChecked(true);
  column->addWidget(four);
  column->addWidget(down);
  const double apart = static_cast<double>(surface_->spacing);
  spacing_ =
      new ValueSlider(tr("Distance"), {apart / 32, apart, static_cast<double>(millimetres_), "mm", true, 3});
  spacing_->setObjectName("spacing");
  spacing_->show(apart / 2);
  column->addWidget(spacing_);
  auto* shapes = new QHBoxLayout;
  shapes_ = new QButtonGroup(this);
  const bool coarse = surface_->size() < kCoarse;
  const QString names[] = {tr("Flat: on the faces"), tr("Round: through the vertices")};
  for (int i = 0; i < 2; ++i) {
    auto* b = new QToolButton;
    b->setObjectName(i ? "round" : "flat");
    b->setCheckable(true);
    b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    b->setIconSize({96, 48});
    b->setIcon(shapePicture(i == 1));
    b->setText(names[i]);
    b->setChecked(coarse == (i == 1));
    shapes_->addButton(b, i);
    shapes->addWidget(b);
  }
  shapes->addStretch();
  column->addLayout(shapes);
  crease_ = new ValueSlider(tr("Sharp from"), {0, 180, 1, "°", false, 0});
  crease_->setToolTip(tr("Edges between faces that part by more than this stay sharp"));
  crease_->show(static_cast<double>(refinement_.crease));
  column->addWidget(crease_);
  addPlaces(part);
  column->addWidget(where_);
  outcome_ = new QLabel;
  outcome_->setObjectName("outcome");
  outcome_->setWordWrap(true);
  column->addWidget(outcome_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
  ok_ = buttons->button(QDialogButtonBox::Ok);
  ok_->setText(tr("Add points"));
  column->addWidget(buttons);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(ways_, &QButtonGroup::idClicked, this, &RefineDialog::showOutcome);
  connect(shapes_, &QButtonGroup::idClicked, this, &RefineDialog::showOutcome);
  connect(spacing_, &ValueSlider::changed, this, [this] {
    ways_->button(1)->setChecked(true);
    showOutcome();
  });
  connect(crease_, &ValueSlider::changed, this, &RefineDialog::showOutcome);
  connect(where_, &QComboBox::currentIndexChanged, this, &RefineDialog::showOutcome);
  showOutcome();
}

void RefineDialog::addPlaces(uint32_t part) {
  where_ = new QComboBox;
  where_->setObjectName("where");
  where_->setAccessibleName(tr("Where"));
  where_->setToolTip(
      tr("Around some points alone others are added, thinning out beyond; what is not among them keeps "
         "its points"));
  where_->addItem(tr("Everywhere"));
  const LayerPointer layer = layerOf(document_, document_.activeLayer);
  if (layer && layer->mask) {
    where_->addItem(tr("Where the mask of “%1” shows").arg(QString::fromStdString(layer->name)));
    places_.emplace_back([d = document_] { return pointsShownBy(d, d.activeLayer); });
  }
  if (document_.guard) {
    where_->addItem(tr("Where nothing is guarded"));
    places_.emplace_back([d = document_] { return pointsShownBy(d, kGuard); });
  }
  if (part == kNone || part >= document_.sculpt->parts.size()) return;
  where_->addItem(tr("On “%1”").arg(QString::fromStdString(document_.sculpt->parts[part])));
  places_.emplace_back([s = surface_, part]() -> Result<std::vector<uint32_t>> {
    return rangesWhere(s->size(), [&](size_t i) { return s->parts[i] == part; });
  });
}

void RefineDialog::propose(float spacing, bool there) {
  if (there && where_->count() > 1) where_->setCurrentIndex(1);
  spacing_->show(static_cast<double>(spacing));
  ways_->button(1)->setChecked(true);
  shapes_->button(0)->setChecked(true);
  showOutcome();
}

void RefineDialog::showOutcome() {
  refinement_.spacing = ways_->checkedId() == 0 ? 0.f : static_cast<float>(spacing_->value());
  refinement_.shape = shapes_->checkedId() == 1 ? RefineShape::Round : RefineShape::Flat;
  refinement_.crease = static_cast<float>(crease_->value());
  refinement_.where = {};
  crease_->setEnabled(refinement_.shape == RefineShape::Round);
  ++asked_;
  if (where_->currentIndex() == 0) return tell(samplesAfter(*surface_, refinement_));
  // in places there is a distance, and four times the points is half of it
  if (refinement_.spacing == 0) refinement_.spacing = 0.5f * surface_->spacing;
  ask();
}

void RefineDialog::ask() {
  ok_->setEnabled(false);
  outcome_->setText(tr("Counting …"));
  QThreadPool::globalInstance()->start(
      [dialog = QPointer(this), number = asked_, surface = surface_, wanted = refinement_,
       places = places_[static_cast<size_t>(where_->currentIndex() - 1)]]() mutable {
        auto where = caught([&] { return places(); });
        if (where) wanted.where = std::move(*where);
        const size_t after = where ? samplesAfter(*surface, wanted) : 0;
        QMetaObject::invokeMethod(qApp, [=] {
          if (!dialog || dialog->asked_ != number) return;
          if (!where) return dialog->outcome_->setText(QString::fromStdString(where.error().message()));
          dialog->refinement_ = wanted;
          dialog->tell(after);
        });
      });
}

void RefineDialog::tell(size_t after) {
  const double bytes = static_cast<double>(after) *
                       (kBytesPerSample + kBytesPerPaintedSample * static_cast<double>(paintedLayers_));
  const bool fits = after <= kMostSamples;
  ok_->setEnabled(fits);
  const QString memory =
      bytes < 1e9 ? tr("%1 MB").arg(std::ceil(bytes * 1e-6)) : tr("%1 GB").arg(bytes * 1e-9, 0, 'f', 1);
  outcome_->setText(fits ? tr("About %1 points, and %2 of memory for them.").arg(shortCount(after), memory)
                         : tr("About %1 points: more than %2 cannot be held. Choose a larger distance.")
                               .arg(shortCount(after), shortCount(kMostSamples)));
}

}  // namespace juvenor::app

#include "moc_refine_dialog.cpp"
