// The keeper's colours on other meshes of his head: a third of the triangles, other polygons, and back again.
#include "core/carry/carry_over.h"
#include "core/color/lab.h"
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/painted.h"
#include "core/layers/sources/zones.h"
#include "demo/demo.h"
#include "demo/keeper.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Document carriedTo(const Document& old, Sculpt sculpt) {
  auto out = carriedOver(old, std::make_shared<const Sculpt>(std::move(sculpt)));
  if (!out) qFatal("%s", out.error().what.c_str());
  return std::move(out->document);
}

// What the keeper's layers come to, as one painted layer: patterns would grow anew on other points. His
// finest detail spans two points: what was as fine as a point would have no place on a third of them.
const Document& paintedKeeper() {
  static const Document made = [] {
    const auto sculpt = std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::Keeper, 20'000));
    const Document dressed = *demo::dressed(demo::Figure::Keeper, sculpt, *buildSurface(*sculpt));
    ColorField skin = skinOf(dressed.layers, *dressed.maps, dressed.bare)->color();
    const Document bare = newDocument(sculpt, *buildSurface(*sculpt), dressed.placement);
    return carriedTo(withSourceLayer(bare, "Skin", Stratum::Pigment, paintedSource(std::move(skin))),
                     *demo::makeSculpt(demo::Figure::Keeper, 80'000));
  }();
  return made;
}

struct CarriedOff {
  double mean = 0, worstOfHundred = 0;  ///< ΔE2000: of all, and what 99 of 100 keep
};

// What points of one document hold, against what the other's skin shows at their places.
CarriedOff carriedOff(const Document& now, const Document& truth) {
  const auto rays = *truth.maps->rays();
  const ColorField &is = *now.layers.back()->source->painted(),
                   &was = *truth.layers.back()->source->painted();
  std::vector<float> all;
  for (size_t s = 0; s < now.surface->size(); ++s) {
    const auto hit = rays->nearestAlike(now.surface->positions[s], truth.surface->bounds.diagonal(),
                                        {now.surface->normals[s], 0.3f});
    if (!hit) continue;
    const Triangle& t = truth.surface->triangles[hit->triangle];
    const float weight[] = {1 - hit->u - hit->v, hit->u, hit->v};
    EncodedColor there{0, 0, 0};
    for (size_t k = 0; k < 3; ++k) {
      const EncodedColor c = straight(colorAt(was, t[k]));
      there.r += weight[k] * c.r;
      there.g += weight[k] * c.g;
      there.b += weight[k] * c.b;
    }
    all.push_back(static_cast<float>(deltaE2000(toLab(straight(colorAt(is, s))), toLab(there))));
  }
  CarriedOff out;
  for (const float d : all) out.mean += static_cast<double>(d) / static_cast<double>(all.size());
  std::ranges::sort(all);
  out.worstOfHundred = static_cast<double>(all[all.size() * 99 / 100]);
  return out;
}

}  // namespace

class TestCarriedKeeper : public QObject {
  Q_OBJECT
 private slots:
  void hisColoursComeAlong_data() {
    QTest::addColumn<bool>("lighter");
    QTest::newRow("a third of the triangles") << true;
    QTest::newRow("other polygons") << false;
  }
  void hisColoursComeAlong() {
    QFETCH(const bool, lighter);
    const Document& old = paintedKeeper();
    const Document there = carriedTo(
        old, lighter ? test::lighter(*old.sculpt, 3) : *demo::makeSculpt(demo::Figure::Keeper, 100'000));
    const CarriedOff once = carriedOff(there, old);
    const auto told = [](const CarriedOff& d) {
      return QString("ΔE2000 mean %1, 99 of 100 below %2").arg(d.mean).arg(d.worstOfHundred);
    };
    QVERIFY2(once.mean < 0.7 && once.worstOfHundred < 3, qPrintable(told(once)));
    const CarriedOff back = carriedOff(carriedTo(there, *old.sculpt), old);
    QVERIFY2(back.mean < 1, qPrintable(told(back)));
    qInfo("%s; and back: %s", qUtf8Printable(told(once)), qUtf8Printable(told(back)));
  }
};

namespace {

// What the pins of a head of other proportions are put on: the older head, wider, shorter and deeper.
Vec3 otherPlace(const Vec3& place) {
  return demo::olderPlace(place).cwiseProduct(Vec3(1.16f, 0.9f, 1.08f));
}
Vec3 backFrom(const Vec3& place) {
  return demo::youngerPlace(place.cwiseQuotient(Vec3(1.16f, 0.9f, 1.08f)));
}

bool isLip(const Vec3& place) {
  return demo::keeper::redOfLips(Vec3(std::abs(place.x()), place.y(), place.z())) > 0.5f;
}

// The keeper with his zones and landmarks, and red on his lips.
Document markedKeeper() {
  const auto sculpt = std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::Keeper, 40'000));
  Document d = newDocument(sculpt, *buildSurface(*sculpt));
  const auto rays = *d.maps->rays();
  const auto onSkin = [&](const Vec3& place) { return rays->nearest(place, 50)->position; };
  for (const Landmark& l : demo::landmarksOf(demo::Figure::Keeper))
    d = *withLandmark(d, l.key, onSkin(l.position));
  ZoneSet zones;
  for (const auto& [anchor, reach] : std::initializer_list<std::pair<Vec3, float>>{{{0, 30, 104}, 16},
                                                                                   {{44, 32, 66}, 26},
                                                                                   {{0, 110, 78}, 40},
                                                                                   {{30, 52, 76}, 12},
                                                                                   {{0, -40, 84}, 22}})
    zones.zones.push_back(test::areaAt(onSkin(anchor), reach));
  d = withSourceLayer(d, "Zones", Stratum::Flesh, zoneSource(zones));
  ColorField red(d.surface->size());
  red.makeRoom();
  for (size_t c = 0; c < red.chunkCount(); ++c) {
    auto chunk = red.writable(c);
    for (size_t s = c * kChunkSize; s < std::min(red.size(), (c + 1) * kChunkSize); ++s)
      if (isLip(d.surface->positions[s])) setSample(*chunk, s % kChunkSize, {60000, 10000, 12000, 65535});
    red.setChunk(c, chunk);
  }
  return withSourceLayer(d, "Lips", Stratum::Pigment, paintedSource(std::move(red)));
}

}  // namespace

class TestOtherProportions : public QObject {
  Q_OBJECT
 private slots:
  void twelvePinsAreEnough() {
    const Document old = markedKeeper();
    Sculpt other = *demo::makeSculpt(demo::Figure::OlderKeeper, 50'000);
    for (Vec3& v : other.vertices) v = v.cwiseProduct(Vec3(1.16f, 0.9f, 1.08f));
    CarrySetting setting;
    float without = 0;
    for (const Landmark& l : old.landmarks) {
      setting.pins.push_back({l.key, l.position, otherPlace(l.position)});
      without = std::max(without, (otherPlace(l.position) - l.position).norm());
    }
    QCOMPARE(setting.pins.size(), size_t{12});
    // else there is nothing to be found
    QVERIFY(without > 12);
    const auto carried = carriedOver(old, std::make_shared<const Sculpt>(std::move(other)), setting);
    QVERIFY2(carried, carried ? "" : carried.error().what.c_str());
    const Document& now = carried->document;
    for (size_t i = 0; i < old.landmarks.size(); ++i) {
      const float off = (now.landmarks[i].position - otherPlace(old.landmarks[i].position)).norm();
      QVERIFY2(off < 5, qPrintable(QString("%1 by %2 mm").arg(now.landmarks[i].key.c_str()).arg(off)));
    }
    const auto& was = old.layers[0]->source->zones()->zones;
    const auto& is = now.layers[0]->source->zones()->zones;
    QCOMPARE(is.size(), was.size());
    for (size_t i = 0; i < was.size(); ++i) {
      const float off = (is[i].anchor - otherPlace(was[i].anchor)).norm();
      QVERIFY2(off < 5, qPrintable(QString("zone %1 by %2 mm").arg(i).arg(off)));
    }
    // lips' paint lies on lips: by area, what is red without being lip, and lip that is not red
    const ColorField& red = *now.layers[1]->source->painted();
    double lip = 0, beside = 0, bare = 0;
    for (size_t s = 0; s < red.size(); ++s) {
      const bool lipHere = isLip(backFrom(now.surface->positions[s])), redHere = colorAt(red, s).a > 32768;
      const auto area = static_cast<double>(now.surface->areas[s]);
      lip += lipHere ? area : 0;
      beside += redHere && !lipHere ? area : 0;
      bare += lipHere && !redHere ? area : 0;
    }
    qInfo("of %.0f mm2 of lip %.1f %% bare, %.1f %% beside", lip, 100 * bare / lip, 100 * beside / lip);
    QVERIFY(lip > 500);
    QVERIFY2(bare < 0.15 * lip && beside < 0.15 * lip,
             qPrintable(QString("bare %1, beside %2 of %3").arg(bare).arg(beside).arg(lip)));
  }
};

JUVENOR_TEST(TestCarriedKeeper)
JUVENOR_TEST(TestOtherProportions)

}  // namespace juvenor

#include "test_carried_keeper.moc"
