// What the pen and fills work on: the channels, each on or off with its value. What is off is not touched by
// any ink.
#pragma once

#include <QWidget>

#include "app/session/session.h"

namespace juvenor::app {

class ChannelGrid;

class PenLays : public QWidget {
  Q_OBJECT
 public:
  explicit PenLays(Session& session);

 private:
  void refresh();

  Session& session_;
  ChannelGrid* grid_;
};

}  // namespace juvenor::app
