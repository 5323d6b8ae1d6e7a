// How UVs are to be made: over how many tiles, and how far islands lie apart.
#pragma once

#include <QDialog>

#include "core/textures/unwrap.h"

namespace juvenor::app {

class ValueSlider;

class UnwrapDialog : public QDialog {
  Q_OBJECT
 public:
  UnwrapDialog(const Sculpt& sculpt, QWidget* parent);
  UnwrapSetting setting() const;

 private:
  ValueSlider *tiles_, *padding_;
};

}  // namespace juvenor::app
