// Light on every sample of a surface, worked out in small pieces and where it is looked at first. Rays add to
// what is known of the sky over each sample, light is laid through that knowledge, and both can stop at any
// moment and go on later; who shades meanwhile sees what was there before.
#pragma once

#include <functional>
#include <memory>
#include <span>
#include <vector>

#include "core/render/light_transfer.h"

namespace juvenor {

/// Light on a sample: red, green and blue scattered through skin, and the unscattered value; 16384 is one.
using LitSample = std::array<uint16_t, 4>;
inline constexpr float kLitUnit = 16384.f;

/// Light rays a sample when the picture has come to rest, and those it is shown with first.
inline constexpr int kSettledLightRays = 32;
inline constexpr int kFirstLightRays = 4;

class Lighting {
 public:
  explicit Lighting(std::shared_ptr<const Surface> surface);

  void setLight(const Light& light);
  /// Chunks of samples that are in the picture, ascending; they come first.
  void setSeen(std::vector<uint32_t> chunks) { seen_ = std::move(chunks); }

  using Stop = std::function<bool()>;
  /// Lays the light on what is seen, with the rays there are; false when `stop` said so before it was done.
  bool lightSeen(const Stop& stop = {});
  /// Whether what is seen still waits for the rays it is shown with first.
  bool firstRaysMissing() const;
  /// Goes on by a piece of a few milliseconds, or until `stop` says so.
  struct Advance {
    bool seenChanged = false;  ///< what is seen has come a round further and is worth showing
    bool more = true;          ///< there is something left to do
  };
  Advance advance(const Rays& rays, const Stop& stop);
  /// All of it at once.
  bool settle(const Rays& rays, const Stop& stop = {});

  std::span<const LitSample> samples() const { return lit_; }
  /// Whether the light that is set lies on all that is seen.
  bool seenIsLit() const;
  /// The light that is set on one sample, worked out now.
  LitSample at(size_t sample) const;

 private:
  struct Rest {
    std::vector<uint32_t> chunks;
    int rays = 0;
    bool seen = false;
  };
  Rest rest() const;
  void noteWhole();
  bool lay(std::span<const uint32_t> chunks, const Stop& stop);
  void layChunk(size_t chunk);
  bool stale(size_t chunk) const { return laid_[chunk] != Laid{light_, rays_[chunk]}; }

  std::shared_ptr<const Surface> surface_;
  LightTransfer transfer_;
  std::vector<float> curvature_;
  Zeroed<LitSample> lit_;
  struct Laid {
    uint32_t light = 0;
    int rays = 0;
    bool operator==(const Laid&) const = default;
  };
  std::vector<Laid> laid_;  ///< which light lies on each chunk, through how many rays
  std::vector<int> rays_;   ///< that all samples of a chunk have had
  std::vector<uint32_t> seen_;
  Light now_;
  Harmonics nine_{};
  uint32_t light_ = 1;
  bool whole_ = false;  ///< all samples have had all their rays
};

/// Mean unsigned curvature around each sample in 1 / scene units, from the turning of normals to the
/// neighbours, smoothed twice.
std::vector<float> roughCurvature(const Surface& surface);

}  // namespace juvenor
