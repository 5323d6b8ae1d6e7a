// How a sculpt stands and how large it is: chosen from small pictures, and from units in words.
#pragma once

#include <QDialog>

#include "core/surface/build/placement.h"
#include "core/surface/rays/rays.h"

class QButtonGroup;
class QComboBox;
class QDoubleSpinBox;
class QLabel;

namespace juvenor::app {

class PlacementDialog : public QDialog {
  Q_OBJECT
 public:
  /// `rays` over the surface in the sculpt's own axes.
  PlacementDialog(RaysPointer rays, const Placement& now, const QString& name, QWidget* parent);
  Placement placement() const { return placement_; }

 private:
  QWidget* buildRow(QButtonGroup*& group, const QString& title, const char* name, int count);
  void showPictures();
  void showHeight();
  void chooseUnit(int index);
  float tall() const;

  RaysPointer rays_;
  Placement placement_;
  QButtonGroup *ups_ = nullptr, *fronts_ = nullptr;
  QComboBox* unit_;
  QDoubleSpinBox* height_;
  QLabel* says_;
};

}  // namespace juvenor::app
