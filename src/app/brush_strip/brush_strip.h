// The strip along the bottom: the brush as a picture and as sliders, what the pressure of the pen drives and
// how, the strength of a fill, and the readings under the pen.
#pragma once

#include <QWidget>

#include "app/controls/value_slider.h"
#include "app/session/session.h"

class QCheckBox;
class QLabel;
class QPushButton;

namespace juvenor::app {

/// The falloff of the brush from rim to rim, with one dab of it in the mixer's colour.
class BrushPreview : public QWidget {
 public:
  explicit BrushPreview(Tools& tools);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  Tools& tools_;
};

/// Pressure (across) to strength (up), with two handles to drag.
class CurveEditor : public QWidget {
 public:
  explicit CurveEditor(Tools& tools);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;

 private:
  QPointF at(const Vec2& v) const;
  Tools& tools_;
  int held_ = -1;
};

class BrushStrip : public QWidget {
  Q_OBJECT
 public:
  explicit BrushStrip(Session& session);
  void showProbe(const std::optional<Probe>& probe);

 private:
  void refresh();
  void openPen();
  void takeUnit();
  void changeBrush(const std::function<void(Brush&)>& change);

  Session& session_;
  ValueSlider *size_, *hardness_, *opacity_, *flow_, *steady_, *strength_;
  QPushButton *pen_, *fill_;
  QLabel *hexLabel_, *labLabel_, *channelsLabel_;
  QWidget* preview_;
  QWidget* spare_;                                        ///< keeps the fill's numbers at the left
  std::pair<const Sculpt*, float> unitOf_{nullptr, 0.f};  ///< what the size is written for
};

}  // namespace juvenor::app
