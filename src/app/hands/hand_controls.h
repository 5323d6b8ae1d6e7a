// What a hand shows in the bar at the foot of the easel while its tool is in hand: its picture where it has
// one, its few numbers, what ends it. The easel's bar shows one hand's at a time.
#pragma once

#include <QFrame>

#include "core/brush/stamp.h"

class QHBoxLayout;
class QPushButton;

namespace juvenor::app {

class HandControls : public QFrame {
  Q_OBJECT
 public:
  /// `spacing`: pixels between them.
  explicit HandControls(const QString& name, int spacing = 8);
  QHBoxLayout& row() { return *row_; }
  QPushButton* addButton(const QString& name, const QString& text, const QString& tip);
  /// The same, one that stays down.
  QPushButton* addSwitch(const QString& name, const QString& text, const QString& tip);
  /// A button that shows a picture and asks for another.
  void addPicture();
  /// Shows which picture it is.
  void showPicture(const StampPointer& stamp);
  /// The same of a picture that is no stamp.
  void showName(const QString& name);

 signals:
  /// The picture was pressed: another one is wanted.
  void pictureWanted();

 private:
  QHBoxLayout* row_;
  QPushButton* picture_ = nullptr;
};

}  // namespace juvenor::app
