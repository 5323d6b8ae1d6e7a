// What a layer of scales is set to: its shape by pictures, the guides it follows, its form and its look.
#pragma once

#include "app/layer_card/pattern_page.h"

class QButtonGroup;

namespace juvenor::app {

class ScalesPage : public PatternPage {
  Q_OBJECT
 public:
  explicit ScalesPage(Session& session);

 private:
  void buildShapes(QVBoxLayout* column);
  void buildForm(QVBoxLayout* column);
  void buildColors(QVBoxLayout* column);

  QButtonGroup* shapes_ = nullptr;
};

}  // namespace juvenor::app
