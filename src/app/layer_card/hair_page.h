// What a layer of hair is set to.
#pragma once

#include "app/layer_card/pattern_page.h"

namespace juvenor::app {

class HairPage : public PatternPage {
  Q_OBJECT
 public:
  explicit HairPage(Session& session);

 private:
  void buildBeginning(QVBoxLayout* column);
  void buildLock(QVBoxLayout* column);
  void buildEdges(QVBoxLayout* column);
};

}  // namespace juvenor::app
