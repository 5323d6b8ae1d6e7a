#include "core/pen/pen_recording.h"

#include <fmt/format.h>

#include "core/json_fields.h"

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

// Farther out than any easel; what a recording says beyond it stands for it.
constexpr float kFarOut = 1e6f;

Result<PenPoint> pointFrom(const json& j) {
  PenPoint p;
  float seconds = 0;
  const json* tilt = nullptr;
  const Outcome ok = JsonFields(j)
                         .number("x", p.pixel.x(), -kFarOut, kFarOut)
                         .number("y", p.pixel.y(), -kFarOut, kFarOut)
                         .number("pressure", p.pressure, -1, 2)
                         .number("seconds", seconds, 0, 1e9f)
                         .list("tilt", tilt)
                         .needs({"x", "y"})
                         .done();
  if (!ok) return ok.error();
  if (p.pressure < 0 || p.pressure > 1) return Error{"needs a number from 0 to 1 as \"pressure\""};
  p.seconds = static_cast<double>(seconds);
  if (!tilt) return p;
  const auto x = tilt->size() == 2 ? numberFromJson((*tilt)[0]) : std::nullopt,
             y = tilt->size() == 2 ? numberFromJson((*tilt)[1]) : std::nullopt;
  if (!x || !y) return Error{"needs two numbers as \"tilt\""};
  p.tilt = {*x, *y};
  return p;
}

}  // namespace

Result<PenRecording> penRecordingFrom(const json& j) {
  PenRecording out;
  std::string format;
  if (j.is_object() && j.contains("format") && j["format"].is_string()) format = j["format"];
  if (format != "juvenor pen strokes 1") return Error{"is no recording of pen strokes this version knows"};
  const json* strokes = nullptr;
  const Outcome ok = JsonFields(j)
                         .text("format", format)
                         .whole("width", out.size.width, 65536)
                         .whole("height", out.size.height, 65536)
                         .list("strokes", strokes)
                         .needs({"format", "width", "height", "strokes"})
                         .done();
  if (!ok) return Error{"the recording " + ok.error().what};
  if (out.size.width < 1 || out.size.height < 1) return Error{"the recording has no width or height"};
  for (const json& stroke : *strokes) {
    if (!stroke.is_array())
      return Error{fmt::format("stroke {} is no list of points", out.strokes.size() + 1)};
    out.strokes.emplace_back();
    for (const json& point : stroke) {
      const auto read = pointFrom(point);
      if (!read)
        return Error{fmt::format("stroke {}, point {} {}", out.strokes.size(), out.strokes.back().size() + 1,
                                 read.error().what)};
      out.strokes.back().push_back(*read);
    }
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
