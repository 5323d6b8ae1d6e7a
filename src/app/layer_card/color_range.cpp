// The dialog for a mask from a colour range: which colours, how near, how soft; seen on the easel while it is
// set.
#include <QDialog>
#include <QDialogButtonBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/board/board.h"
#include "app/controls/value_slider.h"
#include "app/layer_card/layer_card.h"

namespace juvenor::app {
namespace {

// A dialog with a column, and what closes it.
QVBoxLayout* begin(QDialog& dialog, const char* name, const QString& title) {
  dialog.setObjectName(name);
  dialog.setWindowTitle(title);
  auto* column = new QVBoxLayout(&dialog);
  column->setContentsMargins(20, 16, 20, 14);
  column->setSpacing(8);
  return column;
}

void addButtons(QDialog& dialog, QVBoxLayout* column) {
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
  buttons->button(QDialogButtonBox::Ok)->setText(QObject::tr("Make the mask"));
  column->addWidget(buttons);
  QObject::connect(buttons, &QDialogButtonBox::accepted, &dialog, &QDialog::accept);
  QObject::connect(buttons, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
}

}  // namespace

bool askColorRange(QWidget* parent, Session& session, uint32_t mask, ColorRange& range) {
  QDialog dialog(parent);
  auto* column = begin(dialog, "color range", QObject::tr("Mask from a colour range"));
  column->addWidget(new QLabel(
      QObject::tr("Shows where the sculpt has one of these colours. Take the mixer's colour, or")));
  column->addWidget(new QLabel(QObject::tr("click a well to add it; click a colour here to drop it.")));
  auto* chosen = new PaletteSwatches;
  chosen->setMinimumWidth(280);
  auto* wells = new PaletteSwatches;
  std::vector<NamedColor> named;
  for (const EncodedColor& c : session.document().wells) named.push_back({c, toHex(c)});
  wells->show(named);
  range.colors = {session.tools().color()};
  const auto showChosen = [&] {
    std::vector<NamedColor> list;
    for (const EncodedColor& c : range.colors) list.push_back({c, toHex(c)});
    chosen->show(list);
  };
  auto* tolerance = new ValueSlider(QObject::tr("Tolerance"), {0.5, 40, 1, "ΔE", false, 1});
  tolerance->setToolTip(QObject::tr("How far a colour may be away (CIEDE2000)"));
  auto* fade = new ValueSlider(QObject::tr("Soft edge"), {0, 20, 1, "ΔE", false, 1});
  fade->setToolTip(QObject::tr("Over which further difference the mask fades out"));
  tolerance->show(static_cast<double>(range.tolerance));
  fade->show(static_cast<double>(range.fade));
  column->addWidget(chosen);
  column->addWidget(new QLabel(QObject::tr("Wells")));
  column->addWidget(wells);
  column->addWidget(tolerance);
  column->addWidget(fade);
  addButtons(dialog, column);
  const auto look = [&] {
    range.tolerance = static_cast<float>(tolerance->value());
    range.fade = static_cast<float>(fade->value());
    session.preview([mask, now = range](const Document& d, const Progress&) {
      return withMaskFromColors(d, mask, now.colors, now.tolerance, now.fade);
    });
  };
  QObject::connect(chosen, &PaletteSwatches::chosen, &dialog, [&](const EncodedColor& c) {
    if (range.colors.size() > 1) std::erase(range.colors, c);
    showChosen();
    look();
  });
  QObject::connect(wells, &PaletteSwatches::chosen, &dialog, [&](const EncodedColor& c) {
    if (std::ranges::find(range.colors, c) == range.colors.end()) range.colors.push_back(c);
    showChosen();
    look();
  });
  for (ValueSlider* s : {tolerance, fade}) QObject::connect(s, &ValueSlider::settled, &dialog, look);
  showChosen();
  look();
  return dialog.exec() == QDialog::Accepted;
}

bool askBrightness(QWidget* parent, Session& session, uint32_t mask, MaskTerm& range) {
  QDialog dialog(parent);
  auto* column = begin(dialog, "brightness", QObject::tr("Mask from brightness"));
  column->addWidget(
      new QLabel(QObject::tr("Shows where the layer is as bright as this, black 0 to white 100.")));
  range.low = 0.6f;
  range.high = 1;
  range.fade = 0.15f;
  const auto look = [&] {
    session.preview([mask, now = range](const Document& d, const Progress&) {
      return withMaskFromBrightness(d, mask, now);
    });
  };
  const auto slider = [&](const QString& name, const QString& tip, float MaskTerm::*member) {
    auto* s = new ValueSlider(name, {0, 1, 100, "L*", false, 0});
    s->setMinimumWidth(280);
    s->setToolTip(tip);
    s->show(static_cast<double>(range.*member));
    column->addWidget(s);
    QObject::connect(s, &ValueSlider::changed, &dialog,
                     [&range, member](double v) { range.*member = static_cast<float>(v); });
    QObject::connect(s, &ValueSlider::settled, &dialog, look);
  };
  slider(QObject::tr("From"), QObject::tr("The darkest that shows fully"), &MaskTerm::low);
  slider(QObject::tr("To"), QObject::tr("The brightest that shows fully"), &MaskTerm::high);
  slider(QObject::tr("Soft edge"), QObject::tr("Over which further difference the mask fades out"),
         &MaskTerm::fade);
  addButtons(dialog, column);
  look();
  return dialog.exec() == QDialog::Accepted;
}

}  // namespace juvenor::app
