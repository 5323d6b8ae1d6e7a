#include "app/engine/readings.h"

#include <algorithm>

#include "core/pen/eye.h"

namespace juvenor::app {

void Readings::publish(Reading reading) {
  auto fresh = std::make_shared<const Reading>(std::move(reading));
  const std::lock_guard hold(mutex_);
  now_ = std::move(fresh);
}

void Readings::clear() {
  const std::lock_guard hold(mutex_);
  now_.reset();
}

std::shared_ptr<const Reading> Readings::now() const {
  const std::lock_guard hold(mutex_);
  return now_;
}

std::shared_ptr<const ColorField> Readings::skinNow() const {
  const auto reading = now();
  return reading ? std::make_shared<const ColorField>(reading->skin.color()) : nullptr;
}

RaysPointer Readings::rays() const {
  const auto reading = now();
  return reading ? reading->rays : nullptr;
}

ChannelFields Readings::skin() const {
  const auto reading = now();
  if (!reading) return {};
  ChannelFields out = reading->skin;
  for (size_t i = 0; i < kChannelCount; ++i) {
    const auto channel = static_cast<Channel>(i);
    std::vector<uint32_t> stale;
    for (uint32_t c = 0; c < reading->stale.size(); ++c)
      if (reading->stale[c].has(channel)) stale.push_back(c);
    if ((channelsOf(reading->stack) | out.written()).has(channel))
      updateComposite(out, reading->stack, reading->document.bare, stale, channel);
  }
  return out;
}

std::shared_ptr<const Reading> Readings::of(const Document& document) const {
  auto reading = now();
  const bool same = reading && reading->rays && reading->rays->sharedSurface() == document.surface &&
                    reading->document.surface == document.surface;
  return same ? reading : nullptr;
}

namespace {

std::optional<Probe> probeThrough(const Eye& eye, const Vec2& pixel, const Reading& reading) {
  const auto hit = eye.hitAt(pixel);
  if (!hit) return std::nullopt;
  const float w = 1 - hit->u - hit->v;
  const Triangle& t = reading.document.surface->triangles[hit->triangle];
  Probe out;
  out.point = eye.placeOf(*hit, pixel);
  out.sample = w >= hit->u && w >= hit->v ? t[0] : hit->u >= hit->v ? t[1] : t[2];
  const size_t chunk = out.sample / kChunkSize, place = out.sample % kChunkSize;
  const auto valueOf = [&](auto c) {
    const auto& skin = reading.skin.get<c()>();
    if (!reading.stale[chunk].has(c())) return skin.at(out.sample);
    auto value = skin.fallback();
    const auto fresh = compositeChunk<c()>(reading.stack, reading.document.bare, chunk);
    for (size_t p = 0; fresh && p < value.size(); ++p) value[p] = fresh->plane[p][place];
    return value;
  };
  const auto color = valueOf(ChannelConstant<Channel::Color>());
  out.composite = straight(Rgba16{color[0], color[1], color[2], color[3]});
  eachChannel([&](auto c) {
    if constexpr (c() != Channel::Color)
      out.number[static_cast<size_t>(c())] = factsOf(c()).rule == ChannelRule::Add
                                                 ? heightOf(valueOf(c)[0], reading.document.reliefStep)
                                                 : from16(valueOf(c)[0]);
  });
  if (const auto own = ownChunk(reading.stack, reading.document.activeLayer, reading.document.bare, chunk)) {
    const Rgba16 c = sampleOf(*own, place);
    if (c.a > 0) out.layer = straight(c);
  }
  return out;
}

}  // namespace

std::optional<Probe> Readings::probe(const Document& document, const Vec2& pixel) const {
  const auto reading = of(document);
  if (!reading) return std::nullopt;
  const Viewing& v = reading->viewing;
  return probeThrough({reading->rays.get(), nullptr, v.camera, v.size, reading->document.hiddenParts}, pixel,
                      *reading);
}

std::optional<Probe> Readings::probeSheet(const Document& document, const Vec2& pixel) const {
  const auto reading = of(document);
  if (!reading || !reading->sheet.sheet || reading->sheet.sheet->skin != document.surface)
    return std::nullopt;
  const SheetViewing& s = reading->sheet;
  return probeThrough(
      {reading->rays.get(), s.sheet->rays.get(), s.camera, s.size, reading->document.hiddenParts}, pixel,
      *reading);
}

}  // namespace juvenor::app
