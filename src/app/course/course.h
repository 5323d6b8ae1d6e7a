// The bar along the top: the stages of the work as beads on a thread, the views, and the light. It guides, it
// never locks.
#pragma once

#include <QWidget>

#include "app/easel/easel.h"

class QButtonGroup;

namespace juvenor::app {

/// The thread with its beads.
class CourseThread : public QWidget {
  Q_OBJECT
 public:
  CourseThread();
  int stage() const { return stage_; }
  void show(int stage);

 signals:
  void chosen(int stage);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  int stageAt(const QPointF& position) const;
  QPointF bead(int stage) const;
  int stage_ = 0, hover_ = -1;
};

/// A dial that turns the light around the sculpt.
class LightDial : public QWidget {
  Q_OBJECT
 public:
  LightDial();
  void show(float degrees);

 signals:
  void turned(float degrees);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override { mousePressEvent(event); }
  void keyPressEvent(QKeyEvent* event) override;

 private:
  float degrees_ = 40;
};

class Course : public QWidget {
  Q_OBJECT
 public:
  Course(Session& session, Easel& easel);

 private:
  void goTo(int stage);

  Session& session_;
  Easel& easel_;
  QButtonGroup* views_;
};

}  // namespace juvenor::app
