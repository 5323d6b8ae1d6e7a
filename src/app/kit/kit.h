// The column of tools, and the two switches that belong to every stroke: mirror and all parts.
#pragma once

#include <QWidget>

#include "app/session/session.h"

class QToolButton;

namespace juvenor::app {

class Kit : public QWidget {
  Q_OBJECT
 public:
  explicit Kit(Session& session);

 private:
  void refresh();

  Session& session_;
  std::vector<QToolButton*> tools_;
  std::vector<QToolButton*> mirrors_;
  QToolButton* frontOnly_;
  QToolButton* allParts_;
};

}  // namespace juvenor::app
