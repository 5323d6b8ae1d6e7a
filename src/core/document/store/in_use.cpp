#include "core/document/store/in_use.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>

#include <utility>

#include "core/files.h"
#include "core/user_folders.h"

namespace juvenor {
namespace fs = std::filesystem;
namespace {

fs::path markOf(const fs::path& document) {
  std::error_code ec;
  const fs::path whole = fs::weakly_canonical(document, ec);
  return stateFolder() / "open" / fmt::format("{:016x}", std::hash<std::string>{}(whole.string()));
}

}  // namespace

int lockFile(const fs::path& path) {
  const int fd = ::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0600);
  if (fd >= 0 && ::flock(fd, LOCK_EX | LOCK_NB) != 0) {
    ::close(fd);
    return -1;
  }
  return fd;
}

InUse::InUse(const fs::path& document) {
  const fs::path mark = markOf(document);
  std::error_code ec;
  fs::create_directories(mark.parent_path(), ec);
  lock_ = lockFile(mark);
  if (lock_ < 0) return;
  const std::string process = std::to_string(::getpid());
  if (::ftruncate(lock_, 0) != 0 || ::write(lock_, process.data(), process.size()) < 0) return;
}

void InUse::release() {
  if (lock_ >= 0) ::close(lock_);
  lock_ = -1;
}

std::optional<std::string> userOf(const fs::path& document) {
  const fs::path mark = markOf(document);
  std::error_code ec;
  if (!fs::exists(mark, ec)) return std::nullopt;
  const int lock = lockFile(mark);
  if (lock >= 0) {
    ::close(lock);
    return std::nullopt;
  }
  const auto process = readBytes(mark);
  return process && !process->empty() ? *process : std::string("?");
}

}  // namespace juvenor
