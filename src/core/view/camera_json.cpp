#include "core/view/camera_json.h"

#include "core/json_fields.h"

namespace juvenor {

nlohmann::json toJson(const Camera& c) {
  return {{"target", {c.target.x(), c.target.y(), c.target.z()}},
          {"distance", c.distance},
          {"turn", {c.turn.x(), c.turn.y(), c.turn.z()}},
          {"turn w", c.turn.w()},
          {"field of view", c.fieldOfView},
          {"parallel", c.parallel}};
}

Result<Camera> cameraFromJson(const nlohmann::json& json) {
  Camera out;
  Vec3 turn = out.turn.vec();
  float w = out.turn.w();
  const Outcome ok = JsonFields(json)
                         .vector("target", out.target)
                         .number("distance", out.distance, 1e-6f, 1e9f)
                         .vector("turn", turn)
                         .number("turn w", w, -1, 1)
                         .number("field of view", out.fieldOfView, 1, 120)
                         .flag("parallel", out.parallel)
                         .done();
  if (!ok) return ok.error();
  const Eigen::Quaternionf said(w, turn.x(), turn.y(), turn.z());
  if (!(said.norm() > 0.1f) || !(said.norm() < 10.f)) return Error{"is turned by nothing"};
  out.turn = said.normalized();
  return out;
}

}  // namespace juvenor
