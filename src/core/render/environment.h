// Light from all around as a panorama of radiance: what is mirrored in skin, blurred as wide as its
// gloss is dull, and the nine numbers per colour that its irradiance needs (Ramamoorthi and Hanrahan 2001).
#pragma once

#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "core/color/srgb.h"
#include "core/harmonics.h"
#include "core/result.h"
#include "core/view/light_setting.h"

namespace juvenor {

using ColorHarmonics = std::array<Harmonics, 3>;

/// Radiance by direction: rows from straight up to straight down, columns around from −z over +x; y is up.
struct Panorama {
  int width = 0, height = 0;
  std::vector<Vec3> pixels;  ///< linear sRGB, not below 0; row by row

  Vec3 at(const Vec3& direction) const;
  Vec3 directionOf(int x, int y) const;
};

/// Values by direction on a square: the octahedron's faces folded open, so that looking up takes no
/// trigonometry (Praun and Hoppe 2003).
class FoldedSphere {
 public:
  FoldedSphere(int edge, const std::function<Vec3(const Vec3&)>& value);
  Vec3 at(const Vec3& direction) const;

 private:
  int edge_;
  std::vector<Eigen::Array4f, Eigen::aligned_allocator<Eigen::Array4f>> values_;  ///< the fourth is not used
};

/// A small and bright part of a panorama that casts shadows of its own: the sun, or a bare bulb.
struct Sun {
  Vec3 toward;
  Vec3 strength;  ///< linear: what a wall that faces it receives
  float size;     ///< radians across
};
class Environment {
 public:
  /// A bright place behind clouds is no sun: such a sky keeps it, and mirrors it.
  enum class SunIs { TakenOut, Kept };
  explicit Environment(const Panorama& panorama, SunIs sun = SunIs::TakenOut);

  /// The brightest place with what is nearly as bright around it, when that is a small part of the sky and
  /// gives a good part of its light. All else here is without it.
  const std::optional<Sun>& sun() const { return sun_; }
  const ColorHarmonics& harmonics() const { return harmonics_; }
  /// What a lobe of this width (alpha of GGX) around a direction sees, normalised.
  Vec3 blurred(const Vec3& direction, float width) const;

 private:
  std::vector<FoldedSphere> levels_;  ///< seen through wider and wider lobes
  std::optional<Sun> sun_;
  ColorHarmonics harmonics_;
};

/// How many pixels around what is mirrored has at most: a window in an eye is a window.
inline constexpr int kMirrorWidth = 1024;

/// The panorama of a radiance in closed form that may be asked on all cores; half as high as wide.
Panorama panoramaOf(const std::function<Vec3(const Vec3&)>& radiance, int width = 128);

/// Reads `.hdr` and `.exr` (linear) or `.png` and others (sRGB-encoded), made smaller, and scaled so that the
/// mean over the sphere is that of the overcast sky. Refuses what is not about twice as wide as high.
Result<Panorama> readPanorama(const std::filesystem::path& file);

/// The panoramas this program makes itself, of so many pixels around.
struct MadePanorama {
  std::string_view key, label;
  Panorama (*make)(int width);
};
std::span<const MadePanorama> madePanoramas();

/// Turned around the upright axis by degrees, counted as the dial does: 90 brings what was behind to the
/// left.
Vec3 turnedAround(const Vec3& direction, float degrees);
/// Back by an angle of which this is the cosine and the sine: what is asked for every pixel.
inline Vec3 turnedBack(const Vec3& d, const Vec2& turn) {
  return {turn.x() * d.x() - turn.y() * d.z(), d.y(), turn.x() * d.z() + turn.y() * d.x()};
}
/// The nine numbers of a light that was turned so.
Harmonics turnedAround(const Harmonics& light, float degrees);

}  // namespace juvenor
