// The ramp of a layer as a bar with its stops: drag a stop, double click the bar to add one in the mixer's
// colour, right click a stop to colour it, make it clear or take it away. By keys: page up and down go from
// stop to stop, left and right move one, Return colours it, Insert adds one, Delete takes it away. Below it
// the channels the ramp brings and the values of the stop that was touched last.
#pragma once

#include <QWidget>

#include "app/session/session.h"
#include "core/layers/sources/ramp.h"

namespace juvenor::app {

class RampBar : public QWidget {
  Q_OBJECT
 public:
  RampBar();
  void show(const RampStops& ramp);
  const RampStops& ramp() const { return ramp_; }
  /// The stop that was touched last.
  RampStop& chosen() { return ramp_[chosen_]; }
  /// The mixer's colour, for new stops and for colouring one.
  void setColor(const EncodedColor& color) { color_ = color; }

 signals:
  void chose();
  void sliding();
  void changed();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void move(size_t stop, float at);
  void add(float at);
  void remove(size_t stop);
  QString words() const;
  int stopAt(const QPointF& position) const;
  double xOf(const RampStop& stop) const;

  RampStops ramp_;
  EncodedColor color_;
  int held_ = -1;
  size_t chosen_ = 0;
};

class ChannelGrid;

class RampPage : public QWidget {
  Q_OBJECT
 public:
  explicit RampPage(Session& session);
  void show(const RampContent& content);
  const RampStops& stops() const { return bar_->ramp(); }
  ChannelSet channels() const { return channels_; }

 signals:
  void sliding();
  void changed();

 private:
  void refresh();

  Session& session_;
  RampBar* bar_;
  ChannelGrid* grid_;
  ChannelSet channels_ = Channel::Color;
};

}  // namespace juvenor::app
