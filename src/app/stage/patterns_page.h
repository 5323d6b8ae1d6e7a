// The Pattern stage: what grows on the form in a click each, as pictures, and what is done with it next.
#pragma once

#include <QWidget>

#include "app/session/session.h"

class QGridLayout;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace juvenor::app {

class PatternsPage : public QWidget {
  Q_OBJECT
 public:
  explicit PatternsPage(Session& session);
  void refresh();

 signals:
  /// The settings of the active layer are to be seen.
  void settingsWanted();

 private:
  void buildKinds(QGridLayout& grid);
  QPushButton* addNext(QVBoxLayout& column, const char* name, const QString& words, const QString& tip);

  Session& session_;
  QLabel *share_, *next_;
  std::vector<QPushButton*> nexts_;  ///< what needs a pattern as the active layer
};

}  // namespace juvenor::app
