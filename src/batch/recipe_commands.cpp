// Recipes from the shell: what ships, saving one, laying one on many sculpts with a contact sheet.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <iostream>
#include <limits>

#include "batch/commands.h"
#include "batch/work.h"
#include "core/document/store/in_use.h"
#include "core/json_fields.h"
#include "core/photo/picture_file.h"
#include "core/recipe/recipe.h"
#include "demo/recipes.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

constexpr ViewSize kPictureSize{320, 320}, kTileSize{480, 420};
constexpr uint32_t kSheetGrey = 0xff6c6c6c;

Result<Recipe> recipeCalled(const std::string& called) {
  if (const Recipe* shipped = demo::shippedRecipe(called)) return *shipped;
  auto read = readRecipe(called);
  if (read || fs::exists(called)) return read;
  std::vector<std::string_view> known;
  for (const auto& shipped : demo::shippedRecipes()) known.push_back(shipped.key);
  return Error{
      fmt::format("there is no such file, and no recipe ships under that name{}", nearestWord(called, known)),
      called};
}

struct Laid {
  fs::path document;
  std::vector<std::string> missing;
  Document result;
};

Result<std::set<uint32_t>> partsOf(const Document& document, const std::vector<std::string>& names) {
  std::set<uint32_t> out;
  for (const std::string& name : names) {
    const auto part = partNamed(name, document);
    if (!part) return part.error();
    out.insert(*part);
  }
  return out;
}

Result<LaidRecipe> laid(const Document& document, const Recipe& recipe, const RecipeSetting& setting) {
  LayingSetting laying;
  laying.addPoints = !setting.asIs;
  auto parts = partsOf(document, setting.parts);
  if (!parts) return parts.error();
  laying.parts = std::move(*parts);
  auto out = layRecipe(document, recipe, laying);
  if (!out) return out;
  const auto stack = prepared(out->document.layers, *out->document.maps);
  if (!stack) return stack.error();
  for (const PreparedLayer& p : *stack)
    if (p.trouble)
      out->missing.push_back(fmt::format("“{}” does not show: {}", p.layer->name, p.trouble->message()));
    else if (p.source && !p.source->note().empty())
      out->missing.push_back(fmt::format("“{}”: {}", p.layer->name, p.source->note()));
  return out;
}

Result<Laid> laidOnDocument(const fs::path& file, const Recipe& recipe, const RecipeSetting& setting) {
  if (const auto user = userOf(file); user && !setting.evenIfOpen)
    return Error{fmt::format("is open in process {}; save and close it there, or say --even-if-open", *user)};
  auto work = openWork(file, false);
  if (!work) return work.error();
  auto out = laid(work->history.document(), recipe, setting);
  if (!out) return out.error();
  work->history.push(out->document, "Recipe: " + recipe.name);
  const std::vector<StepPointer> steps(work->history.steps().begin(), work->history.steps().end());
  if (const Outcome saved = work->store.write(steps, steps[work->history.current()]->id); !saved)
    return saved.error();
  return Laid{file, std::move(out->missing), std::move(out->document)};
}

Result<Laid> laidOnSculpt(const fs::path& file, const Recipe& recipe, const RecipeSetting& setting) {
  const auto document = documentOver(file);
  if (!document) return document.error();
  auto out = laid(*document, recipe, setting);
  if (!out) return out.error();
  const fs::path folder = setting.folder.empty() ? file.parent_path() : setting.folder;
  const fs::path to = folder / fs::path(file.stem()).concat(".juvenor");
  if (fs::exists(to)) return Error{fmt::format("'{}' is there already", to.string())};
  if (const Outcome saved = saveNew(to, out->document, "Recipe: " + recipe.name); !saved)
    return saved.error();
  return Laid{to, std::move(out->missing), std::move(out->document)};
}

// All pictures in rows, in the order they were named.
Outcome writeContactSheet(const fs::path& path, const std::vector<std::vector<uint32_t>>& tiles) {
  const int columns = std::max(1, static_cast<int>(std::ceil(std::sqrt(static_cast<double>(tiles.size()))))),
            rows = (static_cast<int>(tiles.size()) + columns - 1) / columns;
  const ViewSize size{columns * kTileSize.width, rows * kTileSize.height};
  std::vector<uint32_t> pixels(static_cast<size_t>(size.width) * static_cast<size_t>(size.height),
                               kSheetGrey);
  for (size_t t = 0; t < tiles.size(); ++t) {
    const size_t left = t % static_cast<size_t>(columns) * static_cast<size_t>(kTileSize.width),
                 top = t / static_cast<size_t>(columns) * static_cast<size_t>(kTileSize.height);
    for (size_t y = 0; y < static_cast<size_t>(kTileSize.height); ++y)
      std::copy_n(
          tiles[t].begin() + static_cast<std::ptrdiff_t>(y * static_cast<size_t>(kTileSize.width)),
          kTileSize.width,
          pixels.begin() + static_cast<std::ptrdiff_t>((top + y) * static_cast<size_t>(size.width) + left));
  }
  return writePicture(path, size, pixels);
}

}  // namespace

Outcome recipeList() {
  json out = json::array();
  for (const auto& [key, recipe] : demo::shippedRecipes())
    out.push_back(
        {{"key", key}, {"name", recipe.name}, {"about", recipe.about}, {"layers", recipe.layers.size()}});
  std::cout << textOf(out, 2) << "\n";
  return Done{};
}

Outcome recipeSave(const fs::path& file, const fs::path& out, const RecipeSetting& setting) {
  const auto document = documentIn(file);
  if (!document) return document.error();
  std::vector<uint32_t> ids;
  for (const std::string& name : setting.layers) {
    const auto id = layerFor({{"layer", name}}, *document);
    if (!id) return id.error();
    ids.push_back(*id);
  }
  if (ids.empty())
    for (const LayerPointer& layer : document->layers)
      if (!layer->source->fields()) ids.push_back(layer->id);
  auto taken = takeRecipe(*document, ids, setting.name.empty() ? out.stem().string() : setting.name);
  if (!taken) return taken.error();
  taken->recipe.about = setting.about;
  const auto pixels = portraitOf(*document, kPictureSize);
  if (!pixels) return pixels.error();
  auto png = encodePng(kPictureSize, *pixels);
  if (!png) return png.error();
  taken->recipe.picture = std::move(*png);
  if (const Outcome written = writeRecipe(out, taken->recipe); !written) return written;
  const json said{{"recipe", out.string()}, {"layers", taken->recipe.layers.size()}, {"left", taken->left}};
  std::cout << textOf(said, 2) << "\n";
  return Done{};
}

Outcome recipeApply(const std::string& called, const std::vector<std::string>& onto,
                    const RecipeSetting& setting) {
  const auto recipe = recipeCalled(called);
  if (!recipe) return recipe.error();
  json told = json::array();
  std::vector<std::vector<uint32_t>> tiles;
  std::vector<std::string> failed;
  for (const std::string& name : onto) {
    const fs::path file(name);
    auto done =
        isDocument(file) ? laidOnDocument(file, *recipe, setting) : laidOnSculpt(file, *recipe, setting);
    if (!done) {
      told.push_back({{"onto", name}, {"error", done.error().message()}});
      failed.push_back(name);
      continue;
    }
    told.push_back({{"onto", name},
                    {"document", done->document.string()},
                    {"points", done->result.surface->size()},
                    {"missing", done->missing}});
    if (setting.contact.empty()) continue;
    auto pixels = portraitOf(done->result, kTileSize);
    if (!pixels) return pixels.error();
    told.back()["place on contact sheet"] = tiles.size() + 1;
    tiles.push_back(std::move(*pixels));
  }
  if (!tiles.empty())
    if (const Outcome written = writeContactSheet(setting.contact, tiles); !written) return written;
  std::cout << textOf(told, 2) << "\n";
  if (failed.empty()) return Done{};
  return Error{fmt::format("could not be laid on {}", fmt::join(failed, ", "))};
}

}  // namespace juvenor::batch
