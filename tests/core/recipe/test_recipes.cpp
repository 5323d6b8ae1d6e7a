// Recipes: what comes along and what stays, sizes and places on other sculpts (another unit, another way up,
// few points, parts), what is told to be missing, and files with anything in them.
#include <zip.h>

#include <fstream>

#include "core/document/edits/edits.h"
#include "core/layers/filters/filter.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/markings.h"
#include "core/layers/sources/patterns.h"
#include "core/recipe/recipe.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A ball of a head: crown on top, chin below, the nose in front.
Document headOf(float radius, int rings = 60) {
  Document out = test::documentOf(test::sphere(rings, radius));
  out.landmarks = {
      {"crown", Vec3(0, radius, 0)}, {"chin", Vec3(0, -radius, 0)}, {"nose", Vec3(0, 0, radius)}};
  return out;
}

Document dressedHead() {
  Document d = headOf(100);
  d = withFillLayer(d, "Base", Stratum::Flesh, {0.6f, 0.5f, 0.4f});
  Speckle freckles;
  freckles.smallest = 1;
  freckles.largest = 4;
  HueZone nose;
  nose.name = "Nose";
  nose.landmark = "nose";
  nose.anchor = Vec3(0, 0, 100);
  nose.reach = 30;
  HueZone free = nose;
  free.name = "Neck";
  free.landmark.clear();
  free.anchor = Vec3(0, -80, 60);
  freckles.gather = {nose, free};
  MaskTerm term;
  term.map = usualMap(&kCavityMap, 0);
  term.map.scale = 5;
  term.melt = 2;
  freckles.density = {term};
  d = withSourceLayer(d, "Freckles", Stratum::Pigment, speckleSource(freckles));
  Scales scales;
  scales.guides.size.size = 14;
  scales.guides.direction.combs = {{{Vec3(0, 0, 100), Vec3(20, 0, 98)}, 0, 10, 1}};
  scales.guides.soothed = {{{Vec3(0, 0, 100)}, 0, 10, 1}};
  scales.depth = 0.8f;
  d = withSourceLayer(d, "Scales", Stratum::Surface, scaleSource(scales));
  return *withMask(withPaintedLayer(d, "Paint", Stratum::Surface), d.activeLayer);
}

std::vector<uint32_t> idsOf(const Document& d) {
  std::vector<uint32_t> out;
  for (const LayerPointer& l : d.layers) out.push_back(l->id);
  return out;
}

const LayerPointer& named(const Document& d, std::string_view name) {
  return *std::ranges::find_if(d.layers, [&](const LayerPointer& l) { return l->name == name; });
}

bool near(float a, float b, float part = 1e-3f) {
  return std::abs(a - b) <= part * std::abs(b);
}

}  // namespace

class TestRecipes : public QObject {
  Q_OBJECT
 private slots:
  void takesWhatWorksItselfOut() {
    const Document d = dressedHead();
    const auto taken = takeRecipe(d, idsOf(d), "Head");
    QVERIFY(taken);
    QCOMPARE(taken->recipe.layers.size(), size_t{3});
    QCOMPARE(taken->left.size(), size_t{2});  // the painted layer, and the painted mask of the scales
    QVERIFY(taken->left[0].find("mask of “Scales”") != std::string::npos);
    QVERIFY(taken->left[1].find("“Paint”") != std::string::npos);
    QVERIFY(taken->recipe.layers[2].leaveOut);
    const auto& scales = *scalesOf(*taken->recipe.layers[2].layer->source);
    // the head is 200 high
    QVERIFY(near(scales.guides.size.size, 0.07f) && near(scales.depth, 0.004f));
    QVERIFY(scales.guides.soothed.empty());
    QVERIFY(near(taken->recipe.spacing, std::max(14 / kLeastSpacings, d.surface->spacing) / 200));
    QVERIFY(!takeRecipe(d, std::array{named(d, "Paint")->id}, "Paint"));
  }

  // The same head in metres: all lengths follow, and what is drawn on it is the same.
  void sizesFollowTheHead() {
    const Document d = dressedHead(), small = headOf(0.1f);
    const Recipe recipe = takeRecipe(d, idsOf(d), "Head")->recipe;
    const auto laid = layRecipe(small, recipe, {false, 8'000'000, {}});
    QVERIFY2(laid, laid ? "" : laid.error().what.c_str());
    const Scales& scales = *scalesOf(*named(laid->document, "Scales")->source);
    QVERIFY(near(scales.guides.size.size, 0.014f) && near(scales.depth, 0.0008f));
    QVERIFY(near(scales.guides.direction.combs[0].width, 0.01f));
    QVERIFY((scales.guides.direction.combs[0].places[0] - Vec3(0, 0, 0.1f)).norm() < 0.005f);
    const Speckle& freckles = *speckleOf(*named(laid->document, "Freckles")->source);
    QVERIFY(near(freckles.largest, 0.004f) && near(freckles.gather[0].reach, 0.03f));
    QVERIFY(near(freckles.density[0].map.scale, 0.005f) && near(freckles.density[0].melt, 0.002f));
    QVERIFY((freckles.gather[0].anchor - Vec3(0, 0, 0.1f)).norm() < 0.005f);
    QVERIFY((freckles.gather[1].anchor - Vec3(0, -0.08f, 0.06f)).norm() < 0.01f);
    // and back on the large one it is as it was
    const auto again = layRecipe(headOf(100), takeRecipe(laid->document, idsOf(laid->document), "B")->recipe);
    QVERIFY(again && near(scalesOf(*named(again->document, "Scales")->source)->guides.size.size, 14, 1e-2f));
  }

  void whatIsNotThereIsTold() {
    const Document d = dressedHead();
    const Recipe recipe = takeRecipe(d, idsOf(d), "Head")->recipe;
    Document bare = headOf(100);
    bare.landmarks = {{"crown", Vec3(0, 100, 0)}, {"chin", Vec3(0, -100, 0)}};
    const auto laid = layRecipe(bare, recipe);
    QVERIFY(laid);
    QCOMPARE(laid->document.layers.size(), size_t{3});
    const auto told = [&](std::string_view what) {
      return std::ranges::any_of(laid->missing,
                                 [&](const std::string& m) { return m.find(what) != std::string::npos; });
    };
    QVERIFY(told("no landmark “nose” for the area “Nose”"));
    QVERIFY(told("nothing to leave out is known"));
    QCOMPARE(speckleOf(*named(laid->document, "Freckles")->source)->gather.size(), size_t{1});
  }

  void pointsAreAddedWhereItWantsThem() {
    const Document d = dressedHead();
    const Recipe recipe = takeRecipe(d, idsOf(d), "Head")->recipe;
    const Document coarse = headOf(100, 20);
    const auto laid = layRecipe(coarse, recipe);
    QVERIFY(laid && laid->document.surface->spacing < 1.2f * recipe.spacing * 200);
    QVERIFY(laid->document.surface->size() > 2 * coarse.surface->size());
    LayingSetting asIs;
    asIs.addPoints = false;
    const auto kept = layRecipe(coarse, recipe, asIs);
    QVERIFY(kept && kept->document.surface == coarse.surface);
    QVERIFY(kept->missing[0].find("too far apart") != std::string::npos);
    LayingSetting few;
    few.mostPoints = coarse.surface->size() + 100;
    const auto bounded = layRecipe(coarse, recipe, few);
    QVERIFY(bounded && bounded->document.surface->size() <= few.mostPoints);
  }

  // Laid on an eye, points come to that eye alone, and once only.
  void aPartGetsPointsByItself() {
    Document d = test::documentOf(test::together(test::sphere(40, 100), test::sphere(20, 20, {0, 0, 110})));
    d.landmarks = headOf(100).landmarks;
    Recipe recipe;
    recipe.name = "Wet";
    recipe.spacing = 1.5f / 200;
    recipe.layers.push_back({std::make_shared<Layer>(
        Layer{1, "Wet", Stratum::Flesh, fillSource(EncodedColor{0.6f, 0.4f, 0.3f}), {}, {}})});
    LayingSetting onEye;
    onEye.parts = {1};
    const auto ofPart = [](const Document& of, uint32_t part) {
      return std::ranges::count(of.surface->parts, part);
    };
    const auto laid = layRecipe(d, recipe, onEye);
    QVERIFY(laid && laid->missing.empty());
    QVERIFY(ofPart(laid->document, 1) > 2 * ofPart(d, 1));
    QCOMPARE(ofPart(laid->document, 0), ofPart(d, 0));
    const auto again = layRecipe(laid->document, recipe, onEye);
    QVERIFY(again && again->document.surface == laid->document.surface);
    // and where it may not get any it is told of the eye, not of the head
    onEye.addPoints = false;
    QVERIFY(layRecipe(laid->document, recipe, onEye)->missing.empty());
    QCOMPARE(layRecipe(d, recipe, onEye)->missing.size(), size_t{1});
  }

  // A skin leaves eyes and teeth as they are; one for eyes is laid on them by name.
  void skinLiesOnWhatIsSkin() {
    const Sculpt eye = test::plane(8, 4, "Left eye"), lid = test::plane(6, 4, "Left eyelid");
    const Document d = test::documentOf(test::together(test::together(test::sphere(30, 10), eye), lid));
    QCOMPARE(skinParts(d), (std::set<uint32_t>{0, 2}));
    Recipe recipe;
    recipe.name = "Tone";
    recipe.layers.push_back({std::make_shared<Layer>(
        Layer{1, "Tone", Stratum::Flesh, fillSource(EncodedColor{0.6f, 0.4f, 0.3f}), {}, {}})});
    LayingSetting onEyes;
    onEyes.parts = {1};
    for (const bool chosen : {false, true}) {
      const auto laid = layRecipe(d, recipe, chosen ? onEyes : LayingSetting());
      QVERIFY(laid);
      const ScalarField& mask = *laid->document.layers.front()->mask;
      for (size_t s = 0; s < mask.size(); ++s)
        QCOMPARE(mask.at(s)[0], uint16_t((d.surface->parts[s] == 1) == chosen ? 65535 : 0));
    }
    // where all is skin nothing is masked
    QVERIFY(!layRecipe(test::documentOf(test::sphere(30, 10)), recipe)->document.layers.front()->mask);
  }

  void liesOnPartsAlone() {
    Document d = test::documentOf(test::together(test::sphere(30, 10), test::sphere(30, 4, Vec3(30, 0, 0))));
    Recipe recipe;
    recipe.name = "Red";
    recipe.layers = {{withFillLayer(d, "Red", Stratum::Flesh, {1, 0, 0}).layers[0], false}};
    LayingSetting setting;
    setting.parts = {1};
    const auto laid = layRecipe(d, recipe, setting);
    QVERIFY(laid);
    const ScalarField& mask = *laid->document.layers[0]->mask;
    for (uint32_t s = 0; s < d.surface->size(); ++s)
      QCOMPARE(mask.at(s)[0], d.surface->parts[s] == 1 ? uint16_t{65535} : uint16_t{0});
  }

  void layersLieOnTopOfTheirStrata() {
    const Document d = dressedHead();
    const Recipe recipe = takeRecipe(d, idsOf(d), "Head")->recipe;
    const auto laid = layRecipe(d, recipe);
    QVERIFY(laid);
    std::string order;
    for (const LayerPointer& l : laid->document.layers) order += l->name + " ";
    QCOMPARE(order, std::string("Base Base Freckles Freckles Scales Paint Scales "));
    for (size_t i = 1; i < laid->document.layers.size(); ++i)
      QVERIFY(laid->document.layers[i - 1]->stratum <= laid->document.layers[i]->stratum);
  }

  void filesComeBack() {
    const test::Folder folder;
    const Document d = dressedHead();
    Recipe recipe = takeRecipe(d, idsOf(d), "Head")->recipe;
    recipe.about = "A ball";
    recipe.picture = std::string("\x89PNG\0more", 9);
    QVERIFY(writeRecipe(folder / "a.juvenor-recipe", recipe));
    const auto read = readRecipe(folder / "a.juvenor-recipe");
    QVERIFY2(read, read ? "" : read.error().message().c_str());
    QVERIFY(*read == recipe);
    // the same bytes every time
    QVERIFY(writeRecipe(folder / "b.juvenor-recipe", *read));
    std::ifstream a(folder / "a.juvenor-recipe", std::ios::binary),
        b(folder / "b.juvenor-recipe", std::ios::binary);
    QVERIFY(std::string(std::istreambuf_iterator<char>(a), {}) ==
            std::string(std::istreambuf_iterator<char>(b), {}));
    QVERIFY(!writeRecipe("/nowhere/at/all.juvenor-recipe", recipe));
  }

  void strangeRecipesAreRefused() {
    const Document d = dressedHead();
    const auto good = toJson(takeRecipe(d, idsOf(d), "Head")->recipe);
    QVERIFY(recipeFrom(good));
    const auto refused = [&](const std::function<void(nlohmann::json&)>& change, std::string_view says) {
      auto wrong = good;
      change(wrong);
      const auto read = recipeFrom(wrong);
      return !read && read.error().what.find(says) != std::string::npos;
    };
    QVERIFY(refused([](auto& j) { j["format"] = 2u; }, "format 2"));
    QVERIFY(refused([](auto& j) { j.erase("layers"); }, "layers"));
    QVERIFY(refused([](auto& j) { j["layers"] = nlohmann::json::array(); }, "no layer"));
    QVERIFY(refused([](auto& j) { j["layers"][0] = 3; }, "no object"));
    QVERIFY(refused([](auto& j) { j["layers"][0]["kind"] = "wood"; }, "wood"));
    QVERIFY(refused([](auto& j) { j["layers"][0]["leave-out"] = 1; }, "leave-out"));
    QVERIFY(refused(
        [](auto& j) {
          j["layers"][0] = {{"name", "P"},       {"stratum", "flesh"},
                            {"kind", "painted"}, {"parameters", nlohmann::json::object()},
                            {"blend", "normal"}, {"opacity", 1}};
        },
        "painted"));
    QVERIFY(refused([](auto& j) { j["landmarks"][0]["position"] = {1, 2}; }, "landmark"));
  }

  // Every byte is anybody's: cut short, or changed, a file is read or refused in words.
  void damagedFilesAreRefused() {
    const test::Folder folder;
    const Document d = dressedHead();
    const auto path = folder / "r.juvenor-recipe";
    QVERIFY(writeRecipe(path, takeRecipe(d, idsOf(d), "Head")->recipe));
    std::ifstream in(path, std::ios::binary);
    const std::string whole(std::istreambuf_iterator<char>(in), {});
    size_t unnamed = 0;  // refusals that do not say which file
    const auto tried = [&](const std::string& bytes) {
      std::ofstream(path, std::ios::binary | std::ios::trunc) << bytes;
      const auto read = readRecipe(path);
      unnamed += !read && read.error().message().find("r.juvenor-recipe") == std::string::npos;
      return bool(read);
    };
    QVERIFY(tried(whole));
    for (size_t cut = 0; cut < whole.size(); cut += std::max<size_t>(1, whole.size() / 60))
      QVERIFY(!tried(whole.substr(0, cut)));
    size_t refused = 0;
    for (size_t at = 0; at < whole.size(); at += std::max<size_t>(1, whole.size() / 150)) {
      std::string changed = whole;
      changed[at] = static_cast<char>(~changed[at]);
      refused += !tried(changed);
    }
    QVERIFY(refused > 100);
    QCOMPARE(unnamed, size_t{0});
    QVERIFY(!tried("no zip at all"));
    const auto nothing = readRecipe(folder / "none.juvenor-recipe");
    QVERIFY(!nothing && nothing.error().message().find("none.juvenor-recipe") != std::string::npos);
  }

  // A file of a few bytes that says it holds more than anything is refused before it is unpacked.
  void bombsAreRefused() {
    const test::Folder folder;
    const auto path = folder / "bomb.juvenor-recipe";
    const std::string zeros(size_t{80} << 20, ' ');
    int error = 0;
    zip_t* zip = zip_open(path.c_str(), ZIP_CREATE, &error);
    QVERIFY(zip);
    zip_file_add(zip, "recipe.json", zip_source_buffer(zip, zeros.data(), zeros.size(), 0), 0);
    QCOMPARE(zip_close(zip), 0);
    const auto read = readRecipe(path);
    QVERIFY(!read && read.error().what.find("too large") != std::string::npos);
  }
};

JUVENOR_TEST(TestRecipes)
}  // namespace juvenor
#include "test_recipes.moc"
