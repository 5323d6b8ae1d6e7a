#include "core/textures/texel_places.h"

namespace juvenor {
namespace {

std::array<float, 3> weightsOf(const std::array<uint16_t, 2>& kept) {
  const float u = from16(kept[0]), v = from16(kept[1]);
  return {std::max(0.f, 1 - u - v), u, v};
}

class OnSculpt : public TexelPlaces {
 public:
  OnSculpt(const WornMesh& sculpt, SkinLayout layout, const Surface& surface)
      : sculpt_(sculpt), layout_(std::move(layout)), surface_(surface) {}

  std::vector<int> tiles() const override { return tilesOf(sculpt_.triangles.size(), ofMesh(sculpt_)); }
  TexelGrid grid(int tile, int pixels) const override {
    return TexelGrid(
        tile, pixels, surface_.triangles.size(),
        [this](size_t t) {
          const auto& uv = sculpt_.uv[layout_.sculptTriangle[t]];
          return std::array<Vec2, 3>{atCorner(uv, layout_, t, 0), atCorner(uv, layout_, t, 1),
                                     atCorner(uv, layout_, t, 2)};
        },
        layout_.sculptTriangle);
  }
  void look(const TexelGrid& grid, int band, const Vec2& place, const Take& take) const override {
    VisibilityImage seen;
    grid.look(band, place, seen);
    TexelPlace p{};
    for (size_t i = 0; i < seen.triangle.size(); ++i) {
      const uint32_t t = seen.triangle[i];
      if (t == kNone) continue;
      p.samples = surface_.triangles[t];
      p.weights = weightsOf(seen.weights[i]);
      p.skinTriangle = t;
      p.wornTriangle = layout_.sculptTriangle[t];
      p.worn = p.weights;
      if (!layout_.within.empty()) {
        Vec2 within = Vec2::Zero();
        for (size_t k = 0; k < 3; ++k) within += p.weights[k] * layout_.within[t][k];
        p.worn = {1 - within.x() - within.y(), within.x(), within.y()};
      }
      take(i, &p);
    }
  }

  static TexelGrid::Corners ofMesh(const WornMesh& mesh) {
    return [&mesh](size_t t) { return mesh.uv[t]; };
  }

 private:
  const WornMesh& sculpt_;
  SkinLayout layout_;
  const Surface& surface_;
};

class OnMesh : public TexelPlaces {
 public:
  OnMesh(const WornMesh& mesh, OntoMesh onto, const Surface& surface)
      : mesh_(mesh), onto_(std::move(onto)), surface_(surface) {}

  std::vector<int> tiles() const override { return tilesOf(mesh_.triangles.size(), OnSculpt::ofMesh(mesh_)); }
  TexelGrid grid(int tile, int pixels) const override {
    return TexelGrid(tile, pixels, mesh_.triangles.size(), OnSculpt::ofMesh(mesh_));
  }
  void look(const TexelGrid& grid, int band, const Vec2& place, const Take& take) const override {
    VisibilityImage seen;
    grid.look(band, place, seen);
    TexelPlace p{};
    for (size_t i = 0; i < seen.triangle.size(); ++i) {
      const uint32_t t = seen.triangle[i];
      if (t == kNone) continue;
      p.wornTriangle = t;
      p.worn = weightsOf(seen.weights[i]);
      const OntoMesh::Found found = onto_.at(t, {p.worn[1], p.worn[2]});
      if (found.hit.triangle == kNone) {
        take(i, nullptr);
        continue;
      }
      p.samples = surface_.triangles[found.hit.triangle];
      p.weights = {1 - found.hit.u - found.hit.v, found.hit.u, found.hit.v};
      p.skinTriangle = found.hit.triangle;
      p.distance = found.distance;
      take(i, &p);
    }
  }

 private:
  const WornMesh& mesh_;
  OntoMesh onto_;
  const Surface& surface_;
};

}  // namespace

std::unique_ptr<const TexelPlaces> placesOnSculpt(const WornMesh& sculpt, SkinLayout layout,
                                                  const Surface& surface) {
  return std::make_unique<OnSculpt>(sculpt, std::move(layout), surface);
}

std::unique_ptr<const TexelPlaces> placesOnMesh(const WornMesh& mesh, OntoMesh onto, const Surface& surface) {
  return std::make_unique<OnMesh>(mesh, std::move(onto), surface);
}

}  // namespace juvenor
