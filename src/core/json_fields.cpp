#include "core/json_fields.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/shortened.h"

namespace juvenor {

using nlohmann::json;

Outcome notTooDeep(std::string_view text) {
  size_t depth = 0;
  bool quoted = false;
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (quoted && c == '\\')
      ++i;
    else if (c == '"')
      quoted = !quoted;
    else if (!quoted && (c == '[' || c == '{') && ++depth > kDeepestJson)
      return Error{fmt::format("is nested more than {} brackets deep at byte {}", kDeepestJson, i)};
    else if (!quoted && (c == ']' || c == '}') && depth > 0)
      --depth;
  }
  return Done{};
}

Result<json> parsedJson(std::string_view text) {
  if (const Outcome sound = notTooDeep(text); !sound) return sound.error();
  try {
    return json::parse(text);
  } catch (const json::exception& e) {
    return Error{fmt::format("is no JSON ({})", shortened(e.what()))};
  }
}

json parsedOrNull(std::string_view text) {
  auto out = parsedJson(text);
  return out ? std::move(*out) : json();
}

std::string textOf(const json& j, int indent) {
  return j.dump(indent, ' ', false, json::error_handler_t::replace);
}

std::optional<float> numberFromJson(const json& j) {
  if (!j.is_number()) return std::nullopt;
  const double value = j.get<double>();
  if (!(std::abs(value) <= static_cast<double>(std::numeric_limits<float>::max()))) return std::nullopt;
  return static_cast<float>(value);
}

std::optional<Vec3> vectorFromJson(const json& j) {
  if (!j.is_array() || j.size() != 3) return std::nullopt;
  Vec3 out;
  for (int k = 0; k < 3; ++k) {
    const auto v = numberFromJson(j[static_cast<size_t>(k)]);
    if (!v) return std::nullopt;
    out[k] = *v;
  }
  return out;
}

namespace {

// How many letters must be put in, left out or changed (Levenshtein 1966).
size_t slips(std::string_view a, std::string_view b) {
  std::vector<size_t> row(b.size() + 1);
  std::iota(row.begin(), row.end(), size_t{0});
  for (size_t i = 1; i <= a.size(); ++i) {
    size_t diagonal = std::exchange(row[0], i);
    for (size_t k = 1; k <= b.size(); ++k) {
      const size_t changed = diagonal + (a[i - 1] != b[k - 1]);
      diagonal = row[k];
      row[k] = std::min({row[k] + 1, row[k - 1] + 1, changed});
    }
  }
  return row.back();
}

}  // namespace

std::string nearestWord(std::string_view word, std::span<const std::string_view> known) {
  if (known.empty()) return {};
  const auto nearest =
      std::ranges::min_element(known, {}, [&](std::string_view k) { return slips(word, k); });
  if (slips(word, *nearest) <= std::max<size_t>(2, nearest->size() / 2))
    return fmt::format("; did you mean \"{}\"?", *nearest);
  return fmt::format("; known are {}", fmt::join(known, ", "));
}

JsonFields::JsonFields(const json& j) : json_(j) {
  if (!j.is_object()) error_ = Error{"is not an object"};
}

bool JsonFields::has(std::string_view key) const {
  return json_.is_object() && json_.contains(key);
}

const json* JsonFields::at(std::string_view key) {
  asked_.push_back(key);
  if (error_ || !json_.contains(key)) return nullptr;
  return &json_[key];
}

void JsonFields::wrong(std::string_view key, std::string_view expected) {
  if (!error_) error_ = Error{fmt::format("needs {} as \"{}\"", expected, key)};
}

JsonFields& JsonFields::number(std::string_view key, float& out, float low, float high) {
  if (const json* j = at(key)) {
    if (const auto value = numberFromJson(*j))
      out = std::clamp(*value, low, high);
    else
      wrong(key, "a number");
  }
  return *this;
}

std::optional<uint64_t> JsonFields::wholeAt(std::string_view key, uint64_t high) {
  const json* j = at(key);
  if (!j) return std::nullopt;
  if (j->is_number_unsigned() && j->get<uint64_t>() <= high) return j->get<uint64_t>();
  wrong(key, fmt::format("a whole number from 0 to {}", high));
  return std::nullopt;
}

JsonFields& JsonFields::text(std::string_view key, std::string& out) {
  if (const json* j = at(key)) {
    if (j->is_string())
      out = j->get<std::string>();
    else
      wrong(key, "a text");
  }
  return *this;
}

JsonFields& JsonFields::flag(std::string_view key, bool& out) {
  if (const json* j = at(key)) {
    if (j->is_boolean())
      out = j->get<bool>();
    else
      wrong(key, "true or false");
  }
  return *this;
}

JsonFields& JsonFields::vector(std::string_view key, Vec3& out) {
  if (const json* j = at(key)) {
    if (const auto value = vectorFromJson(*j))
      out = *value;
    else
      wrong(key, "three numbers");
  }
  return *this;
}

JsonFields& JsonFields::list(std::string_view key, const json*& out) {
  out = at(key);
  if (out && !out->is_array()) {
    wrong(key, "a list");
    out = nullptr;
  }
  return *this;
}

JsonFields& JsonFields::any(std::string_view key, const json*& out) {
  out = at(key);
  return *this;
}

JsonFields& JsonFields::needs(std::initializer_list<std::string_view> keys) {
  for (const std::string_view key : keys)
    if (!error_ && !json_.contains(key)) error_ = Error{fmt::format("needs \"{}\"", key)};
  return *this;
}

Outcome JsonFields::done() const {
  if (error_) return *error_;
  for (const auto& [key, value] : json_.items())
    if (std::ranges::find(asked_, key) == asked_.end())
      return Error{fmt::format("has an unknown key \"{}\"{}", key, nearestWord(key, asked_))};
  return Done{};
}

}  // namespace juvenor
