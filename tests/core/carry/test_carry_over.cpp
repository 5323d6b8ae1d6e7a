// Work carried over to changed sculpts.
#include <QtTest/QtTest>

#include <cmath>

#include "core/carry/carry_over.h"
#include "core/carry/joined_sculpt.h"
#include "core/document/edits/edits.h"
#include "core/layers/guides.h"
#include "core/layers/sources/painted.h"
#include "core/layers/sources/patterns.h"
#include "core/layers/sources/zones.h"
#include "core/surface/build/refine_where.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A smooth field in closed form: colours of a place.
Rgba16 shade(const Vec3& p) {
  const auto wave = [](float v) { return static_cast<uint16_t>(32768 + 30000 * std::sin(v)); };
  return {wave(0.11f * p.x() + 0.3f), wave(0.09f * p.y() - 0.05f * p.x()), wave(0.1f * p.z()), 65535};
}

// All channels painted by place.
ChannelFields paintedBy(const Surface& surface, const std::function<Rgba16(const Vec3&, size_t)>& color) {
  ChannelFields out(surface.size());
  for (size_t c = 0; c < out.color().chunkCount(); ++c) {
    auto colors = out.color().writable(c);
    auto gloss = out.get<Channel::Gloss>().writable(c);
    auto relief = out.get<Channel::Relief>().writable(c);
    for (size_t s = c * kChunkSize; s < std::min(surface.size(), (c + 1) * kChunkSize); ++s) {
      const Rgba16 v = color(surface.positions[s], s);
      setSample(*colors, s % kChunkSize, v);
      gloss->plane[0][s % kChunkSize] = v.g;
      gloss->plane[1][s % kChunkSize] = 65535;
      relief->plane[0][s % kChunkSize] = v.b;
    }
    out.color().setChunk(c, colors);
    out.get<Channel::Gloss>().setChunk(c, gloss);
    out.get<Channel::Relief>().setChunk(c, relief);
  }
  return out;
}

Document withPaint(
    const Document& document, const std::function<Rgba16(const Vec3&, size_t)>& color =
                                  [](const Vec3& p, size_t) { return shade(p); }) {
  return withSourceLayer(document, "Paint", Stratum::Pigment,
                         paintedSource(paintedBy(*document.surface, color)));
}

const ChannelFields& paintOf(const Document& document) {
  return *document.layers.back()->source->fields();
}

// The root of the mean square of what differs from the closed form, of 65535.
double errorOf(const Document& document) {
  double sum = 0;
  for (size_t s = 0; s < document.surface->size(); ++s) {
    const Rgba16 now = colorAt(paintOf(document).color(), s), is = shade(document.surface->positions[s]);
    for (const int d : {now.r - is.r, now.g - is.g, now.b - is.b}) sum += static_cast<double>(d) * d / 3;
  }
  return std::sqrt(sum / static_cast<double>(document.surface->size()));
}

std::shared_ptr<const Sculpt> shared(Sculpt sculpt) {
  return std::make_shared<const Sculpt>(std::move(sculpt));
}

CarriedOver carried(const Document& old, Sculpt sculpt, const CarrySetting& setting = {}) {
  auto out = carriedOver(old, shared(std::move(sculpt)), setting);
  if (!out) qFatal("%s", out.error().what.c_str());
  return std::move(*out);
}

// The upper half of a sculpt bent by an angle around an axis through its middle, more the higher up.
Sculpt bent(Sculpt sculpt, float degrees, float height) {
  for (Vec3& p : sculpt.vertices) {
    const float t = std::clamp(p.y() / height, 0.f, 1.f), angle = degrees * t / 57.29578f;
    p = Eigen::AngleAxisf(angle, Vec3::UnitX()) * p;
  }
  sculpt.normals.clear();
  return sculpt;
}

Sculpt movedBy(Sculpt sculpt, const std::function<Vec3(const Vec3&)>& move) {
  for (Vec3& p : sculpt.vertices) p = move(p);
  return sculpt;
}

Sculpt named(Sculpt sculpt, const std::string& part) {
  sculpt.parts = {part};
  return sculpt;
}

}  // namespace

class TestCarryOver : public QObject {
  Q_OBJECT
 private slots:
  // the same polygons: by number, to the bit, there and back
  void aPoseTakesAllPaintAlong() {
    const Sculpt rest = test::box(40, {30, 80, 30});
    Document old = withPaint(test::documentOf(rest));
    old = *withMask(old, old.layers.back()->id);
    old = *withMeltedMask(*withInvertedMask(old, old.layers.back()->id), old.layers.back()->id, 2);
    old = *withLandmark(old, "crown", old.surface->positions[old.surface->sampleOfVertex[5]]);
    const CarriedOver there = carried(old, bent(rest, 60, 40));
    QVERIFY(there.report.samePolygons);
    QVERIFY(there.report.lay);
    QCOMPARE(there.report.sure, 1.f);
    const Document& posed = there.document;
    for (size_t v = 0; v < rest.vertices.size(); ++v) {
      const uint32_t was = old.surface->sampleOfVertex[v], is = posed.surface->sampleOfVertex[v];
      QVERIFY(colorAt(paintOf(old).color(), was) == colorAt(paintOf(posed).color(), is));
      QVERIFY(old.layers.back()->mask->at(was) == posed.layers.back()->mask->at(is));
    }
    QVERIFY((posed.landmarks.front().position - posed.surface->positions[posed.surface->sampleOfVertex[5]])
                .norm() < 1e-4f);
    const CarriedOver back = carried(posed, rest);
    QVERIFY(test::difference(*old.sculpt, *back.document.sculpt).empty());
    QVERIFY(test::sameValues(paintOf(old), paintOf(back.document)));
    QVERIFY(test::sameValues(*old.layers.back()->mask, *back.document.layers.back()->mask));
  }
  // points that were added are added there again, and hold what they held
  void addedPointsGoAlong() {
    const Sculpt rest = test::box(16, {30, 80, 30});
    const Document old = withPaint(*withRefinement(test::documentOf(rest), {2, RefineShape::Flat, 40}));
    QVERIFY(old.surface->size() > 2 * rest.vertices.size());
    const CarriedOver there = carried(old, bent(rest, 60, 40));
    QCOMPARE(there.document.refinements.size(), size_t{1});
    QVERIFY(there.document.surface->size() > 2 * rest.vertices.size());
    const CarriedOver back = carried(there.document, rest);
    QVERIFY2(errorOf(back.document) < 0.01 * 65535, qPrintable(QString::number(errorOf(back.document))));
    QVERIFY(back.report.unknown < 0.001f);
  }
  // other polygons: half the distance of points, a quarter of the error
  // those that were added in places alone are added there again, whatever the numbers of points are now
  void pointsAddedInPlacesGoAlong_data() {
    QTest::addColumn<bool>("same");
    QTest::newRow("the same polygons, posed") << true;
    QTest::newRow("other polygons") << false;
  }
  void pointsAddedInPlacesGoAlong() {
    QFETCH(const bool, same);
    Document old = test::documentOf(test::sphere(60, 50));
    const auto near = [](const Surface& s, const Vec3& place) {
      return [&s, place](size_t i) { return (s.positions[i] - place).norm() < 12; };
    };
    const Vec3 place(0, 0, 50);
    const std::vector<uint32_t> where = rangesWhere(old.surface->size(), near(*old.surface, place));
    old = withPaint(*withRefinement(old, {0.5f, RefineShape::Round, 40, where}));
    const auto move = [&](const Vec3& p) { return same ? Vec3(p + Vec3(0, 0.1f * p.x(), 0)) : p; };
    const CarriedOver there = carried(old, movedBy(test::sphere(same ? 60 : 70, 50), move));
    QCOMPARE(there.report.samePolygons, same);
    const auto count = [&](const Document& d, const Vec3& at) {
      size_t out = 0;
      for (size_t s = 0; s < d.surface->size(); ++s) out += near(*d.surface, at)(s);
      return static_cast<double>(out);
    };
    const double was = count(old, place), is = count(there.document, move(place));
    QVERIFY2(was > 1000 && std::abs(is - was) < 0.35 * was,
             qPrintable(QString("%1, then %2").arg(was).arg(is)));
    // not all over
    QVERIFY(static_cast<double>(there.document.surface->size()) <
            1.8 * static_cast<double>(old.surface->size()));
    QCOMPARE(there.document.refinements.size(), size_t{1});
    QVERIFY(!there.document.refinements[0].where.empty());
  }
  void errorsFallWithTheSquareOfTheSpacing() {
    double before = 0;
    for (const int rings : {40, 80, 160}) {
      const Document old = withPaint(test::documentOf(test::sphere(rings, 50)));
      const CarriedOver there = carried(old, test::sphere(rings * 3 / 2 / 2 * 2 + 2, 50));
      QVERIFY(!there.report.samePolygons);
      const double error = errorOf(there.document);
      QVERIFY2(before == 0 || error < 0.32 * before,
               qPrintable(QString("%1 after %2").arg(error).arg(before)));
      before = error;
    }
    QVERIFY2(before < 60, qPrintable(QString::number(before)));
  }
  // a third and a twentieth of the triangles: means over what each point stands for, no noise
  void coarserSkinHoldsMeans() {
    const Sculpt ring = test::torus(160, 40, 15);
    const Document old = withPaint(test::documentOf(ring));
    for (const size_t times : {size_t{3}, size_t{20}}) {
      const CarriedOver there = carried(old, test::lighter(ring, times));
      QVERIFY2(errorOf(there.document) < 900, qPrintable(QString::number(errorOf(there.document))));
      QVERIFY(there.report.unknown < 0.002f);
    }
    // salt and pepper comes to its middle where points stand for many
    const Document noisy = withPaint(test::documentOf(ring), [](const Vec3&, size_t s) {
      return s * 2654435761u % 4096 < 2048 ? Rgba16{0, 0, 0, 65535} : Rgba16{65535, 65535, 65535, 65535};
    });
    const CarriedOver coarse = carried(noisy, test::lighter(ring, 30));
    double squares = 0;
    for (size_t s = 0; s < coarse.document.surface->size(); ++s) {
      const double off = colorAt(paintOf(coarse.document).color(), s).r / 65535.0 - 0.5;
      squares += off * off;
    }
    const double deviation = std::sqrt(squares / static_cast<double>(coarse.document.surface->size()));
    QVERIFY2(deviation < 0.25, qPrintable(QString::number(deviation)));
  }
  // two sheets half a millimetre apart, of one part, back to back and face to face: not one point crosses
  void sheetsNeverTradePaint() {
    for (const bool backToBack : {true, false}) {
      const auto pair = [&](int cells) {
        const Sculpt front = test::plane(cells, 40, "Fin");
        Sculpt behind = backToBack ? test::insideOut(test::plane(cells + 2, 40, "Fin")) : front;
        behind = movedBy(behind, [](const Vec3& p) { return Vec3(p - Vec3(0, 0, 0.5f)); });
        Sculpt both = test::together(front, behind);
        both.parts = {"Fin"};
        std::ranges::fill(both.polygonPart, 0u);
        // a fin is no plane
        return movedBy(both, [](const Vec3& p) {
          return Vec3(p.x(), p.y(), p.z() + 3 * std::sin(0.15f * p.x()) * std::cos(0.1f * p.y()));
        });
      };
      const Sculpt before = pair(60);
      const auto isFront = [](const Vec3& p) {
        return p.z() - 3 * std::sin(0.15f * p.x()) * std::cos(0.1f * p.y()) > -0.25f;
      };
      const Document old = withPaint(test::documentOf(before), [&](const Vec3& p, size_t) {
        return isFront(p) ? Rgba16{65535, 0, 0, 65535} : Rgba16{0, 0, 65535, 65535};
      });
      const CarriedOver there = carried(old, pair(37));
      size_t crossed = 0;
      for (size_t s = 0; s < there.document.surface->size(); ++s) {
        const Rgba16 now = colorAt(paintOf(there.document).color(), s);
        const bool front = isFront(there.document.surface->positions[s]);
        if ((front && now.b > 0) || (!front && now.r > 0)) ++crossed;
      }
      QCOMPARE(crossed, size_t{0});
    }
  }
  void partsAreFoundAndNothingIsLost() {
    const Sculpt head = named(test::sphere(40, 30), "Head"),
                 left = named(test::sphere(20, 6, {12, 8, 28}), "eye left"),
                 right = named(test::sphere(20, 6, {-12, 8, 28}), "eye right");
    const Document old = withPaint(test::documentOf(test::together(test::together(head, left), right)),
                                   [](const Vec3& p, size_t) {
                                     return p.z() > 22 && p.x() > 6 ? Rgba16{0, 65535, 0, 65535} : shade(p);
                                   });
    // the head is called otherwise, the left eye is gone, a hat has come
    const Sculpt now = test::together(test::together(named(test::sphere(46, 30), "body"),
                                                     named(test::sphere(22, 6, {-12, 8, 28}), "EYE RIGHT")),
                                      named(test::sphere(20, 9, {0, 41, 0}), "hat"));
    const CarriedOver there = carried(old, now);
    QCOMPARE(there.report.parts.size(), size_t{4});
    QCOMPARE(there.report.parts[0].from, (std::vector<std::string>{"Head"}));
    QCOMPARE(there.report.parts[1].from, (std::vector<std::string>{"eye right"}));
    QVERIFY(there.report.parts[2].from.empty());
    QCOMPARE(there.report.parts[3].name, std::string("eye left"));
    QVERIFY(there.report.parts[3].samePolygons);
    QCOMPARE(there.report.lost, (std::vector<std::string>{"eye left"}));
    QCOMPARE(there.document.hiddenParts, (std::set<uint32_t>{3}));
    const Document& d = there.document;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const Rgba16 color = colorAt(paintOf(d).color(), s);
      if (d.surface->parts[s] == 2) {
        QCOMPARE(color.a, uint16_t{0});
        QCOMPARE(d.doubt->at(s)[0], uint16_t{65535});
      }
      if (d.surface->parts[s] == 1) QVERIFY(color.a == 65535 && color.g < 65535);
    }
    // the vertices of the new sculpt keep their order
    for (size_t v = 0; v < now.vertices.size(); ++v) QVERIFY(d.sculpt->vertices[v] == now.vertices[v]);
    CarrySetting forget;
    forget.keepLost = false;
    QCOMPARE(carried(old, now, forget).document.sculpt->parts.size(), size_t{3});
    // by hand: the hat takes the skin of the left eye
    CarrySetting byHand;
    byHand.parts = {{2, {1}}};
    const CarriedOver worn = carried(old, now, byHand);
    QVERIFY(worn.report.lost.empty());
    QCOMPARE(worn.report.parts[2].from, (std::vector<std::string>{"eye left"}));
  }
  // a changed mouth takes its old self's place; all else is as it was, to the bit
  void onePartComesBack() {
    const Sculpt head = named(test::sphere(40, 30), "head"),
                 mouth = named(test::sphere(20, 8, {0, -10, 27}), "mouth"),
                 shaped = named(test::sphere(26, 8.3f, {0, -10, 27}), "mouth");
    const Document old = withPaint(test::documentOf(test::together(mouth, head)));
    const Sculpt now = joinedSculpt(*old.sculpt, {0}, shaped, {0}, nullptr);
    QCOMPARE(now.parts, (std::vector<std::string>{"head", "mouth"}));
    const CarriedOver there = carried(old, now);
    QVERIFY(there.report.lost.empty());
    QVERIFY(there.report.parts[0].samePolygons && !there.report.parts[1].samePolygons);
    for (size_t v = 0; v < head.vertices.size(); ++v)
      QVERIFY(colorAt(paintOf(there.document).color(), there.document.surface->sampleOfVertex[v]) ==
              colorAt(paintOf(old).color(), old.surface->sampleOfVertex[mouth.vertices.size() + v]));
    QVERIFY(errorOf(there.document) < 1500);
    // and it goes out alone
    QCOMPARE(partsOf(*there.document.sculpt, {1}).vertices.size(), shaped.vertices.size());
    QVERIFY(test::difference(partsOf(now, {1}), shaped).empty());
  }
  // what lies on the skin goes where its skin has gone
  void placesGoAlong() {
    const Sculpt ball = test::sphere(60, 50);
    Document old = test::documentOf(ball);
    const Vec3 on = 50 * Vec3(0.6f, 0.3f, 0.74f).normalized();
    ZoneSet zones;
    zones.zones = {test::areaAt(on, 12)};
    old = withSourceLayer(old, "Zones", Stratum::Flesh, zoneSource(zones));
    Scales scales;
    scales.guides = usualGuides(100);
    scales.guides.direction.combs = {{{on, on + Vec3(0, 2, 0)}, 0, 9, 1, {}}};
    scales.guides.cells = {{CellTouch::Kind::Lose, on, 0, {}, 1}};
    old = withSourceLayer(old, "Scales", Stratum::Surface, scaleSource(scales));
    old = *withLandmark(old, "nose", on);
    // turned, moved, in metres, with other polygons
    const Eigen::Matrix3f turn = Eigen::AngleAxisf(0.5f, Vec3(1, 1, 0).normalized()).toRotationMatrix();
    const auto move = [&](const Vec3& p) { return Vec3(0.001f * (turn * p) + Vec3(0.2f, 0, 0.1f)); };
    CarrySetting pinned;  // a ball looks the same from everywhere
    for (const Vec3& p : {Vec3(50, 0, 0), Vec3(0, 50, 0), Vec3(0, 0, 50), Vec3(-50, 0, 0)})
      pinned.pins.push_back({"", p, move(p)});
    const CarriedOver there = carried(old, movedBy(test::sphere(70, 50), move), pinned);
    const Document& d = there.document;
    const Vec3 now = move(on);
    const float near = 0.0005f;
    QVERIFY2((d.landmarks.front().position - now).norm() < near,
             qPrintable(QString::number((d.landmarks.front().position - now).norm())));
    const HueZone& zone = d.layers[0]->source->zones()->zones.front();
    QVERIFY((zone.anchor - now).norm() < near);
    QVERIFY(std::abs(zone.reach - 0.012f) < 1e-5f);
    const Guides& guides = *d.layers[1]->source->guides();
    QVERIFY((guides.direction.combs.front().places[0] - now).norm() < near);
    QVERIFY(std::abs(guides.direction.combs.front().width - 0.009f) < 1e-5f);
    QVERIFY((guides.cells.front().place - now).norm() < near);
    QVERIFY(std::abs(guides.size.size - 0.001f * scales.guides.size.size) < 1e-5f);
    QVERIFY((guides.direction.flow - turn * scales.guides.direction.flow).norm() < 1e-3f);
    QVERIFY(std::abs(d.placement.millimetres - 1000 * old.placement.millimetres) < 1);
    QVERIFY(std::abs(d.reliefStep - 0.001f * old.reliefStep) < 1e-9f);
  }
  // a horn that grew has no source: it is filled from around, and doubted
  void whatHasNoSourceIsFilledAndTold() {
    const Sculpt ball = test::sphere(60, 50);
    const Document old = withPaint(test::documentOf(ball), [](const Vec3&, size_t) {
      return Rgba16{40000, 20000, 10000, 65535};
    });
    const Sculpt horned = movedBy(test::sphere(80, 50), [](const Vec3& p) {
      const float t = std::max(0.f, p.normalized().y() - 0.93f) / 0.07f;
      return Vec3(p + Vec3(0, 60 * t, 0));
    });
    const CarriedOver there = carried(old, horned);
    QVERIFY(there.report.unknown > 0.001f);
    QVERIFY(there.report.sure > 0.8f);
    QVERIFY(std::abs(there.report.sure + there.report.doubtful + there.report.unknown - 1) < 1e-3f);
    const Document& d = there.document;
    MapSetting doubt;
    doubt.kind = &kDoubtMap;
    const MapPointer map = *d.maps->map(doubt);
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const Rgba16 c = colorAt(paintOf(d).color(), s);
      QVERIFY2(std::abs(c.r - 40000) < 40 && c.a > 65400, qPrintable(QString::number(c.r)));
      QCOMPARE((*map)[s], d.doubt->at(s)[0]);
    }
    const auto tip = std::ranges::max_element(d.surface->positions, {}, [](const Vec3& p) { return p.y(); });
    QCOMPARE((*map)[static_cast<size_t>(tip - d.surface->positions.begin())], uint16_t{65535});
    // one can paint through it
    MaskTerm term;
    term.map = doubt;
    const auto guarded = withMaskFromMaps(d, kGuard, {term});
    QVERIFY(guarded && guarded->guard);
  }
  void whatDoesNotFitIsRefused() {
    const Document old = withPaint(test::documentOf(test::sphere(40, 50)));
    const auto refused = [&](Sculpt sculpt, const CarrySetting& setting = {}) {
      const auto out = carriedOver(old, shared(std::move(sculpt)), setting);
      return !out && !out.error().what.empty();
    };
    QVERIFY(refused(test::plane(30, 4000)));
    CarrySetting line;
    for (const float x : {0.f, 1.f, 2.f}) line.pins.push_back({"", {x, 0, 0}, {x, 0, 0}});
    QVERIFY(refused(test::sphere(50, 50), line));
    line.pins = {{"", {0, 0, 0}, {1, 0, 0}}, {"", {5, 0, 0}, {1, 0, 0}}};
    QVERIFY(refused(test::sphere(50, 50), line));
    line.pins = {{"", Vec3::Constant(NAN), {1, 0, 0}}};
    QVERIFY(refused(test::sphere(50, 50), line));
    CarrySetting parts;
    parts.parts = {{0, {7}}};
    QVERIFY(refused(test::sphere(50, 50), parts));
    // turned inside out nothing looks the same way
    QVERIFY(refused(test::insideOut(test::sphere(50, 50))));
    // a mirror image of what is its own mirror image is no trouble, nor is soup, nor a folded plane
    const CarriedOver soup = carried(old, test::soup(test::sphere(44, 50)));
    QVERIFY(errorOf(soup.document) < 400);
    const Document sheet = withPaint(test::documentOf(test::plane(40, 100)));
    (void)carriedOver(sheet, shared(movedBy(test::plane(40, 100),
                                            [](const Vec3& p) { return Vec3(std::abs(p.x()), p.y(), 0); })));
    (void)carriedOver(sheet, shared(movedBy(test::plane(44, 100),
                                            [](const Vec3& p) { return Vec3(std::abs(p.x()), p.y(), 0); })));
  }
  void stoppingLeavesNothing() {
    const Document old = withPaint(test::documentOf(test::sphere(60, 50)));
    for (const float at : {0.01f, 0.5f, 0.7f, 0.79f}) {
      const auto out = carriedOver(old, shared(test::sphere(70, 50)), {}, [&](float f) { return f < at; });
      QVERIFY(!out);
      QVERIFY(isCancelled(out.error()));
    }
  }
};

JUVENOR_TEST(TestCarryOver)

}  // namespace juvenor

#include "test_carry_over.moc"
