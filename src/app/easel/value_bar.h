// The numbers of the value view, in the line below the easel: how many steps of grey, how hard one squints,
// and how much of the sculpt is how bright.
#pragma once

#include <QWidget>

#include "core/render/value_check.h"

class QSpinBox;

namespace juvenor::app {

class ValueBar : public QWidget {
  Q_OBJECT
 public:
  ValueBar();
  void show(const ValueHistogram& histogram);
  /// Sets the sliders, as a hand would.
  void set(const ValueCheck& check);
  const ValueHistogram& histogram() const { return histogram_; }

 signals:
  void changed(const juvenor::ValueCheck& check);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void tell();

  QSpinBox *steps_, *squint_;
  ValueHistogram histogram_{};
};

}  // namespace juvenor::app
