#include "core/color/lab.h"

#include <Eigen/Dense>
#include <cmath>
#include <numbers>

namespace juvenor {
namespace {

// IEC 61966-2-1, four-digit primaries as in the standard's amendment 1.
const Eigen::Matrix3d kToXyz{{0.4124, 0.3576, 0.1805}, {0.2126, 0.7152, 0.0722}, {0.0193, 0.1192, 0.9505}};

constexpr double kDegree = std::numbers::pi / 180;

double labCurve(double t) {
  constexpr double d = 6.0 / 29;
  return t > d * d * d ? std::cbrt(t) : t / (3 * d * d) + 4.0 / 29;
}

double labCurveInverse(double t) {
  constexpr double d = 6.0 / 29;
  return t > d ? t * t * t : 3 * d * d * (t - 4.0 / 29);
}

double hueDegrees(double b, double a) {
  if (a == 0 && b == 0) return 0;
  const double h = std::atan2(b, a) / kDegree;
  return h < 0 ? h + 360 : h;
}

}  // namespace

Xyz whiteD65() {
  const Eigen::Vector3d w = kToXyz.rowwise().sum();
  return {w[0], w[1], w[2]};
}

Xyz toXyz(const LinearColor& c) {
  const Eigen::Vector3d v = kToXyz * Eigen::Vector3d(c.r, c.g, c.b);
  return {v[0], v[1], v[2]};
}

LinearColor fromXyz(const Xyz& xyz) {
  static const Eigen::Matrix3d inverse = kToXyz.inverse();
  const Eigen::Vector3f v = (inverse * Eigen::Vector3d(xyz.x, xyz.y, xyz.z)).cast<float>();
  return {v[0], v[1], v[2]};
}

Lab toLab(const Xyz& xyz) {
  const Xyz w = whiteD65();
  const double fx = labCurve(xyz.x / w.x), fy = labCurve(xyz.y / w.y), fz = labCurve(xyz.z / w.z);
  return {116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)};
}

Xyz fromLab(const Lab& lab) {
  const Xyz w = whiteD65();
  const double fy = (lab.l + 16) / 116, fx = fy + lab.a / 500, fz = fy - lab.b / 200;
  return {w.x * labCurveInverse(fx), w.y * labCurveInverse(fy), w.z * labCurveInverse(fz)};
}

Lab toLab(const EncodedColor& color) {
  return toLab(toXyz(decode(color)));
}

double deltaE2000(const Lab& p, const Lab& q) {
  const auto pow7 = [](double v) { return std::pow(v, 7); };
  const double meanC = (std::hypot(p.a, p.b) + std::hypot(q.a, q.b)) / 2;
  const double g = 0.5 * (1 - std::sqrt(pow7(meanC) / (pow7(meanC) + pow7(25))));
  const double a1 = (1 + g) * p.a, a2 = (1 + g) * q.a;
  const double c1 = std::hypot(a1, p.b), c2 = std::hypot(a2, q.b);
  const double h1 = hueDegrees(p.b, a1), h2 = hueDegrees(q.b, a2);

  double dh = 0;
  if (c1 * c2 != 0) {
    dh = h2 - h1;
    if (dh > 180) dh -= 360;
    if (dh < -180) dh += 360;
  }
  const double dL = q.l - p.l, dC = c2 - c1;
  const double dH = 2 * std::sqrt(c1 * c2) * std::sin(dh / 2 * kDegree);

  double meanH = h1 + h2;
  if (c1 * c2 != 0) {
    if (std::abs(h1 - h2) <= 180)
      meanH /= 2;
    else
      meanH = (meanH < 360 ? meanH + 360 : meanH - 360) / 2;
  }
  const double meanL = (p.l + q.l) / 2, meanCp = (c1 + c2) / 2;
  const double t = 1 - 0.17 * std::cos((meanH - 30) * kDegree) + 0.24 * std::cos(2 * meanH * kDegree) +
                   0.32 * std::cos((3 * meanH + 6) * kDegree) - 0.20 * std::cos((4 * meanH - 63) * kDegree);
  const double turn = 30 * std::exp(-std::pow((meanH - 275) / 25, 2));
  const double rc = 2 * std::sqrt(pow7(meanCp) / (pow7(meanCp) + pow7(25)));
  const double l50 = (meanL - 50) * (meanL - 50);
  const double sl = 1 + 0.015 * l50 / std::sqrt(20 + l50);
  const double sc = 1 + 0.045 * meanCp, sh = 1 + 0.015 * meanCp * t;
  const double rt = -std::sin(2 * turn * kDegree) * rc;
  const double x = dL / sl, y = dC / sc, z = dH / sh;
  return std::sqrt(x * x + y * y + z * z + rt * y * z);
}

double typologyAngle(const Lab& lab) {
  return std::atan2(lab.l - 50, lab.b) / kDegree;
}

}  // namespace juvenor
