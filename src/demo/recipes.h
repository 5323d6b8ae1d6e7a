// The recipes that ship: skins to lay on any head as they are, or to begin with.
#pragma once

#include "core/recipe/recipe.h"

namespace juvenor::demo {

struct ShippedRecipe {
  std::string_view key;  ///< as a word in the shell: "weathered-keeper"
  Recipe recipe;         ///< without a picture
};
const std::vector<ShippedRecipe>& shippedRecipes();
/// Null for a key that is not known.
const Recipe* shippedRecipe(std::string_view key);

}  // namespace juvenor::demo
