#include "demo/eyes.h"

#include "core/document/edits/edit_eyes.h"
#include "core/document/edits/edits.h"
#include "core/layers/sources/eyes.h"
#include "core/surface/build/search.h"

namespace juvenor::demo {
namespace {

// Set by a press where it looks, as the artist would.
Result<Document> pressed(const Document& d, const std::string& part, const Vec3& look) {
  const auto number =
      static_cast<uint32_t>(std::ranges::find(d.sculpt->parts, part) - d.sculpt->parts.begin());
  Box ball;
  for (uint32_t s = 0; s < d.surface->size(); ++s)
    if (d.surface->parts[s] == number) ball.add(d.surface->positions[s]);
  const Vec3 front = ball.center() + 0.3f * ball.diagonal() * look;
  const auto sample = nearestSample(*d.surface, front, ball.diagonal(), number);
  if (!sample) return Error{"no eye"};
  return withEyeAt(d, 0, d.surface->positions[*sample], number, true);
}

Eyes keepers(Eyes eyes) {
  eyes = usualEyes()[1].of(std::move(eyes));
  eyes.pupil *= 0.85f;
  eyes.fibres = 0.75f;
  eyes.cast = 0.4f;
  eyes.back = 0.75f;
  eyes.corners = 0.75f;
  eyes.vessels = 0.6f;
  eyes.lid = 0.07f;  // the fold people have left of one
  return eyes;
}

// Large irises of dull brass; hardly any white is seen, and that is like old ivory.
Eyes ferrymans(Eyes eyes) {
  eyes = usualEyes()[5].of(std::move(eyes));
  eyes.iris *= 1.12f;
  eyes.pupil *= 1.75f;
  eyes.strands = 120;
  eyes.white = {0.8f, 0.73f, 0.54f};
  eyes.back = 0.5f;
  eyes.corners = 0.35f;
  eyes.cast = 0.1f;
  eyes.vessels = 0.45f;
  eyes.vesselColor = {0.52f, 0.2f, 0.12f};
  eyes.lid = 0.17f;
  eyes.lidColor = {0.66f, 0.56f, 0.42f};
  return eyes;
}

}  // namespace

Result<Document> withEyes(const Document& document, Figure figure) {
  const bool folk = figure == Figure::Ferryman;
  auto d = pressed(document, "Left eye", folk ? Vec3(0.30f, 0.04f, 0.95f).normalized() : Vec3::UnitZ());
  if (!d) return d;
  const Eyes& set = *eyesOf(*layerOf(*d, d->activeLayer)->source);
  return withSource(*d, d->activeLayer, eyeSource(folk ? ferrymans(set) : keepers(set)));
}

}  // namespace juvenor::demo
