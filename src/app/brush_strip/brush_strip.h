// The strip along the bottom: the brush as a picture and as sliders, what the pressure of the pen drives and
// how, the strength of a fill, and the readings under the pen.
#pragma once

#include <QAbstractButton>
#include <QTimer>
#include <QWidget>

#include "app/brush_roll/brush_pictures.h"
#include "app/controls/value_slider.h"
#include "app/session/session.h"

class QCheckBox;
class QLabel;
class QPushButton;

namespace juvenor::app {

class BrushPage;
class RollPanel;

/// The brush in hand as a stroke of it on skin, with its name; a press opens the roll.
class BrushPreview : public QAbstractButton {
 public:
  BrushPreview(Tools& tools, BrushPictures& pictures);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void redraw();
  QString name() const;

  Tools& tools_;
  BrushPictures& pictures_;
  QTimer wait_;  ///< a slider that is dragged draws once it rests
  RollBrush drawn_;
  QImage picture_;
};

/// Pressure (across) to strength (up), with two handles to drag, or to move by the arrow keys (page up and
/// down change hands).
class CurveEditor : public QWidget {
 public:
  explicit CurveEditor(Tools& tools);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QPointF at(const Vec2& v) const;
  /// Moves the handle in hand to a place, 0…1 both ways.
  void move(const Vec2& to);
  Tools& tools_;
  int held_ = 0;
};

class BrushStrip : public QWidget {
  Q_OBJECT
 public:
  explicit BrushStrip(Session& session);
  void showProbe(const std::optional<Probe>& probe);
  /// Opens the roll with its middle above a place of the screen.
  void openRoll(const QPoint& global);

 private:
  void refresh();
  void openPen();
  void takeUnit();
  void changeBrush(const std::function<void(Brush&)>& change);

  Session& session_;
  BrushPictures pictures_;
  ValueSlider *size_, *opacity_, *flow_, *hardness_, *dots_, *dotSize_, *step_, *spread_, *steady_,
      *strength_;
  QPushButton *pen_, *more_, *fill_;
  RollPanel* roll_ = nullptr;
  BrushPage* page_ = nullptr;
  QLabel *hexLabel_, *labLabel_, *channelsLabel_;
  QWidget* preview_;
  QWidget* spare_;                                        ///< keeps the fill's numbers at the left
  std::pair<const Sculpt*, float> unitOf_{nullptr, 0.f};  ///< what the size is written for
};

}  // namespace juvenor::app
