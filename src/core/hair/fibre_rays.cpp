#include "core/hair/fibre_rays.h"

#include <embree3/rtcore.h>

#include <stdexcept>

namespace juvenor {

struct FibreRays::Scene {
  RTCDevice device = nullptr;
  RTCScene curves = nullptr, straight = nullptr;
  ~Scene() {
    if (curves) rtcReleaseScene(curves);
    if (straight) rtcReleaseScene(straight);
    if (device) rtcReleaseDevice(device);
  }
  RTCScene of(As as) const { return as == As::Curves ? curves : straight; }
  RTCScene made(RTCGeometryType type, const Fibres& fibres, const std::vector<uint32_t>& first) const {
    const RTCScene scene = rtcNewScene(device);
    const RTCGeometry geometry = rtcNewGeometry(device, type);
    rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT4, fibres.points.data(),
                               0, sizeof(FibrePoint), fibres.points.size());
    rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT, first.data(), 0,
                               sizeof(uint32_t), first.size());
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene, geometry);
    rtcReleaseGeometry(geometry);
    rtcCommitScene(scene);
    return scene;
  }
  void complain() const {
    if (const RTCError error = rtcGetDeviceError(device); error == RTC_ERROR_OUT_OF_MEMORY)
      throw std::bad_alloc();
    else if (error != RTC_ERROR_NONE)
      throw std::runtime_error("the rays of hair cannot be prepared");
  }
};

FibreRays::FibreRays(FibresPointer fibres) : fibres_(std::move(fibres)), scene_(std::make_unique<Scene>()) {
  for (const uint32_t first : fibres_->segments) straight_.push_back(first + 1);
  scene_->device = rtcNewDevice(nullptr);
  if (!scene_->device) throw std::runtime_error("the rays of hair cannot be prepared on this machine");
  scene_->curves = scene_->made(RTC_GEOMETRY_TYPE_ROUND_CATMULL_ROM_CURVE, *fibres_, fibres_->segments);
  scene_->straight = scene_->made(RTC_GEOMETRY_TYPE_ROUND_LINEAR_CURVE, *fibres_, straight_);
  scene_->complain();
}

FibreRays::~FibreRays() = default;

Result<FibreRaysPointer> buildFibreRays(FibresPointer fibres) {
  if (!fibres || fibres->empty()) return FibreRaysPointer();
  try {
    return FibreRaysPointer(std::make_shared<FibreRays>(std::move(fibres)));
  } catch (const std::bad_alloc&) {
    return Error{"there is not enough memory to prepare the rays of hair"};
  } catch (const std::exception& e) {
    return Error{e.what()};
  }
}

namespace {

RTCRay rayOf(const Ray& ray, float reach) {
  return {ray.origin.x(),
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
}

}  // namespace

std::optional<FibreHit> FibreRays::first(const Ray& ray, float reach) const {
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  RTCRayHit q{};
  q.ray = rayOf(ray, reach);
  q.hit.geomID = RTC_INVALID_GEOMETRY_ID;
  rtcIntersect1(scene_->curves, &context, &q);
  if (q.hit.geomID == RTC_INVALID_GEOMETRY_ID) return std::nullopt;
  return FibreHit{q.hit.primID, q.hit.u, q.ray.tfar};
}

bool FibreRays::blocked(const Ray& ray, float reach) const {
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  RTCRay q = rayOf(ray, reach);
  rtcOccluded1(scene_->straight, &context, &q);
  return q.tfar < 0;
}

void FibreRays::firstOfEight(const std::array<Ray, 8>& rays, const std::array<float, 8>& reach, As as,
                             std::array<FibreHit, 8>& out) const {
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  context.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
  alignas(32) std::array<int, 8> valid;
  RTCRayHit8 q;
  for (size_t i = 0; i < 8; ++i) {
    valid[i] = reach[i] >= 0 ? -1 : 0;
    q.ray.org_x[i] = rays[i].origin.x();
    q.ray.org_y[i] = rays[i].origin.y();
    q.ray.org_z[i] = rays[i].origin.z();
    q.ray.dir_x[i] = rays[i].direction.x();
    q.ray.dir_y[i] = rays[i].direction.y();
    q.ray.dir_z[i] = rays[i].direction.z();
    q.ray.tnear[i] = 0;
    q.ray.tfar[i] = reach[i];
    q.ray.time[i] = 0;
    q.ray.mask[i] = kNone;
    q.ray.flags[i] = 0;
    q.hit.geomID[i] = RTC_INVALID_GEOMETRY_ID;
    q.hit.instID[0][i] = RTC_INVALID_GEOMETRY_ID;
  }
  rtcIntersect8(valid.data(), scene_->of(as), &context, &q);
  for (size_t i = 0; i < 8; ++i)
    out[i] = q.hit.geomID[i] == RTC_INVALID_GEOMETRY_ID
                 ? FibreHit{}
                 : FibreHit{q.hit.primID[i], q.hit.u[i], q.ray.tfar[i]};
}

}  // namespace juvenor
