// What a layer of spots and labyrinths is set to: a look by its picture, guides, edges and colours.
#pragma once

#include "app/layer_card/pattern_page.h"

class QButtonGroup;

namespace juvenor::app {

class SpotsPage : public PatternPage {
  Q_OBJECT
 public:
  explicit SpotsPage(Session& session);

 private:
  void buildLooks(QVBoxLayout* column);

  QButtonGroup* looks_ = nullptr;
};

}  // namespace juvenor::app
