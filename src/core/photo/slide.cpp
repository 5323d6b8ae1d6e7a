#include "core/photo/slide.h"

#include "core/json_fields.h"
#include "core/view/camera_json.h"

namespace juvenor {

using nlohmann::json;

namespace {

json listOf(const Vec2& v) {
  return {v.x(), v.y()};
}
json listOf(const Vec3& v) {
  return {v.x(), v.y(), v.z()};
}

std::optional<Vec2> pairFrom(const json& list) {
  if (!list.is_array() || list.size() != 2) return std::nullopt;
  const auto x = numberFromJson(list[0]), y = numberFromJson(list[1]);
  if (!x || !y) return std::nullopt;
  return Vec2(*x, *y);
}

Outcome readPins(const json& list, std::vector<SlidePin>& out) {
  if (list.size() > kMostPins) return Error{"has too many pins"};
  for (const json& j : list) {
    SlidePin pin;
    const json* place = nullptr;
    const Outcome ok =
        JsonFields(j).list("picture", place).vector("skin", pin.onSkin).needs({"picture", "skin"}).done();
    if (!ok) return Error{"has a pin that " + ok.error().what};
    const auto at = pairFrom(*place);
    if (!at) return Error{"has a pin whose \"picture\" is not two numbers"};
    pin.onPicture = *at;
    out.push_back(pin);
  }
  return Done{};
}

}  // namespace

json toJson(const Slide& slide) {
  json pins = json::array();
  for (const SlidePin& p : slide.pins)
    pins.push_back({{"picture", listOf(p.onPicture)}, {"skin", listOf(p.onSkin)}});
  return {{"id", slide.id},
          {"name", slide.name},
          {"data", slide.fingerprint},
          {"camera", toJson(slide.camera)},
          {"middle", listOf(slide.middle)},
          {"half", slide.half},
          {"turn", slide.turn},
          {"mirrored", slide.mirrored},
          {"pins", pins},
          {"tone", toJson(slide.tone)}};
}

Result<Slide> slideFromJson(const json& j) {
  Slide out;
  const json *camera = nullptr, *middle = nullptr, *pins = nullptr, *tone = nullptr;
  Outcome ok = JsonFields(j)
                   .whole("id", out.id)
                   .text("name", out.name)
                   .whole("data", out.fingerprint)
                   .any("camera", camera)
                   .list("middle", middle)
                   .number("half", out.half, 1e-4f, 1e4f)
                   .number("turn", out.turn, -1e6f, 1e6f)
                   .flag("mirrored", out.mirrored)
                   .list("pins", pins)
                   .any("tone", tone)
                   .needs({"id", "data", "camera"})
                   .done();
  if (!ok) return Error{"a slide " + ok.error().what};
  auto stands = cameraFromJson(*camera);
  if (!stands) return Error{"a slide has a camera that " + stands.error().what};
  out.camera = *stands;
  if (middle) {
    const auto at = pairFrom(*middle);
    if (!at) return Error{"a slide has a middle that is not two numbers"};
    out.middle = *at;
  }
  if (pins) ok = readPins(*pins, out.pins);
  if (ok && tone) {
    auto toned = slideToneFromJson(*tone, out.camera.turn.toRotationMatrix());
    if (toned)
      out.tone = *toned;
    else
      ok = toned.error();
  }
  if (!ok) return Error{"a slide " + ok.error().what};
  return out;
}

}  // namespace juvenor
