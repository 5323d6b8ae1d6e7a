// The bar along the top: the stages of the work as beads on a thread, the views, and the light. It guides, it
// never locks.
#pragma once

#include <QWidget>
#include <optional>
#include <set>

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
  /// A small ring at its bead: its page has something that could be mended.
  void setUnmended(int stage, bool on);

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
  std::optional<int> stageAt(const QPointF& position) const;
  double apart() const;
  QPointF bead(int stage) const;
  int stage_ = 0;
  std::optional<int> hover_;
  std::set<int> unmended_;
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
  CourseThread& thread() { return *thread_; }

 private:
  void goTo(int stage);

  Session& session_;
  Easel& easel_;
  CourseThread* thread_;
  QButtonGroup* views_;
};

}  // namespace juvenor::app
