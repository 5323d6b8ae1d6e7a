// Every step of the work, to go back to: gathered by layer and minutes, with small pictures, and names of the
// artist's own.
#pragma once

#include <QHash>
#include <QWidget>

#include "app/moments/moment_pictures.h"
#include "app/session/session.h"
#include "core/document/step_groups.h"

class QLabel;
class QTreeWidget;
class QTreeWidgetItem;

namespace juvenor::app {

class StepsPanel : public QWidget {
  Q_OBJECT
 public:
  explicit StepsPanel(Session& session);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  /// What a row was made from.
  struct Row {
    StepGroup group;
    uint64_t first = 0, last = 0;  ///< of its steps
    std::string given;
    bool operator==(const Row&) const = default;
  };
  void refresh();
  QWidget* buildLater();
  std::optional<size_t> placeOfStep(uint64_t id) const;
  std::vector<uint32_t> changedLayers();
  QTreeWidgetItem* rowOf(const Row& row);
  void fill(QTreeWidgetItem& item, size_t first, size_t last);
  void mark();
  void rename(QTreeWidgetItem* item);
  void menu(const QPoint& position);
  void showPicture(QTreeWidgetItem& item);
  void wishPicture();

  Session& session_;
  QTreeWidget* list_;
  QWidget* later_;
  QLabel* laterCount_;
  std::vector<Row> rows_;
  QHash<uint64_t, uint32_t> layerOfStep_;
  MomentPictures pictures_;
  bool refreshing_ = false;
};

}  // namespace juvenor::app
