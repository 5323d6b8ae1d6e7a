// Everything that is measured on one surface, worked out when it is first asked for and remembered as long as
// the surface lives: rays, the ladder things melt along, the maps, and whatever layers derive from them. All
// versions of a document with the same surface share one; any thread may ask.
#pragma once

#include <map>
#include <mutex>
#include <optional>
#include <string>
#include <string_view>

#include "core/surface/cut_out.h"
#include "core/surface/maps/map_setting.h"
#include "core/surface/maps/measures.h"

namespace juvenor {

/// A map: one value a sample, 0…65535 for 0…1 as its kind says.
using MapValues = std::vector<uint16_t>;
using MapPointer = std::shared_ptr<const MapValues>;

/// Heights up to a fiftieth of the sculpt's size either way in 65,536 steps: on a head of 25 cm 5 mm by 150
/// millionths of a millimetre.
inline float usualReliefStep(const Surface& surface) {
  return surface.bounds.diagonal() / (50 * 32768.f);
}

/// What a remembered value takes: as much as it says itself, or a vector's elements.
template <class T>
size_t bytesHeld(const T& value) {
  if constexpr (requires { value.bytes(); })
    return value.bytes();
  else
    return sizeof(value[0]) * value.capacity();
}

class SurfaceMaps {
 public:
  explicit SurfaceMaps(std::shared_ptr<const Surface> surface, float reliefStep = 0)
      : surface_(std::move(surface)), reliefStep_(reliefStep > 0 ? reliefStep : usualReliefStep(*surface_)) {}
  /// Of a piece of a surface: maps are those of the whole, which measures them; the rest is worked out on the
  /// piece alone.
  SurfaceMaps(std::shared_ptr<SurfaceMaps> whole, CutOut cut)
      : surface_(cut.surface),
        reliefStep_(whole->reliefStep()),
        whole_(std::move(whole)),
        cut_(std::move(cut)) {}

  const Surface& surface() const { return *surface_; }
  const std::shared_ptr<const Surface>& sharedSurface() const { return surface_; }
  size_t size() const { return surface_->size(); }
  /// Scene units between two heights next to each other of the relief on this surface.
  float reliefStep() const { return reliefStep_; }
  /// The piece these are of, and the maps of the whole; null: these are of the whole.
  const CutOut* cut() const { return whole_ ? &cut_ : nullptr; }
  SurfaceMaps* whole() const { return whole_.get(); }
  /// The ray structure, built on first use: quickly where it is large.
  Result<RaysPointer> rays(const Progress& progress = {});
  /// Builds the one that traces faster in place of a quick one; who holds the old one may keep it.
  Outcome refineRays(const Progress& progress = {});
  /// Throws std::bad_alloc when memory does not suffice for it.
  std::shared_ptr<const SkinLadder> ladder();
  bool hasLadder() { return hasDerived("ladder"); }

  /// The map, measured now if need be; may take long, can be cancelled.
  Result<MapPointer> map(const MapSetting& setting, const Progress& progress = {});
  /// The map when it is there already, else null.
  MapPointer known(const MapSetting& setting);
  /// Takes over a map a file kept; ignored when its size is another.
  void take(const std::string& key, MapPointer values);
  /// One that nothing here can measure; it stays for good.
  void give(const MapSetting& setting, MapPointer values);

  /// Whether a derived value is remembered.
  bool hasDerived(const std::string& key);
  /// A value derived from this surface, made by `make` when it is not remembered. Maps and derived values
  /// that nobody holds give way to younger ones when they take more than 512 MB together (bytesHeld, asked
  /// for anew each time: what a value works out later counts too).
  template <class T>
  Result<std::shared_ptr<const T>> derived(const std::string& key,
                                           const std::function<Result<std::shared_ptr<const T>>()>& make) {
    auto made = remembered(key, &bytesIn<T>, [&]() -> Result<Any> {
      auto value = make();
      if (!value) return value.error();
      return Any(*value);
    });
    if (!made) return made.error();
    return std::static_pointer_cast<const T>(*made);
  }

  /// The same of what documents keep, since it takes long to grow. `T` has
  ///   size_t bytes() const;                                          what it takes
  ///   std::string toKept() const;                                    what is kept
  ///   static std::optional<T> fromKept(std::string_view, size_t samples);  nothing where that does not hold
  template <class T>
  Result<std::shared_ptr<const T>> grown(const std::string& key, const std::function<Result<T>()>& make) {
    auto out = derived<T>(key, [&]() -> Result<std::shared_ptr<const T>> {
      std::optional<T> value;
      if (const auto kept = keptFor(key)) value = T::fromKept(*kept, size());
      if (!value) {
        auto made = make();
        if (!made) return made.error();
        value = std::move(*made);
      }
      return std::make_shared<const T>(std::move(*value));
    });
    if (out) noteKeeping(key, [](const void* value) { return static_cast<const T*>(value)->toKept(); });
    return out;
  }
  /// Reads the bytes something was kept as, perhaps long afterwards; nothing when they are damaged.
  using ReadKept = std::function<std::optional<std::string>()>;
  /// Takes over what a file kept of something grown; it is read when it is first asked for.
  void takeGrown(const std::string& key, ReadKept read);
  bool hasGrown(const std::string& key);
  /// What of something grown is to be kept; nothing when it has not grown.
  std::optional<std::string> grownBytes(const std::string& key);
  /// What of all that may give way takes now, held by anybody or not.
  struct Booked {
    std::string key;
    size_t bytes;
  };
  std::vector<Booked> booked();

 private:
  using Any = std::shared_ptr<const void>;
  using ToKept = std::string (*)(const void*);
  using BytesOf = size_t (*)(const void*);
  template <class T>
  static size_t bytesIn(const void* value) {
    return bytesHeld(*static_cast<const T*>(value));
  }
  struct Entry {
    std::mutex making;
    Any value;
    ToKept toKept = nullptr;
    BytesOf bytesOf = nullptr;  // null: kept for good
    uint64_t used = 0;
  };
  std::optional<std::string> keptFor(const std::string& key);
  void noteKeeping(const std::string& key, ToKept toKept);
  /// `bytesOf` null: kept for good.
  Result<Any> remembered(const std::string& key, BytesOf bytesOf, const std::function<Result<Any>()>& make);
  void keepToBudget();

  std::shared_ptr<const Surface> surface_;
  float reliefStep_;
  std::shared_ptr<SurfaceMaps> whole_;  ///< null: of no piece
  CutOut cut_;
  std::mutex mutex_;
  std::map<std::string, std::shared_ptr<Entry>> entries_;
  std::map<std::string, ReadKept> kept_;  ///< by files, and not asked for yet
  uint64_t clock_ = 0;
};

using SurfaceMapsPointer = std::shared_ptr<SurfaceMaps>;

}  // namespace juvenor
