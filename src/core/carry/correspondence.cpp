#include "core/carry/correspondence.h"

#include <algorithm>
#include <atomic>
#include <cmath>

#include "core/parallel.h"

namespace juvenor {
namespace {

// Skin that turns further away than this is not under a sample, degrees: its cosine.
constexpr float kLeastAlike = 0.3f;
// From so many times the distance of old points on, a sample stands for more than the triangle it lies in.
constexpr float kWider = 1.25f;

struct Taken {
  uint32_t sample;
  float weight;
};

// What lies around a place, along the skin.
class Around {
 public:
  explicit Around(const Surface& surface) : surface_(surface) {}

  // Samples within `radius` of a hit by area, fading toward the rim.
  void gather(const Hit& hit, const Vec3& place, const Vec3& normal, float radius, std::vector<Taken>& out) {
    out.clear();
    queue_.clear();
    const Triangle& t = surface_.triangles[hit.triangle];
    for (const uint32_t s : t) queue_.push_back(s);
    for (size_t i = 0; i < queue_.size() && queue_.size() < kMost; ++i) {
      const uint32_t s = queue_[i];
      const float distance = (surface_.positions[s] - place).norm();
      if (distance >= radius || surface_.normals[s].dot(normal) < kLeastAlike) continue;
      out.push_back({s, (1 - distance / radius) * surface_.areas[s]});
      for (const uint32_t n : surface_.neighborsOf(s))
        if (std::ranges::find(queue_, n) == queue_.end()) queue_.push_back(n);
    }
  }

 private:
  static constexpr size_t kMost = 400;  ///< samples: what is wider is seen from its middle
  const Surface& surface_;
  std::vector<uint32_t> queue_;
};

uint16_t doubtOf(const Hit& hit, const Vec3& found, const Vec3& normal,
                 const CorrespondenceSetting& setting) {
  const float away = std::clamp((hit.distance - setting.sure) / (setting.reach - setting.sure), 0.f, 1.f);
  // up to 30° skin that was remeshed differs from itself
  const float turned = std::clamp((0.866f - found.dot(normal)) / (0.866f - kLeastAlike), 0.f, 1.f);
  return static_cast<uint16_t>(65535 * std::max(away, 0.7f * turned) + 0.5f);
}

// One stretch of samples, worked out on one core.
struct Stretch {
  std::vector<uint32_t> counts;
  std::vector<Taken> taken;
};

class Finding {
 public:
  Finding(const Rays& old, const PartSources& sources, const CorrespondenceSetting& setting)
      : old_(old), surface_(old.surface()), setting_(setting) {
    for (const auto& of : sources) {
      std::vector<char> allowed(surface_.partCount, 0);
      for (const uint32_t part : of)
        if (part < allowed.size()) allowed[part] = 1;
      none_.push_back(of.empty());
      allowed_.push_back(std::move(allowed));
    }
  }

  void find(const SoughtPlace& sought, Around& around, std::vector<Taken>& scratch, Stretch& out,
            uint16_t& doubt) const {
    if (sought.exactly != kNone) {
      doubt = 0;
      out.taken.push_back({sought.exactly, 1});
      return out.counts.push_back(1);
    }
    doubt = 65535;
    std::optional<Hit> hit;
    if (sought.part < none_.size() && !none_[sought.part])
      hit = old_.nearestAlike(sought.position, setting_.reach,
                              {sought.normal, kLeastAlike, allowed_[sought.part]});
    if (!hit) return out.counts.push_back(0);
    const Triangle& t = surface_.triangles[hit->triangle];
    const std::array<float, 3> weight{1 - hit->u - hit->v, hit->u, hit->v};
    Vec3 place = Vec3::Zero(), normal = Vec3::Zero();
    float area = 0;
    for (size_t k = 0; k < 3; ++k) {
      place += weight[k] * surface_.positions[t[k]];
      normal += weight[k] * surface_.normals[t[k]];
      area += weight[k] * surface_.areas[t[k]];
    }
    normal = normalizedOr(normal, sought.normal);
    doubt = doubtOf(*hit, normal, sought.normal, setting_);
    scratch.clear();
    const float old = std::sqrt(std::max(area, 0.f) / 3.1416f);
    if (sought.radius > kWider * old) around.gather(*hit, place, normal, kFade * sought.radius, scratch);
    float sum = 0;
    for (const Taken& one : scratch) sum += one.weight;
    if (scratch.size() < 3 || !(sum > 0)) {
      scratch.clear();
      sum = 1;
      for (size_t k = 0; k < 3; ++k)
        if (weight[k] > 0) scratch.push_back({t[k], weight[k]});
    }
    for (const Taken& one : scratch) out.taken.push_back({one.sample, one.weight / sum});
    out.counts.push_back(static_cast<uint32_t>(scratch.size()));
  }

 private:
  // A cone whose mean square is that of the disc
  static constexpr float kFade = 1.3f;
  const Rays& old_;
  const Surface& surface_;
  const CorrespondenceSetting& setting_;
  std::vector<std::vector<char>> allowed_;
  std::vector<char> none_;
};

}  // namespace

size_t bytesOf(const Correspondence& c) {
  return c.start.capacity() * 4 + c.sample.capacity() * 4 + c.weight.capacity() * 4 + c.doubt.capacity() * 2;
}

Result<Correspondence> correspondenceOf(size_t count, const std::function<SoughtPlace(size_t)>& sought,
                                        const Rays& old, const PartSources& sources,
                                        const CorrespondenceSetting& setting, const Progress& progress) {
  constexpr size_t kStretch = 4096;
  const size_t stretches = (count + kStretch - 1) / kStretch;
  const Finding finding(old, sources, setting);
  Correspondence out;
  out.doubt.resize(count);
  std::vector<Stretch> parts(stretches);
  std::atomic<size_t> done = 0;
  std::atomic<bool> stopped = false;
  parallelEach(stretches, [&](size_t i) {
    if (stopped) return;
    Around around(old.surface());
    std::vector<Taken> scratch;
    for (size_t s = i * kStretch; s < std::min(count, (i + 1) * kStretch); ++s)
      finding.find(sought(s), around, scratch, parts[i], out.doubt[s]);
    if (!report(progress, static_cast<float>(++done) / static_cast<float>(stretches))) stopped = true;
  });
  if (stopped) return cancelledError();
  size_t total = 0;
  for (const Stretch& part : parts) total += part.taken.size();
  if (total >= kNone) return Error{"the old sculpt is too fine for so coarse a new one"};
  out.start.reserve(count + 1);
  out.start.push_back(0);
  out.sample.reserve(total);
  out.weight.reserve(total);
  for (Stretch& part : parts) {
    for (const uint32_t n : part.counts) out.start.push_back(out.start.back() + n);
    for (const Taken& one : part.taken) {
      out.sample.push_back(one.sample);
      out.weight.push_back(one.weight);
    }
    part = {};
  }
  return out;
}

}  // namespace juvenor
