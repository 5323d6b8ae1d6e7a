// The checkpoints of the work: kept, compared on the easel, painted back from, brought back.
#pragma once

#include <QWidget>

#include "app/easel/easel.h"
#include "app/moments/moment_pictures.h"

class QLabel;
class QPushButton;
class QTreeWidget;
class QTreeWidgetItem;

namespace juvenor::app {

class CheckpointsPanel : public QWidget {
  Q_OBJECT
 public:
  CheckpointsPanel(Session& session, Easel& easel);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void refreshButtons();
  void menu(const QPoint& position);
  void rename(QTreeWidgetItem* item);
  void wishPictures();
  uint32_t chosen() const;

  Session& session_;
  Easel& easel_;
  QTreeWidget* list_;
  QLabel* empty_;
  QPushButton *compare_, *restore_, *mask_;
  /// What a row says of one; layers are not kept.
  struct Row {
    uint32_t id;
    std::string name;
    int64_t time;
    bool operator==(const Row&) const = default;
  };
  std::vector<Row> shown_;
  MomentPictures pictures_;
  bool refreshing_ = false;
};

}  // namespace juvenor::app
