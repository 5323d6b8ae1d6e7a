// What markings are put together from: bins of balls, signatures, chunks that are worked out once; and that
// markings belong to the skin, however the sculpt stands and whatever its unit is.
#include <atomic>
#include <thread>

#include "core/document/edits/edits.h"
#include "core/layers/sources/markings.h"
#include "core/layers/sources/prepared_marking.h"
#include "core/seeded.h"
#include "core/surface/build/placement.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

std::vector<ChunkBins::Ball> ballsAround(const Surface& surface, size_t count, float widest) {
  Draws draws(4);
  std::vector<ChunkBins::Ball> out;
  for (size_t i = 0; i < count; ++i) {
    const auto sample = static_cast<size_t>(draws.unit() * static_cast<float>(surface.size()));
    const float x = draws.around(), y = draws.around(), z = draws.around();
    out.push_back({surface.positions[sample] + widest * Vec3(x, y, z), widest * draws.unit()});
  }
  return out;
}

// Counts how often each chunk was worked out.
class Counted final : public PreparedMarking {
 public:
  explicit Counted(std::vector<uint64_t> signatures)
      : PreparedMarking(Channel::Color, signatures), times_(signatures.size()) {}
  int times(size_t chunk) const { return times_[chunk]; }

 private:
  Worked worked(size_t index) const override {
    ++times_[index];
    std::this_thread::sleep_for(std::chrono::milliseconds(5));
    return {.color = std::make_shared<ColorChunk>()};
  }
  mutable std::vector<std::atomic<int>> times_;
};

// What a source brings to each sample: premultiplied colours.
std::vector<Rgba16> broughtBy(const LayerSource& source, SurfaceMaps& maps) {
  const auto made = *source.prepare(maps);
  std::vector<Rgba16> out(maps.size());
  const auto below = std::make_unique<ColorChunk>();
  for (size_t c = 0; c < chunkCount(maps.size()); ++c)
    if (const auto chunk = made->colors(c, *below))
      for (size_t s = c * kChunkSize; s < std::min(maps.size(), (c + 1) * kChunkSize); ++s)
        out[s] = {chunk->plane[0][s % kChunkSize], chunk->plane[1][s % kChunkSize],
                  chunk->plane[2][s % kChunkSize], chunk->plane[3][s % kChunkSize]};
  return out;
}

double meanAlphaApart(const std::vector<Rgba16>& a, const std::vector<Rgba16>& b) {
  double apart = 0, all = 0;
  for (size_t s = 0; s < a.size(); ++s) {
    apart += std::abs(a[s].a - b[s].a);
    all += a[s].a;
  }
  return apart / all;
}

// Markings of one kind in a sculpt `unit` times as large.
SourcePointer marking(const std::string& kind, float unit) {
  if (kind == "speckle") {
    Speckle s;
    s.smallest = 0.4f * unit;
    s.largest = 1.2f * unit;
    s.cover = 0.2f;
    s.gather = {test::areaAt({0, 0, 10 * unit}, 8 * unit)};
    s.everywhere = 0.3f;
    return speckleSource(s);
  }
  if (kind == "mottle") {
    Mottle m;
    m.tones = {{{0.6f, 0.2f, 0.2f}, 0}, {{0.6f, 0.5f, 0.2f}, 0.7f}};
    m.size = 5 * unit;
    m.fine = 1.5f * unit;
    m.crease = 3 * unit;
    m.marbling = 0.5f;
    return mottleSource(m);
  }
  Veins v;
  v.roots = {test::areaAt({0, 0, 10 * unit}, 14 * unit)};
  v.fan = 1;
  v.width = 0.8f * unit;
  v.finest = 0.3f * unit;
  v.spacing = 3 * unit;
  v.depth = 0.2f * unit;
  return veinSource(v);
}

void kinds() {
  QTest::addColumn<QString>("kind");
  for (const char* kind : {"speckle", "mottle", "veins"}) QTest::newRow(kind) << kind;
}

}  // namespace

class TestMarkingPieces : public QObject {
  Q_OBJECT
 private slots:
  // Every sample within a ball is found through the bins, and no ball is in a bin it cannot reach.
  void binsHoldWhatTouchesThem() {
    const auto surface = test::surfaceOf(test::torus(90, 20, 6));
    const auto balls = ballsAround(*surface, 400, 3);
    const ChunkBins bins(*surface, balls);
    size_t inside = 0;
    for (size_t c = 0; c < chunkCount(surface->size()); ++c) {
      const auto mine = bins.of(c);
      QVERIFY(std::ranges::is_sorted(mine));
      QVERIFY(std::ranges::adjacent_find(mine) == mine.end());
      for (uint32_t b = 0; b < balls.size(); ++b) {
        const bool listed = std::ranges::binary_search(mine, b);
        std::vector<uint32_t> near;
        if (listed) eachSampleNear(*surface, c, balls[b], [&](uint32_t s) { near.push_back(s); });
        QVERIFY(std::ranges::all_of(near, [&](uint32_t s) { return s / kChunkSize == c; }));
        for (size_t s = c * kChunkSize; s < std::min(surface->size(), (c + 1) * kChunkSize); ++s)
          if ((surface->positions[s] - balls[b].center).norm() < balls[b].radius) {
            QVERIFY(std::ranges::find(near, static_cast<uint32_t>(s)) != near.end());
            ++inside;
          }
      }
    }
    QVERIFY(inside > 1000);
  }
  void ballsFarOutsideAreInNoBin() {
    const auto surface = test::surfaceOf(test::sphere(60, 5));
    const std::vector<ChunkBins::Ball> balls{{{1e6f, 0, 0}, 1}, {{0, -1e6f, 1e6f}, 10}, {{6, 6, 6}, 1}};
    const ChunkBins bins(*surface, balls);
    for (size_t c = 0; c < chunkCount(surface->size()); ++c) QVERIFY(bins.of(c).empty());
  }
  void signaturesTellEveryBitApart() {
    std::set<uint64_t> seen;
    for (uint32_t i = 0; i < 20'000; ++i) {
      uint64_t signature = 1;
      sign(signature, i);
      sign(signature, Vec3(1, 2, static_cast<float>(i % 7)));
      seen.insert(signature);
    }
    QCOMPARE(seen.size(), size_t{20'000});
    uint64_t one = 0, other = 0;
    sign(one, std::string("ab"));
    sign(other, std::string("ba"));
    QVERIFY(one != other);
  }
  // Asked for by many at once each chunk is worked out once; those with nothing never.
  void chunksAreWorkedOutOnce() {
    const Counted source({7, 0, 9, 11});
    std::vector<std::thread> asking;
    std::array<std::array<const ColorChunk*, 4>, 6> got{};
    for (auto& row : got)
      asking.emplace_back([&] {
        ColorChunk below;
        for (size_t c = 0; c < 4; ++c) row[c] = source.colors(c, below).get();
      });
    for (std::thread& t : asking) t.join();
    for (const auto& row : got) QVERIFY(row == got[0]);
    QVERIFY(got[0][0] && !got[0][1] && got[0][2]);
    for (size_t c = 0; c < 4; ++c) QCOMPARE(source.times(c), c == 1 ? 0 : 1);
  }
  // What an earlier one has worked out of chunks that are as they were is not worked out again.
  void chunksThatAreAsTheyWereAreTakenOver() {
    const Counted before({7, 0, 9, 11, 13}), after({7, 0, 8, 11, 13});
    ColorChunk below;
    for (const size_t c : {0, 1, 2, 3}) (void)before.colors(c, below);
    after.takeOver(before);
    for (size_t c = 0; c < 5; ++c)
      if (c == 0 || c == 3)
        QCOMPARE(after.colors(c, below), before.colors(c, below));
      else
        QVERIFY(c == 1 || after.colors(c, below));
    for (size_t c = 0; c < 5; ++c) QCOMPARE(after.times(c), c == 2 || c == 4 ? 1 : 0);
    QCOMPARE(before.times(4), 0);
    // of a smaller surface nothing holds
    const Counted other({7, 0});
    other.takeOver(before);
    (void)other.colors(0, below);
    QCOMPARE(other.times(0), 1);
  }
  // So it is when a layer is prepared anew.
  void aPreparedLayerTakesOver() {
    Speckle speckle;
    speckle.everywhere = 0;
    speckle.cover = 0.3f;
    speckle.gather = {test::areaAt({-40, -40, 0}, 8), test::areaAt({40, 40, 0}, 8)};
    Document d = withSourceLayer(test::documentOf(test::plane(400, 100)), "Freckles", Stratum::Pigment,
                                 speckleSource(speckle));
    const PreparedStack before = *prepared(d.layers, *d.maps);
    ColorChunk below;
    std::vector<ColorField::Pointer> was;
    for (size_t c = 0; c < chunkCount(d.surface->size()); ++c)
      was.push_back(before[0].source->colors(c, below));
    speckle.gather[0].anchor = {-36, -40, 0};
    d = *withSource(d, d.activeLayer, speckleSource(speckle));
    const PreparedStack after = *prepared(d.layers, *d.maps, {}, before);
    std::vector<char> marks(was.size(), 0);
    QVERIFY(after[0].source->markChanges(Channel::Color, *before[0].source, marks));
    size_t same = 0;
    for (size_t c = 0; c < was.size(); ++c)
      if (was[c] && !marks[c]) {
        QCOMPARE(after[0].source->colors(c, below), was[c]);
        ++same;
      }
    QVERIFY(same > 0 && std::ranges::count(marks, 1) > 0);
  }
  void changesAreWhereSignaturesDiffer() {
    const Counted before({7, 0, 9, 11}), after({7, 5, 8, 11});
    std::vector<char> marks(4, 0), content(4, 0);
    QVERIFY(after.markChanges(Channel::Color, before, marks));
    QCOMPARE(marks, (std::vector<char>{0, 1, 1, 0}));
    before.markContent(Channel::Color, content);
    QCOMPARE(content, (std::vector<char>{1, 0, 1, 1}));
    // of another surface it cannot tell
    QVERIFY(!after.markChanges(Channel::Color, Counted({7, 5}), marks));
  }
  // An area that moved changes the skin around it alone.
  void aMovedAreaChangesItsSurroundingsAlone() {
    SurfaceMaps maps(test::surfaceOf(test::plane(400, 100)));
    Speckle speckle;
    speckle.everywhere = 0;
    speckle.cover = 0.3f;
    speckle.gather = {test::areaAt({-40, -40, 0}, 8)};
    const auto before = *speckleSource(speckle)->prepare(maps);
    speckle.gather[0].anchor = {-38, -40, 0};
    const auto after = *speckleSource(speckle)->prepare(maps);
    std::vector<char> marks(chunkCount(maps.size()), 0);
    QVERIFY(after->markChanges(Channel::Color, *before, marks));
    size_t changed = 0;
    for (size_t c = 0; c < marks.size(); ++c) {
      changed += marks[c] != 0;
      if (marks[c]) QVERIFY(maps.surface().groups[c].squaredDistance({-39, -40, 0}) < 18 * 18);
    }
    QVERIFY2(changed > 0 && changed < marks.size() / 3, qPrintable(QString::number(changed)));
  }
  // In metres or in millimetres: the same picture.
  void markingsScaleWithTheSculpt_data() { kinds(); }
  void markingsScaleWithTheSculpt() {
    QFETCH(QString, kind);
    SurfaceMaps small(test::surfaceOf(test::sphere(120, 0.0625f * 10))),
        large(test::surfaceOf(test::sphere(120, 64 * 10)));
    const auto a = broughtBy(*marking(kind.toStdString(), 0.0625f), small),
               b = broughtBy(*marking(kind.toStdString(), 64), large);
    QVERIFY(std::ranges::any_of(a, [](const Rgba16& c) { return c.a > 20'000; }));
    const double apart = meanAlphaApart(a, b);
    QVERIFY2(apart < 0.02, qPrintable(QString::number(apart)));
  }
  // Laid on its side the sculpt keeps what is on it, where it is.
  void markingsTurnWithTheSculpt_data() { kinds(); }
  void markingsTurnWithTheSculpt() {
    QFETCH(QString, kind);
    const Document upright = withSourceLayer(test::documentOf(test::sphere(120, 10)), "Marks",
                                             Stratum::Pigment, marking(kind.toStdString(), 1));
    Placement lying = upright.placement;
    lying.up = Axis::PlusX;
    lying.front = Axis::PlusY;
    const auto turned = withPlacement(upright, lying);
    QVERIFY(turned);
    const auto a = broughtBy(*upright.layers.back()->source, *upright.maps),
               b = broughtBy(*turned->layers.back()->source, *turned->maps);
    QCOMPARE(a.size(), b.size());
    // samples keep their vertices
    std::vector<Rgba16> ofVertex(a.size());
    for (size_t v = 0; v < upright.surface->sampleOfVertex.size(); ++v)
      ofVertex[upright.surface->sampleOfVertex[v]] = b[turned->surface->sampleOfVertex[v]];
    const double apart = meanAlphaApart(a, ofVertex);
    QVERIFY2(apart < 0.03, qPrintable(QString::number(apart)));
    // vessels grow the way they grew
    if (const Veins* veins = veinsOf(*turned->layers.back()->source))
      QVERIFY(veins->toward == turnOf(lying) * veinsOf(*upright.layers.back()->source)->toward);
  }
};

JUVENOR_TEST(TestMarkingPieces)
}  // namespace juvenor
#include "test_marking_pieces.moc"
