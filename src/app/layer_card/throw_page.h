// What a layer of thrown slides is set to: what of the photos it lays, how far around the form each reaches,
// how they meet, what stands out and what is wet, and which slides they are.
#pragma once

#include "app/layer_card/settings_page.h"
#include "core/layers/sources/thrown.h"

class QButtonGroup;
class QPushButton;

namespace juvenor::app {

class ThrowPage : public SettingsPage {
  Q_OBJECT
 public:
  explicit ThrowPage(Session& session);

 private:
  void buildParts(QVBoxLayout* column);
  void listSlides(const Throw& thrown);

  QButtonGroup* parts_ = nullptr;
  QPushButton* color_ = nullptr;
  QVBoxLayout* slides_ = nullptr;
  std::vector<uint32_t> listed_;
};

}  // namespace juvenor::app
