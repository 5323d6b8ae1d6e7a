// A picture a dab carries: a shape, perhaps with colours of its own, and with heights and gloss that go with
// it. Kept as a pyramid of halves, so that wherever it lands each sample takes the mean of what it covers.
#pragma once

#include <array>
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "core/color/srgb.h"
#include "core/result.h"
#include "core/vec.h"

namespace juvenor {

/// What a stamp says at one place.
struct StampValue {
  float shape = 0;     ///< 0…1
  EncodedColor color;  ///< when it has colours
  float relief = 1;    ///< −1…1 of the pen's height; 1 where it has no companion
  float gloss = 1;     ///< 0…1 of the pen's gloss; 1 where it has no companion
};

/// One size of the picture: planes of width × height values, row by row from the top; planes that are not
/// there are empty. 65535 is one; relief has its middle at 32768.
struct StampLevel {
  int width = 0, height = 0;
  std::vector<uint16_t> shape, relief, gloss;
  std::array<std::vector<uint16_t>, 3> color;  ///< premultiplied by the shape, sRGB-encoded
};

class Stamp {
 public:
  /// From the full picture; makes the smaller ones.
  Stamp(std::string name, StampLevel full);

  const std::string& name() const { return name_; }
  int width() const { return levels_.front().width; }
  int height() const { return levels_.front().height; }
  bool hasColor() const { return !levels_.front().color[0].empty(); }
  bool hasRelief() const { return !levels_.front().relief.empty(); }
  bool hasGloss() const { return !levels_.front().gloss.empty(); }
  const StampLevel& full() const { return levels_.front(); }
  /// The mean of its shape, 0…1.
  float cover() const { return static_cast<float>(levels_.back().shape.front()) / 65535; }

  /// At a place, its longer side going from −1 to 1, x to the right and y up; nothing outside. `width` is
  /// what the sample is wide in the same measure: what it covers is averaged, between two sizes of the
  /// pyramid (trilinear: Williams 1983).
  StampValue at(const Vec2& place, float width) const;

 private:
  std::string name_;
  std::vector<StampLevel> levels_;
};
using StampPointer = std::shared_ptr<const Stamp>;

inline constexpr int kLargestStamp = 4096;

/// From the bytes of a picture file, as fine as it is. Alpha is the shape where there is any, else a grey
/// picture is its own shape, white laying most, and a coloured one is whole. Colours are the stamp's own
/// unless all are grey. Companions, grey and of the same size, may be empty.
Result<StampPointer> decodeStamp(std::string picture, const std::string& name, std::string relief = {},
                                 std::string gloss = {});
/// From a file; companions of the same size beside it, `name.relief.png` and `name.gloss.png`, are taken
/// along.
Result<StampPointer> readStamp(const std::filesystem::path& path);

/// What decodeStamp reads: PNG files, empty where the stamp has no such companion.
struct StampFiles {
  std::string picture, relief, gloss;
};
Result<StampFiles> encodedStamp(const Stamp& stamp);

}  // namespace juvenor
