// Films as files, by FFmpeg's libraries: VP9 in WebM or AV1 in Matroska, both open formats.
#pragma once

#include <filesystem>
#include <memory>
#include <span>
#include <vector>

#include "core/result.h"
#include "core/view/camera.h"

namespace juvenor {

class FilmFile {
 public:
  /// Begins a film; the ending of `named` (webm, mkv), under which the file will go, chooses the format.
  /// Sizes are even, and 64 pixels or more. `quality`: 0…1, from small files to films one cannot tell from
  /// their pictures.
  static Result<std::unique_ptr<FilmFile>> begin(const std::filesystem::path& file,
                                                 const std::filesystem::path& named, const ViewSize& size,
                                                 int perSecond, float quality = 0.7f);
  ~FilmFile();
  FilmFile(const FilmFile&) = delete;
  FilmFile& operator=(const FilmFile&) = delete;

  /// The next picture: 0x..RRGGBB, sRGB-encoded, as many pixels as the film's size has.
  Outcome add(std::span<const uint32_t> pixels);
  /// Writes what is left. A film that was not ended cannot be played to its end.
  Outcome end();

 private:
  struct Inside;
  explicit FilmFile(std::unique_ptr<Inside> inside);
  std::unique_ptr<Inside> inside_;
};

/// An error when no film of this ending and size can be written.
Outcome checkedFilmFile(const std::filesystem::path& file, const ViewSize& size);

/// Puts films of one size, speed and codec one after the other in one file; what they hold is not encoded
/// again.
Outcome joinFilms(std::span<const std::filesystem::path> parts, const std::filesystem::path& out);

}  // namespace juvenor
