// How many points are to be added, and how they lie: what comes of it is told before one agrees.
#pragma once

#include <QDialog>

#include "core/document/document.h"

class QButtonGroup;
class QLabel;

namespace juvenor::app {

class ValueSlider;

class RefineDialog : public QDialog {
  Q_OBJECT
 public:
  RefineDialog(const Document& document, QWidget* parent);
  Refinement refinement() const { return refinement_; }
  /// Points down to a distance (scene units), flat: for detail that a texture brings.
  void propose(float spacing);

 private:
  void showOutcome();

  std::shared_ptr<const Surface> surface_;
  float millimetres_;
  size_t paintedLayers_;
  Refinement refinement_;
  QButtonGroup *ways_, *shapes_;
  ValueSlider *spacing_, *crease_;
  QLabel* outcome_;
  QPushButton* ok_;
};

}  // namespace juvenor::app
