#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "app/board/board.h"
#include "app/style/style.h"
#include "core/color/lab.h"

namespace juvenor::app {
namespace {
constexpr int kAcross = 6, kHeight = 24, kGap = 3;
}

void PaletteSwatches::show(std::vector<NamedColor> colors) {
  colors_ = std::move(colors);
  const int rows = (static_cast<int>(colors_.size()) + kAcross - 1) / kAcross;
  setFixedHeight(std::max(1, rows) * (kHeight + kGap));
  update();
}

QRect PaletteSwatches::rectOf(int index) const {
  const int span = (width() + kGap) / kAcross;
  return {index % kAcross * span, index / kAcross * (kHeight + kGap), span - kGap, kHeight};
}

int PaletteSwatches::at(const QPoint& position) const {
  for (int i = 0; i < static_cast<int>(colors_.size()); ++i)
    if (rectOf(i).contains(position)) return i;
  return -1;
}

void PaletteSwatches::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (colors_.empty()) {
    p.setPen(look::kQuiet);
    p.drawText(rect(), Qt::AlignLeft | Qt::AlignVCenter, tr("none yet"));
  }
  p.setPen(Qt::NoPen);
  for (int i = 0; i < static_cast<int>(colors_.size()); ++i) {
    p.setBrush(toQColor(colors_[static_cast<size_t>(i)].color));
    p.drawRoundedRect(rectOf(i), 3, 3);
  }
}

void PaletteSwatches::mousePressEvent(QMouseEvent* event) {
  pressed_ = event->pos();
  if (const int i = at(event->pos()); i >= 0) emit chosen(colors_[static_cast<size_t>(i)].color);
}

void PaletteSwatches::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton) || (event->pos() - pressed_).manhattanLength() < 6) return;
  if (const int i = at(pressed_); i >= 0) dragColor(this, colors_[static_cast<size_t>(i)].color);
}

bool PaletteSwatches::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const int i = at(help->pos());
  QToolTip::showText(help->globalPos(),
                     i < 0 ? tr("Colours of the board, dark to light")
                           : tr("%1. Click to take it, drag it into a well")
                                 .arg(QString::fromStdString(colors_[static_cast<size_t>(i)].name)),
                     this);
  return true;
}

PinnedPair::PinnedPair(Session& session) : session_(session) {
  setFixedHeight(56);
  setObjectName("pinned pair");
  setToolTip(
      tr("Left: the colour pinned from a picture. Right: the one pinned from the sculpt, or under the pen"));
  connect(&session_.tools(), &Tools::changed, this, QOverload<>::of(&QWidget::update));
}

void PinnedPair::showProbe(const std::optional<Probe>& probe) {
  under_ = probe ? std::optional(probe->composite) : std::nullopt;
  update();
}

QString PinnedPair::reading() const {
  const auto& photo = session_.tools().pinned(true);
  // the pen's colour wins while it is over the sculpt, so that the difference is read live
  const auto& model = under_ ? under_ : session_.tools().pinned(false);
  if (!photo || !model) return tr("ΔE —");
  return tr("ΔE %1").arg(deltaE2000(toLab(*photo), toLab(*model)), 0, 'f', 1);
}

void PinnedPair::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const auto& photo = session_.tools().pinned(true);
  const auto& model = under_ ? under_ : session_.tools().pinned(false);
  const int half = (width() - 3) / 2;
  const auto swatch = [&](int x, const std::optional<EncodedColor>& color) {
    p.setPen(Qt::NoPen);
    p.setBrush(color ? toQColor(*color) : look::kWell);
    p.drawRoundedRect(x, 0, half, 34, 3, 3);
  };
  swatch(0, photo);
  swatch(half + 3, model);
  p.setPen(look::kQuiet);
  QFont small = font();
  small.setPixelSize(11);
  p.setFont(small);
  p.drawText(QRect(0, 36, width(), 18), Qt::AlignLeft | Qt::AlignVCenter, tr("picture"));
  p.drawText(QRect(half + 3, 36, width(), 18), Qt::AlignLeft | Qt::AlignVCenter,
             under_ ? tr("pen") : tr("sculpt"));
  p.setPen(look::kText);
  p.drawText(QRect(0, 36, width(), 18), Qt::AlignRight | Qt::AlignVCenter, reading());
}

}  // namespace juvenor::app
