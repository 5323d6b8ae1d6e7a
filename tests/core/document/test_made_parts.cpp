// Parts that are made here: no sample moves, what layers tie to a part follows, the file's own parts go out
// and come back, and files, journals and added points agree on what belongs where.
#include "core/document/edits/edit_parts.h"

#include <numeric>
#include <set>

#include "core/document/edits/edits.h"
#include "core/document/store/database.h"
#include "core/document/store/journal.h"
#include "core/document/store/put_after.h"
#include "core/document/store/store.h"
#include "core/export/refined_sculpt.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/patterns.h"
#include "core/layers/sources/zones.h"
#include "support/history_steps.h"
#include "support/made.h"
#include "support/old_formats.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// "Body": a ball with a small one beside it and a third; "Ground" apart in the file.
Sculpt threeBalls() {
  Sculpt out = test::together(test::together(test::sphere(20, 10), test::sphere(8, 2, {30, 0, 0})),
                              test::sphere(12, 4, {-30, 0, 0}));
  out.parts = {"Body"};
  std::ranges::fill(out.polygonPart, 0u);
  return test::together(out, test::plane(5, 40, "Ground"));
}

// Shown where x is above a value.
ScalarField rightOf(const Document& d, float x) {
  ScalarField out(d.surface->size(), {0});
  for (size_t c = 0; c < out.chunkCount(); ++c) {
    auto chunk = out.writable(c);
    for (size_t s = c * kChunkSize; s < std::min(out.size(), (c + 1) * kChunkSize); ++s)
      chunk->plane[0][s % kChunkSize] = d.surface->positions[s].x() > x ? 65535 : 0;
    out.setChunk(c, chunk);
  }
  return out;
}

bool sameSkin(const Surface& a, const Surface& b) {
  return a.positions == b.positions && a.normals == b.normals && a.triangles == b.triangles &&
         a.neighbors == b.neighbors && a.sampleOfVertex == b.sampleOfVertex;
}
bool sameLabels(const Surface& a, const Surface& b) {
  return a.parts == b.parts && a.triangleParts == b.triangleParts && a.partCount == b.partCount;
}

Document orDie(Result<Document> made) {
  if (!made) qFatal("%s", made.error().message().c_str());
  return std::move(*made);
}

std::vector<std::string> namesOf(const Document& d) {
  return d.sculpt->parts;
}

}  // namespace

class TestMadeParts : public QObject {
  Q_OBJECT
 private slots:
  void looseShellsComeApart() {
    Document d = test::documentOf(threeBalls());
    d = withPaintedLayer(d, "Paint", Stratum::Pigment);
    d = orDie(withFilled(d, d.activeLayer, {0.3f, 0.2f, 0.1f}, 1, 1));
    const Document apart = orDie(withShellsApart(d, 0));
    QCOMPARE(namesOf(apart), (std::vector<std::string>{"Body", "Body 2", "Body 3", "Ground"}));
    QVERIFY(sameSkin(*apart.surface, *d.surface));
    for (size_t s = 0; s < apart.surface->size(); ++s) {
      const float x = apart.surface->positions[s].x();
      const uint32_t part = d.surface->parts[s] == 1 ? 3 : x > 20 ? 2 : x < -20 ? 1 : 0;
      QCOMPARE(apart.surface->parts[s], part);
    }
    QVERIFY(sameChunks(apart, d));
    QVERIFY(!withShellsApart(apart, 0));
    QVERIFY(!withShellsApart(d, 7));
    // and all of it back
    const Document back = orDie(withFileParts(apart));
    QVERIFY(sameSkin(*back.surface, *d.surface) && sameLabels(*back.surface, *d.surface));
    QCOMPARE(fingerprintOf(*back.sculpt), fingerprintOf(*d.sculpt));
    QVERIFY(!back.parts.any());
  }
  void islandsComeApart() {
    Sculpt plane = test::plane(10, 10);
    UvSet cut{"Cut", {}, plane.corners};
    for (const Vec3& v : plane.vertices) cut.coordinates.emplace_back(v.x(), v.y());
    // the polygons right of the middle lie elsewhere in the layout
    std::vector<uint32_t> moved(plane.vertices.size(), kNone);
    size_t right = 0;
    for (size_t p = 0; p < plane.polygonCount(); ++p) {
      float x = 0;
      for (const uint32_t v : plane.polygon(p)) x += plane.vertices[v].x();
      if (x <= 0) continue;
      ++right;
      for (size_t c = plane.polygonStart[p]; c < plane.polygonStart[p + 1]; ++c) {
        const uint32_t v = plane.corners[c];
        if (moved[v] == kNone) {
          moved[v] = static_cast<uint32_t>(cut.coordinates.size());
          cut.coordinates.emplace_back(plane.vertices[v].x() + 50, plane.vertices[v].y());
        }
        cut.corner[c] = moved[v];
      }
    }
    plane.uvSets = {cut};
    const Document apart = orDie(withIslandsApart(test::documentOf(plane), 0, 0));
    QCOMPARE(apart.sculpt->parts.size(), size_t{2});
    const auto& of = apart.sculpt->polygonPart;
    const auto second = static_cast<size_t>(std::ranges::count(of, 1u));
    QVERIFY(second == right || second == of.size() - right);
    QVERIFY(!withIslandsApart(apart, 0, 1));
  }
  void masksMakePartsWithinThoseOfTheFile() {
    const Document d = test::documentOf(threeBalls());
    const Document made = orDie(withPartWhere(d, rightOf(d, 0), "Right"));
    QCOMPARE(namesOf(made), (std::vector<std::string>{"Body", "Right", "Ground", "Right 2"}));
    for (size_t p = 0; p < d.sculpt->polygonCount(); ++p) {
      int right = 0;
      for (const uint32_t v : d.sculpt->polygon(p)) right += d.sculpt->vertices[v].x() > 0 ? 1 : -1;
      const uint32_t own = d.sculpt->polygonPart[p];
      QCOMPARE(made.sculpt->polygonPart[p], own * 2 + (right > 0 ? 1u : 0u));
    }
    // nowhere, and only where parts are parts already
    QVERIFY(!withPartWhere(d, rightOf(d, 1000), "None"));
    QVERIFY(!withPartWhere(made, rightOf(d, 0), "Again"));
    QVERIFY(!withPartWhere(d, ScalarField(5, {0}), "Other"));
    const Document joined = orDie(withPartsJoined(made, 2, 3));
    QCOMPARE(namesOf(joined), (std::vector<std::string>{"Body", "Right", "Ground"}));
    QVERIFY(!withPartsJoined(made, 0, 2));
    const Document named = orDie(withPartRenamed(joined, 1, "Half"));
    QCOMPARE(namesOf(named)[1], std::string("Half"));
    QCOMPARE(named.surface, joined.surface);
    QVERIFY(!withPartRenamed(joined, 1, "Ground"));
    QVERIFY(!withPartRenamed(joined, 1, ""));
  }
  // Zones, combs and touches are tied to parts; so is what is hidden.
  void whatIsTiedToAPartFollowsIt() {
    Document d = test::documentOf(threeBalls());
    Scales hide;
    hide.guides.size.size = 3;
    hide.guides.direction.combs = {{{Vec3(30, 0, 2), Vec3(31, 0, 1.7f)}, 0, 1, 1},
                                   {{Vec3(0, 0, 10), Vec3(1, 0, 9.9f)}, 0, 1, 1}};
    d = withSourceLayer(d, "Scales", Stratum::Surface, scaleSource(hide));
    HueZone zone = test::areaAt({-30, 0, 4}, 2);
    zone.part = 0;
    d = withSourceLayer(d, "Zones", Stratum::Flesh, zoneSource({{zone}}));
    d.hiddenParts = {0};
    const Document apart = orDie(withShellsApart(d, 0));
    QCOMPARE(apart.hiddenParts, (std::set<uint32_t>{0, 1, 2}));
    for (const LayerPointer& layer : apart.layers) {
      if (const Guides* guides = layer->source->guides()) {
        QCOMPARE(guides->direction.combs[0].part, 2u);
        QCOMPARE(guides->direction.combs[1].part, 0u);
      }
      if (layer->name == "Zones") QCOMPARE(layer->source->zones()->zones[0].part, 1u);
    }
    const Document back = orDie(withFileParts(apart));
    QCOMPARE(back.hiddenParts, d.hiddenParts);
    QVERIFY(test::sameValues(*compositeOf(back.layers, *back.maps, back.bare),
                             *compositeOf(d.layers, *d.maps, d.bare)));
  }
  void filesAndJournalsHoldThem() {
    const test::Folder folder;
    const Document d = test::documentOf(threeBalls());
    History h(d, "Open");
    h.push(orDie(withShellsApart(h.document(), 0)), "Shells");
    h.push(orDie(withPartRenamed(h.document(), 1, "Small")), "Rename");
    Refinement round;
    round.spacing = d.surface->spacing / 2;
    round.shape = RefineShape::Round;
    h.push(orDie(withRefinement(h.document(), round)), "Points");
    h.push(orDie(withPartWhere(h.document(), rightOf(h.document(), 0), "Right")), "Mask");
    const auto steps = test::stepsOf(h);
    QVERIFY(steps[1]->bytes > 0);
    QVERIFY(saveAs(folder / "x.juvenor", std::span(steps).first(2), steps[1]->id));
    {
      auto store = Store::open(folder / "x.juvenor");
      QVERIFY(store && store->write(steps, steps[4]->id));
    }
    const auto compared = [&](const std::vector<StepPointer>& read) {
      QCOMPARE(read.size(), steps.size());
      for (size_t i = 0; i < steps.size(); ++i) {
        const Document &was = steps[i]->document, &is = read[i]->document;
        QVERIFY(sameSkin(*is.surface, *was.surface));
        QVERIFY2(sameLabels(*is.surface, *was.surface), qPrintable(QString::number(i)));
        QCOMPARE(namesOf(is), namesOf(was));
        QCOMPARE(is.sculpt->polygonPart, was.sculpt->polygonPart);
        QCOMPARE(fingerprintOf(*importedSculpt(is)), fingerprintOf(*d.sculpt));
      }
    };
    const auto opened = Store::open(folder / "x.juvenor")->read();
    QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
    compared(opened->steps);
    QVERIFY(saveAs(folder / "y.juvenor", std::span(steps).first(2), steps[1]->id));
    {
      Journal journal(folder / "journals", {folder / "y.juvenor", Store::open(folder / "y.juvenor")->save()},
                      "x");
      journal.keep(steps, steps[4]->id);
      QVERIFY(journal.flush());
      journal.leaveBehind();
    }
    const LeftBehindList left = leftBehind(folder / "journals");
    QCOMPARE(left.journals.size(), size_t{1});
    const auto back = recover(left.journals[0]);
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    compared(back->steps);
    discard(left.journals[0]);
  }
  void brokenFilesAreRefusedAndOldOnesTakeThem() {
    const test::Folder folder;
    History h(test::documentOf(threeBalls()), "Open");
    h.push(orDie(withShellsApart(h.document(), 0)), "Shells");
    const auto steps = test::stepsOf(h);
    for (const char* done : {"DELETE FROM parts", "UPDATE parts SET data = zeroblob(40)",
                             "UPDATE step SET state = json_set(state, '$.parts.names', json('[\"One\"]'))",
                             "UPDATE step SET state = json_set(state, '$.parts.data', 12345)",
                             "UPDATE step SET state = json_set(state, '$.parts', json('[]'))"}) {
      QVERIFY(saveAs(folder / "x.juvenor", steps, steps[1]->id));
      auto db = Database::open(folder / "x.juvenor", Database::Mode::ReadWrite);
      QVERIFY(db && db->run(done));
      const auto opened = Store::open(folder / "x.juvenor", true)->read();
      QVERIFY2(!opened && !opened.error().what.empty(), done);
    }
    QVERIFY(saveAs(folder / "old.juvenor", std::span(steps).first(1), steps[0]->id));
    {
      auto db = Database::open(folder / "old.juvenor", Database::Mode::ReadWrite);
      QVERIFY(test::asFormat8(*db));
    }
    auto store = Store::open(folder / "old.juvenor");
    const auto opened = store->read();
    QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
    History more(opened->steps, 0);
    more.push(orDie(withShellsApart(more.document(), 0)), "Shells");
    const auto now = test::stepsOf(more);
    QVERIFY(store->write(now, now[1]->id));
    const auto again = Store::open(folder / "old.juvenor")->read();
    QVERIFY(again);
    QCOMPARE(namesOf(again->steps[1]->document).size(), size_t{4});
  }
  void otherProgramsStepsAreNotPutAfterThem() {
    const Document d = test::documentOf(threeBalls());
    History mine(d, "Open");
    const StepPointer base = mine.steps().front();
    mine.push(orDie(withShellsApart(mine.document(), 0)), "Shells");
    const Opened theirs =
        test::changedElsewhere(base, withFillLayer(d, "Tone", Stratum::Flesh, {0.5f, 0.4f, 0.3f}));
    const auto both = putAfter(theirs, test::stepsOf(mine));
    QVERIFY(!both && both.error().what.find("parts") != std::string::npos);
  }
  void theFilesPartsGoOut() {
    const test::Folder folder;
    const Document d = test::documentOf(threeBalls()), apart = orDie(withShellsApart(d, 0)),
                   finer = orDie(withRefinement(apart, {}));
    const auto written = [&](const Document& document, const ColouredSetting& setting) {
      const auto skin = skinOf(document.layers, *document.maps, document.bare);
      if (!writeColoured(folder / "x.obj", document, *skin, setting)) qFatal("not written");
      return readSculpt(folder / "x.obj")->parts;
    };
    for (const bool all : {false, true}) {
      const Document& of = all ? finer : apart;
      QCOMPARE(written(of, {.allPoints = all}), (std::vector<std::string>{"Body", "Ground"}));
      QCOMPARE(written(of, {.allPoints = all, .madeParts = true}), namesOf(apart));
    }
  }

 private:
  // All painted fields, chunk by chunk the same memory.
  static bool sameChunks(const Document& a, const Document& b) {
    for (size_t i = 0; i < a.layers.size(); ++i) {
      const ChannelFields *x = a.layers[i]->source->fields(), *y = b.layers[i]->source->fields();
      if (!x != !y) return false;
      for (size_t c = 0; x && c < x->color().chunkCount(); ++c)
        if (x->color().chunk(c) != y->color().chunk(c)) return false;
    }
    return a.layers.size() == b.layers.size();
  }
};

JUVENOR_TEST(TestMadeParts)

}  // namespace juvenor

#include "test_made_parts.moc"
