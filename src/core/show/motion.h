// How a film moves: the sculpt goes round as on a turntable, the light goes round it, the camera does, or it
// flies through the cameras that are kept.
#pragma once

#include <span>

#include "core/document/kept_camera.h"
#include "core/surface/surface.h"

namespace juvenor {

enum class Motion { Sculpt, Light, Camera, Flight };
std::string_view motionKey(Motion motion);
std::optional<Motion> motionFromKey(std::string_view key);

struct FilmTime {
  Motion motion = Motion::Sculpt;
  float seconds = 8;
  int perSecond = 30;     ///< kSlowestFilm … kFastestFilm
  bool otherWay = false;  ///< clockwise as seen from above
};
inline constexpr int kSlowestFilm = 24, kFastestFilm = 60;
inline constexpr float kLongestFilm = 600;

/// How many pictures it has, at least two. One that goes round ends a step before where it began, so that it
/// joins itself.
int frameCount(const FilmTime& time);
/// An error that says what of it cannot be; a flight takes two cameras and more.
Outcome checkedTime(const FilmTime& time, size_t cameras);

/// The look of a picture, 0 … frameCount − 1, of a film that starts from `start` (a flight: from its
/// cameras). What goes round goes round the upright line through `middle`.
Look lookAt(const FilmTime& time, const Look& start, std::span<const KeptCamera> cameras, const Vec3& middle,
            int frame);

/// Between two looks, 0…1: along the shorter way round; what cannot be mixed comes from the nearer one.
Look between(const Look& from, const Look& to, float at);

/// Whether its pictures are lit each in its own way.
bool lightMoves(const FilmTime& time);

}  // namespace juvenor
