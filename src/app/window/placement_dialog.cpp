#include "app/window/placement_dialog.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/style/style.h"
#include "core/render/placement_picture.h"

namespace juvenor::app {
namespace {

constexpr int kStands = 92;
constexpr const char* kUnits[] = {"mm", "cm", "m", "inch"};
constexpr int kByHeight = 4;

QIcon pictureOf(const Rays& rays, const Placement& placement) {
  const auto pixels = placementPicture(rays, placement, {kStands, kStands}, 0xff2e2e2e);
  const QImage image(reinterpret_cast<const uchar*>(pixels.data()), kStands, kStands, kStands * 4,
                     QImage::Format_RGB32);
  return QPixmap::fromImage(image.copy());
}

// The ways a sculpt can face when that axis is up, the usual one first.
std::vector<Axis> frontsFor(Axis up) {
  std::vector<Axis> out;
  for (const Axis a : {Axis::PlusZ, Axis::MinusY, Axis::PlusX, Axis::MinusX, Axis::PlusY, Axis::MinusZ})
    if (static_cast<int>(a) / 2 != static_cast<int>(up) / 2) out.push_back(a);
  return out;
}

QString named(Axis axis) {
  const auto key = axisKey(axis);
  const QString text = QString::fromUtf8(key).toUpper();
  return text.startsWith('-') ? QString(QChar(0x2212)) + text.mid(1) : text;
}

}  // namespace

PlacementDialog::PlacementDialog(RaysPointer rays, const Placement& now, const QString& name, QWidget* parent)
    : QDialog(parent), rays_(std::move(rays)), placement_(now) {
  setObjectName("placement");
  setWindowTitle(tr("How it stands"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(24, 20, 24, 18);
  column->setSpacing(10);
  auto* why =
      new QLabel(tr("“%1” does not say for certain which way it stands or how large it is. Sides, mirror, "
                    "light and every length follow from this; it can be changed later under Sculpt.")
                     .arg(name));
  why->setWordWrap(true);
  column->addWidget(why);
  column->addWidget(buildRow(ups_, tr("Up"), "up", 6));
  column->addWidget(buildRow(fronts_, tr("Faces the viewer"), "front", 4));
  auto* row = new QHBoxLayout;
  row->addWidget(new QLabel(tr("One scene unit is")));
  unit_ = new QComboBox;
  unit_->setObjectName("unit");
  unit_->addItems({tr("1 mm"), tr("1 cm"), tr("1 m"), tr("1 inch"), tr("set by the height:")});
  height_ = new QDoubleSpinBox;
  height_->setObjectName("height");
  height_->setRange(0.1, 100'000);
  height_->setDecimals(1);
  height_->setSuffix(tr(" cm"));
  row->addWidget(unit_);
  row->addWidget(height_);
  says_ = new QLabel;
  says_->setObjectName("tall");
  row->addWidget(says_, 1);
  column->addLayout(row);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
  column->addWidget(buttons);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(ups_, &QButtonGroup::idClicked, this, [this](int id) {
    placement_.up = static_cast<Axis>(id);
    const auto fronts = frontsFor(placement_.up);
    if (std::ranges::find(fronts, placement_.front) == fronts.end()) placement_.front = fronts.front();
    showPictures();
    showHeight();
  });
  connect(fronts_, &QButtonGroup::idClicked, this, [this](int id) {
    placement_.front = frontsFor(placement_.up)[static_cast<size_t>(id)];
    showPictures();
  });
  connect(unit_, &QComboBox::activated, this, &PlacementDialog::chooseUnit);
  connect(height_, &QDoubleSpinBox::valueChanged, this, [this](double cm) {
    if (unit_->currentIndex() != kByHeight || !(tall() > 0)) return;
    placement_.millimetres = static_cast<float>(10 * cm) / tall();
    showHeight();
  });
  int unit = kByHeight;
  for (int i = 0; i < kByHeight; ++i)
    if (millimetresOf(kUnits[i]) == placement_.millimetres) unit = i;
  unit_->setCurrentIndex(unit);
  showPictures();
  ups_->button(static_cast<int>(placement_.up))->setFocus();
  showHeight();
}

QWidget* PlacementDialog::buildRow(QButtonGroup*& group, const QString& title, const char* name, int count) {
  auto* box = new QWidget;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(new QLabel(title));
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  group = new QButtonGroup(this);
  for (int i = 0; i < count; ++i) {
    auto* b = new QToolButton;
    b->setObjectName(QString("%1 %2").arg(name).arg(i));
    b->setCheckable(true);
    b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    b->setIconSize({kStands, kStands});
    group->addButton(b, i);
    row->addWidget(b);
  }
  row->addStretch();
  column->addLayout(row);
  return box;
}

void PlacementDialog::showPictures() {
  for (int i = 0; i < 6; ++i) {
    Placement p{static_cast<Axis>(i), placement_.front, 1};
    const auto fronts = frontsFor(p.up);
    if (std::ranges::find(fronts, p.front) == fronts.end()) p.front = fronts.front();
    auto* b = ups_->button(i);
    b->setIcon(pictureOf(*rays_, p));
    b->setText(named(p.up));
    b->setChecked(p.up == placement_.up);
  }
  const auto fronts = frontsFor(placement_.up);
  for (int i = 0; i < 4; ++i) {
    auto* b = fronts_->button(i);
    b->setIcon(pictureOf(*rays_, {placement_.up, fronts[static_cast<size_t>(i)], 1}));
    b->setText(named(fronts[static_cast<size_t>(i)]));
    b->setChecked(fronts[static_cast<size_t>(i)] == placement_.front);
  }
}

float PlacementDialog::tall() const {
  const Box& box = rays_->surface().bounds;
  return std::abs((box.high - box.low).dot(directionOf(placement_.up)));
}

void PlacementDialog::showHeight() {
  const bool byHeight = unit_->currentIndex() == kByHeight;
  height_->setVisible(byHeight);
  says_->setText(byHeight ? QString()
                          : tr("so it is %1 tall").arg(shortLength(tall(), placement_.millimetres)));
}

void PlacementDialog::chooseUnit(int index) {
  if (index < kByHeight)
    placement_.millimetres = *millimetresOf(kUnits[index]);
  else
    height_->setValue(static_cast<double>(tall() * placement_.millimetres) / 10);
  showHeight();
}

}  // namespace juvenor::app

#include "moc_placement_dialog.cpp"
