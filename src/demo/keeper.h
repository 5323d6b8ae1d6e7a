// The ferry keeper's head, feature by feature: distances in millimetres over one half, x folded onto its
// positive side.
#pragma once

#include "demo/demo.h"
#include "demo/shapes.h"

namespace juvenor::demo::keeper {

inline const Vec3 kEye(31.5f, 61, 66.5f);
inline constexpr float kEyeRadius = 12.6f;

/// Below 0 between the lids, in front of the eye.
float fissure(const Vec3& p);
/// The line on which the lips meet: its distance, and how high a place lies over it.
float mouthLine(const Vec3& p);
float overMouthLine(const Vec3& p);
/// 1 on the red of the lips, 0 off it.
float redOfLips(const Vec3& p);

/// Where hair grows, 0…1: a beard, what is left on the head, the brows.
float beardAt(const Vec3& p);
float hairAt(const Vec3& p);
float browAt(const Vec3& p);

/// Head, neck and shoulders without what is added below.
float form(const Vec3& p);
/// `point` is not folded: the nose leans.
float withNose(float d, const Vec3& point, const Vec3& p);
float withMouth(float d, const Vec3& p);
float withEyelids(float d, const Vec3& p);
float withEar(float d, const Vec3& p);

/// What wind and years have cut, and pores where points are `spacing` apart: nothing finer than they show.
/// `years`: how many times as deep lines are.
float weather(const Vec3& point, float spacing, float years = 1);

}  // namespace juvenor::demo::keeper
