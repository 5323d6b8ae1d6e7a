// What the channel view shows, in the line below the easel: which channel, in grey or in false colour with
// its scale, of the skin or of the active layer by itself.
#pragma once

#include <QWidget>

#include "core/render/picture.h"

class QAbstractButton;
class QButtonGroup;
class QDoubleSpinBox;

namespace juvenor::app {

class ChannelBar : public QWidget {
  Q_OBJECT
 public:
  ChannelBar();
  const ChannelLook& look() const { return look_; }
  bool own() const;
  /// Sets everything, as a hand would.
  void set(const ChannelLook& look, bool own);
  /// The height either way that is shown (scene units), and what a unit is in millimetres.
  void showHeight(float height, float millimetres);

 signals:
  void changed();

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void tell();
  bool heights() const;

  ChannelLook look_;
  float shownHeight_ = 0, millimetres_ = 1;
  QButtonGroup* channels_;
  QAbstractButton *falseColor_, *own_;
  QDoubleSpinBox* height_;
};

}  // namespace juvenor::app
