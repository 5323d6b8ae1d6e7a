#include "core/recipe/recipe_folder.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/user_folders.h"

namespace juvenor {
namespace fs = std::filesystem;

fs::path recipeFolder() {
  return dataFolder() / "recipes";
}

KeptRecipes keptRecipes(const fs::path& folder) {
  KeptRecipes out;
  std::error_code failed;
  std::vector<fs::path> files;
  for (fs::directory_iterator it(folder, failed), end; !failed && it != end; it.increment(failed))
    if (it->path().extension() == kRecipeEnding) files.push_back(it->path());
  std::ranges::sort(files);
  for (const fs::path& file : files) {
    auto recipe = readRecipe(file);
    if (recipe)
      out.recipes.push_back({file, std::move(*recipe)});
    else
      out.unreadable.push_back(recipe.error());
  }
  return out;
}

Result<fs::path> keepRecipe(const fs::path& folder, const Recipe& recipe) {
  std::error_code failed;
  fs::create_directories(folder, failed);
  if (failed) return Error{"cannot be made (" + failed.message() + ")", folder.string()};
  // what no file system takes in a name is a dash
  std::string stem = recipe.name.empty() ? "recipe" : recipe.name.substr(0, 80);
  std::ranges::replace_if(
      stem, [](char c) { return c == '/' || c == '\\' || static_cast<unsigned char>(c) < 32; }, '-');
  if (stem.front() == '.') stem.front() = '-';
  fs::path file;
  for (int number = 1; file.empty() || fs::exists(file, failed); ++number)
    file = folder / (number == 1 ? fmt::format("{}{}", stem, kRecipeEnding)
                                 : fmt::format("{} {}{}", stem, number, kRecipeEnding));
  if (const Outcome written = writeRecipe(file, recipe); !written) return written.error();
  return file;
}

}  // namespace juvenor
