// What a filter layer is set to: the way, how far it reaches, and, where it brushes, which way it pulls.
#pragma once

#include "app/layer_card/pattern_page.h"
#include "core/layers/filters/filter.h"

class QButtonGroup;

namespace juvenor::app {

class FilterPage : public PatternPage {
  Q_OBJECT
 public:
  explicit FilterPage(Session& session);

 private:
  void buildWays(QVBoxLayout* column);
  void buildSwap(QVBoxLayout* column);

  QButtonGroup* ways_ = nullptr;
};

}  // namespace juvenor::app
