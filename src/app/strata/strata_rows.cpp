#include "app/strata/strata_rows.h"

#include <QContextMenuEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <cmath>

#include "app/controls/spoken.h"
#include "app/session/words.h"
#include "app/strata/draw_row.h"
#include "app/strata/strata.h"
#include "app/style/style.h"
#include "core/layers/nesting.h"

namespace juvenor::app {
namespace {

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

void StrataRows::setDense(bool dense) {
  dense_ = dense;
  refresh();
}

void StrataRows::setFind(const QString& text) {
  find_ = text.trimmed();
  refresh();
}

QRect StrataRows::rectOf(uint32_t layer) const {
  const StrataRow* row = list_.of(layer);
  return row ? row->rect : QRect();
}

void StrataRows::layOut() {
  list_ = {};
  if (!session_.isOpen()) return;
  list_ = listed(session_.document(), {width(), dense_, find_});
  setMinimumHeight(list_.height);
  list_.bands.back().rect.setBottom(std::max(list_.height, height()));
}

void StrataRows::drawBand(QPainter& p, const StrataBand& band) const {
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
  p.translate(10, band.rect.center().y());
  p.rotate(-90);
  p.drawText(QRect(-60, -10, 120, 16), Qt::AlignCenter, nameOf(band.stratum));
  p.restore();
}

bool StrataRows::isChosen(uint32_t layer) const {
  const auto chosen = session_.chosenLayers();
  return std::ranges::find(chosen, layer) != chosen.end();
}

std::vector<uint32_t> StrataRows::meant(uint32_t layer) const {
  return isChosen(layer) ? session_.chosenLayers() : std::vector<uint32_t>{layer};
}

void StrataRows::draw(QPainter& p, const StrataRow& row) {
  const Document& d = session_.document();
  const LayerPointer layer = layerOf(d, row.layer);
  if (!layer) return;
  RowLook look;
  look.dense = dense_;
  look.active = row.layer == d.activeLayer;
  look.chosen = isChosen(row.layer);
  look.shown = std::ranges::all_of(groupsAround(d.layers, placeOf(d, row.layer)),
                                   [&](size_t g) { return d.layers[g]->visible; });
  look.atStage = stageOf(*layer) == session_.tools().stage();
  look.opacity =
      sliding_ && isChosen(row.layer) == isChosen(pressed_) && (row.layer == pressed_ || isChosen(row.layer))
          ? slidingOpacity_
          : layer->opacity;
  look.picture = thumbnails_.value(row.layer);
  look.troubled = troubles_.contains(row.layer);
  look.noted = notes_.contains(row.layer);
  drawRow(p, d, row, look);
}

void StrataRows::drawDrop(QPainter& p) const {
  const StrataDrop drop = dropAt(session_.document(), list_, meant(dragged_), dragPosition_);
  p.setPen(QPen(look::kAccent, 2));
  p.setBrush(Qt::NoBrush);
  if (drop.line.height() > 4)
    p.drawRoundedRect(drop.line, 3, 3);
  else
    p.drawLine(drop.line.left(), drop.line.center().y(), drop.line.right(), drop.line.center().y());
}

void StrataRows::paintEvent(QPaintEvent* event) {
  layOut();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(event->rect(), look::kPanel);
  if (!session_.isOpen()) return;
  for (const StrataBand& b : list_.bands)
    if (b.rect.adjusted(0, -8, 0, 0).intersects(event->rect())) drawBand(p, b);
  for (const StrataRow& r : list_.rows)
    if (r.rect.adjusted(-20, -2, 0, 2).intersects(event->rect())) draw(p, r);
  if (dragged_) drawDrop(p);
  if (hasFocus()) {
    p.setPen(QPen(look::kAccent, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

// One; with Ctrl one more or less; with Shift all from the last that was chosen.
void StrataRows::choose(const StrataRow& row, Qt::KeyboardModifiers modifiers) {
  std::vector<uint32_t> chosen = session_.chosenLayers();
  if (modifiers & Qt::ControlModifier) {
    if (isChosen(row.layer) && chosen.size() > 1) {
      std::erase(chosen, row.layer);
    } else {
      std::erase(chosen, row.layer);
      chosen.push_back(row.layer);
    }
    range_ = row.layer;
    return session_.chooseLayers(chosen);
  }
  const StrataRow* from = list_.of(range_ != 0 ? range_ : session_.document().activeLayer);
  if ((modifiers & Qt::ShiftModifier) && from) {
    chosen.clear();
    const int top = std::min(from->rect.top(), row.rect.top()),
              bottom = std::max(from->rect.top(), row.rect.top());
    for (const StrataRow& r : list_.rows)
      if (r.rect.top() >= top && r.rect.top() <= bottom && r.layer != row.layer) chosen.push_back(r.layer);
    chosen.push_back(row.layer);
    return session_.chooseLayers(chosen);
  }
  range_ = row.layer;
  session_.chooseLayers({row.layer});
}

void StrataRows::mousePressEvent(QMouseEvent* event) {
  const QPoint at = event->pos();
  const StrataRow* row = nullptr;
  for (const StrataRow& r : list_.rows)
    if (r.rect.adjusted(-11, 0, 0, 0).contains(at)) row = &r;
  if (!row || event->button() != Qt::LeftButton) return;
  session_.settleStrokes();
  const LayerPointer layer = layerOf(session_.document(), row->layer);
  if (!layer) return;
  if (isGroup(*layer) && foldRect(*row).contains(at)) return session_.fold(layer->id, !layer->folded);
  if (dotRect(*row).contains(at))
    return event->modifiers() & Qt::AltModifier ? showAlone(layer->id) : show(layer->id);
  pressed_ = row->layer;
  pressPosition_ = at;
  const bool modified = event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier);
  if (opacityRect(*row).contains(at) && !modified) {
    sliding_ = true;
    setOpacityAt(*row, at.x(), false);
  } else if (modified || !isChosen(row->layer)) {
    choose(*row, event->modifiers());
  }
}

// Or hides what shows; of those that are chosen all go the same way.
void StrataRows::show(uint32_t id) {
  LayerChange change;
  change.visible = !layerOf(session_.document(), id)->visible;
  session_.apply(withLayersChanged(session_.document(), meant(id), change),
                 *change.visible ? tr("Show layer") : tr("Hide layer"));
}

void StrataRows::showAlone(uint32_t id) {
  if (session_.aloneLayer() == id)
    session_.endAlone();
  else
    session_.showAlone(id);
}

void StrataRows::setOpacityAt(const StrataRow& row, int x, bool final) {
  const QRect o = opacityRect(row);
  slidingOpacity_ = std::clamp(static_cast<float>(x - o.left()) / static_cast<float>(o.width()), 0.f, 1.f);
  LayerChange change;
  change.opacity = slidingOpacity_;
  auto next = withLayersChanged(session_.document(), meant(row.layer), change);
  if (final)
    session_.apply(std::move(next), tr("Layer opacity"));
  else if (next)
    session_.preview(*next);
  update();
}

void StrataRows::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton) || !pressed_) return;
  if (sliding_) {
    if (const StrataRow* row = list_.of(pressed_)) setOpacityAt(*row, event->pos().x(), false);
    return;
  }
  if ((event->pos() - pressPosition_).manhattanLength() > 6) dragged_ = pressed_;
  dragPosition_ = event->pos();
  update();
}

void StrataRows::mouseReleaseEvent(QMouseEvent* event) {
  if (sliding_) {
    if (const StrataRow* row = list_.of(pressed_)) setOpacityAt(*row, event->pos().x(), true);
  } else if (dragged_) {
    drop(event->pos());
  } else if (pressed_ && !(event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier))) {
    // a click on one of several chooses it alone
    if (const StrataRow* row = list_.of(pressed_)) choose(*row, {});
  }
  sliding_ = false;
  pressed_ = dragged_ = 0;
  update();
}

void StrataRows::drop(const QPoint& position) {
  const auto layers = meant(dragged_);
  const StrataDrop drop = dropAt(session_.document(), list_, layers, position);
  session_.apply(withLayersMoved(session_.document(), layers, drop.place), tr("Move layer"));
}

void StrataRows::mouseDoubleClickEvent(QMouseEvent* event) {
  const StrataRow* row = list_.at(event->pos());
  if (!row || event->pos().x() <= dotRect(*row).right() + 4) return;
  const QRect o = opacityRect(*row);
  if (event->pos().x() < o.left())
    rename(*row);
  else if (dense_ || event->pos().y() < o.top())
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

void StrataRows::rename(const StrataRow& row) {
  const uint32_t id = row.layer;
  const int from = dense_ ? 24 : 56;
  typeOver({row.rect.left() + from, row.rect.center().y() - 12, row.rect.width() - from - 74, 25},
           QString::fromStdString(layerOf(session_.document(), id)->name), [this, id](const QString& name) {
             LayerChange change;
             change.name = name.toStdString();
             session_.settleStrokes();
             session_.apply(withLayerChanged(session_.document(), id, change), tr("Rename layer"));
           });
}

void StrataRows::typeOpacity(const StrataRow& row) {
  const uint32_t id = row.layer;
  const float now = layerOf(session_.document(), id)->opacity;
  typeOver({row.rect.right() - 72, row.rect.center().y() - 12, 68, 25},
           QString::number(std::lround(100 * now)), [this, id](QString typed) {
             bool ok = false;
             LayerChange change;
             change.opacity = typed.remove('%').replace(',', '.').toFloat(&ok) / 100;
             if (!ok) return session_.say(tr("“%1” is no number of per cent.").arg(typed), true);
             session_.settleStrokes();
             session_.apply(withLayersChanged(session_.document(), meant(id), change), tr("Layer opacity"));
           });
}

void StrataRows::contextMenuEvent(QContextMenuEvent* event) {
  if (event->reason() == QContextMenuEvent::Keyboard) {
    if (const QRect row = activeRect(); row.isValid())
      emit menuWanted(session_.document().activeLayer, mapToGlobal(row.center()));
  } else if (const StrataRow* row = list_.at(event->pos())) {
    emit menuWanted(row->layer, event->globalPos());
  }
}

void StrataRows::keyPressEvent(QKeyEvent* event) {
  if (!session_.isOpen() || list_.rows.empty()) return QWidget::keyPressEvent(event);
  size_t at = 0;
  while (at < list_.rows.size() && list_.rows[at].layer != session_.document().activeLayer) ++at;
  if (at == list_.rows.size()) return QWidget::keyPressEvent(event);
  session_.settleStrokes();
  const LayerPointer layer = layerOf(session_.document(), list_.rows[at].layer);
  const bool moves = event->modifiers() & Qt::ShiftModifier;
  const int up = (event->key() == Qt::Key_Up) - (event->key() == Qt::Key_Down),
            right = (event->key() == Qt::Key_Right) - (event->key() == Qt::Key_Left);
  if (up != 0 && moves)
    move(*layer, up);
  else if (up > 0 ? at > 0 : up < 0 && at + 1 < list_.rows.size())
    session_.chooseLayer(list_.rows[up > 0 ? at - 1 : at + 1].layer);
  else if (right != 0)
    stepOpacity(*layer, 0.05f * static_cast<float>(right));
  else if (event->key() == Qt::Key_Space)
    show(layer->id);
  else if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && isGroup(*layer))
    session_.fold(layer->id, !layer->folded);
  else if (event->key() == Qt::Key_F2)
    rename(list_.rows[at]);
  else
    QWidget::keyPressEvent(event);
}

void StrataRows::stepOpacity(const Layer& layer, float by) {
  LayerChange change;
  change.opacity = std::clamp(layer.opacity + by, 0.f, 1.f);
  if (*change.opacity == layer.opacity) return;
  session_.apply(withLayersChanged(session_.document(), meant(layer.id), change), tr("Layer opacity"));
}

// One place up or down: among what lies beside it, out of its group at the ends of that, over the border into
// the next stratum.
void StrataRows::move(const Layer& layer, int up) {
  const Document& d = session_.document();
  const auto countIn = [&](Stratum stratum, uint32_t group, size_t end) {
    return static_cast<size_t>(std::count_if(
        d.layers.begin(), d.layers.begin() + static_cast<std::ptrdiff_t>(end), [&](const LayerPointer& l) {
          return l->stratum == stratum && l->group == group && l->id != layer.id;
        }));
  };
  StackPlace to{layer.stratum, layer.group, countIn(layer.stratum, layer.group, placeOf(d, layer.id))};
  if (up > 0 ? to.above < countIn(layer.stratum, layer.group, d.layers.size()) : to.above > 0) {
    to.above = up > 0 ? to.above + 1 : to.above - 1;
  } else if (layer.group != 0) {
    const size_t group = placeOf(d, layer.group);
    to.group = d.layers[group]->group;
    to.above = countIn(layer.stratum, to.group, up > 0 ? group + 1 : firstOf(d.layers, group));
  } else {
    if (up > 0 ? to.stratum == Stratum::Surface : to.stratum == Stratum::Flesh) return;
    to.stratum = static_cast<Stratum>(static_cast<int>(to.stratum) + up);
    to.above = up > 0 ? 0 : countIn(to.stratum, 0, d.layers.size());
  }
  session_.apply(withLayersMoved(d, {{layer.id}}, to), tr("Move layer"));
}

// The layer that is painted on, for those who do not see its row.
QString StrataRows::words() const {
  if (!session_.isOpen()) return {};
  const Document& d = session_.document();
  const LayerPointer layer = layerOf(d, d.activeLayer);
  if (!layer) return {};
  QStringList out{QString::fromStdString(layer->name), nameOf(layer->stratum),
                  tr("%1 %").arg(std::lround(100 * layer->opacity))};
  const size_t at = placeOf(d, layer->id);
  if (const LayerPointer group = layerOf(d, layer->group))
    out << tr("in %1").arg(QString::fromStdString(group->name));
  if (const auto base = baseOf(d.layers, at))
    out << tr("only on %1").arg(QString::fromStdString(d.layers[*base]->name));
  if (isGroup(*layer)) out << (layer->folded ? tr("folded") : tr("open"));
  if (!layer->visible) out << tr("hidden");
  if (layer->locked) out << tr("locked");
  if (troubles_.contains(layer->id)) out << tr("not shown: %1").arg(troubles_.value(layer->id));
  return out.join(", ");
}

QString StrataRows::help(const QPoint& at) const {
  const StrataRow* row = list_.at(at);
  if (!row) return tr("Drag a layer to another place, group or stratum");
  if (dotRect(*row).contains(at)) return tr("Shows or hides it; with Alt it alone, and all again");
  if (opacityRect(*row).contains(at))
    return tr("Opacity of the layer; drag, or double click the number to type");
  if (troubles_.contains(row->layer)) return tr("Not shown: %1").arg(troubles_.value(row->layer));
  if (notes_.contains(row->layer)) return notes_.value(row->layer);
  return tr(
      "Click to choose, with Ctrl or Shift several, double click to rename (F2), drag to reorder (Shift and "
      "arrows), "
      "right click for more");
}

bool StrataRows::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* asked = static_cast<QHelpEvent*>(event);
  QToolTip::showText(asked->globalPos(), help(asked->pos()), this);
  return true;
}

}  // namespace juvenor::app

#include "moc_strata_rows.cpp"
