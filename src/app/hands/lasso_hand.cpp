#include "app/hands/lasso_hand.h"

#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QPushButton>

#include "app/controls/labels.h"
#include "core/document/edits/edit_parts.h"
#include "core/document/edits/edits.h"
#include "core/pen/lasso.h"

namespace juvenor::app {
namespace {
constexpr float kLeastWay = 2;  // pixels between two places of the outline

Result<ScalarField> insideOf(const Document& document, const Viewing& viewing,
                             const std::vector<Vec2>& outline, const LassoSetting& setting,
                             const Progress& progress) {
  const auto rays = document.maps->rays();
  if (!rays) return rays.error();
  const Eye eye{rays->get(), nullptr, viewing.camera, viewing.size, document.hiddenParts};
  return insideLasso(eye, outline, setting, progress);
}
}  // namespace

LassoHand::LassoHand(Session& session) : session_(session), controls_(new HandControls("lasso bar")) {
  controls_->row().addWidget(quietLabel(tr("Go around it")));
  guards_ = controls_->addSwitch("lasso guards", tr("Guard"),
                                 tr("Guards what lies inside, in place of hiding it by the layer's mask"));
  part_ = controls_->addSwitch("lasso part", tr("Part"), tr("Makes a part of its own of what lies inside"));
  connect(guards_, &QPushButton::toggled, this, [this](bool on) {
    if (on) part_->setChecked(false);
    emit changed();
  });
  connect(part_, &QPushButton::toggled, this, [this](bool on) {
    if (on) guards_->setChecked(false);
    takesAway_->setEnabled(!on);
    soft_->setEnabled(!on);
  });
  takesAway_ = controls_->addSwitch("lasso takes away", tr("Take away"),
                                    tr("Shows what lies inside again, or frees it from the guard"));
  through_ = controls_->addSwitch("lasso through", tr("Straight through"),
                                  tr("Takes all skin inside, also what turns away or lies behind"));
  soft_ = new QDoubleSpinBox;
  soft_->setObjectName("lasso soft");
  soft_->setRange(0, 500);
  soft_->setDecimals(1);
  soft_->setSingleStep(0.5);
  soft_->setPrefix(tr("soft "));
  soft_->setSuffix(tr(" mm"));
  soft_->setAccessibleName(tr("Soft edge"));
  soft_->setToolTip(tr("How far along the skin the edge fades, half of it inside"));
  soft_->setFixedWidth(118);
  soft_->setFocusPolicy(Qt::ClickFocus);
  controls_->row().addWidget(soft_);
}

bool LassoHand::press(const Viewing& viewing, const Vec2& pixel) {
  viewing_ = viewing;
  outline_ = {pixel};
  return true;
}

void LassoHand::drag(const Viewing&, const Vec2& pixel) {
  if (!outline_.empty() && (pixel - outline_.back()).norm() >= kLeastWay) outline_.push_back(pixel);
}

void LassoHand::release() {
  const std::vector<Vec2> outline = std::exchange(outline_, {});
  if (outline.size() < 3) return session_.say(tr("Drag all around what is meant."));
  session_.settleStrokes();
  const Document& d = session_.document();
  LassoSetting setting;
  setting.frontOnly = !through_->isChecked();
  setting.soft = static_cast<float>(soft_->value()) / d.placement.millimetres;
  setting.part = session_.tools().brush().allParts ? kNone : session_.activePart();
  if (part_->isChecked()) {
    setting.soft = 0;
    session_.edit(tr("Part"),
                  [=, viewing = viewing_, name = tr("Piece").toStdString()](
                      const Document& now, const Progress& p) -> Result<Document> {
                    const auto inside = insideOf(now, viewing, outline, setting, p);
                    if (!inside) return inside.error();
                    return withPartWhere(now, *inside, name, p);
                  });
    return;
  }
  const bool guards = guards_->isChecked(), takesAway = takesAway_->isChecked();
  const uint32_t id = guards ? kGuard : d.activeLayer;
  if (!guards && id == 0) return session_.say(tr("There is no layer to mask: add one, or guard."), true);
  session_.edit(guards ? (takesAway ? tr("Free from the guard") : tr("Guard"))
                       : (takesAway ? tr("Show through mask") : tr("Hide with mask")),
                [=, viewing = viewing_](const Document& now, const Progress& p) -> Result<Document> {
                  const auto inside = insideOf(now, viewing, outline, setting, p);
                  if (!inside) return inside.error();
                  return withLassoOnMask(now, id, *inside, takesAway);
                });
}

void LassoHand::draw(QPainter& painter, const Viewing&, double scale) const {
  if (outline_.size() < 2) return;
  QPolygonF line;
  for (const Vec2& p : outline_) line << QPointF(p.x(), p.y()) / scale;
  drawOutline(painter, line);
  drawOutline(painter, {line.back(), line.front()}, true);
}

}  // namespace juvenor::app

#include "moc_lasso_hand.cpp"
