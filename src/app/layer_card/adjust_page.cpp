#include "app/layer_card/adjust_page.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/spoken.h"
#include "app/style/style.h"

namespace juvenor::app {

template <>
struct KindSettings<Adjust> {
  static const Adjust* of(const LayerSource& s) { return adjustOf(s); }
  static SourcePointer source(Adjust settings) { return adjustSource(std::move(settings)); }
};

namespace {
constexpr size_t kMostPoints = 16;
}

CurveBox::CurveBox() {
  setFixedHeight(120);
  setObjectName("adjust curve");
  setToolTip(
      tr("Brightness below (across) to brightness after (up); double click adds a point, right click takes "
         "it away. By keys: page up and down, arrows, Insert, Delete"));
  setAccessibleName(tr("Curve"));
  setFocusPolicy(Qt::TabFocus);
  speak(this, {QAccessible::Graphic, [this] {
                 const auto& p = points_[std::min(chosen_, points_.size() - 1)];
                 return tr("point %1 of %2: %3 % becomes %4 %")
                     .arg(std::min(chosen_, points_.size() - 1) + 1)
                     .arg(points_.size())
                     .arg(std::lround(100 * p[0]))
                     .arg(std::lround(100 * p[1]));
               }});
}

void CurveBox::show(const std::vector<std::array<float, 2>>& points) {
  if (held_ >= 0) return;
  points_ = points;
  if (points_.empty()) points_ = {{0, 0}, {1, 1}};
  update();
}

QRectF CurveBox::inside() const {
  return QRectF(rect()).adjusted(6, 6, -6, -6);
}

QPointF CurveBox::at(const std::array<float, 2>& point) const {
  const QRectF box = inside();
  return {box.left() + static_cast<double>(point[0]) * box.width(),
          box.bottom() - static_cast<double>(point[1]) * box.height()};
}

int CurveBox::pointAt(const QPointF& position) const {
  for (size_t i = 0; i < points_.size(); ++i)
    if (QLineF(at(points_[i]), position).length() < 9) return static_cast<int>(i);
  return -1;
}

void CurveBox::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.fillRect(rect(), QColor(0x2e, 0x2e, 0x2e));
  const QRectF box = inside();
  painter.setPen(QPen(QColor(0x48, 0x48, 0x48), 1));
  for (int i = 0; i <= 4; ++i) {
    const double part = i / 4.0;
    painter.drawLine(QPointF(box.left() + part * box.width(), box.top()),
                     QPointF(box.left() + part * box.width(), box.bottom()));
    painter.drawLine(QPointF(box.left(), box.top() + part * box.height()),
                     QPointF(box.right(), box.top() + part * box.height()));
  }
  const auto table = curveTable(points_);
  QPolygonF line;
  for (size_t i = 0; i < table.size(); i += 32)
    line << at({static_cast<float>(i) / static_cast<float>(kCurveSteps - 1), from16(table[i])});
  painter.setPen(QPen(QColor(0xd8, 0xd8, 0xd8), 1.6));
  painter.drawPolyline(line);
  for (size_t i = 0; i < points_.size(); ++i) {
    const bool chosen = static_cast<int>(i) == held_ || (hasFocus() && i == chosen_);
    painter.setBrush(chosen ? QColor(Qt::white) : QColor(0x5a, 0x5a, 0x5a));
    painter.drawEllipse(at(points_[i]), 4, 4);
  }
  if (!hasFocus()) return;
  painter.setPen(QPen(look::kAccent, 1));
  painter.setBrush(Qt::NoBrush);
  painter.drawRect(rect().adjusted(0, 0, -1, -1));
}

void CurveBox::mousePressEvent(QMouseEvent* event) {
  if (held_ >= 0) return;  // a second button is none of the drag under way
  const int found = pointAt(event->position());
  if (event->button() == Qt::RightButton) {
    if (found < 0 || points_.size() <= 2) return;
    points_.erase(points_.begin() + found);
    update();
    emit changed();
    return;
  }
  if (event->button() == Qt::LeftButton) held_ = found;
  update();
}

void CurveBox::mouseMoveEvent(QMouseEvent* event) {
  if (held_ < 0) return;
  const QRectF box = inside();
  move(static_cast<size_t>(held_),
       {static_cast<float>((event->position().x() - box.left()) / box.width()),
        static_cast<float>((box.bottom() - event->position().y()) / box.height())});
  emit sliding();
}

// A point stays between those beside it.
void CurveBox::move(size_t point, const std::array<float, 2>& to) {
  const float low = point == 0 ? 0.f : points_[point - 1][0] + 0.01f,
              high = point + 1 == points_.size() ? 1.f : points_[point + 1][0] - 0.01f;
  points_[point] = {std::clamp(to[0], std::min(low, high), std::max(low, high)), std::clamp(to[1], 0.f, 1.f)};
  update();
}

void CurveBox::keyPressEvent(QKeyEvent* event) {
  if (held_ >= 0 || points_.empty()) return QWidget::keyPressEvent(event);
  const int key = event->key();
  const auto steps = [&](int more, int less) { return static_cast<float>((key == more) - (key == less)); };
  const float across = steps(Qt::Key_Right, Qt::Key_Left), up = steps(Qt::Key_Up, Qt::Key_Down),
              next = steps(Qt::Key_PageDown, Qt::Key_PageUp);
  chosen_ = std::min(chosen_, points_.size() - 1);
  if (next != 0) {
    chosen_ = next > 0 ? std::min(chosen_ + 1, points_.size() - 1) : chosen_ - (chosen_ > 0);
    update();
    return tellValue(this);
  }
  if (across != 0 || up != 0) {
    move(chosen_, {points_[chosen_][0] + 0.01f * across, points_[chosen_][1] + 0.01f * up});
  } else if (key == Qt::Key_Insert && points_.size() < kMostPoints && chosen_ + 1 < points_.size()) {
    const auto &a = points_[chosen_], &b = points_[chosen_ + 1];
    points_.insert(points_.begin() + static_cast<std::ptrdiff_t>(++chosen_),
                   {0.5f * (a[0] + b[0]), 0.5f * (a[1] + b[1])});
  } else if (key == Qt::Key_Delete && points_.size() > 2) {
    points_.erase(points_.begin() + static_cast<std::ptrdiff_t>(chosen_));
  } else {
    return QWidget::keyPressEvent(event);
  }
  update();
  tellValue(this);
  emit changed();
}

void CurveBox::mouseReleaseEvent(QMouseEvent* event) {
  if (held_ < 0 || event->button() != Qt::LeftButton) return;
  held_ = -1;
  update();
  emit changed();
}

void CurveBox::mouseDoubleClickEvent(QMouseEvent* event) {
  if (pointAt(event->position()) >= 0 || points_.size() >= kMostPoints) return;
  const QRectF box = inside();
  const auto across = static_cast<float>((event->position().x() - box.left()) / box.width()),
             up = static_cast<float>((box.bottom() - event->position().y()) / box.height());
  points_.push_back({std::clamp(across, 0.f, 1.f), std::clamp(up, 0.f, 1.f)});
  std::ranges::sort(points_, {}, [](const auto& p) { return p[0]; });
  update();
  emit changed();
}

AdjustPage::AdjustPage(Session& session) : SettingsPage(session, "adjust") {
  setObjectName("adjust page");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  addChannels(column, &Adjust::on);
  addMembers<Adjust>(column, "lightness", "contrast");
  QVBoxLayout* colors = addColors(column);
  addMembers<Adjust>(colors, "hue", "saturation");
  addColor(
      colors, tr("Tint: click to take the mixer's colour"),
      [](const LayerSource& s) { return adjustOf(s)->tint; },
      [](const LayerSource& s, const EncodedColor& color) {
        return changed<Adjust>(s, [&](Adjust& next) {
          next.tint = color;
          if (next.tinted == 0) next.tinted = 0.5f;
        });
      },
      tr("Tint"));
  addMember<Adjust>(colors, "tinted");
  buildMatch(colors);
  buildCurve(column);
  buildEnd(column);
  whenShown([this](const LayerSource& s) {
    if (!adjustOf(s)->changesNothing()) last_ = *adjustOf(s);
  });
}

// What colour alone has.
QVBoxLayout* AdjustPage::addColors(QVBoxLayout* column) {
  auto* box = new QWidget;
  auto* out = new QVBoxLayout(box);
  out->setContentsMargins(0, 0, 0, 0);
  out->setSpacing(3);
  column->addWidget(box);
  whenShown([box](const LayerSource& s) { box->setVisible(adjustOf(s)->on.has(Channel::Color)); });
  return out;
}

void AdjustPage::buildMatch(QVBoxLayout* column) {
  auto* button = new QPushButton(tr("Match to the mixer's tone"));
  button->setObjectName("match tone");
  button->setToolTip(tr("Measures what lies below within the mask, and brings its mean to the mixer's tone"));
  column->addWidget(button);
  connect(button, &QPushButton::clicked, this, &AdjustPage::match);
  addMember<Adjust>(column, "matched");
}

void AdjustPage::match() {
  const uint32_t id = layer_.id();
  const EncodedColor to = session_.tools().color();
  session_.edit(tr("Match tone"), [=](const Document& d, const Progress& p) -> Result<Document> {
    const auto from = meanBelow(d, id, p);
    if (!from) return from.error();
    const LayerPointer layer = layerOf(d, id);
    return withSource(d, id, changed<Adjust>(*layer->source, [&](Adjust& next) {
                        next.from = *from;
                        next.to = to;
                        if (next.matched == 0) next.matched = 1;
                      }));
  });
}

void AdjustPage::buildCurve(QVBoxLayout* column) {
  auto* box = new CurveBox;
  column->addWidget(quietLabel(tr("Curve")));
  column->addWidget(box);
  const Change drawn = [box](const LayerSource& s) {
    return changed<Adjust>(s, [&](Adjust& next) { next.curve = box->points(); });
  };
  connect(box, &CurveBox::sliding, this, [this, drawn] { preview(drawn); });
  connect(box, &CurveBox::changed, this, [this, drawn] { change(drawn, tr("Curve")); });
  whenShown([box](const LayerSource& s) { box->show(adjustOf(s)->curve); });
}

void AdjustPage::buildEnd(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(3);
  auto* again = new QPushButton(tr("As last"));
  again->setObjectName("adjust as last");
  again->setToolTip(tr("What an adjust layer was set to last, for the next part"));
  auto* down = new QPushButton(tr("Lay down"));
  down->setObjectName("adjust lay down");
  down->setToolTip(tr("Changes the painted layer right below once and takes this layer away"));
  row->addWidget(again);
  row->addWidget(down);
  column->addLayout(row);
  connect(again, &QPushButton::clicked, this, [this] {
    change([last = last_](const LayerSource&) { return adjustSource(last); }, tr("Adjust as last"));
  });
  connect(down, &QPushButton::clicked, this, &AdjustPage::layDown);
}

void AdjustPage::layDown() {
  const uint32_t id = layer_.id();
  session_.edit(tr("Lay down adjustment"), [=](const Document& d, const Progress&) -> Result<Document> {
    const auto at = std::ranges::find(d.layers, id, [](const LayerPointer& l) { return l->id; });
    if (at == d.layers.begin() || at == d.layers.end())
      return Error{tr("There is no layer below it.").toStdString()};
    const LayerPointer below = *std::prev(at);
    auto laid = withAdjusted(d, below->id, *adjustOf(*(*at)->source), id);
    if (!laid) return laid;
    return withoutLayer(*laid, id);
  });
}

}  // namespace juvenor::app

#include "moc_adjust_page.cpp"
