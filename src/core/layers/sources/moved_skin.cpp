#include "core/layers/sources/moved_skin.h"

#include "core/layers/sources/eyes.h"
#include "core/layers/sources/markings.h"
#include "core/layers/sources/thrown.h"

namespace juvenor {

MovedSkin turnedSkin(const Eigen::Matrix3f& turn) {
  MovedSkin out;
  out.place = [turn](const Vec3& place, uint32_t part) { return MovedPlace{turn * place, part}; };
  out.parts = [](uint32_t part) { return std::vector<uint32_t>{part}; };
  out.turn = turn;
  return out;
}

MirrorPlane moved(const MirrorPlane& plane, const MovedSkin& skin) {
  const Vec3 normal = skin.turn * plane.normal;
  return {normal, skin.scale * plane.offset + normal.dot(skin.shift)};
}

HueZone moved(HueZone zone, const MovedSkin& skin) {
  const MovedPlace to = skin.place(zone.anchor, zone.part);
  zone.anchor = to.place;
  if (zone.other) zone.other = skin.place(*zone.other, kNone).place;
  if (zone.part != kNone) zone.part = to.part;
  return zone;
}

Guides moved(Guides guides, const MovedSkin& skin) {
  for (auto* strokes : strokesOf(guides))
    for (SkinStroke& stroke : *strokes) {
      const uint32_t part = stroke.part;
      for (size_t i = 0; i < stroke.places.size(); ++i) {
        const MovedPlace to = skin.place(stroke.places[i], part);
        stroke.places[i] = to.place;
        if (i == 0) stroke.part = to.part;
      }
    }
  guides.direction.flow = skin.turn * guides.direction.flow;
  for (CellTouch& touch : guides.cells) {
    const MovedPlace to = skin.place(touch.place, touch.part);
    touch.place = to.place;
    touch.part = to.part;
  }
  for (HueZone& zone : guides.size.smaller) zone = moved(std::move(zone), skin);
  return guides;
}

Slide moved(Slide slide, const MovedSkin& skin) {
  Camera& camera = slide.camera;
  camera.target = skin.scale * (skin.turn * camera.target) + skin.shift;
  camera.distance *= skin.scale;
  camera.turn = (Eigen::Quaternionf(skin.turn) * camera.turn).normalized();
  for (SlidePin& pin : slide.pins) pin.onSkin = skin.place(pin.onSkin, kNone).place;
  if (slide.tone.light) slide.tone.light = turnedLight(*slide.tone.light, skin.turn);
  return slide;
}

// A ball that was cut up or is no more is found by where it lies.
Eyes moved(Eyes eyes, const MovedSkin& skin) {
  for (EyeBall& ball : eyes.balls) {
    const std::vector<uint32_t> parts = ball.part == kNone ? std::vector<uint32_t>() : skin.parts(ball.part);
    ball.part = parts.size() == 1 ? parts.front() : kNone;
    ball.center = skin.scale * (skin.turn * ball.center) + skin.shift;
    ball.look = normalizedOr(skin.turn * ball.look, Vec3::UnitZ());
    ball.up = normalizedOr(skin.turn * ball.up, Vec3::UnitY());
  }
  return eyes;
}

SourcePointer movedSource(const LayerSource& source, const MovedSkin& skin) {
  if (const Throw* thrown = throwOf(source)) {
    Throw there = *thrown;
    for (Slide& slide : there.slides) slide = moved(std::move(slide), skin);
    there.without.clear();
    for (const uint32_t part : thrown->without)
      for (const uint32_t now : skin.parts(part)) there.without.insert(now);
    return throwSource(std::move(there));
  }
  if (const Eyes* eyes = eyesOf(source)) return eyeSource(moved(*eyes, skin));
  SourcePointer out;
  if (const Veins* veins = veinsOf(source)) {
    Veins there = *veins;
    there.toward = skin.turn * there.toward;
    out = veinSource(std::move(there));
  }
  const LayerSource& now = out ? *out : source;
  const ZoneSet* zones = now.zones();
  // most patterns keep their areas with their guides
  const bool apart = zones && !(now.guides() && now.guides()->size.smaller == zones->zones);
  ZoneSet set = apart ? *zones : ZoneSet();
  if (const Guides* guides = now.guides()) out = now.withGuides(moved(*guides, skin));
  if (!apart) return out;
  for (HueZone& zone : set.zones) zone = moved(std::move(zone), skin);
  return (out ? *out : source).withZones(std::move(set));
}

}  // namespace juvenor
