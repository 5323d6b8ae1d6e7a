// The comb: strokes say which way a pattern lies, a click pins the way it lies; quiet short lines over the
// skin show the direction. They are worked out beside the window; until that is done those under a stroke
// turn its way.
#pragma once

#include <mutex>

#include "app/engine/beside.h"
#include "app/hands/pattern_hand.h"

class QPushButton;

namespace juvenor::app {

class CombHand : public PatternHand {
  Q_OBJECT
 public:
  explicit CombHand(Session& session);

  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  /// How many lines are there to be drawn.
  size_t lineCount() const;
  /// Which way the one next to a place runs; zero where there are none.
  Vec3 lineNear(const Vec3& place) const;

 signals:
  /// The lines are others.
  void changed();

 private:
  struct Line {
    Vec3 place, normal, direction;
  };
  struct Lines {
    std::vector<Line> all;
    float length = 0;  ///< of each, scene units
  };
  /// Those that are seen, as they lie on the easel: asked of the rays once for a look.
  struct SeenLines {
    std::shared_ptr<const Lines> of;
    Camera camera;
    ViewSize size;
    double scale = 0;
    std::vector<QLineF> strokes;
    std::vector<QPointF> heads;
  };
  struct Wish {
    SurfaceMapsPointer maps;
    DirectionGuide guide;
  };
  QString says() const override { return tr("Stroke the way it is to lie; a click pins it"); }
  void done(const SkinStroke& path, const std::array<bool, 3>& mirror) override;
  void pathChanged() override;
  void refreshed() override;
  bool dashed() const override;
  void grant(const Wish& wish, const Progress& wanted);
  /// Asks for the lines of the active layer, with the stroke that is being drawn.
  void wish();
  std::shared_ptr<const Lines> lines() const;
  void setLines(std::shared_ptr<const Lines> lines);
  void bendLines();
  void drawLines(QPainter& painter, const std::shared_ptr<const Lines>& shown, const Viewing& viewing,
                 double scale) const;
  SeenLines seenOf(const std::shared_ptr<const Lines>& lines, const Viewing& viewing, double scale) const;

  /// Whether a stroke is an edge that hair of the active layer stands along.
  bool drawsEdges() const;

  QPushButton *clears_, *edges_;
  mutable std::mutex mutex_;
  std::shared_ptr<const Lines> lines_;
  // what was wished last: known again, not kept
  std::weak_ptr<SurfaceMaps> wishedMaps_;
  DirectionGuide wishedGuide_;
  mutable SeenLines seen_;
  Beside<Wish> beside_;  ///< last: its thread ends before what it writes to
};

}  // namespace juvenor::app
