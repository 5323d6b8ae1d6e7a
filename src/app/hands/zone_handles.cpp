#include "app/hands/zone_handles.h"

#include <fmt/format.h>

#include <cmath>

#include "app/session/words.h"
#include "app/style/style.h"
#include "core/color/oklab.h"

namespace juvenor::app {
namespace {

constexpr float kGrip = 11;  // pixels around a handle that belong to it

QColor colorOfTint(const ZoneTint& tint) {
  return toQColor(tint.plain ? tint.color : toEncoded(Oklch{0.68f, 0.05f + tint.chroma, tint.hue}));
}

}  // namespace

const ZoneSet* ZoneHandles::zones() const {
  if (!session_.isOpen()) return nullptr;
  const LayerPointer layer = layerOf(session_.document(), session_.document().activeLayer);
  return layer ? layer->source->zones() : nullptr;
}

bool ZoneHandles::behind(const Viewing& viewing, const Vec3& place) const {
  const auto rays = session_.engine().rays();
  if (!rays) return false;
  const Vec3 to = toViewer(viewing.camera, place);
  const float lift = 0.01f * session_.document().surface->bounds.diagonal();
  return rays->blocked({place + lift * to, to}, 4 * session_.document().surface->bounds.diagonal());
}

std::vector<ZoneHandles::Handle> ZoneHandles::handles(const Viewing& viewing) const {
  std::vector<Handle> out;
  const ZoneSet* set = dragging() ? layerOf(dragged_, dragged_.activeLayer)->source->zones() : zones();
  if (!set) return out;
  for (size_t z = 0; z < set->zones.size(); ++z)
    for (const bool mirrored : {false, true}) {
      const HueZone& zone = set->zones[z];
      const auto second = secondAnchor(zone);
      if (mirrored && (!second || (*second - zone.anchor).norm() < 2e-3f)) continue;
      const Vec3 place = mirrored ? *second : zone.anchor;
      const Vec3 p = project(viewing.camera, viewing.size, place);
      if (p.z() > 0) out.push_back({static_cast<int>(z), mirrored, {p.x(), p.y()}, behind(viewing, place)});
    }
  return out;
}

void ZoneHandles::draw(QPainter& painter, const Viewing& viewing, double scale) const {
  const ZoneSet* set = dragging() ? layerOf(dragged_, dragged_.activeLayer)->source->zones() : zones();
  if (set)
    for (const Handle& h : handles(viewing)) {
      const HueZone& zone = set->zones[static_cast<size_t>(h.zone)];
      const bool chosen = h.zone == session_.tools().zone();
      const QPointF at = QPointF(h.pixel.x(), h.pixel.y()) / scale;
      painter.setOpacity(h.hidden ? 0.3 : 1);
      if (chosen && !h.hidden) {
        // about how far it reaches, seen straight on
        const double reach =
            static_cast<double>(zone.reach * pixelsPerUnit(viewing.camera, viewing.size, zone.anchor)) /
            scale;
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(QColor(20, 20, 20, 130), 2.4));
        painter.drawEllipse(at, reach, reach);
        QPen dashes(QColor(255, 255, 255, 200), 1.2);
        dashes.setDashPattern({5, 4});
        painter.setPen(dashes);
        painter.drawEllipse(at, reach, reach);
      }
      painter.setPen(QPen(QColor(20, 20, 20, 170), chosen ? 5 : 4));
      painter.setBrush(colorOfTint(zone.tint));
      painter.drawEllipse(at, chosen ? 7 : 5.5, chosen ? 7 : 5.5);
      painter.setPen(QPen(Qt::white, chosen ? 2.2 : 1.4));
      painter.drawEllipse(at, chosen ? 7 : 5.5, chosen ? 7 : 5.5);
      if (chosen && !h.mirrored && !h.hidden)
        drawPlate(painter, at + QPointF(12, 0), QString::fromStdString(zone.name));
    }
  painter.setOpacity(1);
  if (session_.tools().landmark().empty()) return;
  for (const Landmark& l : session_.document().landmarks) {
    const Vec3 p = project(viewing.camera, viewing.size, l.position);
    const QPointF at = QPointF(p.x(), p.y()) / scale;
    const bool next = l.key == session_.tools().landmark();
    painter.setPen(QPen(QColor(20, 20, 20, 170), 3.4));
    painter.drawLine(at - QPointF(6, 0), at + QPointF(6, 0));
    painter.drawLine(at - QPointF(0, 6), at + QPointF(0, 6));
    painter.setPen(QPen(next ? look::kAccent : QColor(Qt::white), 1.6));
    painter.drawLine(at - QPointF(6, 0), at + QPointF(6, 0));
    painter.drawLine(at - QPointF(0, 6), at + QPointF(0, 6));
  }
}

bool ZoneHandles::press(const Viewing& viewing, const Vec2& pixel) {
  const auto probe = session_.engine().probe(session_.document(), pixel);
  if (!session_.tools().landmark().empty()) {
    if (probe) placeLandmark(probe->point.position);
    return true;
  }
  const Handle* nearest = nullptr;
  const auto all = handles(viewing);
  for (const Handle& h : all)
    if (!h.hidden && (h.pixel - pixel).norm() < kGrip &&
        (!nearest || (h.pixel - pixel).norm() < (nearest->pixel - pixel).norm()))
      nearest = &h;
  if (!nearest) {
    if (!zones())
      session_.say(Session::tr("Choose a layer of hue zones, or add one in the Zones stage."));
    else if (probe)
      addZone(probe->point);
    return true;
  }
  session_.settleStrokes();
  session_.tools().setZone(nearest->zone);
  held_ = nearest->zone;
  heldMirrored_ = nearest->mirrored;
  moved_ = false;
  dragged_ = session_.document();
  return true;
}

void ZoneHandles::drag(const Viewing&, const Vec2& pixel) {
  const auto probe = session_.engine().probe(session_.document(), pixel);
  if (!dragging() || !probe) return;
  ZoneSet set = *layerOf(dragged_, dragged_.activeLayer)->source->zones();
  HueZone& zone = set.zones[static_cast<size_t>(held_)];
  zone.anchor = probe->point.position;
  if (heldMirrored_) zone.anchor = mirrorsOf(dragged_).place(zone.anchor, {true, false, false});
  if (!heldMirrored_) zone.part = probe->point.part;
  // moved by hand it no longer goes with its landmark
  zone.landmark.clear();
  auto next = withZones(dragged_, dragged_.activeLayer, std::move(set));
  if (!next) return;
  dragged_ = std::move(*next);
  moved_ = true;
  session_.preview(dragged_);
}

void ZoneHandles::release() {
  if (held_ >= 0 && moved_) {
    const std::string name =
        layerOf(dragged_, dragged_.activeLayer)->source->zones()->zones[static_cast<size_t>(held_)].name;
    // into what is now: something beside the zones may have changed meanwhile
    const uint32_t id = dragged_.activeLayer;
    if (!session_.apply(withZones(session_.document(), id, *layerOf(dragged_, id)->source->zones()),
                        Session::tr("Move zone %1").arg(QString::fromStdString(name))))
      session_.endPreview();
  }
  held_ = -1;
  dragged_ = {};
}

void ZoneHandles::breakOff() {
  held_ = -1;
  dragged_ = {};
  session_.endPreview();
}

void ZoneHandles::placeLandmark(const Vec3& place) {
  const std::string key = session_.tools().landmark();
  const LandmarkFacts* facts = landmarkFacts(key);
  if (!facts) return;
  session_.settleStrokes();
  // a point in the middle lies in the middle
  Vec3 there = place;
  const float near = 0.01f * session_.document().surface->bounds.diagonal();
  if (!facts->paired && std::abs(there.x()) < near) there.x() = 0;
  session_.apply(withLandmark(session_.document(), key, there),
                 Session::tr("Place %1").arg(told(facts->label)));
  // on to the next one that is not placed yet
  for (const LandmarkFacts& f : landmarkFacts())
    if (std::ranges::find(session_.document().landmarks, f.key, &Landmark::key) ==
        session_.document().landmarks.end())
      return session_.tools().setLandmark(std::string(f.key));
  session_.tools().setLandmark({});
  session_.say(Session::tr("All landmarks are placed. Lay the usual zones in the Zones stage."));
}

void ZoneHandles::addZone(const SurfacePoint& place) {
  session_.settleStrokes();
  ZoneSet set = *zones();
  HueZone zone;
  const float diagonal = session_.document().surface->bounds.diagonal();
  const AreaFacts& facts =
      *layerOf(session_.document(), session_.document().activeLayer)->source->kind().areas;
  zone.name = fmt::format("{} {}", facts.one, set.zones.size() + 1);
  zone.anchor = place.position;
  zone.part = place.part;
  zone.reach = facts.reach * diagonal;
  zone.strength = facts.strength;
  zone.grain = 0.012f * diagonal;
  // the colour in hand says where it leans
  const Oklch hand = toOklch(session_.tools().color());
  zone.tint.hue = hand.h;
  zone.tint.chroma = std::clamp(0.5f * hand.c, 0.03f, 0.12f);
  set.zones.push_back(zone);
  const int index = static_cast<int>(set.zones.size()) - 1;
  session_.apply(withZones(session_.document(), session_.document().activeLayer, std::move(set)),
                 Session::tr("Add zone"));
  session_.tools().setZone(index);
}

}  // namespace juvenor::app
