#include "app/hands/mirror_hand.h"

#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSignalBlocker>
#include <cmath>
#include <numbers>

#include "app/controls/labels.h"
#include "app/session/words.h"
#include "core/carry/twin.h"
#include "core/document/edits/edits.h"

namespace juvenor::app {
namespace {

constexpr float kDegrees = 180 / std::numbers::pi_v<float>;

// Leaned about the view's axis from the front, and turned about the upright one: degrees from x.
struct Stand {
  float lean = 0, turn = 0;
};
Stand standOf(const Vec3& normal) {
  return {std::asin(std::clamp(normal.y(), -1.f, 1.f)) * kDegrees,
          -std::atan2(normal.z(), normal.x()) * kDegrees};
}
Vec3 normalOf(const Stand& stand) {
  const float lean = stand.lean / kDegrees, turn = -stand.turn / kDegrees;
  return {std::cos(lean) * std::cos(turn), std::sin(lean), std::cos(lean) * std::sin(turn)};
}

}  // namespace

MirrorHand::MirrorHand(Session& session) : session_(session), controls_(new HandControls("mirror bar")) {
  auto* fit =
      controls_->addButton("mirror fit", tr("Fit to the form"),
                           tr("Seeks the plane the figure is symmetric about, whatever its coordinates"));
  auto* zero = controls_->addButton("mirror zero", tr("x = 0"), tr("Back to the plane of the coordinates"));
  aside_ = addNumber("mirror aside", tr("Aside"), tr(" mm"), 1e6,
                     tr("How far the plane lies from the middle of the scene"));
  lean_ = addNumber("mirror lean", tr("Lean"), tr("°"), 80, tr("How far it leans, as seen from the front"));
  turn_ =
      addNumber("mirror turn", tr("Turn"), tr("°"), 80, tr("How far it is turned about the upright axis"));
  connect(fit, &QPushButton::clicked, this, [this] {
    session_.edit(tr("Fit mirror plane"), [](const Document& d, const Progress& p) -> Result<Document> {
      const auto found = mirrorPlaneOf(d, p);
      if (!found) return found.error();
      return withMirrorPlane(d, found->plane);
    });
  });
  connect(zero, &QPushButton::clicked, this, [this] { keep({}); });
  connect(&session_, &Session::documentChanged, this, &MirrorHand::refresh);
}

QDoubleSpinBox* MirrorHand::addNumber(const char* name, const QString& label, const QString& unit,
                                      double most, const QString& tip) {
  auto* box = new QDoubleSpinBox;
  box->setObjectName(name);
  box->setRange(-most, most);
  box->setDecimals(1);
  box->setSingleStep(0.5);
  box->setPrefix(label + " ");
  box->setSuffix(unit);
  box->setAccessibleName(label);
  box->setToolTip(tip);
  box->setFixedWidth(124);
  box->setKeyboardTracking(false);
  box->setFocusPolicy(Qt::ClickFocus);
  connect(box, &QDoubleSpinBox::valueChanged, this, &MirrorHand::typed);
  controls_->row().addWidget(box);
  return box;
}

MirrorPlane MirrorHand::plane() const {
  return dragged_.value_or(session_.document().mirror);
}

void MirrorHand::refresh() {
  if (!session_.isOpen()) return;
  const MirrorPlane now = plane();
  const Stand stand = standOf(now.normal);
  const std::pair<QDoubleSpinBox*, float> numbers[] = {
      {aside_, now.offset * session_.document().placement.millimetres},
      {lean_, stand.lean},
      {turn_, stand.turn}};
  for (const auto& [box, value] : numbers) {
    const QSignalBlocker quiet(box);
    box->setValue(static_cast<double>(value));
  }
}

void MirrorHand::typed() {
  const Document& d = session_.document();
  keep({normalOf({static_cast<float>(lean_->value()), static_cast<float>(turn_->value())}),
        static_cast<float>(aside_->value()) / d.placement.millimetres});
}

void MirrorHand::keep(const MirrorPlane& plane) {
  if (!session_.isOpen()) return;
  session_.settleStrokes();
  if (plane == session_.document().mirror) return;
  session_.edit(tr("Mirror plane"),
                [plane](const Document& d, const Progress&) { return withMirrorPlane(d, plane); });
}

bool MirrorHand::press(const Viewing&, const Vec2& pixel) {
  pressed_ = pixel;
  dragged_ = session_.document().mirror;
  return true;
}

void MirrorHand::drag(const Viewing& viewing, const Vec2& pixel) {
  if (!dragged_) return;
  const MirrorPlane was = session_.document().mirror;
  const Vec3 middle = session_.document().surface->bounds.center();
  const Vec2 along = pixelOf(viewing, middle + was.normal) - pixelOf(viewing, middle);
  // seen from straight beside it goes nowhere
  const float reach = pixelsPerUnit(viewing.camera, viewing.size, middle);
  if (along.norm() < 0.1f * reach) return;
  dragged_->offset = was.offset + (pixel - pressed_).dot(along) / along.squaredNorm();
  refresh();
}

void MirrorHand::release() {
  if (!dragged_) return;
  const MirrorPlane plane = *dragged_;
  dragged_.reset();
  keep(plane);
}

void MirrorHand::draw(QPainter& painter, const Viewing& viewing, double scale) const {
  const MirrorPlane now = plane();
  const Box& bounds = session_.document().surface->bounds;
  const Mirrors mirrors(now);
  const Vec3 middle = mirrors.onPlane(bounds.center(), 0);
  const Vec3 ahead = normalizedOr(now.normal.cross(Vec3::UnitY()), Vec3::UnitZ()),
             up = ahead.cross(now.normal);
  const Vec3 half = 0.55f * (bounds.high - bounds.low);
  const float high = half.dot(up.cwiseAbs()), deep = half.dot(ahead.cwiseAbs());
  QPolygonF rim;
  for (const auto& [a, b] : {std::pair{-1.f, -1.f}, {1.f, -1.f}, {1.f, 1.f}, {-1.f, 1.f}}) {
    const Vec2 p = pixelOf(viewing, middle + a * deep * ahead + b * high * up);
    rim << QPointF(p.x(), p.y()) / scale;
  }
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor(255, 255, 255, 34));
  painter.drawPolygon(rim);
  rim << rim.front();
  drawOutline(painter, rim);
  painter.setBrush(Qt::NoBrush);
}

}  // namespace juvenor::app

#include "moc_mirror_hand.cpp"
