// The head of a PLY file: which elements follow with which properties, what these mean to us, and how a
// number of theirs is read.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/result.h"

namespace juvenor {

enum class PlyType { Int8, Uint8, Int16, Uint16, Int32, Uint32, Float, Double };

/// Bytes of a number.
size_t sizeOf(PlyType type);

/// What a property means to us; Other is read over.
enum class PlyRole {
  Other,
  X,
  Y,
  Z,
  NormalX,
  NormalY,
  NormalZ,
  Red,
  Green,
  Blue,
  U,
  V,
  Indices,
  Texcoords,
  Part
};

struct PlyProperty {
  std::string name;
  PlyType type = PlyType::Float;
  std::optional<PlyType> count;  ///< for lists
  PlyRole role = PlyRole::Other;
};

struct PlyElement {
  std::string name;
  uint64_t count = 0;  ///< a claim of the file
  std::vector<PlyProperty> properties;
};

struct PlyHeader {
  bool text = false;
  bool swap = false;  ///< binary in the order this machine does not have
  std::vector<PlyElement> elements;
  std::vector<std::pair<uint32_t, std::string>> partNames;
};

/// Reads the head; `at` goes to the byte behind what was read, where it fails to the line at fault.
Result<PlyHeader> readPlyHeader(std::string_view bytes, size_t& at);

/// The number of this type at `from`.
double plyValue(PlyType type, const char* from, bool swap = false);

/// From a colour's number to 0…1.
float plyColorUnit(PlyType type);

}  // namespace juvenor
