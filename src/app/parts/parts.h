// The parts of the sculpt to choose, show, hide and isolate.
#pragma once

#include <QWidget>

#include "app/session/session.h"

class QListWidget;
class QMenu;

namespace juvenor::app {

class PartsPanel : public QWidget {
  Q_OBJECT
 public:
  explicit PartsPanel(Session& session);

 signals:
  /// A part is to be written to a file of its own.
  void writeWanted(uint32_t part);

 private:
  void refresh();
  void setHidden(std::set<uint32_t> hidden, const QString& name);
  void menu(const QPoint& position);
  void addTwins(QMenu& menu, uint32_t part);
  void copyToTwin(uint32_t part, uint32_t twin);

  Session& session_;
  QListWidget* list_;
  bool refreshing_ = false;
};

}  // namespace juvenor::app
