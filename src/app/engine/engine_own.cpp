// What the active layer brings by itself, for the channel view: worked out for what is seen, and again where
// the skin is.
#include "app/engine/engine_work.h"

namespace juvenor::app {

// What the picture shows: the skin, or one layer's part in it.
const ChannelFields& EngineWork::shownSkin() const {
  return showsOwn() ? own_ : skin_;
}

void EngineWork::forgetOwn() {
  own_ = {};
  ownFresh_.clear();
}

void EngineWork::freshenOwn() {
  if (!showsOwn()) {
    if (own_.size() > 0) forgetOwn();
    return;
  }
  if (own_.size() != skin_.size() || ownOf_ != viewing_.own) {
    own_ = bareSkin(skin_.size());
    ownFresh_.assign(stale_.size(), 0);
    ownOf_ = viewing_.own;
  }
  std::vector<uint32_t> todo;
  for (const uint32_t c : seen_)
    if (!ownFresh_[c]) todo.push_back(c);
  if (todo.empty()) return;
  // what it lies on has the grey of the ground around the sculpt, darker
  constexpr EncodedColor kUnder{0.3f, 0.3f, 0.3f};
  updateContribution(own_, stack_, viewing_.own, document_.bare, kUnder, todo);
  for (const uint32_t c : todo) ownFresh_[c] = 1;
}

// Where the skin is another so is what a layer does to it.
void EngineWork::staleOwn(std::span<const uint32_t> chunks) {
  for (const uint32_t c : chunks)
    if (c < ownFresh_.size()) ownFresh_[c] = 0;
}

// The scale of heights, told when the view begins: it stands still while one paints.
void EngineWork::measureHeights() {
  if (viewing_.view != View::Channel) return;
  shownHeight_ = viewing_.channel.height > 0 ? viewing_.channel.height
                                             : highestOf(skin_.get<Channel::Relief>(), document_.reliefStep);
  emit tells_.heightShown(shownHeight_);
}

}  // namespace juvenor::app
