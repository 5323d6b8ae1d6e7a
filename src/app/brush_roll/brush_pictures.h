// Strokes of brushes as pictures, drawn beside the window one after the other; who asked keeps them.
#pragma once

#include <QImage>
#include <QObject>
#include <QThreadPool>
#include <functional>

#include "core/brush/brush_roll.h"

namespace juvenor::app {

/// Pixels of a brush's picture.
inline constexpr int kBrushWide = 96, kBrushHigh = 44;

class BrushPictures : public QObject {
  Q_OBJECT
 public:
  BrushPictures();
  ~BrushPictures() override;
  /// Calls `then` with the picture, in the window's thread, as long as `owner` lives.
  void draw(const RollBrush& brush, QObject* owner, std::function<void(const QImage&)> then);
  /// Calls `then` once the brushes that ship are there.
  void roll(QObject* owner, std::function<void(const BrushRoll&)> then);

 private:
  void inPool(std::function<void()> work);

  QThreadPool pool_;
};

}  // namespace juvenor::app
