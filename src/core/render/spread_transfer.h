// Spreading through the skin is linear in what samples receive, and what they receive of a soft light is
// linear in its nine numbers (light_transfer.h). So each of the nine is spread once for each colour, a few
// seconds' work at rest; from then on any soft light leaves the skin as it would have been spread, at the
// cost of nine products a colour, however the light is turned. After the translucent kernels of precomputed
// radiance transfer (Sloan, Hall, Hart, Snyder 2003).
#pragma once

#include "core/render/light_transfer.h"
#include "core/render/wandering_light.h"
#include "core/surface/maps/surface_maps.h"

namespace juvenor {

/// Three of the nine numbers for one of the colours: as much as is spread in one go.
struct TransferPiece {
  size_t color = 0, first = 0;  ///< 0 … 2; 0, 3 or 6
};
inline constexpr size_t kTransferPieces = 9;

class SpreadTransfer {
 public:
  explicit SpreadTransfer(size_t samples) : numbers_(samples) {}
  void expect(size_t sample) const { __builtin_prefetch(&numbers_[sample]); }

  /// Whether all pieces are there.
  bool whole() const { return taken_ == kTransferPieces; }
  /// The next that is wanted, of one that is not whole.
  TransferPiece next() const { return {taken_ / 3, taken_ % 3 * 3}; }
  /// Takes it; one value a sample.
  void take(std::span<const ReceivedLight> spread);

  /// What leaves the skin at a sample under a light of so many nine numbers a colour, linear, not below 0.
  ReceivedLight leaving(size_t sample, const std::array<Harmonics, 3>& light) const;

 private:
  Zeroed<std::array<std::array<int16_t, 9>, 3>> numbers_;  // in steps
  size_t taken_ = 0;
};

/// What is spread for a piece, through the skin and thin forms of it. The transfer has all its rays and gets
/// no more.
struct TransferToSpread {
  std::shared_ptr<SpreadTransfer> into;  ///< nobody else looks at it until it is whole
  std::shared_ptr<const Surface> surface;
  std::shared_ptr<const LightTransfer> transfer;
  TransferPiece piece;
  float millimetres = 1, depth = 1;
  uint64_t counter = 0;
};
/// Takes a second on large surfaces, and puts the piece where it belongs; an error only when it is cancelled
/// or there are no rays: nothing is put anywhere then.
Outcome spreadPiece(const TransferToSpread& wanted, SurfaceMaps& maps, const Progress& progress = {});

}  // namespace juvenor
