// The artist's own recipes, below their data folder.
#pragma once

#include "core/recipe/recipe.h"

namespace juvenor {

std::filesystem::path recipeFolder();

struct KeptRecipe {
  std::filesystem::path file;
  Recipe recipe;
};
struct KeptRecipes {
  std::vector<KeptRecipe> recipes;  ///< by file name
  std::vector<Error> unreadable;    ///< left where they are
};
KeptRecipes keptRecipes(const std::filesystem::path& folder);

/// Writes it under its name, beside any other of that name; gives the file.
Result<std::filesystem::path> keepRecipe(const std::filesystem::path& folder, const Recipe& recipe);

}  // namespace juvenor
