// Strokes of the pen as JSON, to be replayed: what the simulated pen plays back. The format is described in
// docs/scripts.md.
#pragma once

#include <nlohmann/json.hpp>

#include "core/pen/pen_path.h"

namespace juvenor {

struct PenRecording {
  ViewSize size;                               ///< of the picture the pen moved over
  std::vector<std::vector<PenPoint>> strokes;  ///< from pen down to pen up
};

nlohmann::json toJson(const PenRecording& recording);
/// The error says which stroke and point is wrong, and what was expected.
Result<PenRecording> penRecordingFrom(const nlohmann::json& json);
/// The same strokes over a picture of another size, scaled around the middle by the height, as the camera
/// does.
PenRecording scaledTo(const PenRecording& recording, const ViewSize& size);

}  // namespace juvenor
