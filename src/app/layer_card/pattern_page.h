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
  /// Size and its least part.
  void addSize(QVBoxLayout* column, const QString& name, const QString& tip, const Range& range);
  /// How it lies, and the comb.
  void addDirection(QVBoxLayout* column);
  /// A bar of colours; `get` gives the stops, `with` a source with others.
  void addRamp(QVBoxLayout* column, const std::function<const RampStops&(const LayerSource&)>& get,
               const std::function<SourcePointer(const LayerSource&, const RampStops&)>& with);
  void addAgain(QVBoxLayout* column, const Change& again);

 private:
  template <class Guide>
  static Setting guideSetting(Guide Guides::*guide, const Member<Guide>& member, const Range& range);
  /// A number of what is followed, by its key.
  template <class Guide>
  void addGuide(QVBoxLayout* column, Guide Guides::*guide, std::string_view key);
  void addCombs(QVBoxLayout* column);
  void addExceptions(QVBoxLayout* column);
};

}  // namespace juvenor::app
