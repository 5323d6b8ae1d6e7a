// The card that "+ layer" opens: every kind of layer with a picture of what it does to skin, grouped by
// stage. The stratum follows from the kind and can be changed here.
#pragma once

#include <QFrame>

#include "core/layers/source.h"

class QButtonGroup;
class QToolButton;

namespace juvenor::app {

class KindCard : public QFrame {
  Q_OBJECT
 public:
  explicit KindCard(QWidget* parent);
  /// Begins to draw the pictures of all kinds, so that they are there when a card opens.
  static void drawAhead();
  /// Shows itself with its upper right corner here, inside the screen.
  void openAt(const QPoint& globalTopRight);

 signals:
  void chosen(const juvenor::SourceKind* kind, juvenor::Stratum stratum);

 private:
  QToolButton* buttonOf(const SourceKind& kind);

  QButtonGroup* strata_;
};

}  // namespace juvenor::app
