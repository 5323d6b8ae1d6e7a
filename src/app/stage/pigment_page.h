// The Pigment stage: its first layers in a click each, as pictures, and a check of how much still shows
// through the pass in work.
#pragma once

#include <QTimer>
#include <QWidget>

#include "app/session/seen_layers.h"
#include "app/session/session.h"
#include "core/layers/composite/show_through.h"

class QGridLayout;
class QLabel;
class QPushButton;
class QToolButton;

namespace juvenor::app {

class PigmentPage : public QWidget {
  Q_OBJECT
 public:
  explicit PigmentPage(Session& session);
  void refresh();

 signals:
  /// What to show over the skin: white where all of what lies below shows; null: nothing.
  void overlayWanted(const std::shared_ptr<const juvenor::ScalarField>& field);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  using Edit = std::function<Result<Document>(const Document&)>;
  QToolButton* addFirst(QGridLayout& grid, int place, const QString& name, const QString& tip,
                        const Edit& edit);
  void buildPasses(QGridLayout& grid);
  void buildMarkings(QGridLayout& grid);
  void showTones();
  void check();
  void told(const ShowThrough& told);

  Session& session_;
  QLabel *share_, *number_;
  QPushButton* see_;
  std::array<QToolButton*, 3> passes_{};
  QTimer later_;
  Background work_;
  std::shared_ptr<const ScalarField> field_;
  SeenLayers of_;  ///< what was looked at last
  uint32_t active_ = 0;
};

}  // namespace juvenor::app
