// A mark that a document is open, so that a second program can say so: an advisory lock (flock) on a small
// file in the user's state folder. It goes with the process, however that ends. It keeps nobody from writing;
// that no save is lost is the store's business.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <utility>

namespace juvenor {

class InUse {
 public:
  InUse() = default;
  /// Marks a document; holds nothing when another process has marked it, or the folder cannot be written.
  explicit InUse(const std::filesystem::path& document);
  ~InUse() { release(); }
  InUse(InUse&& other) noexcept : lock_(std::exchange(other.lock_, -1)) {}
  InUse& operator=(InUse&& other) noexcept {
    if (this != &other) {
      release();
      lock_ = std::exchange(other.lock_, -1);
    }
    return *this;
  }
  bool held() const { return lock_ >= 0; }

 private:
  void release();

  int lock_ = -1;
};

/// The process another program has the document open in, or nothing.
std::optional<std::string> userOf(const std::filesystem::path& document);

/// An exclusive lock on a file, made if need be: a descriptor to close, or −1 when somebody else has it.
int lockFile(const std::filesystem::path& path);

}  // namespace juvenor
