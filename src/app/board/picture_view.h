// One picture of the board: wheel goes nearer, middle or right drag moves it, and a press picks with the same
// gesture as on the sculpt.
#pragma once

#include <QImage>
#include <QWidget>

#include "app/session/session.h"

namespace juvenor::app {

class PictureView : public QWidget {
  Q_OBJECT
 public:
  PictureView(Session& session, uint32_t picture);
  uint32_t picture() const { return picture_; }
  /// Shows the picture as the document has it now.
  void refresh();
  QSize sizeHint() const override;
  /// How many pixels of the picture a pick averages over, across.
  void setAveraging(int pixels) { averaging_ = pixels; }

 signals:
  void picked(const juvenor::EncodedColor& color);
  void menuWanted(uint32_t picture, const QPoint& globalPosition);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

 private:
  const BoardPicture* now() const;
  QRectF shown() const;  ///< the part of the picture that is seen, in its pixels
  void look(float centerX, float centerY, float nearer);
  void keep();
  void pick(const QPointF& position);

  Session& session_;
  uint32_t picture_;
  int averaging_ = 5;
  QImage small_;  ///< the whole picture at about the widget's size
  PicturePointer drawn_;
  float centerX_ = 0.5f, centerY_ = 0.5f, nearer_ = 1;
  bool moved_ = false;
  QPointF last_;
};

}  // namespace juvenor::app
