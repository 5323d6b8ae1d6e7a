#include "core/graft/graft.h"

#include <algorithm>
#include <cmath>

namespace juvenor {

ChannelSet Graft::channels() const {
  ChannelSet out;
  if (!color[0].empty()) out |= Channel::Color;
  if (!gloss.empty()) out |= Channel::Gloss;
  if (!relief.empty()) out |= Channel::Relief;
  return out;
}

GraftStamp stampOf(const Graft& graft) {
  GraftStamp out;
  out.channels = graft.channels();
  for (size_t i = 0; i < graft.relief.size(); ++i)
    if (graft.alpha[i] > 0) out.height = std::max(out.height, std::abs(graft.relief[i]));
  StampLevel level;
  level.width = graft.width;
  level.height = graft.height;
  level.shape.reserve(graft.pixels());
  for (const float a : graft.alpha) level.shape.push_back(to16(a));
  for (size_t c = 0; c < 3; ++c) {
    level.color[c].reserve(graft.color[c].size());
    for (size_t i = 0; i < graft.color[c].size(); ++i)
      level.color[c].push_back(to16(graft.alpha[i] * from16(encodeSrgb16(graft.color[c][i]))));
  }
  for (const float g : graft.gloss) level.gloss.push_back(to16(std::clamp(g, 0.f, 1.f)));
  for (const float r : graft.relief) {
    const float part = out.height > 0 ? std::clamp(r / out.height, -1.f, 1.f) : 0;
    level.relief.push_back(static_cast<uint16_t>(std::lround(32768 + 32767 * part)));
  }
  out.stamp = std::make_shared<const Stamp>(graft.name, std::move(level));
  return out;
}

}  // namespace juvenor
