#include "core/base64.h"

#include <algorithm>
#include <array>
#include <cstdint>

namespace juvenor {
namespace {

constexpr std::string_view kLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

constexpr std::array<int8_t, 256> kValues = [] {
  std::array<int8_t, 256> out{};
  out.fill(-1);
  for (size_t i = 0; i < kLetters.size(); ++i)
    out[static_cast<unsigned char>(kLetters[i])] = static_cast<int8_t>(i);
  return out;
}();

}  // namespace

std::string toBase64(std::string_view bytes) {
  std::string out;
  out.reserve((bytes.size() + 2) / 3 * 4);
  for (size_t i = 0; i < bytes.size(); i += 3) {
    const size_t count = std::min<size_t>(3, bytes.size() - i);
    uint32_t word = 0;
    for (size_t k = 0; k < 3; ++k)
      word = word << 8 | (k < count ? static_cast<unsigned char>(bytes[i + k]) : 0u);
    for (size_t k = 0; k < 4; ++k) out += k <= count ? kLetters[word >> (18 - 6 * k) & 63] : '=';
  }
  return out;
}

std::optional<std::string> fromBase64(std::string_view text) {
  if (text.size() % 4 != 0) return std::nullopt;
  size_t padding = 0;
  while (padding < 2 && padding < text.size() && text[text.size() - 1 - padding] == '=') ++padding;
  std::string out;
  out.reserve(text.size() / 4 * 3);
  uint32_t word = 0;
  for (size_t i = 0; i < text.size(); ++i) {
    const bool pad = i >= text.size() - padding;
    const int value = pad ? 0 : kValues[static_cast<unsigned char>(text[i])];
    if (value < 0) return std::nullopt;
    word = word << 6 | static_cast<uint32_t>(value);
    if (i % 4 != 3) continue;
    for (int shift : {16, 8, 0}) out += static_cast<char>(word >> shift & 255);
    word = 0;
  }
  out.erase(out.size() - std::min(padding, out.size()));
  return out;
}

}  // namespace juvenor
