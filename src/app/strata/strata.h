// The layer panel as a cut through skin: three bands whose borders get wavier with depth, a row per layer.
#pragma once

#include <QWidget>

#include "app/session/session.h"
#include "app/strata/strata_rows.h"

class QComboBox;
class QLineEdit;
class QPushButton;
class QScrollArea;
class QToolButton;

namespace juvenor::app {

class Strata : public QWidget {
  Q_OBJECT
 public:
  explicit Strata(Session& session);
  /// How many pixels more it takes to see all rows; below 0: so many are left.
  int roomWanted() const;
  StrataRows& rows() { return *rows_; }

 signals:
  /// A layer was added whose look is made by its settings.
  void settingsWanted();
  /// There are more rows or fewer.
  void listed();

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  QWidget* buildHead();
  void refresh();
  void showActive();
  void menu(uint32_t layer, const QPoint& globalPosition);
  void addCard();
  void addLayer(const SourceKind* kind, Stratum stratum);

  Session& session_;
  StrataRows* rows_;
  QScrollArea* scroll_;
  uint32_t shown_ = 0;  ///< the active layer that was scrolled to last
  QComboBox* blend_;
  QPushButton* add_;
  QToolButton* dense_;
  QLineEdit* find_;
};

}  // namespace juvenor::app
