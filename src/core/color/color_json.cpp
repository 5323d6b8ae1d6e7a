#include "core/color/color_json.h"

namespace juvenor {

nlohmann::json toJson(const EncodedColor& c) {
  return {c.r, c.g, c.b};
}

std::optional<EncodedColor> colorFromJson(const nlohmann::json& j) {
  if (j.is_string()) return fromHex(j.get<std::string>());
  const auto v = vectorFromJson(j);
  if (!v) return std::nullopt;
  const Vec3 inside = v->cwiseMax(0.f).cwiseMin(1.f);
  return EncodedColor{inside.x(), inside.y(), inside.z()};
}

}  // namespace juvenor
