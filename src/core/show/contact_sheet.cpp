#include "core/show/contact_sheet.h"

#include <OpenImageIO/imagebufalgo.h>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edit_variants.h"
#include "core/show/film.h"

namespace juvenor {
namespace {

namespace fs = std::filesystem;

constexpr size_t kMostTiles = 256;

// Where tiles lie, and how large the sheet is.
struct SheetPlan {
  int columns, rows, gap, nameHigh;
  ViewSize tile, size;

  Eigen::Vector2i corner(size_t i) const {
    const int column = static_cast<int>(i) % columns, row = static_cast<int>(i) / columns;
    return {gap + column * (tile.width + gap), gap + row * (tile.height + nameHigh + gap)};
  }
};

SheetPlan planOf(size_t count, const ContactWish& wish) {
  SheetPlan out{};
  out.tile = wish.tile;
  out.gap = std::max(6, wish.tile.width / 24);
  out.nameHigh = std::max(16, wish.tile.height / 11);
  constexpr float kPage = 1.4f;
  const float even =
      std::sqrt(kPage * static_cast<float>(count) * static_cast<float>(wish.tile.height + out.nameHigh) /
                static_cast<float>(wish.tile.width));
  out.columns = wish.columns > 0 ? wish.columns : static_cast<int>(std::lround(even));
  out.columns = std::clamp(out.columns, 1, static_cast<int>(count));
  out.rows = (static_cast<int>(count) + out.columns - 1) / out.columns;
  out.size = {out.gap + out.columns * (out.tile.width + out.gap),
              out.gap + out.rows * (out.tile.height + out.nameHigh + out.gap)};
  return out;
}

Result<std::vector<uint32_t>> tilePicture(const ContactTile& tile, const ContactWish& wish,
                                          ShownScene::Pointer& scene, const Progress& progress) {
  if (!scene || scene->document().layers != tile.document.layers ||
      scene->document().surface != tile.document.surface) {
    auto made = ShownScene::of(tile.document, tile.look.view == View::Skin,
                               [&](float f) { return report(progress, 0.3f * f); });
    if (!made) return made.error();
    scene = std::move(*made);
  }
  const StillWish still{tile.look, wish.tile, wish.samples};
  const auto picture =
      stillPicture(*scene, still, false, {}, [&](float f) { return report(progress, 0.3f + 0.7f * f); });
  if (!picture) return picture.error();
  return bytesOf(*picture);
}

void layTile(std::span<const uint32_t> pixels, const SheetPlan& plan, size_t at, ContactSheet& sheet) {
  const Eigen::Vector2i corner = plan.corner(at);
  const auto wide = static_cast<size_t>(plan.tile.width);
  for (int y = 0; y < plan.tile.height; ++y)
    std::copy_n(pixels.begin() + static_cast<std::ptrdiff_t>(static_cast<size_t>(y) * wide), wide,
                sheet.pixels.begin() + static_cast<std::ptrdiff_t>(static_cast<size_t>(corner.y() + y) *
                                                                       static_cast<size_t>(plan.size.width) +
                                                                   static_cast<size_t>(corner.x())));
}

// As much of a name as fits into a tile's width.
std::string shortenedName(const std::string& name, int wide, int high, const std::string& font) {
  const auto fits = [&](const std::string& text) {
    const OIIO::ROI room = OIIO::ImageBufAlgo::text_size(text, high, font);
    return !room.defined() || room.width() <= wide;
  };
  if (fits(name)) return name;
  std::string out = name;
  while (!out.empty() && !fits(out + "…")) {
    // whole letters of UTF-8
    while (!out.empty() && (static_cast<unsigned char>(out.back()) & 0xc0) == 0x80) out.pop_back();
    if (!out.empty()) out.pop_back();
  }
  return out + "…";
}

Outcome writeNames(std::span<const ContactTile> tiles, const SheetPlan& plan, const ContactWish& wish,
                   ContactSheet& sheet) {
  if (wish.font.empty()) return Error{"the font of the names was not found; install the program's fonts"};
  const int high = std::max(10, plan.nameHigh / 2);
  const float grey = 0.2126f * wish.ground.r + 0.7152f * wish.ground.g + 0.0722f * wish.ground.b;
  const std::array<float, 3> ink =
      grey < 0.5f ? std::array{0.88f, 0.88f, 0.88f} : std::array{0.08f, 0.08f, 0.08f};
  // (an owner of its own rows: blue first in memory)
  OIIO::ImageBuf page(OIIO::ImageSpec(plan.size.width, plan.nameHigh, 3, OIIO::TypeDesc::FLOAT));
  for (size_t i = 0; i < tiles.size(); ++i) {
    const std::array<float, 3> ground{wish.ground.r, wish.ground.g, wish.ground.b};
    OIIO::ImageBufAlgo::fill(page, ground);
    const Eigen::Vector2i corner = plan.corner(i);
    const std::string name = shortenedName(tiles[i].name, plan.tile.width, high, wish.font.string());
    if (!name.empty() &&
        !OIIO::ImageBufAlgo::render_text(page, 0, plan.nameHigh * 2 / 3, name, high, wish.font.string(), ink))
      return Error{"its names cannot be written (" + page.geterror() + ")", wish.font.string()};
    for (int y = 0; y < plan.nameHigh; ++y)
      for (int x = 0; x < plan.tile.width; ++x) {
        std::array<float, 3> value{};
        page.getpixel(x, y, value.data(), 3);
        uint32_t rgb = 0xff;
        for (const float v : value)
          rgb = rgb << 8 | static_cast<uint32_t>(std::clamp(v, 0.f, 1.f) * 255 + 0.5f);
        sheet.pixels[static_cast<size_t>(corner.y() + plan.tile.height + y) *
                         static_cast<size_t>(plan.size.width) +
                     static_cast<size_t>(corner.x() + x)] = rgb;
      }
  }
  return Done{};
}

}  // namespace

Result<std::vector<ContactTile>> tilesOfCameras(const Document& document) {
  std::vector<ContactTile> out;
  for (const KeptCamera& camera : document.cameras) {
    auto look = lookOf(camera);
    if (!look) return look.error();
    out.push_back({camera.name, document, std::move(*look)});
  }
  if (out.empty()) return Error{"There is no camera yet. Keep one first."};
  return out;
}

Result<std::vector<ContactTile>> tilesOfCheckpoints(const Document& document, const Look& look) {
  std::vector<ContactTile> out;
  for (const Checkpoint& kept : document.checkpoints) {
    auto then = asKept(document, kept.id);
    if (!then) return then.error();
    out.push_back({kept.name, std::move(*then), look});
  }
  if (out.empty()) return Error{"There is no checkpoint yet. Keep one first."};
  return out;
}

Result<std::vector<ContactTile>> tilesOfVariants(const Document& document, const Look& look) {
  std::vector<ContactTile> out;
  for (const Variant& variant : document.variants) {
    auto so = asVariant(document, variant.id);
    if (!so) return so.error();
    out.push_back({variant.name, std::move(*so), look});
  }
  if (out.empty()) return Error{"There is no variant yet. Keep one first."};
  return out;
}

Result<ContactSheet> contactSheet(std::span<const ContactTile> tiles, const ContactWish& wish,
                                  const Progress& progress) {
  if (tiles.empty() || tiles.size() > kMostTiles)
    return Error{fmt::format("a contact sheet has from 1 to {} pictures", kMostTiles)};
  const SheetPlan plan = planOf(tiles.size(), wish);
  if (plan.size.width > kLargestStill || plan.size.height > kLargestStill)
    return Error{
        fmt::format("a sheet of {} × {} pixels is larger than the largest of {}: make its pictures smaller",
                    plan.size.width, plan.size.height, kLargestStill)};
  const auto byte = [](float v) { return static_cast<uint32_t>(std::clamp(v, 0.f, 1.f) * 255 + 0.5f); };
  ContactSheet out{plan.size, {}};
  out.pixels.assign(static_cast<size_t>(plan.size.width) * static_cast<size_t>(plan.size.height),
                    0xff000000u | byte(wish.ground.r) << 16 | byte(wish.ground.g) << 8 | byte(wish.ground.b));
  if (const Outcome named = writeNames(tiles, plan, wish, out); !named) return named.error();
  ShownScene::Pointer scene;
  for (size_t i = 0; i < tiles.size(); ++i) {
    const auto count = static_cast<float>(tiles.size());
    const auto pixels = tilePicture(tiles[i], wish, scene, [&](float f) {
      return report(progress, (static_cast<float>(i) + f) / count);
    });
    if (!pixels) return pixels.error();
    layTile(*pixels, plan, i, out);
  }
  return out;
}

fs::path labelFont() {
  std::error_code ec;
  const fs::path here = fs::read_symlink("/proc/self/exe", ec).parent_path();
  for (const char* folder : {"fonts", "../share/juvenor/fonts", "../src/fonts"})
    if (const fs::path font = here / folder / "Inter-Medium.otf"; fs::exists(font, ec)) return font;
  return {};
}

}  // namespace juvenor
