// What a layer of bands is set to.
#pragma once

#include "app/layer_card/pattern_page.h"

namespace juvenor::app {

class BandsPage : public PatternPage {
  Q_OBJECT
 public:
  explicit BandsPage(Session& session);
};

}  // namespace juvenor::app
