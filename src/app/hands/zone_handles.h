// The handles of hue zones and landmarks on the easel: where they stand in the picture, how they look, and
// what dragging one does to the document. While one is dragged only what moved is worked out again.
#pragma once

#include "app/hands/easel_hand.h"

namespace juvenor::app {

class ZoneHandles : public EaselHand {
 public:
  explicit ZoneHandles(Session& session) : session_(session) {}

  /// The zones of the active layer, or null when it has none.
  const ZoneSet* zones() const;
  void draw(QPainter& painter, const Viewing& viewing, double scale) const override;
  /// Whether a press at this pixel belongs to a handle, or adds or places something; begins a drag then.
  bool press(const Viewing& viewing, const Vec2& pixel) override;
  void drag(const Viewing& viewing, const Vec2& pixel) override;
  /// Ends the drag as one step of the work.
  void release() override;
  void breakOff() override;
  bool dragging() const override { return held_ >= 0; }

 private:
  struct Handle {
    int zone;
    bool mirrored;
    Vec2 pixel;
    bool hidden;  ///< behind the sculpt
  };
  std::vector<Handle> handles(const Viewing& viewing) const;
  bool behind(const Viewing& viewing, const Vec3& place) const;
  void placeLandmark(const Vec3& place);
  void addZone(const SurfacePoint& place);

  Session& session_;
  int held_ = -1;
  bool heldMirrored_ = false, moved_ = false;
  Document dragged_;
};

}  // namespace juvenor::app
