// What a tool does to the samples in its footprint. Where paint may go is the footprint's business alone, so
// every ink works with every brush. A new ink is one file in inks/ and one line in inks/registry.cpp.
#pragma once

#include <memory>
#include <optional>
#include <string_view>
#include <variant>
#include <vector>

#include "core/brush/footprint.h"
#include "core/layers/channels.h"

namespace juvenor {

/// The field a stroke is working on: chunks are copied on first touch, the values before the stroke stay at
/// hand, and each sample remembers how far the stroke has covered it. A guard lets its share of the stroke
/// through, whatever the ink: where it is half open every value ends half way between what it was and what
/// the ink made of it, however often the pen passes.
class WorkingField {
 public:
  using Any = std::variant<ColorField, CoverField, ScalarField>;

  /// `guard` (65535 free, 0 protected) must outlive this; null: all free. `keepsCover`: of fields with a
  /// cover (their last plane) that stays as it was, whatever the ink, and what it covers with changes.
  explicit WorkingField(Any field, const ScalarField* guard = nullptr, bool keepsCover = false);

  int planes() const { return planes_; }
  bool keepsCover() const { return keepsCover_; }

  /// One chunk in work; `before` and `now` have planes() entries of 4,096 values.
  struct Page {
    std::array<const uint16_t*, 4> before{};
    std::array<uint16_t*, 4> now{};  ///< as if there were no guard
    float* coverage = nullptr;
    std::array<float*, 4> laid{};      ///< what the stroke laid so far, times the coverage
    const uint16_t* guard = nullptr;   ///< null: all of the chunk is free
    bool held = false;                 ///< `shown` is not `now`
    std::array<uint16_t*, 4> shown{};  ///< what the guard lets through, up to date after takeTouched
  };
  /// The page of a sample's chunk, copied on first use.
  const Page& page(uint32_t sample);
  /// The value one sees now, without touching the chunk.
  uint16_t value(uint32_t sample, int plane) const;

  /// Chunks touched since the last call, ascending; for the composite. Brings the field up to date.
  std::vector<uint32_t> takeTouched();
  /// The field as it stood at the last takeTouched. Pages stay writable until finish.
  template <int Planes>
  const Field<Planes>& as() const {
    return std::get<Field<Planes>>(field_);
  }

 private:
  template <int P>
  void open(Field<P>& field, size_t chunk, Page& page);
  void letThrough(const Page& page) const;
  uint16_t shown(const Page& page, size_t i, int plane) const;

  int planes_;
  const ScalarField* guard_;
  bool keepsCover_;
  Any field_, before_;
  std::vector<Page> pages_;
  std::vector<std::unique_ptr<float[]>> scratch_;  ///< coverage, and what was laid of each plane
  std::vector<std::shared_ptr<const void>> kept_;
  std::vector<char> touched_;
};

/// What an ink is told at the start of a stroke; one works on one channel, or on a mask.
struct InkSetting {
  std::optional<Channel> channel = Channel::Color;     ///< none: a mask, where lay hides and erase shows
  ChannelValues paint;                                 ///< for inks that lay
  float reliefStep = 1;                                ///< scene units between two heights
  std::shared_ptr<const WorkingField::Any> kept = {};  ///< for inks that bring back: what
  float dither = 0.5f;  ///< 0…1, another for every stroke: what rounding adds, so that thin flow never stalls
};

class Ink {
 public:
  virtual ~Ink() = default;
  virtual void apply(const Surface& surface, const Dab& dab, const Footprint& footprint,
                     WorkingField& field) = 0;
};

struct InkKind {
  std::string_view key;    ///< in scripts: "lay"
  std::string_view label;  ///< in the history: "Lay"
  bool brings;             ///< anything to where there was nothing
  bool bringsBack;         ///< what was kept: InkSetting::kept
  std::unique_ptr<Ink> (*make)(const InkSetting& setting);
};

/// All inks, in the order of the kit.
std::span<const InkKind> inkKinds();
/// The ink of that key, or null.
const InkKind* inkKind(std::string_view key);

std::unique_ptr<Ink> makeLayInk(const InkSetting& setting);
std::unique_ptr<Ink> makeEraseInk(const InkSetting& setting);
std::unique_ptr<Ink> makeBlendInk(const InkSetting& setting);
std::unique_ptr<Ink> makeSmearInk(const InkSetting& setting);
std::unique_ptr<Ink> makeRestoreInk(const InkSetting& setting);

/// An ink that moves the stroke's coverage of its footprint on by the dab's flow, no further than its
/// opacity, and sets every sample to its value before the stroke moved by that coverage toward `target`.
using InkTarget = std::array<uint16_t, 4>;
std::unique_ptr<Ink> makeCoverInk(const InkTarget& target, float dither);

}  // namespace juvenor
