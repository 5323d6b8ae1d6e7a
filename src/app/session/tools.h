// What the artist holds in hand: the tool, the brush, the colour. One object that all panels show and change.
#pragma once

#include <QObject>

#include "core/brush/brush.h"
#include "core/color/srgb.h"

namespace juvenor::app {

enum class Tool { Airbrush, Blend, Erase, Mask, Fill, Pick };
inline constexpr int kToolCount = 6;

struct ToolFacts {
  const char* icon;
  const char* label;
  const char* key;
  const char* tip;
};
const ToolFacts& factsOf(Tool tool);

class Tools : public QObject {
  Q_OBJECT
 public:
  Tool tool() const { return tool_; }
  const Brush& brush() const { return brush_; }
  const EncodedColor& color() const { return color_; }
  const EncodedColor& previousColor() const { return previous_; }
  float fillStrength() const { return fillStrength_; }

  void setTool(Tool tool);
  void setBrush(const Brush& brush);
  /// The colour before becomes the previous one.
  void setColor(const EncodedColor& color);
  void setFillStrength(float strength);

 signals:
  void changed();

 private:
  Tool tool_ = Tool::Airbrush;
  Brush brush_;
  EncodedColor color_{0.66f, 0.28f, 0.23f}, previous_{0.73f, 0.52f, 0.37f};
  float fillStrength_ = 1;
};

}  // namespace juvenor::app
