#include "core/recipe/recipe.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <numeric>

#include "core/document/edits/edits.h"
#include "core/document/store/state_json.h"
#include "core/json_fields.h"
#include "core/layers/guides.h"
#include "core/layers/nesting.h"
#include "core/recipe/scaled_layer.h"
#include "core/surface/build/refine_where.h"
#include "core/surface/build/search.h"

namespace juvenor {

using nlohmann::json;

namespace {

// Of the head's height: how far from where it should be a place may find its skin.
constexpr float kSnap = 0.25f;

Vec3 meanOf(const std::vector<Landmark>& landmarks) {
  Vec3 sum = Vec3::Zero();
  for (const Landmark& m : landmarks) sum += m.position;
  return sum / static_cast<float>(landmarks.size());
}

Vec3 middleOf(const Document& document) {
  return document.landmarks.empty() ? document.surface->bounds.center() : meanOf(document.landmarks);
}

// How far apart points may lie for what a layer has of finest forms, scene units; infinite: as they like.
float wishedSpacing(const Layer& layer) {
  const Guides* guides = layer.source->guides();
  if (!guides) return std::numeric_limits<float>::infinity();
  const SizeGuide& size = guides->size;
  const bool even = size.maps.empty() && size.smaller.empty();
  return size.size * (even ? 1.f : size.smallest) / kLeastSpacings;
}

// Where the recipe's places are on another head: from the landmarks both know, else from the middle.
class Alignment {
 public:
  Alignment(const Recipe& recipe, const Document& document)
      : document_(document), height_(headHeightOf(document)) {
    Vec3 theirs = Vec3::Zero(), ours = Vec3::Zero();
    float common = 0;
    for (const Landmark& m : recipe.landmarks)
      if (const Landmark* here = landmark(m.key)) {
        theirs += m.position;
        ours += here->position;
        ++common;
      }
    if (common > 0)
      offset_ = (ours - height_ * theirs) / common;
    else
      offset_ = document.surface->bounds.center();
  }

  std::optional<MovedPlace> operator()(const Vec3& place, const std::string& key) const {
    if (!key.empty()) {
      const Landmark* here = landmark(key);
      if (!here) return std::nullopt;
      return snapped(here->position);
    }
    return snapped(offset_ + height_ * place);
  }
  float height() const { return height_; }

 private:
  const Landmark* landmark(const std::string& key) const {
    const auto found = std::ranges::find(document_.landmarks, key, &Landmark::key);
    return found == document_.landmarks.end() ? nullptr : &*found;
  }
  std::optional<MovedPlace> snapped(const Vec3& at) const {
    const auto sample = nearestSample(*document_.surface, at, kSnap * height_);
    if (!sample) return std::nullopt;
    return MovedPlace{document_.surface->positions[*sample], document_.surface->parts[*sample]};
  }

  const Document& document_;
  float height_;
  Vec3 offset_ = Vec3::Zero();
};

// On top of its stratum, whatever is active. Numbers of groups are those of the recipe, after `before` here.
Document withOnTop(const Document& document, const Layer& layer, uint32_t before) {
  Document out = document;
  Layer next = layer;
  next.id = out.nextLayer++;
  if (next.group != 0) next.group += before;
  if (next.maskFrom != 0) next.maskFrom += before;
  const auto above =
      std::ranges::find_if(out.layers, [&](const LayerPointer& l) { return l->stratum > layer.stratum; });
  out.layers.insert(above, std::make_shared<Layer>(next));
  out.activeLayer = next.id;
  return out;
}

Outcome leaveOut(const RecipeLayer& from, const LayingSetting& setting, LaidRecipe& out) {
  const uint32_t id = out.document.activeLayer;
  if (isGroup(*from.layer)) return Done{};
  if (!setting.parts.empty()) {
    auto masked = withMaskFromParts(out.document, id, setting.parts);
    if (!masked) return masked.error();
    out.document = std::move(*masked);
  }
  if (!from.leaveOut) return Done{};
  auto without = withUsualExceptions(out.document, id);
  if (without)
    out.document = std::move(*without);
  else
    out.missing.push_back(fmt::format("“{}”: {}", from.layer->name, without.error().what));
  return Done{};
}

// Those samples of a surface that a recipe is to lie on; none: on all.
std::vector<uint32_t> laidOn(const Surface& surface, const LayingSetting& setting) {
  if (setting.parts.empty()) return {};
  return rangesWhere(surface.size(), [&](size_t s) { return setting.parts.contains(surface.parts[s]); });
}

// How far apart points lie on them.
float spacingOf(const Surface& surface, std::span<const uint32_t> ranges) {
  if (ranges.empty()) return surface.spacing;
  double all = 0, own = 0;
  size_t count = 0;
  for (const float area : surface.areas) all += static_cast<double>(area);
  for (size_t r = 0; r + 1 < ranges.size(); r += 2)
    for (size_t s = ranges[r]; s < ranges[r + 1]; ++s, ++count) own += static_cast<double>(surface.areas[s]);
  if (!(own > 0) || !(all > 0)) return surface.spacing;
  const double ratio = own / static_cast<double>(count) / (all / static_cast<double>(surface.size()));
  return surface.spacing * static_cast<float>(std::sqrt(ratio));
}

Result<Document> fineEnough(const Document& document, const Recipe& recipe, const LayingSetting& setting,
                            std::vector<std::string>& missing, const Progress& progress) {
  constexpr float kHardlyCoarser = 1.15f;
  const float wish = recipe.spacing * headHeightOf(document);
  const std::vector<uint32_t> where = laidOn(*document.surface, setting);
  const float spacing = spacingOf(*document.surface, where);
  if (!(wish > 0) || spacing <= kHardlyCoarser * wish) return document;
  if (!setting.addPoints) {
    missing.push_back(
        fmt::format("points lie {:.1f} times too far apart for its finest forms", spacing / wish));
    return document;
  }
  Refinement refinement{wish, RefineShape::Round, 40, where};
  while (samplesAfter(*document.surface, refinement) > setting.mostPoints && refinement.spacing < spacing)
    refinement.spacing *= 1.2f;
  if (refinement.spacing >= spacing) {
    missing.emplace_back("the sculpt has as many points as it may have, and its finest forms want more");
    return document;
  }
  if (refinement.spacing > kHardlyCoarser * wish)
    missing.emplace_back("even with all points it may have the sculpt is too coarse for its finest forms");
  return withRefinement(document, refinement, progress);
}

// Itself, or with a group around it.
bool isChosen(const Document& document, size_t at, std::span<const uint32_t> layers) {
  const auto named = [&](size_t i) {
    return std::ranges::find(layers, document.layers[i]->id) != layers.end();
  };
  return named(at) || std::ranges::any_of(groupsAround(document.layers, at), named);
}

LayerStack layersOf(const Recipe& recipe) {
  LayerStack out;
  for (const RecipeLayer& l : recipe.layers) out.push_back(l.layer);
  return out;
}

}  // namespace

bool RecipeLayer::operator==(const RecipeLayer& other) const {
  return leaveOut == other.leaveOut && layerState(*layer) == layerState(*other.layer);
}

Result<TakenRecipe> takeRecipe(const Document& document, std::span<const uint32_t> layers, std::string name) {
  const float height = headHeightOf(document);
  if (!(height > 0)) return Error{"the sculpt has no size to tell lengths by"};
  const Vec3 middle = middleOf(document);
  const MovePlace move = [&](const Vec3& place, const std::string&) -> std::optional<MovedPlace> {
    return MovedPlace{(place - middle) / height, 0};
  };
  TakenRecipe out;
  out.recipe.name = std::move(name);
  for (Landmark m : document.landmarks) {
    m.position = (m.position - middle) / height;
    out.recipe.landmarks.push_back(std::move(m));
  }
  float spacing = std::numeric_limits<float>::infinity();
  std::map<uint32_t, uint32_t> numbers;  // numbers in the recipe, by those here
  for (size_t at = 0; at < document.layers.size(); ++at) {
    const LayerPointer& layer = document.layers[at];
    if (!isChosen(document, at, layers)) continue;
    if (layer->source->fields()) {
      out.left.push_back(fmt::format("“{}” is painted and stays here", layer->name));
      continue;
    }
    if (!layer->source->pictures().empty()) {
      out.left.push_back(fmt::format("“{}” is of photos placed on this sculpt and stays here", layer->name));
      continue;
    }
    auto scaled = scaledLayer(*layer, 1 / height, move);
    if (!scaled) return Error{fmt::format("layer “{}”: {}", layer->name, scaled.error().what)};
    const bool pattern = layer->source->guides() != nullptr;
    if (layer->mask)
      out.left.push_back(
          pattern
              ? fmt::format("the painted mask of “{}”; the usual places are left out instead", layer->name)
              : fmt::format("the painted mask of “{}”", layer->name));
    spacing = std::min(spacing, wishedSpacing(*layer));
    Layer plain = *scaled->layer;
    plain.id = static_cast<uint32_t>(out.recipe.layers.size() + 1);
    plain.visible = true;
    plain.locked = false;
    numbers[layer->id] = plain.id;
    out.recipe.layers.push_back({std::make_shared<Layer>(std::move(plain)), layer->mask && pattern});
  }
  for (RecipeLayer& taken : out.recipe.layers) {
    Layer layer = *taken.layer;
    const auto group = numbers.find(layer.group);
    layer.group = group != numbers.end() ? group->second : 0;
    const auto from = numbers.find(layer.maskFrom);
    layer.maskFrom = from != numbers.end() ? from->second : 0;
    taken.layer = std::make_shared<Layer>(std::move(layer));
  }
  if (std::ranges::all_of(out.recipe.layers, [](const RecipeLayer& l) { return isGroup(*l.layer); }))
    return Error{"a recipe is made of layers that work themselves out, and none of those was chosen"};
  if (std::isfinite(spacing)) out.recipe.spacing = std::max(spacing, document.surface->spacing) / height;
  return out;
}

Result<LaidRecipe> layRecipe(const Document& document, const Recipe& recipe, const LayingSetting& setting,
                             const Progress& progress) {
  LaidRecipe out;
  auto ground =
      fineEnough(document, recipe, setting, out.missing, [&](float f) { return report(progress, 0.4f * f); });
  if (!ground) return ground.error();
  out.document = std::move(*ground);
  const Alignment alignment(recipe, out.document);
  LayingSetting where = setting;
  if (where.parts.empty())
    if (auto skin = skinParts(out.document); skin.size() < out.document.surface->partCount)
      where.parts = std::move(skin);
  const uint32_t before = out.document.nextLayer - 1;
  for (size_t i = 0; i < recipe.layers.size(); ++i) {
    const RecipeLayer& from = recipe.layers[i];
    if (!report(progress, 0.4f + 0.6f * static_cast<float>(i) / static_cast<float>(recipe.layers.size())))
      return cancelledError();
    auto scaled = scaledLayer(*from.layer, alignment.height(), alignment);
    if (!scaled) return Error{fmt::format("layer “{}”: {}", from.layer->name, scaled.error().what)};
    for (const std::string& lost : scaled->lost)
      out.missing.push_back(fmt::format("“{}”: {}", from.layer->name, lost));
    out.document = withOnTop(out.document, *scaled->layer, before);
    if (const Outcome done = leaveOut(from, where, out); !done) return done.error();
  }
  return out;
}

json toJson(const Recipe& recipe) {
  json layers = json::array(), landmarks = json::array();
  for (const RecipeLayer& from : recipe.layers) {
    json layer = layerState(*from.layer);
    for (const char* key : {"id", "visible", "locked", "mask"}) layer.erase(key);
    if (from.leaveOut) layer["leave-out"] = true;
    layers.push_back(std::move(layer));
  }
  for (const Landmark& m : recipe.landmarks)
    landmarks.push_back({{"key", m.key}, {"position", {m.position.x(), m.position.y(), m.position.z()}}});
  return {{"format", static_cast<unsigned>(kRecipeFormat)},
          {"name", recipe.name},
          {"about", recipe.about},
          {"spacing", recipe.spacing},
          {"for-part", recipe.forPart},
          {"landmarks", landmarks},
          {"layers", layers}};
}

namespace {

Result<RecipeLayer> recipeLayerFrom(const json& given, size_t number) {
  if (!given.is_object()) return Error{"a layer is no object"};
  json state = given;
  RecipeLayer out;
  if (state.contains("leave-out")) {
    if (!state["leave-out"].is_boolean()) return Error{"\"leave-out\" is neither true nor false"};
    out.leaveOut = state["leave-out"].get<bool>();
    state.erase("leave-out");
  }
  state.update(
      {{"id", static_cast<uint32_t>(number)}, {"visible", true}, {"locked", false}, {"mask", false}});
  auto layer = layerFromState(state, 0);
  if (!layer) return layer.error();
  if ((*layer)->source->fields())
    return Error{fmt::format("layer '{}' is a painted one, which no recipe holds", (*layer)->name)};
  out.layer = std::move(*layer);
  return out;
}

}  // namespace

Result<Recipe> recipeFrom(const json& given) {
  Recipe out;
  uint32_t format = kRecipeFormat;
  const json none = json::array();
  const json *layers = nullptr, *landmarks = &none;
  const Outcome ok = JsonFields(given)
                         .whole("format", format)
                         .text("name", out.name)
                         .text("about", out.about)
                         .number("spacing", out.spacing, 0, 1e3f)
                         .flag("for-part", out.forPart)
                         .list("landmarks", landmarks)
                         .list("layers", layers)
                         .needs({"format", "name", "layers"})
                         .done();
  if (format > kRecipeFormat)
    return Error{
        fmt::format("is of format {}, and this version knows formats up to {}", format, kRecipeFormat)};
  if (!ok) return ok.error();
  for (const json& j : *landmarks) {
    Landmark m;
    const Outcome read =
        JsonFields(j).text("key", m.key).vector("position", m.position).needs({"key", "position"}).done();
    if (!read) return Error{"a landmark " + read.error().what};
    out.landmarks.push_back(std::move(m));
  }
  for (const json& j : *layers) {
    auto layer = recipeLayerFrom(j, out.layers.size() + 1);
    if (!layer) return layer.error();
    out.layers.push_back(std::move(*layer));
  }
  if (out.layers.empty()) return Error{"holds no layer"};
  if (const Outcome nested = wellNested(layersOf(out)); !nested) return nested.error();
  return out;
}

}  // namespace juvenor
