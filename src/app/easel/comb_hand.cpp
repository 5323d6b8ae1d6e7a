#include "app/easel/comb_hand.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/controls/labels.h"
#include "core/quietly.h"
#include "core/surface/skin_seeds.h"

namespace juvenor::app {
namespace {

// Of the sculpt's size: how far lines lie apart, and how long they are.
constexpr float kApart = 0.02f, kLength = 0.013f;

}  // namespace

CombHand::CombHand(Session& session, QWidget* easel)
    : session_(session),
      bar_(new QFrame(easel)),
      beside_([this](const Wish& wish, const Progress& wanted) { quietly([&] { grant(wish, wanted); }); }) {
  bar_->setObjectName("comb bar");
  bar_->setStyleSheet(
      "QFrame#comb\\ bar { background: #434343; border: 1px solid #6d6d6d; border-radius: 4px; }");
  auto* row = new QHBoxLayout(bar_);
  row->setContentsMargins(8, 5, 8, 5);
  says_ = quietLabel({});
  says_->setWordWrap(false);
  row->addWidget(says_);
  clears_ = new QPushButton(tr("Clear"));
  clears_->setObjectName("comb clears");
  clears_->setCheckable(true);
  clears_->setFocusPolicy(Qt::NoFocus);
  clears_->setToolTip(tr("While it is on, a stroke takes away the strokes and pins it touches"));
  row->addWidget(clears_);
  bar_->hide();
  connect(&session_.tools(), &Tools::changed, this, &CombHand::layOut);
  connect(&session_, &Session::documentChanged, this, [this] {
    layOut();
    wish();
  });
}

const Guides* CombHand::guides() const {
  const LayerPointer layer =
      session_.isOpen() ? layerOf(session_.document(), session_.document().activeLayer) : nullptr;
  return layer ? layer->source->guides() : nullptr;
}

void CombHand::layOut() {
  const bool shown = session_.tools().tool() == Tool::Comb && session_.isOpen();
  bar_->setVisible(shown);
  if (!shown) return;
  says_->setText(guides() ? tr("Stroke the way it is to lie; a click pins it")
                          : tr("Choose a layer of a pattern, like scales"));
  clears_->setEnabled(guides() != nullptr);
  bar_->adjustSize();
  bar_->move((bar_->parentWidget()->width() - bar_->width()) / 2,
             bar_->parentWidget()->height() - bar_->height() - 14);
  wish();
}

void CombHand::wish() {
  const Guides* now = guides();
  if (session_.tools().tool() != Tool::Comb) return;
  Wish next;
  if (now) {
    next = {session_.document().maps, now->direction};
    if (path_.places.size() > 1 && !clears_->isChecked()) next.guide.combs.push_back(path_);
  }
  if (next.maps == wished_.maps && next.guide == wished_.guide) return;
  wished_ = next;
  beside_.wish(next);
}

void CombHand::grant(const Wish& wish, const Progress& wanted) {
  std::shared_ptr<Lines> out;
  if (wish.maps) {
    const Surface& surface = wish.maps->surface();
    const float diagonal = surface.bounds.diagonal();
    const auto directions = directionsOf(*wish.maps, wish.guide, Symmetry::Direction, wanted);
    const auto seeds = skinSeeds(*wish.maps, kApart * diagonal, 1, wanted);
    if (!directions || !seeds) return;
    out = std::make_shared<Lines>();
    out->length = kLength * diagonal;
    for (const SkinSeed& seed : (*seeds)->seeds)
      out->all.push_back({seed.position, seed.normal, (**directions)[seed.sample]});
  }
  {
    const std::lock_guard hold(mutex_);
    lines_ = std::move(out);
  }
  emit changed();
}

std::shared_ptr<const CombHand::Lines> CombHand::lines() const {
  const std::lock_guard hold(mutex_);
  return lines_;
}

size_t CombHand::lineCount() const {
  const auto now = lines();
  return now ? now->all.size() : 0;
}

bool CombHand::press(const Viewing&, const Vec2& pixel) {
  if (!guides()) {
    session_.say(tr("Choose a layer of a pattern first, like scales."));
    return true;
  }
  const auto probe = session_.engine().probe(session_.document(), pixel);
  if (!probe) {
    session_.say(tr("The comb begins on the skin."));
    return true;
  }
  const Brush& brush = session_.tools().brush();
  path_ = {{probe->point.position}, probe->point.part, 2 * brush.radius, 1};
  mirror_ = brush.mirror;
  return true;
}

void CombHand::drag(const Viewing&, const Vec2& pixel) {
  const auto probe = session_.engine().probe(session_.document(), pixel);
  if (!probe || path_.places.empty() || probe->point.part != path_.part) return;
  const float step = std::max(0.25f * path_.width, session_.document().surface->spacing);
  if ((probe->point.position - path_.places.back()).norm() < step) return;
  path_.places.push_back(probe->point.position);
  wish();
}

void CombHand::release() {
  if (path_.places.empty()) return;
  const Comb comb = std::move(path_);
  path_ = {};
  const uint32_t id = session_.document().activeLayer;
  const auto mirror = mirror_;
  if (clears_->isChecked()) {
    session_.settleStrokes();
    session_.apply(withoutCombs(session_.document(), id, comb.places, 0.5f * comb.width), tr("Clear combs"));
  } else if (comb.places.size() > 1) {
    session_.settleStrokes();
    session_.apply(withComb(session_.document(), id, comb, mirror), tr("Comb"));
  } else {
    session_.edit(tr("Pin direction"), [=](const Document& d, const Progress& p) {
      return withPin(d, id, comb.places.front(), comb.part, comb.width, mirror, p);
    });
  }
  wish();
}

void CombHand::giveUp() {
  path_ = {};
  wish();
}

void CombHand::draw(QPainter& painter, const Viewing& viewing, double scale) const {
  const auto at = [&](const Vec3& place) {
    const Vec3 p = project(viewing.camera, viewing.size, place);
    return QPointF(static_cast<double>(p.x()), static_cast<double>(p.y())) / scale;
  };
  const auto rays = session_.engine().rays();
  const auto seen = [&](const Line& line, float lift, float far) {
    const Vec3 to = toViewer(viewing.camera, line.place);
    if (line.normal.dot(to) < 0.15f) return false;
    return !rays || !rays->blocked({line.place + lift * to, to}, far);
  };
  if (const auto shown = lines()) {
    const float diagonal = session_.document().surface->bounds.diagonal();
    std::vector<QLineF> strokes;
    std::vector<QPointF> heads;
    for (const Line& line : shown->all) {
      if (!seen(line, 0.01f * diagonal, 4 * diagonal)) continue;
      const Vec3 half = 0.5f * shown->length * line.direction;
      strokes.push_back({at(line.place - half), at(line.place + half)});
      heads.push_back(strokes.back().p2());
    }
    painter.setPen(QPen(QColor(20, 20, 20, 70), 2.4, Qt::SolidLine, Qt::RoundCap));
    painter.drawLines(strokes.data(), static_cast<int>(strokes.size()));
    painter.setPen(QPen(QColor(235, 235, 235, 130), 1.0, Qt::SolidLine, Qt::RoundCap));
    painter.drawLines(strokes.data(), static_cast<int>(strokes.size()));
    painter.setPen(QPen(QColor(235, 235, 235, 170), 2.2, Qt::SolidLine, Qt::RoundCap));
    painter.drawPoints(heads.data(), static_cast<int>(heads.size()));
  }
  const Guides* now = guides();
  if (!now) return;
  for (const Comb& comb : now->direction.combs) {
    QPolygonF line;
    for (const Vec3& place : comb.places) line << at(place);
    painter.setOpacity(0.55);
    drawOutline(painter, line);
    painter.setOpacity(1);
    drawGrip(painter, line.back(), false);
  }
  if (path_.places.size() < 2) return;
  QPolygonF line;
  for (const Vec3& place : path_.places) line << at(place);
  drawOutline(painter, line, clears_->isChecked());
}

}  // namespace juvenor::app
