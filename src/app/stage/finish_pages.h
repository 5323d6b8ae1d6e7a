// The Finish stage's three pages: maps that leave the house, stepping back, and showing.
#pragma once

#include <QWidget>

#include "app/show/show_page.h"
#include "app/stage/maps_page.h"

class QButtonGroup;
class QComboBox;
class QLabel;
class QStackedWidget;

namespace juvenor::app {

class FinishPages : public QWidget {
  Q_OBJECT
 public:
  enum class Page { Maps, StepBack, Show };
  FinishPages(Session& session, Easel& easel);
  MapsPage& maps() { return *maps_; }
  ShowPage& showing() { return *show_; }
  void goTo(Page page);
  void refresh();
  /// Where the eye goes first, in words, and parts by how much they draw it for their size; while the strip
  /// is shown.
  void tellEye(const QString& said, const QStringList& ranked);

 signals:
  /// The strip of small pictures is to be seen, or not.
  void stepBackWanted();

 private:
  QWidget* buildStepBack();

  QButtonGroup* tabs_;
  QStackedWidget* pages_;
  MapsPage* maps_;
  ShowPage* show_;
  void tellRank();

  QLabel *eye_, *rank_;
  QComboBox* meant_;
  QStringList ranked_;
};

}  // namespace juvenor::app
