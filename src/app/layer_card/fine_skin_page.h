// What a layer of fine skin is set to: guides, lines, pores, folds, gloss and the regions it differs by.
#pragma once

#include "app/layer_card/pattern_page.h"

namespace juvenor::app {

class FineSkinPage : public PatternPage {
  Q_OBJECT
 public:
  explicit FineSkinPage(Session& session);

 private:
  void buildLook(QVBoxLayout* column);
};

}  // namespace juvenor::app
