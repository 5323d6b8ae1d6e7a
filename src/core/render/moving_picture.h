// The picture while the eye moves: fewer pixels, and of those every second block is carried over from the
// pictures before. What was seen there moves with its place on the skin into the new view (reprojection, cf.
// Walter, Drettakis, Parker 1999: the render cache) and stays where it lies among the fresh rays around it;
// where nothing does, rays are cast. Nothing is carried farther than through three pictures.
#pragma once

#include "core/render/picture.h"

namespace juvenor {

class MovingPicture {
 public:
  /// What was seen is not as it was: skin, light or what lies over it changed.
  void forget() { size_ = {0, 0}; }

  /// Light is mirrored elsewhere when one turns: so many degrees after its ray a pixel's colour is old.
  static constexpr float kMostTurned = 2;

  /// Sees the next view of a picture of a whole size, `part` × `part` of whose pixels are one here. `lit`:
  /// colours hold no longer than through kMostTurned.
  /// `hair`: what stands before the skin; null: none does.
  void see(const Rays& rays, const Camera& camera, const ViewSize& whole, int part,
           const std::set<uint32_t>& hidden, bool lit = false, const FibreRays* hair = nullptr);
  /// All that is seen, in `partOf(whole, part)` pixels.
  const VisibilityImage& visibility() const { return visibility_; }
  /// Of that what is new and to be shaded; nothing where pixels are carried over.
  const VisibilityImage& fresh() const { return fresh_; }
  size_t raysCast() const { return raysCast_; }
  /// Whether there was a picture before to carry from.
  bool carries() const { return carries_; }

  /// Takes the fresh pixels as they were shaded; gives all.
  std::span<const uint32_t> shaded(std::span<const uint32_t> fresh);

 private:
  // Pixels of a block, whose rays are cast together.
  static constexpr int kWide = 4, kHigh = 2;
  // What a pixel shows, beside visibility.
  struct Seen {
    Vec3 point;
    float depth;   // along the view; of the background infinite
    float turned;  // degrees since its ray was cast
    uint8_t age;   // pictures ago that was
    bool carried;  // its colour stands since then
    bool hair;     // a fibre stands there: it is never carried
  };
  void bring(const Lens& lens);
  // Of the rays around a block: how deep they went, and whether any met nothing.
  struct Around {
    float low = std::numeric_limits<float>::infinity(), high = -std::numeric_limits<float>::infinity();
    bool nothing = false, hair = false;
  };
  Around around(int x0, int y0) const;
  bool takes(size_t at, const Around& around);
  // What rays are cast at.
  struct Scene {
    const Rays& rays;
    const FibreRays* hair;
    const Lens& lens;
    const std::set<uint32_t>& hidden;
  };
  struct Packet;
  size_t castBlock(const Scene& scene, int x0, int y0, bool fresh);
  void castAtHair(const FibreRays& hair, const Packet& packet);
  void castBlocks(const Scene& scene, bool fresh);
  size_t placeOf(int x, int y) const {
    return static_cast<size_t>(y) * static_cast<size_t>(size_.width) + static_cast<size_t>(x);
  }
  void setNothing(size_t at);

  ViewSize size_{0, 0};  ///< of the pictures before; none: there are none
  int part_ = 1;
  float pixel_ = 1;    ///< across at the target, scene units
  Camera camera_;      ///< of the picture before
  float turning_ = 0;  ///< degrees since then
  int turn_ = 0;       ///< which half of the blocks is fresh
  VisibilityImage visibility_, before_, fresh_;
  std::vector<Seen> seen_, seenBefore_;
  std::vector<uint32_t> pixels_, pixelsBefore_;
  std::vector<uint64_t> brought_;  ///< by pixel: the depth and the number of what came there from before
  size_t raysCast_ = 0;
  bool carries_ = false;
};

}  // namespace juvenor
