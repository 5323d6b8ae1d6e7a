// The parts of the sculpt to choose, show, hide, isolate, take apart, join and rename.
#pragma once

#include <QWidget>

#include "app/session/session.h"

class QListWidget;
class QListWidgetItem;
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
  void menu(int row, const QPoint& position);
  void addTwins(QMenu& menu, uint32_t part);
  void addMaking(QMenu& menu, uint32_t part);
  /// A part of what the active layer's mask shows, or is guarded; to be hidden at once.
  void addByMask(QMenu& menu);
  void makeByMask(uint32_t layer, bool hide);
  void addJoining(QMenu& menu, uint32_t part);
  void rename(QListWidgetItem* item);
  void copyToTwin(uint32_t part, uint32_t twin);

  Session& session_;
  QListWidget* list_;
  bool refreshing_ = false;
};

}  // namespace juvenor::app
