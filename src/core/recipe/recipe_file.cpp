// Recipes as files: a zip with JSON inside.
#include <fmt/format.h>

#include "core/files.h"
#include "core/json_fields.h"
#include "core/recipe/recipe.h"
#include "core/zip_archive.h"

namespace juvenor {
namespace fs = std::filesystem;
namespace {

constexpr const char *kText = "recipe.json", *kPicture = "picture.png";
// No recipe and no picture of one is larger.
constexpr size_t kMostRecipeBytes = 64u << 20;

Result<Recipe> recipeIn(const std::string& bytes) {
  const auto archive = ZipReader::open(bytes);
  if (!archive) return Error{"is no recipe: " + archive.error().what};
  const auto text = archive->read(kText, kMostRecipeBytes);
  if (!text) return text.error();
  if (text->empty()) return Error{fmt::format("is no recipe: there is no '{}' in it", kText)};
  const auto json = parsedJson(*text);
  if (!json) return Error{fmt::format("'{}' in it {}", kText, json.error().what)};
  auto out = recipeFrom(*json);
  if (!out) return out;
  auto picture = archive->read(kPicture, kMostRecipeBytes);
  if (!picture) return picture.error();
  out->picture = std::move(*picture);
  return out;
}

}  // namespace

Outcome writeRecipe(const fs::path& path, const Recipe& recipe) {
  std::vector<ZipEntry> entries{{kText, textOf(toJson(recipe), 2)}};
  if (!recipe.picture.empty()) entries.push_back({kPicture, recipe.picture});
  // into memory first: what is on disk is replaced in one go
  const auto bytes = zipped(entries);
  if (!bytes) return Error{bytes.error().what, path.string()};
  return writeBytes(path, *bytes);
}

Result<Recipe> readRecipe(const fs::path& path) {
  const auto bytes = readBytes(path);
  if (!bytes) return bytes.error();
  auto out = recipeIn(*bytes);
  if (!out) return Error{out.error().what, path.string()};
  return out;
}

}  // namespace juvenor
