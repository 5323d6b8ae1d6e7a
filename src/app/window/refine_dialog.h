// How many points are to be added, and how they lie: what comes of it is told before one agrees.
#pragma once

#include <QDialog>

#include "core/document/document.h"

class QButtonGroup;
class QComboBox;
class QLabel;

namespace juvenor::app {

class ValueSlider;

class RefineDialog : public QDialog {
  Q_OBJECT
 public:
  /// `part`: the active one, kNone for all.
  RefineDialog(const Document& document, uint32_t part, QWidget* parent);
  Refinement refinement() const { return refinement_; }
  /// Points down to a distance (scene units), flat: for detail that a texture or a pattern brings; `there`:
  /// where the mask shows, or on the part, in place of everywhere.
  void propose(float spacing, bool there = false);

 private:
  void addPlaces(uint32_t part);
  void showOutcome();
  void ask();
  void tell(size_t after);

  /// Finds the points around which others are to be added, away from the window's thread.
  using Places = std::function<Result<std::vector<uint32_t>>()>;

  Document document_;
  std::shared_ptr<const Surface> surface_;
  std::vector<Places> places_;  ///< of each choice but the first, which is everywhere
  int asked_ = 0;               ///< tells late answers apart
  float millimetres_;
  size_t paintedLayers_;
  Refinement refinement_;
  QButtonGroup *ways_, *shapes_;
  ValueSlider *spacing_, *crease_;
  QComboBox* where_;
  QLabel* outcome_;
  QPushButton* ok_;
};

}  // namespace juvenor::app
