// The shape of a dab: which samples it reaches, how strongly each, and what values of its own it brings
// there. Where paint may go at all is the footprint's business (parts, front, reach), what it does there the
// ink's: every tip works with every ink. A new tip is one file in tips/ and one case in tips/make.cpp.
#pragma once

#include <memory>

#include "core/brush/footprint.h"

namespace juvenor {

/// One for each stroke: a spray remembers where its dots lie.
class Tip {
 public:
  virtual ~Tip() = default;
  virtual void find(const Surface& surface, Flood& flood, const Dab& dab, Footprint& out) = 0;
  /// Whether it goes on working while the pen stands still.
  virtual bool flows() const { return false; }
};

/// What the brush says.
std::unique_ptr<Tip> makeTip(const Brush& brush);

std::unique_ptr<Tip> makeFalloffTip();
std::unique_ptr<Tip> makeStampTip(const StampTip& setting, float hardness);
std::unique_ptr<Tip> makeSprayTip(const SprayTip& setting, const Spread& spread);

}  // namespace juvenor
