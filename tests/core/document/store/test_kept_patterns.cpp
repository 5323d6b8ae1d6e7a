// What has grown for layers of patterns lies in the document: it comes back without growing again, for as
// long as the layers ask for it, and what a file made of it is not trusted.
#include <random>

#include "core/document/edits/edits.h"
#include "core/document/store/packing.h"
#include "core/document/store/store.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/patterns.h"
#include "support/heights.h"
#include "support/made.h"
#include "support/old_formats.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr size_t kKinds = 4;

Document withPatterns() {
  Document d = test::documentOf(test::plane(72, 16));
  Guides guides;
  guides.direction.form = 3;
  guides.size.size = 1;
  HueZone zone = test::areaAt(Vec3(2, 2, 0), 4);
  guides.size.smaller = {zone};
  d = withSourceLayer(d, "Scales", Stratum::Surface, scaleSource({.guides = guides}));
  d = withSourceLayer(d, "Bands", Stratum::Pigment, bandSource({.guides = guides, .height = 0.1f}));
  d = withSourceLayer(d, "Spots", Stratum::Pigment, spotSource({.guides = guides, .height = 0.1f}));
  FineSkin fine;
  fine.guides = guides;
  fine.guides.size.size = 1.5f;
  return withSourceLayer(d, "Fine skin", Stratum::Surface, fineSkinSource(fine));
}

std::vector<StepPointer> stepsOf(const Document& d) {
  const History h(d, "Open");
  return {h.steps().begin(), h.steps().end()};
}

Document opened(const std::filesystem::path& path) {
  auto store = Store::open(path, true);
  const auto read = store->read();
  return read->steps[read->current]->document;
}

void saved(const Document& d, const std::filesystem::path& path) {
  const auto steps = stepsOf(d);
  QVERIFY(saveAs(path, steps, steps.back()->id));
}

void grow(const Document& d) {
  for (const LayerPointer& layer : d.layers) QVERIFY(layer->source->prepare(*d.maps));
}

size_t grownIn(const Document& d) {
  return static_cast<size_t>(std::ranges::count_if(d.layers, [&](const LayerPointer& layer) {
    const std::string key = layer->source->grownKey();
    return !key.empty() && d.maps->hasGrown(key);
  }));
}

void looksTheSame(const Document& a, const Document& b) {
  for (size_t i = 0; i < a.layers.size(); ++i) {
    const auto one = *a.layers[i]->source->prepare(*a.maps), other = *b.layers[i]->source->prepare(*b.maps);
    QCOMPARE(test::heightsOf(*one, *a.maps), test::heightsOf(*other, *b.maps));
    QCOMPARE(one->note(), other->note());
    const auto below = std::make_unique<ColorChunk>();
    for (size_t c = 0; c < chunkCount(a.maps->size()); ++c)
      QVERIFY(one->colors(c, *below)->plane == other->colors(c, *below)->plane);
  }
}

}  // namespace

class TestKeptPatterns : public QObject {
  Q_OBJECT
 private slots:
  void theyComeBackWithoutGrowing() {
    const test::Folder folder;
    const Document d = withPatterns();
    saved(d, folder / "before.juvenor");
    QCOMPARE(grownIn(opened(folder / "before.juvenor")), size_t{0});
    grow(d);
    saved(d, folder / "x.juvenor");
    const Document e = opened(folder / "x.juvenor");
    QCOMPARE(grownIn(e), kKinds);
    looksTheSame(d, e);
    // neither areas nor directions were worked out for it
    QVERIFY(d.maps->hasLadder());
    QVERIFY(!e.maps->hasLadder());
  }

  // A copy keeps what nobody has looked at since it was opened.
  void aCopyKeepsThemToo() {
    const test::Folder folder;
    const Document d = withPatterns();
    grow(d);
    saved(d, folder / "x.juvenor");
    saved(opened(folder / "x.juvenor"), folder / "copy.juvenor");
    const Document e = opened(folder / "copy.juvenor");
    QCOMPARE(grownIn(e), kKinds);
    looksTheSame(d, e);
    QVERIFY(!e.maps->hasLadder());
  }

  // Only what the shown step wants stays in the file, and another setting does not pass for what was kept.
  void whatIsNotWantedGoes() {
    const test::Folder folder;
    const Document d = withPatterns();
    grow(d);
    saved(d, folder / "x.juvenor");
    const uint32_t bands = d.layers[1]->id;
    Guides other = *d.layers[1]->source->guides();
    other.size.size = 2;
    auto store = Store::open(folder / "x.juvenor");
    const auto read = store->read();
    std::vector<StepPointer> steps = read->steps;
    auto step = std::make_shared<Step>(*steps.back());
    ++step->id;
    step->document = *withSource(step->document, bands, d.layers[1]->source->withGuides(other));
    QVERIFY(!step->document.maps->hasGrown(layerOf(step->document, bands)->source->grownKey()));
    steps.push_back(step);
    QVERIFY(store->write(steps, step->id));
    QCOMPARE(grownIn(opened(folder / "x.juvenor")), kKinds - 1);
  }

  void earlierFormatsGetThem() {
    const test::Folder folder;
    const Document d = withPatterns();
    saved(d, folder / "x.juvenor");
    {
      auto db = Database::open(folder / "x.juvenor", Database::Mode::ReadWrite);
      QVERIFY(test::asFormat7(*db));
      QVERIFY(db->run(
          "DROP TABLE grown; DROP TABLE named; ALTER TABLE step DROP COLUMN time; PRAGMA user_version = 4;"));
    }
    {
      auto store = Store::open(folder / "x.juvenor");
      const auto read = store->read();
      QVERIFY(read);
      grow(read->steps[read->current]->document);
      QVERIFY(store->write(read->steps, read->steps[read->current]->id));
    }
    QCOMPARE(grownIn(opened(folder / "x.juvenor")), kKinds);
  }

  // Bytes that say what cannot be: the pattern grows again, and looks as ever.
  void damagedOnesGrowAgain_data() {
    QTest::addColumn<int>("damage");
    QTest::newRow("cut") << 0;
    QTest::newRow("empty") << 1;
    QTest::newRow("all ones") << 2;
    QTest::newRow("not packed") << 3;
  }
  void damagedOnesGrowAgain() {
    QFETCH(int, damage);
    const test::Folder folder;
    const Document d = withPatterns();
    grow(d);
    saved(d, folder / "x.juvenor");
    auto db = Database::open(folder / "x.juvenor", Database::Mode::ReadWrite);
    std::map<std::string, std::string> rows;
    QVERIFY(db->query("SELECT setting, data FROM grown", {}, [&](const SqlRow& r) {
      rows[r.text(0)] = *unpacked(r.blob(1), 1 << 28);
      return true;
    }));
    QCOMPARE(rows.size(), kKinds);
    for (auto& [key, bytes] : rows) {
      if (damage == 0) bytes.resize(bytes.size() / 2);
      if (damage == 1) bytes.clear();
      if (damage == 2) std::ranges::fill(bytes, '\xff');
      const std::string data = damage == 3 ? bytes : *packed(bytes);
      QVERIFY(db->query("UPDATE grown SET data = ? WHERE setting = ?", {&data, std::string_view(key)}));
    }
    looksTheSame(d, opened(folder / "x.juvenor"));
  }

  // Any bytes of the right length are drawn or grow again; the sanitizers look on.
  void scrambledOnesAreHarmless() {
    const Document d = withPatterns();
    grow(d);
    std::mt19937 random(5);
    for (int round = 0; round < 6; ++round)
      for (const LayerPointer& layer : d.layers) {
        SurfaceMaps maps(d.surface);
        const std::string key = layer->source->grownKey();
        std::string bytes = *d.maps->grownBytes(key);
        const size_t from = random() % bytes.size();
        for (size_t i = from; i < std::min(bytes.size(), from + 4000); ++i)
          bytes[i] = static_cast<char>(random());
        maps.takeGrown(key, [&] { return std::optional(bytes); });
        const auto made = layer->source->prepare(maps);
        QVERIFY(made);
        const auto below = std::make_unique<ColorChunk>();
        for (size_t c = 0; c < chunkCount(maps.size()); ++c) {
          QVERIFY((*made)->colors(c, *below));
          QVERIFY((*made)->heights(Channel::Relief, c));
        }
      }
  }
};

JUVENOR_TEST(TestKeptPatterns)
}  // namespace juvenor
#include "test_kept_patterns.moc"
