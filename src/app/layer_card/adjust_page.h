// What an adjust layer is set to: sliders, a tint, a tone to match, a curve; the last values again for the
// next part; and the same laid down into paint.
#pragma once

#include "app/layer_card/settings_page.h"
#include "core/layers/filters/adjust.h"

namespace juvenor::app {

/// Brightness in (across) to brightness out (up): drag a point, double click adds one, right click takes one
/// away; page up and down, arrows, Insert and Delete do the same.
class CurveBox : public QWidget {
  Q_OBJECT
 public:
  CurveBox();
  void show(const std::vector<std::array<float, 2>>& points);
  const std::vector<std::array<float, 2>>& points() const { return points_; }

 signals:
  void sliding();
  void changed();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void move(size_t point, const std::array<float, 2>& to);
  QRectF inside() const;
  QPointF at(const std::array<float, 2>& point) const;
  int pointAt(const QPointF& position) const;

  std::vector<std::array<float, 2>> points_{{0, 0}, {1, 1}};
  size_t chosen_ = 0;  ///< by keys
  int held_ = -1;
};

class AdjustPage : public SettingsPage {
  Q_OBJECT
 public:
  explicit AdjustPage(Session& session);

 private:
  QVBoxLayout* addColors(QVBoxLayout* column);
  void buildMatch(QVBoxLayout* column);
  void buildCurve(QVBoxLayout* column);
  void buildEnd(QVBoxLayout* column);
  /// Asks what lies below and has it come to the mixer's tone.
  void match();
  void layDown();

  Adjust last_;  ///< what an adjust layer was set to last
};

}  // namespace juvenor::app
