#include "app/session/tools.h"

#include <array>

namespace juvenor::app {

const ToolFacts& factsOf(Tool tool) {
  static constexpr std::array<ToolFacts, kToolCount> kFacts{{
      {"airbrush", "Airbrush", "A", "Lays the mixer's colour, a little with every dab"},
      {"blend", "Blend", "L", "Softens colours into each other along the skin"},
      {"erase", "Erase", "E", "Takes colour away from the layer; the eraser end of a pen does the same"},
      {"mask", "Mask", "K", "Hides the layer where you paint; the eraser end shows it again"},
      {"fill", "Fill", "F", "Fills the active part, or the whole sculpt, with the mixer's colour"},
      {"pick", "Pick", "P",
       "Takes the colour you see; with Shift the active layer's own. Hold P while another tool is chosen"},
  }};
  return kFacts[static_cast<size_t>(tool)];
}

void Tools::setTool(Tool tool) {
  if (tool_ == tool) return;
  tool_ = tool;
  emit changed();
}

void Tools::setBrush(const Brush& brush) {
  brush_ = brush;
  emit changed();
}

void Tools::setColor(const EncodedColor& color) {
  if (color_ == color) return;
  previous_ = color_;
  color_ = color;
  emit changed();
}

void Tools::setFillStrength(float strength) {
  fillStrength_ = strength;
  emit changed();
}

}  // namespace juvenor::app
