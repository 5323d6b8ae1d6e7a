#include "core/render/moving_picture.h"

#include <algorithm>
#include <atomic>
#include <bit>
#include <cmath>

#include "core/hair/fibre_rays.h"
#include "core/parallel.h"
#include "core/render/enlarged.h"
#include "core/render/mixed.h"

namespace juvenor {
namespace {

constexpr uint64_t kNobody = ~uint64_t{0};
constexpr uint8_t kOldest = 4;
constexpr float kFar = std::numeric_limits<float>::infinity();

// Numbers in the order of the depths.
uint32_t ordered(float depth) {
  const auto bits = std::bit_cast<uint32_t>(depth);
  return bits & 0x80000000 ? ~bits : bits | 0x80000000;
}

// The nearest one stays, whoever comes first.
void bringTo(uint64_t& place, uint64_t what) {
  std::atomic_ref<uint64_t> at(place);
  uint64_t there = at.load(std::memory_order_relaxed);
  while (what < there && !at.compare_exchange_weak(there, what, std::memory_order_relaxed)) {
  }
}

// A pixel much larger than what lies between samples shows the nearest of them.
std::array<uint16_t, 2> atNearest(float u, float v) {
  const float w = 1 - u - v;
  if (w >= u && w >= v) return {0, 0};
  return u >= v ? std::array<uint16_t, 2>{65535, 0} : std::array<uint16_t, 2>{0, 65535};
}

}  // namespace

// Everything that was seen of the skin goes where it stands now.
void MovingPicture::bring(const Lens& lens) {
  const auto part = static_cast<float>(part_);
  const auto width = static_cast<float>(size_.width), height = static_cast<float>(size_.height);
  parallel(seenBefore_.size(), [&](size_t i) {
    const Seen& seen = seenBefore_[i];
    if (seen.depth == kFar || seen.hair || seen.age >= kOldest) return;
    const Vec3 at = lens.project(seen.point);
    const float x = at.x() / part, y = at.y() / part;
    if (!(x >= 0 && y >= 0 && x < width && y < height)) return;
    const size_t place = static_cast<size_t>(y) * static_cast<size_t>(size_.width) + static_cast<size_t>(x);
    bringTo(brought_[place], uint64_t{ordered(at.z())} << 32 | i);
  });
}

void MovingPicture::setNothing(size_t at) {
  visibility_.triangle[at] = kNone;
  seen_[at] = {Vec3::Zero(), kFar, 0, 0, false, false};
  if (!visibility_.fibre.empty()) visibility_.fibre[at] = {};
}

void MovingPicture::Around::add(const Around& other) {
  low = std::min(low, other.low);
  high = std::max(high, other.high);
  any |= other.any;
  nothing |= other.nothing;
  hair |= other.hair;
}

MovingPicture::Around MovingPicture::shownBy(int x0, int y0) const {
  Around out;
  out.any = true;
  for (int y = y0; y < std::min(y0 + kHigh, size_.height); ++y)
    for (int x = x0; x < std::min(x0 + kWide, size_.width); ++x) {
      const Seen& seen = seen_[placeOf(x, y)];
      out.hair |= seen.hair;
      if (seen.depth == kFar) {
        out.nothing = true;
        continue;
      }
      out.low = std::min(out.low, seen.depth);
      out.high = std::max(out.high, seen.depth);
    }
  return out;
}

// What is known beside a block: of the sides that came before it.
MovingPicture::Around MovingPicture::around(int row, int column, const Sides& sides) const {
  Around out;
  const auto rows = static_cast<int>(blocks_.size()) / across_;
  const auto add = [&](int r, int c) {
    if (r >= 0 && c >= 0 && r < rows && c < across_) out.add(blocks_[static_cast<size_t>(r * across_ + c)]);
  };
  if (sides.upright) {
    add(row - 1, column);
    add(row + 1, column);
  }
  if (sides.level) {
    add(row, column - 1);
    add(row, column + 1);
  }
  return out;
}

// What was brought to a pixel lies there still when it is as deep as what rays found around it. False when
// only a ray can tell what is there.
bool MovingPicture::takes(size_t at, const Around& around) {
  // (at the rim of a form before another either may be right)
  constexpr float kSteep = 12;
  const bool skin = around.low < kFar;
  if (around.hair || !around.any) return false;
  if (brought_[at] == kNobody && !skin) {
    setNothing(at);
    return true;
  }
  if (brought_[at] == kNobody || !skin || around.nothing || around.high - around.low > kSteep * pixel_)
    return false;
  const auto from = static_cast<size_t>(brought_[at] & 0xffffffff);
  const Seen& seen = seenBefore_[from];
  const float slack = 0.5f * (around.high - around.low) + 2 * pixel_;
  const uint64_t depth = brought_[at] >> 32;
  if (depth < ordered(around.low - slack) || depth > ordered(around.high + slack)) return false;
  visibility_.triangle[at] = before_.triangle[from];
  visibility_.weights[at] = before_.weights[from];
  const float turned = seen.turned + turning_;
  const bool holds = turned <= kMostTurned;
  if (holds) {
    pixels_[at] = pixelsBefore_[from];
  } else {
    fresh_.triangle[at] = visibility_.triangle[at];
    fresh_.weights[at] = visibility_.weights[at];
  }
  seen_[at] = {seen.point, seen.depth, holds ? turned : 0, static_cast<uint8_t>(seen.age + 1), holds, false};
  return true;
}

// Pixels of a block, and what their rays found.
struct MovingPicture::Packet {
  std::array<Ray, kWide * kHigh> rays;
  std::array<Hit, kWide * kHigh> hits;
  std::array<size_t, kWide * kHigh> places;
  size_t count = 0;
};

// Fibres that stand before the skin.
void MovingPicture::castAtHair(const FibreRays& hair, const Packet& packet) {
  std::array<float, kWide * kHigh> reach;
  std::array<FibreHit, kWide * kHigh> fibres;
  reach.fill(-1);
  for (size_t i = 0; i < packet.count; ++i)
    reach[i] = packet.hits[i].triangle == kNone ? kFar : packet.hits[i].distance;
  hair.firstOfEight(packet.rays, reach, FibreRays::As::Straight, fibres);
  for (size_t i = 0; i < packet.count; ++i) {
    const size_t at = packet.places[i];
    fresh_.fibre[at] = visibility_.fibre[at] = {fibres[i].segment, to16(fibres[i].along)};
    seen_[at].hair = fibres[i].segment != kNone;
  }
}

// A block of pixels, rays of which stay together: all of them, or those that nothing was carried to.
size_t MovingPicture::castBlock(const Scene& scene, int x0, int y0, const Around* beside) {
  const auto part = static_cast<float>(part_);
  const bool coarse = pixel_ > scene.rays.surface().spacing;
  Packet packet;
  for (int y = y0; y < std::min(y0 + kHigh, size_.height); ++y)
    for (int x = x0; x < std::min(x0 + kWide, size_.width); ++x) {
      const size_t at = placeOf(x, y);
      if (beside && takes(at, *beside)) continue;
      packet.places[packet.count] = at;
      packet.rays[packet.count++] = scene.lens.rayThrough(
          {(static_cast<float>(x) + 0.5f) * part, (static_cast<float>(y) + 0.5f) * part});
    }
  if (packet.count == 0) return 0;
  std::fill(packet.rays.begin() + static_cast<ptrdiff_t>(packet.count), packet.rays.end(), packet.rays[0]);
  scene.rays.firstOfEight(packet.rays, scene.hidden, packet.hits);
  for (size_t i = 0; i < packet.count; ++i) {
    const size_t at = packet.places[i];
    const Hit& hit = packet.hits[i];
    setNothing(at);
    fresh_.triangle[at] = visibility_.triangle[at] = hit.triangle;
    if (hit.triangle == kNone) continue;
    const Vec3 point = packet.rays[i].origin + hit.distance * packet.rays[i].direction;
    fresh_.weights[at] = visibility_.weights[at] =
        coarse ? atNearest(hit.u, hit.v) : std::array{to16(hit.u), to16(hit.v)};
    seen_[at] = {point, scene.lens.depthOf(point), 0, 0, false, false};
  }
  if (scene.hair) castAtHair(*scene.hair, packet);
  return packet.count;
}

// Blocks lie in fours. One of each is cast in this picture; those level with it and above or below it know
// what it found, and the last what lies all around.
void MovingPicture::castBlocks(const Scene& scene) {
  constexpr std::array<std::array<int, 2>, 4> kTurns{{{0, 0}, {1, 1}, {0, 1}, {1, 0}}};
  const auto [row0, column0] = kTurns[static_cast<size_t>(turn_)];
  const int rows = (size_.height + kHigh - 1) / kHigh;
  across_ = (size_.width + kWide - 1) / kWide;
  blocks_.resize(static_cast<size_t>(rows) * static_cast<size_t>(across_));
  for (int step = 0; step < 3; ++step)
    parallelRows(0, rows, [&](int row) {
      size_t cast = 0;
      for (int column = 0; column < across_; ++column) {
        const int down = (row + row0) % 2, across = (column + column0) % 2;
        if (down + across != step) continue;
        const Around beside = around(row, column, {across == 1, down == 1});
        cast += castBlock(scene, column * kWide, row * kHigh, step == 0 ? nullptr : &beside);
        blocks_[static_cast<size_t>(row * across_ + column)] = shownBy(column * kWide, row * kHigh);
      }
      std::atomic_ref(raysCast_).fetch_add(cast, std::memory_order_relaxed);
    });
}

// The first picture of a turn would have to cast every ray: a hand would feel it stick.
void MovingPicture::startFrom(const VisibilityImage& whole, std::span<const uint32_t> pixels,
                              const Surface& surface, int part) {
  const Camera from = *restsAt_;
  restsAt_.reset();
  const Lens lens(from, whole.size);
  camera_ = from;
  size_ = partOf(whole.size, part);
  part_ = part;
  visibility_.resize(size_);
  seen_.resize(visibility_.triangle.size());
  pixels_.resize(seen_.size());
  parallel(seen_.size(), [&](size_t i) {
    const int y = static_cast<int>(i) / size_.width, x = static_cast<int>(i) % size_.width;
    const auto middle = [&](int of, int last) { return std::min(last - 1, of * part + part / 2); };
    const size_t at =
        static_cast<size_t>(middle(y, whole.size.height)) * static_cast<size_t>(whole.size.width) +
        static_cast<size_t>(middle(x, whole.size.width));
    setNothing(i);
    pixels_[i] = pixels[at];
    seen_[i].hair = !whole.fibre.empty() && whole.fibre[at].segment != kNone;
    if (whole.triangle[at] == kNone) return;
    visibility_.triangle[i] = whole.triangle[at];
    visibility_.weights[i] = whole.weights[at];
    const Mixed m =
        mixedAt(surface, whole.triangle[at], from16(whole.weights[at][0]), from16(whole.weights[at][1]));
    m.each([&](uint32_t s, float weight) { seen_[i].point += weight * surface.positions[s]; });
    seen_[i].depth = lens.depthOf(seen_[i].point);
  });
}

void MovingPicture::see(const Rays& rays, const Camera& camera, const ViewSize& whole, int part,
                        const std::set<uint32_t>& hidden, bool lit, const FibreRays* hair) {
  const ViewSize size = partOf(whole, part);
  const Lens lens(camera, whole);
  carries_ = size == size_ && part == part_ && !camera.cuts();
  constexpr float kDegree = 57.29578f;
  turning_ = lit ? kDegree * camera.turn.angularDistance(camera_.turn) : 0;
  camera_ = camera;
  size_ = size;
  part_ = part;
  pixel_ = static_cast<float>(part) / lens.pixelsPerUnit(camera.target);
  turn_ = (turn_ + 1) % 4;
  raysCast_ = 0;
  std::swap(visibility_, before_);
  std::swap(seen_, seenBefore_);
  std::swap(pixels_, pixelsBefore_);
  visibility_.resize(size);
  fresh_.resize(size);
  const size_t n = visibility_.triangle.size();
  seen_.resize(n);
  pixels_.resize(n);
  std::ranges::fill(fresh_.triangle, kNone);
  if (hair) {
    fresh_.fibre.assign(n, {});
    visibility_.fibre.assign(n, {});
  }
  brought_.assign(n, kNobody);
  if (carries_) bring(lens);
  const Scene scene{rays, hair, lens, hidden};
  castBlocks(scene);
}

std::span<const uint32_t> MovingPicture::shaded(std::span<const uint32_t> fresh) {
  parallel(pixels_.size(), [&](size_t i) {
    if (!seen_[i].carried) pixels_[i] = fresh[i];
  });
  return pixels_;
}

}  // namespace juvenor
