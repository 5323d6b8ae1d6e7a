// Normals as the mesh that wears them will bend its own: what a shader does with a normal map (the tangents
// interpolated, the bitangent from them, nothing made unit on the way) is turned round.
#include "core/surface/relief_normals.h"
#include "core/textures/texel_map.h"

namespace juvenor {
namespace {

class NormalTexels : public TexelMap {
 public:
  explicit NormalTexels(const MapInput& in)
      : surface_(*in.document->surface),
        worn_(*in.worn),
        from_(in.normals),
        green_(in.greenUp ? 1.f : -1.f),
        bent_(reliefNormals(in.document->surface, in.skin->get<Channel::Relief>(), kLevel,
                            in.document->reliefStep)) {}

  void add(const TexelPlace& p, Values& sum) const override {
    Vec3 bent = Vec3::Zero(), normal = Vec3::Zero(), tangent = Vec3::Zero();
    for (size_t k = 0; k < 3; ++k) {
      bent += p.weights[k] * bent_.at(p.samples[k]);
      normal += p.worn[k] * worn_.normals[worn_.triangles[p.wornTriangle][k]];
      tangent += p.worn[k] * worn_.tangents[p.wornTriangle][k].head<3>();
    }
    if (from_ == NormalsFrom::Relief) {
      Vec3 smooth = Vec3::Zero();
      for (size_t k = 0; k < 3; ++k) smooth += p.weights[k] * surface_.normals[p.samples[k]];
      bent =
          turnBetween<float>(normalizedOr(smooth, Vec3::UnitZ()), normalizedOr(normal, Vec3::UnitZ())) * bent;
    }
    const Vec3 bitangent = worn_.tangents[p.wornTriangle][0].w() * normal.cross(tangent);
    Eigen::Matrix3f frame;
    frame << tangent, bitangent, normal;
    const float volume = frame.determinant();
    Vec3 out = Vec3::UnitZ();
    if (std::abs(volume) > 1e-12f) out = normalizedOr(frame.inverse() * bent, Vec3::UnitZ());
    for (size_t c = 0; c < 3; ++c) sum[c] += out[static_cast<int>(c)];
  }
  // What looks inward on the mesh cannot be shown by it, and lies flat.
  void settle(Values& sum, float) const override {
    Vec3 n(sum[0], green_ * sum[1], std::max(0.f, sum[2]));
    n = normalizedOr(n, Vec3::UnitZ());
    for (size_t c = 0; c < 3; ++c) sum[c] = 0.5f + 0.5f * n[static_cast<int>(c)];
  }

 private:
  const Surface& surface_;
  const WornMesh& worn_;
  NormalsFrom from_;
  float green_;
  ReliefNormals bent_;
};

}  // namespace

TexelMapPointer normalTexels(const MapInput& input) {
  return std::make_unique<NormalTexels>(input);
}

}  // namespace juvenor
