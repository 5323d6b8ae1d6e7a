#include "core/textures/flatten.h"

#include <Eigen/SparseCholesky>
#include <cmath>
#include <numbers>
#include <numeric>
#include <unordered_map>

#include "core/textures/scan_triangle.h"
#include "core/textures/uv_stretch.h"

namespace juvenor {
namespace {

// Corners of the chart's triangles that are one vertex of it: those joined over edges inside, so that every
// chart is a manifold.
std::vector<uint32_t> chartVertices(const ChartMesh& mesh, std::span<const uint32_t> chart,
                                    const std::unordered_map<uint32_t, uint32_t>& place) {
  std::vector<uint32_t> to(3 * chart.size());
  std::iota(to.begin(), to.end(), 0u);
  const auto of = [&](uint32_t c) {
    while (to[c] != c) c = to[c] = to[to[c]];
    return c;
  };
  for (uint32_t i = 0; i < chart.size(); ++i)
    for (uint32_t e = 0; e < 3; ++e) {
      const uint32_t next = mesh.across[chart[i]][e];
      const auto at = next == kNone ? place.end() : place.find(next);
      if (at == place.end()) continue;
      const uint32_t j = at->second;
      for (const uint32_t corner : {e, (e + 1) % 3})
        for (uint32_t k = 0; k < 3; ++k)
          if (mesh.triangles[next][k] == mesh.triangles[chart[i]][corner])
            to[of(3 * i + corner)] = of(3 * j + k);
    }
  for (uint32_t c = 0; c < to.size(); ++c) to[c] = of(c);
  return to;
}

double crossOf(const Vec2& a, const Vec2& b) {
  return static_cast<double>(a.x()) * static_cast<double>(b.y()) -
         static_cast<double>(a.y()) * static_cast<double>(b.x());
}

// Of an edge's square: areas below have no say.
constexpr double kSliver = 1e-3;

// Stretch and areas; false where a triangle turned over.
bool measure(const ChartMesh& mesh, FlatChart& out) {
  double sum = 0;
  for (size_t i = 0; i < out.triangles.size(); ++i) {
    const Triangle& t = mesh.triangles[out.triangles[i]];
    const Eigen::Vector3d a = mesh.positions[t[0]].cast<double>(), b = mesh.positions[t[1]].cast<double>(),
                          c = mesh.positions[t[2]].cast<double>();
    const double skin = 0.5 * (b - a).cross(c - a).norm();
    const auto& p = out.corners[i];
    const double area = 0.5 * crossOf(p[1] - p[0], p[2] - p[0]);
    out.skin += skin;
    // slivers thinner than numbers are exact turn over and back: they show nowhere
    const double longest = std::max({(b - a).squaredNorm(), (c - b).squaredNorm(), (a - c).squaredNorm()});
    if (std::abs(area) < kSliver * longest && skin < 4 * kSliver * longest) continue;
    if (!(area > 0)) return false;
    out.area += area;
    sum +=
        skin * stretchOf({mesh.positions[t[0]], mesh.positions[t[1]], mesh.positions[t[2]]}, p, area).mean2;
  }
  if (!(out.area > 0) || !(out.skin > 0)) return false;
  out.stretch = static_cast<float>(std::sqrt(sum / out.skin * (out.area / out.skin)));
  return std::isfinite(out.stretch);
}

using Plane = Eigen::MatrixX2d;

// A chart as a mesh of its own.
struct Piece {
  std::vector<std::array<uint32_t, 3>> corners;  // vertices of each triangle
  uint32_t vertices = 0;
  std::vector<uint32_t> point;    // of the mesh, of each vertex
  std::vector<uint32_t> outline;  // vertices along its longest border, in order
};

// The borders of a piece as loops of vertices. Every vertex has one border edge that leaves it, for corners
// are one vertex only where triangles hang together.
std::vector<std::vector<uint32_t>> bordersOf(const Piece& piece,
                                             const std::vector<std::array<bool, 3>>& open) {
  std::vector<uint32_t> next(piece.vertices, kNone);
  for (size_t t = 0; t < piece.corners.size(); ++t)
    for (size_t e = 0; e < 3; ++e)
      if (open[t][e]) next[piece.corners[t][e]] = piece.corners[t][(e + 1) % 3];
  std::vector<std::vector<uint32_t>> out;
  for (uint32_t v = 0; v < piece.vertices; ++v) {
    if (next[v] == kNone) continue;
    std::vector<uint32_t>& loop = out.emplace_back();
    for (uint32_t at = v; next[at] != kNone;) {
      loop.push_back(at);
      at = std::exchange(next[at], kNone);
    }
  }
  return out;
}

// Nothing where it is not of the kind of a disc, perhaps with holes.
std::optional<Piece> pieceOf(const ChartMesh& mesh, std::span<const uint32_t> chart) {
  std::unordered_map<uint32_t, uint32_t> place;
  place.reserve(chart.size());
  for (uint32_t i = 0; i < chart.size(); ++i) place.emplace(chart[i], i);
  const std::vector<uint32_t> vertexOf = chartVertices(mesh, chart, place);
  Piece out;
  std::vector<uint32_t> number(vertexOf.size());
  for (uint32_t c = 0; c < vertexOf.size(); ++c)
    if (vertexOf[c] == c) number[c] = out.vertices++;
  std::vector<std::array<bool, 3>> open(chart.size());
  size_t inner = 0, rim = 0;
  for (uint32_t i = 0; i < chart.size(); ++i) {
    out.corners.push_back(
        {number[vertexOf[3 * i]], number[vertexOf[3 * i + 1]], number[vertexOf[3 * i + 2]]});
    for (size_t e = 0; e < 3; ++e) {
      const uint32_t across = mesh.across[chart[i]][e];
      open[i][e] = across == kNone || !place.contains(across);
      (open[i][e] ? rim : inner) += 1;
    }
  }
  const auto borders = bordersOf(out, open);
  // vertices − edges + faces is 2 less the number of borders
  const auto euler = static_cast<int64_t>(out.vertices) - static_cast<int64_t>(rim + inner / 2) +
                     static_cast<int64_t>(chart.size());
  if (borders.empty() || euler != 2 - static_cast<int64_t>(borders.size())) return std::nullopt;
  out.point.resize(out.vertices);
  for (uint32_t c = 0; c < vertexOf.size(); ++c)
    out.point[number[vertexOf[c]]] = mesh.triangles[chart[c / 3]][c % 3];
  const auto position = [&](uint32_t v) { return mesh.positions[out.point[v]]; };
  float longest = -1;
  for (const auto& loop : borders) {
    float length = 0;
    for (size_t k = 0; k < loop.size(); ++k)
      length += (position(loop[k]) - position(loop[(k + 1) % loop.size()])).norm();
    if (length > longest) {
      longest = length;
      out.outline = loop;
    }
  }
  return out;
}

// A triangle as it lies by itself, and the cotangents of its angles.
struct Local {
  std::array<Eigen::Vector2d, 3> at;
  std::array<double, 3> cot;  // of the angle opposite the edge from each corner to the next
};

std::vector<Local> localTriangles(const ChartMesh& mesh, std::span<const uint32_t> chart) {
  std::vector<Local> out;
  for (const uint32_t t : chart) {
    const Triangle& v = mesh.triangles[t];
    const Eigen::Vector3d a = mesh.positions[v[0]].cast<double>(),
                          ab = mesh.positions[v[1]].cast<double>() - a,
                          ac = mesh.positions[v[2]].cast<double>() - a;
    const double length = std::max(1e-30, ab.norm()), x = ac.dot(ab) / length,
                 y = std::max(1e-6 * std::max(length, ac.norm()), ab.cross(ac).norm() / length);
    Local l{{Eigen::Vector2d(0, 0), Eigen::Vector2d(length, 0), Eigen::Vector2d(x, y)}, {}};
    for (size_t k = 0; k < 3; ++k) {
      const Eigen::Vector2d &c = l.at[(k + 2) % 3], p = l.at[k] - c, q = l.at[(k + 1) % 3] - c;
      l.cot[k] = p.dot(q) / std::max(1e-30, std::abs(p.x() * q.y() - p.y() * q.x()));
    }
    out.push_back(l);
  }
  return out;
}

// Places of vertices that are given, where they are.
using Fixed = std::vector<std::optional<Eigen::RowVector2d>>;

Fixed outlineOnCircle(const Piece& piece) {
  Fixed out(piece.vertices);
  for (size_t k = 0; k < piece.outline.size(); ++k) {
    const double angle =
        2 * std::numbers::pi * static_cast<double>(k) / static_cast<double>(piece.outline.size());
    out[piece.outline[k]] = Eigen::RowVector2d(std::cos(angle), std::sin(angle));
  }
  return out;
}

// Points that are several vertices of the piece may lie at either; too few say nothing.
std::optional<Fixed> knownPlaces(const Piece& piece, const KnownPlaces& known) {
  Fixed out(piece.vertices);
  std::unordered_map<uint32_t, uint32_t> first;
  size_t count = 0;
  for (uint32_t v = 0; v < piece.vertices; ++v) {
    const auto at = known.find(piece.point[v]);
    if (at == known.end()) continue;
    const auto [seen, isNew] = first.emplace(piece.point[v], v);
    count += isNew ? 1 : 0;
    if (isNew)
      out[v] = at->second.transpose().cast<double>();
    else
      out[seen->second].reset();
  }
  constexpr size_t kEnough = 4;
  return count < kEnough ? std::nullopt : std::optional(out);
}

// Each vertex that is not given lies at the weighted mean of those around, by cotangents where they are
// above 0. With the outline on a circle nothing folds (Tutte 1963, Floater 1997); holes become convex.
std::optional<Plane> meanMap(const Piece& piece, const std::vector<Local>& locals, const Fixed& fixed) {
  constexpr double kLeastWeight = 0.05, kMostWeight = 20;
  const auto n = static_cast<Eigen::Index>(piece.vertices);
  std::vector<Eigen::Triplet<double>> entries;
  Plane right = Plane::Zero(n, 2), out(n, 2);
  for (size_t t = 0; t < locals.size(); ++t)
    for (size_t k = 0; k < 3; ++k) {
      const uint32_t i = piece.corners[t][k], j = piece.corners[t][(k + 1) % 3];
      const double w = std::clamp(locals[t].cot[k], kLeastWeight, kMostWeight);
      for (const auto& [from, to] : {std::pair(i, j), std::pair(j, i)}) {
        if (fixed[from]) continue;
        entries.emplace_back(from, from, w);
        if (fixed[to])
          right.row(from) += w * *fixed[to];
        else
          entries.emplace_back(from, to, -w);
      }
    }
  for (uint32_t v = 0; v < piece.vertices; ++v)
    if (fixed[v]) {
      entries.emplace_back(v, v, 1);
      right.row(v) = *fixed[v];
    }
  Eigen::SparseMatrix<double> matrix(n, n);
  matrix.setFromTriplets(entries.begin(), entries.end());
  const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(matrix);
  if (solver.info() != Eigen::Success) return std::nullopt;
  out = solver.solve(right);
  return out.allFinite() ? std::optional(out) : std::nullopt;
}

// Part of a triangle's area that is left where it lies; below 0 it is turned over.
double areaLeft(const Local& l, const std::array<uint32_t, 3>& c, const Plane& uv) {
  const Eigen::RowVector2d a = uv.row(c[1]) - uv.row(c[0]), b = uv.row(c[2]) - uv.row(c[0]);
  return (a.x() * b.y() - a.y() * b.x()) / (l.at[1].x() * l.at[2].y());
}

// Every point toward where it is wanted, but no further than triangles around it keep some of their area:
// what begins without folds stays so.
void moveToward(const Plane& wanted, const std::vector<Local>& locals,
                const std::vector<std::array<uint32_t, 3>>& corners, Plane& uv) {
  constexpr int kRounds = 12;
  constexpr double kLeastArea = 0.05;
  std::vector<double> before(locals.size());
  for (size_t t = 0; t < locals.size(); ++t) before[t] = areaLeft(locals[t], corners[t], uv);
  Eigen::VectorXd part = Eigen::VectorXd::Ones(uv.rows());
  const Plane way = wanted - uv;
  for (int round = 0; round <= kRounds; ++round) {
    const Plane next = uv + part.asDiagonal() * way;
    bool good = true;
    for (size_t t = 0; t < locals.size(); ++t) {
      const double left = areaLeft(locals[t], corners[t], next);
      if (left >= kLeastArea || left >= before[t]) continue;
      good = false;
      for (const uint32_t v : corners[t]) part[v] = round + 1 == kRounds ? 0 : 0.6 * part[v];
    }
    if (good || round == kRounds) {
      uv = next;
      return;
    }
  }
}

// As rigid as possible: each triangle turned as it lies now, then all points where the turned triangles want
// them, in turn (Liu and others 2008). The first steps may be `free`: what begins with folds loses them so.
void makeRigid(const std::vector<Local>& locals, const std::vector<std::array<uint32_t, 3>>& corners,
               int free, Plane& uv) {
  const Eigen::Index n = uv.rows();
  std::vector<Eigen::Triplet<double>> entries;
  for (size_t t = 0; t < locals.size(); ++t)
    for (size_t k = 0; k < 3; ++k) {
      const auto i = static_cast<int>(corners[t][k]), j = static_cast<int>(corners[t][(k + 1) % 3]);
      const double w = locals[t].cot[k];
      entries.insert(entries.end(), {{i, i, w}, {j, j, w}, {i, j, -w}, {j, i, -w}});
    }
  // nothing says where it lies
  for (int i = 0; i < n; ++i) entries.emplace_back(i, i, 1e-9);
  Eigen::SparseMatrix<double> matrix(n, n);
  matrix.setFromTriplets(entries.begin(), entries.end());
  const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(matrix);
  if (solver.info() != Eigen::Success) return;
  constexpr int kSteps = 16;
  Plane right(n, 2);
  for (int step = 0; step < kSteps; ++step) {
    right.setZero();
    for (size_t t = 0; t < locals.size(); ++t) {
      const Local& l = locals[t];
      Eigen::Matrix2d turn = Eigen::Matrix2d::Zero();
      for (size_t k = 0; k < 3; ++k) {
        const Eigen::Vector2d lies = (uv.row(corners[t][k]) - uv.row(corners[t][(k + 1) % 3])).transpose();
        turn += l.cot[k] * lies * (l.at[k] - l.at[(k + 1) % 3]).transpose();
      }
      const double c = turn(0, 0) + turn(1, 1), s = turn(1, 0) - turn(0, 1), length = std::hypot(c, s);
      if (!(length > 0)) continue;
      Eigen::Matrix2d rotation;
      rotation << c / length, -s / length, s / length, c / length;
      for (size_t k = 0; k < 3; ++k) {
        const Eigen::RowVector2d edge = (l.cot[k] * (rotation * (l.at[k] - l.at[(k + 1) % 3]))).transpose();
        right.row(corners[t][k]) += edge;
        right.row(corners[t][(k + 1) % 3]) -= edge;
      }
    }
    if (step < free)
      uv = solver.solve(right);
    else
      moveToward(solver.solve(right), locals, corners, uv);
  }
}

}  // namespace

std::vector<uint32_t> overOthers(const FlatChart& chart) {
  // about four pixels a triangle
  const int pixels =
      std::clamp(static_cast<int>(2 * std::sqrt(static_cast<double>(chart.triangles.size()))), 512, 4096);
  Vec2 low = chart.corners[0][0], high = low;
  for (const auto& c : chart.corners)
    for (const Vec2& p : c) {
      low = low.cwiseMin(p);
      high = high.cwiseMax(p);
    }
  const float scale = static_cast<float>(pixels * kFinePixel) / std::max(1e-30f, (high - low).maxCoeff());
  std::vector<uint8_t> seen(static_cast<size_t>(pixels) * static_cast<size_t>(pixels), 0);
  std::vector<uint32_t> out;
  for (size_t i = 0; i < chart.triangles.size(); ++i) {
    std::array<FinePlace, 3> t;
    for (size_t k = 0; k < 3; ++k) {
      const Vec2 p = scale * (chart.corners[i][k] - low);
      t[k] = {std::llround(p.x()), std::llround(p.y())};
    }
    bool twice = false;
    scanTriangle(t, pixels, 0, pixels, {kFinePixel / 2, kFinePixel / 2}, [&](const PixelRun& run) {
      for (int x = run.left; x < run.right; ++x)
        twice |=
            seen[static_cast<size_t>(run.y) * static_cast<size_t>(pixels) + static_cast<size_t>(x)]++ != 0;
    });
    if (twice) out.push_back(chart.triangles[i]);
  }
  return out;
}

std::optional<FlatChart> flattened(const ChartMesh& mesh, std::span<const uint32_t> chart, float most,
                                   const KnownPlaces* known, std::vector<uint32_t>* over) {
  if (chart.size() == 1) return projected(mesh, chart);
  const auto piece = pieceOf(mesh, chart);
  if (!piece) return std::nullopt;
  const std::vector<Local> locals = localTriangles(mesh, chart);
  const auto places = known ? knownPlaces(*piece, *known) : std::nullopt;
  auto uv = meanMap(*piece, locals, places ? *places : outlineOnCircle(*piece));
  if (!uv) return std::nullopt;
  // the circle has a size of its own, and so has a coarser mesh
  double area = 0, skin = 0;
  for (size_t t = 0; t < locals.size(); ++t) {
    const Eigen::RowVector2d a = uv->row(piece->corners[t][1]) - uv->row(piece->corners[t][0]),
                             b = uv->row(piece->corners[t][2]) - uv->row(piece->corners[t][0]);
    area += 0.5 * (a.x() * b.y() - a.y() * b.x());
    skin += 0.5 * locals[t].at[1].x() * locals[t].at[2].y();
  }
  if (area < 0) uv->col(0) *= -1;
  *uv *= std::sqrt(skin / std::max(1e-30, std::abs(area)));
  makeRigid(locals, piece->corners, places ? 8 : 0, *uv);
  FlatChart out;
  out.triangles.assign(chart.begin(), chart.end());
  for (const auto& corners : piece->corners) {
    auto& at = out.corners.emplace_back();
    for (size_t k = 0; k < 3; ++k) at[k] = uv->row(corners[k]).transpose().cast<float>();
    if (!at[0].allFinite() || !at[1].allFinite() || !at[2].allFinite()) return std::nullopt;
  }
  if (!measure(mesh, out) || out.stretch > most) return std::nullopt;
  std::vector<uint32_t> twice = overOthers(out);
  if (twice.empty()) return out;
  if (over) *over = std::move(twice);
  return std::nullopt;
}

FlatChart projected(const ChartMesh& mesh, std::span<const uint32_t> polygon) {
  Vec3 normal = Vec3::Zero();
  for (const uint32_t t : polygon) {
    const Triangle& v = mesh.triangles[t];
    normal +=
        (mesh.positions[v[1]] - mesh.positions[v[0]]).cross(mesh.positions[v[2]] - mesh.positions[v[0]]);
  }
  normal = normalizedOr(normal, Vec3::UnitZ());
  const Vec3 along =
      normalizedOr(normal.cross(std::abs(normal.x()) < 0.9f ? Vec3::UnitX() : Vec3::UnitY()), Vec3::UnitX());
  const Vec3 up = normal.cross(along), origin = mesh.positions[mesh.triangles[polygon[0]][0]];
  FlatChart out;
  for (const uint32_t t : polygon) {
    out.triangles.push_back(t);
    auto& corners = out.corners.emplace_back();
    for (size_t k = 0; k < 3; ++k) {
      const Vec3 p = mesh.positions[mesh.triangles[t][k]] - origin;
      corners[k] = Vec2(along.dot(p), up.dot(p));
    }
  }
  if (!measure(mesh, out)) {
    out.stretch = 1;
    out.area = out.skin;
  }
  return out;
}

}  // namespace juvenor
