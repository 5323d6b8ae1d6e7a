// Films picture by picture: of a moving camera, sculpt or light, all of them or a stretch, so that a film can
// be made on several machines and joined.
#pragma once

#include "core/show/film_file.h"
#include "core/show/finishing.h"
#include "core/show/motion.h"

namespace juvenor {

/// StillWish::firstLook of a film's pictures.
inline constexpr int kFilmLook = 4;

struct FilmWish {
  FilmTime time;
  StillWish still;                  ///< its look is where it starts
  std::vector<KeptCamera> cameras;  ///< of a flight; their panoramas are read
  Finishing finishing;
  float quality = 0.7f;      ///< as FilmFile has it
  int first = 0, last = -1;  ///< pictures of it that are made; −1: to its end
};

/// Gets each picture as it comes: its number, and 0xffRRGGBB.
using OnFrame = std::function<void(int frame, std::span<const uint32_t> pixels)>;

/// Makes a film as a file (.webm, .mkv), or as numbered pictures (.png: NAME-0000.png and on). A film takes
/// its place when it is whole; pictures that came before a cancel stay.
Outcome makeFilm(ShownScene& scene, const FilmWish& wish, const std::filesystem::path& out,
                 const OnFrame& onFrame = {}, const Progress& progress = {});

/// An error that says what of it cannot be, before any work is done.
Outcome checkedFilm(const FilmWish& wish, const std::filesystem::path& out);

/// The file of a numbered picture.
std::filesystem::path numberedPicture(const std::filesystem::path& out, int frame);
/// Whether it goes out as numbered pictures.
bool isNumbered(const std::filesystem::path& out);

/// A kept camera's look, with the panorama of its light.
Result<Look> lookOf(const KeptCamera& camera);

}  // namespace juvenor
