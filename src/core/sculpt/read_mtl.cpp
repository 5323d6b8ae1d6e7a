// MTL, as its published description has it (map_Kd, map_Bump, Kd …), with map_Pr, map_Pm and norm for
// roughness, metal and normals (common practice). Options of maps are passed over but for -o and -s, which
// move the UVs.
#include "core/sculpt/read_mtl.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <sstream>

#include "core/files.h"

namespace juvenor {
namespace {

namespace fs = std::filesystem;

// How many words an option takes.
int wordsOf(const std::string& option) {
  if (option == "-mm") return 2;
  if (option == "-o" || option == "-s" || option == "-t") return 3;
  return 1;
}

bool isNumber(const std::string& word) {
  return !word.empty() && word.find_first_not_of("+-.0123456789eE") == std::string::npos;
}

class Libraries {
 public:
  Libraries(BroughtMaterials& out, const fs::path& folder, std::vector<std::string>& remarks)
      : out_(out), folder_(folder), remarks_(remarks) {}

  void read(const std::string& library) {
    if (!liesWithin(folder_, library)) {
      remarks_.push_back(
          fmt::format("the materials “{}” are not there, or outside the file's folder", library));
      return;
    }
    const auto text = readBytes(folder_ / library);
    if (!text) return remarks_.push_back(text.error().message());
    std::istringstream lines(*text);
    BroughtMaterial* now = nullptr;
    for (std::string line; std::getline(lines, line);) {
      std::istringstream words(line);
      std::string key;
      if (!(words >> key)) continue;
      if (key == "newmtl") {
        std::string name;
        std::getline(words >> std::ws, name);
        while (!name.empty() && std::isspace(static_cast<unsigned char>(name.back()))) name.pop_back();
        const auto found = std::ranges::find(out_.materials, name, &BroughtMaterial::name);
        now = found == out_.materials.end() ? nullptr : &*found;
      } else if (now) {
        statement(key, words, *now);
      }
    }
  }

 private:
  void statement(const std::string& key, std::istringstream& words, BroughtMaterial& m) {
    const auto number = [&] {
      float v = 0;
      return words >> v ? std::clamp(v, 0.f, 1.f) : 1.f;
    };
    if (key == "Kd") {
      for (int c = 0; c < 3; ++c) m.colorFactor[c] = number();
    } else if (key == "Pr") {
      m.roughnessFactor = number();
    } else if (key == "Pm") {
      m.metalFactor = number();
    } else if (key == "Ke") {
      for (int c = 0; c < 3; ++c) m.emissionFactor[c] = number();
    } else if (key == "map_Ke") {
      m.emission = texture(words);
    } else if (key == "map_Kd") {
      m.baseColor = texture(words);
    } else if (key == "map_Pr") {
      m.roughness = texture(words);
    } else if (key == "map_Pm") {
      m.metal = texture(words);
    } else if (key == "norm" || key == "map_Kn") {
      m.normal = texture(words);
    }
  }

  BroughtTexture texture(std::istringstream& words) {
    BroughtTexture out;
    Vec2 scale(1, 1), offset(0, 0);
    std::string word, name;
    while (words >> word) {
      if (word.starts_with("-") && !isNumber(word)) {
        int left = wordsOf(word);
        Vec2& into = word == "-s" ? scale : offset;
        const bool moves = word == "-o" || word == "-s";
        for (int i = 0; i < left; ++i) {
          const auto before = words.tellg();
          std::string value;
          if (!(words >> value)) break;
          // one or two of three numbers may be left out
          if (left == 3 && !isNumber(value)) {
            words.seekg(before);
            break;
          }
          if (moves && i < 2) into[i] = std::strtof(value.c_str(), nullptr);
        }
        continue;
      }
      name += (name.empty() ? "" : " ") + word;
    }
    if (name.empty() || !scale.allFinite() || !offset.allFinite()) return out;
    std::ranges::replace(name, '\\', '/');
    // v goes up there: 1 − (s (1 − v) + o)
    out.matrix = scale.asDiagonal();
    out.offset = {offset.x(), 1 - scale.y() - offset.y()};
    out.picture = pictureOf(name);
    return out;
  }

  int pictureOf(const std::string& name) {
    const auto known = std::ranges::find(out_.pictures, name, &MaterialPicture::name);
    if (known != out_.pictures.end()) return static_cast<int>(known - out_.pictures.begin());
    MaterialPicture made{name, {}};
    if (liesWithin(folder_, name)) {
      if (auto bytes = readBytes(folder_ / name)) made.bytes = std::move(*bytes);
    }
    if (made.bytes.empty())
      remarks_.push_back(
          fmt::format("the texture “{}” is not there, empty, or outside the file's folder", name));
    out_.pictures.push_back(std::move(made));
    return static_cast<int>(out_.pictures.size()) - 1;
  }

  BroughtMaterials& out_;
  const fs::path& folder_;
  std::vector<std::string>& remarks_;
};

}  // namespace

void readMaterialLibraries(Sculpt& sculpt, const fs::path& folder) {
  if (!sculpt.materials) return;
  BroughtMaterials out = *sculpt.materials;
  std::vector<std::string> libraries;
  for (const MaterialPicture& named : out.pictures) libraries.push_back(named.name);
  out.pictures.clear();
  Libraries reading(out, folder, sculpt.remarks);
  for (const std::string& library : libraries) reading.read(library);
  // where there is a picture Kd is often nothing (common practice): the picture says it all
  for (BroughtMaterial& m : out.materials)
    if (m.baseColor.picture >= 0) m.colorFactor = Vec3::Ones();
  const bool any =
      std::ranges::any_of(out.pictures, [](const MaterialPicture& p) { return !p.bytes.empty(); });
  sculpt.materials = any ? std::make_shared<const BroughtMaterials>(std::move(out)) : nullptr;
}

}  // namespace juvenor
