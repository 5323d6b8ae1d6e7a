// How strongly each channel of the active layer works, a slider for each it has; and what a fill is made of.
#pragma once

#include <QWidget>

#include "app/layer_card/shown_layer.h"

class QComboBox;

namespace juvenor::app {

class ChannelGrid;
class ValueSlider;

class Strengths : public QWidget {
  Q_OBJECT
 public:
  explicit Strengths(Session& session);
  void show(const Layer& layer);

 private:
  void change(size_t channel, bool final);
  void changeMode(size_t channel, ChannelMode mode);

  Session& session_;
  ShownLayer layer_;
  std::array<ValueSlider*, kChannelCount> sliders_;
  std::array<QComboBox*, kChannelCount> modes_{};  ///< none for colour, which has blend modes
};

/// The values of a fill layer.
class FillEditor : public QWidget {
  Q_OBJECT
 public:
  explicit FillEditor(Session& session);
  void show(const Layer& layer);

 private:
  void change(bool final);

  Session& session_;
  ShownLayer layer_;
  ChannelGrid* grid_;
  ChannelValues values_;
  std::array<float, kChannelCount> kept_ = firstNumbers();  ///< of channels that are off
};

}  // namespace juvenor::app
