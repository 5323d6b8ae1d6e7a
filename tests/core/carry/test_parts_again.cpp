// Parts that were made here come along to a changed sculpt: by number where its polygons are the same, by
// what lies beneath where not; and one of them goes out alone and comes back.
#include "core/carry/carry_over.h"
#include "core/carry/joined_sculpt.h"
#include "core/carry/part_back.h"
#include "core/document/edits/edit_parts.h"
#include "core/document/edits/edits.h"
#include "core/layers/sources/painted.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A ball whose upper half is "Cap", painted all over; the plane beneath is apart in the file.
Document capped() {
  Document d = test::documentOf(test::together(test::sphere(40, 10), test::plane(12, 40, "Ground")));
  d = withPaintedLayer(d, "Paint", Stratum::Pigment);
  d = *withFilled(d, d.activeLayer, {0.3f, 0.2f, 0.1f}, 1, kNone);
  ScalarField up(d.surface->size(), {0});
  for (size_t c = 0; c < up.chunkCount(); ++c) {
    auto chunk = up.writable(c);
    for (size_t s = c * kChunkSize; s < std::min(up.size(), (c + 1) * kChunkSize); ++s)
      chunk->plane[0][s % kChunkSize] =
          d.surface->parts[s] == 0 && d.surface->positions[s].y() > 0 ? 65535 : 0;
    up.setChunk(c, chunk);
  }
  auto made = withPartWhere(d, up, "Cap");
  if (!made) qFatal("%s", made.error().what.c_str());
  return std::move(*made);
}

CarriedOver carriedOrDie(const Document& d, Sculpt sculpt) {
  auto out = carriedOver(d, std::make_shared<const Sculpt>(std::move(sculpt)));
  if (!out) qFatal("%s", out.error().what.c_str());
  return std::move(*out);
}

const std::vector<std::string> kCapped{"Sphere", "Cap", "Ground"};

}  // namespace

class TestPartsAgain : public QObject {
  Q_OBJECT
 private slots:
  void samePolygonsKeepThemByNumber() {
    Document d = capped();
    QCOMPARE(d.sculpt->parts, kCapped);
    d.hiddenParts = {1};
    Sculpt posed = *importedSculpt(d);
    for (Vec3& v : posed.vertices) v.x() += 0.02f * v.y() * v.y();
    const Document now = carriedOrDie(d, posed).document;
    QCOMPARE(now.sculpt->parts, kCapped);
    QCOMPARE(now.sculpt->polygonPart, d.sculpt->polygonPart);
    QCOMPARE(importedSculpt(now)->parts, (std::vector<std::string>{"Sphere", "Ground"}));
    QCOMPARE(now.hiddenParts, (std::set<uint32_t>{1}));
    for (size_t s = 0; s < now.surface->size(); ++s)
      QVERIFY(colorAt(*now.layers.back()->source->painted(), s).a == 65535);
  }
  void otherPolygonsTakeThoseBeneath() {
    const Document d = capped();
    const Document now = carriedOrDie(d, test::lighter(*importedSculpt(d), 2)).document;
    QCOMPARE(now.sculpt->parts, kCapped);
    const float border = 2 * now.surface->spacing;
    size_t cap = 0;
    for (size_t p = 0; p < now.sculpt->polygonCount(); ++p) {
      Vec3 middle = Vec3::Zero();
      for (const uint32_t v : now.sculpt->polygon(p)) middle += now.sculpt->vertices[v] / 3;
      const uint32_t part = now.sculpt->polygonPart[p];
      cap += part == 1;
      if (part == 2 || std::abs(middle.y()) < border) continue;
      QCOMPARE(part, middle.y() > 0 ? 1u : 0u);
    }
    QVERIFY(cap > now.sculpt->polygonCount() / 5);
  }
  void oneOfThemGoesOutAndComesBack() {
    const Document d = capped();
    Sculpt alone = partsOf(*d.sculpt, {1});
    QCOMPARE(alone.parts, (std::vector<std::string>{"Cap"}));
    for (Vec3& v : alone.vertices) v.y() += 0.1f * v.y();
    const auto back = withPartsBack(d, alone, {});
    QVERIFY2(back, back ? "" : back.error().what.c_str());
    const Document& now = back->document;
    std::vector<std::string> names = now.sculpt->parts;
    std::ranges::sort(names);
    QCOMPARE(names, (std::vector<std::string>{"Cap", "Ground", "Sphere"}));
    QVERIFY(now.surface->bounds.high.y() > 10.9f);
    QCOMPARE(now.sculpt->polygonCount(), d.sculpt->polygonCount());
    QVERIFY(back->report.unknown < 0.01f);
  }
};

JUVENOR_TEST(TestPartsAgain)

}  // namespace juvenor

#include "test_parts_again.moc"
