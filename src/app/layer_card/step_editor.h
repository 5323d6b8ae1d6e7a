// What is done to a layer's mask and stays live, step by step: each has a row, can be moved up and down, and
// the chosen one shows its settings.
#pragma once

#include <QWidget>

#include "app/layer_card/shown_layer.h"

class QMenu;
class QPushButton;
class QVBoxLayout;

namespace juvenor::app {

class ValueSlider;

class StepEditor : public QWidget {
  Q_OBJECT
 public:
  explicit StepEditor(Session& session);
  void show(const Layer& layer);

 private:
  void buildSettings(QVBoxLayout* column);
  void buildAdding(QMenu& menu);
  void refresh();
  QWidget* rowOf(size_t step);
  void add(std::initializer_list<MaskStep> steps);
  void move(size_t step, int by);
  void takeAway(size_t step);
  MaskStep* chosen() { return chosen_ < steps_.size() ? &steps_[chosen_] : nullptr; }
  void keep(const QString& what);
  ShownLayer::Edit edit() const;

  Session& session_;
  ShownLayer layer_;
  MaskSteps steps_;
  size_t chosen_ = 0;
  QVBoxLayout* rows_;
  QWidget* settings_;
  ValueSlider *size_, *amount_;
  QPushButton* again_;
};

}  // namespace juvenor::app
