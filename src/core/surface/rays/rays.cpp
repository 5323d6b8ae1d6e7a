#include "core/surface/rays/rays.h"

#include <embree3/rtcore.h>

#include <atomic>
#include <cmath>
#include <stdexcept>

#include "core/surface/closest_on_triangle.h"

namespace juvenor {

struct Rays::Scene {
  RTCDevice device = nullptr;
  RTCScene scene = nullptr;
  std::string error;
  const Progress* progress = nullptr;
  std::atomic<bool> stopped = false;

  ~Scene() {
    if (scene) rtcReleaseScene(scene);
    if (device) rtcReleaseDevice(device);
  }
  /// The first thing that went wrong since the device was made; throws.
  void complain() const {
    if (stopped) throw std::runtime_error(cancelledError().what);
    if (!error.empty()) throw std::runtime_error("the rays cannot be prepared (" + error + ")");
  }
};

namespace {

// Hidden parts, and skin from behind, are passed over by a filter that is only called while something is.
struct Context {
  RTCIntersectContext base;
  const Surface* surface;
  const std::set<uint32_t>* hidden;
  bool frontsOnly;
};

void passOver(const RTCFilterFunctionNArguments* args) {
  const auto* context = reinterpret_cast<const Context*>(args->context);
  const Surface& surface = *context->surface;
  for (unsigned i = 0; i < args->N; ++i) {
    if (args->valid[i] != -1) continue;
    const unsigned triangle = RTCHitN_primID(args->hit, args->N, i);
    if (context->hidden->contains(surface.triangleParts[triangle])) args->valid[i] = 0;
    if (!context->frontsOnly) continue;
    const Triangle& t = surface.triangles[triangle];
    const Vec3 &a = surface.positions[t[0]], &b = surface.positions[t[1]], &c = surface.positions[t[2]];
    const Vec3 way(RTCRayN_dir_x(args->ray, args->N, i), RTCRayN_dir_y(args->ray, args->N, i),
                   RTCRayN_dir_z(args->ray, args->N, i));
    if ((b - a).cross(c - a).dot(way) > 0) args->valid[i] = 0;
  }
}

Context contextFor(const Surface& surface, const std::set<uint32_t>& hidden, bool coherent, bool frontsOnly) {
  Context c{};
  rtcInitIntersectContext(&c.base);
  c.base.flags = coherent ? RTC_INTERSECT_CONTEXT_FLAG_COHERENT : RTC_INTERSECT_CONTEXT_FLAG_INCOHERENT;
  if (!hidden.empty() || frontsOnly) c.base.filter = passOver;
  c.surface = &surface;
  c.hidden = &hidden;
  c.frontsOnly = frontsOnly;
  return c;
}

struct Nearest {
  const Surface* surface;
  const Rays::Alike* alike;  ///< null: any will do
  Vec3 best;
  uint32_t triangle = kNone;
};

bool isAlike(const Surface& surface, uint32_t triangle, const Rays::Alike& alike) {
  if (!alike.parts.empty() && !alike.parts[surface.triangleParts[triangle]]) return false;
  const Triangle& t = surface.triangles[triangle];
  const Vec3& a = surface.positions[t[0]];
  const Vec3 across = (surface.positions[t[1]] - a).cross(surface.positions[t[2]] - a);
  return across.dot(alike.normal) > alike.least * across.norm();
}

bool visitNearest(RTCPointQueryFunctionArguments* args) {
  auto& nearest = *static_cast<Nearest*>(args->userPtr);
  const Triangle& t = nearest.surface->triangles[args->primID];
  const auto& p = nearest.surface->positions;
  const Vec3 query(args->query->x, args->query->y, args->query->z);
  const Vec3 q = closestOnTriangle(query, p[t[0]], p[t[1]], p[t[2]]);
  const float d = (q - query).norm();
  if (!(d <= args->query->radius) || (d == args->query->radius && nearest.triangle != kNone)) return false;
  if (nearest.alike && !isAlike(*nearest.surface, args->primID, *nearest.alike)) return false;
  nearest.best = q;
  nearest.triangle = args->primID;
  args->query->radius = d;
  return true;
}

// The nearest triangle, and the place on it.
Nearest nearestIn(RTCScene scene, const Surface& surface, const Vec3& point, float reach,
                  const Rays::Alike* alike) {
  Nearest nearest{&surface, alike, point, kNone};
  RTCPointQuery query{};
  query.x = point.x();
  query.y = point.y();
  query.z = point.z();
  query.radius = reach;
  RTCPointQueryContext context;
  rtcInitPointQueryContext(&context);
  rtcPointQuery(scene, &query, &context, visitNearest, &nearest);
  return nearest;
}

}  // namespace

Rays::Rays(std::shared_ptr<const Surface> surface, Quality quality, const Progress& progress)
    : surface_(std::move(surface)), scene_(std::make_unique<Scene>()) {
  scene_->progress = &progress;
  scene_->device = rtcNewDevice(nullptr);
  if (!scene_->device) throw std::runtime_error("the rays cannot be prepared on this machine");
  rtcSetDeviceErrorFunction(
      scene_->device,
      [](void* user, RTCError, const char* what) {
        auto& scene = *static_cast<Scene*>(user);
        if (scene.error.empty()) scene.error = what && *what ? what : "an error without a name";
      },
      scene_.get());
  scene_->scene = rtcNewScene(scene_->device);
  scene_->complain();
  rtcSetSceneProgressMonitorFunction(
      scene_->scene,
      [](void* user, double done) {
        auto& scene = *static_cast<Scene*>(user);
        if (!report(*scene.progress, static_cast<float>(done))) scene.stopped = true;
        return !scene.stopped;
      },
      scene_.get());
  rtcSetSceneFlags(scene_->scene, RTC_SCENE_FLAG_CONTEXT_FILTER_FUNCTION | RTC_SCENE_FLAG_ROBUST);
  rtcSetSceneBuildQuality(scene_->scene,
                          quality == Quality::Quick ? RTC_BUILD_QUALITY_LOW : RTC_BUILD_QUALITY_MEDIUM);
  RTCGeometry geometry = rtcNewGeometry(scene_->device, RTC_GEOMETRY_TYPE_TRIANGLE);
  rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                             surface_->positions.data(), 0, sizeof(Vec3), surface_->size());
  rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, surface_->triangles.data(),
                             0, sizeof(Triangle), surface_->triangles.size());
  rtcSetGeometryBuildQuality(geometry,
                             quality == Quality::Quick ? RTC_BUILD_QUALITY_LOW : RTC_BUILD_QUALITY_MEDIUM);
  rtcCommitGeometry(geometry);
  rtcAttachGeometry(scene_->scene, geometry);
  rtcReleaseGeometry(geometry);
  rtcCommitScene(scene_->scene);
  rtcSetSceneProgressMonitorFunction(scene_->scene, nullptr, nullptr);
  scene_->progress = nullptr;
  scene_->complain();
}

Rays::~Rays() = default;

Result<RaysPointer> buildRays(std::shared_ptr<const Surface> surface, Rays::Quality quality,
                              const Progress& progress) {
  try {
    return RaysPointer(std::make_shared<Rays>(std::move(surface), quality, progress));
  } catch (const std::bad_alloc&) {
    return Error{"there is not enough memory to prepare the rays"};
  } catch (const std::exception& e) {
    return Error{e.what()};
  }
}

std::optional<Hit> Rays::first(const Ray& ray, const std::set<uint32_t>& hidden, float reach) const {
  Context context = contextFor(*surface_, hidden, false, ray.frontsOnly);
  RTCRayHit q{};
  q.ray = {ray.origin.x(),
           ray.origin.y(),
           ray.origin.z(),
           0,
           ray.direction.x(),
           ray.direction.y(),
           ray.direction.z(),
           0,
           reach,
           kNone,
           0,
           0};
  q.hit.geomID = RTC_INVALID_GEOMETRY_ID;
  q.hit.primID = RTC_INVALID_GEOMETRY_ID;
  rtcIntersect1(scene_->scene, &context.base, &q);
  if (q.hit.geomID == RTC_INVALID_GEOMETRY_ID) return std::nullopt;
  return Hit{q.hit.primID, q.hit.u, q.hit.v, q.ray.tfar};
}

bool Rays::blocked(const Ray& ray, float reach, const std::set<uint32_t>& hidden) const {
  Context context = contextFor(*surface_, hidden, false, ray.frontsOnly);
  RTCRay q{ray.origin.x(),
           ray.origin.y(),
           ray.origin.z(),
           0,
           ray.direction.x(),
           ray.direction.y(),
           ray.direction.z(),
           0,
           reach,
           kNone,
           0,
           0};
  rtcOccluded1(scene_->scene, &context.base, &q);
  return q.tfar < 0;
}

void Rays::firstOfEight(const std::array<Ray, 8>& rays, const std::set<uint32_t>& hidden,
                        std::array<Hit, 8>& out) const {
  Context context = contextFor(*surface_, hidden, true, rays[0].frontsOnly);
  alignas(32) std::array<int, 8> valid;
  valid.fill(-1);
  RTCRayHit8 q;
  for (size_t i = 0; i < 8; ++i) {
    q.ray.org_x[i] = rays[i].origin.x();
    q.ray.org_y[i] = rays[i].origin.y();
    q.ray.org_z[i] = rays[i].origin.z();
    q.ray.dir_x[i] = rays[i].direction.x();
    q.ray.dir_y[i] = rays[i].direction.y();
    q.ray.dir_z[i] = rays[i].direction.z();
    q.ray.tnear[i] = 0;
    q.ray.tfar[i] = std::numeric_limits<float>::infinity();
    q.ray.time[i] = 0;
    q.ray.mask[i] = kNone;
    q.ray.flags[i] = 0;
    q.hit.geomID[i] = RTC_INVALID_GEOMETRY_ID;
    q.hit.instID[0][i] = RTC_INVALID_GEOMETRY_ID;
  }
  rtcIntersect8(valid.data(), scene_->scene, &context.base, &q);
  for (size_t i = 0; i < 8; ++i)
    out[i] = q.hit.geomID[i] == RTC_INVALID_GEOMETRY_ID
                 ? Hit{}
                 : Hit{q.hit.primID[i], q.hit.u[i], q.hit.v[i], q.ray.tfar[i]};
}

std::optional<Hit> Rays::nearestAlike(const Vec3& point, float reach, const Alike& alike) const {
  const Nearest nearest = nearestIn(scene_->scene, *surface_, point, reach, &alike);
  if (nearest.triangle == kNone) return std::nullopt;
  const Triangle& t = surface_->triangles[nearest.triangle];
  const auto& p = surface_->positions;
  const Vec2 weights = weightsOnTriangle(nearest.best, p[t[0]], p[t[1]], p[t[2]]);
  return Hit{nearest.triangle, weights.x(), weights.y(), (nearest.best - point).norm()};
}

std::optional<SurfacePoint> Rays::nearest(const Vec3& point, float reach) const {
  const Nearest nearest = nearestIn(scene_->scene, *surface_, point, reach, nullptr);
  if (nearest.triangle == kNone) return std::nullopt;
  const Triangle& t = surface_->triangles[nearest.triangle];
  SurfacePoint out;
  out.position = nearest.best;
  out.triangle = nearest.triangle;
  out.part = surface_->triangleParts[nearest.triangle];
  out.normal = normalizedOr(surface_->normals[t[0]] + surface_->normals[t[1]] + surface_->normals[t[2]],
                            Vec3::UnitZ());
  out.toViewer = out.normal;
  return out;
}

SurfacePoint Rays::pointOf(const Hit& hit, const Vec3& towardViewer) const {
  const Triangle& t = surface_->triangles[hit.triangle];
  const float w = 1 - hit.u - hit.v;
  const auto mix = [&](const std::vector<Vec3>& v) {
    return Vec3(w * v[t[0]] + hit.u * v[t[1]] + hit.v * v[t[2]]);
  };
  return {mix(surface_->positions), normalizedOr(mix(surface_->normals), towardViewer), towardViewer,
          hit.triangle, surface_->triangleParts[hit.triangle]};
}

}  // namespace juvenor
