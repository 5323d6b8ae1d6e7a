// What a layer of markings is set to: speckle, mottle or veins. Sliders show their change on the easel while
// they move; one page for each kind.
#pragma once

#include "app/layer_card/settings_page.h"
#include "core/layers/sources/markings.h"

class QHBoxLayout;

namespace juvenor::app {

class MarkingPage : public SettingsPage {
  Q_OBJECT
 public:
  MarkingPage(Session& session, const SourceKind& kind);

 private:
  void buildSpeckle(QVBoxLayout* column);
  void buildMottle(QVBoxLayout* column);
  void buildVeins(QVBoxLayout* column);
  void buildTones(QVBoxLayout* column);
  void buildDirections(QVBoxLayout* column);
  template <class Kind>
  void addOwnColor(QVBoxLayout* column);
  void addSeed(QVBoxLayout* column);
  void showTones();

  QHBoxLayout* tones_ = nullptr;
  size_t tone_ = 0;  ///< chosen
};

}  // namespace juvenor::app
