// The Finish stage's three pages: maps that leave the house, stepping back, and showing.
#pragma once

#include <QWidget>

#include "app/show/show_page.h"
#include "app/stage/maps_page.h"

class QButtonGroup;
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
  /// Where the eye goes first, in words, while the strip is shown.
  void tellEye(const QString& said);

 signals:
  /// The strip of small pictures is to be seen, or not.
  void stepBackWanted();

 private:
  QWidget* buildStepBack();

  QButtonGroup* tabs_;
  QStackedWidget* pages_;
  MapsPage* maps_;
  ShowPage* show_;
  QLabel* eye_;
};

}  // namespace juvenor::app
