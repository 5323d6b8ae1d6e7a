#include "core/show/passes.h"

#include <OpenImageIO/imageio.h>
#include <fmt/format.h>

#include <algorithm>

#include "core/files.h"
#include "core/layers/zones/hue_zone.h"
#include "core/parallel.h"
#include "core/render/hair_seen.h"
#include "core/render/mixed.h"
#include "core/show/still_picture.h"

namespace juvenor {
namespace {

namespace fs = std::filesystem;

// One thing after another is left out, from the top; what then is missing is its pass.
struct LightStep {
  std::string name;
  void (*leaveOut)(LightParts& parts);
};

std::vector<LightStep> lightSteps(const ShadeInput& input) {
  if (input.view != View::Skin || !input.by) return {};
  std::vector<LightStep> out;
  constexpr std::array<void (*)(LightParts&), kLampCount> kLamps{
      [](LightParts& p) { p.mirroredLamps[0] = false; }, [](LightParts& p) { p.mirroredLamps[1] = false; },
      [](LightParts& p) { p.mirroredLamps[2] = false; }, [](LightParts& p) { p.mirroredLamps[3] = false; }};
  for (size_t l = 0; l < kLampCount; ++l)
    if (!input.by->lamps[l].strength.isZero())
      out.push_back({input.light.kind == LightKind::Lamps ? fmt::format("mirrored {}", kLampKeys[l])
                                                          : std::string("mirrored sun"),
                     kLamps[l]});
  out.push_back({"mirrored around", [](LightParts& p) { p.mirroredAround = false; }});
  if (input.hair) out.push_back({"hair", [](LightParts& p) { p.hair = false; }});
  out.push_back({"glow", [](LightParts& p) { p.glow = false; }});
  out.push_back({"spread", [](LightParts& p) { p.wanders = false; }});
  return out;
}

// The zone that works most strongly at each sample, from 1; 0: none. Of the topmost layer of zones that
// shows.
std::vector<uint16_t> strongestZones(const Document& d) {
  std::vector<uint16_t> out(d.surface->size(), 0);
  std::vector<float> most(d.surface->size(), 0);
  for (size_t row = d.layers.size(); row-- > 0;) {
    const Layer& layer = *d.layers[row];
    if (!layer.visible || layer.source->kind().key != "zones") continue;
    const auto set = zoneSetFrom(layer.source->parameters());
    if (!set) continue;
    for (size_t z = 0; z < set->zones.size(); ++z) {
      const ZoneInfluencePointer works = influenceOf(*d.maps, set->zones[z], set->melt);
      for (size_t i = 0; i < works->samples.size(); ++i) {
        const uint32_t s = works->samples[i];
        if (works->values[i] <= most[s]) continue;
        most[s] = works->values[i];
        out[s] = static_cast<uint16_t>(z + 1);
      }
    }
    break;
  }
  return out;
}

const std::vector<std::string> kRgb{"R", "G", "B"}, kXyz{"X", "Y", "Z"};

// The passes of values, after those of light.
std::vector<PassFacts> valuePasses() {
  return {{"colour", PassKind::Mean, kRgb},     {"gloss", PassKind::Mean, {"Y"}},
          {"occlusion", PassKind::Mean, {"Y"}}, {"normal", PassKind::Mean, kXyz},
          {"depth", PassKind::Middle, {"Z"}},   {"position", PassKind::Middle, kXyz},
          {"part", PassKind::Middle, {"ID"}},   {"zone", PassKind::Middle, {"ID"}}};
}
constexpr size_t kMeanValues = 3 + 1 + 1 + 3, kMiddleValues = 1 + 3 + 1 + 1;

std::vector<PassFacts> listed(const ShadeInput& input) {
  std::vector<PassFacts> out{{"", PassKind::Light, {"R", "G", "B", "A"}}};
  for (const LightStep& step : lightSteps(input)) out.push_back({step.name, PassKind::Light, kRgb});
  out.push_back({"diffuse", PassKind::Light, kRgb});
  for (PassFacts& facts : valuePasses()) out.push_back(std::move(facts));
  return out;
}

class PassMaker {
 public:
  PassMaker(const ShownScene& scene, const StillWish& wish)
      : scene_(scene),
        wish_(wish),
        input_(scene.input(wish.look.camera, wish.look.view)),
        rays_(wish.look.camera, wish.size, focusedOn(scene, wish.look),
              scene.document().placement.millimetres),
        zones_(strongestZones(scene.document())) {
    input_.whole = wish.size;
    input_.background = 0xff000000u;
    input_.light.exposure = wish.look.light.exposure;
    steps_ = lightSteps(input_);
    for (const PassFacts& pass : listed(input_)) channels_ += pass.channels.size();
  }

  // One value a pixel for each channel.
  bool make(const PixelRect& rect, std::vector<std::vector<float>>& out, const std::function<bool()>& stop) {
    size_ = {rect.right - rect.left, rect.bottom - rect.top};
    const size_t count = static_cast<size_t>(size_.width) * static_cast<size_t>(size_.height);
    out.assign(channels_, std::vector<float>(count, 0));
    light_.resize(count);
    before_.resize(count);
    const int passes = std::clamp(wish_.samples, 1, kMostStillSamples);
    for (int pass = 0; pass < passes; ++pass) {
      if (!see(rect, jitterOf(pass), static_cast<uint32_t>(pass), rays_, stop)) return false;
      if (!addLight(static_cast<uint32_t>(pass), out, stop)) return false;
      addMeans(out);
    }
    average(static_cast<float>(passes), out);
    // what is never mixed is what the middle of the pixel shows, all sharp
    const LensRays pinhole(wish_.look.camera, wish_.size, Focus{}, 1);
    if (!see(rect, {0.5f, 0.5f}, 0, pinhole, stop)) return false;
    setMiddles(out);
    return true;
  }

 private:
  bool see(const PixelRect& rect, const Vec2& jitter, uint32_t pass, const LensRays& rays,
           const std::function<bool()>& stop) {
    const PixelRays rayOf = [&](int x, int y) {
      return rays.through(rect.left + x, rect.top + y, jitter, pass);
    };
    return castVisibility(scene_.rays(), rayOf, size_, scene_.document().hiddenParts, {}, seen_, stop) &&
           (!input_.hair || castHair(*input_.hair, *input_.surface, rayOf, {}, seen_, stop));
  }
  bool covered(size_t at) const {
    return seen_.triangle[at] != kNone || (!seen_.fibre.empty() && seen_.fibre[at].segment != kNone);
  }
  // The whole, then what each thing makes that is left out; what stays at last is diffuse.
  bool addLight(uint32_t pass, std::vector<std::vector<float>>& out, const std::function<bool()>& stop) {
    ShadeInput input = input_;
    input.turn = pass;
    const PixelRect all{0, 0, size_.width, size_.height};
    if (!shadeLight(input, seen_, all, before_, stop)) return false;
    for (size_t at = 0; at < before_.size(); ++at) {
      for (size_t c = 0; c < 3; ++c) out[c][at] += before_[at][static_cast<int>(c)];
      if (covered(at)) out[3][at] += 1;
    }
    size_t channel = 4;
    for (const LightStep& step : steps_) {
      step.leaveOut(input.parts);
      if (!shadeLight(input, seen_, all, light_, stop)) return false;
      for (size_t at = 0; at < light_.size(); ++at)
        for (size_t c = 0; c < 3; ++c)
          out[channel + c][at] += (before_[at] - light_[at])[static_cast<int>(c)];
      std::swap(before_, light_);
      channel += 3;
    }
    for (size_t at = 0; at < before_.size(); ++at)
      for (size_t c = 0; c < 3; ++c) out[channel + c][at] += before_[at][static_cast<int>(c)];
    return true;
  }
  size_t firstMean() const { return channels_ - kMiddleValues - kMeanValues; }
  Mixed placeAt(size_t at) const {
    const auto& [u, v] = seen_.weights[at];
    return mixedAt(*input_.surface, seen_.triangle[at], from16(u), from16(v));
  }
  Vec3 normalAt(const Mixed& m) const {
    Vec3 out = Vec3::Zero();
    m.each([&](uint32_t s, float weight) {
      out += weight * (input_.relief ? input_.relief->meanAt(s, 0) : input_.surface->normals[s]);
    });
    return normalizedOr(out, Vec3::UnitZ());
  }
  void addMeans(std::vector<std::vector<float>>& out) const {
    const size_t first = firstMean();
    parallel(seen_.triangle.size(), [&](size_t at) {
      if (seen_.triangle[at] == kNone) return;
      const Mixed m = placeAt(at);
      const Vec3 color = linearAt(*input_.skin, m), normal = normalAt(m);
      float open = 0;
      m.each([&](uint32_t s, float weight) {
        open += weight * (input_.open.empty() ? 1.f : static_cast<float>(input_.open[s].sky) / 255);
      });
      for (size_t c = 0; c < 3; ++c) {
        out[first + c][at] += color[static_cast<int>(c)];
        out[first + 5 + c][at] += normal[static_cast<int>(c)];
      }
      out[first + 3][at] += coverAt<Channel::Gloss>(*input_.skin, m);
      out[first + 4][at] += open;
    });
  }
  void average(float passes, std::vector<std::vector<float>>& out) const {
    const size_t mean = firstMean();
    for (size_t channel = 0; channel + kMiddleValues < channels_; ++channel)
      for (float& v : out[channel]) v /= passes;
    // normals that were averaged are one long again where a pixel is all covered
    for (size_t at = 0; at < out[mean].size(); ++at) {
      Vec3 normal(out[mean + 5][at], out[mean + 6][at], out[mean + 7][at]);
      const float cover = out[3][at];
      normal = cover * normalizedOr(normal, Vec3::Zero());
      for (size_t c = 0; c < 3; ++c) out[mean + 5 + c][at] = normal[static_cast<int>(c)];
    }
  }
  void setMiddles(std::vector<std::vector<float>>& out) const {
    const size_t first = channels_ - kMiddleValues;
    const Lens lens(wish_.look.camera, wish_.size);
    parallel(seen_.triangle.size(), [&](size_t at) {
      if (seen_.triangle[at] == kNone) return;
      const Mixed m = placeAt(at);
      Vec3 place = Vec3::Zero();
      m.each([&](uint32_t s, float weight) { place += weight * input_.surface->positions[s]; });
      out[first][at] = lens.depthOf(place);
      for (size_t c = 0; c < 3; ++c) out[first + 1 + c][at] = place[static_cast<int>(c)];
      out[first + 4][at] = static_cast<float>(input_.surface->triangleParts[seen_.triangle[at]] + 1);
      out[first + 5][at] = static_cast<float>(zones_[m.nearest()]);
    });
  }

  const ShownScene& scene_;
  const StillWish& wish_;
  ShadeInput input_;
  LensRays rays_;
  std::vector<uint16_t> zones_;
  std::vector<LightStep> steps_;
  size_t channels_ = 0;
  ViewSize size_;
  VisibilityImage seen_;
  std::vector<Vec3> light_, before_;
};

// Channels of an EXR file belong to layers by their names.
std::vector<std::string> channelNames(const std::vector<PassFacts>& passes) {
  std::vector<std::string> out;
  for (const PassFacts& pass : passes)
    for (const std::string& channel : pass.channels)
      out.push_back(pass.name.empty() ? channel : pass.name + "." + channel);
  return out;
}

Outcome putPasses(OIIO::ImageOutput& out, const fs::path& partial, const ShownScene& scene,
                  const StillWish& wish, const Progress& progress) {
  constexpr int kRows = 64;
  const std::vector<std::string> names = channelNames(passesOf(scene, wish.look));
  OIIO::ImageSpec spec(wish.size.width, wish.size.height, static_cast<int>(names.size()),
                       OIIO::TypeDesc::FLOAT);
  spec.channelnames = names;
  spec.alpha_channel = 3;
  spec.attribute("oiio:ColorSpace", "Linear");
  spec.attribute("compression", "zips");
  spec.attribute("Software", "Juvenor");
  if (!out.open(partial.string(), spec)) return Error{"was not written (" + out.geterror() + ")"};
  PassMaker maker(scene, wish);
  std::vector<std::vector<float>> values;
  std::vector<float> rows;
  for (int top = 0; top < wish.size.height; top += kRows) {
    const int bottom = std::min(wish.size.height, top + kRows);
    const float done = static_cast<float>(top) / static_cast<float>(wish.size.height);
    if (!maker.make({0, top, wish.size.width, bottom}, values, [&] { return !report(progress, done); }))
      return cancelledError();
    rows.resize(values.size() * values[0].size());
    for (size_t c = 0; c < values.size(); ++c)
      for (size_t at = 0; at < values[c].size(); ++at) rows[at * values.size() + c] = values[c][at];
    if (!out.write_scanlines(top, bottom, 0, OIIO::TypeDesc::FLOAT, rows.data()))
      return Error{"was not written (" + out.geterror() + ")"};
  }
  if (!out.close()) return Error{"was not written (" + out.geterror() + ")"};
  return Done{};
}

}  // namespace

std::vector<PassFacts> passesOf(const ShownScene& scene, const Look& look) {
  return listed(scene.input(look.camera, look.view));
}

Result<std::vector<std::vector<float>>> passValues(const ShownScene& scene, const StillWish& wish,
                                                   const PixelRect& rect, const Progress& progress) {
  if (const Outcome ok = checkedWish(wish); !ok) return ok.error();
  std::vector<std::vector<float>> out;
  PassMaker maker(scene, wish);
  if (!maker.make(rect, out, [&] { return !report(progress, 0.5f); })) return cancelledError();
  return out;
}

Outcome writePasses(ShownScene& scene, const StillWish& wish, const fs::path& file,
                    const Progress& progress) {
  if (const Outcome ok = checkedWish(wish); !ok) return ok;
  if (file.extension() != ".exr" && file.extension() != ".EXR")
    return Error{"is no .exr; passes are the layers of one such file", file.string()};
  constexpr float kLight = 0.2f;
  const Outcome laid = layLight(scene, wish.look, [&](float f) { return report(progress, kLight * f); });
  if (!laid) return laid;
  const auto out = OIIO::ImageOutput::create("exr");
  if (!out) return Error{"EXR files cannot be written here", file.string()};
  Outcome cancelled = Done{};
  const Outcome done = replacedWhole(file, [&](const fs::path& partial) {
    const Outcome put = putPasses(*out, partial, scene, wish,
                                  [&](float f) { return report(progress, kLight + (1 - kLight) * f); });
    if (!put && isCancelled(put.error())) cancelled = put;
    return put;
  });
  return cancelled ? done : cancelled;
}

}  // namespace juvenor
