// What the hands that work on a pattern have in common: a path over the skin along one part, mirrored as the
// brush is, and a bar at the foot of the easel that says what to do.
#pragma once

#include "app/hands/easel_hand.h"
#include "core/layers/guides.h"

class QFrame;
class QHBoxLayout;
class QLabel;

namespace juvenor::app {

class PatternHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  /// `named`: of its bar.
  PatternHand(Session& session, QWidget* easel, Tool tool, const QString& named);

  void feel(float pressure) override { pressure_ = pressure; }
  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return !path_.places.empty(); }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override;
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  void giveUp() override;
  /// Shows or hides the bar and lays it out.
  void layOut();

 protected:
  QHBoxLayout& row() { return *row_; }
  bool inHand() const { return session_.tools().tool() == tool_ && session_.isOpen(); }
  /// Those of the active layer, or null when it is none of a pattern.
  const Guides* guides() const;
  /// What the bar says.
  virtual QString says() const = 0;
  /// A stroke is over: its path, and which axes mirror it.
  virtual void done(const SkinStroke& path, const std::array<bool, 3>& mirror) = 0;
  /// The path is another.
  virtual void pathChanged() {}
  /// Shown or hidden, or the document is another; the bar is laid out.
  virtual void shown(bool) {}
  /// How far apart the places of a path are, scene units.
  virtual float step() const { return 0.25f * path_.width; }
  virtual bool dashed() const { return false; }

  Session& session_;
  SkinStroke path_;  ///< being drawn; no places: none is

 private:
  Tool tool_;
  QFrame* bar_;
  QHBoxLayout* row_;
  QLabel* says_;
  std::array<bool, 3> mirror_{};
  float pressure_ = 1;
};

/// Places of the scene on the widget.
QPolygonF onEasel(std::span<const Vec3> places, const Viewing& viewing, double scale);

}  // namespace juvenor::app
