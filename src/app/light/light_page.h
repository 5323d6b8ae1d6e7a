// The light, in one small page: which kind, the lamps with their directions dragged on a ball that shows
// their effect, the surroundings, and what goes for all of them.
#pragma once

#include <QWidget>

#include "app/easel/easel.h"

class QButtonGroup;
class QCheckBox;
class QStackedWidget;

namespace juvenor::app {

class ValueSlider;

/// Shows a light on a ball; dragging over it says where the chosen lamp stands: within the ball before the
/// sculpt, beyond its edge behind it.
class LightBall : public QWidget {
  Q_OBJECT
 public:
  LightBall();
  void show(const Light& light, int lamp);

 signals:
  /// Degrees around the upright axis and above the horizon, as the viewer meets it.
  void placed(float around, float up);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override { mousePressEvent(event); }
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QPointF markOf(const Lamp& lamp) const;

  Light light_;
  int lamp_ = 0;
  QImage picture_;
};

class LightPage : public QWidget {
  Q_OBJECT
 public:
  LightPage(Session& session, Easel& easel);

 protected:
  void showEvent(QShowEvent* event) override;
  void paintEvent(QPaintEvent* event) override;

 private:
  QWidget* buildLamps();
  QWidget* buildSurroundings();
  void refresh();
  void change(const std::function<void(Light&)>& change);
  void changeLamp(const std::function<void(Lamp&)>& change);
  void surround(const std::string& surroundings);

  Session& session_;
  Easel& easel_;
  QButtonGroup *kinds_, *lampButtons_, *made_;
  QStackedWidget* pages_;
  QCheckBox* on_;
  LightBall* ball_;
  ValueSlider *strength_, *size_, *kelvin_, *brightness_, *exposure_, *depth_;
  int lamp_ = 0;
};

/// What the light is called in a word or two.
QString nameOf(const Light& light);

}  // namespace juvenor::app
