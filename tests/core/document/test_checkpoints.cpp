// Checkpoints: what was kept comes back exactly, wholly or where the pen goes, channel by channel; it goes
// with the points, the file and the journal, and costs next to nothing.
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/document/step_groups.h"
#include "core/document/store/journal.h"
#include "core/document/store/put_after.h"
#include "core/document/store/state_json.h"
#include "support/history_steps.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

const ChannelFields& fieldsOf(const Document& d, uint32_t id) {
  return *layerOf(d, id)->source->fields();
}

// A layer with something in each channel, kept, and painted over since.
struct PaintedOver {
  Document before, after;
  uint32_t layer = 0, checkpoint = 0;
};
PaintedOver paintedOver() {
  PaintedOver out;
  Document d = withPaintedLayer(test::documentOf(test::plane(140, 20)), "Paint", Stratum::Pigment);
  out.layer = d.activeLayer;
  d = *withFilled(d, out.layer, test::inEveryChannel({0.7f, 0.5f, 0.4f}, 0.3f, 0.1f, 0.2f), 1);
  out.before = *withCheckpoint(*withMask(d, out.layer), "First tones", 1'700'000'000);
  out.checkpoint = out.before.checkpoints.back().id;
  out.after =
      *withFilled(out.before, out.layer, test::inEveryChannel({0.1f, 0.2f, 0.9f}, 0.9f, 0.8f, -0.3f), 1);
  return out;
}

Result<Document> restored(const PaintedOver& work, ChannelSet channels, float opacity, bool onMask = false) {
  StrokeSetting setting;
  setting.brush.radius = 4;
  setting.brush.flow = 1;
  setting.brush.hardness = 0.9f;
  setting.brush.opacity = opacity;
  setting.ink = inkKind("restore");
  setting.paint.color.reset();
  if (channels.has(Channel::Color)) setting.paint.color = EncodedColor{};
  for (const Channel c : {Channel::Gloss, Channel::Metal, Channel::Relief})
    if (channels.has(c)) setting.paint[c] = 0.f;
  setting.layer = work.layer;
  setting.onMask = onMask;
  Flood flood;
  auto stroke = PaintStroke::begin(work.after, setting, flood);
  if (!stroke) return stroke.error();
  SurfacePoint p;
  for (const float x : {-2.f, 0.f, 2.f}) {
    p.position = {x, 0, 0};
    (*stroke)->stroke().moveTo(p, 1);
  }
  return (*stroke)->finish();
}

uint32_t middleOf(const Document& d) {
  uint32_t best = 0;
  for (uint32_t s = 0; s < d.surface->size(); ++s)
    if (d.surface->positions[s].norm() < d.surface->positions[best].norm()) best = s;
  return best;
}

}  // namespace

class TestCheckpoints : public QObject {
  Q_OBJECT
 private slots:
  void thePenBringsBackTickedChannelsAlone() {
    const PaintedOver work = paintedOver();
    const uint32_t at = middleOf(work.after);
    for (unsigned bits = 1; bits < 16; ++bits) {
      ChannelSet ticked;
      for (unsigned c = 0; c < kChannelCount; ++c)
        if (bits >> c & 1) ticked |= static_cast<Channel>(c);
      const Document d = *restored(work, ticked, 1);
      eachChannel([&](auto c) {
        const auto& now = fieldsOf(d, work.layer).get<c()>();
        const Document& like = ticked.has(c()) ? work.before : work.after;
        QCOMPARE(now.at(at), fieldsOf(like, work.layer).get<c()>().at(at));
        // and far from the pen nothing
        QCOMPARE(now.at(0), fieldsOf(work.after, work.layer).get<c()>().at(0));
      });
    }
  }
  void strengthIsHowFarItGoes() {
    const PaintedOver work = paintedOver();
    const Document d = *restored(work, Channel::Color, 0.25f);
    const uint32_t at = middleOf(d);
    for (size_t p = 0; p < 3; ++p) {
      const double was = fieldsOf(work.before, work.layer).color().at(at)[p],
                   is = fieldsOf(work.after, work.layer).color().at(at)[p];
      QVERIFY(std::abs(fieldsOf(d, work.layer).color().at(at)[p] - (is + 0.25 * (was - is))) < 2);
    }
    const Document whole = *withRestored(work.after, work.checkpoint, work.layer, Channel::Gloss, 0.5f);
    const double was = fieldsOf(work.before, work.layer).get<Channel::Gloss>().at(5)[0],
                 is = fieldsOf(work.after, work.layer).get<Channel::Gloss>().at(5)[0];
    QVERIFY(std::abs(fieldsOf(whole, work.layer).get<Channel::Gloss>().at(5)[0] - (was + is) / 2) < 2);
    QVERIFY(test::sameValues(fieldsOf(whole, work.layer).color(), fieldsOf(work.after, work.layer).color()));
  }
  void theGuardHolds() {
    PaintedOver work = paintedOver();
    work.after = *withMaskField(work.after, kGuard, closedMask(work.after.surface->size()));
    const Document pen = *restored(work, ChannelSet::all(), 1);
    const Document all = *withRestored(work.after, work.checkpoint, work.layer, ChannelSet::all(), 1);
    QVERIFY(test::sameValues(fieldsOf(pen, work.layer), fieldsOf(work.after, work.layer)));
    QVERIFY(test::sameValues(fieldsOf(all, work.layer), fieldsOf(work.after, work.layer)));
  }
  void masksComeBackToo() {
    PaintedOver work = paintedOver();
    work.after = *withMaskField(work.after, work.layer, closedMask(work.after.surface->size()));
    const Document d = *restored(work, Channel::Color, 1, true);
    QCOMPARE(layerOf(d, work.layer)->mask->at(middleOf(d))[0], uint16_t{65535});
    QCOMPARE(layerOf(d, work.layer)->mask->at(0)[0], uint16_t{0});
  }
  void aLayerMadeSinceHadNothing() {
    PaintedOver work = paintedOver();
    work.after = withPaintedLayer(work.after, "Later", Stratum::Pigment);
    work.layer = work.after.activeLayer;
    work.after = *withFilled(work.after, work.layer, {1, 0, 0}, 1);
    const Document d = *restored(work, Channel::Color, 1);
    QCOMPARE(fieldsOf(d, work.layer).color().at(middleOf(d))[3], uint16_t{0});
    QCOMPARE(fieldsOf(d, work.layer).color().at(0)[3], uint16_t{65535});
  }
  void whatCannotBeIsSaid() {
    PaintedOver work = paintedOver();
    Document d = *withoutCheckpoint(work.after, work.checkpoint);
    work.after = d;
    QVERIFY(!restored(work, Channel::Color, 1));
    QVERIFY(!withCheckpointBack(d, work.checkpoint));
    // a layer that was worked out then
    Document filled =
        withFillLayer(test::documentOf(test::plane(20, 5)), "Base", Stratum::Flesh, {0.6f, 0.5f, 0.4f});
    filled = *withCheckpoint(filled, "Base alone", 0);
    const auto none = fieldsKeptOf(filled, filled.checkpoints[0].id, filled.activeLayer);
    QVERIFY(!none && none.error().what.find("Base") != std::string::npos);
  }
  void allComesBackWithItsNumbersAndOrder() {
    PaintedOver work = paintedOver();
    Document d = *withoutLayer(work.after, work.layer);
    d = withPaintedLayer(d, "Another", Stratum::Flesh);
    d = *withCheckpointBack(d, work.checkpoint);
    QCOMPARE(d.layers.size(), size_t{1});
    QVERIFY(test::sameValues(fieldsOf(d, work.layer), fieldsOf(work.before, work.layer)));
    QCOMPARE(d.checkpoints.size(), size_t{1});
    // one layer beside the others
    const uint32_t kept = d.checkpoints[0].layers[0]->id;
    const Document beside = *withKeptLayer(work.after, work.checkpoint, kept);
    QCOMPARE(beside.layers.size(), size_t{2});
    QVERIFY(test::sameValues(fieldsOf(beside, beside.activeLayer), fieldsOf(work.before, work.layer)));
    QVERIFY(beside.activeLayer != kept && beside.activeLayer != work.layer);
  }
  void keepingCostsNextToNothing() {
    const PaintedOver work = paintedOver();
    const Document again = *withCheckpoint(work.after, "Second", 0);
    QCOMPARE(newBytes(work.after, again), size_t{0});
    QVERIFY(newBytes(work.before, work.after) > 0);
    const test::Folder folder;
    History h(work.after, "Open");
    QVERIFY(saveAs(folder / "one.juvenor", test::stepsOf(h), test::currentOf(h)));
    for (int i = 0; i < 4; ++i) h.push(*withCheckpoint(h.document(), "More", 0), "Keep");
    QVERIFY(saveAs(folder / "five.juvenor", test::stepsOf(h), test::currentOf(h)));
    const auto one = std::filesystem::file_size(folder / "one.juvenor"),
               five = std::filesystem::file_size(folder / "five.juvenor");
    QVERIFY2(five < one + 60'000, qPrintable(QString("%1 %2").arg(one).arg(five)));
  }
  void theFileAndTheJournalHoldThem() {
    const PaintedOver work = paintedOver();
    const test::Folder folder;
    History h(work.before, "Open");
    h.push(work.after, "Fill");
    h.call(1, "Blue – too much");
    QVERIFY(saveAs(folder / "kept.juvenor", test::stepsOf(h), test::currentOf(h)));
    {
      Journal journal(folder.path(), {folder / "kept.juvenor", Store::open(folder / "kept.juvenor")->save()},
                      "Ferry");
      h.push(*withCheckpoint(h.document(), "Blue", 1'800'000'000), "Keep");
      h.call(0, "The beginning");
      h.call(1, "");
      journal.keep(test::stepsOf(h), test::currentOf(h));
      QVERIFY(journal.flush());
      // read while its writer lives, as after a kill
      LeftBehind left;
      for (const auto& entry : std::filesystem::directory_iterator(folder.path()))
        if (entry.path().extension() == ".journal") left.journal = entry.path();
      left.saved = folder / "kept.juvenor";
      const auto opened = recover(left);
      QVERIFY2(opened, opened ? "" : opened.error().what.c_str());
      QCOMPARE(opened->steps.size(), size_t{3});
      QCOMPARE(opened->steps[0]->given, std::string("The beginning"));
      QCOMPARE(opened->steps[1]->given, std::string());
      QVERIFY(std::abs(opened->steps[2]->time - timeNow()) < 100);
      const Document& d = opened->steps[2]->document;
      QCOMPARE(d.checkpoints.size(), size_t{2});
      QCOMPARE(d.checkpoints[1].name, std::string("Blue"));
      QCOMPARE(d.checkpoints[0].time, int64_t{1'700'000'000});
      const Document back = *withCheckpointBack(d, work.checkpoint);
      QVERIFY(test::sameValues(fieldsOf(back, work.layer), fieldsOf(work.before, work.layer)));
      // in memory what was kept is what the step before holds
      QCOMPARE(d.checkpoints[1].layers[0]->source->painted()->chunk(0).get(),
               layerOf(d, work.layer)->source->painted()->chunk(0).get());
    }
    const auto saved = Store::open(folder / "kept.juvenor")->read();
    QCOMPARE(saved->steps[1]->given, std::string("Blue – too much"));
    QCOMPARE(saved->steps[0]->given, std::string());
  }
  // Read from a file, steps share the layers they leave alone: the list can tell which one each changed.
  void aFileKnowsWhichLayerAStepChanged() {
    PaintedOver work = paintedOver();
    Document d = withPaintedLayer(work.after, "Other", Stratum::Surface);
    History h(d, "Open");
    h.push(*withFilled(d, work.layer, {0, 1, 0}, 0.5f), "Fill");
    h.push(*withMaskFilled(h.document(), work.layer, 0.5f, 1), "Mask");
    LayerChange fainter;
    fainter.opacity = 0.5f;
    h.push(*withLayerChanged(h.document(), d.activeLayer, fainter), "Opacity");
    const test::Folder folder;
    QVERIFY(saveAs(folder / "x.juvenor", test::stepsOf(h), test::currentOf(h)));
    const auto read = Store::open(folder / "x.juvenor")->read();
    for (size_t i = 1; i < 4; ++i)
      QCOMPARE(layerChangedBy(read->steps[i - 1]->document, read->steps[i]->document),
               layerChangedBy(h.steps()[i - 1]->document, h.steps()[i]->document));
    QCOMPARE(layerChangedBy(read->steps[2]->document, read->steps[3]->document), d.activeLayer);
  }
  void finerPointsCarryThem() {
    const PaintedOver work = paintedOver();
    Refinement finer;
    finer.spacing = work.after.surface->spacing / 2;
    const Document d = *withRefinement(work.after, finer);
    QVERIFY(d.surface->size() > 2 * work.after.surface->size());
    const Document back = *withCheckpointBack(d, work.checkpoint);
    const uint32_t at = middleOf(d);
    QCOMPARE(fieldsOf(back, work.layer).color().at(at),
             fieldsOf(work.before, work.layer).color().at(middleOf(work.before)));
  }
  void strokesWithinMinutesAreOneGroup() {
    const auto step = [](int64_t time, const char* given = "") {
      auto out = std::make_shared<Step>();
      out->time = time;
      out->given = given;
      return StepPointer(std::move(out));
    };
    // opened; three strokes on layer 5, one on 6, a long pause, two on 6, one of them named, the guard
    const std::vector<StepPointer> steps{
        step(0),   step(10), step(60), step(200), step(210), step(1000), step(1010, "Freckles done"),
        step(1020)};
    const std::vector<uint32_t> layers{0, 5, 5, 5, 6, 6, 6, 0};
    QVERIFY((groupedSteps(steps, layers) ==
             std::vector<StepGroup>{{0, 1, 0}, {1, 3, 5}, {4, 1, 6}, {5, 1, 6}, {6, 1, 6}, {7, 1, 0}}));
    const PaintedOver work = paintedOver();
    QCOMPARE(layerChangedBy(work.before, work.after), work.layer);
    QCOMPARE(layerChangedBy(work.after, work.after), 0u);
  }
  void twoProgramsKeepBoth() {
    const PaintedOver work = paintedOver();
    const test::Folder folder;
    History h(work.after, "Open");
    QVERIFY(saveAs(folder / "both.juvenor", test::stepsOf(h), test::currentOf(h)));
    const auto read = [&] { return *Store::open(folder / "both.juvenor", true)->read(); };
    Opened theirs = read(), mine = read();
    History theirHistory(theirs.steps, theirs.current), myHistory(mine.steps, mine.current);
    theirHistory.push(
        *withCheckpoint(withPaintedLayer(theirHistory.document(), "New", Stratum::Surface), "Theirs", 0),
        "Keep");
    // a new layer on both sides has the same number; mine gets another, and what was kept of it follows
    myHistory.push(withPaintedLayer(myHistory.document(), "My own", Stratum::Surface), "Add layer");
    myHistory.push(*withCheckpoint(myHistory.document(), "Mine", 0), "Keep");
    theirs.steps = test::stepsOf(theirHistory);
    theirs.current = theirHistory.current();
    const auto both = putAfter(theirs, test::stepsOf(myHistory));
    QVERIFY2(both, both ? "" : both.error().what.c_str());
    const Document& d = both->back()->document;
    QCOMPARE(d.checkpoints.size(), size_t{3});
    QCOMPARE(d.checkpoints[2].name, std::string("Mine"));
    for (const LayerPointer& layer : d.layers) {
      const LayerPointer kept = keptOf(d.checkpoints[2], layer->id);
      QCOMPARE(kept ? kept->name : "", layer->name == "New" ? std::string() : layer->name);
    }
    // what comes of it is a sound document
    QVERIFY(documentFromState(stateOf(d), d.surface->size(), kDocumentFormat));
  }
};
JUVENOR_TEST(TestCheckpoints)

}  // namespace juvenor
#include "test_checkpoints.moc"
