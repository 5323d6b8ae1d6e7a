#include "core/graft/graft_file.h"

#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/files.h"
#include "core/user_folders.h"

namespace juvenor {
namespace fs = std::filesystem;
namespace {

// The planes of a graft in the order of the file, premultiplied where the format has it so.
struct Planes {
  std::vector<std::string> names;
  std::vector<OIIO::TypeDesc> types;
  std::vector<float> values;  ///< interleaved
};

Planes planesOf(const Graft& graft) {
  Planes out;
  std::vector<std::vector<float>> planes;
  const auto add = [&](const char* name, std::vector<float> plane, OIIO::TypeDesc type) {
    out.names.emplace_back(name);
    out.types.push_back(type);
    planes.push_back(std::move(plane));
  };
  const char* names[] = {"R", "G", "B"};
  for (size_t c = 0; c < 3; ++c) {
    if (graft.color[c].empty()) continue;
    std::vector<float> plane = graft.color[c];
    for (size_t i = 0; i < plane.size(); ++i) plane[i] *= graft.alpha[i];
    add(names[c], std::move(plane), OIIO::TypeHalf);
  }
  add("A", graft.alpha, OIIO::TypeHalf);
  if (!graft.gloss.empty()) add("gloss", graft.gloss, OIIO::TypeHalf);
  if (!graft.relief.empty()) add("relief", graft.relief, OIIO::TypeFloat);
  out.values.resize(graft.pixels() * planes.size());
  for (size_t i = 0; i < graft.pixels(); ++i)
    for (size_t k = 0; k < planes.size(); ++k) out.values[i * planes.size() + k] = planes[k][i];
  return out;
}

Outcome put(const Graft& graft, const fs::path& path) {
  const auto out = OIIO::ImageOutput::create("exr");
  if (!out) return Error{"EXR files cannot be written here", path.string()};
  const Planes planes = planesOf(graft);
  OIIO::ImageSpec spec(graft.width, graft.height, static_cast<int>(planes.names.size()), OIIO::TypeFloat);
  spec.channelnames = planes.names;
  spec.channelformats = planes.types;
  spec.alpha_channel = static_cast<int>(std::ranges::find(planes.names, "A") - planes.names.begin());
  spec.attribute("compression", "zip");
  spec.attribute("across", graft.across);
  if (!out->open(path.string(), spec) || !out->write_image(OIIO::TypeFloat, planes.values.data()) ||
      !out->close())
    return Error{"was not written (" + out->geterror() + ")", path.string()};
  return Done{};
}

// A channel's place in a file by one of its names; below 0 when there is none.
int channelIn(const OIIO::ImageSpec& spec, std::initializer_list<const char*> names) {
  for (const char* name : names)
    for (int c = 0; c < spec.nchannels; ++c)
      if (spec.channelnames[static_cast<size_t>(c)] == name) return c;
  return -1;
}

std::vector<float> planeIn(const std::vector<float>& values, int channels, int at, float most) {
  std::vector<float> out;
  if (at < 0) return out;
  out.reserve(values.size() / static_cast<size_t>(channels));
  for (size_t i = static_cast<size_t>(at); i < values.size(); i += static_cast<size_t>(channels))
    out.push_back(std::isfinite(values[i]) ? std::clamp(values[i], -most, most) : 0);
  return out;
}

Result<Graft> graftFrom(const OIIO::ImageSpec& spec, const std::vector<float>& values, const fs::path& path) {
  Graft out;
  out.name = path.stem().string();
  out.width = spec.width;
  out.height = spec.height;
  const float across = spec.get_float_attribute("across", kUsualAcross);
  out.across = std::isfinite(across) ? std::clamp(across, 1e-3f, 1e5f) : kUsualAcross;
  const auto plane = [&](std::initializer_list<const char*> names, float most) {
    return planeIn(values, spec.nchannels, channelIn(spec, names), most);
  };
  out.alpha = plane({"A"}, 1);
  if (out.alpha.empty()) out.alpha.assign(out.pixels(), 1);
  for (float& a : out.alpha) a = std::max(a, 0.f);
  std::array<std::vector<float>, 3> color{plane({"R"}, 1e3f), plane({"G"}, 1e3f), plane({"B"}, 1e3f)};
  if (!color[0].empty() && !color[1].empty() && !color[2].empty()) {
    for (auto& c : color)
      for (size_t i = 0; i < c.size(); ++i)
        c[i] = out.alpha[i] > 0 ? std::clamp(c[i] / out.alpha[i], 0.f, 1.f) : 0;
    out.color = std::move(color);
  }
  out.gloss = plane({"gloss"}, 1);
  for (float& g : out.gloss) g = std::max(g, 0.f);
  out.relief = plane({"relief", "height", "Z", "Y"}, 1e4f);
  if (out.channels().empty())
    return Error{"has none of the channels of a graft: R, G and B, gloss, or relief", path.string()};
  return out;
}

Result<Graft> readNow(const fs::path& path) {
  std::error_code ec;
  if (!fs::exists(path, ec)) return Error{"no such file", path.string()};
  const auto in = OIIO::ImageInput::open(path.string());
  if (!in) return Error{"is no picture (" + OIIO::geterror() + ")", path.string()};
  const OIIO::ImageSpec spec = in->spec();
  if (spec.width < 1 || spec.height < 1 || std::max(spec.width, spec.height) > kLargestStamp ||
      spec.depth > 1)
    return Error{
        fmt::format("is {} × {} pixels; a graft has {} at most", spec.width, spec.height, kLargestStamp),
        path.string()};
  constexpr int kMostChannels = 64;
  if (spec.nchannels > kMostChannels) return Error{"has too many channels for a graft", path.string()};
  std::vector<float> values(static_cast<size_t>(spec.width) * static_cast<size_t>(spec.height) *
                            static_cast<size_t>(spec.nchannels));
  if (!in->read_image(0, 0, 0, spec.nchannels, OIIO::TypeFloat, values.data()))
    return Error{"is damaged (" + in->geterror() + ")", path.string()};
  return graftFrom(spec, values, path);
}

}  // namespace

Outcome writeGraft(const Graft& graft, const fs::path& path) {
  std::error_code ec;
  if (path.has_parent_path()) fs::create_directories(path.parent_path(), ec);
  return replacedWhole(path, [&](const fs::path& partial) { return put(graft, partial); });
}

Result<Graft> readGraft(const fs::path& path) {
  return caught([&] { return readNow(path); });
}

fs::path graftFolder() {
  return dataFolder() / "grafts";
}

}  // namespace juvenor
