// What is baked, against closed forms: the relief of a sine and a ball on its cube as normals and heights,
// means over texels, which of two islands counts, places of added points, padding against looking everywhere.
#include <cmath>
#include <random>

#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/painted.h"
#include "core/textures/cover_tiles.h"
#include "core/textures/hand_on.h"
#include "core/textures/padding.h"
#include "core/textures/tangents.h"
#include "core/textures/uv_layout.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A flat square of side 10 in tile 1001, laid out as it lies, with a margin of a tenth.
Sculpt laidOutPlane(int cells, const Vec2& low = {0.1f, 0.1f}, float side = 0.8f) {
  Sculpt out = test::plane(cells, 10);
  UvSet uv{"UV", {}, out.corners};
  for (const Vec3& v : out.vertices)
    uv.coordinates.push_back(low + side * Vec2(v.x() / 10 + 0.5f, v.y() / 10 + 0.5f));
  out.uvSets = {uv};
  return out;
}

// A box around the origin with hard edges whose six sides lie in a grid of three by two.
Sculpt laidOutCube(float half) {
  Sculpt out;
  out.name = "Cube";
  out.parts = {"Cube"};
  out.polygonStart = {0};
  UvSet uv{"UV", {}, {}};
  for (int side = 0; side < 6; ++side) {
    const int axis = side / 2;
    const float sign = side % 2 == 0 ? 1.f : -1.f;
    for (int k = 0; k < 4; ++k) {
      const Vec2 at(k == 1 || k == 2 ? 1.f : -1.f, k >= 2 ? 1.f : -1.f);
      Vec3 v;
      v[axis] = sign * half;
      v[(axis + 1) % 3] = half * at.x();
      v[(axis + 2) % 3] = half * sign * at.y();
      out.vertices.push_back(v);
      out.normals.push_back(sign * Vec3::Unit(axis));
      uv.coordinates.emplace_back((static_cast<float>(side % 3) + 0.5f + 0.45f * at.x()) / 3,
                                  (static_cast<float>(side / 3) + 0.5f + 0.45f * at.y()) / 2);
      out.corners.push_back(static_cast<uint32_t>(4 * side + k));
      uv.corner.push_back(static_cast<uint32_t>(4 * side + k));
    }
    out.polygonStart.push_back(static_cast<uint32_t>(out.corners.size()));
    out.polygonPart.push_back(0);
  }
  out.uvSets = {uv};
  return out;
}

// A painted layer with values said for each sample.
template <Channel C, class ValueAt>
Document painted(Document document, ValueAt valueAt) {
  auto layer = std::make_shared<Layer>();
  layer->id = document.nextLayer++;
  layer->name = "Made";
  ChannelFields fields(document.surface->size());
  auto& field = fields.get<C>();
  for (size_t c = 0; c < field.chunkCount(); ++c) {
    auto chunk = field.writable(c);
    for (size_t s = c * kChunkSize; s < std::min(field.size(), (c + 1) * kChunkSize); ++s) {
      const auto value = valueAt(document.surface->positions[s]);
      for (size_t p = 0; p < value.size(); ++p) chunk->plane[p][s % kChunkSize] = value[p];
    }
    field.setChunk(c, std::move(chunk));
  }
  layer->source = paintedSource(std::move(fields));
  document.layers.push_back(layer);
  return document;
}

// What one map of tile 1001 comes to.
struct Baked {
  MapPicture picture;
  size_t covered = 0, missed = 0;
  float at(int x, int y, int plane = 0) const {
    const size_t i = (static_cast<size_t>(y) * static_cast<size_t>(picture.pixels) + static_cast<size_t>(x)) *
                         static_cast<size_t>(picture.planes) +
                     static_cast<size_t>(plane);
    return std::get<std::vector<float>>(picture.values)[i];
  }
};

struct Asked {
  int pixels = 256, looks = 1, tile = 1001;
  uint32_t padding = 0;
  NormalsFrom normals = NormalsFrom::Everything;
  std::shared_ptr<const Sculpt> mesh = nullptr;
  std::optional<float> reach = std::nullopt;
};

Baked bake(const Document& document, const TextureWish& wish, const Asked& asked = {}) {
  const auto skin = skinOf(document.layers, *document.maps, document.bare);
  const auto stack = prepared(document.layers, *document.maps);
  WornMesh worn;
  std::unique_ptr<const TexelPlaces> places;
  if (asked.mesh) {
    worn = *wornMesh(*asked.mesh, 0, document.placement, document);
    const auto rays = *document.maps->rays();
    const float reach = asked.reach.value_or(measuredReach(worn, *rays));
    places = placesOnMesh(worn, OntoMesh(document, worn, rays, reach), *document.surface);
  } else {
    worn = wornSculpt(document, 0);
    places = placesOnSculpt(worn, *skinLayout(document), *document.surface);
  }
  worn.tangents = tangentsOf(worn);
  const auto map = texelMap(wish, {&document, &*stack, &*skin, &worn, asked.normals});
  if (!map) qFatal("%s", map.error().what.c_str());
  const MapToBake one{map->get(), roleOf(wish), planesOf(wish), MapDepth::Float};
  auto tile = bakeTile({asked.tile, asked.pixels, asked.looks, asked.padding}, *places, std::span(&one, 1));
  return {std::move(tile->maps[0]), tile->covered, tile->missed};
}

Vec3 normalAt(const Baked& b, int x, int y) {
  return {2 * b.at(x, y, 0) - 1, 2 * b.at(x, y, 1) - 1, 2 * b.at(x, y, 2) - 1};
}

// Where on the plane of laidOutPlane a texel's middle lies.
Vec2 placeOf(int x, int y, int pixels) {
  const Vec2 uv((static_cast<float>(x) + 0.5f) / static_cast<float>(pixels),
                1 - (static_cast<float>(y) + 0.5f) / static_cast<float>(pixels));
  return 10 * ((uv - Vec2(0.1f, 0.1f)) / 0.8f - Vec2(0.5f, 0.5f));
}

constexpr float kWave = 2, kHigh = 0.05f;

Document sineRelief(int cells) {
  Document d = test::documentOf(laidOutPlane(cells));
  return painted<Channel::Relief>(d, [&](const Vec3& p) {
    const float height = kHigh * std::sin(2 * static_cast<float>(M_PI) * p.x() / kWave);
    return std::array<uint16_t, 1>{height16(height, d.reliefStep)};
  });
}

}  // namespace

class TestBake : public QObject {
  Q_OBJECT
 private slots:
  void aSinesReliefIsItsSlope() {
    const Document d = sineRelief(400);
    for (const NormalsFrom from : {NormalsFrom::Everything, NormalsFrom::Relief}) {
      const Baked b = bake(d, TextureKind::Normal, {.normals = from});
      const Baked h = bake(d, TextureKind::Height);
      float worst = 0, worstHeight = 0;
      for (int y = 40; y < 216; ++y)
        for (int x = 40; x < 216; ++x) {
          const float phase = 2 * static_cast<float>(M_PI) * placeOf(x, y, 256).x() / kWave;
          const float slope = kHigh * 2 * static_cast<float>(M_PI) / kWave * std::cos(phase);
          worst = std::max(worst, (normalAt(b, x, y) - Vec3(-slope, 0, 1).normalized()).norm());
          worstHeight =
              std::max(worstHeight, std::abs(h.at(x, y) - kHigh * std::sin(phase) * d.placement.millimetres));
        }
      QVERIFY2(worst < 0.003f, qPrintable(QString::number(worst)));
      QVERIFY2(worstHeight < 0.001f * d.placement.millimetres, qPrintable(QString::number(worstHeight)));
    }
  }
  // A layout that is seen from behind turns red about, and one that lies on its side turns both.
  void mirroredAndTurnedLayoutsShowTheSameSlope() {
    for (const bool mirrored : {true, false}) {
      Sculpt plane = laidOutPlane(300);
      for (Vec2& uv : plane.uvSets[0].coordinates)
        uv = mirrored ? Vec2(1 - uv.x(), uv.y()) : Vec2(uv.y(), 1 - uv.x());
      Document d = test::documentOf(plane);
      d = painted<Channel::Relief>(
          d, [&](const Vec3& p) { return std::array<uint16_t, 1>{height16(0.1f * p.x(), d.reliefStep)}; });
      const Vec3 n = normalAt(bake(d, TextureKind::Normal), 128, 128);
      const Vec3 wanted = mirrored ? Vec3(0.1f, 0, 1) : Vec3(0, 0.1f, 1);
      QVERIFY2((n - wanted.normalized()).norm() < 0.002f,
               qPrintable(QString("%1 %2 %3").arg(n.x()).arg(n.y()).arg(n.z())));
    }
  }
  // The cube of a ball: its texels' normals and distances follow from the ball alone.
  void aBallOnItsCube() {
    const float radius = 1, half = 0.9f;
    const Document d = test::documentOf(test::sphere(400, radius));
    Asked asked{.pixels = 384, .mesh = std::make_shared<const Sculpt>(laidOutCube(half))};
    asked.reach = 0.7f;
    const Baked normals = bake(d, TextureKind::Normal, asked), heights = bake(d, TextureKind::Height, asked);
    QCOMPARE(normals.missed, size_t{0});
    // the side toward +x lies first: its own axes are y and z
    float worst = 0, worstHeight = 0;
    size_t seen = 0;
    for (int y = 192; y < 384; ++y)
      for (int x = 0; x < 128; ++x) {
        const Vec2 uv((static_cast<float>(x) + 0.5f) / 384, 1 - (static_cast<float>(y) + 0.5f) / 384);
        const Vec2 at((3 * uv.x() - 0.5f) / 0.45f, (2 * uv.y() - 0.5f) / 0.45f);
        if (at.cwiseAbs().maxCoeff() > 0.7f) continue;
        const Vec3 p(half, half * at.x(), half * at.y());
        // rays go along normals that are smooth over the cube's edges, linear from corner to corner
        const float c = 1 / std::sqrt(3.f);
        const Vec3 n = Vec3(c, c * at.x(), c * at.y()).normalized();
        const float b = p.dot(n), t = -b + std::sqrt(b * b - p.squaredNorm() + radius * radius);
        const Vec3 met = (p + t * n).normalized();
        worst = std::max(worst, (normalAt(normals, x, y) - Vec3(met.y(), met.z(), met.x())).norm());
        worstHeight = std::max(worstHeight, std::abs(heights.at(x, y) / d.placement.millimetres - t));
        ++seen;
      }
    QVERIFY(seen > 5000);
    QVERIFY2(worst < 0.005f, qPrintable(QString::number(worst)));
    QVERIFY2(worstHeight < 0.001f, qPrintable(QString::number(worstHeight)));
  }
  // Points much finer than texels: the mean of what a texel holds, as light; one look sees one place alone.
  void manyLooksAreTheMeanOfTheTexel() {
    Document d = test::documentOf(laidOutPlane(400));
    d = painted<Channel::Color>(d, [](const Vec3& p) {
      const bool white = static_cast<int>(std::floor(p.x() / 0.025f + 0.5f)) % 2 == 0;
      const uint16_t v = white ? 65535 : 0;
      return std::array<uint16_t, 4>{v, v, v, 65535};
    });
    const Baked many = bake(d, TextureKind::Colour, {.pixels = 32, .looks = 16});
    float sum = 0;
    int n = 0;
    for (int y = 8; y < 24; ++y)
      for (int x = 8; x < 24; ++x, ++n) sum += many.at(x, y);
    // between black and white points colours go straight in encoded values: their light has this mean
    double between = 0;
    for (int i = 0; i < 1000; ++i)
      between += static_cast<double>(decodeSrgb((static_cast<float>(i) + 0.5f) / 1000)) / 1000;
    QVERIFY2(std::abs(sum / static_cast<float>(n) - static_cast<float>(between)) < 0.02f,
             qPrintable(QString("%1, wanted %2").arg(sum / static_cast<float>(n)).arg(between)));
  }
  // Texels that a layout covers are those the measure of the layout counts, for every size.
  void whatIsCoveredIsWhatTheLayoutSays() {
    for (const int pixels : {64, 100, 257}) {
      const Sculpt plane = laidOutPlane(37, {0.13f, 0.21f}, 0.61f);
      const auto tiles = coverTilesOf(plane, pixels);
      const Baked b = bake(test::documentOf(plane), TextureKind::Colour, {.pixels = pixels});
      QCOMPARE(b.covered, static_cast<size_t>(std::lround(tiles * static_cast<float>(pixels * pixels))));
    }
  }
  void ofTwoIslandsInOnePlaceTheFirstInTheFileCounts() {
    for (const bool turned : {false, true}) {
      Sculpt one = laidOutPlane(8), two = laidOutPlane(8);
      for (Vec3& v : two.vertices) v.z() += 5;
      one.parts = {"One"};
      two.parts = {"Two"};
      const Document d = test::documentOf(turned ? test::together(two, one) : test::together(one, two));
      const Baked b = bake(d, TextureKind::Parts, {.looks = 4});
      const EncodedColor first = colorOfPart(0);
      QVERIFY(std::abs(b.at(128, 128, 0) - decodeSrgb(first.r)) < 1e-3f &&
              std::abs(b.at(128, 128, 1) - decodeSrgb(first.g)) < 1e-3f);
    }
  }
  // Points that were added: their places in the layout are where their triangles' are.
  void addedPointsKeepTheirPlaces() {
    const auto ramp = [](const Document& made) {
      return painted<Channel::Gloss>(made, [](const Vec3& p) {
        return std::array<uint16_t, 2>{to16(p.x() / 10 + 0.5f), 65535};
      });
    };
    for (const RefineShape shape : {RefineShape::Flat, RefineShape::Round}) {
      Document d = test::documentOf(laidOutPlane(6));
      for (int time = 0; time < 2; ++time) {
        const auto refined = withRefinement(d, {time == 0 ? 0.f : 0.3f, shape});
        QVERIFY2(refined, refined ? "" : refined.error().what.c_str());
        d = *refined;
      }
      QVERIFY(d.surface->size() > 1000);
      const Baked b = bake(ramp(d), TextureKind::Gloss, {.pixels = 200});
      float worst = 0;
      for (int y = 22; y < 178; ++y)
        for (int x = 22; x < 178; ++x)
          worst = std::max(worst, std::abs(b.at(x, y) - (placeOf(x, y, 200).x() / 10 + 0.5f)));
      QVERIFY2(worst < 0.002f, qPrintable(QString::number(worst)));
    }
  }
  void anotherMeshFindsItsOwnPartAndNoBacks() {
    // a sheet that looks down lies between the mesh and the sheet that looks up
    Sculpt up = laidOutPlane(10), down = test::insideOut(laidOutPlane(10));
    up.parts = {"Up"};
    down.parts = {"Down"};
    for (Vec3& v : down.vertices) v.z() = 0.1f;
    const Document d = test::documentOf(test::together(up, down));
    Sculpt low = laidOutPlane(1);
    for (Vec3& v : low.vertices) v.z() = 0.2f;
    Asked asked{.pixels = 64, .reach = 1};
    asked.mesh = std::make_shared<const Sculpt>(low);
    const Baked b = bake(d, TextureKind::Height, asked);
    QCOMPARE(b.missed, size_t{0});
    QVERIFY(std::abs(b.at(32, 32) / d.placement.millimetres + 0.2f) < 1e-3f);
    // by name the one below it, though another lies nearer
    Sculpt near = laidOutPlane(10);
    near.parts = {"Near"};
    for (Vec3& v : near.vertices) v.z() = 0.15f;
    const Document named = test::documentOf(test::together(up, near));
    low.parts = {"Up"};
    asked.mesh = std::make_shared<const Sculpt>(low);
    QVERIFY(std::abs(bake(named, TextureKind::Height, asked).at(32, 32) / d.placement.millimetres + 0.2f) <
            1e-3f);
    low.parts = {"Any"};
    asked.mesh = std::make_shared<const Sculpt>(low);
    QVERIFY(std::abs(bake(named, TextureKind::Height, asked).at(32, 32) / d.placement.millimetres + 0.05f) <
            1e-3f);
  }
  // Half of the mesh has no skin under it: it is counted, and filled from where there is some.
  void whatFindsNoSkinIsFilledFromAround() {
    const Document d = painted<Channel::Gloss>(test::documentOf(laidOutPlane(20)), [](const Vec3&) {
      return std::array<uint16_t, 2>{to16(0.75f), 65535};
    });
    Sculpt low = laidOutPlane(4);
    for (Vec3& v : low.vertices) v.x() += 5;
    Asked asked{.pixels = 100, .reach = 0.5f};
    asked.mesh = std::make_shared<const Sculpt>(low);
    const Baked b = bake(d, TextureKind::Gloss, asked);
    QCOMPARE(b.covered, size_t{80 * 80});
    QVERIFY2(std::abs(static_cast<int>(b.missed) - 40 * 80) <= 80, qPrintable(QString::number(b.missed)));
    QVERIFY(std::abs(b.at(88, 50) - 0.75f) < 1e-4f);
    QVERIFY(std::abs(b.at(95, 50)) < 1e-4f);  // no padding was asked for
  }
  void paddingIsTheNearestCoveredTexel() {
    std::mt19937 random(8);
    for (const uint32_t reach : {uint32_t{3}, uint32_t{11}, kPadAll}) {
      constexpr int kWidth = 61, kHeight = 47;
      std::vector<uint8_t> cover(kWidth * kHeight, 0);
      std::vector<uint16_t> values(cover.size());
      for (size_t i = 0; i < cover.size(); ++i) {
        cover[i] = random() % 97 == 0;
        values[i] = static_cast<uint16_t>(i);
      }
      const auto distance = [&](size_t a, size_t b) {
        const int x = static_cast<int>(a % kWidth) - static_cast<int>(b % kWidth),
                  y = static_cast<int>(a / kWidth) - static_cast<int>(b / kWidth);
        return x * x + y * y;
      };
      Padding(cover, 1, kWidth, kHeight).fill(std::span(values), 1, [&](size_t) { return reach; });
      for (size_t i = 0; i < cover.size(); ++i) {
        int nearest = 1 << 30;
        for (size_t j = 0; j < cover.size(); ++j)
          if (cover[j]) nearest = std::min(nearest, distance(i, j));
        const bool near = reach == kPadAll || nearest <= static_cast<int>(reach * reach);
        if (near) {
          QVERIFY(cover[values[i]]);
          QCOMPARE(distance(i, values[i]), nearest);
        } else {
          QCOMPARE(size_t{values[i]}, i);
        }
      }
    }
  }
  void melaninAndBloodAreThoseOfTheTone() {
    for (const SkinTone tone :
         {SkinTone{0.3f, 0.5f, 0.2f}, SkinTone{0.75f, 0.3f, 0.1f}, SkinTone{0.1f, 0.8f, 0.3f}}) {
      Document d = test::documentOf(laidOutPlane(4));
      d.bare = colorOf(tone);
      QVERIFY(std::abs(bake(d, TextureKind::Melanin).at(128, 128) - tone.melanin) < 0.02f);
      QVERIFY(std::abs(bake(d, TextureKind::Blood).at(128, 128) - tone.blood) < 0.03f);
    }
  }

 private:
  // Part of the tile a layout fills, counted apart.
  static float coverTilesOf(const Sculpt& sculpt, int pixels) {
    const auto tiles = coverTiles(uvTriangles(sculpt, 0).triangles, pixels);
    return (*tiles)[0].filled;
  }
};

JUVENOR_TEST(TestBake)
}  // namespace juvenor
#include "test_bake.moc"
