// The picture while the eye moves: fewer pixels, and of those three blocks in four are carried over from the
// pictures before. What was seen there moves with its place on the skin into the new view (reprojection, cf.
// Walter, Drettakis, Parker 1999: the render cache) and stays where it lies among the fresh rays around it;
// where nothing does, rays are cast. Nothing is carried farther than through four pictures.
#pragma once

#include <optional>

#include "core/render/picture.h"

namespace juvenor {

class MovingPicture {
 public:
  /// What was seen is not as it was: skin, light or what lies over it changed.
  void forget() {
    size_ = {0, 0};
    restsAt_.reset();
  }
  /// A whole picture was made from there: the next ones may start from it until all is forgotten.
  void rest(const Camera& camera) {
    forget();
    restsAt_ = camera;
  }
  bool rests() const { return restsAt_.has_value(); }
  /// Carries over what that picture shows, its pixels 0xAARRGGBB; the surface is what it shows.
  void startFrom(const VisibilityImage& whole, std::span<const uint32_t> pixels, const Surface& surface,
                 int part);

  /// Light is mirrored elsewhere when one turns: so many degrees after it was shaded a pixel's colour is old.
  static constexpr float kMostTurned = 4.5f;

  /// Sees the next view of a picture of a whole size, `part` × `part` of whose pixels are one here. `lit`:
  /// colours hold no longer than through kMostTurned.
  /// `hair`: what stands before the skin; null: none does.
  void see(const Rays& rays, const Camera& camera, const ViewSize& whole, int part,
           const std::set<uint32_t>& hidden, bool lit = false, const FibreRays* hair = nullptr);
  /// All that is seen, in `partOf(whole, part)` pixels.
  const VisibilityImage& visibility() const { return visibility_; }
  /// Of that what is to be shaded, since it is new or its colour is old; nothing elsewhere.
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
    float turned;  // degrees since it was shaded
    uint8_t age;   // pictures since its ray was cast
    bool carried;  // its colour stands
    bool hair;     // a fibre stands there: it is never carried
  };
  void bring(const Lens& lens);
  // The sides of a block that are known when its turn comes; none: it is cast anew.
  struct Sides {
    bool level, upright;
  };
  // Of what a block shows, or several: how deep it is, and whether anywhere there is nothing.
  struct Around {
    float low = std::numeric_limits<float>::infinity(), high = -std::numeric_limits<float>::infinity();
    bool any = false, nothing = false, hair = false;
    void add(const Around& other);
  };
  Around shownBy(int x0, int y0) const;
  Around around(int row, int column, const Sides& sides) const;
  bool takes(size_t at, const Around& around);
  // What rays are cast at.
  struct Scene {
    const Rays& rays;
    const FibreRays* hair;
    const Lens& lens;
    const std::set<uint32_t>& hidden;
  };
  struct Packet;
  size_t castBlock(const Scene& scene, int x0, int y0, const Around* beside);
  void castAtHair(const FibreRays& hair, const Packet& packet);
  void castBlocks(const Scene& scene);
  size_t placeOf(int x, int y) const {
    return static_cast<size_t>(y) * static_cast<size_t>(size_.width) + static_cast<size_t>(x);
  }
  void setNothing(size_t at);

  ViewSize size_{0, 0};  ///< of the pictures before; none: there are none
  int part_ = 1;
  float pixel_ = 1;                ///< across at the target, scene units
  Camera camera_;                  ///< of the picture before
  float turning_ = 0;              ///< degrees since then
  std::optional<Camera> restsAt_;  ///< of the whole picture that is to be started from
  int turn_ = 0;                   ///< which quarter of the blocks is cast
  VisibilityImage visibility_, before_, fresh_;
  std::vector<Seen> seen_, seenBefore_;
  std::vector<uint32_t> pixels_, pixelsBefore_;
  std::vector<Around> blocks_;     ///< what each shows, row by row
  int across_ = 0;                 ///< how many of them lie in a row
  std::vector<uint64_t> brought_;  ///< by pixel: the depth and the number of what came there from before
  size_t raysCast_ = 0;
  bool carries_ = false;
};

}  // namespace juvenor
