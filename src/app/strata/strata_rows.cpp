#include <QContextMenuEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <cmath>

#include "app/controls/channel_grid.h"
#include "app/controls/spoken.h"
#include "app/session/words.h"
#include "app/strata/strata.h"
#include "app/style/style.h"
#include "core/layers/composite/composite.h"

namespace juvenor::app {
namespace {

constexpr int kRowHeight = 34;
constexpr int kBandPadding = 12;
constexpr int kMargin = 24;  // for the band's name

QString nameOf(Stratum s) {
  return QStringList{Strata::tr("Flesh"), Strata::tr("Pigment"), Strata::tr("Surface")}[static_cast<int>(s)];
}

}  // namespace

StrataRows::StrataRows(Session& session) : session_(session) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Layers"));
  speak(this, {QAccessible::List, [this] { return words(); }});
  setMouseTracking(true);
  connect(&session_.engine(), &Engine::thumbnailReady, this, [this](uint32_t layer, const QImage& image) {
    thumbnails_[layer] = image;
    update();
  });
  connect(&session_.engine(), &Engine::troubled, this,
          [this](const QMap<uint32_t, QString>& troubles, const QMap<uint32_t, QString>& notes) {
            troubles_ = troubles;
            notes_ = notes;
            update();
          });
  connect(&session_, &Session::opened, this, [this] { thumbnails_.clear(); });
}

void StrataRows::refresh() {
  layOut();
  update();
  tellValue(this);
}

void StrataRows::layOut() {
  rows_.clear();
  bands_.clear();
  if (!session_.isOpen()) return;
  const LayerStack& layers = session_.document().layers;
  int y = 0;
  for (int s = 2; s >= 0; --s) {
    Band band{static_cast<Stratum>(s), {}};
    const int top = y;
    y += kBandPadding;
    for (size_t i = layers.size(); i-- > 0;) {
      if (layers[i]->stratum != band.stratum) continue;
      rows_.push_back({layers[i]->id, QRect(kMargin, y, width() - kMargin - 6, kRowHeight)});
      y += kRowHeight + 2;
    }
    y = std::max(y + kBandPadding, top + 76);
    band.rect = QRect(0, top, width(), y - top);
    bands_.push_back(band);
  }
  setMinimumHeight(y);
  if (!bands_.empty()) bands_.back().rect.setBottom(std::max(y, height()));
}

void StrataRows::drawBand(QPainter& p, const Band& band) const {
  const int depth = 2 - static_cast<int>(band.stratum);
  const double swing = 1.5 + 2.2 * depth, length = 26 + 14 * depth;
  QPainterPath path;
  path.moveTo(0, band.rect.bottom() + 1);
  path.lineTo(0, band.rect.top());
  for (int x = 0; x <= width(); x += 2)
    path.lineTo(x, band.rect.top() + swing * std::sin(2 * M_PI * x / length + depth));
  path.lineTo(width(), band.rect.bottom() + 1);
  p.setPen(QPen(QColor(0x2a, 0x2a, 0x2a), 1));
  p.setBrush(look::kStrata[static_cast<int>(band.stratum)]);
  p.drawPath(path);
  p.save();
  p.setPen(look::kText);
  QFont small = font();
  small.setPixelSize(11);
  p.setFont(small);
  p.translate(14, band.rect.center().y());
  p.rotate(-90);
  p.drawText(QRect(-60, -10, 120, 16), Qt::AlignCenter, nameOf(band.stratum));
  p.restore();
}

QRect StrataRows::opacityRect(const Row& row) const {
  return {row.rect.right() - 66, row.rect.top() + 16, 58, 16};
}

namespace {

constexpr int kSign = 13;

// What goes beyond colour, at the right end of a line.
std::vector<Channel> marked(ChannelSet channels) {
  std::vector<Channel> out;
  for (const Channel c : {Channel::Gloss, Channel::Relief, Channel::Metal})
    if (channels.has(c)) out.push_back(c);
  return out;
}

int signsWidth(ChannelSet channels) {
  return static_cast<int>(marked(channels).size()) * kSign;
}

void drawSigns(QPainter& p, ChannelSet channels, const QRect& line) {
  int x = line.right() - signsWidth(channels) + 2;
  for (const Channel c : marked(channels)) {
    drawChannelSign(p, c, QRectF(x, line.center().y() - 4.5, 11, 11), QColor(0xdc, 0xdc, 0xdc));
    x += kSign;
  }
}

}  // namespace

void StrataRows::drawRow(QPainter& p, const Row& row) {
  const LayerPointer layer = layerOf(session_.document(), row.layer);
  if (!layer) return;
  const QRect& r = row.rect;
  if (layer->id == session_.document().activeLayer) {
    p.setPen(Qt::NoPen);
    p.setBrush(look::kSelected);
    p.drawRoundedRect(r, 3, 3);
    p.setBrush(look::kAccent);
    p.drawRoundedRect(QRectF(r.left(), r.top() + 4, 3, r.height() - 8), 1.5, 1.5);
  }
  p.setOpacity(layer->visible ? 1 : 0.55);
  p.setPen(QPen(QColor(0xf0, 0xf0, 0xf0), 1.6));
  p.setBrush(layer->visible ? QBrush(QColor(0xf0, 0xf0, 0xf0)) : Qt::NoBrush);
  p.drawEllipse(QPointF(r.left() + 14, r.center().y()), 4.5, 4.5);
  QPainterPath circle;
  circle.addEllipse(QRectF(r.left() + 26, r.center().y() - 12, 26, 26));
  p.save();
  p.setClipPath(circle);
  p.fillPath(circle, QColor(0x2c, 0x2c, 0x2c));
  p.drawImage(QRectF(r.left() + 26, r.center().y() - 12, 26, 26), thumbnails_.value(layer->id));
  p.restore();
  // the layers that belong to the stage one is at stand out
  p.setPen(stageOf(*layer) == session_.tools().stage() ? look::kAccent : QColor(Qt::white));
  const QRect text(r.left() + 60, r.top() + 1, r.width() - 60 - 74, 16);
  p.drawText(text, Qt::AlignVCenter,
             p.fontMetrics().elidedText(QString::fromStdString(layer->name), Qt::ElideRight, text.width()));
  QFont small = font();
  small.setPixelSize(11);
  p.setFont(small);
  p.setPen(QColor(0xdc, 0xdc, 0xdc));
  const std::string remark = layer->source->remark();
  // the usual way to blend goes without saying: the line is short
  QStringList facts;
  if (layer->blend != BlendMode::Normal) facts << told(blendModeLabel(layer->blend));
  facts << (remark.empty() ? told(layer->source->kind().label).toLower() : QString::fromUtf8(remark));
  const ChannelSet channels = layer->source->channels();
  drawSigns(p, channels, text.translated(0, 16));
  if (layer->mask || !layer->terms.empty()) facts << tr("mask");
  if (layer->locked) facts << tr("locked");
  if (troubles_.contains(layer->id)) {
    facts.prepend(tr("not shown"));
    p.setPen(look::kWarning);
  }
  if (notes_.contains(layer->id)) facts.prepend(tr("note"));
  const int room = text.width() - signsWidth(channels);
  p.drawText(text.translated(0, 16), Qt::AlignVCenter,
             p.fontMetrics().elidedText(facts.join(" · "), Qt::ElideRight, room));
  const float opacity = sliding_ && pressed_ == layer->id ? slidingOpacity_ : layer->opacity;
  p.drawText(QRect(r.right() - 66, r.top() + 1, 58, 16), Qt::AlignRight | Qt::AlignVCenter,
             QString("%1 %").arg(std::lround(100 * opacity)));
  const QRect o = opacityRect(row);
  p.setPen(Qt::NoPen);
  p.setBrush(look::kWell);
  p.drawRoundedRect(QRectF(o.left(), o.center().y() - 1.5, o.width(), 3), 1.5, 1.5);
  p.setBrush(Qt::white);
  p.drawRoundedRect(QRectF(o.left(), o.center().y() - 1.5, o.width() * opacity, 3), 1.5, 1.5);
  p.setFont(font());
  p.setOpacity(1);
}

void StrataRows::paintEvent(QPaintEvent*) {
  layOut();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), look::kPanel);
  if (!session_.isOpen()) return;
  for (const Band& b : bands_) drawBand(p, b);
  for (const Row& r : rows_) drawRow(p, r);
  if (dragged_) {
    p.setPen(QPen(look::kAccent, 2));
    const int y = (dragPosition_.y() / (kRowHeight / 2)) * (kRowHeight / 2);
    p.drawLine(kMargin, y, width() - 6, y);
  }
  if (hasFocus()) {
    p.setPen(QPen(look::kAccent, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

const StrataRows::Row* StrataRows::rowAt(const QPoint& position) const {
  for (const Row& r : rows_)
    if (r.rect.contains(position)) return &r;
  return nullptr;
}

void StrataRows::mousePressEvent(QMouseEvent* event) {
  const Row* row = rowAt(event->pos());
  if (!row || event->button() != Qt::LeftButton) return;
  session_.settleStrokes();
  pressed_ = row->layer;
  pressPosition_ = event->pos();
  const LayerPointer layer = layerOf(session_.document(), row->layer);
  if (event->pos().x() < row->rect.left() + 24) {
    show(layer);
    pressed_ = 0;
  } else if (opacityRect(*row).contains(event->pos())) {
    sliding_ = true;
    setOpacityAt(*row, event->pos().x(), false);
  } else if (session_.document().activeLayer != row->layer) {
    session_.chooseLayer(row->layer);
  }
}

// Or hides it when it shows.
void StrataRows::show(const LayerPointer& layer) {
  LayerChange change;
  change.visible = !layer->visible;
  session_.apply(withLayerChanged(session_.document(), layer->id, change),
                 layer->visible ? tr("Hide layer") : tr("Show layer"));
}

void StrataRows::setOpacityAt(const Row& row, int x, bool final) {
  const QRect o = opacityRect(row);
  slidingOpacity_ = std::clamp(static_cast<float>(x - o.left()) / static_cast<float>(o.width()), 0.f, 1.f);
  LayerChange change;
  change.opacity = slidingOpacity_;
  auto next = withLayerChanged(session_.document(), row.layer, change);
  if (final)
    session_.apply(std::move(next), tr("Layer opacity"));
  else if (next)
    session_.engine().setDocument(*next);
  update();
}

void StrataRows::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton) || !pressed_) return;
  if (sliding_) {
    for (const Row& r : rows_)
      if (r.layer == pressed_) setOpacityAt(r, event->pos().x(), false);
    return;
  }
  if ((event->pos() - pressPosition_).manhattanLength() > 6) dragged_ = pressed_;
  dragPosition_ = event->pos();
  update();
}

void StrataRows::mouseReleaseEvent(QMouseEvent* event) {
  if (sliding_) {
    for (const Row& r : rows_)
      if (r.layer == pressed_) {
        setOpacityAt(r, event->pos().x(), true);
        break;
      }
  } else if (dragged_) {
    drop(event->pos());
  }
  sliding_ = false;
  pressed_ = dragged_ = 0;
  update();
}

void StrataRows::drop(const QPoint& position) {
  const Band* band = nullptr;
  for (const Band& b : bands_)
    if (b.rect.contains(QPoint(1, std::clamp(position.y(), 0, height() - 1)))) band = &b;
  if (!band) return;
  size_t below = 0;
  for (const Row& r : rows_) {
    const LayerPointer l = layerOf(session_.document(), r.layer);
    if (l->stratum == band->stratum && r.layer != dragged_ && r.rect.center().y() > position.y()) ++below;
  }
  session_.apply(withLayerMoved(session_.document(), dragged_, band->stratum, below), tr("Move layer"));
}

void StrataRows::mouseDoubleClickEvent(QMouseEvent* event) {
  const Row* row = rowAt(event->pos());
  if (!row || event->pos().x() <= row->rect.left() + 56) return;
  if (event->pos().x() < opacityRect(*row).left())
    rename(*row);
  else if (event->pos().y() < opacityRect(*row).top())
    typeOpacity(*row);
}

// A field over a row; what was typed goes to `done` unless it is empty.
void StrataRows::typeOver(const QRect& place, const QString& before,
                          const std::function<void(const QString&)>& done) {
  auto* edit = new QLineEdit(before, this);
  edit->setGeometry(place);
  edit->selectAll();
  edit->show();
  edit->setFocus();
  connect(edit, &QLineEdit::editingFinished, this, [edit, before, done] {
    edit->blockSignals(true);
    const QString typed = edit->text().trimmed();
    edit->deleteLater();
    if (!typed.isEmpty() && typed != before) done(typed);
  });
}

void StrataRows::rename(const Row& row) {
  const uint32_t id = row.layer;
  typeOver({row.rect.left() + 56, row.rect.top() + 6, row.rect.width() - 130, 26},
           QString::fromStdString(layerOf(session_.document(), id)->name), [this, id](const QString& name) {
             LayerChange change;
             change.name = name.toStdString();
             session_.settleStrokes();
             session_.apply(withLayerChanged(session_.document(), id, change), tr("Rename layer"));
           });
}

void StrataRows::typeOpacity(const Row& row) {
  const uint32_t id = row.layer;
  const float now = layerOf(session_.document(), id)->opacity;
  typeOver({row.rect.right() - 72, row.rect.top() + 4, 68, 26}, QString::number(std::lround(100 * now)),
           [this, id](QString typed) {
             bool ok = false;
             LayerChange change;
             change.opacity = typed.remove('%').replace(',', '.').toFloat(&ok) / 100;
             if (!ok) return session_.say(tr("“%1” is no number of per cent.").arg(typed), true);
             session_.settleStrokes();
             session_.apply(withLayerChanged(session_.document(), id, change), tr("Layer opacity"));
           });
}

QRect StrataRows::activeRect() const {
  for (const Row& row : rows_)
    if (row.layer == session_.document().activeLayer) return row.rect;
  return {};
}

void StrataRows::contextMenuEvent(QContextMenuEvent* event) {
  if (event->reason() == QContextMenuEvent::Keyboard) {
    if (const QRect row = activeRect(); row.isValid())
      emit menuWanted(session_.document().activeLayer, mapToGlobal(row.center()));
  } else if (const Row* row = rowAt(event->pos())) {
    emit menuWanted(row->layer, event->globalPos());
  }
}

void StrataRows::keyPressEvent(QKeyEvent* event) {
  if (!session_.isOpen() || rows_.empty()) return QWidget::keyPressEvent(event);
  size_t at = 0;
  while (at < rows_.size() && rows_[at].layer != session_.document().activeLayer) ++at;
  if (at == rows_.size()) return QWidget::keyPressEvent(event);
  session_.settleStrokes();
  const LayerPointer layer = layerOf(session_.document(), rows_[at].layer);
  const bool moves = event->modifiers() & Qt::ShiftModifier;
  const int up = (event->key() == Qt::Key_Up) - (event->key() == Qt::Key_Down),
            right = (event->key() == Qt::Key_Right) - (event->key() == Qt::Key_Left);
  if (up != 0 && moves)
    move(*layer, up);
  else if (up > 0 ? at > 0 : up < 0 && at + 1 < rows_.size())
    session_.chooseLayer(rows_[up > 0 ? at - 1 : at + 1].layer);
  else if (right != 0)
    stepOpacity(*layer, 0.05f * static_cast<float>(right));
  else if (event->key() == Qt::Key_Space)
    show(layer);
  else if (event->key() == Qt::Key_F2)
    rename(rows_[at]);
  else
    QWidget::keyPressEvent(event);
}

void StrataRows::stepOpacity(const Layer& layer, float by) {
  LayerChange change;
  change.opacity = std::clamp(layer.opacity + by, 0.f, 1.f);
  if (*change.opacity == layer.opacity) return;
  session_.apply(withLayerChanged(session_.document(), layer.id, change), tr("Layer opacity"));
}

// One place up or down, over the border into the next stratum.
void StrataRows::move(const Layer& layer, int up) {
  const auto count = [&](Stratum in) {
    return static_cast<size_t>(std::ranges::count_if(session_.document().layers, [&](const LayerPointer& l) {
      return l->stratum == in && l->id != layer.id;
    }));
  };
  size_t below = 0;
  for (const LayerPointer& l : session_.document().layers) {
    if (l->id == layer.id) break;
    below += l->stratum == layer.stratum;
  }
  Stratum to = layer.stratum;
  if (up > 0 ? below < count(to) : below > 0) {
    below = up > 0 ? below + 1 : below - 1;
  } else {
    if (up > 0 ? to == Stratum::Surface : to == Stratum::Flesh) return;
    to = static_cast<Stratum>(static_cast<int>(to) + up);
    below = up > 0 ? 0 : count(to);
  }
  session_.apply(withLayerMoved(session_.document(), layer.id, to, below), tr("Move layer"));
}

// The layer that is painted on, for those who do not see its row.
QString StrataRows::words() const {
  if (!session_.isOpen()) return {};
  const LayerPointer layer = layerOf(session_.document(), session_.document().activeLayer);
  if (!layer) return {};
  QStringList out{QString::fromStdString(layer->name), nameOf(layer->stratum),
                  tr("%1 %").arg(std::lround(100 * layer->opacity))};
  if (!layer->visible) out << tr("hidden");
  if (layer->locked) out << tr("locked");
  if (troubles_.contains(layer->id)) out << tr("not shown: %1").arg(troubles_.value(layer->id));
  return out.join(", ");
}

bool StrataRows::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    const Row* row = rowAt(help->pos());
    QString text = tr("Drag a layer to another place or stratum");
    if (row && help->pos().x() < row->rect.left() + 24)
      text = tr("Shows or hides the layer");
    else if (row && opacityRect(*row).contains(help->pos()))
      text = tr("Opacity of the layer; drag, or double click the number to type");
    else if (row && troubles_.contains(row->layer))
      text = tr("Not shown: %1").arg(troubles_.value(row->layer));
    else if (row && notes_.contains(row->layer))
      text = notes_.value(row->layer);
    else if (row)
      text = tr(
          "Click to choose, double click to rename (F2), drag to reorder (Shift and arrows), right click for "
          "more");
    QToolTip::showText(help->globalPos(), text, this);
    return true;
  }
  return QWidget::event(event);
}

}  // namespace juvenor::app
