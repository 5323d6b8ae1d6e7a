// What the hands that work on a pattern have in common: a path over the skin along one part, mirrored as the
// brush is, and controls that say what to do.
#pragma once

#include "app/hands/easel_hand.h"
#include "app/hands/hand_controls.h"
#include "core/layers/guides.h"

class QLabel;

namespace juvenor::app {

class PatternHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  /// `named`: its controls.
  PatternHand(Session& session, Tool tool, const QString& named);

  void feel(float pressure) override { pressure_ = pressure; }
  /// A press, or a drag, by what lies under the pen, wherever it is seen.
  void pressAt(const std::optional<Probe>& probe);
  void dragAt(const std::optional<Probe>& probe);
  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return !path_.places.empty(); }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override;
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  void giveUp() override;
  void breakOff() override { giveUp(); }
  HandControls* controls() override { return controls_; }

 protected:
  bool inHand() const { return session_.tools().tool() == tool_ && session_.isOpen(); }
  /// Those of the active layer, or null when it is none of a pattern.
  const Guides* guides() const;
  /// What the controls say.
  virtual QString says() const = 0;
  /// A stroke is over: its path, and which axes mirror it.
  virtual void done(const SkinStroke& path, const std::array<bool, 3>& mirror) = 0;
  /// The path is another.
  virtual void pathChanged() {}
  /// What is in hand, or the document, is another.
  virtual void refreshed() {}
  /// How far apart the places of a path are, scene units.
  virtual float step() const { return 0.25f * path_.width; }
  virtual bool dashed() const { return false; }

  Session& session_;
  HandControls* controls_;
  SkinStroke path_;  ///< being drawn; no places: none is

 private:
  void refresh();

  Tool tool_;
  QLabel* says_;
  std::array<bool, 3> mirror_{};
  float pressure_ = 1;
};

/// Places of the scene on the widget.
QPolygonF onEasel(std::span<const Vec3> places, const Viewing& viewing, double scale);

}  // namespace juvenor::app
