#include "core/sculpt/formats.h"

#include <fmt/format.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fstream>
#include <system_error>

namespace juvenor {
namespace {

namespace fs = std::filesystem;

using Reader = Result<Sculpt> (*)(std::string_view, const std::string&, const fs::path&, const Progress&);
using Writer = Result<std::string> (*)(const Sculpt&, const VertexFinish&);

struct Format {
  std::string_view ending;
  Reader read;
  Writer write;
};

template <auto Read>
Result<Sculpt> plain(std::string_view bytes, const std::string& where, const fs::path&,
                     const Progress& progress) {
  return Read(bytes, where, progress);
}

template <auto Write>
Result<std::string> always(const Sculpt& sculpt, const VertexFinish& finish) {
  return Write(sculpt, finish);
}

const Format kFormats[] = {
    {"obj", plain<readObj>, always<writeObj>},
    {"ply", plain<readPly>, always<writePly>},
    {"glb", readGltf, writeGlb},
    {"gltf", readGltf, nullptr},
    {"stl", plain<readStl>, nullptr},
};

const Format* formatOf(const fs::path& path) {
  std::string ending = path.extension().string();
  if (!ending.empty()) ending.erase(0, 1);
  std::ranges::transform(ending, ending.begin(), [](unsigned char c) { return std::tolower(c); });
  const auto found = std::ranges::find(kFormats, ending, &Format::ending);
  return found == std::end(kFormats) ? nullptr : &*found;
}

std::vector<std::string> endings(bool (*wanted)(const Format&)) {
  std::vector<std::string> out;
  for (const Format& f : kFormats)
    if (wanted(f)) out.emplace_back(f.ending);
  return out;
}

std::string joined(const std::vector<std::string>& words) {
  return fmt::format("{}", fmt::join(words, ", "));
}

}  // namespace

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

Outcome writeBytes(const fs::path& path, std::string_view bytes) {
  const fs::path partial = path.string() + ".part";
  std::error_code ec;
  {
    std::ofstream out(partial, std::ios::binary | std::ios::trunc);
    if (!out) return Error{fmt::format("cannot be written ({})", std::strerror(errno)), path.string()};
    out.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    out.flush();
    if (!out) {
      const int reason = errno;
      out.close();
      fs::remove(partial, ec);
      return Error{fmt::format("was not written ({}); the old file is as it was", std::strerror(reason)),
                   path.string()};
    }
  }
  fs::rename(partial, path, ec);
  if (ec) {
    const std::string reason = ec.message();
    fs::remove(partial, ec);
    return Error{"was not written (" + reason + ")", path.string()};
  }
  return Done{};
}

Result<Sculpt> readSculpt(const fs::path& path, const Progress& progress) {
  const Format* format = formatOf(path);
  if (!format)
    return Error{
        fmt::format("is of no kind this program reads; it reads {}", joined(readableSculptEndings())),
        path.string()};
  auto bytes = readBytes(path);
  if (!bytes) return bytes.error();
  if (bytes->empty()) return Error{"the file is empty", path.string()};
  if (!report(progress, 0.1f)) return cancelledError();
  auto sculpt = format->read(*bytes, path.string(), path.parent_path(), progress);
  if (sculpt && sculpt->name.empty()) sculpt->name = path.stem().string();
  return sculpt;
}

Outcome writeSculpt(const fs::path& path, const Sculpt& sculpt, const VertexFinish& finish) {
  const Format* format = formatOf(path);
  if (!format || !format->write)
    return Error{
        fmt::format("is of no kind this program writes; it writes {}", joined(writableSculptEndings())),
        path.string()};
  auto bytes = format->write(sculpt, finish);
  if (!bytes) return Error{bytes.error().what, path.string()};
  return writeBytes(path, *bytes);
}

std::vector<std::string> readableSculptEndings() {
  return endings([](const Format&) { return true; });
}

std::vector<std::string> writableSculptEndings() {
  return endings([](const Format& f) { return f.write != nullptr; });
}

}  // namespace juvenor
