// The side pane: the parts of the sculpt to choose, show, hide and isolate, and the history one can click.
#pragma once

#include <QWidget>

#include "app/session/session.h"

class QListWidget;
class QListWidgetItem;

namespace juvenor::app {

class PartsPanel : public QWidget {
  Q_OBJECT
 public:
  explicit PartsPanel(Session& session);

 private:
  void refresh();
  void setHidden(std::set<uint32_t> hidden, const QString& name);
  void menu(const QPoint& position);

  Session& session_;
  QListWidget* list_;
  bool refreshing_ = false;
};

class HistoryPanel : public QWidget {
  Q_OBJECT
 public:
  explicit HistoryPanel(Session& session);

 private:
  void refresh();

  Session& session_;
  QListWidget* list_;
};

}  // namespace juvenor::app
