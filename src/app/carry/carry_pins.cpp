#include "app/carry/carry_pins.h"

#include <algorithm>

namespace juvenor::app {

void CarryPins::place(bool onOld, const Vec3& at) {
  const auto member = onOld ? &Pair::old : &Pair::fresh;
  const auto lacking = std::ranges::find_if(pairs_, [&](const Pair& pair) { return !(pair.*member); });
  Pair& pair = lacking == pairs_.end() ? pairs_.emplace_back() : *lacking;
  pair.*member = at;
}

void CarryPins::takeBack() {
  if (pairs_.empty()) return;
  const auto whole = [](const Pair& pair) { return pair.old && pair.fresh; };
  const auto last = std::find_if(pairs_.rbegin(), pairs_.rend(), whole);
  // one that waits goes; else the last that is whole loses its place on the new sculpt
  if (!whole(pairs_.back()))
    pairs_.pop_back();
  else
    last->fresh.reset();
}

void CarryPins::clear() {
  pairs_.clear();
}

void CarryPins::addLandmarks(const std::vector<Landmark>& landmarks) {
  for (const Landmark& landmark : landmarks)
    if (std::ranges::find(pairs_, landmark.key, &Pair::name) == pairs_.end())
      pairs_.push_back({landmark.key, landmark.position, std::nullopt});
}

std::vector<CarryPin> CarryPins::pins() const {
  std::vector<CarryPin> out;
  for (const Pair& pair : pairs_)
    if (pair.old && pair.fresh) out.push_back({pair.name, *pair.old, *pair.fresh});
  return out;
}

std::vector<CarryView::Mark> CarryPins::marks(bool onOld) const {
  std::vector<CarryView::Mark> out;
  for (size_t i = 0; i < pairs_.size(); ++i)
    if (const auto& place = onOld ? pairs_[i].old : pairs_[i].fresh)
      out.push_back({static_cast<int>(i) + 1, *place, pairs_[i].old && pairs_[i].fresh});
  return out;
}

int CarryPins::waiting() const {
  for (size_t i = 0; i < pairs_.size(); ++i)
    if (pairs_[i].old && !pairs_[i].fresh) return static_cast<int>(i) + 1;
  return 0;
}

}  // namespace juvenor::app
