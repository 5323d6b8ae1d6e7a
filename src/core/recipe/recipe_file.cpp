// Recipes as files: a zip (read and written by libzip) with JSON inside.
#include <fmt/format.h>
#include <zip.h>

#include <memory>

#include "core/files.h"
#include "core/json_fields.h"
#include "core/recipe/recipe.h"

namespace juvenor {
namespace fs = std::filesystem;
namespace {

constexpr const char *kText = "recipe.json", *kPicture = "picture.png";
// No recipe and no picture of one is larger.
constexpr zip_uint64_t kMostRecipeBytes = 64u << 20;

struct Archive {
  zip_t* zip = nullptr;
  ~Archive() {
    if (zip) zip_discard(zip);
  }
};

std::string wordsOf(zip_error_t& error) {
  std::string out = zip_error_strerror(&error);
  zip_error_fini(&error);
  return out;
}

// Empty when there is none of that name.
Result<std::string> member(zip_t* zip, const char* name) {
  const zip_int64_t at = zip_name_locate(zip, name, 0);
  if (at < 0) return std::string();
  zip_stat_t stat;
  zip_stat_init(&stat);
  const auto index = static_cast<zip_uint64_t>(at);
  if (zip_stat_index(zip, index, 0, &stat) != 0 || !(stat.valid & ZIP_STAT_SIZE))
    return Error{fmt::format("'{}' in it cannot be looked at", name)};
  if (stat.size > kMostRecipeBytes) return Error{fmt::format("'{}' in it is too large", name)};
  zip_file_t* file = zip_fopen_index(zip, index, 0);
  if (!file) return Error{fmt::format("'{}' in it cannot be opened: {}", name, zip_strerror(zip))};
  std::string out(stat.size, '\0');
  const zip_int64_t read = zip_fread(file, out.data(), out.size());
  const int closed = zip_fclose(file);  // checks the sum
  if (read != static_cast<zip_int64_t>(out.size()) || closed != 0)
    return Error{fmt::format("'{}' in it is damaged", name)};
  return out;
}

Outcome add(zip_t* zip, const char* name, const std::string& bytes) {
  zip_source_t* source = zip_source_buffer(zip, bytes.data(), bytes.size(), 0);
  if (!source) return Error{zip_strerror(zip)};
  const zip_int64_t at = zip_file_add(zip, name, source, ZIP_FL_OVERWRITE | ZIP_FL_ENC_UTF_8);
  if (at < 0) {
    zip_source_free(source);
    return Error{zip_strerror(zip)};
  }
  // the same recipe makes the same file
  zip_file_set_dostime(zip, static_cast<zip_uint64_t>(at), 0, 0x21, 0);
  return Done{};
}

Result<Recipe> recipeIn(const std::string& bytes) {
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
  if (!source) return Error{wordsOf(error)};
  Archive archive{zip_open_from_source(source, ZIP_RDONLY | ZIP_CHECKCONS, &error)};
  if (!archive.zip) {
    zip_source_free(source);
    return Error{"is no recipe: " + wordsOf(error)};
  }
  const auto text = member(archive.zip, kText);
  if (!text) return text.error();
  if (text->empty()) return Error{fmt::format("is no recipe: there is no '{}' in it", kText)};
  const auto json = parsedJson(*text);
  if (!json) return Error{fmt::format("'{}' in it {}", kText, json.error().what)};
  auto out = recipeFrom(*json);
  if (!out) return out;
  auto picture = member(archive.zip, kPicture);
  if (!picture) return picture.error();
  out->picture = std::move(*picture);
  return out;
}

}  // namespace

Outcome writeRecipe(const fs::path& path, const Recipe& recipe) {
  const std::string text = textOf(toJson(recipe), 2);
  zip_error_t error;
  zip_error_init(&error);
  // into memory first: what is on disk is replaced in one go
  zip_source_t* source = zip_source_buffer_create(nullptr, 0, 0, &error);
  if (!source) return Error{wordsOf(error), path.string()};
  zip_source_keep(source);
  const std::unique_ptr<zip_source_t, void (*)(zip_source_t*)> kept(source, zip_source_free);
  Archive archive{zip_open_from_source(source, ZIP_CREATE | ZIP_TRUNCATE, &error)};
  if (!archive.zip) {
    zip_source_free(source);
    return Error{wordsOf(error), path.string()};
  }
  Outcome done = add(archive.zip, kText, text);
  if (done && !recipe.picture.empty()) done = add(archive.zip, kPicture, recipe.picture);
  if (!done) return Error{done.error().what, path.string()};
  if (zip_close(archive.zip) != 0) return Error{zip_strerror(archive.zip), path.string()};
  archive.zip = nullptr;
  zip_stat_t stat;
  zip_stat_init(&stat);
  if (zip_source_stat(source, &stat) != 0 || zip_source_open(source) != 0)
    return Error{"cannot be put together", path.string()};
  std::string bytes(stat.size, '\0');
  const zip_int64_t read = zip_source_read(source, bytes.data(), bytes.size());
  zip_source_close(source);
  if (read != static_cast<zip_int64_t>(bytes.size())) return Error{"cannot be put together", path.string()};
  return writeBytes(path, bytes);
}

Result<Recipe> readRecipe(const fs::path& path) {
  const auto bytes = readBytes(path);
  if (!bytes) return bytes.error();
  auto out = recipeIn(*bytes);
  if (!out) return Error{out.error().what, path.string()};
  return out;
}

}  // namespace juvenor
