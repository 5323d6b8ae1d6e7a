// The kinds of layer this program knows.
#include <fmt/format.h>

#include "core/layers/source.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/painted.h"
#include "core/layers/sources/ramp.h"
#include "core/layers/sources/zones.h"

namespace juvenor {
namespace {

struct Kind {
  std::string_view key;
  Result<SourcePointer> (*read)(const nlohmann::json&, size_t);
};

constexpr Kind kKinds[] = {
    {"painted", readPainted},
    {"fill", readFill},
    {"ramp", readRamp},
    {"zones", readZones},
};

}  // namespace

Result<SourcePointer> makeSource(std::string_view kind, const nlohmann::json& parameters, size_t samples) {
  for (const Kind& k : kKinds)
    if (k.key == kind) return k.read(parameters, samples);
  return Error{fmt::format("a layer of kind '{}' is not known to this version", kind)};
}

}  // namespace juvenor
