// Every triangle the plane passes through gives one piece from side to side; pieces that share a side follow
// each other.
#include "core/surface/skin_cut.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_map>

#include "core/parallel.h"

namespace juvenor {
namespace {

// A side of a triangle by its two samples.
uint64_t sideOf(uint32_t a, uint32_t b) {
  return static_cast<uint64_t>(std::min(a, b)) << 32 | std::max(a, b);
}

struct CutPiece {
  uint64_t side[2];
  uint32_t triangle;
};

class PlaneCut {
 public:
  PlaneCut(const Surface& surface, const CutPlane& plane) : surface_(surface), plane_(plane) {}

  // Places right on the plane count as before it, so that each triangle has two cut sides or none.
  bool before(uint32_t sample) const { return heightOf(sample) >= 0; }

  bool piece(uint32_t triangle, CutPiece& out) const {
    const Triangle& t = surface_.triangles[triangle];
    int found = 0;
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t a = t[k], b = t[(k + 1) % 3];
      if (before(a) != before(b) && found < 2) out.side[found++] = sideOf(a, b);
    }
    out.triangle = triangle;
    return found == 2;
  }

  SurfacePoint pointOn(uint64_t side, uint32_t triangle) const {
    const auto a = static_cast<uint32_t>(side >> 32), b = static_cast<uint32_t>(side);
    const float ha = heightOf(a), hb = heightOf(b);
    const float t = ha == hb ? 0.5f : ha / (ha - hb);
    SurfacePoint out;
    out.position = surface_.positions[a] + t * (surface_.positions[b] - surface_.positions[a]);
    out.normal = normalizedOr((1 - t) * surface_.normals[a] + t * surface_.normals[b], surface_.normals[a]);
    out.toViewer = out.normal;
    out.triangle = triangle;
    out.part = surface_.triangleParts[triangle];
    return out;
  }

 private:
  float heightOf(uint32_t sample) const {
    return plane_.normal.dot(surface_.positions[sample]) - plane_.offset;
  }

  const Surface& surface_;
  CutPlane plane_;
};

std::vector<CutPiece> piecesOf(const Surface& surface, const PlaneCut& cut, uint32_t part) {
  constexpr size_t kStretch = 65536;
  const size_t count = surface.triangles.size();
  std::vector<std::vector<CutPiece>> found((count + kStretch - 1) / kStretch);
  parallel(
      found.size(),
      [&](size_t k) {
        for (size_t t = k * kStretch; t < std::min(count, (k + 1) * kStretch); ++t) {
          CutPiece piece;
          if ((part == kNone || surface.triangleParts[t] == part) &&
              cut.piece(static_cast<uint32_t>(t), piece))
            found[k].push_back(piece);
        }
      },
      1);
  std::vector<CutPiece> out;
  for (const auto& own : found) out.insert(out.end(), own.begin(), own.end());
  return out;
}

// Follows pieces from side to side.
class Follower {
 public:
  explicit Follower(const std::vector<CutPiece>& pieces) : pieces_(pieces), used_(pieces.size(), 0) {
    for (uint32_t p = 0; p < pieces.size(); ++p)
      for (const uint64_t side : pieces[p].side) at_.emplace(side, p);
  }

  // Sides in order, from the given side of a piece on; the last is the first again where it comes round.
  std::vector<std::pair<uint64_t, uint32_t>> follow(uint32_t piece, int end) {
    std::vector<std::pair<uint64_t, uint32_t>> out;
    for (uint64_t side = pieces_[piece].side[end];;) {
      used_[piece] = 1;
      side = pieces_[piece].side[pieces_[piece].side[0] == side ? 1 : 0];
      out.emplace_back(side, piece);
      const auto [first, last] = at_.equal_range(side);
      const auto next = std::find_if(first, last, [&](const auto& entry) { return !used_[entry.second]; });
      if (next == last) return out;
      piece = next->second;
    }
  }

 private:
  const std::vector<CutPiece>& pieces_;
  std::vector<char> used_;
  std::unordered_multimap<uint64_t, uint32_t> at_;
};

size_t nearestOf(const SkinCut& cut, const Vec3& place) {
  const auto nearest = std::ranges::min_element(
      cut.points, {}, [&](const SurfacePoint& p) { return (p.position - place).squaredNorm(); });
  return static_cast<size_t>(nearest - cut.points.begin());
}

float lengthOf(const std::vector<SurfacePoint>& line) {
  float out = 0;
  for (size_t i = 1; i < line.size(); ++i) out += (line[i].position - line[i - 1].position).norm();
  return out;
}

}  // namespace

SkinCut cutThrough(const Surface& surface, const CutPlane& plane, uint32_t part, const Vec3& near) {
  const PlaneCut cut(surface, plane);
  const std::vector<CutPiece> pieces = piecesOf(surface, cut, part);
  if (pieces.empty()) return {};
  const auto far = [&](const CutPiece& p) {
    return (cut.pointOn(p.side[0], p.triangle).position - near).squaredNorm();
  };
  const auto start = static_cast<uint32_t>(std::ranges::min_element(pieces, {}, far) - pieces.begin());
  Follower follower(pieces);
  const auto forward = follower.follow(start, 0);
  SkinCut out;
  out.closed = forward.back().first == pieces[start].side[0];
  if (!out.closed) {
    // the other way the start's own piece comes first: its near side
    const auto back = follower.follow(start, 1);
    for (auto side = back.rbegin(); side != back.rend(); ++side)
      out.points.push_back(cut.pointOn(side->first, pieces[side->second].triangle));
  }
  for (const auto& [side, piece] : forward) out.points.push_back(cut.pointOn(side, pieces[piece].triangle));
  return out;
}

SkinCut stretchOf(const SkinCut& cut, const Vec3& from, const Vec3& to) {
  if (cut.points.empty()) return {};
  const size_t a = nearestOf(cut, from), b = nearestOf(cut, to), n = cut.points.size();
  SkinCut out;
  for (size_t i = a; i != b; i = a <= b ? i + 1 : i - 1) out.points.push_back(cut.points[i]);
  out.points.push_back(cut.points[b]);
  if (!cut.closed) return out;
  SkinCut other;
  for (size_t i = a; i != b; i = a <= b ? (i + n - 1) % n : (i + 1) % n)
    other.points.push_back(cut.points[i]);
  other.points.push_back(cut.points[b]);
  return lengthOf(other.points) < lengthOf(out.points) ? other : out;
}

SkinCut roundFrom(const SkinCut& cut, const Vec3& from) {
  if (!cut.closed || cut.points.empty()) return cut;
  SkinCut out = cut;
  std::ranges::rotate(out.points, out.points.begin() + static_cast<std::ptrdiff_t>(nearestOf(cut, from)));
  out.points.push_back(out.points.front());
  return out;
}

}  // namespace juvenor
