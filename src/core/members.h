// The numbers a kind of layer is set to, each said once: files and scripts, their ranges, which of them are
// lengths, the pages of the window and the docs all come from the kind's table.
#pragma once

#include <algorithm>
#include <nlohmann/json.hpp>
#include <span>
#include <string_view>
#include <vector>

#include "core/json_fields.h"

namespace juvenor {

enum class MemberUnit : uint8_t {
  Part,    ///< 0…1, shown in per cent
  Length,  ///< scene units, shown in millimetres
  Degrees,
  Plain,  ///< a number by itself
};

/// A length there is no end to.
inline constexpr float kEndless = 1e9f;
/// The least of lengths that cannot be none.
inline constexpr float kLeastLength = 1e-6f;

struct MemberFacts {
  std::string_view key;    ///< in files and scripts
  std::string_view label;  ///< in the window
  std::string_view does;   ///< one line
  MemberUnit unit = MemberUnit::Part;
  float least = 0, most = 1;  ///< what files may say; what is beyond is cut
  float from = 0, to = 0;     ///< what a slider offers, lengths in diagonals of the sculpt; both 0: all of it
  float usual = 0;            ///< where nothing is said; set by `allMembers`
};

/// A number of a kind of settings.
template <class Kind>
struct Member {
  MemberFacts facts;
  float& (*of)(Kind&);
};

/// The table of a kind, in the order its page shows them; said beside its settings.
template <class Kind>
std::span<const Member<Kind>> membersOf();

template <class Kind>
float memberOf(const Member<Kind>& member, const Kind& kind) {
  return member.of(const_cast<Kind&>(kind));
}

/// The row with a key, which is there.
template <class Kind>
const Member<Kind>& memberWith(std::string_view key) {
  return *std::ranges::find(membersOf<Kind>(), key, [](const Member<Kind>& m) { return m.facts.key; });
}

/// Their facts, with what each is where nothing is said.
template <class Kind>
std::vector<MemberFacts> allMembers() {
  std::vector<MemberFacts> out;
  const Kind fresh;
  for (const Member<Kind>& m : membersOf<Kind>()) {
    out.push_back(m.facts);
    out.back().usual = memberOf(m, fresh);
  }
  return out;
}

template <class Kind>
void addMembers(nlohmann::json& out, const Kind& kind) {
  for (const Member<Kind>& m : membersOf<Kind>()) out[std::string(m.facts.key)] = memberOf(m, kind);
}

/// Asks for all of them.
template <class Kind>
JsonFields& readMembers(JsonFields& fields, Kind& kind) {
  for (const Member<Kind>& m : membersOf<Kind>())
    fields.number(m.facts.key, m.of(kind), m.facts.least, m.facts.most);
  return fields;
}

/// Their keys after others; made once.
template <class Kind>
std::vector<std::string_view> keysWith(std::vector<std::string_view> others) {
  for (const Member<Kind>& m : membersOf<Kind>()) others.push_back(m.facts.key);
  return others;
}

/// Those that are lengths.
template <class Kind>
std::vector<std::string_view> lengthsOf() {
  std::vector<std::string_view> out;
  for (const Member<Kind>& m : membersOf<Kind>())
    if (m.facts.unit == MemberUnit::Length) out.push_back(m.facts.key);
  return out;
}

}  // namespace juvenor
