#include "app/hands/pattern_hand.h"

#include <QHBoxLayout>
#include <QLabel>

#include "app/controls/labels.h"

namespace juvenor::app {

PatternHand::PatternHand(Session& session, Tool tool, const QString& named)
    : session_(session), controls_(new HandControls(named, 4)), tool_(tool), says_(quietLabel({})) {
  says_->setWordWrap(false);
  controls_->row().addWidget(says_);
  connect(&session_.tools(), &Tools::changed, this, &PatternHand::refresh);
  connect(&session_, &Session::documentChanged, this, &PatternHand::refresh);
}

const Guides* PatternHand::guides() const {
  const LayerPointer layer =
      session_.isOpen() ? layerOf(session_.document(), session_.document().activeLayer) : nullptr;
  return layer ? layer->source->guides() : nullptr;
}

void PatternHand::refresh() {
  if (inHand()) says_->setText(guides() ? says() : tr("Choose a layer of a pattern, like scales"));
  refreshed();
}

bool PatternHand::press(const Viewing&, const Vec2& pixel) {
  pressAt(session_.engine().probe(session_.document(), pixel));
  return true;
}

void PatternHand::pressAt(const std::optional<Probe>& probe) {
  if (!guides()) return session_.say(tr("Choose a layer of a pattern first, like scales."));
  if (!probe) return session_.say(tr("It begins on the skin."));
  const Brush& brush = session_.tools().brush();
  path_ = {{probe->point.position}, probe->point.part, 2 * brush.radius, 1, {pressure_}};
  mirror_ = brush.mirror;
}

void PatternHand::drag(const Viewing&, const Vec2& pixel) {
  dragAt(session_.engine().probe(session_.document(), pixel));
}

void PatternHand::dragAt(const std::optional<Probe>& probe) {
  if (!probe || path_.places.empty() || probe->point.part != path_.part) return;
  const float least = std::max(step(), session_.document().surface->spacing);
  if ((probe->point.position - path_.places.back()).norm() < least) {
    // a pen comes down softly: what a place feels is the most while it rests there
    path_.pressures.back() = std::max(path_.pressures.back(), pressure_);
    return;
  }
  path_.places.push_back(probe->point.position);
  path_.pressures.push_back(pressure_);
  pathChanged();
}

void PatternHand::release() {
  if (path_.places.empty()) return;
  SkinStroke path = std::move(path_);
  if (std::ranges::all_of(path.pressures, [](float p) { return p == 1; })) path.pressures.clear();
  path_ = {};
  done(path, mirror_);
  pathChanged();
}

void PatternHand::giveUp() {
  path_ = {};
  pathChanged();
}

QPolygonF onEasel(std::span<const Vec3> places, const Viewing& viewing, double scale) {
  QPolygonF out;
  for (const Vec3& place : places) {
    const Vec3 p = project(viewing.camera, viewing.size, place);
    out << QPointF(static_cast<double>(p.x()), static_cast<double>(p.y())) / scale;
  }
  return out;
}

void PatternHand::draw(QPainter& painter, const Viewing& viewing, double scale) const {
  if (path_.places.size() > 1) drawOutline(painter, onEasel(path_.places, viewing, scale), dashed());
}

}  // namespace juvenor::app

#include "moc_pattern_hand.cpp"
