// Light on every sample of a surface, worked out in small pieces and where it is looked at first. Rays add to
// what is known of the sky and the lamps over each sample, light is laid through that knowledge, and both can
// stop at any moment and go on later; who shades meanwhile sees what was there before. When all have their
// rays, what each sample receives can be spread through the skin beside it (wandering_light.h) and handed
// back.
#pragma once

#include <functional>
#include <memory>
#include <set>
#include <span>
#include <vector>

#include "core/render/lamp_shadows.h"
#include "core/render/spread_transfer.h"
#include "core/render/wandering_light.h"
#include "core/surface/field.h"

namespace juvenor {

/// Light on a sample: red, green and blue as they leave the skin, and what Clay shows. Lamps and suns in
/// surroundings are far above one.
using LitSample = std::array<Eigen::half, 4>;

/// How much a sample sees of the sky and of each lamp, 255 is all, and where the sky lies that it sees, on
/// the whole (aperture.h).
struct OpenSample {
  uint8_t sky = 255;
  std::array<uint8_t, kLampCount> lamps{};
  std::array<int8_t, 2> toward{};
  bool operator==(const OpenSample&) const = default;
};

/// Light rays a sample when the picture has come to rest, and those it is shown with first.
inline constexpr int kSettledLightRays = 32;
inline constexpr int kFirstLightRays = kFirstLampRays;

/// On larger surfaces each light is spread by itself: all nine numbers would take minutes, and 54 bytes a
/// sample.
inline constexpr size_t kMostTransferSamples = 4'000'000;

class Lighting {
 public:
  explicit Lighting(std::shared_ptr<const Surface> surface);

  /// `clayFrom` is the viewer's right, up and back: Clay has its own light, which goes with the view. False
  /// when nothing is lit otherwise than before; exposure is the picture's.
  bool setLight(const Light& light, const Eigen::Matrix3f& clayFrom = Eigen::Matrix3f::Identity());
  /// How far light wanders: millimetres of a scene unit.
  void setMillimetres(float millimetres);
  /// Parts that are not there: they take no light from others.
  void setHidden(const std::set<uint32_t>& parts);
  /// Chunks of samples that are in the picture, ascending; they come first.
  void setSeen(std::vector<uint32_t> chunks) { seen_ = std::move(chunks); }

  using Stop = std::function<bool()>;
  /// Lays the light on what is seen, with the rays there are; false when `stop` said so before it was done.
  bool lightSeen(const Stop& stop = {});
  /// Whether what is seen still waits for the rays it is shown with first.
  bool firstRaysMissing() const;
  /// Whether what is seen waits for rays of the sky, which takes longest.
  bool skyIsMissing() const;
  /// Goes on by a piece of a few milliseconds, or until `stop` says so.
  struct Advance {
    bool seenChanged = false;  ///< what is seen has come a round further and is worth showing
    bool more = true;          ///< there is something left to do
    bool last = false;         ///< no more rays will change it
  };
  Advance advance(const Rays& rays, const Stop& stop);
  /// All rays and light at once, wandering aside.
  bool settle(const Rays& rays, const Stop& stop = {});

  /// What is to be spread through the skin: everything samples receive, in chunks that change no more.
  struct Received {
    using Chunk = std::array<ReceivedLight, kChunkSize>;
    using Pointer = std::shared_ptr<const Chunk>;
    std::vector<Pointer> chunks;
    size_t samples = 0;
    float millimetres = 1, depth = 1;
    uint64_t counter = 0;
  };
  /// Nothing while light is still on its way, and once it was spread.
  std::optional<Received> toSpread() const;
  /// Takes what was spread; false when the light is another by now.
  bool takeSpread(std::span<const ReceivedLight> light, uint64_t counter);

  /// The light stays as it is laid: spreading it failed.
  void leaveUnspread(uint64_t counter) {
    if (counter == light_) spread_ = light_;
  }

  /// The piece of what is seen of the sky that is to be spread next; nothing while rays are on their way, and
  /// once all is.
  std::optional<TransferToSpread> transferToSpread();
  /// The piece was spread; false when the skin is another by now. When all is there soft light needs no more
  /// spreading.
  bool takeTransfer(uint64_t counter);
  /// There will be none: spreading it failed.
  void leaveTransfer(uint64_t counter) { transferLeft_ = transferLeft_ || counter == transferCounter_; }

  std::span<const LitSample> samples() const { return lit_; }
  /// What they receive before it wanders, in chunks; null where no light was laid yet.
  std::span<const Received::Pointer> received() const { return received_; }
  const LitBy& light() const { return by_; }
  const Eigen::Matrix3f& clayFrom() const { return clayFrom_; }
  /// Whether the light that is set lies on all that is seen.
  bool seenIsLit() const;
  /// The light that is set on one sample, worked out now; as skin alone or as Clay alone when that is
  /// quicker.
  LitSample at(size_t sample, bool clay) const;
  std::span<const OpenSample> open() const { return open_; }
  /// Asks the memory for what is told of a sample, ahead of its being asked for.
  void expect(size_t sample) const {
    __builtin_prefetch(&open_[sample]);
    if (spreadTransfer_) spreadTransfer_->expect(sample);
  }
  OpenSample openAt(size_t sample) const;

 private:
  struct Rest {
    std::vector<uint32_t> chunks;
    int rays = 0;
    bool seen = false;
  };
  Rest rest() const;
  void noteWhole();
  bool lay(std::span<const uint32_t> chunks, const Stop& stop);
  void layChunk(size_t chunk);
  ReceivedLight receivedAt(size_t sample, const Harmonics& seen) const;
  LitSample litAt(size_t sample, const Harmonics& seen, const ReceivedLight& received) const;
  OpenSample openAt(size_t sample, const Harmonics& seen) const;
  void setOpenLamps(size_t sample, OpenSample& open) const;
  bool lampsLight() const;
  bool anyLampCast(size_t sample) const;
  void forgetTransfer();
  bool stale(size_t chunk) const { return laid_[chunk] != Laid{light_, rays_[chunk]}; }

  std::shared_ptr<const Surface> surface_;
  std::shared_ptr<LightTransfer> transfer_;  ///< shared with who spreads it, once it is whole
  LampShadows shadows_;
  std::vector<float> curvature_, hollow_;
  Zeroed<LitSample> lit_;
  Zeroed<OpenSample> open_;
  std::vector<Received::Pointer> received_;
  struct Laid {
    uint32_t light = 0;
    int rays = 0;
    bool operator==(const Laid&) const = default;
  };
  std::vector<Laid> laid_;  ///< which light lies on each chunk, through how many rays
  std::vector<int> rays_;   ///< that all samples of a chunk have had
  std::vector<uint32_t> seen_;
  std::set<uint32_t> hidden_;
  Light now_;
  LitBy by_;
  std::array<Harmonics, kLampCount> lampNumbers_{};       ///< each lamp of strength one as nine numbers
  std::array<Harmonics, 3> all_{};                        ///< of the soft light and the lamps together
  std::shared_ptr<SpreadTransfer> spreading_;             ///< of the skin as it is, not whole yet
  std::shared_ptr<const SpreadTransfer> spreadTransfer_;  ///< whole, or null
  uint64_t transferCounter_ = 1;
  bool transferLeft_ = false;
  Eigen::Matrix3f clayFrom_ = Eigen::Matrix3f::Identity();
  Harmonics clay_{};
  float millimetres_ = 1;
  uint32_t light_ = 1;
  uint32_t spread_ = 0;  ///< the light that was spread last
  bool whole_ = false;   ///< all samples have had all their rays
};

/// Clay's own light, from above one side of the viewer whose right, up and back these are.
Harmonics clayNumbers(const Eigen::Matrix3f& from);

/// Mean unsigned curvature around each sample in 1 / scene units, from the turning of normals to the
/// neighbours, smoothed twice.
std::vector<float> roughCurvature(const Surface& surface);
/// The same with a sign: above 0 where the skin is hollow.
std::vector<float> roughHollows(const Surface& surface);

}  // namespace juvenor
