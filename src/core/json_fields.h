// Reads the members of a JSON object that nobody vouches for: a script, a step of a document, parameters of a
// layer. Every value is checked for its kind and range; the first that is wrong is told by its key, and a key
// nobody asked for is refused with the nearest known one.
#pragma once

#include <limits>
#include <nlohmann/json.hpp>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/result.h"
#include "core/vec.h"

namespace juvenor {

/// Three finite numbers, or nothing.
std::optional<Vec3> vectorFromJson(const nlohmann::json& json);
/// A finite number that a float can hold, or nothing.
std::optional<float> numberFromJson(const nlohmann::json& json);

/// How deep texts of others may be nested: what goes through such values calls itself at every level.
inline constexpr size_t kDeepestJson = 128;
/// An error when brackets are nested deeper than that, whatever else the text is.
Outcome notTooDeep(std::string_view text);
/// A text of JSON that nobody vouches for; the error says where it is none, or that it is nested too deep.
Result<nlohmann::json> parsedJson(std::string_view text);
/// The same for readers that tell themselves what they wanted: null where it is none.
nlohmann::json parsedOrNull(std::string_view text);

/// The text of it; names that are no UTF-8 get the sign for what cannot be read. `indent` −1: all in one
/// line.
std::string textOf(const nlohmann::json& json, int indent = -1);

/// The known word that is fewest slips of the pen away, in words for a message: `; did you mean "step"?`, or
/// the list of all when none is near.
std::string nearestWord(std::string_view word, std::span<const std::string_view> known);

/// How values of a kind of their own are read: nothing where they cannot be, and what was `expected` there.
template <class T>
struct JsonReader {
  std::optional<T> (*read)(const nlohmann::json& json);
  std::string_view expected;
};

class JsonFields {
 public:
  /// `json` must outlive this; anything but an object is an error.
  explicit JsonFields(const nlohmann::json& json);

  // Each leaves its value as it is when the key is not there, unless it is needed.

  /// Clamped to low…high.
  JsonFields& number(std::string_view key, float& out, float low, float high);
  /// A whole number from 0 up to `high`; anything else is an error.
  template <class T>
  JsonFields& whole(std::string_view key, T& out, uint64_t high = std::numeric_limits<T>::max()) {
    if (const auto value = wholeAt(key, high)) out = static_cast<T>(*value);
    return *this;
  }
  JsonFields& text(std::string_view key, std::string& out);
  JsonFields& flag(std::string_view key, bool& out);
  JsonFields& vector(std::string_view key, Vec3& out);
  /// Of a kind that says itself how it is read.
  template <class T>
  JsonFields& value(std::string_view key, T& out, const JsonReader<T>& reader) {
    if (const nlohmann::json* json = at(key)) {
      if (auto value = reader.read(*json))
        out = std::move(*value);
      else
        wrong(key, reader.expected);
    }
    return *this;
  }
  /// A list; null when it is not there.
  JsonFields& list(std::string_view key, const nlohmann::json*& out);
  /// Anything at all; null when it is not there. What it holds is checked by who reads it.
  JsonFields& any(std::string_view key, const nlohmann::json*& out);
  /// These keys must be there. Said after they were asked for.
  JsonFields& needs(std::initializer_list<std::string_view> keys);

  bool has(std::string_view key) const;
  /// What was wrong first, or that a key is there which nobody asked for.
  Outcome done() const;

 private:
  const nlohmann::json* at(std::string_view key);
  std::optional<uint64_t> wholeAt(std::string_view key, uint64_t high);
  void wrong(std::string_view key, std::string_view expected);

  const nlohmann::json& json_;
  std::vector<std::string_view> asked_;
  std::optional<Error> error_;
};

}  // namespace juvenor
