#include "core/brush/stamp.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/files.h"
#include "core/photo/picture_data.h"
#include "core/photo/picture_file.h"

namespace juvenor {
namespace {

using Plane = std::vector<uint16_t>;

size_t areaOf(const StampLevel& level) {
  return static_cast<size_t>(level.width) * static_cast<size_t>(level.height);
}

// Every plane of a level in a fixed order, those that are not there too.
template <class Level, class Visit>
void eachPlane(Level& level, Visit visit) {
  visit(level.shape);
  visit(level.relief);
  visit(level.gloss);
  for (auto& plane : level.color) visit(plane);
}

Plane halved(const Plane& plane, int width, int height, int halfWidth, int halfHeight) {
  Plane out(static_cast<size_t>(halfWidth) * static_cast<size_t>(halfHeight));
  for (int y = 0; y < halfHeight; ++y)
    for (int x = 0; x < halfWidth; ++x) {
      // an odd row or column is shared out by its part
      const int x0 = x * width / halfWidth, x1 = std::max(x0 + 1, (x + 1) * width / halfWidth);
      const int y0 = y * height / halfHeight, y1 = std::max(y0 + 1, (y + 1) * height / halfHeight);
      uint64_t sum = 0;
      for (int v = y0; v < y1; ++v)
        for (int u = x0; u < x1; ++u) sum += plane[static_cast<size_t>(v * width + u)];
      const auto count = static_cast<uint64_t>((x1 - x0) * (y1 - y0));
      out[static_cast<size_t>(y * halfWidth + x)] = static_cast<uint16_t>((sum + count / 2) / count);
    }
  return out;
}

StampLevel halved(const StampLevel& level) {
  StampLevel out;
  out.width = std::max(1, level.width / 2);
  out.height = std::max(1, level.height / 2);
  std::vector<Plane> planes;
  eachPlane(level, [&](const Plane& plane) {
    planes.push_back(plane.empty() ? Plane()
                                   : halved(plane, level.width, level.height, out.width, out.height));
  });
  size_t next = 0;
  eachPlane(out, [&](Plane& plane) { plane = std::move(planes[next++]); });
  return out;
}

// Four pixels around a place and their shares.
struct Corners {
  std::array<size_t, 4> at;
  std::array<float, 4> share;
};

Corners cornersAt(const StampLevel& level, const Vec2& part) {
  const float x = part.x() * static_cast<float>(level.width) - 0.5f,
              y = part.y() * static_cast<float>(level.height) - 0.5f;
  const float fx = x - std::floor(x), fy = y - std::floor(y);
  const auto column = [&](float v) {
    return static_cast<size_t>(std::clamp(static_cast<int>(std::floor(v)), 0, level.width - 1));
  };
  const auto row = [&](float v) {
    return static_cast<size_t>(std::clamp(static_cast<int>(std::floor(v)), 0, level.height - 1)) *
           static_cast<size_t>(level.width);
  };
  return {{row(y) + column(x), row(y) + column(x + 1), row(y + 1) + column(x), row(y + 1) + column(x + 1)},
          {(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy}};
}

float valueAt(const Plane& plane, const Corners& corners) {
  float sum = 0;
  for (size_t i = 0; i < 4; ++i) sum += corners.share[i] * static_cast<float>(plane[corners.at[i]]);
  return sum / 65535;
}

}  // namespace

Stamp::Stamp(std::string name, StampLevel full) : name_(std::move(name)) {
  levels_.push_back(std::move(full));
  while (levels_.back().width > 1 || levels_.back().height > 1) levels_.push_back(halved(levels_.back()));
}

StampValue Stamp::at(const Vec2& place, float width) const {
  const auto w = static_cast<float>(this->width()), h = static_cast<float>(height()), side = std::max(w, h);
  const Vec2 part(0.5f + 0.5f * place.x() * side / w, 0.5f - 0.5f * place.y() * side / h);
  StampValue out;
  if (part.x() < 0 || part.x() > 1 || part.y() < 0 || part.y() > 1) return out;
  const auto top = static_cast<float>(levels_.size() - 1);
  const float level = std::clamp(std::log2(std::max(1.f, 0.5f * width * side)), 0.f, top);
  const auto lower = static_cast<size_t>(level);
  const float mix = level - static_cast<float>(lower);
  EncodedColor color{0, 0, 0};
  float relief = 0, gloss = 0;
  for (size_t l = lower; l <= std::min(lower + 1, levels_.size() - 1); ++l) {
    const float share = l == lower ? 1 - mix : mix;
    if (share <= 0) continue;
    const StampLevel& from = levels_[l];
    const Corners corners = cornersAt(from, part);
    out.shape += share * valueAt(from.shape, corners);
    if (hasRelief()) relief += share * (valueAt(from.relief, corners) * 65535 - 32768) / 32767;
    if (hasGloss()) gloss += share * valueAt(from.gloss, corners);
    if (hasColor()) {
      color.r += share * valueAt(from.color[0], corners);
      color.g += share * valueAt(from.color[1], corners);
      color.b += share * valueAt(from.color[2], corners);
    }
  }
  if (hasRelief()) out.relief = std::clamp(relief, -1.f, 1.f);
  if (hasGloss()) out.gloss = gloss;
  if (out.shape > 0) {
    const auto straight = [&](float v) { return std::min(1.f, v / out.shape); };
    out.color = {straight(color.r), straight(color.g), straight(color.b)};
  }
  return out;
}

namespace {

bool isGrey(const Straight16& p) {
  return p.r == p.g && p.g == p.b;
}

// Eight bits have their middle at 128, sixteen at 32768.
uint16_t heightFrom(uint16_t value, bool deep) {
  if (deep) return value;
  const float height = (static_cast<float>(value / 257) - 128) / 127;
  return static_cast<uint16_t>(std::clamp(32768 + 32767 * height + 0.5f, 0.f, 65535.f));
}

Result<Plane> companion(std::string bytes, const std::string& name, const StampLevel& of, bool heights) {
  const auto picture = decodePicture(std::move(bytes), name);
  if (!picture) return picture.error();
  if ((*picture)->width != of.width || (*picture)->height != of.height)
    return Error{fmt::format("is {} × {} pixels, its stamp {} × {}", (*picture)->width, (*picture)->height,
                             of.width, of.height),
                 name};
  Plane out;
  out.reserve((*picture)->pixels.size());
  for (size_t i = 0; i < (*picture)->pixels.size(); ++i) {
    const uint16_t value = (*picture)->straight(i).g;
    out.push_back(heights ? heightFrom(value, !(*picture)->deep.empty()) : value);
  }
  return out;
}

}  // namespace

Result<StampPointer> decodeStamp(std::string bytes, const std::string& name, std::string relief,
                                 std::string gloss) {
  const auto picture = decodePicture(std::move(bytes), name);
  if (!picture) return picture.error();
  const PictureData& data = **picture;
  if (std::max(data.width, data.height) > kLargestStamp)
    return Error{fmt::format("is too large for a stamp: {} × {} pixels, {} at most", data.width, data.height,
                             kLargestStamp),
                 name};
  bool clear = false, grey = true;
  for (size_t i = 0; i < data.pixels.size(); ++i) {
    const Straight16 p = data.straight(i);
    clear |= p.a < 65535;
    grey &= p.a == 0 || isGrey(p);
  }
  StampLevel level;
  level.width = data.width;
  level.height = data.height;
  level.shape.reserve(areaOf(level));
  for (size_t i = 0; i < data.pixels.size(); ++i) {
    const Straight16 p = data.straight(i);
    const uint32_t shape = clear ? p.a : grey ? p.g : 65535;
    level.shape.push_back(static_cast<uint16_t>(shape));
    if (grey) continue;
    const auto premultiplied = [&](uint32_t v) { return static_cast<uint16_t>((v * shape + 32767) / 65535); };
    level.color[0].push_back(premultiplied(p.r));
    level.color[1].push_back(premultiplied(p.g));
    level.color[2].push_back(premultiplied(p.b));
  }
  if (!relief.empty()) {
    auto plane = companion(std::move(relief), name + " (relief)", level, true);
    if (!plane) return plane.error();
    level.relief = std::move(*plane);
  }
  if (!gloss.empty()) {
    auto plane = companion(std::move(gloss), name + " (gloss)", level, false);
    if (!plane) return plane.error();
    level.gloss = std::move(*plane);
  }
  return StampPointer(std::make_shared<Stamp>(name, std::move(level)));
}

Result<StampPointer> readStamp(const std::filesystem::path& path) {
  auto bytes = readBytes(path);
  if (!bytes) return bytes.error();
  const auto beside = [&](const char* what) -> Result<std::string> {
    const auto file = path.parent_path() / (path.stem().string() + what);
    std::error_code ignored;
    if (!std::filesystem::exists(file, ignored)) return std::string();
    return readBytes(file);
  };
  auto relief = beside(".relief.png"), gloss = beside(".gloss.png");
  if (!relief) return relief.error();
  if (!gloss) return gloss.error();
  auto stamp = decodeStamp(std::move(*bytes), path.stem().string(), std::move(*relief), std::move(*gloss));
  if (!stamp) {
    Error error = stamp.error();
    error.where = path.string();
    return error;
  }
  return stamp;
}

Result<StampFiles> encodedStamp(const Stamp& stamp) {
  const StampLevel& full = stamp.full();
  const ViewSize size{full.width, full.height};
  std::vector<Straight16> pixels(areaOf(full));
  for (size_t i = 0; i < pixels.size(); ++i) {
    const uint32_t shape = full.shape[i];
    const auto straight = [&](size_t c) {
      if (!stamp.hasColor()) return uint16_t{65535};
      return static_cast<uint16_t>(
          shape > 0 ? std::min(65535u, (full.color[c][i] * 65535u + shape / 2) / shape) : 0u);
    };
    pixels[i] = {straight(0), straight(1), straight(2), static_cast<uint16_t>(shape)};
  }
  StampFiles out;
  auto picture = encodePng(size, pixels, true);
  if (!picture) return picture.error();
  out.picture = std::move(*picture);
  const auto greys = [&](const Plane& plane, std::string& into) -> Outcome {
    if (plane.empty()) return Done{};
    for (size_t i = 0; i < pixels.size(); ++i) pixels[i] = {plane[i], plane[i], plane[i], 65535};
    auto file = encodePng(size, pixels, false);
    if (!file) return file.error();
    into = std::move(*file);
    return Done{};
  };
  if (const Outcome done = greys(full.relief, out.relief); !done) return done.error();
  if (const Outcome done = greys(full.gloss, out.gloss); !done) return done.error();
  return out;
}

}  // namespace juvenor
