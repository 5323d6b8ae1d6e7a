// Groups, clipped layers and live masks go wherever layers go: files, merging of two programs' work,
// checkpoints, recipes. What names a group that is not there is no document. Layers that keep their cover
// take paint where they have some.
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edit_groups.h"
#include "core/document/edits/paint_stroke.h"
#include "core/document/store/put_after.h"
#include "core/document/store/state_json.h"
#include "core/layers/nesting.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/painted.h"
#include "core/recipe/recipe.h"
#include "support/history_steps.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

uint32_t layerCalled(const Document& d, std::string_view name) {
  for (const LayerPointer& l : d.layers)
    if (l->name == name) return l->id;
  return 0;
}

// Two fills in a group in a group, one clipped, one that takes its mask from the inner group.
Document nestedWork() {
  Document d = test::documentOf(test::sphere(40, 10));
  for (const char* name : {"Low", "Mid", "High", "Top"})
    d = withFillLayer(d, name, Stratum::Pigment, {0.5f, 0.3f, 0.2f});
  d = *withClipped(d, layerCalled(d, "Mid"), true);
  d = *withGroup(d, {{layerCalled(d, "Low"), layerCalled(d, "Mid")}}, "Inner");
  LayerChange change;
  change.passes = false;
  change.opacity = 0.5f;
  d = *withLayerChanged(d, d.activeLayer, change);
  d = *withGroup(d, {{layerCalled(d, "Inner"), layerCalled(d, "High")}}, "Outer");
  d = *withFolded(d, d.activeLayer, true);
  return *withMaskFrom(d, layerCalled(d, "Top"), layerCalled(d, "Inner"));
}

// Of each layer what it lies in, hangs on and takes its mask from, by names.
std::vector<std::string> tiesOf(const Document& d) {
  std::vector<std::string> out;
  const auto name = [&](uint32_t id) {
    const LayerPointer l = layerOf(d, id);
    return l ? l->name : std::string("-");
  };
  for (const LayerPointer& l : d.layers)
    out.push_back(l->name + " in " + name(l->group) + (l->clipped ? " clipped" : "") +
                  (l->folded ? " folded" : "") + " from " + name(l->maskFrom));
  return out;
}

}  // namespace

class TestGroupsKept : public QObject {
  Q_OBJECT
 private slots:
  void filesKeepThem() {
    const Document d = nestedWork();
    test::Folder folder;
    auto store = Store::create(folder / "x.juvenor", d);
    QVERIFY(store);
    History history(d, "made");
    QVERIFY(store->write(test::stepsOf(history), test::currentOf(history)));
    const auto read = Store::open(folder / "x.juvenor")->read();
    QVERIFY(read);
    QCOMPARE(tiesOf(read->steps[read->current]->document), tiesOf(d));
  }
  void statesThatDoNotNestAreRefused() {
    const Document d = nestedWork();
    const size_t samples = d.surface->size();
    const nlohmann::json good = stateOf(d);
    QVERIFY(documentFromState(good, samples));
    const auto refused = [&](auto change) {
      nlohmann::json state = good;
      change(state["layers"]);
      const auto read = documentFromState(state, samples);
      return !read && !read.error().what.empty();
    };
    const auto place = [&](std::string_view name) { return placeOf(d, layerCalled(d, name)); };
    QVERIFY(refused([&](auto& l) { l[place("Low")]["group"] = 99u; }));
    QVERIFY(refused([&](auto& l) { l[place("Low")]["group"] = layerCalled(d, "Top"); }));
    QVERIFY(refused([&](auto& l) { l[place("Top")]["group"] = layerCalled(d, "Inner"); }));
    QVERIFY(refused([&](auto& l) { l[place("Outer")]["group"] = layerCalled(d, "Outer"); }));
    QVERIFY(refused([&](auto& l) { l[place("Outer")]["group"] = layerCalled(d, "Inner"); }));
    QVERIFY(refused([&](auto& l) { l[place("Low")]["mask-from"] = layerCalled(d, "Inner"); }));
    QVERIFY(refused([&](auto& l) { l[place("Low")]["mask-from"] = layerCalled(d, "Top"); }));
    QVERIFY(refused([&](auto& l) { l[place("High")]["folded"] = true; }));
    QVERIFY(refused([&](auto& l) { std::swap(l[place("Low")], l[place("Top")]); }));
  }
  void checkpointsKeepThem() {
    const Document d = nestedWork();
    Document later = *withCheckpoint(d, "Then", 1);
    const uint32_t kept = later.checkpoints.back().id;
    QVERIFY(wellNested(later.checkpoints.back().layers));
    later = *withoutLayer(later, layerCalled(later, "Outer"));
    const Document back = *withCheckpointBack(later, kept);
    QCOMPARE(tiesOf(back), tiesOf(d));
    // one group alone, with what lay in it
    const Checkpoint checkpoint = *checkpointOf(later, kept);
    for (const LayerPointer& l : checkpoint.layers)
      if (l->name == "Inner") later = *withKeptLayer(later, kept, l->id);
    QVERIFY(wellNested(later.layers));
    QCOMPARE(later.layers.size(), size_t{4});
    QVERIFY(documentFromState(stateOf(later), later.surface->size()));
  }
  void workOfTwoProgramsComesTogether() {
    Document d = test::documentOf(test::sphere(40, 10));
    for (const char* name : {"Low", "Mid", "High"})
      d = withFillLayer(d, name, Stratum::Pigment, {0.5f, 0.3f, 0.2f});
    test::Folder folder;
    auto store = Store::create(folder / "x.juvenor", d);
    History history(d, "made");
    QVERIFY(store->write(test::stepsOf(history), test::currentOf(history)));
    const auto open = [&] {
      auto opened = Store::open(folder / "x.juvenor")->read();
      return History(std::move(opened->steps), opened->current);
    };
    History mine = open(), theirs = open();
    // there a new layer, and a name; here two layers in a group, one from the other's mask
    Document there = withFillLayer(theirs.document(), "New", Stratum::Surface, {1, 0, 0});
    LayerChange name;
    name.name = "Middle";
    theirs.push(*withLayerChanged(there, layerCalled(there, "Mid"), name), "there");
    Document here =
        *withGroup(mine.document(),
                   {{layerCalled(mine.document(), "Mid"), layerCalled(mine.document(), "High")}}, "Mine");
    here = *withMaskFrom(here, layerCalled(here, "Low"), layerCalled(here, "Mine"));
    mine.push(here, "here");
    const auto both = putAfter({test::stepsOf(theirs), theirs.current()}, test::stepsOf(mine));
    QVERIFY2(both, both ? "" : both.error().what.c_str());
    const Document& together = both->back()->document;
    QVERIFY(wellNested(together.layers));
    QCOMPARE(together.layers.size(), size_t{5});
    QCOMPARE(layerOf(together, layerCalled(together, "Middle"))->group, layerCalled(together, "Mine"));
    QCOMPARE(layerOf(together, layerCalled(together, "Low"))->maskFrom, layerCalled(together, "Mine"));
  }
  void recipesTakeGroupsAlong() {
    const Document d = nestedWork();
    const auto taken = takeRecipe(d, std::array{layerCalled(d, "Outer"), layerCalled(d, "Top")}, "All");
    QVERIFY2(taken, taken ? "" : taken.error().what.c_str());
    QCOMPARE(taken->recipe.layers.size(), d.layers.size());
    const auto read = recipeFrom(toJson(taken->recipe));
    QVERIFY2(read, read ? "" : read.error().what.c_str());
    QVERIFY(*read == taken->recipe);
    Document other =
        withFillLayer(test::documentOf(test::sphere(30, 20)), "Own", Stratum::Pigment, {1, 1, 1});
    const auto laid = layRecipe(other, *read, {false, 8'000'000, {}});
    QVERIFY(laid);
    QVERIFY(wellNested(laid->document.layers));
    Document without = *withoutLayer(laid->document, layerCalled(laid->document, "Own"));
    QCOMPARE(tiesOf(without), tiesOf(d));
    // a member without its group lies in none
    const auto one = takeRecipe(d, std::array{layerCalled(d, "Low")}, "One");
    QCOMPARE(one->recipe.layers[0].layer->group, 0u);
  }
  // Source-atop (Porter and Duff): straight colours move as on opaque paint, and what covers stays.
  void coverStays() {
    Document d = withPaintedLayer(test::documentOf(test::plane(60, 20)), "Paint", Stratum::Pigment);
    ColorField half(d.surface->size());
    auto chunk = half.writable(0);
    for (size_t s = 0; s < d.surface->size(); ++s)
      if (d.surface->positions[s].x() < 0) setSample(*chunk, s, {20'000, 0, 0, 40'000});
    half.setChunk(0, chunk);
    d = *withPainted(d, d.activeLayer, half);
    LayerChange keep;
    keep.keepsCover = true;
    d = *withLayerChanged(d, d.activeLayer, keep);
    for (const char* ink : {"lay", "erase", "blend", "smear"}) {
      StrokeSetting setting;
      setting.ink = inkKind(ink);
      setting.layer = d.activeLayer;
      setting.paint = EncodedColor{0, 0, 1};
      setting.brush.radius = 6;
      setting.brush.flow = 1;
      setting.brush.opacity = 0.5f;
      setting.brush.hardness = 1;
      setting.brush.pressureSize = setting.brush.pressureFlow = false;
      Flood flood;
      auto stroke = PaintStroke::begin(d, setting, flood);
      QVERIFY(stroke);
      SurfacePoint p;
      for (const float x : {-3.f, 0.f, 3.f}) {
        p.position = {x, 0, 0};
        (*stroke)->stroke().moveTo(p, 1);
      }
      const Document after = *(*stroke)->finish();
      const ColorField& field = *layerOf(after, d.activeLayer)->source->painted();
      size_t blue = 0;
      for (size_t s = 0; s < field.size(); ++s) {
        const Rgba16 was = colorAt(half, s), is = colorAt(field, s);
        QCOMPARE(is.a, was.a);
        QVERIFY(std::max({is.r, is.g, is.b}) <= is.a);
        blue += is.b > 0;
        const Vec3& at = d.surface->positions[s];
        if (std::string_view(ink) == "lay" && at.x() < 0 && (at - Vec3(-3, 0, 0)).norm() < 4) {
          QVERIFY(std::abs(is.r - 10'000) < 30);
          QVERIFY(std::abs(is.b - 20'000) < 30);
        }
      }
      QCOMPARE(blue > 0, std::string_view(ink) == "lay");
    }
    // fills too
    const Document filled = *withFilled(d, d.activeLayer, {0.f, 0.f, 1.f}, 0.5f);
    const ColorField& field = *layerOf(filled, d.activeLayer)->source->painted();
    for (size_t s = 0; s < field.size(); s += 11) {
      const bool there = d.surface->positions[s].x() < 0;
      QVERIFY(std::abs(colorAt(field, s).a - (there ? 40'000 : 0)) <= 1);
      QVERIFY(std::abs(colorAt(field, s).b - (there ? 20'000 : 0)) <= 1);
    }
  }
};

JUVENOR_TEST(TestGroupsKept)
}  // namespace juvenor
#include "test_groups_kept.moc"
