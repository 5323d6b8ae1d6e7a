// The small bar at the foot of the easel while a stamp is placed or a stencil is held: its picture, its few
// numbers, what ends it.
#pragma once

#include <QFrame>

#include "core/brush/stamp.h"

class QHBoxLayout;
class QPushButton;

namespace juvenor::app {

class HandBar : public QFrame {
  Q_OBJECT
 public:
  explicit HandBar(QWidget* easel);
  QHBoxLayout& row() { return *row_; }
  QPushButton* addButton(const QString& name, const QString& text, const QString& tip);
  /// Shows which picture it is.
  void showPicture(const StampPointer& stamp);
  /// The same of a picture that is no stamp.
  void showName(const QString& name);
  /// Lies at the foot of the easel.
  void layOut();

 signals:
  /// The picture was pressed: another one is wanted.
  void pictureWanted();

 private:
  QHBoxLayout* row_;
  QPushButton* picture_;
};

}  // namespace juvenor::app
