// The column of tools: those that stay in every stage, and below a line those of the stage; and the switches
// that belong to every stroke: mirror and all parts.
#pragma once

#include <QElapsedTimer>
#include <QWidget>
#include <map>

#include "app/session/session.h"

class QGridLayout;
class QLabel;
class QToolButton;

namespace juvenor::app {

class Kit : public QWidget {
  Q_OBJECT
 public:
  explicit Kit(Session& session);
  /// As low as it can be: in a low window the stage's tools show their pictures alone, two in a row.
  QSize minimumSizeHint() const override { return {68, 460}; }

 protected:
  void resizeEvent(QResizeEvent* event) override;
  /// A key that was held is let go.
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void arrange();
  void refresh();
  QToolButton* addTool(Tool tool);
  void holdPick();
  void letGo();
  void addSecondKey();
  void holdSecond();
  void letGoOfSecond();

  Session& session_;
  std::map<Tool, QToolButton*> tools_;
  bool holdsSecond_ = false;
  QElapsedTimer held_;      ///< since a key that can be held came down
  EncodedColor heldColor_;  ///< the colour in hand then
  QLabel* stage_;
  QGridLayout* ofStage_;
  std::vector<QToolButton*> mirrors_;
  QToolButton* frontOnly_;
  QToolButton* allParts_;
};

}  // namespace juvenor::app
