// Shown on the easel in the value view: how many steps of grey, how hard one squints, and how much of the
// sculpt is how bright.
#pragma once

#include <QWidget>

#include "core/render/value_check.h"

namespace juvenor::app {

class ValueSlider;

class ValueBar : public QWidget {
  Q_OBJECT
 public:
  explicit ValueBar(QWidget* parent);
  void show(const ValueHistogram& histogram);
  /// Sets the sliders, as a hand would.
  void set(const ValueCheck& check);
  const ValueHistogram& histogram() const { return histogram_; }

 signals:
  void changed(const juvenor::ValueCheck& check);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent*) override {}  // clicks beside the sliders are not strokes

 private:
  void tell();

  ValueSlider *steps_, *squint_;
  ValueHistogram histogram_{};
};

}  // namespace juvenor::app
