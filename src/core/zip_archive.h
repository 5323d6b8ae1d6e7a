// Zip archives in memory, through libzip: what recipes and layered pictures are kept in.
#pragma once

#include <memory>
#include <span>
#include <string>
#include <vector>

#include "core/result.h"

namespace juvenor {

struct ZipEntry {
  std::string name;
  std::string bytes;
  bool stored = false;  ///< as it is: what is packed already, or must be found without unpacking
};

/// In this order; the same entries make the same bytes.
Result<std::string> zipped(std::span<const ZipEntry> entries);

/// Reads from bytes that outlive it. Nothing in them is trusted.
class ZipReader {
 public:
  static Result<ZipReader> open(const std::string& bytes);

  /// Empty when there is none of that name; one larger than `most` bytes is an error.
  Result<std::string> read(const std::string& name, size_t most) const;

 private:
  explicit ZipReader(std::shared_ptr<void> zip) : zip_(std::move(zip)) {}
  std::shared_ptr<void> zip_;
};

}  // namespace juvenor
