#include "app/hands/stamp_placing.h"

#include <QPushButton>
#include <cmath>

#include "app/controls/stamp_menu.h"
#include "app/style/style.h"
#include "core/brush/made_stamps.h"
#include "core/document/edits/place_stamp.h"

namespace juvenor::app {
namespace {

constexpr float kGripReach = 13;  // pixels around a grip that belong to it
constexpr float kLeastDrag = 5;   // pixels from which a drag sets the size

Vec3 tangentOf(const Vec3& direction, const Vec3& normal) {
  return normalizedOr(direction - normal * normal.dot(direction), normal.unitOrthogonal());
}

}  // namespace

StampPlacing::StampPlacing(Session& session) : session_(session), controls_(new HandControls("stamp bar")) {
  controls_->addPicture();
  auto* strokes =
      controls_->addButton("stroke stamp", tr("As a brush"),
                           tr("Paints strokes with this picture, one after the other along the way"));
  connect(strokes, &QPushButton::clicked, this, [this] {
    giveUp();
    Brush brush = session_.tools().brush();
    brush.tip = TipKind::Stamp;
    brush.turnBy = TurnBy::Stroke;
    brush.step = 0.7f;
    session_.tools().setBrush(brush);
    session_.tools().setTool(Tool::Airbrush);
  });
  adapt_ = controls_->addButton(
      "adapt stamp", tr("Adapt"),
      tr("Colours of the picture take the tone of the skin around; their differences stay"));
  adapt_->setCheckable(true);
  connect(adapt_, &QPushButton::clicked, this, [this](bool on) { session_.tools().setAdapts(on); });
  lay_ = controls_->addButton("lay stamp", tr("Lay  ⏎"), tr("Lays the stamp as it is seen (Enter)"));
  cancel_ = controls_->addButton("cancel stamp", tr("Cancel  Esc"), tr("Takes it away again (Escape)"));
  connect(lay_, &QPushButton::clicked, this, &StampPlacing::finish);
  connect(cancel_, &QPushButton::clicked, this, &StampPlacing::giveUp);
  connect(controls_, &HandControls::pictureWanted, this, [this] {
    const ChosenStamp chosen = askStamp(controls_, controls_->mapToGlobal(QPoint(0, -10)));
    if (!chosen.trouble.isEmpty()) session_.say(chosen.trouble, true);
    if (chosen.stamp) take(chosen.stamp);
  });
  connect(&session_.tools(), &Tools::changed, this, [this] {
    // what is seen is not lost by taking another tool
    if (session_.tools().tool() != Tool::Stamp && placing()) finish();
    refresh();
    if (placing() && !dragging()) show();
  });
  connect(&session_, &Session::documentChanged, this, [this] {
    if (placing() && !laying_) show();
  });
  connect(&session_, &Session::opened, this, [this] { placed_.reset(); });
}

void StampPlacing::take(const StampPointer& stamp) {
  Brush brush = session_.tools().brush();
  brush.stamp.stamp = stamp;
  brush.stamp.ownColors = stamp->hasColor();
  session_.tools().setBrush(brush);
}

void StampPlacing::refresh() {
  const bool inHand = session_.tools().tool() == Tool::Stamp && session_.isOpen();
  if (!inHand) return;
  StampPointer stamp = session_.tools().brush().stamp.stamp;
  if (!stamp) {
    stamp = madeStamp("scar");
    return take(stamp);
  }
  controls_->showPicture(stamp);
  adapt_->setEnabled(session_.tools().brush().stamp.ownColors);
  adapt_->setChecked(adapt_->isEnabled() && session_.tools().adapts());
  lay_->setEnabled(placing());
  cancel_->setEnabled(placing());
}

bool StampPlacing::press(const Viewing& viewing, const Vec2& pixel) {
  if (placed_) {
    if ((rim(viewing) - pixel).norm() < kGripReach) {
      grip_ = Grip::Rim;
      fresh_ = false;
      return true;
    }
    const float across = placed_->radius * pixelsPerUnit(viewing.camera, viewing.size, placed_->at.position);
    if ((pixelOf(viewing, placed_->at.position) - pixel).norm() < std::max(kGripReach, across)) {
      grip_ = Grip::Middle;
      return true;
    }
    finish();
  }
  const auto probe = session_.engine().probe(session_.document(), pixel);
  if (!probe) return true;
  session_.settleStrokes();
  placed_ = Placed{probe->point, tangentOf(viewing.camera.right(), probe->point.normal),
                   session_.tools().brush().radius};
  skin_ = session_.engine().skinNow();
  grip_ = Grip::Rim;
  fresh_ = true;
  ++turn_;
  refresh();
  show();
  return true;
}

void StampPlacing::drag(const Viewing& viewing, const Vec2& pixel) {
  if (!placed_ || grip_ == Grip::None) return;
  if (grip_ == Grip::Middle) {
    const auto probe = session_.engine().probe(session_.document(), pixel);
    if (!probe) return;
    placed_->at = probe->point;
    placed_->along = tangentOf(placed_->along, probe->point.normal);
    return show();
  }
  // a press that hardly moves keeps the size of the brush
  if (fresh_ && (pixelOf(viewing, placed_->at.position) - pixel).norm() < kLeastDrag) return;
  const Ray ray = rayThrough(viewing.camera, viewing.size, pixel);
  const float facing = ray.direction.dot(placed_->at.normal);
  if (std::abs(facing) < 0.05f) return;
  const Vec3 met =
      ray.origin + ray.direction * ((placed_->at.position - ray.origin).dot(placed_->at.normal) / facing);
  const Vec3 away = met - placed_->at.position;
  if (!(away.norm() > 0.2f * session_.document().surface->spacing)) return;
  placed_->radius = std::min(away.norm(), 0.5f * session_.document().surface->bounds.diagonal());
  placed_->along = tangentOf(away, placed_->at.normal);
  show();
}

void StampPlacing::release() {
  grip_ = Grip::None;
}

Session::Edit StampPlacing::edit(std::shared_ptr<Flood> flood) const {
  StrokeSetting setting = session_.strokeSetting(false);
  setting.brush.tip = TipKind::Stamp;
  setting.activePart = placed_->at.part;
  if (session_.tools().adapts() && setting.brush.stamp.ownColors) setting.adaptsTo = skin_;
  SurfacePoint at = placed_->at;
  at.toViewer = at.normal;
  return [setting, at, along = placed_->along, radius = placed_->radius, flood](const Document& d,
                                                                                const Progress&) {
    return withStampPlaced(d, setting, at, along, radius, *flood);
  };
}

// One preview at a time; what moved meanwhile is shown by the next.
void StampPlacing::show() {
  if (!placed_ || !session_.tools().brush().stamp.stamp) return;
  if (work_.running()) {
    again_ = true;
    return;
  }
  again_ = false;
  const auto shown = std::make_shared<std::optional<Document>>();
  work_.start(
      tr("Placing a stamp"),
      [copy = session_.document(), edit = edit(flood_), shown](const Progress& p) -> Outcome {
        auto next = edit(copy, p);
        if (!next) return next.error();
        *shown = std::move(*next);
        return Done{};
      },
      [this, shown, turn = turn_](const Outcome& done) {
        if (turn != turn_ || !placed_) return;
        if (done)
          session_.preview(**shown);
        else
          session_.tell(done.error());
        if (again_) show();
      });
}

void StampPlacing::finish() {
  if (!placed_ || laying_) return;
  laying_ = true;
  const Session::Edit laid = edit(std::make_shared<Flood>());
  placed_.reset();
  grip_ = Grip::None;
  ++turn_;
  work_.giveUp();
  const StampPointer& stamp = session_.tools().brush().stamp.stamp;
  if (!session_.edit(tr("Stamp “%1”").arg(QString::fromStdString(stamp->name())), laid))
    session_.endPreview();
  laying_ = false;
  refresh();
}

void StampPlacing::giveUp() {
  if (!placed_) return;
  placed_.reset();
  grip_ = Grip::None;
  ++turn_;
  work_.giveUp();
  session_.endPreview();
  refresh();
}

Vec2 StampPlacing::rim(const Viewing& viewing) const {
  return pixelOf(viewing, placed_->at.position + placed_->radius * placed_->along);
}

QPolygonF StampPlacing::outline(const Viewing& viewing, double scale) const {
  const StampPointer& stamp = session_.tools().brush().stamp.stamp;
  const float longest = static_cast<float>(std::max(stamp->width(), stamp->height()));
  const float x = static_cast<float>(stamp->width()) / longest,
              y = static_cast<float>(stamp->height()) / longest;
  const Vec3 up = placed_->at.normal.cross(placed_->along);
  QPolygonF out;
  for (const auto& [i, j] : {std::pair(-x, -y), {x, -y}, {x, y}, {-x, y}, {-x, -y}}) {
    const Vec2 p = pixelOf(viewing, placed_->at.position + placed_->radius * (i * placed_->along + j * up));
    out << QPointF(p.x(), p.y()) / scale;
  }
  return out;
}

void StampPlacing::draw(QPainter& painter, const Viewing& viewing, double scale) const {
  if (!placed_ || !session_.tools().brush().stamp.stamp) return;
  drawOutline(painter, outline(viewing, scale), true);
  const Vec2 middle = pixelOf(viewing, placed_->at.position), side = rim(viewing);
  drawGrip(painter, QPointF(middle.x(), middle.y()) / scale, grip_ == Grip::Middle);
  drawGrip(painter, QPointF(side.x(), side.y()) / scale, grip_ == Grip::Rim);
  const float turn = std::atan2(middle.y() - side.y(), side.x() - middle.x()) * 57.29578f;
  const QString words = tr("%1 · %2°")
                            .arg(shortLength(2 * placed_->radius, session_.document().placement.millimetres))
                            .arg(std::lround(turn));
  painter.setPen(Qt::white);
  painter.drawText(QPointF(side.x(), side.y()) / scale + QPointF(14, 4), words);
}

}  // namespace juvenor::app

#include "moc_stamp_placing.cpp"
