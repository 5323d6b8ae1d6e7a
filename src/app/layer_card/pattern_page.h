// What every layer of a pattern has: the guides it follows, the comb, a ramp of colours, another throw.
#pragma once

#include "app/layer_card/settings_page.h"
#include "core/layers/sources/patterns.h"

namespace juvenor::app {

class RampBar;

class PatternPage : public SettingsPage {
  Q_OBJECT
 public:
  explicit PatternPage(Session& session);

 protected:
  /// Size, its least part, how it lies, and the comb. `range`: of the size.
  void buildGuides(QVBoxLayout* column, const QString& sizeName, const QString& sizeTip, const Range& range);
  /// How it lies, and the comb.
  void addDirection(QVBoxLayout* column);
  /// A bar of colours; `get` gives the stops, `with` a source with others.
  void addRamp(QVBoxLayout* column, const std::function<const RampStops&(const LayerSource&)>& get,
               const std::function<SourcePointer(const LayerSource&, const RampStops&)>& with);
  void addAgain(QVBoxLayout* column, const Change& again);

 private:
  template <class Member>
  void addGuide(QVBoxLayout* column, const QString& name, const QString& tip, Member member,
                const Range& range = {});
  void addCombs(QVBoxLayout* column);
  void addExceptions(QVBoxLayout* column);
};

}  // namespace juvenor::app
