// Bytes as text (RFC 4648).
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace juvenor {

std::string toBase64(std::string_view bytes);
/// Nothing when it is not Base64.
std::optional<std::string> fromBase64(std::string_view text);

}  // namespace juvenor
