// A pattern worked on by hand: strokes that lay it or thin it out, push its size up or down, soothe its
// relief or give it back, and presses on single scales that tint them, make them lighter or darker, lose or
// restore them.
#pragma once

#include "app/hands/pattern_hand.h"

class QButtonGroup;

namespace juvenor::app {

class ValueSlider;

class TouchHand : public PatternHand {
  Q_OBJECT
 public:
  explicit TouchHand(Session& session);

 private:
  QString says() const override { return tr("Stroke:"); }
  void done(const SkinStroke& path, const std::array<bool, 3>& mirror) override;
  void refreshed() override;
  float step() const override;

  QButtonGroup* ways_;
  ValueSlider* by_;
};

}  // namespace juvenor::app
