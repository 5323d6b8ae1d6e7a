// The sheet beside the easel with what belongs to it: a strip of tiles along its foot, which UV set is meant,
// squares and density. The sheet is laid out beside the window whenever the points or the UV set are others.
#pragma once

#include <QWidget>

#include "app/session/background.h"
#include "app/sheet/sheet_view.h"
#include "core/textures/layout_density.h"

class QComboBox;
class QListWidget;
class QPushButton;

namespace juvenor::app {

class SheetPanel : public QWidget {
  Q_OBJECT
 public:
  SheetPanel(Session& session, Easel& easel);

  SheetView& view() { return *view_; }
  Background& laying() { return laying_; }
  /// Numbered squares over sheet and easel; the layout is worked out for it even while the panel is closed.
  void setSquares(bool on);
  bool squares() const { return view_->viewing().squares; }
  /// How finely a map of `pixels` a side would hold the points, in false colour over both; 0: not.
  void setDensity(int pixels);
  /// What the density says, in a sentence; empty while it is not shown.
  const QString& densitySaid() const { return said_; }

 signals:
  void pictureDropped(const QString& file);
  /// UVs are wanted where there are none.
  void unwrapWanted();

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  QWidget* buildFoot();
  void refresh();
  void layOut();
  void show(const SheetPointer& sheet);
  void showTiles();
  void showDensity();
  bool wanted() const { return isVisible() || squaresWanted_ || densityPixels_ > 0; }

  Session& session_;
  Easel& easel_;
  SheetView* view_;
  QComboBox* sets_;
  QListWidget* tiles_;
  QPushButton *squares_, *density_, *unwrap_;
  Background laying_, measuring_;
  std::shared_ptr<const Sculpt> laidOf_;  ///< what the sheet is of, or is being laid out of
  std::shared_ptr<const Surface> laidOn_;
  size_t laidSet_ = 0;
  bool squaresWanted_ = false;
  int densityPixels_ = 0;
  QString said_;
};

}  // namespace juvenor::app
