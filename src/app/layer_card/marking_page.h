// What a layer of markings is set to: speckle, mottle or veins. Sliders show their change on the easel while
// they move; one page for each kind.
#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "app/session/session.h"
#include "core/layers/markings.h"

class QHBoxLayout;
class QVBoxLayout;

namespace juvenor::app {

class ValueSlider;

class MarkingPage : public QWidget {
  Q_OBJECT
 public:
  MarkingPage(Session& session, const SourceKind& kind);
  void show(const Layer& layer);

 private:
  enum class Unit { Percent, Length, Degrees };
  /// One number of the kind; lengths in scene units, low and high as parts of the sculpt's diagonal.
  struct Setting {
    ValueSlider* slider;
    Unit unit;
    double low, high;
    std::function<float(const LayerSource&)> get;
    std::function<SourcePointer(const LayerSource&, float)> with;
  };
  struct Range {
    Unit unit = Unit::Percent;
    double low = 0, high = 1;
  };

  void buildSpeckle(QVBoxLayout* column);
  void buildMottle(QVBoxLayout* column);
  void buildVeins(QVBoxLayout* column);
  void buildTones(QVBoxLayout* column);
  void buildDirections(QVBoxLayout* column);
  template <class Kind>
  void add(QVBoxLayout* column, const QString& name, const QString& tip, float Kind::*member,
           const Range& range = {});
  void addSetting(QVBoxLayout* column, const QString& name, const QString& tip, Setting setting);
  void addColor(QVBoxLayout* column);
  void addSeed(QVBoxLayout* column);
  void showTones();
  SourcePointer source() const;
  void change(const std::function<SourcePointer(const LayerSource&)>& with, const QString& step);

  Session& session_;
  std::vector<Setting> settings_;
  std::vector<std::function<void(const LayerSource&)>> shows_;
  QHBoxLayout* tones_ = nullptr;
  size_t tone_ = 0;  ///< chosen
};

}  // namespace juvenor::app
