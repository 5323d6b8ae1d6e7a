// The hair of the picture: grown beside the engine whenever a layer of it, its mask or what is hidden
// changed; until it is there the one before shows.
#include "app/engine/engine_work.h"
#include "core/hair/fibres.h"
#include "core/layers/nesting.h"
#include "core/layers/sources/hair.h"
#include "core/render/hair_seen.h"

namespace juvenor::app {

namespace {

// What fibres follow from. Whoever gives a mask counts as well.
EngineWork::GrownFrom grownFrom(const PreparedStack& stack, const std::set<uint32_t>& hidden) {
  EngineWork::GrownFrom out{{}, hidden};
  std::set<size_t> places;
  for (size_t place = 0; place < stack.size(); ++place) {
    if (!stack[place].source || !hairGroundOf(*stack[place].source) || !takesPart(stack, place)) continue;
    places.insert(place);
    for (const size_t group : groupsAround(stack, place)) places.insert(group);
  }
  const bool live = std::ranges::any_of(places, [&](size_t p) { return stack[p].layer->maskFrom != 0; });
  for (size_t place = 0; place < stack.size(); ++place)
    if (places.contains(place) || (live && !places.empty()))
      out.layers.push_back({stack[place].layer, stack[place].source, stack[place].maps});
  return out;
}

}  // namespace

void EngineWork::forgetHair() {
  grower_.giveUp();
  ++hairCounter_;
  hair_.reset();
  grownFrom_ = {};
}

void EngineWork::refreshHair() {
  if (stroke_) return;
  GrownFrom now = grownFrom(still_, document_.hiddenParts);
  if (now == grownFrom_) return;
  grownFrom_ = std::move(now);
  ++hairCounter_;
  if (grownFrom_.layers.empty()) {
    grower_.giveUp();
    queue_.noteGrowing(false);
    if (std::exchange(hair_, nullptr)) showHair();
    return;
  }
  queue_.noteGrowing(true);
  grower_.grow({still_, document_.maps, document_.hiddenParts, hairCounter_});
}

void EngineWork::handle(Grower::Done& grown) {
  if (grown.counter != hairCounter_) return;
  queue_.noteGrowing(false);
  if (grown.trouble) {
    emit tells_.refused(QString::fromStdString("Hair cannot be shown: " + grown.trouble->message()));
    return;
  }
  if (grown.givenUp) return;
  hair_ = std::move(grown.hair);
  showHair();
}

// The skin stays as it was seen; what stands before it is looked for again.
void EngineWork::showHair() {
  if (!rays_ || viewing_.view != View::Skin) return;
  moving_.forget();
  if (coarse_ || visibilityStale_) return;
  seeHair(visibility_, {0.5f, 0.5f}, wholePicture());
  oweAll();
}

// Where values lie over the skin they are what one looks at.
const FibreRays* EngineWork::shownHair() const {
  return viewing_.view == View::Skin && !overlay_ ? hair_.get() : nullptr;
}

bool EngineWork::seeHair(VisibilityImage& image, const Vec2& jitter, const PixelRect& rect,
                         const std::function<bool()>& stop) const {
  const FibreRays* hair = shownHair();
  if (!hair) {
    image.fibre.clear();
    return true;
  }
  return castHair(*hair, *document_.surface, viewing_.camera, jitter, rect, image, stop);
}

}  // namespace juvenor::app
