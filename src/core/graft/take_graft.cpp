#include "core/graft/take_graft.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/color/lab.h"
#include "core/graft/flat_picture.h"
#include "core/parallel.h"

namespace juvenor {
namespace {

constexpr float kWholeFrom = 4;  // ΔE2000 at which a difference counts fully

// Grid pixels a graft's pixel is made of, each way, so that no sample falls between them.
int finenessOf(float pixel, float spacing) {
  int out = 1;
  while (out < 4 && pixel > out * spacing) out *= 2;
  return out;
}

float heightIn(const ChannelFields& skin, uint32_t sample, float step) {
  return heightOf(skin.get<Channel::Relief>().at(sample)[0], step);
}

// How far a sample is another one, 0…1.
float differs(const ChannelFields& before, const ChannelFields& after, uint32_t sample) {
  if (before.get<Channel::Gloss>().at(sample) != after.get<Channel::Gloss>().at(sample) ||
      before.get<Channel::Relief>().at(sample) != after.get<Channel::Relief>().at(sample))
    return 1;
  const auto lab = [&](const ChannelFields& skin) { return toLab(straight(colorAt(skin.color(), sample))); };
  return std::min(1.f, static_cast<float>(deltaE2000(lab(before), lab(after))) / kWholeFrom);
}

// What each sample of the patch brings, as planes in a fixed order.
struct Values {
  std::vector<std::vector<float>> planes;
  size_t color = 0, gloss = 0, relief = 0, cover = 0, place = 0,
         normal = 0;  ///< their first planes, 1 up; 0: none
};

Values valuesOf(const Surface& surface, const GraftSkin& skin, const Patch& patch, const GraftTake& take) {
  Values out;
  const auto add = [&](auto value) {
    std::vector<float> plane(patch.samples.size());
    parallel(
        plane.size(), [&](size_t i) { plane[i] = value(patch.samples[i]); }, 4096);
    out.planes.push_back(std::move(plane));
    return out.planes.size();
  };
  if (take.channels.has(Channel::Color)) {
    const auto at = [&](uint32_t s) { return decode(straight(colorAt(skin.fields.color(), s))); };
    out.color = add([&](uint32_t s) { return at(s).r; });
    add([&](uint32_t s) { return at(s).g; });
    add([&](uint32_t s) { return at(s).b; });
  }
  if (take.channels.has(Channel::Gloss))
    out.gloss = add([&](uint32_t s) {
      const auto v = skin.fields.get<Channel::Gloss>().at(s);
      return v[1] > 0 ? static_cast<float>(v[0]) / static_cast<float>(v[1]) : from16(kBareGloss);
    });
  if (take.channels.has(Channel::Relief)) {
    out.relief = add([&](uint32_t s) {
      return heightIn(skin.fields, s, skin.reliefStep) -
             (skin.before ? heightIn(*skin.before, s, skin.reliefStep) : 0);
    });
    if (take.form) {
      out.place = add([&](uint32_t s) { return surface.positions[s].x(); });
      add([&](uint32_t s) { return surface.positions[s].y(); });
      add([&](uint32_t s) { return surface.positions[s].z(); });
      out.normal = add([&](uint32_t s) { return surface.normals[s].x(); });
      add([&](uint32_t s) { return surface.normals[s].y(); });
      add([&](uint32_t s) { return surface.normals[s].z(); });
    }
  }
  if (skin.before) out.cover = add([&](uint32_t s) { return differs(*skin.before, skin.fields, s); });
  return out;
}

// Calls `visit(y, first)` for each row, which begins at pixel `first`.
template <class Visit>
void eachRow(const FlatPicture& picture, Visit visit) {
  parallel(
      static_cast<size_t>(picture.height),
      [&](size_t y) { visit(static_cast<int>(y), y * static_cast<size_t>(picture.width)); }, 16);
}

float meanOf(const std::vector<float>& plane, const FlatPicture& picture) {
  double sum = 0, count = 0;
  for (size_t i = 0; i < plane.size(); ++i) {
    if (picture.covered[i] <= 0) continue;
    sum += static_cast<double>(plane[i]);
    ++count;
  }
  return static_cast<float>(count > 0 ? sum / count : 0);
}

// What stands out from what is broader than `width` pixels; its mean alone when that is 0. Twice, so that
// what bends evenly, and stands out evenly the first time, is none of it.
void highPass(std::vector<float>& plane, const FlatPicture& picture, float width) {
  if (width <= 0) {
    const float mean = meanOf(plane, picture);
    for (size_t i = 0; i < plane.size(); ++i) plane[i] = picture.covered[i] > 0 ? plane[i] - mean : 0;
    return;
  }
  for (int pass = 0; pass < 2; ++pass) {
    const SoftPlane broad(plane, picture, width);
    eachRow(picture, [&](int y, size_t first) {
      const std::vector<float> under = broad.row(y, picture.width);
      for (size_t x = 0; x < under.size(); ++x)
        plane[first + x] = picture.covered[first + x] > 0 ? plane[first + x] - under[x] : 0;
    });
  }
}

// How far the sculpt stands out from its softened shape, scene units.
std::vector<float> heightOfForm(const FlatPicture& picture, const Values& values, float width) {
  std::vector<float> out(picture.covered.size());
  std::vector<SoftPlane> soft, normal;
  for (size_t k = 0; k < 3; ++k) {
    soft.emplace_back(picture.planes[values.place - 1 + k], picture, width);
    normal.emplace_back(picture.planes[values.normal - 1 + k], picture, 0.5f * width);
  }
  eachRow(picture, [&](int y, size_t first) {
    std::array<std::vector<float>, 3> under, upright;
    for (size_t k = 0; k < 3; ++k) {
      under[k] = soft[k].row(y, picture.width);
      upright[k] = normal[k].row(y, picture.width);
    }
    for (size_t x = 0; x < under[0].size(); ++x) {
      if (picture.covered[first + x] <= 0) continue;
      const auto away = [&](size_t k) {
        return picture.planes[values.place - 1 + k][first + x] - under[k][x];
      };
      const Vec3 n(upright[0][x], upright[1][x], upright[2][x]);
      out[first + x] = Vec3(away(0), away(1), away(2)).dot(normalizedOr(n, Vec3::UnitZ()));
    }
  });
  return out;
}

std::vector<float> reliefOf(FlatPicture& picture, const Values& values, const GraftTake& take,
                            float perPixel) {
  std::vector<float> out = std::move(picture.planes[values.relief - 1]);
  float width = take.cut / perPixel;
  // without a cut of its own form is judged against a third of the patch
  if (take.form && width <= 0) width = 0.33f * static_cast<float>(std::min(picture.width, picture.height));
  if (take.form) {
    const std::vector<float> form = heightOfForm(picture, values, width);
    for (size_t i = 0; i < out.size(); ++i) out[i] += form[i];
  }
  highPass(out, picture, width);
  // what is narrower than the cut is not higher: where skin that folds over lay on itself it only seems so
  const float most = width > 0 ? 0.5f * width * perPixel : std::numeric_limits<float>::max();
  for (float& v : out) v = take.millimetres * std::clamp(v, -most, most);
  return out;
}

}  // namespace

float marginFor(const GraftTake& take, const Vec2& half) {
  return std::min(2 * take.cut, 0.35f * half.minCoeff());
}

Result<Graft> takenGraft(const Surface& surface, const GraftSkin& skin, const PatchShape& shape,
                         const GraftTake& take, std::string name, const Progress& progress) {
  if (take.pixels < kLeastGraft || take.pixels > kLargestGraft)
    return Error{
        fmt::format("a graft is {} to {} pixels across, not {}", kLeastGraft, kLargestGraft, take.pixels)};
  if (take.channels.empty()) return Error{"nothing is to be taken: choose colour, gloss or relief"};
  // the margin follows from the patch, which is not known yet: a strip and a lasso are as large as they are
  auto patch = patchOf(surface, shape, 2 * take.cut);
  if (!patch) return patch.error();
  if (!report(progress, 0.2f)) return cancelledError();
  const float margin = marginFor(take, patch->half);
  const float longer = 2 * patch->half.maxCoeff(), pixel = longer / static_cast<float>(take.pixels);
  const int fine = finenessOf(pixel, surface.spacing);
  const auto pixelsOf = [&](float half) {
    return std::max(1, static_cast<int>(std::lround(2 * half / pixel)));
  };
  Graft out;
  out.name = std::move(name);
  out.width = pixelsOf(patch->half.x());
  out.height = pixelsOf(patch->half.y());
  out.across = longer * take.millimetres;
  const int rim = static_cast<int>(std::ceil(margin / pixel));
  const Values values = valuesOf(surface, skin, *patch, take);
  FlatPicture picture = drawnFlat(
      surface, *patch, values.planes,
      {(out.width + 2 * rim) * fine, (out.height + 2 * rim) * fine, pixel / static_cast<float>(fine)});
  if (!report(progress, 0.6f)) return cancelledError();
  if (fine > 1) picture = shrunk(picture, fine);
  std::vector<float> relief;
  if (values.relief > 0) relief = reliefOf(picture, values, take, pixel);
  if (!report(progress, 0.9f)) return cancelledError();
  keepInside(picture, *patch, rim, pixel);
  out.alpha = cropped(feathered(picture, take.feather * static_cast<float>(std::min(out.width, out.height))),
                      picture, rim);
  if (values.cover > 0) {
    const auto counts = cropped(picture.planes[values.cover - 1], picture, rim);
    for (size_t i = 0; i < out.alpha.size(); ++i) out.alpha[i] *= counts[i];
  }
  if (std::ranges::none_of(out.alpha, [](float a) { return a > 0; }))
    return Error{skin.before ? "nothing differs there" : "no skin lies flat there"};
  for (size_t c = 0; c < 3 && values.color > 0; ++c)
    out.color[c] = cropped(picture.planes[values.color - 1 + c], picture, rim);
  if (values.gloss > 0) out.gloss = cropped(picture.planes[values.gloss - 1], picture, rim);
  if (values.relief > 0) out.relief = cropped(relief, picture, rim);
  return out;
}

}  // namespace juvenor
