// The tips this program knows.
#include "core/brush/tip.h"

namespace juvenor {

std::unique_ptr<Tip> makeTip(const Brush& brush) {
  switch (brush.tip) {
    case TipKind::Stamp:
      return brush.stamp.stamp ? makeStampTip(brush.stamp, brush.hardness) : makeFalloffTip();
    case TipKind::Spray:
      return makeSprayTip(brush.spray, brush.spread);
    case TipKind::Falloff:
      break;
  }
  return makeFalloffTip();
}

}  // namespace juvenor
