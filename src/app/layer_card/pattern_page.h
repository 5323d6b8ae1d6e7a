// What a layer of scales is set to: its shape by pictures, the guides it follows, and its look.
#pragma once

#include "app/layer_card/settings_page.h"
#include "core/layers/patterns.h"

class QButtonGroup;
class QLabel;

namespace juvenor::app {

class RampBar;

class PatternPage : public SettingsPage {
  Q_OBJECT
 public:
  explicit PatternPage(Session& session);

 private:
  void buildShapes(QVBoxLayout* column);
  void buildGuides(QVBoxLayout* column);
  void buildForm(QVBoxLayout* column);
  void buildColors(QVBoxLayout* column);
  /// `member(scales)` gives the number.
  template <class Member>
  void add(QVBoxLayout* column, const QString& name, const QString& tip, Member member,
           const Range& range = {});

  QButtonGroup* shapes_ = nullptr;
  RampBar* ramp_ = nullptr;
};

}  // namespace juvenor::app
