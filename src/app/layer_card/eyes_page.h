// What a layer of eyes is set to: which eye one begins from, the rings of the iris, pupil, white.
#pragma once

#include "app/layer_card/settings_page.h"
#include "core/layers/sources/eyes.h"

class QHBoxLayout;

namespace juvenor::app {

class EyesPage : public SettingsPage {
  Q_OBJECT
 public:
  explicit EyesPage(Session& session);

 private:
  void buildBeginning(QVBoxLayout* column);
  void buildRings(QVBoxLayout* column);
  void buildPupil(QVBoxLayout* column);
  void showRings(const Eyes& eyes);
  size_t ring(const Eyes& eyes) const { return std::min(ring_, eyes.rings.size() - 1); }
  void changeRings(const std::function<void(Eyes&)>& how, const QString& step);

  QHBoxLayout* rings_ = nullptr;
  size_t ring_ = 0;  ///< the one that is set
};

}  // namespace juvenor::app
