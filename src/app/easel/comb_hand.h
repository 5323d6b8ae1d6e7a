// The comb: strokes say which way a pattern lies, a click pins the way it lies; quiet short lines over the
// skin show the direction. They are worked out beside the window; while a stroke is drawn they follow it as
// soon as they can.
#pragma once

#include <mutex>

#include "app/easel/beside.h"
#include "app/easel/easel_hand.h"
#include "app/easel/hand_bar.h"
#include "core/layers/guides.h"

namespace juvenor::app {

class CombHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  CombHand(Session& session, QWidget* easel);

  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return !path_.places.empty(); }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override;
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  void giveUp() override;
  void layOut();
  /// How many lines are there to be drawn.
  size_t lineCount() const;

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
  struct Wish {
    SurfaceMapsPointer maps;
    DirectionGuide guide;
  };
  void grant(const Wish& wish, const Progress& wanted);
  /// Asks for the lines of the active layer, with the stroke that is being drawn.
  void wish();
  const Guides* guides() const;
  std::shared_ptr<const Lines> lines() const;

  Session& session_;
  QFrame* bar_;
  QPushButton* clears_;
  QLabel* says_;
  Comb path_;  ///< being drawn; no places: none is
  std::array<bool, 3> mirror_{};
  mutable std::mutex mutex_;
  std::shared_ptr<const Lines> lines_;
  Wish wished_;
  Beside<Wish> beside_;  ///< last: its thread ends before what it writes to
};

}  // namespace juvenor::app
