#include "app/hands/lamp_hand.h"

#include <QHBoxLayout>
#include <QPushButton>

#include "app/controls/labels.h"

namespace juvenor::app {

LampHand::LampHand(Session& session)
    : session_(session), controls_(new HandControls("lamp bar")), says_(quietLabel({})) {
  controls_->row().addWidget(says_);
  auto* done = controls_->addButton("lamp done", tr("Done"), tr("The lamp stays where it is (Esc)"));
  connect(done, &QPushButton::clicked, this, &LampHand::finish);
}

void LampHand::begin(size_t lamp, const QString& name) {
  lamp_ = lamp;
  dragging_ = false;
  says_->setText(tr("Press where the highlight of “%1” is to be").arg(name));
}

bool LampHand::place(const Viewing& viewing, const Vec2& pixel) {
  const auto probe = session_.engine().probe(session_.document(), pixel);
  if (!probe) return false;
  const Vec3 toViewer = Lens(viewing.camera, viewing.size).toViewer(probe->point.position);
  Light light = viewing.light;
  light.kind = LightKind::Lamps;
  Lamp& lamp = light.lamps[*lamp_];
  // the dial the scene sees counts: the light may go with the view
  Viewing seen = viewing;
  seen.light = light;
  lamp = mirroredAt(lightIn(seen), lamp, probe->point.normal, toViewer);
  lamp.on = true;
  emit placed(light);
  return true;
}

bool LampHand::press(const Viewing& viewing, const Vec2& pixel) {
  if (!active()) return false;
  dragging_ = place(viewing, pixel);
  if (!dragging_) session_.say(tr("A highlight lies on the skin: press there."));
  return true;
}

void LampHand::drag(const Viewing& viewing, const Vec2& pixel) {
  if (active()) place(viewing, pixel);
}

// The highlight is its own mark.
void LampHand::draw(QPainter&, const Viewing&, double) const {}

void LampHand::finish() {
  if (!active()) return;
  lamp_.reset();
  dragging_ = false;
  emit done();
}

}  // namespace juvenor::app

#include "moc_lamp_hand.cpp"
