#include "core/render/layer_thumbnails.h"

#include <algorithm>

#include "core/layers/nesting.h"

namespace juvenor {
namespace {

// Skin without the layer is a middle grey: dark pigment and pale show on it alike.
constexpr uint32_t kGround = 0x2c, kUnder = 0x84;
constexpr size_t kPieceOfThumbnails = 6;  // chunks

uint32_t pixelOf(const Rgba16& c) {
  const auto over = [&](uint16_t v) { return std::min(255u, kUnder * (65535u - c.a) / 65535u + v / 257u); };
  return 0xff000000u | over(c.r) << 16 | over(c.g) << 8 | over(c.b);
}

// What a layer without colour does, as brightness: wet and high are light, dry and low are dark.
class Brightness {
 public:
  Brightness(const PreparedLayer& layer, size_t chunk)
      : gloss_(ownChunk<Channel::Gloss>(layer, chunk)),
        metal_(ownChunk<Channel::Metal>(layer, chunk)),
        glow_(ownChunk<Channel::Glow>(layer, chunk)),
        wander_(ownChunk<Channel::Wander>(layer, chunk)),
        coat_(ownChunk<Channel::Coat>(layer, chunk)),
        fuzz_(ownChunk<Channel::Fuzz>(layer, chunk)),
        relief_(ownChunk<Channel::Relief>(layer, chunk)) {}

  uint32_t pixel(size_t place) const {
    float bright = kUnder;
    if (gloss_) bright += 255 * from16(gloss_->plane[0][place]) - kUnder * from16(gloss_->plane[1][place]);
    if (metal_) bright += 90 * from16(metal_->plane[0][place]);
    if (glow_) bright += 150 * from16(glow_->plane[0][place]);
    if (coat_) bright += 120 * from16(coat_->plane[0][place]);
    if (fuzz_) bright += 60 * from16(fuzz_->plane[0][place]);
    // what is as hard as horn is dark
    if (wander_) bright -= 80 * (from16(wander_->plane[1][place]) - from16(wander_->plane[0][place]));
    if (relief_) bright += 0.02f * (static_cast<float>(relief_->plane[0][place]) - kLevel);
    const auto grey = static_cast<uint32_t>(std::clamp(bright, 20.f, 255.f));
    return 0xff000000u | grey << 16 | grey << 8 | grey;
  }

 private:
  CoverField::Pointer gloss_, metal_, glow_, wander_, coat_, fuzz_;
  ScalarField::Pointer relief_;
};

// The corners of the boxes of samples in the upper part; enough to frame by.
std::vector<Vec3> upperPart(const Surface& surface) {
  const float low = surface.bounds.low.y() + (surface.bounds.high.y() - surface.bounds.low.y()) / 3;
  std::vector<Vec3> out;
  for (const Box& box : surface.blocks)
    if (!box.empty() && box.center().y() >= low) {
      out.push_back(box.low);
      out.push_back(box.high);
    }
  return out;
}

}  // namespace

LayerThumbnails::LayerThumbnails(const Rays& rays, int edge) : edge_(edge) {
  const ViewSize size{edge, edge};
  Camera camera = framed({}, size, upperPart(rays.surface()));
  camera.distance *= 0.72f;
  VisibilityImage seen;
  castVisibility(rays, camera, size, {0.5f, 0.5f}, {}, seen);
  for (uint32_t i = 0; i < seen.triangle.size(); ++i) {
    if (seen.triangle[i] == kNone) continue;
    const uint32_t sample = rays.surface().triangles[seen.triangle[i]][0];
    pixelsOf_[sample / kChunkSize].emplace_back(i, sample);
  }
  next_ = pixelsOf_.end();
}

void LayerThumbnails::setStack(PreparedStack stack, const EncodedColor& bare) {
  stack_ = std::move(stack);
  bare_ = bare;
  work_.clear();
  const auto pixels = static_cast<size_t>(edge_) * static_cast<size_t>(edge_);
  for (const PreparedLayer& p : stack_) {
    const auto made = made_.find(p.layer->id);
    if (p.source && (made == made_.end() || made->second != p.layer->source))
      work_[p.layer->id].assign(pixels, 0xff000000u | kGround << 16 | kGround << 8 | kGround);
  }
  // a group looks another way when anything in it does
  const auto worked = [&](size_t i) { return work_.contains(stack_[i].layer->id); };
  for (size_t i = 0; i < stack_.size(); ++i)
    if (isGroup(*stack_[i].layer))
      for (size_t in = firstOf(stack_, i); in < i; ++in)
        if (worked(in))
          work_[stack_[i].layer->id].assign(pixels, 0xff000000u | kGround << 16 | kGround << 8 | kGround);
  next_ = work_.empty() ? pixelsOf_.end() : pixelsOf_.begin();
}

void LayerThumbnails::readChunk(size_t index) {
  const auto& pixels = pixelsOf_.at(index);
  eachOwnChunk(stack_, bare_, index, [&](const PreparedLayer& p, const ColorField::Pointer& own) {
    const auto picture = work_.find(p.layer->id);
    if (picture == work_.end()) return;
    const ChannelSet brings = p.source ? p.source->channels() : ChannelSet();
    if (brings.has(Channel::Color) || brings.empty()) {
      for (const auto& [pixel, sample] : pixels)
        picture->second[pixel] = pixelOf(own ? sampleOf(*own, sample % kChunkSize) : Rgba16{});
    } else {
      const Brightness bright(p, index);
      for (const auto& [pixel, sample] : pixels) picture->second[pixel] = bright.pixel(sample % kChunkSize);
    }
  });
}

std::vector<LayerThumbnails::Thumbnail> LayerThumbnails::advance(bool& more) {
  more = false;
  if (work_.empty()) return {};
  for (size_t i = 0; i < kPieceOfThumbnails && next_ != pixelsOf_.end(); ++i, ++next_)
    readChunk(next_->first);
  more = next_ != pixelsOf_.end();
  if (more) return {};
  std::vector<Thumbnail> out;
  for (auto& [layer, picture] : work_) {
    for (const PreparedLayer& p : stack_)
      if (p.layer->id == layer) made_[layer] = p.layer->source;
    out.push_back({layer, std::move(picture)});
  }
  work_.clear();
  return out;
}

}  // namespace juvenor
