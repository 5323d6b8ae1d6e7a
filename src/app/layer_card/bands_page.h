// What a layer of bands is set to.
#pragma once

#include "app/layer_card/pattern_page.h"

namespace juvenor::app {

class BandsPage : public PatternPage {
  Q_OBJECT
 public:
  explicit BandsPage(Session& session);

 private:
  void add(QVBoxLayout* column, const QString& name, const QString& tip, float Bands::*member,
           const Range& range = {});
};

}  // namespace juvenor::app
