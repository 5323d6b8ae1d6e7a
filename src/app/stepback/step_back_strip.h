// Stepping back: a strip of small pictures along the easel's left edge that follow the work; a press makes
// one large for as long as it is held. They are worked out beside the window, and wait while a hand is at the
// easel.
#pragma once

#include <QTimer>
#include <QWidget>
#include <array>

#include "app/easel/easel.h"

class QLabel;
class QToolButton;
class QVBoxLayout;

namespace juvenor::app {

class StepBackStrip : public QWidget {
  Q_OBJECT
 public:
  enum Tile { Outline, OutlineFlipped, Far, Greys, Flipped, Eye };
  static constexpr int kTiles = 6;

  StepBackStrip(Session& session, Easel& easel);
  /// What a tile shows now; null before it was worked out.
  const QImage& picture(Tile tile) const { return pictures_[static_cast<size_t>(tile)]; }
  /// Whether what is shown is of the picture the easel shows now.
  bool upToDate() const { return !later_.isActive() && !work_.running(); }

 signals:
  /// Where the eye goes first, in words, and the parts that are seen, those first that draw it most for their
  /// size.
  void eyeTold(const QString& said, const QStringList& parts);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  struct Seen;
  void buildTile(Tile tile, const QString& name, const QString& tip, QVBoxLayout& column);
  void look();
  void take(const Seen& seen);
  void hold(Tile tile);

  Session& session_;
  Easel& easel_;
  std::array<QToolButton*, kTiles> buttons_{};
  std::array<QImage, kTiles> pictures_;
  QLabel *first_, *large_;
  QTimer later_;
  Background work_;
};

}  // namespace juvenor::app
