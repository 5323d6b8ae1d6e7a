// A line across the easel with the work as it was at a checkpoint on its left, and as it is on its right. It
// is dragged by its grip; what it compares with is worked out beside the painting.
#pragma once

#include <QPainter>

#include "app/session/seen_layers.h"
#include "app/session/session.h"

namespace juvenor::app {

class SplitLine : public QObject {
  Q_OBJECT
 public:
  explicit SplitLine(Session& session);

  /// Compares with a checkpoint; 0 ends comparing.
  void compare(uint32_t checkpoint);
  /// Which one; 0: none.
  uint32_t checkpoint() const { return checkpoint_; }
  /// All of the easel as it was, or split again.
  void flip(bool whole);
  bool flipped() const { return flipped_; }

  /// What the engine is to show, on a picture so wide.
  void tell(Viewing& viewing) const;
  /// Positions are the easel's own.
  bool press(const QPointF& position, const QSize& easel);
  void drag(const QPointF& position, const QSize& easel);
  void draw(QPainter& painter, const QSize& easel) const;

 signals:
  /// Another line, or another skin.
  void changed();

 private:
  double x(const QSize& easel) const;
  bool shown() const { return compared_ != nullptr; }
  void workOut();

  Session& session_;
  Background work_;
  uint32_t checkpoint_ = 0;
  QString name_;
  SeenLayers of_;  ///< the layers `compared_` was made from
  std::shared_ptr<const ComparedSkin> compared_;
  double at_ = 0.5;  ///< of the easel's width
  bool flipped_ = false;
};

}  // namespace juvenor::app
