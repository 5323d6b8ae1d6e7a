// The sheet as a view of its own: shows the engine's pictures of it, turns pen, mouse and wheel into strokes
// and moves over the layout. A pen here is a pen on the skin beneath; the brush's ring shows here and on the
// easel.
#pragma once

#include <QElapsedTimer>
#include <QPointer>
#include <QTimer>
#include <QWidget>

#include "app/easel/easel.h"

namespace juvenor::app {

class SheetView : public QWidget {
  Q_OBJECT
 public:
  SheetView(Session& session, Easel& easel);

  const SheetViewing& viewing() const { return viewing_; }
  /// Another sheet, or none; `words` are what an empty view says.
  void setSheet(SheetPointer sheet, const QString& words);
  void setTile(int tile);
  /// Said over the picture; empty: nothing.
  void setNote(const QString& note);
  /// A picture of a tile in place of the skin, until the sheet is clicked or Escape is pressed; null: none.
  void setPreview(const QImage& picture, int tile, const QString& said);
  bool previews() const { return !preview_.isNull(); }
  /// Squares over the sheet and the easel.
  void setSquares(bool on);
  void setCamera(const Camera& camera);
  void frameTile();
  /// Whether a hand is at it.
  bool inUse() const { return drag_.kind != Drag::None; }
  const QImage& pictureNow() const { return image_; }

 signals:
  /// What lies under the pen; no value when it is off the layout.
  void probed(const std::optional<Probe>& probe);
  void cardWanted(const QPoint& globalPosition);
  /// A picture was dropped: it is to be laid by the layout.
  void pictureDropped(const QString& file);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void tabletEvent(QTabletEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;
  bool event(QEvent* event) override;

 private:
  enum class Drag { None, Paint, Pick, Hand, Pan };
  struct DragInHand {
    Drag kind = Drag::None;
    Qt::MouseButton button = Qt::NoButton;
    bool pen = false;
    QPointF pressed, last;
    bool moved = false;
  };

  Vec2 pixelAt(const QPointF& position) const;
  PenPoint penAt(const QPointF& position, float pressure) const;
  std::optional<Probe> probeAt(const QPointF& position) const;
  void pressed(Qt::MouseButton button, const PenPoint& point, const QPointF& position, bool pen, bool erasing,
               Qt::KeyboardModifiers modifiers);
  void press(const PenPoint& point, const QPointF& position, bool erasing, Qt::KeyboardModifiers modifiers);
  void dragged(const PenPoint& point, const QPointF& position, Qt::KeyboardModifiers modifiers);
  void released(Qt::MouseButton button, const QPointF& globalPosition);
  void endDrag();
  void pan(const Vec2& pixels);
  void pick(const QPointF& position, bool ownLayer);
  void hover(const QPointF& position);
  void post(bool moving);
  void restOn();
  void drawRing(QPainter& painter) const;
  void drawPreview(QPainter& painter) const;

  Session& session_;
  QPointer<Session>
      alive_;  ///< the same while it is there: a window that goes hides its views after its work is gone
  Easel& easel_;
  SheetViewing viewing_;
  QImage image_;
  QImage preview_;
  int previewTile_ = 1001;
  QString words_, note_, previewSaid_;
  DragInHand drag_;
  std::optional<Probe> probe_;   ///< under the pen here
  std::optional<Probe> beside_;  ///< under the pen on the easel
  QElapsedTimer clock_;
  QTimer resting_;   ///< ticks while a pen is down: a spray goes on where it stands still
  QTimer standing_;  ///< after a wheel's last turn
  PenPoint pen_;
  LastStroke stroke_;
  QPolygonF trail_;  ///< of a hand's drag, in widget pixels
};

}  // namespace juvenor::app
