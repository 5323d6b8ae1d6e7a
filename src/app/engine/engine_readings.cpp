// What any thread may read off the engine's picture, from what was published last.
#include <algorithm>

#include "app/engine/engine.h"

namespace juvenor::app {

std::shared_ptr<const Engine::Published> Engine::published() {
  const std::lock_guard hold(readings_);
  return published_;
}

std::shared_ptr<const ColorField> Engine::skinNow() {
  const auto now = published();
  return now ? std::make_shared<const ColorField>(now->skin.color()) : nullptr;
}

RaysPointer Engine::rays() {
  const auto now = published();
  return now ? now->rays : nullptr;
}

ChannelFields Engine::skin() {
  const auto now = published();
  if (!now) return {};
  ChannelFields out = now->skin;
  for (size_t i = 0; i < kChannelCount; ++i) {
    const auto channel = static_cast<Channel>(i);
    std::vector<uint32_t> stale;
    for (uint32_t c = 0; c < now->stale.size(); ++c)
      if (now->stale[c].has(channel)) stale.push_back(c);
    if ((channelsOf(now->stack) | out.written()).has(channel))
      updateComposite(out, now->stack, now->document.bare, stale, channel);
  }
  return out;
}

std::shared_ptr<const Engine::Published> Engine::publishedOf(const Document& document) {
  auto now = published();
  const bool same = now && now->rays && now->rays->sharedSurface() == document.surface &&
                    now->document.surface == document.surface;
  return same ? now : nullptr;
}

bool Engine::shows(const Document& document) {
  return publishedOf(document) != nullptr;
}

std::optional<Probe> Engine::probe(const Document& document, const Vec2& pixel) {
  const auto now = publishedOf(document);
  if (!now) return std::nullopt;
  const Ray ray = rayThrough(now->viewing.camera, now->viewing.size, pixel);
  const auto hit = now->rays->first(ray, now->document.hiddenParts);
  if (!hit) return std::nullopt;
  const float w = 1 - hit->u - hit->v;
  const Triangle& t = now->document.surface->triangles[hit->triangle];
  Probe out;
  out.point = now->rays->pointOf(*hit, -ray.direction);
  out.sample = w >= hit->u && w >= hit->v ? t[0] : hit->u >= hit->v ? t[1] : t[2];
  const size_t chunk = out.sample / kChunkSize, place = out.sample % kChunkSize;
  const auto valueOf = [&](auto c) {
    const auto& skin = now->skin.get<c()>();
    if (!now->stale[chunk].has(c())) return skin.at(out.sample);
    auto value = skin.fallback();
    const auto fresh = compositeChunk<c()>(now->stack, now->document.bare, chunk);
    for (size_t p = 0; fresh && p < value.size(); ++p) value[p] = fresh->plane[p][place];
    return value;
  };
  const auto color = valueOf(ChannelConstant<Channel::Color>());
  out.composite = straight(Rgba16{color[0], color[1], color[2], color[3]});
  out.gloss = from16(valueOf(ChannelConstant<Channel::Gloss>())[0]);
  out.metal = from16(valueOf(ChannelConstant<Channel::Metal>())[0]);
  out.relief = heightOf(valueOf(ChannelConstant<Channel::Relief>())[0], now->document.reliefStep);
  if (const auto own = ownChunk(now->stack, now->document.activeLayer, now->document.bare, chunk)) {
    const Rgba16 c = sampleOf(*own, place);
    if (c.a > 0) out.layer = straight(c);
  }
  return out;
}

}  // namespace juvenor::app
