#include "batch/kinds_command.h"

#include <fmt/format.h>

#include <iterator>

#include "core/layers/channels.h"
#include "core/layers/guides.h"
#include "core/layers/mask_steps.h"
#include "core/layers/source.h"

namespace juvenor::batch {
namespace {

std::string number(float v) {
  if (v >= kEndless) return "";
  if (v <= -kEndless) return "";
  return v == kLeastLength ? "above 0" : fmt::format("{:g}", v);
}

// "0…1", "0 and more", "any".
std::string rangeText(float least, float most) {
  const std::string low = number(least), high = number(most);
  if (low.empty() && high.empty()) return "any";
  if (high.empty()) return least == kLeastLength ? low : low + " and more";
  return low + "…" + high;
}

std::string_view unitText(MemberUnit unit) {
  switch (unit) {
    case MemberUnit::Part:
      return "part";
    case MemberUnit::Length:
      return "scene units";
    case MemberUnit::Degrees:
      return "degrees";
    case MemberUnit::Plain:
      return "";
  }
  return "";
}

std::string tableOf(const std::vector<MemberFacts>& members) {
  std::string out =
      "\n| Key | In the window | What it does | Unit | Range | Usual |\n|---|---|---|---|---|---|\n";
  for (const MemberFacts& m : members)
    fmt::format_to(std::back_inserter(out), "| `{}` | {} | {} | {} | {} | {:g} |\n", m.key, m.label, m.does,
                   unitText(m.unit), rangeText(m.least, m.most), m.usual);
  return out;
}

// What several kinds are set to.
struct Shared {
  std::string_view title, does;
  std::vector<MemberFacts> (*members)();
};
constexpr Shared kShared[] = {
    {"Areas", "Hue zones, where speckles gather, roots of veins, smaller patterns: each of the list `zones`.",
     allMembers<HueZone>},
    {"Terms of maps", "Masks, ramps and whatever follows maps: each of the list `maps`.",
     allMembers<MaskTerm>},
    {"Direction", "Which way patterns lie: `direction`.", allMembers<DirectionGuide>},
    {"Size", "How large patterns are where: `size`.", allMembers<SizeGuide>},
};

}  // namespace

std::string kindsText() {
  std::string out =
      "# Kinds of layers, their numbers, channels and steps of masks\n\n"
      "Printed by `juvenor-batch kinds`. The keys are those of files and scripts; *usual* is what a number "
      "is where "
      "nothing is\nsaid. Lengths of a new layer follow the sculpt. What is no plain number stands in "
      "[scripts](scripts.md).\n";
  const auto to = std::back_inserter(out);
  for (const SourceKind* kind : sourceKinds()) {
    if (!kind->members) continue;
    fmt::format_to(to, "\n## {}\n`{}`: {}.\n", kind->label, kind->key, kind->does);
    out += tableOf(kind->members());
  }
  for (const auto& [title, does, members] : kShared) {
    fmt::format_to(to, "\n## {}\n{}\n", title, does);
    out += tableOf(members());
  }
  fmt::format_to(to,
                 "\n## Channels\n\n| Key | In the window | What it is | Layers meet |\n|---|---|---|---|\n");
  for (const ChannelFacts& c : kChannels)
    fmt::format_to(to, "| `{}` | {} | {} | {} |\n", c.key, c.label, c.does,
                   c.rule == ChannelRule::Blend   ? "by alpha and blend mode"
                   : c.rule == ChannelRule::Cover ? "by how much they cover"
                                                  : "by adding up");
  fmt::format_to(to,
                 "\n## Steps of masks\n\n| Way | In the window | What it does | Size | Amount "
                 "|\n|---|---|---|---|---|\n");
  for (const MaskStepFacts& s : maskStepFacts())
    fmt::format_to(to, "| `{}` | {} | {} | {} | {} |\n", s.key, s.label, s.does, s.size,
                   s.amount.empty() ? "" : fmt::format("{}, {}", s.amount, rangeText(s.least, s.most)));
  return out;
}

}  // namespace juvenor::batch
