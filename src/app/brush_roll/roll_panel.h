// The brush roll at the pen: every brush as a stroke of it on skin. A press takes one in hand; the artist's
// own can be renamed, moved and taken out.
#pragma once

#include <QFrame>

#include "app/brush_roll/brush_pictures.h"
#include "app/session/session.h"

class QGridLayout;
class QLabel;
class QPushButton;
class QToolButton;

namespace juvenor::app {

class RollPanel : public QFrame {
  Q_OBJECT
 public:
  RollPanel(Session& session, BrushPictures& pictures, QWidget* parent);
  /// Opens with its middle above a place, inside the window.
  void openAt(const QPoint& global);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void fill();
  QToolButton* addButton(const RollBrush& brush, int place);
  void take(const RollBrush& brush);
  void ownMenu(size_t own, QToolButton* button);
  void keepThis();
  void putBack();
  void fromFile();
  void toFile();
  bool store(BrushRoll kept);

  Session& session_;
  BrushPictures& pictures_;
  QGridLayout* grid_;
  QLabel* said_;
  BrushRoll usual_, kept_;
  bool read_ = false, unreadable_ = false;
  QPushButton* back_;
  std::pair<RollBrush, size_t> taken_;  ///< the last that was taken out, and its place
};

}  // namespace juvenor::app
