#include "app/layer_card/ramp_bar.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/controls/channel_grid.h"
#include "app/controls/labels.h"
#include "app/controls/spoken.h"
#include "app/style/style.h"
#include "core/layers/sources/ramp.h"

namespace juvenor::app {
namespace {
constexpr int kMargin = 6, kBar = 22;
}

RampBar::RampBar() {
  setFixedHeight(38);
  setObjectName("ramp");
  setFocusPolicy(Qt::TabFocus);
  setAccessibleName(tr("Colour ramp"));
  speak(this, {QAccessible::List, [this] { return words(); }});
  setToolTip(
      tr("From 0 to 1 of the maps. Drag a stop; double click to add one in the mixer's colour; right click "
         "for more. By keys: page up and down, arrows, Return, Insert, Delete"));
}

void RampBar::show(const RampStops& ramp) {
  ramp_ = ramp;
  chosen_ = std::min(chosen_, ramp_.size() - 1);
  update();
  tellValue(this);
}

// Stops keep their order.
void RampBar::move(size_t stop, float at) {
  const float low = stop > 0 ? ramp_[stop - 1].at : 0.f,
              high = stop + 1 < ramp_.size() ? ramp_[stop + 1].at : 1.f;
  ramp_[stop].at = std::clamp(at, low, high);
  update();
}

void RampBar::add(float at) {
  ramp_.push_back({std::clamp(at, 0.f, 1.f), color_, 1, chosen().number});
  std::ranges::stable_sort(ramp_, {}, &RampStop::at);
  update();
}

void RampBar::remove(size_t stop) {
  ramp_.erase(ramp_.begin() + static_cast<std::ptrdiff_t>(stop));
  chosen_ = std::min(chosen_, ramp_.size() - 1);
  update();
}

QString RampBar::words() const {
  if (ramp_.empty()) return {};
  const RampStop& stop = ramp_[chosen_];
  return tr("stop %1 of %2 at %3 %, %4")
      .arg(chosen_ + 1)
      .arg(ramp_.size())
      .arg(std::lround(100 * stop.at))
      .arg(stop.alpha > 0 ? QString::fromStdString(toHex(stop.color)) : tr("clear"));
}

void RampBar::keyPressEvent(QKeyEvent* event) {
  const int key = event->key(), right = (key == Qt::Key_Right) - (key == Qt::Key_Left),
            next = (key == Qt::Key_PageDown) - (key == Qt::Key_PageUp);
  if (held_ >= 0 || ramp_.empty()) return QWidget::keyPressEvent(event);
  if (next != 0) {
    chosen_ = next > 0 ? std::min(chosen_ + 1, ramp_.size() - 1) : chosen_ - (chosen_ > 0);
    update();
    tellValue(this);
    return emit chose();
  }
  if (right != 0) {
    move(chosen_, ramp_[chosen_].at + 0.01f * static_cast<float>(right));
  } else if (key == Qt::Key_Insert) {
    const float from = ramp_[chosen_].at, to = chosen_ + 1 < ramp_.size() ? ramp_[chosen_ + 1].at : 1.f;
    add(0.5f * (from + to));
    chosen_ = std::min(chosen_ + 1, ramp_.size() - 1);
  } else if (key == Qt::Key_Delete && ramp_.size() > 1) {
    remove(chosen_);
  } else if (key == Qt::Key_Return || key == Qt::Key_Enter) {
    ramp_[chosen_].color = color_;
  } else {
    return QWidget::keyPressEvent(event);
  }
  update();
  tellValue(this);
  emit changed();
}

double RampBar::xOf(const RampStop& stop) const {
  return kMargin + static_cast<double>(stop.at) * (width() - 2 * kMargin);
}

int RampBar::stopAt(const QPointF& position) const {
  for (int i = static_cast<int>(ramp_.size()) - 1; i >= 0; --i)
    if (std::abs(xOf(ramp_[static_cast<size_t>(i)]) - position.x()) < 8) return i;
  return -1;
}

void RampBar::paintEvent(QPaintEvent*) {
  if (ramp_.empty()) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const int bar = width() - 2 * kMargin;
  const auto table = rampTable(ramp_, static_cast<size_t>(std::max(2, bar)));
  for (int x = 0; x < bar; ++x) {
    const Rgba16& c = table[static_cast<size_t>(x)];
    for (int half = 0; half < 2; ++half) {
      // over two greys, so that what is clear looks clear
      const int ground = (x / 6 + half) % 2 == 0 ? 0x60 : 0x48;
      const auto over = [&](uint16_t v) { return std::min(255, ground * (65535 - c.a) / 65535 + v / 257); };
      p.fillRect(kMargin + x, half * kBar / 2, 1, kBar / 2, QColor(over(c.r), over(c.g), over(c.b)));
    }
  }
  for (size_t i = 0; i < ramp_.size(); ++i) {
    const RampStop& s = ramp_[i];
    const double x = xOf(s);
    QPainterPath tip;
    tip.moveTo(x, kBar - 4);
    tip.lineTo(x + 5, kBar + 4);
    tip.lineTo(x + 5, kBar + 13);
    tip.lineTo(x - 5, kBar + 13);
    tip.lineTo(x - 5, kBar + 4);
    tip.closeSubpath();
    p.setPen(i == chosen_ ? QPen(look::kAccent, 2) : QPen(look::kText, 1.2));
    p.setBrush(toQColor(s.color));
    p.drawPath(tip);
  }
  if (!hasFocus()) return;
  p.setPen(QPen(look::kAccent, 1.2));
  p.setBrush(Qt::NoBrush);
  p.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
}

void RampBar::mousePressEvent(QMouseEvent* event) {
  // a second button is none of the drag under way
  if (held_ >= 0 || event->button() != Qt::LeftButton) return;
  held_ = stopAt(event->position());
  if (held_ < 0) return;
  chosen_ = static_cast<size_t>(held_);
  update();
  emit chose();
}

void RampBar::mouseMoveEvent(QMouseEvent* event) {
  if (held_ < 0) return;
  move(static_cast<size_t>(held_),
       static_cast<float>((event->position().x() - kMargin) / (width() - 2 * kMargin)));
  emit sliding();
}

void RampBar::mouseReleaseEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton && std::exchange(held_, -1) >= 0) emit changed();
}

void RampBar::mouseDoubleClickEvent(QMouseEvent* event) {
  if (stopAt(event->position()) >= 0) return;
  add(static_cast<float>((event->position().x() - kMargin) / (width() - 2 * kMargin)));
  emit changed();
}

void RampBar::contextMenuEvent(QContextMenuEvent* event) {
  const int i = stopAt(event->pos());
  if (i < 0 || held_ >= 0) return;
  const auto at = static_cast<size_t>(i);
  QMenu menu;
  const auto act = [&](const QString& text, auto change) {
    menu.addAction(text, this, [this, change, at] {
      if (at >= ramp_.size()) return;  // another ramp is shown by now
      change();
      update();
      emit changed();
    });
  };
  act(tr("Take the mixer's colour"), [this, at] { ramp_[at].color = color_; });
  act(ramp_[at].alpha > 0 ? tr("Make it clear") : tr("Make it full"),
      [this, at] { ramp_[at].alpha = ramp_[at].alpha > 0 ? 0.f : 1.f; });
  if (ramp_.size() > 1) act(tr("Remove"), [this, at] { remove(at); });
  menu.exec(event->globalPos());
}

RampPage::RampPage(Session& session) : session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  bar_ = new RampBar;
  column->addWidget(bar_);
  column->addWidget(quietLabel(tr("The stop brings")));
  grid_ = new ChannelGrid(1);
  column->addWidget(grid_);
  connect(bar_, &RampBar::sliding, this, &RampPage::sliding);
  connect(bar_, &RampBar::changed, this, &RampPage::changed);
  connect(bar_, &RampBar::chose, this, &RampPage::refresh);
  connect(grid_, &ChannelGrid::toggled, this, [this](Channel c, bool on) {
    const ChannelSet now = on ? channels_ | c : channels_.without(c);
    if (now.empty()) {
      session_.say(tr("A ramp brings one channel at least."), true);
      return refresh();
    }
    channels_ = now;
    emit changed();
  });
  connect(grid_, &ChannelGrid::changed, this, [this](Channel c, float v) {
    bar_->chosen().number[static_cast<size_t>(c)] = v;
    channels_ |= c;
    emit sliding();
  });
  connect(grid_, &ChannelGrid::settled, this, &RampPage::changed);
  connect(&session_.tools(), &Tools::changed, this, [this] { bar_->setColor(session_.tools().color()); });
}

void RampPage::show(const RampContent& content) {
  channels_ = content.channels;
  bar_->show(content.stops);
  refresh();
}

void RampPage::refresh() {
  const Document& d = session_.document();
  const RampStop& stop = bar_->chosen();
  grid_->show(channels_, stop.color, stop.number,
              {d.placement.millimetres, 0.01f * d.surface->bounds.diagonal()});
}

}  // namespace juvenor::app

#include "moc_ramp_bar.cpp"
