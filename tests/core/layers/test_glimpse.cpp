// A glimpse of a pattern on a few chunks: the piece is what the whole surface is there, what is worked out on
// it is what the whole comes to, and around it all stays as it was.
#include <set>

#include "core/document/edits/edits.h"
#include "core/layers/glimpse.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/patterns.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Document withPebbles(float size = 1) {
  Scales scales;
  scales.guides.direction.form = 3;
  scales.guides.size.size = size;
  scales.guides.size.smaller = {test::areaAt(Vec3(0, 0, 10), 6)};
  scales.depth = 0.2f;
  return withSourceLayer(test::documentOf(test::sphere(180, 10)), "Pebbles", Stratum::Surface,
                         scaleSource(scales));
}

SourcePointer sourceOf(const Document& d) {
  return layerOf(d, d.activeLayer)->source;
}

// The last one is not full.
std::vector<uint32_t> someChunks(const Surface& surface) {
  const auto last = static_cast<uint32_t>(chunkCount(surface.size()) - 1);
  return {1, 2, last};
}

ColorField::Pointer colorsIn(const PreparedSource& made, size_t chunk) {
  const auto below = std::make_unique<ColorChunk>();
  return made.colors(chunk, *below);
}

}  // namespace

class TestGlimpse : public QObject {
  Q_OBJECT
 private slots:
  void aPieceIsWhatTheWholeIsThere() {
    const auto whole = test::surfaceOf(test::sphere(180, 10));
    const CutOut cut = cutOut(*whole, someChunks(*whole));
    const Surface& piece = *cut.surface;
    QVERIFY(whole->size() % kChunkSize != 0);
    QCOMPARE(piece.size(), 2 * kChunkSize + whole->size() % kChunkSize);
    std::set<std::pair<size_t, size_t>> joined;
    for (size_t s = 0; s < piece.size(); ++s) {
      const size_t there = cut.wholeSample(s);
      QCOMPARE(piece.positions[s], whole->positions[there]);
      QCOMPARE(piece.normals[s], whole->normals[there]);
      QCOMPARE(piece.areas[s], whole->areas[there]);
      const Box& block = piece.blocks[s / kBlockSize];
      QVERIFY((piece.positions[s].array() >= block.low.array()).all());
      QVERIFY((piece.positions[s].array() <= block.high.array()).all());
      for (const uint32_t n : piece.neighborsOf(s)) {
        const auto around = whole->neighborsOf(there);
        QVERIFY(std::ranges::find(around, cut.wholeSample(n)) != around.end());
        joined.emplace(s, n);
      }
    }
    // what is joined one way is so the other way, and all triangles between samples of the piece are there
    for (const auto& [a, b] : joined) QVERIFY(joined.contains({b, a}));
    const std::set<uint32_t> in(cut.chunks.begin(), cut.chunks.end());
    const auto within = std::ranges::count_if(whole->triangles, [&](const Triangle& t) {
      return std::ranges::all_of(t, [&](uint32_t s) { return in.contains(s / kChunkSize); });
    });
    QCOMPARE(piece.triangles.size(), static_cast<size_t>(within));
    for (const Triangle& t : piece.triangles)
      for (int k = 0; k < 3; ++k) QVERIFY(joined.contains({t[k], t[(k + 1) % 3]}));
  }

  // Sizes, directions and maps are those of the whole surface, areas anchored elsewhere among them.
  void guidesAreThoseOfTheWhole() {
    const Document d = withPebbles();
    const Guides& guides = *sourceOf(d)->guides();
    const auto directions = *directionsOf(*d.maps, guides.direction, Symmetry::Line);
    const auto sizes = *sizesOf(*d.maps, guides.size);
    SurfaceMaps piece(d.maps, cutOut(*d.surface, someChunks(*d.surface)));
    QCOMPARE((*sizesOf(piece, guides.size))->of, cutValues(*piece.cut(), sizes->of));
    QCOMPARE(**directionsOf(piece, guides.direction, Symmetry::Line), cutValues(*piece.cut(), *directions));
    const MapSetting facing{&kFacingMap, 0, Vec3::UnitZ()};
    QCOMPARE(**piece.map(facing), cutValues(*piece.cut(), **d.maps->map(facing)));
    QCOMPARE(piece.reliefStep(), d.maps->reliefStep());
    // some of the piece lies in the area
    QVERIFY(std::ranges::min(sizes->of) < 0.9f * guides.size.size);
  }

  // Cells close to the cut differ; in the middle of a chunk they are where they will be.
  void itShowsWhatWillGrow() {
    const Document d = withPebbles();
    const auto whole = *sourceOf(d)->prepare(*d.maps);
    std::vector<uint32_t> most;
    for (uint32_t c = 0; c + 1 < chunkCount(d.surface->size()); ++c) most.push_back(c);
    Glimpse glimpse(d.maps, most);
    QVERIFY(glimpse.isOf(d.maps, most));
    const auto fresh = glimpse.of(*sourceOf(d));
    QVERIFY(fresh);
    size_t same = 0, all = 0;
    for (const uint32_t c : most) {
      const auto a = fresh->heights(Channel::Relief, c), b = whole->heights(Channel::Relief, c);
      for (size_t i = 0; i < kChunkSize; ++i, ++all)
        same += std::abs(a->plane[0][i] - b->plane[0][i]) * d.maps->reliefStep() < 0.02f;
    }
    const double share = static_cast<double>(same) / static_cast<double>(all);
    QVERIFY2(share > 0.9, qPrintable(QString::number(share)));
  }

  // Spots of a glimpse have reacted less long than they will: they stand where they will stand.
  void spotsStandWhereTheyWill() {
    Spots spots;
    spots.guides.size.size = 1.2f;
    const Document d = withSourceLayer(test::documentOf(test::sphere(180, 10)), "Spots", Stratum::Pigment,
                                       spotSource(spots));
    const auto whole = *sourceOf(d)->prepare(*d.maps);
    std::vector<uint32_t> most;
    for (uint32_t c = 0; c + 1 < chunkCount(d.surface->size()); ++c) most.push_back(c);
    const auto fresh = Glimpse(d.maps, most).of(*sourceOf(d));
    QVERIFY(fresh);
    double ab = 0, aa = 0, bb = 0, a = 0, b = 0, n = 0;
    for (const uint32_t c : most) {
      const auto now = colorsIn(*fresh, c), then = colorsIn(*whole, c);
      for (size_t i = 0; i < kChunkSize; ++i, ++n) {
        const double x = now->plane[3][i], y = then->plane[3][i];
        a += x, b += y, aa += x * x, bb += y * y, ab += x * y;
      }
    }
    const double alike = (ab - a * b / n) / std::sqrt((aa - a * a / n) * (bb - b * b / n));
    QVERIFY2(alike > 0.7, qPrintable(QString::number(alike)));
  }
  void aroundItAllStaysAsItWas() {
    const Document before = withPebbles(), after = withPebbles(1.5f);
    const auto old = *sourceOf(before)->prepare(*before.maps);
    const auto chunks = someChunks(*after.surface);
    const auto fresh = Glimpse(after.maps, chunks).of(*sourceOf(after));
    const auto shown = glimpsed(fresh, chunks, old);
    QVERIFY(shown->thins());
    QCOMPARE(colorsIn(*shown, 0)->plane, colorsIn(*old, 0)->plane);
    for (size_t i = 0; i < chunks.size(); ++i) {
      QCOMPARE(colorsIn(*shown, chunks[i])->plane, colorsIn(*fresh, i)->plane);
      QVERIFY(colorsIn(*shown, chunks[i])->plane != colorsIn(*old, chunks[i])->plane);
    }
    std::vector<char> marks(chunkCount(after.surface->size()), 0), wanted = marks;
    for (const uint32_t c : chunks) wanted[c] = 1;
    QVERIFY(shown->markChanges(Channel::Color, *old, marks));
    QCOMPARE(marks, wanted);
    // the next glimpse, elsewhere: where the last one was all is as before it
    const std::vector<uint32_t> others{0, 2};
    const auto next = glimpsed(Glimpse(after.maps, others).of(*sourceOf(after)), others, shown);
    QCOMPARE(colorsIn(*next, 1)->plane, colorsIn(*old, 1)->plane);
    QVERIFY(next->markChanges(Channel::Color, *shown, marks));
    wanted[0] = 1;
    QCOMPARE(marks, wanted);
    // what has grown at last differs everywhere
    QVERIFY(!(*sourceOf(after)->prepare(*after.maps))->markChanges(Channel::Color, *next, marks));
  }

  // A layer that was not there before shows in the glimpse alone.
  void aFreshLayerShowsInItAlone() {
    const Document d = withPebbles();
    const auto chunks = someChunks(*d.surface);
    const auto shown = glimpsed(Glimpse(d.maps, chunks).of(*sourceOf(d)), chunks, nullptr);
    QVERIFY(colorsIn(*shown, chunks[0]));
    QVERIFY(!colorsIn(*shown, 0));
    QVERIFY(!shown->covers(Channel::Gloss, 0));
    QVERIFY(!shown->heights(Channel::Relief, 0));
  }

  // Not of sculpts that take no time anyway, of what has grown, or of what would be measured first.
  void onlyWhatTakesLongWantsOne() {
    const Document small = withPebbles();
    (void)small.maps->ladder();
    QVERIFY(!wantsGlimpse(*sourceOf(small), *small.maps));
    Scales scales;
    scales.guides.size.size = 2;
    const Document large = withSourceLayer(test::documentOf(test::plane(450, 16)), "Pebbles",
                                           Stratum::Surface, scaleSource(scales));
    QVERIFY(large.surface->size() > kGlimpsedAbove);
    QVERIFY(!wantsGlimpse(*sourceOf(large), *large.maps));
    (void)large.maps->ladder();
    QVERIFY(wantsGlimpse(*sourceOf(large), *large.maps));
    MaskTerm cavity;
    cavity.map = {&kCavityMap, 1};
    const auto byCavity = sourceOf(large)->withTerms({cavity});
    QVERIFY(!wantsGlimpse(*byCavity, *large.maps));
    QVERIFY(large.maps->map(cavity.map));
    QVERIFY(wantsGlimpse(*byCavity, *large.maps));
    QVERIFY(sourceOf(large)->prepare(*large.maps));
    QVERIFY(!wantsGlimpse(*sourceOf(large), *large.maps));
    QVERIFY(!wantsGlimpse(*fillSource(EncodedColor{1, 1, 1}), *large.maps));
  }

  void theMiddleComesFirst() {
    const std::vector<uint32_t> seen{9, 4, 7, 1};
    QCOMPARE(chunksToGlimpse(seen, 3), (std::vector<uint32_t>{4, 7, 9}));
    QCOMPARE(chunksToGlimpse(seen, 9), (std::vector<uint32_t>{1, 4, 7, 9}));
  }
};

JUVENOR_TEST(TestGlimpse)
}  // namespace juvenor
#include "test_glimpse.moc"
