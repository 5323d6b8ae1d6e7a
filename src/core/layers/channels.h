// What a layer brings to the skin comes in channels. This is their one table: history, journal, store,
// refining, merging and the composite walk it and know nothing of a channel beyond its row.
#pragma once

#include <array>
#include <nlohmann/json.hpp>
#include <optional>
#include <string_view>
#include <tuple>
#include <type_traits>
#include <utility>

#include "core/json_fields.h"
#include "core/surface/field.h"

namespace juvenor {

/// The channels, in the order they are listed in the window: `DO(name)` for each. Their numbers stand in no
/// file.
#define JUVENOR_EACH_CHANNEL(DO) \
  DO(Color) DO(Gloss) DO(Relief) DO(Metal) DO(Glow) DO(Wander) DO(Coat) DO(Fuzz)

#define JUVENOR_NAME_OF_CHANNEL(name) name,
enum class Channel : uint8_t { JUVENOR_EACH_CHANNEL(JUVENOR_NAME_OF_CHANNEL) };
#undef JUVENOR_NAME_OF_CHANNEL
inline constexpr size_t kChannelCount = static_cast<size_t>(Channel::Fuzz) + 1;

/// How a layer's values meet those below.
enum class ChannelRule {
  Blend,  ///< colours by alpha and the layer's blend mode: four planes, as in ColorChunk
  Cover,  ///< a value by its cover: two planes, the value premultiplied by the cover, and the cover
  Add,    ///< heights add up: one plane, kLevel is none, a step is as high as the document states
};

/// Another way for a layer's values of one channel to meet those below, beside what its rule says.
enum class ChannelMode {
  Usual,     ///< covers, or heights add up; colour has blend modes
  Multiply,  ///< of covering channels: the value below times the layer's
  Higher,    ///< of heights: the higher of the two, where the layer has any
  Lower,     ///< the lower one
  Replace,   ///< the layer's in place of what is below
};
inline constexpr int kChannelModeCount = 5;
std::string_view channelModeKey(ChannelMode mode);
/// In the window.
std::string_view channelModeLabel(ChannelMode mode, ChannelRule rule);
std::optional<ChannelMode> channelModeFromKey(std::string_view key);
/// Whether it means anything to values of a rule.
constexpr bool hasMode(ChannelRule rule, ChannelMode mode) {
  return mode == ChannelMode::Usual || (rule == ChannelRule::Cover && mode == ChannelMode::Multiply) ||
         (rule == ChannelRule::Add && mode > ChannelMode::Multiply);
}

/// No height.
inline constexpr uint16_t kLevel = 32768;

constexpr int planesOf(ChannelRule rule) {
  return rule == ChannelRule::Blend ? 4 : rule == ChannelRule::Cover ? 2 : 1;
}

struct ChannelFacts {
  std::string_view key;    ///< in files and scripts
  std::string_view label;  ///< in the window
  std::string_view does;   ///< one line on what it is to skin
  ChannelRule rule;
  uint16_t bare;        ///< of Cover: the value where no layer covers, 65535 is one
  float leastStrength;  ///< of a layer, up to 1
  int field;            ///< its number in a document's file

  constexpr int planes() const { return planesOf(rule); }
};

/// Skin neither oily nor dry; common practice has roughness about one half.
inline constexpr uint16_t kBareGloss = 32768;

inline constexpr std::array<ChannelFacts, kChannelCount> kChannels{{
    {"color", "Colour", "What it looks like under any light", ChannelRule::Blend, 0, 0, 0},
    {"gloss", "Gloss", "How wet it looks: 0 dry to 100 % wet", ChannelRule::Cover, kBareGloss, 0, 2},
    {"relief", "Relief", "Fine height, shown as bump; it never moves a vertex", ChannelRule::Add, 0, -1, 4},
    {"metal", "Metal", "Armour, rings, fangs of gold; skin has none", ChannelRule::Cover, 0, 0, 3},
    {"glow", "Glow", "How strongly it shines with its own colour", ChannelRule::Cover, 0, 0, 5},
    {"wander", "Wander", "How far light wanders in it: 100 % as in skin, 0 in horn", ChannelRule::Cover,
     65535, 0, 6},
    {"coat", "Coat", "A clear wet film over it: slime, tears, varnish", ChannelRule::Cover, 0, 0, 7},
    {"fuzz", "Fuzz", "Down that catches light at the rim", ChannelRule::Cover, 0, 0, 8},
}};

constexpr const ChannelFacts& factsOf(Channel channel) {
  return kChannels[static_cast<size_t>(channel)];
}
std::optional<Channel> channelFromKey(std::string_view key);

template <Channel C>
using ChannelConstant = std::integral_constant<Channel, C>;

/// Calls `f` with each channel as a constant: `eachChannel([](auto c) { f<c()>(); })`.
template <class F>
constexpr void eachChannel(F f) {
  [&]<size_t... I>(std::index_sequence<I...>) {
    (f(ChannelConstant<static_cast<Channel>(I)>()), ...);
  }
  (std::make_index_sequence<kChannelCount>());
}

class ChannelSet {
 public:
  constexpr ChannelSet() = default;
  constexpr ChannelSet(Channel channel) : bits_(static_cast<uint8_t>(1u << static_cast<unsigned>(channel))) {}
  static constexpr ChannelSet all() {
    ChannelSet out;
    out.bits_ = (1u << kChannelCount) - 1;
    return out;
  }
  constexpr bool has(Channel c) const { return bits_ >> static_cast<unsigned>(c) & 1; }
  constexpr bool empty() const { return bits_ == 0; }
  constexpr ChannelSet operator|(ChannelSet o) const { return of(bits_ | o.bits_); }
  constexpr ChannelSet operator&(ChannelSet o) const { return of(bits_ & o.bits_); }
  constexpr ChannelSet& operator|=(ChannelSet o) { return *this = *this | o; }
  constexpr ChannelSet without(ChannelSet o) const { return of(bits_ & ~unsigned{o.bits_}); }
  constexpr bool operator==(const ChannelSet&) const = default;

 private:
  static constexpr ChannelSet of(unsigned bits) {
    ChannelSet out;
    out.bits_ = static_cast<uint8_t>(bits);
    return out;
  }
  uint8_t bits_ = 0;
};

template <Channel C>
using ChannelField = Field<factsOf(C).planes()>;

/// What reads where a source holds nothing.
template <Channel C>
constexpr typename ChannelField<C>::Value nothingOf() {
  if constexpr (factsOf(C).rule == ChannelRule::Add) return {kLevel};
  return {};
}

/// A field for each channel, all of one size; those never written cost nothing.
class ChannelFields {
 public:
  ChannelFields() : ChannelFields(size_t{0}) {}
  explicit ChannelFields(size_t samples);
  /// Colour alone.
  explicit ChannelFields(ColorField color);

  template <Channel C>
  const ChannelField<C>& get() const {
    return std::get<static_cast<size_t>(C)>(fields_);
  }
  template <Channel C>
  ChannelField<C>& get() {
    return std::get<static_cast<size_t>(C)>(fields_);
  }
  const ColorField& color() const { return get<Channel::Color>(); }
  ColorField& color() { return get<Channel::Color>(); }
  size_t size() const { return color().size(); }
  /// The channels any chunk was written of.
  ChannelSet written() const;

 private:
  template <class Indices>
  struct TupleOf;
  template <size_t... I>
  struct TupleOf<std::index_sequence<I...>> {
    using Type = std::tuple<ChannelField<static_cast<Channel>(I)>...>;
  };
  TupleOf<std::make_index_sequence<kChannelCount>>::Type fields_;
};

/// One value for each of some channels: what a pen lays, what a fill is made of.
struct ChannelValues {
  std::optional<EncodedColor> color;
  std::array<std::optional<float>, kChannelCount> number;  ///< of the others; a height in scene units

  ChannelValues() = default;
  /// Colour alone.
  ChannelValues(const EncodedColor& only) : color(only) {}
  ChannelValues(float r, float g, float b) : color(EncodedColor{r, g, b}) {}

  std::optional<float>& operator[](Channel c) { return number[static_cast<size_t>(c)]; }
  const std::optional<float>& operator[](Channel c) const { return number[static_cast<size_t>(c)]; }
  ChannelSet channels() const;
  bool operator==(const ChannelValues&) const = default;
};

/// A height in scene units as a document of this step keeps it; what is out of its reach is cut.
uint16_t height16(float height, float reliefStep);
inline float heightOf(uint16_t value, float reliefStep) {
  return (static_cast<float>(value) - kLevel) * reliefStep;
}

/// How far the highest or the lowest of some heights lies from none, scene units.
float highestOf(const ScalarField& heights, float reliefStep);

/// What a sample holds that is covered by a value.
template <Channel C>
typename ChannelField<C>::Value laid(const ChannelValues& values, float reliefStep) {
  if constexpr (factsOf(C).rule == ChannelRule::Blend) {
    const Rgba16 c = opaque16(values.color.value_or(EncodedColor{}));
    return {c.r, c.g, c.b, c.a};
  } else if constexpr (factsOf(C).rule == ChannelRule::Cover) {
    return {to16(values[C].value_or(0)), 65535};
  } else {
    return {height16(values[C].value_or(0), reliefStep)};
  }
}

/// Members "color", "gloss", … of the channels that have a value.
void addToJson(nlohmann::json& out, const ChannelValues& values);
/// Asks for those members; heights are given in scene units.
JsonFields& readChannels(JsonFields& fields, ChannelValues& out);
/// The names of those members.
std::array<std::string_view, kChannelCount> channelKeys();

/// Their keys, in their order.
nlohmann::json keysOf(ChannelSet channels);
/// A list of keys (null: none was given, and `out` stays); one at least, no name that is none.
Outcome readChannelSet(const nlohmann::json* list, ChannelSet& out);

}  // namespace juvenor
