#include "core/sculpt/formats.h"
#include "core/files.h"
#include "core/sculpt/read_mtl.h"

#include <fmt/format.h>

#include <algorithm>

namespace juvenor {
namespace {

namespace fs = std::filesystem;

using Reader = Result<Sculpt> (*)(std::string_view, const std::string&, const fs::path&, const Progress&);
using Writer = Result<std::string> (*)(const Sculpt&, const VertexFinish&);

struct Format {
  std::string_view ending;
  Reader read;
  Writer write;
  bool text;  ///< begins with text, whatever follows
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

Result<Sculpt> objWithMaterials(std::string_view bytes, const std::string& where, const fs::path& folder,
                                const Progress& progress) {
  auto sculpt = readObj(bytes, where, progress);
  if (sculpt) readMaterialLibraries(*sculpt, folder);
  return sculpt;
}

const Format kFormats[] = {
    {"obj", objWithMaterials, always<writeObj>, true},
    {"ply", plain<readPly>, always<writePly>, true},
    {"glb", readGltf, writeGlb, false},
    {"gltf", readGltf, nullptr, true},
    {"stl", plain<readStl>, nullptr, false},
};

const Format* formatOf(const fs::path& path) {
  const auto found = std::ranges::find(kFormats, endingOf(path), &Format::ending);
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

std::string endingOf(const fs::path& path) {
  std::string ending = path.extension().string();
  if (!ending.empty()) ending.erase(0, 1);
  std::ranges::transform(ending, ending.begin(), [](unsigned char c) { return std::tolower(c); });
  return ending;
}

namespace {

// Text of 16-bit characters: a mark at the start, or every other byte of the first ones zero.
bool isUtf16(std::string_view bytes) {
  if (bytes.starts_with("\xff\xfe") || bytes.starts_with("\xfe\xff")) return true;
  size_t zeros[2] = {};
  const size_t looked = std::min<size_t>(bytes.size(), 256);
  for (size_t i = 0; i < looked; ++i) zeros[i % 2] += bytes[i] == 0;
  return looked >= 8 && (zeros[0] > looked * 2 / 5) != (zeros[1] > looked * 2 / 5);
}

}  // namespace

Result<Sculpt> readSculpt(const fs::path& path, const Progress& progress) {
  const Format* format = formatOf(path);
  if (!format)
    return Error{
        fmt::format("is of no kind this program reads; it reads {}", joined(readableSculptEndings())),
        path.string()};
  auto bytes = readBytes(path);
  if (!bytes) return bytes.error();
  if (bytes->empty()) return Error{"the file is empty", path.string()};
  if (format->text && isUtf16(*bytes))
    return Error{"is UTF-16 text, which its format does not allow; save it as UTF-8", path.string()};
  if (!report(progress, 0.1f)) return cancelledError();
  auto sculpt = caught([&] { return format->read(*bytes, path.string(), path.parent_path(), progress); });
  if (!sculpt && sculpt.error().where.empty() && !isCancelled(sculpt.error()))
    return Error{sculpt.error().what, path.string()};
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
