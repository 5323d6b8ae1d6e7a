#include "core/files.h"

#include <fmt/format.h>

#include <cerrno>
#include <cstring>
#include <fstream>
#include <system_error>

namespace juvenor {
namespace fs = std::filesystem;

Result<std::string> readBytes(const fs::path& path) {
  std::error_code ec;
  if (!fs::exists(path, ec)) return Error{"no such file", path.string()};
  if (fs::is_directory(path, ec)) return Error{"is a folder; expected a file", path.string()};
  std::ifstream in(path, std::ios::binary);
  if (!in) return Error{fmt::format("cannot be read ({})", std::strerror(errno)), path.string()};
  const auto size = fs::file_size(path, ec);
  if (ec) return Error{"cannot be read (" + ec.message() + ")", path.string()};
  std::string bytes(size, '\0');
  in.read(bytes.data(), static_cast<std::streamsize>(size));
  if (static_cast<size_t>(in.gcount()) != size)
    return Error{fmt::format("ended after {} of {} bytes", in.gcount(), size), path.string()};
  return bytes;
}

Outcome replacedWhole(const fs::path& path, const std::function<Outcome(const fs::path&)>& write) {
  const fs::path partial = path.string() + ".part";
  std::error_code ec;
  if (fs::is_directory(path, ec)) return Error{"is a folder", path.string()};
  Outcome done = caught([&] { return write(partial); });
  if (done) {
    fs::rename(partial, path, ec);
    if (ec) done = Error{"was not written (" + ec.message() + ")"};
  }
  if (done) return done;
  std::error_code ignored;
  fs::remove(partial, ignored);
  return Error{done.error().what, path.string()};
}

Outcome writeBytes(const fs::path& path, std::string_view bytes) {
  return replacedWhole(path, [&](const fs::path& partial) -> Outcome {
    std::ofstream out(partial, std::ios::binary | std::ios::trunc);
    if (!out) return Error{fmt::format("cannot be written ({})", std::strerror(errno))};
    out.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    out.flush();
    if (out) return Done{};
    return Error{fmt::format("was not written ({}); the old file is as it was", std::strerror(errno))};
  });
}

}  // namespace juvenor
