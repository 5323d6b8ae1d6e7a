// Recipes: layers that work themselves out, saved to be laid on other sculpts. Lengths are told by the height
// of the head and places from the landmarks, so that they fit whatever they are laid on; maps, zones and
// patterns are worked out afresh there. What was painted stays behind.
#pragma once

#include <filesystem>

#include "core/document/document.h"
#include "core/progress.h"

namespace juvenor {

struct RecipeLayer {
  /// With lengths in heights of the head and places from the middle of the landmarks; without a mask. Its
  /// number is its place in the recipe, from 1; groups are named by theirs.
  LayerPointer layer;
  bool leaveOut = false;  ///< the usual places are left out with a mask: lids, lips, eyes, teeth

  bool operator==(const RecipeLayer& other) const;
};

struct Recipe {
  std::string name, about;
  float spacing = 0;                ///< of points, heights of the head, that its finest forms want; 0: any
  std::vector<Landmark> landmarks;  ///< those that were placed, as layers' places are told
  std::vector<RecipeLayer> layers;  ///< bottom first
  std::string picture;              ///< PNG; may be empty
  bool forPart = false;             ///< meant for a part: teeth, nails, a tongue

  bool operator==(const Recipe&) const = default;
};

/// A recipe, and what could not come with it, a line each.
struct TakenRecipe {
  Recipe recipe;
  std::vector<std::string> left;
};
/// The layers with these ids as a recipe; an error when none of them works itself out. No picture.
Result<TakenRecipe> takeRecipe(const Document& document, std::span<const uint32_t> layers, std::string name);

struct LayingSetting {
  bool addPoints = true;          ///< where the skin it lies on is too coarse for its finest forms
  size_t mostPoints = 8'000'000;  ///< there may be afterwards
  std::set<uint32_t> parts;       ///< it lies on these alone; empty: on all that are skin by their names
};
/// A document with the recipe's layers on top of their strata, and what could not be found there, a line
/// each.
struct LaidRecipe {
  Document document;
  std::vector<std::string> missing;
};
Result<LaidRecipe> layRecipe(const Document& document, const Recipe& recipe,
                             const LayingSetting& setting = {}, const Progress& progress = {});

nlohmann::json toJson(const Recipe& recipe);
/// All but the picture. The error says what is wrong.
Result<Recipe> recipeFrom(const nlohmann::json& json);

inline constexpr int kRecipeFormat = 1;
inline constexpr std::string_view kRecipeEnding = ".juvenor-recipe";

/// A zip with `recipe.json` and, when there is one, `picture.png` (docs/recipes.md). Written beside and
/// renamed.
Outcome writeRecipe(const std::filesystem::path& path, const Recipe& recipe);
Result<Recipe> readRecipe(const std::filesystem::path& path);

}  // namespace juvenor
