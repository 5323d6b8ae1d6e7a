// Pins between two sculpts, while they are placed: each may still lack its partner.
#pragma once

#include <optional>
#include <vector>

#include "app/carry/carry_view.h"

namespace juvenor::app {

class CarryPins {
 public:
  struct Pair {
    std::string name;
    std::optional<Vec3> old, fresh;  ///< in the scenes of both, standing as the old one does
  };

  /// A place on one of them: of the first pair that lacks it, or of a new one.
  void place(bool onOld, const Vec3& at);
  /// Takes the last place back that was given.
  void takeBack();
  void clear();
  /// The landmarks that have no pin yet, each waiting for its partner.
  void addLandmarks(const std::vector<Landmark>& landmarks);

  const std::vector<Pair>& pairs() const { return pairs_; }
  /// Those that are whole.
  std::vector<CarryPin> pins() const;
  std::vector<CarryView::Mark> marks(bool onOld) const;
  /// The number of the pair that waits for its partner on the new sculpt, 0 when none does.
  int waiting() const;

 private:
  std::vector<Pair> pairs_;
};

}  // namespace juvenor::app
