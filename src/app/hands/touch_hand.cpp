#include "app/hands/touch_hand.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>

#include "app/controls/value_slider.h"
#include "core/layers/sources/patterns.h"

namespace juvenor::app {
namespace {

// What one stroke does; the last of them only to scales.
enum Way { Lay, Thin, Larger, Smaller, Soothe, Rouse, Tint, Lighter, Darker, Lose, Restore, kWayCount };

// Of Oklab's lightness: a whole press.
constexpr float kWholeLift = 0.25f;

std::optional<CellTouch::Kind> touchOf(int way) {
  switch (way) {
    case Tint:
      return CellTouch::Kind::Tint;
    case Lighter:
    case Darker:
      return CellTouch::Kind::Lift;
    case Lose:
      return CellTouch::Kind::Lose;
    case Restore:
      return CellTouch::Kind::Restore;
    default:
      return std::nullopt;
  }
}

}  // namespace

TouchHand::TouchHand(Session& session)
    : PatternHand(session, Tool::Touch, "touch bar"), ways_(new QButtonGroup(this)) {
  const std::array<std::pair<QString, QString>, kWayCount> ways{
      {{tr("Lay"), tr("Lays the pattern where there is none: where it was thinned out or masked")},
       {tr("Thin"), tr("Lets the pattern die out under the stroke")},
       {tr("Larger"), tr("Pushes the size of the pattern up under the stroke")},
       {tr("Smaller"), tr("Pushes the size of the pattern down under the stroke")},
       {tr("Soothe"), tr("Makes its relief weaker under the stroke")},
       {tr("Rouse"), tr("Gives relief back that was soothed")},
       {tr("Tint"), tr("Single scales: toward the mixer's colour")},
       {tr("Lighter"), tr("Single scales: lighter")},
       {tr("Darker"), tr("Single scales: darker")},
       {tr("Lose"), tr("Single scales: gone; what lies below shows")},
       {tr("Restore"), tr("Single scales: as they grew")}}};
  for (int i = 0; i < kWayCount; ++i) {
    const auto& [name, tip] = ways[static_cast<size_t>(i)];
    if (i == Tint) controls_->row().addSpacing(8);
    QPushButton* b = controls_->addSwitch("touch " + name, name, tip);
    b->setStyleSheet("padding: 2px 4px; font-size: 11px;");
    ways_->addButton(b, i);
  }
  ways_->button(Larger)->setChecked(true);
  by_ = new ValueSlider(tr("By"), {0.05, 1, 100, "%", false, 0});
  by_->setObjectName("touch by");
  by_->setToolTip(tr("How much one stroke does"));
  by_->setFixedWidth(84);
  by_->show(0.5);
  controls_->row().addSpacing(8);
  controls_->row().addWidget(by_);
}

void TouchHand::refreshed() {
  const LayerPointer layer =
      session_.isOpen() ? layerOf(session_.document(), session_.document().activeLayer) : nullptr;
  const bool scales = layer && scalesOf(*layer->source);
  for (int i = 0; i < kWayCount; ++i) ways_->button(i)->setEnabled(guides() && (scales || !touchOf(i)));
  if (!scales && touchOf(ways_->checkedId())) ways_->button(Larger)->setChecked(true);
}

// From scale to scale where single ones are touched.
float TouchHand::step() const {
  const Guides* now = guides();
  return touchOf(ways_->checkedId()) && now ? now->size.size : PatternHand::step();
}

void TouchHand::done(const SkinStroke& path, const std::array<bool, 3>& mirror) {
  const uint32_t id = session_.document().activeLayer;
  const int way = ways_->checkedId();
  const auto by = static_cast<float>(by_->value());
  const QString name = ways_->button(way)->text();
  session_.settleStrokes();
  if (const auto kind = touchOf(way)) {
    const float amount = way == Lighter ? kWholeLift * by : way == Darker ? -kWholeLift * by : by;
    std::vector<CellTouch> touches;
    for (const Vec3& place : path.places)
      touches.push_back({*kind, place, path.part, session_.tools().color(), amount});
    session_.apply(withCellsTouched(session_.document(), id, touches, mirror), tr("%1 scales").arg(name));
    return;
  }
  SkinStroke stroke = path;
  stroke.strength = way == Lay || way == Larger || way == Soothe ? by : -by;
  if (way == Lay || way == Thin)  // what is under a wide stroke takes a while to find
    session_.edit(tr("%1 pattern").arg(name),
                  [=](const Document& d, const Progress&) { return withPatternLaid(d, id, stroke, mirror); });
  else
    session_.apply(way == Larger || way == Smaller ? withSizePushed(session_.document(), id, stroke, mirror)
                                                   : withSoothed(session_.document(), id, stroke, mirror),
                   tr("%1 pattern").arg(name));
}

}  // namespace juvenor::app

#include "moc_touch_hand.cpp"
