#include "core/render/pen_recording.h"

#include <fmt/format.h>

namespace juvenor {

using nlohmann::json;

json toJson(const PenRecording& recording) {
  json strokes = json::array();
  for (const auto& stroke : recording.strokes) {
    json points = json::array();
    for (const PenPoint& p : stroke)
      points.push_back({{"x", p.pixel.x()},
                        {"y", p.pixel.y()},
                        {"pressure", p.pressure},
                        {"tilt", {p.tilt.x(), p.tilt.y()}},
                        {"seconds", p.seconds}});
    strokes.push_back(std::move(points));
  }
  return {{"format", "juvenor pen strokes 1"},
          {"width", recording.size.width},
          {"height", recording.size.height},
          {"strokes", strokes}};
}

namespace {

Result<PenPoint> pointFrom(const json& j) {
  PenPoint p;
  p.pixel = {j.at("x").get<float>(), j.at("y").get<float>()};
  p.pressure = j.value("pressure", 1.f);
  p.seconds = j.value("seconds", 0.0);
  const auto tilt = j.value("tilt", std::array<float, 2>{});
  p.tilt = {tilt[0], tilt[1]};
  if (!p.pixel.allFinite() || !(p.pressure >= 0 && p.pressure <= 1))
    return Error{"expected finite x and y, and a pressure from 0 to 1"};
  return p;
}

}  // namespace

Result<PenRecording> penRecordingFrom(const json& j) {
  PenRecording out;
  size_t stroke = 0, point = 0;
  try {
    if (j.at("format").get<std::string>() != "juvenor pen strokes 1")
      return Error{"is no recording of pen strokes this version knows"};
    out.size = {j.at("width").get<int>(), j.at("height").get<int>()};
    if (out.size.width < 1 || out.size.height < 1) return Error{"the recording has no width or height"};
    for (const json& s : j.at("strokes")) {
      ++stroke;
      point = 0;
      out.strokes.emplace_back();
      for (const json& p : s) {
        ++point;
        const auto read = pointFrom(p);
        if (!read) return Error{fmt::format("stroke {}, point {}: {}", stroke, point, read.error().what)};
        out.strokes.back().push_back(*read);
      }
    }
  } catch (const json::exception& e) {
    return Error{fmt::format("stroke {}, point {}: {}", stroke, point, e.what())};
  }
  return out;
}

PenRecording scaledTo(const PenRecording& recording, const ViewSize& size) {
  PenRecording out = recording;
  out.size = size;
  const float scale = static_cast<float>(size.height) / static_cast<float>(recording.size.height);
  const Vec2 from(0.5f * static_cast<float>(recording.size.width),
                  0.5f * static_cast<float>(recording.size.height));
  const Vec2 to(0.5f * static_cast<float>(size.width), 0.5f * static_cast<float>(size.height));
  for (auto& stroke : out.strokes)
    for (PenPoint& p : stroke) p.pixel = to + scale * (p.pixel - from);
  return out;
}

}  // namespace juvenor
