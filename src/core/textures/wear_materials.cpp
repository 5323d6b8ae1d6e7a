#include "core/textures/wear_materials.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/document/edits/edits.h"
#include "core/layers/sources/painted.h"
#include "core/parallel.h"
#include "core/sculpt/each_triangle.h"
#include "core/textures/bring_maps.h"
#include "core/textures/map_pyramid.h"
#include "core/textures/sample_places.h"
#include "core/textures/tangents.h"
#include "core/textures/told_samples.h"

namespace juvenor {
namespace {

using Texel = MapPyramid::Values;

Vec2 movedBy(const BroughtTexture& texture, const Vec2& uv) {
  const Vec2 moved = texture.matrix * Vec2(uv.x(), 1 - uv.y()) + texture.offset;
  return {moved.x(), 1 - moved.y()};
}

// Pictures repeat (the usual way of glTF): a place by what is left of it within one.
Vec2 wrapped(const Vec2& uv) {
  return uv - Vec2(std::floor(uv.x()), std::floor(uv.y()));
}

class Wearing {
 public:
  Wearing(const Document& document, const BroughtMaterials& materials, SkinLayout layout)
      : document_(document),
        materials_(materials),
        layout_(std::move(layout)),
        samples_(document.surface->size()) {
    material_.resize(triangleCount(*document.sculpt));
    eachTriangle(*document.sculpt, [&](size_t t, size_t p, const Triangle&) {
      material_[t] = p < materials.polygonMaterial.size() ? materials.polygonMaterial[p] : kNone;
    });
  }

  /// Calls `take(material, place, values)` for every place of the skin that has a texture of a kind.
  template <class Take>
  void each(BroughtTexture BroughtMaterial::*kind, bool colours, bool tangents, Take take) {
    for (uint32_t m = 0; m < materials_.materials.size(); ++m) {
      const BroughtTexture& texture = materials_.materials[m].*kind;
      if (texture.picture < 0 || texture.uvSet >= document_.sculpt->uvSets.size()) continue;
      const MapPyramid* picture = pictureOf(texture, colours);
      if (!picture || picture->planes() <= texture.plane) continue;
      const SamplePlaces& places = placesOf(texture.uvSet, m, tangents);
      note(places, texture, *picture);
      parallel(samples_, [&](size_t s) {
        for (uint32_t i = places.start[s]; i < places.start[s + 1]; ++i) {
          const SamplePlace& place = places.places[i];
          const float texel = 1 / static_cast<float>(std::min(picture->width(), picture->height()));
          const float scale = std::sqrt(std::abs(texture.matrix.determinant()));
          const Vec2 uv = movedBy(texture, askedAt(place, texel / std::max(1e-6f, scale)));
          Eigen::Matrix2f turn = texture.matrix;
          turn(0, 1) = -turn(0, 1);
          turn(1, 0) = -turn(1, 0);
          take(materials_.materials[m], s, place,
               picture->at(wrapped(uv), turn * place.along, scale * place.across));
        }
      });
    }
  }
  float texelsAPoint() const { return texels_; }
  std::vector<std::string> takeRemarks() { return std::move(remarks_); }
  size_t samples() const { return samples_; }

 private:
  const MapPyramid* pictureOf(const BroughtTexture& texture, bool colours) {
    const auto at = static_cast<size_t>(texture.picture);
    if (at >= materials_.pictures.size() || materials_.pictures[at].bytes.empty()) return nullptr;
    // one picture at a time: they are large
    if (held_ && heldOf_ == at && heldColours_ == colours) return &*held_;
    held_.reset();
    const MaterialPicture& picture = materials_.pictures[at];
    if (colours) {
      const auto read = decodePicture(picture.bytes, picture.name);
      if (!read) return remark(read.error());
      held_.emplace(*read);
    } else {
      auto read = decodeRaw(picture.bytes, picture.name);
      if (!read) return remark(read.error());
      held_.emplace(std::move(*read));
    }
    heldOf_ = at;
    heldColours_ = colours;
    return &*held_;
  }
  const MapPyramid* remark(const Error& error) {
    if (std::ranges::find(remarks_, error.message()) == remarks_.end()) remarks_.push_back(error.message());
    return nullptr;
  }

  // Of the polygons of one material alone: others have no place.
  const SamplePlaces& placesOf(size_t set, uint32_t material, bool tangents) {
    if (places_ && placedSet_ == set && placedMaterial_ == material && placedTangents_ == tangents)
      return *places_;
    if (!worn_ || wornSet_ != set) {
      worn_ = wornSculpt(document_, set);
      wornSet_ = set;
    }
    if (tangents && worn_->tangents.empty()) worn_->tangents = tangentsOf(*worn_);
    WornMesh own;
    own.uv = worn_->uv;
    if (tangents) own.tangents = worn_->tangents;
    const Vec2 none = Vec2::Constant(std::numeric_limits<float>::quiet_NaN());
    parallel(own.uv.size(), [&](size_t t) {
      if (material_[t] != material) own.uv[t] = {none, none, none};
    });
    places_ = samplePlaces(*document_.surface, own, layout_);
    placedSet_ = set;
    placedMaterial_ = material;
    placedTangents_ = tangents;
    return *places_;
  }

  // How much finer the finest picture is than the points, in the middle.
  void note(const SamplePlaces& places, const BroughtTexture& texture, const MapPyramid& picture) {
    if (places.places.empty()) return;
    std::vector<float> widths;
    for (size_t i = 0; i < places.places.size(); i += 1 + places.places.size() / 10'000)
      widths.push_back(places.places[i].width);
    const auto middle = widths.begin() + static_cast<std::ptrdiff_t>(widths.size() / 2);
    std::nth_element(widths.begin(), middle, widths.end());
    const float scale = std::sqrt(std::abs(texture.matrix.determinant()));
    texels_ =
        std::max(texels_, *middle * scale * static_cast<float>(std::max(picture.width(), picture.height())));
  }

  const Document& document_;
  const BroughtMaterials& materials_;
  SkinLayout layout_;
  size_t samples_;
  std::vector<uint32_t> material_;  // of each triangle of the sculpt
  std::optional<WornMesh> worn_;
  size_t wornSet_ = 0;
  std::optional<SamplePlaces> places_;
  size_t placedSet_ = 0;
  uint32_t placedMaterial_ = kNone;
  bool placedTangents_ = false;
  std::optional<MapPyramid> held_;
  size_t heldOf_ = 0;
  bool heldColours_ = false;
  float texels_ = 0;
  std::vector<std::string> remarks_;
};

ToldSamples toldColours(Wearing& wearing, BroughtTexture BroughtMaterial::*kind,
                        Vec3 BroughtMaterial::*factor) {
  ToldSamples out(wearing.samples());
  wearing.each(kind, true, false,
               [&](const BroughtMaterial& m, size_t s, const SamplePlace&, const Texel& v) {
                 for (size_t c = 0; c < 3; ++c) out.values[s][c] += v[c] * (m.*factor)[static_cast<int>(c)];
                 out.values[s][3] += v[3];
                 ++out.places[s];
               });
  out.settle();
  return out;
}

float luminanceOf(const Texel& v) {
  return 0.2126f * v[0] + 0.7152f * v[1] + 0.0722f * v[2];
}

// How strongly what shines does so with the colour that lies there. What is brighter than that colour by
// itself brings its own.
ChannelFields glowOf(const ToldSamples& emission, const ToldSamples& base, size_t samples) {
  constexpr float kDark = 0.002f;
  ChannelFields out(samples);
  const auto share = [&](size_t s) {
    const float lies = base.places[s] > 0 ? luminanceOf(base.values[s]) : 1.f;
    return luminanceOf(emission.values[s]) / std::max(lies, kDark);
  };
  put(out.get<Channel::Glow>(), emission, [&](size_t s) {
    return std::array<uint16_t, 2>{to16(std::clamp(share(s), 0.f, 1.f)), 65535};
  });
  put(out.color(), emission, [&](size_t s) {
    Texel own = emission.values[s];
    own[3] = share(s) > 1.05f ? 1.f : 0.f;
    if (own[3] == 0) own = {};
    return encodedColor(own);
  });
  return out;
}

ToldSamples toldNumbers(Wearing& wearing, BroughtTexture BroughtMaterial::*kind,
                        float BroughtMaterial::*factor) {
  ToldSamples out(wearing.samples());
  wearing.each(kind, false, false,
               [&](const BroughtMaterial& m, size_t s, const SamplePlace&, const Texel& v) {
                 out.values[s][0] += v[static_cast<size_t>((m.*kind).plane)] * (factor ? m.*factor : 1.f);
                 ++out.places[s];
               });
  out.settle();
  return out;
}

// The slopes that normals say, in the tangent planes of samples.
ToldSamples toldSlopes(const Document& document, Wearing& wearing) {
  ToldSamples out(wearing.samples());
  const Surface& surface = *document.surface;
  wearing.each(&BroughtMaterial::normal, false, true,
               [&](const BroughtMaterial&, size_t s, const SamplePlace& place, const Texel& v) {
                 const auto slope = slopeOf(surface.normals[s], place.tangent, {v[0], v[1], v[2]}, true);
                 if (!slope) return;
                 for (size_t c = 0; c < 3; ++c) out.values[s][c] += (*slope)[static_cast<int>(c)];
                 ++out.places[s];
               });
  out.settle();
  return out;
}

}  // namespace

Result<Worn> withWornMaterials(const Document& document, const BroughtMaterials& materials,
                               const Progress& progress) {
  auto layout = skinLayout(document, [&](float f) { return report(progress, 0.1f * f); });
  if (!layout) return layout.error();
  Wearing wearing(document, materials, std::move(*layout));
  Worn out{document, {}, 0, 0, {}};
  const auto add = [&](const char* name, Stratum stratum, ChannelFields fields) {
    out.document = withSourceLayer(out.document, name, stratum, paintedSource(std::move(fields)));
    out.layers.push_back(out.document.activeLayer);
  };
  const size_t samples = wearing.samples();
  const ToldSamples colours =
      toldColours(wearing, &BroughtMaterial::baseColor, &BroughtMaterial::colorFactor);
  if (colours.any()) {
    ChannelFields fields(samples);
    put(fields.color(), colours, [&](size_t s) { return encodedColor(colours.values[s]); });
    add("Base colour", Stratum::Flesh, std::move(fields));
  }
  if (!report(progress, 0.4f)) return cancelledError();
  const ToldSamples roughness =
      toldNumbers(wearing, &BroughtMaterial::roughness, &BroughtMaterial::roughnessFactor);
  const ToldSamples metal = toldNumbers(wearing, &BroughtMaterial::metal, &BroughtMaterial::metalFactor);
  if (roughness.any() || metal.any()) {
    ChannelFields fields(samples);
    const auto covered = [](float v) {
      return std::array<uint16_t, 2>{to16(std::clamp(v, 0.f, 1.f)), 65535};
    };
    if (roughness.any())
      put(fields.get<Channel::Gloss>(), roughness,
          [&](size_t s) { return covered(1 - roughness.values[s][0]); });
    const bool isMetal = std::ranges::any_of(metal.values, [](const Texel& v) { return v[0] > 0.004f; });
    if (isMetal)
      put(fields.get<Channel::Metal>(), metal, [&](size_t s) { return covered(metal.values[s][0]); });
    add(isMetal ? "Roughness and metal" : "Roughness", Stratum::Surface, std::move(fields));
  }
  const ToldSamples emission =
      toldColours(wearing, &BroughtMaterial::emission, &BroughtMaterial::emissionFactor);
  if (std::ranges::any_of(emission.values, [](const Texel& v) { return luminanceOf(v) > 0.002f; }))
    add("Glow", Stratum::Surface, glowOf(emission, colours, samples));
  // a wet film and down, where there is any
  const ToldSamples coat = toldNumbers(wearing, &BroughtMaterial::coat, &BroughtMaterial::coatFactor),
                    fuzz = toldColours(wearing, &BroughtMaterial::fuzz, &BroughtMaterial::fuzzFactor);
  ChannelFields films(samples);
  const auto film = [&](CoverField& field, const ToldSamples& told, float whole) {
    if (!std::ranges::any_of(told.values, [](const Texel& v) { return luminanceOf(v) > 0.002f; }))
      return false;
    put(field, told, [&](size_t s) {
      const Texel& v = told.values[s];
      const float most = std::max({v[0], v[1], v[2]});
      return std::array<uint16_t, 2>{to16(std::clamp(most / whole, 0.f, 1.f)), 65535};
    });
    return true;
  };
  const bool isCoated = film(films.get<Channel::Coat>(), coat, 1),
             isDowny = film(films.get<Channel::Fuzz>(), fuzz, static_cast<float>(kFuzzSheen));
  if (isCoated || isDowny)
    add(!isDowny ? "Coat" : !isCoated ? "Fuzz" : "Coat and fuzz", Stratum::Surface, std::move(films));
  if (!report(progress, 0.6f)) return cancelledError();
  if (const ToldSamples slopes = toldSlopes(document, wearing); slopes.any()) {
    std::vector<Vec3> all(samples);
    for (size_t s = 0; s < samples; ++s)
      all[s] = {slopes.values[s][0], slopes.values[s][1], slopes.values[s][2]};
    const std::vector<float> heights = heightsOfSlopes(*document.surface, *document.maps->ladder(), all);
    ChannelFields fields(samples);
    put(fields.get<Channel::Relief>(), slopes,
        [&](size_t s) { return std::array<uint16_t, 1>{height16(heights[s], document.reliefStep)}; });
    add("Relief of the normals", Stratum::Surface, std::move(fields));
  }
  if (!report(progress, 0.9f)) return cancelledError();
  if (const ToldSamples occlusion = toldNumbers(wearing, &BroughtMaterial::occlusion, nullptr);
      occlusion.any()) {
    ChannelFields fields(samples);
    put(fields.color(), occlusion, [&](size_t s) {
      const float v = occlusion.values[s][0];
      return encodedColor({v, v, v, 1});
    });
    const uint32_t active = out.document.activeLayer;
    add("Occlusion", Stratum::Surface, std::move(fields));
    // offered: light here makes its own
    LayerChange change;
    change.blend = BlendMode::Multiply;
    change.visible = false;
    if (auto changed = withLayerChanged(out.document, out.document.activeLayer, change))
      out.document = std::move(*changed);
    out.document.activeLayer = active;
  }
  out.remarks = wearing.takeRemarks();
  if (!out.layers.empty()) {
    out.texelsAPoint = wearing.texelsAPoint();
    out.texelSpacing = document.surface->spacing / std::max(1e-6f, out.texelsAPoint);
  }
  return out;
}

Result<Document> withWornMaterialsAnew(const Document& document, const BroughtMaterials& materials,
                                       std::span<const uint32_t> layers, const Progress& progress) {
  const auto worn = withWornMaterials(document, materials, progress);
  if (!worn) return worn.error();
  Document out = document;
  for (const uint32_t made : worn->layers) {
    const LayerPointer fresh = layerOf(worn->document, made);
    for (const uint32_t id : layers) {
      const LayerPointer old = layerOf(out, id);
      if (!old || old->name != fresh->name || !old->source->fields()) continue;
      auto painted = withPainted(out, id, *fresh->source->fields());
      if (!painted) return painted.error();
      out = std::move(*painted);
    }
  }
  return out;
}

}  // namespace juvenor
