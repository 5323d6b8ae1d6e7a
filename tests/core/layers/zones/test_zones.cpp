// Masks from maps, colour ramps and hue zones.
#include <random>

#include <numeric>

#include "core/color/lab.h"
#include "core/color/oklab.h"
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/ramp.h"
#include "core/layers/sources/zones.h"
#include "core/layers/zones/zone_mix.h"
#include "core/surface/build/search.h"
#include "core/surface/graph/melt.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

MaskTerm termOf(const MapKind* kind, float low, float high, float fade) {
  MaskTerm t;
  t.map = usualMap(kind, 10);
  t.low = low;
  t.high = high;
  t.fade = fade;
  return t;
}

HueZone zoneAt(const Vec3& anchor, float reach) {
  HueZone z;
  z.name = "Cheek";
  z.anchor = anchor;
  z.reach = reach;
  z.mirrored = false;
  z.breakUp = 0;
  return z;
}

Document withZones(const Document& d, std::vector<HueZone> zones, float melt = 0) {
  return withSourceLayer(d, "Zones", Stratum::Flesh, zoneSource({std::move(zones), melt}));
}

Rgba16 compositeAt(const Document& d, size_t sample) {
  return colorAt(*compositeOf(d.layers, *d.maps, d.bare), sample);
}

}  // namespace

class TestZones : public QObject {
  Q_OBJECT
 private slots:
  void aTermAsItStandsIsTheMap() {
    const MaskTerm plain;
    for (const float v : {0.f, 0.2f, 0.77f, 1.f}) QVERIFY(std::abs(shaped(plain, v) - v) < 1e-6f);
    MaskTerm band = termOf(&kElevationMap, 0.4f, 0.6f, 0.1f);
    QCOMPARE(shaped(band, 0.5f), 1.f);
    QCOMPARE(shaped(band, 0.25f), 0.f);
    QVERIFY(std::abs(shaped(band, 0.35f) - 0.5f) < 1e-5f);
    QVERIFY(std::abs(shaped(band, 0.65f) - 0.5f) < 1e-5f);
    band.invert = true;
    QCOMPARE(shaped(band, 0.5f), 0.f);
    band.fade = 0;
    QCOMPARE(shaped(band, 0.39f), 1.f);
    MaskTerm hard;
    hard.contrast = 1;
    QCOMPARE(shaped(hard, 0.49f), 0.f);
    QCOMPARE(shaped(hard, 0.51f), 1.f);
    hard.contrast = -1;
    QCOMPARE(shaped(hard, 0.9f), 0.5f);
  }
  void termsCombine() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(24, 5)));
    MaskTerm up = termOf(&kElevationMap, 1, 1, 1), right = termOf(&kFacingMap, 1, 1, 1);
    right.map.direction = Vec3::UnitX();
    const auto first = *maskOf(maps, {up}), second = *maskOf(maps, {right});
    for (const MaskCombine how : {MaskCombine::Multiply, MaskCombine::Add, MaskCombine::Subtract}) {
      right.combine = how;
      const auto both = *maskOf(maps, {up, right});
      for (size_t s = 0; s < maps.size(); ++s) {
        const double a = first->at(s)[0], b = second->at(s)[0], found = both->at(s)[0];
        const double expected = how == MaskCombine::Multiply ? a * b / 65535
                                : how == MaskCombine::Add    ? std::min(65535.0, a + b)
                                                             : std::max(0.0, a - b);
        QVERIFY(std::abs(found - expected) <= 1);
      }
    }
    QCOMPARE(*maskOf(maps, {up}), first);
  }
  void aMeltedMaskIsSofterAndKeepsItsMean() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(48, 5)));
    const auto sharp = *maskOf(maps, {termOf(&kElevationMap, 0.5f, 1, 0)});
    MaskTerm soft = termOf(&kElevationMap, 1, 1, 1);
    soft.melt = 3;
    const auto melted = *maskOf(maps, {soft});
    float low = 1, high = 0;
    // what melts keeps its sum over the skin, each sample weighed by its own share of it
    const auto unmelted = *maskOf(maps, {termOf(&kElevationMap, 1, 1, 1)});
    double before = 0, after = 0, area = 0;
    for (size_t s = 0; s < maps.size(); ++s) {
      const double a = static_cast<double>(maps.surface().areas[s]);
      area += a;
      before += a * static_cast<double>(from16(unmelted->at(s)[0]));
      after += a * static_cast<double>(from16(melted->at(s)[0]));
      low = std::min(low, from16(melted->at(s)[0]));
      high = std::max(high, from16(melted->at(s)[0]));
      QCOMPARE(sharp->at(s)[0], maps.surface().positions[s].y() > -1e-4f ? uint16_t{65535} : uint16_t{0});
    }
    QVERIFY(low > 0.05f && high < 0.95f);
    QVERIFY2(std::abs(before - after) < 0.01 * area, qPrintable(QString::number((after - before) / area)));
  }
  void termsAndRampsGoThroughJson() {
    MaskTerm a = termOf(&kCavityMap, 0.2f, 0.9f, 0.3f);
    a.melt = 1.5f;
    a.invert = true;
    a.combine = MaskCombine::Subtract;
    const auto back = maskTermsFrom(toJson(MaskTerms{a, a}));
    QVERIFY(back && *back == (MaskTerms{a, a}));
    const RampStops ramp{{0, {0, 0, 0}, 1}, {0.5f, {1, 0, 0}, 0.5f}, {1, {1, 1, 1}, 0}};
    const auto same = rampFrom(toJson(ramp));
    QVERIFY(same && same->stops == ramp && same->channels == Channel::Color);
    using nlohmann::json;
    for (const json& bad : {json(3), json::array({{{"map", "cavity"}, {"scale", 1}, {"low", "x"}}}),
                            json::array({{{"map", "facing"}, {"combine", "divide"}}})})
      QVERIFY(!maskTermsFrom(bad));
    for (const json& bad :
         {json::array(), json::array({{{"at", 0}}}), json::array({{{"at", 0}, {"color", "red-ish"}}})})
      QVERIFY(!rampFrom(bad));
  }
  void rampTablePassesThroughItsStops() {
    const auto table = rampTable({{0.25f, {0.2f, 0.4f, 0.6f}, 1}, {0.75f, {0.8f, 0.1f, 0.3f}, 0.5f}}, 1025);
    QCOMPARE(table.front(), opaque16({0.2f, 0.4f, 0.6f}));
    QVERIFY(std::abs(int(table[768].a) - 32768) <= 1);
    QVERIFY(std::abs(int(table[768].r) - int(0.4f * 65535)) < 60);
    QCOMPARE(table.back(), table[768]);
  }
  // Darker toward the feet: a ramp over the elevation, in a layer of its own.
  void aRampLayerShowsItsMap() {
    Document d = test::documentOf(test::sphere(24, 5));
    d = withSourceLayer(
        d, "Feet", Stratum::Flesh,
        rampSource({termOf(&kElevationMap, 1, 1, 1)}, {{0, {0, 0, 0}, 1}, {1, {1, 1, 1}, 1}}));
    const ColorField composite = *compositeOf(d.layers, *d.maps, d.bare);
    // from black at the lowest sample to white at the highest, and never darker on the way up
    std::vector<uint32_t> upward(d.surface->size());
    std::iota(upward.begin(), upward.end(), 0u);
    std::ranges::sort(upward, {}, [&](uint32_t s) { return d.surface->positions[s].y(); });
    QCOMPARE(colorAt(composite, upward.front()).r, uint16_t{0});
    QCOMPARE(colorAt(composite, upward.back()).r, uint16_t{65535});
    for (size_t i = 1; i < upward.size(); ++i)
      QVERIFY(colorAt(composite, upward[i]).r + 3 >= colorAt(composite, upward[i - 1]).r);
  }
  void aMapMaskMultipliesThePaintedOne() {
    Document d = test::documentOf(test::sphere(24, 5));
    d = withFillLayer(d, "White", Stratum::Flesh, {1, 1, 1});
    d = *withMaskTerms(d, d.activeLayer, {termOf(&kElevationMap, 0.5f, 1, 0)});
    d.bare = {0, 0, 0};
    const auto below = [&](size_t s) { return d.surface->positions[s].y() < -0.01f; };
    ColorField c = *compositeOf(d.layers, *d.maps, d.bare);
    for (size_t s = 0; s < d.surface->size(); ++s)
      QCOMPARE(colorAt(c, s).r, below(s) ? uint16_t{0} : uint16_t{65535});
    d = *withMaskFilled(*withMask(d, d.activeLayer), d.activeLayer, 0.5f, 1);
    c = *compositeOf(d.layers, *d.maps, d.bare);
    for (size_t s = 0; s < d.surface->size(); ++s)
      QVERIFY(std::abs(int(colorAt(c, s).r) - (below(s) ? 0 : 32768)) <= 2);
  }
  // The tint keeps Oklab lightness and moves toward its hue; full strength moves by its chroma.
  void aTintKeepsLightness() {
    Document d = test::documentOf(test::plane(60, 20));
    d.bare = {0.6f, 0.5f, 0.42f};
    HueZone z = zoneAt({0, 0, 0}, 6);
    z.strength = 1;
    z.softness = 0.5f;
    d = withZones(d, {z});
    const Oklab before = toOklab(decode(d.bare)), push = fromOklch({0, z.tint.chroma, z.tint.hue});
    const ColorField c = *compositeOf(d.layers, *d.maps, d.bare);
    size_t moved = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const float away = d.surface->positions[s].norm();
      const Oklab now = toOklab(decode(straight(colorAt(c, s))));
      QVERIFY(std::abs(now.l - before.l) < 0.004f);
      if (away > 6.05f) QCOMPARE(colorAt(c, s), opaque16(d.bare));
      if (away > 2.9f) continue;
      QVERIFY(std::abs(now.a - before.a - push.a) < 0.002f && std::abs(now.b - before.b - push.b) < 0.002f);
      ++moved;
    }
    QVERIFY(moved > 100);
  }
  // Colours mixed many at a time are those of Oklab one at a time, for push and plain tints that overlap.
  void mixedColoursAreOklabs() {
    ColorChunk below;
    std::mt19937 random(7);
    std::uniform_real_distribution<float> any(0, 1);
    for (size_t i = 0; i < kChunkSize; ++i)
      setSample(below, i, opaque16({any(random), any(random), any(random)}));
    setSample(below, 1, opaque16({0, 0, 0}));
    setSample(below, 2, opaque16({1, 1, 1}));
    const ZoneTint push{false, 20, 0.05f, {}}, plain{true, 0, 0, {0.3f, 0.1f, 0.4f}};
    std::vector<uint32_t> samples;
    std::vector<float> first, second;
    for (uint32_t i = 0; i < kChunkSize; ++i) {
      if (i % 5 == 4) continue;
      samples.push_back(3 * kChunkSize + i);
      first.push_back(i % 3 == 0 ? 0 : any(random));
      second.push_back(any(random));
    }
    ZoneMix mix;
    addZone(mix, push, 0.9f, samples, first);
    addZone(mix, plain, 0.7f, samples, second);
    ColorChunk out;
    mixedColors(mix, below, out);
    const Oklab shift = fromOklch({0, push.chroma, push.hue}), color = toOklab(decode(plain.color));
    for (size_t k = 0; k < samples.size(); ++k) {
      const size_t i = samples[k] % kChunkSize;
      const float v = 0.9f * first[k], w = 0.7f * second[k], alpha = 1 - (1 - v) * (1 - w);
      const Oklab b = toOklab(decode(straight(sampleOf(below, i))));
      const auto mixed = [&](float at, float by, float plainly) {
        return (v * (at + by) + w * plainly) / (v + w);
      };
      const LinearColor c =
          fromOklab({mixed(b.l, 0, color.l), mixed(b.a, shift.a, color.a), mixed(b.b, shift.b, color.b)});
      const auto near = [&](uint16_t found, float linear) {
        return std::abs(from16(found) - std::clamp(encodeSrgb(linear), 0.f, 1.f) * alpha) < 2e-4f;
      };
      const Rgba16 found = sampleOf(out, i);
      QVERIFY(near(found.r, c.r) && near(found.g, c.g) && near(found.b, c.b));
      QVERIFY(std::abs(from16(found.a) - alpha) < 2e-5f);
    }
    for (size_t i = 4; i < kChunkSize; i += 5) QCOMPARE(sampleOf(out, i), Rgba16{});
  }
  void aPlainColourCovers() {
    Document d = test::documentOf(test::plane(40, 20));
    HueZone z = zoneAt({1, 1, 0}, 5);
    z.tint = {true, 0, 0, {0.2f, 0.3f, 0.5f}};
    z.strength = 1;
    z.softness = 0.3f;
    d = withZones(d, {z});
    size_t inside = 0;
    const Rgba16 wanted = opaque16(z.tint.color);
    for (size_t s = 0; s < d.surface->size(); ++s)
      if ((d.surface->positions[s] - z.anchor).norm() < 3) {
        const Rgba16 found = compositeAt(d, s);
        QVERIFY(std::abs(found.r - wanted.r) < 12 && std::abs(found.b - wanted.b) < 12);
        ++inside;
      }
    QVERIFY(inside > 20);
  }
  // Two plates 0.1 apart, a zone on one: nothing at all on the other, melted or not.
  void influenceNeverCrossesAGap() {
    Sculpt upper = test::plane(60, 20), lower = test::plane(60, 20);
    for (Vec3& v : lower.vertices) v.z() -= 0.1f;
    Document d = test::documentOf(test::together(upper, lower));
    for (const float melt : {0.f, 1.5f}) {
      const ZoneInfluencePointer near = influenceOf(*d.maps, zoneAt({0, 0, 0.02f}, 6), melt);
      QVERIFY(near->samples.size() > 500);
      for (const uint32_t s : near->samples) QCOMPARE(d.surface->parts[s], 0u);
    }
    const Document zoned = withZones(d, {zoneAt({0, 0, 0.02f}, 6)}, 1.5f);
    for (size_t s = 0; s < d.surface->size(); s += 7)
      if (d.surface->parts[s] == 1) QCOMPARE(compositeAt(zoned, s), opaque16(d.bare));
  }
  // Melted on a coarser skin as on the samples themselves: edges wide and narrow, smooth and ragged.
  void meltedOnNodesAsOnSamples() {
    SurfaceMaps maps(test::surfaceOf(test::plane(260, 26)));
    for (const float softness : {1.f, 0.1f})
      for (const float breakUp : {0.f, 0.8f})
        for (const float melted : {0.6f, 1.5f}) {
          HueZone z = zoneAt({0.3f, -0.2f, 0}, 8);
          z.softness = softness;
          z.breakUp = breakUp;
          z.grain = 3;
          const ZoneInfluencePointer sharp = influenceOf(maps, z, 0), found = influenceOf(maps, z, melted);
          std::vector<float> wanted(maps.size(), 0.f), at(maps.size(), 0.f);
          for (size_t i = 0; i < sharp->samples.size(); ++i) wanted[sharp->samples[i]] = sharp->values[i];
          for (size_t i = 0; i < found->samples.size(); ++i) at[found->samples[i]] = found->values[i];
          melt(maps.ladder()->graphs.front(), wanted, melted);
          float worst = 0;
          double sum = 0;
          for (size_t i = 0; i < wanted.size(); ++i) {
            worst = std::max(worst, std::abs(wanted[i] - at[i]));
            sum += static_cast<double>(std::abs(wanted[i] - at[i]));
          }
          const double mean = sum / static_cast<double>(found->samples.size());
          qInfo("softness %.1f, break-up %.1f, melted by %.1f: worst %.4f, mean %.5f", double(softness),
                double(breakUp), double(melted), double(worst), mean);
          QVERIFY(worst < 0.04f && mean < 0.003);
        }
  }
  void bothSidesWhenMirrored() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(48, 5)));
    HueZone z = zoneAt({4, 0, 3}, 2);
    const size_t one = influenceOf(maps, z, 0)->samples.size();
    z.mirrored = true;
    const ZoneInfluencePointer both = influenceOf(maps, z, 0);
    QCOMPARE(both->samples.size(), 2 * one);
    double left = 0, right = 0;
    for (size_t i = 0; i < both->samples.size(); ++i)
      (maps.surface().positions[both->samples[i]].x() < 0 ? left : right) +=
          static_cast<double>(both->values[i]);
    QVERIFY(std::abs(left / right - 1) < 1e-3);
  }
  // An anchor in the air, as across a sculpt that is not quite the same on both sides, works from the skin
  // below it: zones small and large, melted or not.
  void anAnchorOffTheSkinWorksFromTheSkinNearest() {
    SurfaceMaps maps(test::surfaceOf(test::plane(200, 40)));
    for (const float reach : {1.5f, 9.f})
      for (const float melted : {0.f, 0.7f}) {
        const Vec3 below = maps.surface().positions[*nearestSample(maps.surface(), {1, 2, 0}, 1)];
        const HueZone on = zoneAt(below, reach), off = zoneAt(below + 0.6f * reach * Vec3::UnitZ(), reach);
        const ZoneInfluencePointer wanted = influenceOf(maps, on, melted),
                                   found = influenceOf(maps, off, melted);
        QVERIFY(!wanted->samples.empty());
        QCOMPARE(found->samples, wanted->samples);
        QCOMPARE(found->values, wanted->values);
      }
  }
  void breakingUpBendsTheEdgeAndMottlesTheInside() {
    SurfaceMaps maps(test::surfaceOf(test::plane(160, 20)));
    HueZone z = zoneAt({0, 0, 0}, 6);
    z.softness = 0.1f;
    z.breakUp = 1;
    z.grain = 1.5f;
    const ZoneInfluencePointer broken = influenceOf(maps, z, 0);
    float nearEdge = 9, farEdge = 0, least = 1, most = 0;
    for (size_t i = 0; i < broken->samples.size(); ++i) {
      const float away = maps.surface().positions[broken->samples[i]].norm(), w = broken->values[i];
      if (w <= 0) nearEdge = std::min(nearEdge, away);
      if (w > 0) farEdge = std::max(farEdge, away);
      if (away < 3) {
        least = std::min(least, w);
        most = std::max(most, w);
      }
    }
    QVERIFY2(nearEdge < 5.5f && farEdge > 6.5f,
             qPrintable(QString("%1 %2").arg(double(nearEdge)).arg(double(farEdge))));
    QVERIFY2(least < 0.5f && most > 0.8f, qPrintable(QString("%1 %2").arg(double(least)).arg(double(most))));
  }
  // Only what a moved zone covered and covers now is worked out again, and the result is the whole one.
  void movingAZoneChangesOnlyItsChunks() {
    Document d = test::documentOf(test::plane(300, 60));
    const HueZone still = zoneAt({-20, -20, 0}, 5);
    d = withZones(d, {still, zoneAt({10, 10, 0}, 3)});
    ColorField composite = *compositeOf(d.layers, *d.maps, d.bare);
    const Document next = *withSource(d, d.activeLayer, zoneSource({{still, zoneAt({13, 10, 0}, 3)}, 0}));
    const size_t samples = d.surface->size();
    const PreparedStack before = *prepared(d.layers, *d.maps), after = *prepared(next.layers, *d.maps);
    const auto chunks = changedChunks(before, after, samples);
    QVERIFY(!chunks.empty() && chunks.size() < composite.chunkCount() / 2);
    updateComposite(composite, after, next.bare, chunks);
    QVERIFY(test::sameValues(composite, *compositeOf(next.layers, *next.maps, next.bare)));
    // another tint moves nothing but colours
    HueZone redder = still;
    redder.tint.chroma = 0.12f;
    const Document tinted = *withSource(d, d.activeLayer, zoneSource({{redder, zoneAt({10, 10, 0}, 3)}, 0}));
    QVERIFY(!changedChunks(before, *prepared(tinted.layers, *d.maps), samples).empty());
    QVERIFY(changedChunks(before, before, samples).empty());
  }
  void orderOfZonesDoesNotMatter() {
    Document d = test::documentOf(test::plane(60, 20));
    HueZone a = zoneAt({-1, 0, 0}, 5), b = zoneAt({2, 0, 0}, 6);
    b.tint.hue = 240;
    const ColorField ab = *compositeOf(withZones(d, {a, b}).layers, *d.maps, d.bare),
                     ba = *compositeOf(withZones(d, {b, a}).layers, *d.maps, d.bare);
    for (size_t s = 0; s < d.surface->size(); ++s)
      QVERIFY(std::abs(colorAt(ab, s).r - colorAt(ba, s).r) <= 2);
  }
  void zonesGoThroughJson() {
    HueZone z = zoneAt({1, 2, 3}, 4);
    z.landmark = "nose";
    HueZone plain = z;
    plain.tint = {true, 25, 0.06f, {0.25f, 0.5f, 0.75f}};
    const ZoneSet set{{z, plain}, 1.5f};
    const auto back = zoneSetFrom(toJson(set));
    QVERIFY(back);
    QVERIFY(*back == set);
    using nlohmann::json;
    for (const json& bad :
         {json(1), json{{"zones", 3}}, json{{"zones", json::array({json::object()})}},
          json{{"zones", json::array({{{"anchor", {0, 0, "x"}}}})}},
          json{{"zones", json::array({{{"anchor", {0, 0, 0}}, {"reach", "far"}}})}},
          json{{"zones", json::array({{{"anchor", {0, 0, 0}}, {"tint", {{"color", "nope"}}}}})}}})
      QVERIFY(!zoneSetFrom(bad));
  }
};

JUVENOR_TEST(TestZones)
}  // namespace juvenor
#include "test_zones.moc"
