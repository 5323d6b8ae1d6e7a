#include "core/hair/fibres.h"

#include <atomic>

#include "core/hair/grow_fibre.h"
#include "core/layers/nesting.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

// How much of what grows from a layer is shown at each sample: its mask, its opacity, and those of the groups
// around it.
class Shown {
 public:
  Shown(const PreparedStack& stack, size_t place, const Surface& surface) : surface_(surface) {
    add(stack[place]);
    for (const size_t group : groupsAround(stack, place)) add(stack[group]);
  }
  float at(const HairRoot& root) const {
    const Triangle& t = surface_.triangles[root.triangle];
    const float w = 1 - root.weights.x() - root.weights.y();
    float out = opacity_;
    for (const ScalarField& mask : masks_)
      out *= w * valueAt(mask, t[0]) + root.weights.x() * valueAt(mask, t[1]) +
             root.weights.y() * valueAt(mask, t[2]);
    return out;
  }

 private:
  void add(const PreparedLayer& layer) {
    opacity_ *= layer.layer->opacity;
    masks_.push_back(wholeMask(layer, surface_.size()));
  }
  static float valueAt(const ScalarField& mask, uint32_t sample) { return from16(mask.at(sample)[0]); }

  const Surface& surface_;
  std::vector<ScalarField> masks_;
  float opacity_ = 1;
};

// One layer's roots that grow.
struct Growing {
  const PreparedLayer* layer;
  const HairGround* ground;
  std::vector<uint32_t> roots;
};

std::vector<Growing> growing(const PreparedStack& stack, const Surface& surface,
                             const std::set<uint32_t>& hidden) {
  std::vector<Growing> out;
  for (size_t place = 0; place < stack.size(); ++place) {
    const PreparedLayer& layer = stack[place];
    const HairGround* ground = layer.source ? hairGroundOf(*layer.source) : nullptr;
    if (!ground || !takesPart(stack, place)) continue;
    const Shown shown(stack, place, surface);
    Growing grows{&layer, ground, {}};
    for (uint32_t r = 0; r < ground->roots->size(); ++r) {
      const HairRoot& root = (*ground->roots)[r];
      // (the upper bits of a draw say when its turn is among all; these are others)
      const float turn = static_cast<float>(root.draw & 0xffff) / 65536;
      if (turn < shown.at(root) && !hidden.contains(surface.triangleParts[root.triangle]))
        grows.roots.push_back(r);
    }
    out.push_back(std::move(grows));
  }
  return out;
}

// Leaves out so many that no more are left than may be, of every layer as many by their number.
void thinOut(std::vector<Growing>& all) {
  size_t count = 0;
  for (const Growing& g : all) count += g.roots.size();
  if (count <= kMostFibres) return;
  const float part = static_cast<float>(kMostFibres) / static_cast<float>(count);
  for (Growing& g : all)
    std::erase_if(g.roots, [&](uint32_t r) {
      const uint64_t draw = (*g.ground->roots)[r].draw;
      return static_cast<float>(draw >> 16 & 0xffff) / 65536 >= part;
    });
}

void append(const Fibre& fibre, std::span<const FibrePoint> points, Fibres& out) {
  Fibre added = fibre;
  added.first = static_cast<uint32_t>(out.points.size());
  added.points = static_cast<uint32_t>(points.size());
  for (uint32_t s = 0; s + 3 < added.points; ++s) {
    out.segments.push_back(added.first + s);
    out.fibreOf.push_back(static_cast<uint32_t>(out.fibres.size()));
  }
  float length = 0;
  for (size_t i = 1; i + 1 < points.size(); ++i) {
    out.bounds.add(points[i].head<3>());
    if (i > 1) length += (points[i] - points[i - 1]).head<3>().norm();
  }
  out.longest = std::max(out.longest, length);
  out.points.insert(out.points.end(), points.begin(), points.end());
  out.fibres.push_back(added);
}

// All fibres of one layer; false when nobody waits for them.
bool growAll(const Growing& grows, const Rays& rays, const Progress& progress, Fibres& out) {
  struct Grown {
    Fibre fibre;
    std::array<FibrePoint, kMostFibrePoints> points;
  };
  constexpr size_t kPiece = 16'384;
  std::vector<Grown> piece;
  for (size_t begin = 0; begin < grows.roots.size(); begin += kPiece) {
    if (!report(progress, static_cast<float>(begin) / static_cast<float>(grows.roots.size()))) return false;
    piece.resize(std::min(kPiece, grows.roots.size() - begin));
    parallel(
        piece.size(),
        [&](size_t i) {
          Grown& g = piece[i];
          g.fibre = grownFibre(*grows.ground, (*grows.ground->roots)[grows.roots[begin + i]], rays, g.points);
          g.fibre.layer = grows.layer->layer->id;
        },
        64);
    for (const Grown& g : piece) append(g.fibre, std::span(g.points).first(g.fibre.points), out);
  }
  return true;
}

// The weights of four points at a place between the middle two, and what they become along it.
struct CurveWeights {
  std::array<float, 4> place, way;
};
CurveWeights weightsAt(float t) {
  const float t2 = t * t, t3 = t2 * t;
  return {{0.5f * (-t3 + 2 * t2 - t), 0.5f * (3 * t3 - 5 * t2 + 2), 0.5f * (-3 * t3 + 4 * t2 + t),
           0.5f * (t3 - t2)},
          {0.5f * (-3 * t2 + 4 * t - 1), 0.5f * (9 * t2 - 10 * t), 0.5f * (-9 * t2 + 8 * t + 1),
           0.5f * (3 * t2 - 2 * t)}};
}

}  // namespace

size_t Fibres::bytes() const {
  return sizeof(FibrePoint) * points.capacity() + sizeof(Fibre) * fibres.capacity() +
         sizeof(uint32_t) * (segments.capacity() + fibreOf.capacity());
}

FibrePlace placeOn(const Fibres& fibres, uint32_t segment, float along) {
  const CurveWeights w = weightsAt(along);
  FibrePoint place = FibrePoint::Zero(), way = FibrePoint::Zero();
  for (size_t k = 0; k < 4; ++k) {
    place += w.place[k] * fibres.points[fibres.segments[segment] + k];
    way += w.way[k] * fibres.points[fibres.segments[segment] + k];
  }
  return {place.head<3>(), normalizedOr(way.head<3>(), Vec3::UnitZ()), place.w()};
}

float towardTip(const Fibres& fibres, uint32_t segment, float along) {
  const Fibre& fibre = fibres.fibres[fibres.fibreOf[segment]];
  return (static_cast<float>(fibres.segments[segment] - fibre.first) + along) /
         static_cast<float>(fibre.points - 3);
}

Result<FibresPointer> grownFibres(const PreparedStack& stack, const Rays& rays,
                                  const std::set<uint32_t>& hidden, const Progress& progress) {
  std::vector<Growing> all = growing(stack, rays.surface(), hidden);
  thinOut(all);
  auto out = std::make_shared<Fibres>();
  for (const Growing& grows : all)
    if (!growAll(grows, rays, progress, *out)) return cancelledError();
  return FibresPointer(std::move(out));
}

LayerStack hairLayers(const LayerStack& stack) {
  std::set<size_t> places;
  for (size_t place = 0; place < stack.size(); ++place) {
    if (!hairOf(*stack[place]->source) || !takesPart(stack, place)) continue;
    places.insert(place);
    for (const size_t group : groupsAround(stack, place)) places.insert(group);
  }
  LayerStack out;
  for (const size_t place : places) out.push_back(stack[place]);
  return out;
}

}  // namespace juvenor
