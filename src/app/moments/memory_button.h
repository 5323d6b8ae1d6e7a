// How much memory the steps of the work take, and how much they may.
#pragma once

#include <QToolButton>

#include "app/session/session.h"

namespace juvenor::app {

class MemoryButton : public QToolButton {
  Q_OBJECT
 public:
  explicit MemoryButton(Session& session);

 private:
  void refresh();
  void fillMenu();

  Session& session_;
};

}  // namespace juvenor::app
