#include "app/hands/comb_hand.h"

#include <QHBoxLayout>
#include <QPushButton>

#include "core/growth/skin_seeds.h"
#include "core/layers/sources/hair.h"
#include "core/quietly.h"

namespace juvenor::app {
namespace {

// Of the sculpt's size: how far lines lie apart, and how long they are.
constexpr float kApart = 0.02f, kLength = 0.013f;

}  // namespace

CombHand::CombHand(Session& session)
    : PatternHand(session, Tool::Comb, "comb bar"),
      beside_([this](const Wish& wish, const Progress& wanted) { quietly([&] { grant(wish, wanted); }); }) {
  clears_ = controls_->addSwitch("comb clears", tr("Clear"),
                                 tr("While it is on, a stroke takes away the strokes and pins it touches"));
  edges_ = controls_->addSwitch(
      "comb edges", tr("Edge"),
      tr("While it is on, a stroke is an edge that lashes stand along, of layers of hair"));
  connect(edges_, &QPushButton::clicked, this, [this](bool on) { session_.tools().setDrawsEdges(on); });
}

bool CombHand::drawsEdges() const {
  const LayerPointer layer =
      session_.isOpen() ? layerOf(session_.document(), session_.document().activeLayer) : nullptr;
  return layer && hairOf(*layer->source) && session_.tools().drawsEdges() && !clears_->isChecked();
}

void CombHand::refreshed() {
  clears_->setEnabled(guides() != nullptr);
  const LayerPointer layer =
      session_.isOpen() ? layerOf(session_.document(), session_.document().activeLayer) : nullptr;
  edges_->setVisible(layer && hairOf(*layer->source));
  edges_->setChecked(session_.tools().drawsEdges());
  wish();
}

bool CombHand::dashed() const {
  return clears_->isChecked();
}

void CombHand::wish() {
  const Guides* now = guides();
  if (session_.tools().tool() != Tool::Comb) return;
  Wish next;
  if (now) {
    next = {session_.document().maps, now->direction};
    if (path_.places.size() > 1 && !clears_->isChecked() && !drawsEdges()) next.guide.combs.push_back(path_);
  }
  if (next.maps == wishedMaps_.lock() && next.guide == wishedGuide_) return;
  wishedMaps_ = next.maps;
  wishedGuide_ = next.guide;
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
  setLines(std::move(out));
}

void CombHand::setLines(std::shared_ptr<const Lines> lines) {
  {
    const std::lock_guard hold(mutex_);
    lines_ = std::move(lines);
  }
  emit changed();
}

void CombHand::pathChanged() {
  bendLines();
  wish();
}

// Those under the end of the stroke, as a first sight of what the field will be.
void CombHand::bendLines() {
  const auto before = lines();
  const size_t count = path_.places.size();
  if (!before || count < 2 || clears_->isChecked() || drawsEdges()) return;
  auto bent = std::make_shared<Lines>(*before);
  const Vec3 &from = path_.places[count - 2], way = path_.places[count - 1] - from;
  for (Line& line : bent->all) {
    const float t = std::clamp((line.place - from).dot(way) / way.squaredNorm(), 0.f, 1.f);
    const float near = 1 - 2 * (line.place - from - t * way).norm() / path_.width;
    const Vec3 along = way - way.dot(line.normal) * line.normal;
    if (near <= 0 || along.squaredNorm() <= 0.25f * way.squaredNorm()) continue;
    const float by = near * near * (3 - 2 * near);
    line.direction = normalizedOr((1 - by) * line.direction + by * along.normalized(), line.direction);
  }
  setLines(std::move(bent));
}

std::shared_ptr<const CombHand::Lines> CombHand::lines() const {
  const std::lock_guard hold(mutex_);
  return lines_;
}

size_t CombHand::lineCount() const {
  const auto now = lines();
  return now ? now->all.size() : 0;
}

Vec3 CombHand::lineNear(const Vec3& place) const {
  const auto now = lines();
  if (!now || now->all.empty()) return Vec3::Zero();
  return std::ranges::min_element(now->all, {},
                                  [&](const Line& line) { return (line.place - place).squaredNorm(); })
      ->direction;
}

void CombHand::done(const SkinStroke& comb, const std::array<bool, 3>& mirror) {
  const uint32_t id = session_.document().activeLayer;
  if (clears_->isChecked()) {
    session_.settleStrokes();
    session_.apply(withoutCombs(session_.document(), id, comb.places, 0.5f * comb.width), tr("Clear combs"));
  } else if (drawsEdges()) {
    if (comb.places.size() < 2) return session_.say(tr("An edge is a stroke: draw along it."));
    SkinStroke edge = comb;
    // rows of lashes are no wider than this, whatever the brush
    edge.width = std::min(edge.width, 0.006f * session_.document().surface->bounds.diagonal());
    edge.pressures.clear();
    session_.settleStrokes();
    session_.apply(withHairEdge(session_.document(), id, edge, mirror), tr("Edge of hair"));
  } else if (comb.places.size() > 1) {
    session_.settleStrokes();
    session_.apply(withComb(session_.document(), id, comb, mirror), tr("Comb"));
  } else {
    session_.edit(tr("Pin direction"), [=](const Document& d, const Progress& p) {
      return withPin(d, id, comb.places.front(), comb.part, comb.width, mirror, p);
    });
  }
}

CombHand::SeenLines CombHand::seenOf(const std::shared_ptr<const Lines>& lines, const Viewing& viewing,
                                     double scale) const {
  SeenLines out{lines, viewing.camera, viewing.size, scale, {}, {}};
  const auto rays = session_.engine().rays();
  const std::set<uint32_t>& hidden = session_.document().hiddenParts;
  const float diagonal = session_.document().surface->bounds.diagonal();
  for (const Line& line : lines->all) {
    const Vec3 to = toViewer(viewing.camera, line.place);
    if (line.normal.dot(to) < 0.15f) continue;
    if (rays && rays->blocked({line.place + 0.01f * diagonal * to, to}, 4 * diagonal, hidden)) continue;
    const Vec3 half = 0.5f * lines->length * line.direction;
    const QPolygonF ends =
        onEasel(std::array{Vec3(line.place - half), Vec3(line.place + half)}, viewing, scale);
    out.strokes.push_back({ends[0], ends[1]});
    out.heads.push_back(ends[1]);
  }
  return out;
}

void CombHand::drawLines(QPainter& painter, const std::shared_ptr<const Lines>& shown, const Viewing& viewing,
                         double scale) const {
  if (seen_.of != shown || !(seen_.camera == viewing.camera) || !(seen_.size == viewing.size) ||
      seen_.scale != scale)
    seen_ = seenOf(shown, viewing, scale);
  const auto count = static_cast<int>(seen_.strokes.size());
  painter.setPen(QPen(QColor(20, 20, 20, 70), 2.4, Qt::SolidLine, Qt::RoundCap));
  painter.drawLines(seen_.strokes.data(), count);
  painter.setPen(QPen(QColor(235, 235, 235, 130), 1.0, Qt::SolidLine, Qt::RoundCap));
  painter.drawLines(seen_.strokes.data(), count);
  painter.setPen(QPen(QColor(235, 235, 235, 170), 2.2, Qt::SolidLine, Qt::RoundCap));
  painter.drawPoints(seen_.heads.data(), count);
}

void CombHand::draw(QPainter& painter, const Viewing& viewing, double scale) const {
  if (const auto shown = lines()) drawLines(painter, shown, viewing, scale);
  const Guides* now = guides();
  if (!now) return;
  for (const Comb& comb : now->direction.combs) {
    const QPolygonF line = onEasel(comb.places, viewing, scale);
    painter.setOpacity(0.55);
    drawOutline(painter, line);
    painter.setOpacity(1);
    drawGrip(painter, line.back(), false);
  }
  for (const SkinStroke& edge : now->edges) drawOutline(painter, onEasel(edge.places, viewing, scale), true);
  PatternHand::draw(painter, viewing, scale);
}

}  // namespace juvenor::app

#include "moc_comb_hand.cpp"
