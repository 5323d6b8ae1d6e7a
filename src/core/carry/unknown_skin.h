// Skin that has no source: what lies around flows into it, first from the rim inward and then melted until it
// is even. What nothing known joins stays as it was.
#pragma once

#include "core/carry/correspondence.h"
#include "core/surface/field.h"

namespace juvenor {

class UnknownSkin {
 public:
  UnknownSkin() = default;
  /// Those samples of a surface that a correspondence says nothing of.
  UnknownSkin(std::shared_ptr<const Surface> surface, const Correspondence& from);

  /// How many samples have no source.
  size_t size() const { return unknown_; }

  template <int Planes>
  void fill(Field<Planes>& field) const {
    if (order_.empty() || !field.holdsAny()) return;
    std::vector<std::array<float, static_cast<size_t>(Planes)>> values(order_.size());
    flow(
        Planes, [&](uint32_t s, int p) { return static_cast<float>(field.at(s)[static_cast<size_t>(p)]); },
        values.data()->data());
    std::shared_ptr<Chunk<Planes>> chunk;
    size_t held = kNone;
    const auto keep = [&] {
      if (chunk) field.setChunk(held, std::move(chunk));
    };
    for (const size_t i : sorted_) {
      const size_t c = order_[i] / kChunkSize;
      if (c != held) {
        keep();
        held = c;
        chunk = nullptr;
      }
      if (!chunk && isDefault(field, values[i])) continue;
      if (!chunk) chunk = field.writable(c);
      for (int p = 0; p < Planes; ++p)
        chunk->plane[static_cast<size_t>(p)][order_[i] % kChunkSize] =
            static_cast<uint16_t>(values[i][static_cast<size_t>(p)] + 0.5f);
    }
    keep();
  }

 private:
  template <int Planes>
  static bool isDefault(const Field<Planes>& field,
                        const std::array<float, static_cast<size_t>(Planes)>& value) {
    for (int p = 0; p < Planes; ++p)
      if (std::abs(value[static_cast<size_t>(p)] - field.fallback()[static_cast<size_t>(p)]) > 0.5f)
        return false;
    return true;
  }
  /// `known(sample, plane)`; gives `planes` values for each of `order_`.
  void flow(int planes, const std::function<float(uint32_t, int)>& known, float* values) const;

  std::shared_ptr<const Surface> surface_;
  size_t unknown_ = 0;
  std::vector<uint32_t> order_;    ///< samples that something known joins, from the rim inward
  std::vector<size_t> sorted_;     ///< places in `order_`, by samples
  std::vector<uint32_t> placeOf_;  ///< of each sample in `order_`; kNone: it is known, or nothing is
  std::vector<char> known_;
};

}  // namespace juvenor
