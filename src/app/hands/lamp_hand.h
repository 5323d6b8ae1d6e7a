// A lamp placed by where its highlight is to be: a press on the skin, or a drag over it, puts the lamp where
// it is mirrored there. In hand from when the light page says so until it is done, whatever the tool.
#pragma once

#include "app/hands/easel_hand.h"
#include "app/hands/hand_controls.h"

class QLabel;

namespace juvenor::app {

class LampHand : public QObject, public EaselHand {
  Q_OBJECT
 public:
  explicit LampHand(Session& session);

  /// Takes a lamp in hand; `name`: what it is called.
  void begin(size_t lamp, const QString& name);
  bool active() const { return lamp_.has_value(); }

  bool press(const Viewing& viewing, const Vec2& pixel) override;
  bool dragging() const override { return dragging_; }
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  void release() override { dragging_ = false; }
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  void finish() override;
  void giveUp() override { finish(); }
  HandControls* controls() override { return controls_; }

 signals:
  void placed(const Light& light);
  void done();

 private:
  bool place(const Viewing& viewing, const Vec2& pixel);

  Session& session_;
  HandControls* controls_;
  QLabel* says_;
  std::optional<size_t> lamp_;
  bool dragging_ = false;
};

}  // namespace juvenor::app
