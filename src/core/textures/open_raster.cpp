#include "core/textures/open_raster.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <pugixml.hpp>
#include <sstream>

#include "core/files.h"
#include "core/zip_archive.h"

namespace juvenor {
namespace {

constexpr const char *kMimetype = "image/openraster", *kStack = "stack.xml", *kMerged = "mergedimage.png",
                     *kThumbnail = "Thumbnails/thumbnail.png";
constexpr size_t kMostText = size_t{16} << 20, kMostPicture = size_t{1} << 31;
constexpr int kMostCanvas = 65536, kMostLayers = 2000, kDeepest = 64;

pugi::xml_node newNode(pugi::xml_node in, const char* name) {
  return in.append_child(name);
}

std::string stackXml(const RasterPicture& picture) {
  pugi::xml_document document;
  pugi::xml_node declaration = document.prepend_child(pugi::node_declaration);
  declaration.append_attribute("version") = "1.0";
  declaration.append_attribute("encoding") = "UTF-8";
  pugi::xml_node image = newNode(document, "image");
  image.append_attribute("version") = "0.0.6";
  image.append_attribute("w") = picture.width;
  image.append_attribute("h") = picture.height;
  if (picture.tile > 0) image.append_attribute("juvenor-tile") = picture.tile;
  pugi::xml_node stack = newNode(image, "stack");
  for (size_t i = 0; i < picture.layers.size(); ++i) {
    const RasterLayer& layer = picture.layers[i];
    pugi::xml_node node = newNode(stack, "layer");
    node.append_attribute("name") = layer.name.c_str();
    node.append_attribute("src") = fmt::format("data/layer{}.png", i).c_str();
    node.append_attribute("x") = layer.left;
    node.append_attribute("y") = layer.top;
    node.append_attribute("opacity") = fmt::format("{:.4g}", layer.opacity).c_str();
    node.append_attribute("visibility") = layer.visible ? "visible" : "hidden";
    node.append_attribute("composite-op") = layer.operation.c_str();
    if (layer.id > 0) node.append_attribute("juvenor-layer") = layer.id;
  }
  std::ostringstream out;
  document.save(out, " ");
  return out.str();
}

class Reading {
 public:
  explicit Reading(const ZipReader& archive) : archive_(archive) {}

  Outcome stack(pugi::xml_node node, float opacity, bool visible, int depth, RasterPicture& out) {
    if (depth > kDeepest) return Error{"its layers are nested too deeply"};
    for (pugi::xml_node child : node.children()) {
      const std::string_view kind = child.name();
      const float own = std::clamp(child.attribute("opacity").as_float(1), 0.f, 1.f);
      const bool seen =
          visible && std::string_view(child.attribute("visibility").as_string("visible")) != "hidden";
      if (kind == "stack") {
        if (const Outcome ok = stack(child, opacity * own, seen, depth + 1, out); !ok) return ok;
      } else if (kind == "layer") {
        if (const Outcome ok = layer(child, opacity * own, seen, out); !ok) return ok;
      }
    }
    return Done{};
  }

 private:
  Outcome layer(pugi::xml_node node, float opacity, bool visible, RasterPicture& out) {
    if (out.layers.size() >= kMostLayers) return Error{fmt::format("holds more than {} layers", kMostLayers)};
    RasterLayer made;
    made.name = node.attribute("name").as_string("Layer");
    made.opacity = std::isfinite(opacity) ? opacity : 1;
    made.visible = visible;
    made.operation = node.attribute("composite-op").as_string("svg:src-over");
    made.left = std::clamp(node.attribute("x").as_int(0), -kMostCanvas, kMostCanvas);
    made.top = std::clamp(node.attribute("y").as_int(0), -kMostCanvas, kMostCanvas);
    made.id = node.attribute("juvenor-layer").as_uint(0);
    const std::string source = node.attribute("src").as_string();
    auto png = archive_.read(source, kMostPicture);
    if (!png) return png.error();
    if (png->empty())
      return Error{fmt::format("the picture '{}' of the layer '{}' is missing", source, made.name)};
    made.png = std::move(*png);
    out.layers.push_back(std::move(made));
    return Done{};
  }

  const ZipReader& archive_;
};

}  // namespace

Result<std::string> openRasterBytes(const RasterPicture& picture) {
  std::vector<ZipEntry> entries{{"mimetype", kMimetype, true}, {kStack, stackXml(picture)}};
  for (size_t i = 0; i < picture.layers.size(); ++i)
    entries.push_back({fmt::format("data/layer{}.png", i), picture.layers[i].png, true});
  entries.push_back({kMerged, picture.merged, true});
  entries.push_back({kThumbnail, picture.thumbnail, true});
  return zipped(entries);
}

Result<RasterPicture> openRasterFrom(const std::string& bytes) {
  const auto archive = ZipReader::open(bytes);
  if (!archive) return Error{"is no OpenRaster picture: " + archive.error().what};
  const auto kind = archive->read("mimetype", 4096);
  if (!kind) return kind.error();
  if (!kind->starts_with(kMimetype)) return Error{"is no OpenRaster picture: its mimetype says otherwise"};
  const auto text = archive->read(kStack, kMostText);
  if (!text) return text.error();
  pugi::xml_document document;
  const pugi::xml_parse_result parsed = document.load_buffer(text->data(), text->size());
  if (!parsed)
    return Error{
        fmt::format("its {} is damaged at byte {}: {}", kStack, parsed.offset, parsed.description())};
  const pugi::xml_node image = document.child("image");
  RasterPicture out;
  out.width = image.attribute("w").as_int();
  out.height = image.attribute("h").as_int();
  out.tile = image.attribute("juvenor-tile").as_int(0);
  if (out.width < 1 || out.height < 1 || out.width > kMostCanvas || out.height > kMostCanvas)
    return Error{fmt::format("its {} says it is {} by {} pixels", kStack, out.width, out.height)};
  if (const Outcome ok = Reading(*archive).stack(image.child("stack"), 1, true, 0, out); !ok)
    return ok.error();
  return out;
}

Result<RasterPicture> readOpenRaster(const std::filesystem::path& file) {
  const auto bytes = readBytes(file);
  if (!bytes) return bytes.error();
  auto out = openRasterFrom(*bytes);
  if (!out) return Error{out.error().what, file.string()};
  return out;
}

}  // namespace juvenor
