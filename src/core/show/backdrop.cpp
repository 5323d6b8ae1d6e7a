#include "core/show/backdrop.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/photo/picture_data.h"
#include "core/photo/picture_file.h"
#include "core/render/fibre_shader.h"

namespace juvenor {
namespace {

const Vec3 kBright(0.2126f, 0.7152f, 0.0722f);

uint32_t byteColor(const EncodedColor& c) {
  const auto byte = [](float v) { return static_cast<uint32_t>(std::clamp(v, 0.f, 1.f) * 255 + 0.5f); };
  return 0xff000000u | byte(c.r) << 16 | byte(c.g) << 8 | byte(c.b);
}

// So large that it covers all, its middle in the middle.
std::vector<uint32_t> covering(const PictureData& picture, const ViewSize& whole) {
  const float scale = std::min(static_cast<float>(picture.width) / static_cast<float>(whole.width),
                               static_cast<float>(picture.height) / static_cast<float>(whole.height));
  const auto from = [scale](int at, int of, int wide) {
    const float middle = 0.5f * static_cast<float>(wide) +
                         (static_cast<float>(at) + 0.5f - 0.5f * static_cast<float>(of)) * scale;
    return std::clamp(static_cast<int>(middle), 0, wide - 1);
  };
  std::vector<uint32_t> out;
  out.reserve(static_cast<size_t>(whole.width) * static_cast<size_t>(whole.height));
  for (int y = 0; y < whole.height; ++y) {
    const auto row =
        static_cast<size_t>(from(y, whole.height, picture.height)) * static_cast<size_t>(picture.width);
    for (int x = 0; x < whole.width; ++x)
      out.push_back(picture.pixels[row + static_cast<size_t>(from(x, whole.width, picture.width))]);
  }
  return out;
}

}  // namespace

Result<BackdropPicture> readBackdrop(const Backdrop& backdrop, const ViewSize& whole) {
  if (backdrop.kind != BackdropKind::Picture) return BackdropPicture();
  const auto picture = readPicture(backdrop.picture);
  if (!picture) return picture.error();
  return std::make_shared<const std::vector<uint32_t>>(covering(**picture, whole));
}

Result<BackdropLight> BackdropLight::of(const Backdrop& backdrop, const ViewSize& whole, const Light& light,
                                        Toning toning, BackdropPicture known) {
  BackdropLight out;
  out.backdrop_ = backdrop;
  out.whole_ = whole;
  out.toning_ = toning;
  out.foot_ = untoned(byteColor(backdrop.color), toning);
  out.top_ = untoned(byteColor(backdrop.top), toning);
  if (backdrop.kind == BackdropKind::Surroundings) {
    out.by_ = litBy(light);
    out.exposure_ = std::exp2(light.exposure);
    out.width_ = 0.0005f + 0.9f * backdrop.blur * backdrop.blur;
  }
  if (!known) {
    auto picture = readBackdrop(backdrop, whole);
    if (!picture) return picture.error();
    known = std::move(*picture);
  }
  out.picture_ = std::move(known);
  return out;
}

Vec3 BackdropLight::at(int x, int y, const Ray& ray) const {
  switch (backdrop_.kind) {
    case BackdropKind::Gradient: {
      const float up = 1 - (static_cast<float>(y) + 0.5f) / static_cast<float>(whole_.height);
      return foot_ + up * (top_ - foot_);
    }
    case BackdropKind::Picture:
      return untoned(
          (*picture_)[static_cast<size_t>(y) * static_cast<size_t>(whole_.width) + static_cast<size_t>(x)],
          toning_);
    case BackdropKind::Surroundings:
      return exposure_ * mirrored(by_, ray.direction, width_);
    case BackdropKind::Plain:
      break;
  }
  return foot_;
}

GroundShadow::GroundShadow(const ShownScene& scene, const LitBy& by) : scene_(scene), by_(by) {
  Box box;
  const Document& d = scene.document();
  for (size_t s = 0; s < d.surface->size(); ++s)
    if (!d.hiddenParts.contains(d.surface->parts[s])) box.add(d.surface->positions[s]);
  if (box.empty()) return;
  // a hair's breadth under it, so that what stands on it does not meet it
  height_ = box.low.y() - 1e-4f * (box.high - box.low).norm();
  middle_ = 0.5f * (box.low + box.high);
  reach_ = 20 * (box.high - box.low).norm();
  const Harmonics up = harmonicsAt(Vec3::UnitY());
  for (size_t c = 0; c < 3; ++c)
    for (size_t k = 0; k < 9; ++k)
      sky_ += kBright[static_cast<int>(c)] * by_.soft[c][k] * up[k] *
              kCosineLobe[static_cast<size_t>(kBand[k])] / std::numbers::pi_v<float>;
  sky_ = std::max(0.f, sky_);
  whole_ = sky_;
  for (size_t l = 0; l < kLampCount; ++l) {
    if (by_.lamps[l].shineOnly) continue;
    lamps_[l] = kBright.dot(by_.lamps[l].strength) * std::max(0.f, by_.lamps[l].toward.y());
    whole_ += lamps_[l];
  }
}

float GroundShadow::missing(const Ray& ray, const Vec2& at, uint32_t pass) const {
  if (!(whole_ > 0) || !(ray.direction.y() < -1e-5f) || !(ray.origin.y() > height_)) return 0;
  const Vec3 place = ray.origin + (height_ - ray.origin.y()) / ray.direction.y() * ray.direction;
  if ((place - middle_).norm() > reach_) return 0;
  const auto blocked = [&](const Vec3& toward) {
    const Ray out{place, toward};
    return scene_.rays().blocked(out, reach_, scene_.document().hiddenParts) ||
           (scene_.hair() && scene_.hair()->blocked(out));
  };
  // of the sky by the cosine: as much as a wall receives from there
  const float radius = std::sqrt(at.x()), angle = 2 * std::numbers::pi_v<float> * at.y();
  const Vec3 sky(radius * std::cos(angle), std::sqrt(std::max(0.f, 1 - at.x())), radius * std::sin(angle));
  float out = blocked(sky) ? sky_ : 0;
  for (size_t l = 0; l < kLampCount; ++l)
    if (lamps_[l] > 0 && blocked(towardDisc(by_.lamps[l], place, pass))) out += lamps_[l];
  return out / whole_;
}

}  // namespace juvenor
