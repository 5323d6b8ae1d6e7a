// A page of numbers, colours and choices that a layer is set to. Sliders show their change on the easel while
// they move; every change is one step.
#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "app/session/session.h"

class QToolButton;
class QVBoxLayout;

namespace juvenor::app {

class ValueSlider;

class SettingsPage : public QWidget {
  Q_OBJECT
 public:
  /// `named`: before the names of its controls.
  SettingsPage(Session& session, QString named);
  /// Reads everything again from a layer of its kind.
  void show(const Layer& layer);

 protected:
  enum class Unit { Percent, Length, Degrees, Plain };
  struct Range {
    Unit unit = Unit::Percent;
    double low = 0, high = 1;  ///< lengths as parts of the sculpt's diagonal
  };
  /// One number of the kind; lengths in scene units.
  struct Setting {
    Range range;
    std::function<float(const LayerSource&)> get;
    std::function<SourcePointer(const LayerSource&, float)> with;
  };
  using Change = std::function<SourcePointer(const LayerSource&)>;

  void addSetting(QVBoxLayout* column, const QString& name, const QString& tip, Setting setting);
  /// A swatch that takes the mixer's colour.
  void addColor(QVBoxLayout* column, const QString& name,
                const std::function<EncodedColor(const LayerSource&)>& get,
                const std::function<SourcePointer(const LayerSource&, const EncodedColor&)>& with,
                const QString& step);
  /// Called with the layer's source whenever it is shown.
  void whenShown(std::function<void(const LayerSource&)> show) { shows_.push_back(std::move(show)); }
  /// That of the active layer, or null.
  SourcePointer source() const;
  void change(const Change& with, const QString& step);

  Session& session_;

 private:
  struct Slider {
    ValueSlider* slider;
    Setting setting;
  };
  QString named_;
  std::vector<Slider> sliders_;
  std::vector<std::function<void(const LayerSource&)>> shows_;
};

/// Draws a colour into a button, over two greys as much as it covers.
void showSwatch(QToolButton* button, const EncodedColor& color, float alpha, bool chosen);

}  // namespace juvenor::app
