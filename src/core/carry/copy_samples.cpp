#include "core/carry/copy_samples.h"

#include <algorithm>
#include <cmath>

#include "core/carry/correspondence.h"
#include "core/layers/guides.h"
#include "core/layers/sources/painted.h"
#include "core/noise/noise.h"

namespace juvenor {
namespace {

// Of the way it is shifted by, the length of its waves: what is beside each other stays so.
constexpr float kWaves = 10;

// Where what a place gets is taken from, beside the place that is its own.
Vec3 beside(const Vec3& place, const CopySetting& setting) {
  if (!(setting.vary > 0)) return place;
  const Vec3 at = place / (kWaves * setting.vary);
  const auto way = [&](uint32_t axis) { return 2 * perlin(at, 3 * setting.seed + axis); };
  return place + setting.vary * Vec3(way(0), way(1), way(2)).cwiseMax(-1).cwiseMin(1);
}

class Copying {
 public:
  Copying(const CopyGround& ground, const Correspondence& from) : g_(ground), from_(from) {}

  template <int P>
  Field<P> field(const Field<P>& before) const {
    Field<P> out = before;
    if (!before.holdsAny()) return out;
    std::shared_ptr<Chunk<P>> chunk;
    size_t held = kNone;
    const auto keep = [&] {
      if (chunk) out.setChunk(held, std::move(chunk));
      chunk = nullptr;
    };
    for (size_t i = 0; i < g_.samples.size(); ++i) {
      const size_t s = g_.samples[i], c = s / kChunkSize;
      if (!from_.has(i)) continue;
      if (c != held) {
        keep();
        held = c;
      }
      const auto value = valueFor(before, i, s);
      if (!chunk && value == before.at(s)) continue;
      if (!chunk) chunk = before.writable(c);
      for (size_t p = 0; p < P; ++p) chunk->plane[p][s % kChunkSize] = value[p];
    }
    keep();
    return out;
  }

 private:
  template <int P>
  typename Field<P>::Value valueFor(const Field<P>& before, size_t i, size_t s) const {
    std::array<float, static_cast<size_t>(P)> sum{};
    for (uint32_t k = from_.start[i]; k < from_.start[i + 1]; ++k) {
      const auto value = before.at(from_.sample[k]);
      for (size_t p = 0; p < P; ++p) sum[p] += from_.weight[k] * value[p];
    }
    auto out = before.at(s);
    const float way = g_.setting.through ? from16(g_.setting.through->at(s)[0]) : 1;
    for (size_t p = 0; p < P; ++p) {
      const float was = out[p];
      out[p] = static_cast<uint16_t>(std::clamp(was + way * (sum[p] - was) + 0.5f, 0.f, 65535.f));
    }
    return out;
  }

  const CopyGround& g_;
  const Correspondence& from_;
};

// What was done by hand on the part, on its twin as well; what was done there before is done no more.
Guides touchedAlike(Guides guides, const CopyGround& g) {
  const Similarity back = g.there.inverse();
  const auto copy = [&](auto& all, const auto& move) {
    std::erase_if(all, [&](const auto& one) { return one.part == g.touchTwin; });
    auto more = all;
    std::erase_if(more, [&](const auto& one) { return one.part != g.touchPart; });
    for (auto& one : more) {
      one.part = g.touchTwin;
      move(one);
    }
    all.insert(all.end(), more.begin(), more.end());
  };
  for (auto* strokes : strokesOf(guides))
    copy(*strokes, [&](SkinStroke& stroke) {
      for (Vec3& place : stroke.places) place = back(place);
    });
  copy(guides.cells, [&](CellTouch& touch) { touch.place = back(touch.place); });
  return guides;
}

Layer copiedLayer(Layer layer, const Copying& copying, const CopyGround& g) {
  if (g.setting.paint) {
    if (const ChannelFields* before = layer.source->fields()) {
      ChannelFields after(before->size());
      eachChannel([&](auto c) { after.get<c()>() = copying.field(before->get<c()>()); });
      layer.source = paintedSource(std::move(after));
    } else if (const Guides* guides = layer.source->guides(); guides && g.touchTwin != kNone) {
      const Guides alike = touchedAlike(*guides, g);
      if (!(alike == *guides)) layer.source = layer.source->withGuides(alike);
    }
  }
  if (g.setting.masks && layer.mask) layer.mask = copying.field(*layer.mask);
  return layer;
}

}  // namespace

Result<Copied> copiedSamples(const CopyGround& g, const Progress& progress) {
  const Document& d = g.document;
  const Surface& surface = *d.surface;
  const auto rays = d.maps->rays(progress);
  if (!rays) return rays.error();
  PartSources sources(surface.partCount);
  for (uint32_t part = 0; part < sources.size(); ++part) sources[part] = g.from(part);
  const auto sought = [&](size_t i) {
    const uint32_t s = g.samples[i];
    if (g.mirrors) {
      const Mirrors::Across own{true, false, false};
      return SoughtPlace{beside(g.mirrors->place(surface.positions[s], own), g.setting),
                         g.mirrors->direction(surface.normals[s], own, surface.positions[s]),
                         std::sqrt(std::max(surface.areas[s], 0.f) / 3.1416f), surface.parts[s]};
    }
    return SoughtPlace{beside(g.there(surface.positions[s]), g.setting), g.there.turn * surface.normals[s],
                       std::sqrt(std::max(surface.areas[s], 0.f) / 3.1416f), surface.parts[s]};
  };
  const float reach = 0.02f * surface.bounds.diagonal() + 3 * surface.spacing;
  const auto from = correspondenceOf(g.samples.size(), sought, **rays, sources,
                                     {reach, std::min(surface.spacing, 0.5f * reach)}, progress);
  if (!from) return from.error();
  Copied out{d, 0, 0};
  for (size_t i = 0; i < from->size(); ++i) ++(from->has(i) ? out.samples : out.missed);
  if (out.samples == 0) return Error{"nothing was found on the other side to copy"};
  const Copying copying(g, *from);
  const auto& wanted = g.setting.layers;
  for (LayerPointer& pointer : out.document.layers) {
    const bool named = std::ranges::find(wanted, pointer->id) != wanted.end();
    if (wanted.empty() ? pointer->locked : !named) continue;
    if (pointer->locked) return Error{"the layer “" + pointer->name + "” is locked"};
    pointer = std::make_shared<Layer>(copiedLayer(*pointer, copying, g));
  }
  return out;
}

}  // namespace juvenor
