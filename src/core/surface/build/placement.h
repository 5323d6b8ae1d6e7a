// How a sculpt stands in the scene: what is up, what faces the viewer, how long its unit is. Samples keep
// their order whichever way it stands; only positions and normals turn, exactly, by quarter turns.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include "core/surface/surface.h"

namespace juvenor {

enum class Axis { PlusX, MinusX, PlusY, MinusY, PlusZ, MinusZ };
/// "x", "-x", "y", …
std::string_view axisKey(Axis axis);
std::optional<Axis> axisFromKey(std::string_view key);
Vec3 directionOf(Axis axis);

struct Placement {
  Axis up = Axis::PlusY, front = Axis::PlusZ;  ///< of the sculpt's own axes
  float millimetres = 1;                       ///< of skin in one scene unit

  bool operator==(const Placement&) const = default;
  auto operator<=>(const Placement&) const = default;
};

/// An error when up and front lie along one axis, or the unit has no length.
Outcome checked(const Placement& placement);

/// Turns the sculpt's axes into the scene's: x to the viewer's right, y up, z toward the viewer.
Eigen::Matrix3f turnOf(const Placement& placement);

/// The surface as it stands; the same one when nothing turns.
std::shared_ptr<const Surface> placed(std::shared_ptr<const Surface> surface, const Placement& placement);
/// The other way round: back to the sculpt's own axes.
std::shared_ptr<const Surface> unplaced(std::shared_ptr<const Surface> surface, const Placement& placement);

/// Keys of units one can choose, and their millimetres: mm, cm, m, inch.
std::optional<float> millimetresOf(std::string_view unit);

/// What a sculpt's file format and size tell of its placement.
struct PlacementGuess {
  Placement placement;
  bool standsCertainly = false;  ///< up and front need not be asked for
  bool unitCertain = false;
};
/// `ending` is that of the file, lower case, without the dot. glTF says what it means (Y up, +Z front,
/// metres); STL is in millimetres by common practice; else sizes that suit a figure or a head tell.
PlacementGuess guessedPlacement(const Sculpt& sculpt, std::string_view ending);

}  // namespace juvenor
