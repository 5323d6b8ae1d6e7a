#include "app/window/unwrap_dialog.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/controls/value_slider.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {

// Padding is said in pixels of a map of this size.
constexpr double kSaidPixels = 4096;

}  // namespace

UnwrapDialog::UnwrapDialog(const Sculpt& sculpt, QWidget* parent)
    : QDialog(parent),
      tiles_(new ValueSlider(tr("Tiles"), {1, 20, 1, "", false, 0})),
      padding_(new ValueSlider(tr("Padding"), {0, 64 / kSaidPixels, kSaidPixels, "px", false, 0})) {
  setObjectName("unwrap");
  setWindowTitle(tr("Unwrap"));
  setMinimumWidth(440);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(24, 20, 24, 18);
  column->setSpacing(10);
  auto* says =
      new QLabel(tr("The skin is cut along creases and where it is hidden, laid flat and packed: %1 "
                    "polygons. It becomes a UV set of "
                    "this document; the file the sculpt came from stays as it is, and exports carry it.")
                     .arg(shortCount(sculpt.polygonCount())));
  says->setWordWrap(true);
  column->addWidget(says);
  tiles_->setObjectName("tiles to fill");
  tiles_->setToolTip(tr("More tiles: finer maps of the same size"));
  tiles_->show(1);
  padding_->setObjectName("island padding");
  padding_->setToolTip(
      tr("How far islands lie apart, in pixels of a map of 4,096: more for maps that are looked at small"));
  padding_->show(static_cast<double>(UnwrapSetting().padding));
  column->addWidget(tiles_);
  column->addWidget(padding_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
  auto* make = buttons->addButton(tr("Unwrap"), QDialogButtonBox::AcceptRole);
  make->setDefault(true);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  column->addWidget(buttons);
}

UnwrapSetting UnwrapDialog::setting() const {
  UnwrapSetting out;
  out.name = tr("Unwrapped").toStdString();
  out.tiles = static_cast<int>(tiles_->value() + 0.5);
  out.padding = static_cast<float>(padding_->value());
  return out;
}

}  // namespace juvenor::app

#include "moc_unwrap_dialog.cpp"
