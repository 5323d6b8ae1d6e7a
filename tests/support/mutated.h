// Files damaged as discs, networks and malice damage them, the same ones every time for a number.
#pragma once

#include <cstdlib>
#include <random>
#include <string>
#include <string_view>

namespace juvenor::test {

/// One to six damages of the bytes: bits, bytes and words turned into ends of their ranges, digits into other
/// numbers, pieces lost, doubled, exchanged, put in from elsewhere, and an end that is missing.
inline std::string mutated(std::string bytes, uint32_t number) {
  std::mt19937 random(number);
  const auto below = [&](size_t n) { return n > 0 ? random() % n : 0; };
  // half of all damage is done where files say what they hold
  const auto place = [&] { return below(random() % 2 ? std::min<size_t>(bytes.size(), 400) : bytes.size()); };
  const auto length = [&](size_t at) {
    return 1 + below(std::min<size_t>(bytes.size() - at, 1 + (1u << below(12))));
  };
  for (size_t damages = 1 + below(6); damages > 0 && !bytes.empty(); --damages) {
    const size_t at = place();
    switch (random() % 9) {
      case 0:
        bytes[at] = static_cast<char>(bytes[at] ^ 1 << below(8));
        break;
      case 1:
        bytes[at] = "\0\x7f\x80\xff"[below(4)];
        break;
      case 2: {
        constexpr std::string_view kEnds[] = {"\0\0\0\0",   "\xff\xff\xff\xff", "\xff\xff\xff\x7f",
                                              "\0\0\0\x80", "\0\0\x80\x7f",     "\0\0\xc0\x7f",
                                              "\x01\0\0\0", "\0\0\0\x10"};
        bytes.replace(at, std::min<size_t>(4, bytes.size() - at), std::string(kEnds[below(8)].data(), 4));
        break;
      }
      case 3: {
        const size_t digit = bytes.find_first_of("0123456789", at);
        constexpr std::string_view kNumbers[] = {"-1",    "0",   "4294967296", "9223372036854775807",
                                                 "1e308", "nan", "-0.0"};
        if (digit != std::string::npos) bytes.replace(digit, 1, kNumbers[below(7)]);
        break;
      }
      case 4:
        bytes.erase(at, length(at));
        break;
      case 5:
        bytes.insert(at, bytes.substr(at, length(at)));
        break;
      case 6: {
        const size_t other = place(), much = std::min({length(at), bytes.size() - at, bytes.size() - other});
        std::swap_ranges(bytes.begin() + static_cast<std::ptrdiff_t>(at),
                         bytes.begin() + static_cast<std::ptrdiff_t>(
                                             at + (at + much <= other || other + much <= at ? much : 0)),
                         bytes.begin() + static_cast<std::ptrdiff_t>(other));
        break;
      }
      case 7: {
        const char what = "{[\"\n ,\\\xff"[below(8)];
        bytes.insert(at, std::string(1 + below(40), what));
        break;
      }
      default:
        if (random() % 4 == 0) bytes.resize(at);
    }
  }
  return bytes;
}

/// How many of a kind are tried: what the variable says, or the number usual in `./run-tests`.
inline uint32_t wantedNumber(const char* variable, uint32_t usual) {
  const char* said = std::getenv(variable);
  return said ? static_cast<uint32_t>(std::strtoul(said, nullptr, 10)) : usual;
}

}  // namespace juvenor::test
