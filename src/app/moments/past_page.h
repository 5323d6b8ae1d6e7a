// What was: checkpoints above, the steps of the work below.
#pragma once

#include <QWidget>

#include "app/easel/easel.h"

namespace juvenor::app {

class PastPage : public QWidget {
  Q_OBJECT
 public:
  PastPage(Session& session, Easel& easel);
};

}  // namespace juvenor::app
