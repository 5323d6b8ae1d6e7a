#include "core/textures/picture_layers.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/document/edits/edits.h"
#include "core/files.h"
#include "core/layers/composite/composite.h"
#include "core/layers/nesting.h"
#include "core/layers/sources/painted.h"
#include "core/parallel.h"
#include "core/photo/picture_file.h"
#include "core/textures/bake_ground.h"
#include "core/textures/map_pyramid.h"
#include "core/textures/open_raster.h"
#include "core/textures/sample_places.h"
#include "core/textures/uv_layout.h"
#include "core/textures/write_maps.h"

namespace juvenor {
namespace {

constexpr int kThumbnailSide = 256;

struct Operation {
  BlendMode mode;
  std::string_view name;
};
// Those the specification has; it takes them from SVG and the W3C's compositing.
constexpr Operation kOperations[] = {
    {BlendMode::Normal, "svg:src-over"},        {BlendMode::Multiply, "svg:multiply"},
    {BlendMode::Screen, "svg:screen"},          {BlendMode::Overlay, "svg:overlay"},
    {BlendMode::Darken, "svg:darken"},          {BlendMode::Lighten, "svg:lighten"},
    {BlendMode::ColorDodge, "svg:color-dodge"}, {BlendMode::ColorBurn, "svg:color-burn"},
    {BlendMode::HardLight, "svg:hard-light"},   {BlendMode::SoftLight, "svg:soft-light"},
    {BlendMode::Difference, "svg:difference"},  {BlendMode::Hue, "svg:hue"},
    {BlendMode::Saturation, "svg:saturation"},  {BlendMode::Color, "svg:color"},
    {BlendMode::Luminosity, "svg:luminosity"}};

std::optional<std::string_view> operationOf(BlendMode mode) {
  const auto found = std::ranges::find(kOperations, mode, &Operation::mode);
  return found == std::end(kOperations) ? std::nullopt : std::optional(found->name);
}

BlendMode modeOf(std::string_view operation) {
  const auto found = std::ranges::find(kOperations, operation, &Operation::name);
  return found == std::end(kOperations) ? BlendMode::Normal : found->mode;
}

float strengthOf(const Layer& layer) {
  return layer.opacity * layer.strengths[Channel::Color];
}

// The layers that go out whole, seen and at full strength; the rest as they are, for what lies below them.
Document atFullStrength(const Document& document, const std::vector<uint32_t>& ids) {
  Document out = document;
  for (LayerPointer& pointer : out.layers) {
    if (std::ranges::find(ids, pointer->id) == ids.end()) continue;
    Layer layer = *pointer;
    layer.opacity = 1;
    layer.visible = true;
    layer.strengths[Channel::Color] = 1;
    pointer = std::make_shared<Layer>(std::move(layer));
  }
  return out;
}

Result<std::vector<uint32_t>> chosen(const Document& document, const std::vector<uint32_t>& wished) {
  const auto brings = [](const Layer& l) { return l.source->channels().has(Channel::Color); };
  std::vector<uint32_t> out;
  for (size_t i = 0; i < document.layers.size(); ++i) {
    const LayerPointer& layer = document.layers[i];
    const bool wanted =
        wished.empty() ? takesPart(document.layers, i) : std::ranges::find(wished, layer->id) != wished.end();
    if (!wanted) continue;
    if (brings(*layer))
      out.push_back(layer->id);
    else if (!wished.empty())
      return Error{fmt::format("the layer '{}' brings no colour", layer->name)};
  }
  for (const uint32_t id : wished)
    if (!layerOf(document, id)) return Error{fmt::format("there is no layer {}", id)};
  if (out.empty()) return Error{"no layer brings colour"};
  return out;
}

// Straight pixels of a baked tile, 0xAARRGGBB.
std::vector<uint32_t> pixelsOf(const MapPicture& picture) {
  const auto& values = std::get<std::vector<uint8_t>>(picture.values);
  const auto planes = static_cast<size_t>(picture.planes);
  std::vector<uint32_t> out(values.size() / planes);
  for (size_t i = 0; i < out.size(); ++i) {
    const uint8_t* v = &values[i * planes];
    const uint32_t alpha = planes > 3 ? v[3] : 255;
    out[i] = alpha << 24 | uint32_t{v[0]} << 16 | uint32_t{v[1]} << 8 | v[2];
  }
  return out;
}

void maskPixels(std::vector<uint32_t>& pixels, const MapPicture& mask) {
  const auto& values = std::get<std::vector<uint8_t>>(mask.values);
  for (size_t i = 0; i < pixels.size(); ++i) {
    const uint32_t alpha = ((pixels[i] >> 24) * values[i] + 127) / 255;
    pixels[i] = alpha << 24 | (pixels[i] & 0xffffff);
  }
}

Result<std::string> thumbnailOf(const std::vector<uint32_t>& pixels, int side) {
  const int part = std::max(1, side / kThumbnailSide), small = side / part;
  std::vector<uint32_t> out;
  for (int y = 0; y < small; ++y)
    for (int x = 0; x < small; ++x)
      out.push_back(
          pixels[static_cast<size_t>(y * part) * static_cast<size_t>(side) + static_cast<size_t>(x * part)]);
  return encodePng({small, small}, out, true);
}

std::string uniqueName(const std::string& name, const std::vector<RasterLayer>& taken) {
  std::string out = name;
  const auto is = [&](const RasterLayer& l) { return l.name == out; };
  for (int number = 2; std::ranges::any_of(taken, is); ++number) out = fmt::format("{} ({})", name, number);
  return out;
}

}  // namespace

std::filesystem::path sentBeside(const std::filesystem::path& file) {
  return file.parent_path() / (file.stem().string() + ".sent.ora");
}

Result<SentLayers> sentLayers(const Document& document, const LayersToSend& wish, const Progress& progress) {
  if (wish.uvSet >= document.sculpt->uvSets.size()) return Error{"has no UVs", document.sculpt->name};
  if (wish.pixels < kLeastPixels || wish.pixels > kMostPixels)
    return Error{
        fmt::format("{} pixels a side: it must be {} to {}", wish.pixels, kLeastPixels, kMostPixels)};
  const auto ids = chosen(document, wish.layers);
  if (!ids) return ids.error();
  const Document whole = atFullStrength(document, *ids);
  WornBy by;
  by.uvSet = wish.uvSet;
  const auto steps = static_cast<float>(ids->size() + 2);
  float done = 0;
  const Progress part = [&](float f) { return report(progress, (done + f) / steps); };
  // the colours of the bare skin go along at the bottom, so that the picture is whole
  const TileSetting setting{wish.tile, wish.pixels, 1, 16};
  RasterPicture out{wish.pixels, wish.pixels, {}, {}, {}, wish.tile};
  SentLayers sent;
  {
    const auto ground = bakeGround(document, by, false, part);
    if (!ground) return ground.error();
    const auto map = texelMap(TextureKind::Colour, (*ground)->input(NormalsFrom::Relief, true));
    if (!map) return map.error();
    const MapToBake merged{map->get(), TextureRole::Color, 3, MapDepth::Whole8};
    const auto baked = bakeTile(setting, *(*ground)->places, {&merged, 1}, part);
    if (!baked) return baked.error();
    if (baked->covered == 0) return Error{fmt::format("nothing lies in tile {}", wish.tile)};
    const std::vector<uint32_t> pixels = pixelsOf(baked->maps[0]);
    auto png = encodePng({wish.pixels, wish.pixels}, pixels);
    auto small = thumbnailOf(pixels, wish.pixels);
    if (!png) return png.error();
    if (!small) return small.error();
    out.merged = std::move(*png);
    out.thumbnail = std::move(*small);
  }
  ++done;
  const auto ground = bakeGround(whole, by, false, part);
  if (!ground) return ground.error();
  ++done;
  for (const uint32_t id : *ids) {
    const LayerPointer layer = layerOf(document, id);
    TextureWish wanted(TextureKind::Layer);
    wanted.layer = id;
    const auto map = texelMap(wanted, (*ground)->input(NormalsFrom::Relief, true));
    if (!map) return map.error();
    std::vector<MapToBake> own{{map->get(), TextureRole::Color, 4, MapDepth::Whole8}};
    TexelMapPointer mask;
    if (layer->mask || !layer->terms.empty()) {
      wanted.kind = TextureKind::Mask;
      auto made = texelMap(wanted, (*ground)->input(NormalsFrom::Relief, true));
      if (!made) return made.error();
      mask = std::move(*made);
      own.push_back({mask.get(), TextureRole::Data, 1, MapDepth::Whole8});
    }
    const auto baked = bakeTile(setting, *(*ground)->places, own, part);
    if (!baked) return baked.error();
    std::vector<uint32_t> pixels = pixelsOf(baked->maps[0]);
    if (mask) maskPixels(pixels, baked->maps[1]);
    auto png = encodePng({wish.pixels, wish.pixels}, pixels, true);
    if (!png) return png.error();
    const auto operation = operationOf(layer->blend);
    if (!operation) sent.asTheyLook.push_back(layer->name);
    // (layers are told topmost first)
    out.layers.insert(out.layers.begin(),
                      {uniqueName(layer->name, out.layers), strengthOf(*layer), layer->visible,
                       std::string(operation.value_or("svg:src-over")), 0, 0, std::move(*png), id});
    ++done;
  }
  auto bytes = openRasterBytes(out);
  if (!bytes) return bytes.error();
  sent.picture = std::move(*bytes);
  return sent;
}

namespace {

// A layer's pixels where they lie in the whole picture.
Result<PicturePointer> laidOut(const RasterLayer& layer, int width, int height) {
  const auto picture = decodePicture(layer.png, layer.name);
  if (!picture) return picture.error();
  const PictureData& own = **picture;
  PictureData out;
  out.width = width;
  out.height = height;
  const size_t count = static_cast<size_t>(width) * static_cast<size_t>(height);
  out.pixels.assign(count, 0);
  if (!own.deep.empty()) out.deep.assign(count, {});
  for (int y = std::max(0, -layer.top); y < std::min(own.height, height - layer.top); ++y) {
    const int first = std::max(0, -layer.left), end = std::min(own.width, width - layer.left);
    if (first >= end) break;
    const size_t from = static_cast<size_t>(y) * static_cast<size_t>(own.width) + static_cast<size_t>(first),
                 to = static_cast<size_t>(y + layer.top) * static_cast<size_t>(width) +
                      static_cast<size_t>(first + layer.left);
    std::copy_n(own.pixels.begin() + static_cast<std::ptrdiff_t>(from), end - first,
                out.pixels.begin() + static_cast<std::ptrdiff_t>(to));
    if (!own.deep.empty())
      std::copy_n(own.deep.begin() + static_cast<std::ptrdiff_t>(from), end - first,
                  out.deep.begin() + static_cast<std::ptrdiff_t>(to));
  }
  return std::make_shared<const PictureData>(std::move(out));
}

// What a picture says of a sample, and how much more that is than what another said; linear, premultiplied.
struct Change {
  MapPyramid::Values now{}, more{};

  bool isNothing() const {
    return std::ranges::all_of(more, [](float v) { return v == 0; });
  }
  float size() const {
    float out = 0;
    for (const float v : more) out += std::abs(v);
    return out;
  }
};
using Changes = std::vector<Change>;

// Of samples that lie in several places the place that changed the most counts.
class Differences {
 public:
  Differences(const Document& document, size_t uvSet, int tile, const SkinLayout& layout)
      : samples_(document.surface->size()),
        places_(samplePlaces(*document.surface, wornSculpt(document, uvSet), layout)),
        tile_(tile) {}

  Changes between(const PicturePointer& before, const PicturePointer& after) const {
    const MapPyramid now(after);
    std::optional<MapPyramid> then;
    if (before) then.emplace(before);
    const float texel = 1 / static_cast<float>(std::min(now.width(), now.height()));
    const Vec2 origin(static_cast<float>((tile_ - 1001) % 10), static_cast<float>((tile_ - 1001) / 10));
    Changes out(samples_);
    parallel(samples_, [&](size_t s) {
      for (uint32_t i = places_.start[s]; i < places_.start[s + 1]; ++i) {
        const SamplePlace& p = places_.places[i];
        const Vec2 asked = askedAt(p, texel), at = asked - origin;
        if (tileOf(asked) != tile_) continue;
        Change change;
        change.more = change.now = now.at(at, p.along, p.across);
        if (then) {
          const MapPyramid::Values old = then->at(at, p.along, p.across);
          for (size_t c = 0; c < 4; ++c) change.more[c] -= old[c];
        }
        if (change.size() > out[s].size()) out[s] = change;
      }
    });
    return out;
  }

 private:
  size_t samples_;
  SamplePlaces places_;
  int tile_;
};

// A sample in linear light, premultiplied.
MapPyramid::Values linearColor(const Rgba16& c) {
  const float alpha = from16(c.a);
  MapPyramid::Values out{0, 0, 0, alpha};
  const std::array<uint16_t, 3> planes{c.r, c.g, c.b};
  for (size_t k = 0; k < 3 && alpha > 0; ++k)
    out[k] = alpha * decodeSrgb16(to16(std::min(1.f, from16(planes[k]) / alpha)));
  return out;
}

// The paint of a layer with changes done to it; where it is masked they count for as much as is seen of them.
// Small ones are added, so that what texels cannot hold is kept; of large ones what came back counts alone,
// for what went out was rounded to eight bits.
void change(ColorField& field, const Changes& changes, const ScalarField* mask) {
  constexpr float kLarge = 0.05f;
  field.makeRoom();
  parallel(
      field.chunkCount(),
      [&](size_t c) {
        const size_t begin = c * kChunkSize, end = std::min(field.size(), begin + kChunkSize);
        std::shared_ptr<ColorChunk> chunk;
        for (size_t s = begin; s < end; ++s) {
          const Change& change = changes[s];
          if (change.isNothing()) continue;
          const float seen = mask ? from16(mask->at(s)[0]) : 1.f;
          if (!(seen > 1.f / 255)) continue;
          if (!chunk) chunk = field.writable(c);
          MapPyramid::Values value = linearColor(sampleOf(*chunk, s - begin));
          const float kept = std::max(0.f, 1 - change.size() / kLarge);
          for (size_t k = 0; k < 4; ++k) {
            const float went = change.now[k] - change.more[k];
            const float shown = kept * value[k] * seen + (1 - kept) * went + change.more[k];
            value[k] = std::clamp(shown / seen, 0.f, 1.f);
          }
          const std::array<uint16_t, 4> encoded = encodedColor(value);
          setSample(*chunk, s - begin, {encoded[0], encoded[1], encoded[2], encoded[3]});
        }
        if (chunk) field.setChunk(c, std::move(chunk));
      },
      1);
}

// Layers of a picture onto those of a document, one after another from the bottom.
class Returning {
 public:
  Returning(const Document& document, const RasterPicture& now, const RasterPicture& before,
            Differences differences, PreparedStack stack)
      : out_{document, {}, {}, {}},
        now_(now),
        before_(before),
        differences_(std::move(differences)),
        stack_(std::move(stack)),
        back_(before.layers.size(), false) {}

  Outcome take(const RasterLayer& layer) {
    const auto from = std::ranges::find_if(before_.layers, [&](const RasterLayer& l) {
      return layer.id > 0 ? l.id == layer.id : l.name == layer.name;
    });
    const bool known = from != before_.layers.end();
    if (known) back_[static_cast<size_t>(from - before_.layers.begin())] = true;
    // what is the same file to the byte was not touched
    if (known && from->png == layer.png && from->left == layer.left && from->top == layer.top) return Done{};
    const auto after = laidOut(layer, now_.width, now_.height);
    if (!after) return after.error();
    PicturePointer then;
    if (known) {
      auto read = laidOut(*from, before_.width, before_.height);
      if (!read) return read.error();
      then = std::move(*read);
    }
    const Changes changes = differences_.between(then, *after);
    if (std::ranges::all_of(changes, &Change::isNothing)) return Done{};
    const LayerPointer target = known ? layerOf(out_.document, from->id) : nullptr;
    target && target->source->fields() ? paint(*target, changes) : add(layer, target, changes, *after);
    return Done{};
  }
  ReturnedLayers done() && {
    for (size_t i = 0; i < back_.size(); ++i)
      if (!back_[i]) out_.missing.push_back(before_.layers[i].name);
    return std::move(out_);
  }

 private:
  void paint(const Layer& target, const Changes& changes) {
    ChannelFields fields = *target.source->fields();
    const auto own = std::ranges::find(stack_, target.id, [](const PreparedLayer& p) { return p.layer->id; });
    std::optional<ScalarField> mask;
    if ((target.mask || !target.terms.empty()) && own != stack_.end())
      mask = wholeMask(*own, out_.document.surface->size());
    change(fields.color(), changes, mask ? &*mask : nullptr);
    Layer painted = target;
    painted.source = paintedSource(std::move(fields));
    out_.document.layers[placeOf(out_.document, target.id)] = std::make_shared<Layer>(std::move(painted));
    out_.painted.push_back(target.name);
  }

  // A new layer: over a live one that was changed, of what it looks like now where it was changed.
  void add(const RasterLayer& layer, const LayerPointer& over, const Changes& changes,
           const PicturePointer& after) {
    Changes shown = over ? differences_.between(nullptr, after) : changes;
    for (size_t s = 0; s < shown.size(); ++s)
      if (changes[s].isNothing()) shown[s] = {};
    ChannelFields fields(out_.document.surface->size());
    change(fields.color(), shown, nullptr);
    if (over) out_.document.activeLayer = over->id;
    const std::string name = over ? fmt::format("{}, painted over", over->name) : layer.name;
    out_.document = withSourceLayer(out_.document, name, over ? over->stratum : Stratum::Pigment,
                                    paintedSource(std::move(fields)));
    LayerChange told;
    told.blend = modeOf(layer.operation);
    told.opacity = layer.opacity;
    told.visible = layer.visible;
    if (auto changed = withLayerChanged(out_.document, out_.document.activeLayer, told))
      out_.document = std::move(*changed);
    out_.added.push_back(name);
  }

  ReturnedLayers out_;
  const RasterPicture &now_, &before_;
  Differences differences_;
  PreparedStack stack_;
  std::vector<bool> back_;
};

}  // namespace

Result<ReturnedLayers> withReturnedLayers(const Document& document, const std::string& picture,
                                          const std::string& sent, const LayersToSend& wish,
                                          const Progress& progress) {
  const auto now = openRasterFrom(picture);
  if (!now) return now.error();
  RasterPicture before;
  if (!sent.empty()) {
    auto read = openRasterFrom(sent);
    if (!read) return Error{"what went out: " + read.error().what};
    before = std::move(*read);
    if (before.width != now->width || before.height != now->height)
      return Error{fmt::format("is {} by {} pixels now, and went out with {} by {}", now->width, now->height,
                               before.width, before.height)};
  }
  if (wish.uvSet >= document.sculpt->uvSets.size()) return Error{"has no UVs", document.sculpt->name};
  const auto layout = skinLayout(document, [&](float f) { return report(progress, 0.2f * f); });
  if (!layout) return layout.error();
  auto stack = prepared(document.layers, *document.maps);
  if (!stack) return stack.error();
  Returning returning(document, *now, before,
                      Differences(document, wish.uvSet, before.tile > 0 ? before.tile : wish.tile, *layout),
                      std::move(*stack));
  float done = 0;
  // from the bottom, so that new ones lie above what lay below them
  for (auto layer = now->layers.rbegin(); layer != now->layers.rend(); ++layer) {
    if (!report(progress, 0.2f + 0.8f * done++ / static_cast<float>(now->layers.size())))
      return cancelledError();
    if (const Outcome ok = returning.take(*layer); !ok) return ok.error();
  }
  return std::move(returning).done();
}

Result<std::vector<std::string>> sendLayers(const Document& document, const std::filesystem::path& file,
                                            const LayersToSend& wish, const Progress& progress) {
  auto sent = sentLayers(document, wish, progress);
  if (!sent) return sent.error();
  for (const std::filesystem::path& to : {sentBeside(file), file})
    if (const Outcome ok = writeBytes(to, sent->picture); !ok) return ok.error();
  return std::move(sent->asTheyLook);
}

Result<ReturnedLayers> takenBack(const Document& document, const std::filesystem::path& file,
                                 const LayersToSend& wish, const Progress& progress) {
  const auto picture = readBytes(file);
  if (!picture) return picture.error();
  std::error_code ec;
  std::string sent;
  if (std::filesystem::exists(sentBeside(file), ec)) {
    auto read = readBytes(sentBeside(file));
    if (!read) return read.error();
    sent = std::move(*read);
  }
  auto out = withReturnedLayers(document, *picture, sent, wish, progress);
  if (!out && !isCancelled(out.error())) return Error{out.error().what, file.string()};
  return out;
}

}  // namespace juvenor
