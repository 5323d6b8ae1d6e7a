// Cameras and variants that are kept in a document: as edits, and through its file.
#include "core/document/edits/edit_cameras.h"

#include "core/document/edits/edit_variants.h"
#include "core/document/edits/edits.h"
#include "core/document/store/state_json.h"
#include "core/document/store/store.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Look lookFromSide() {
  Look out;
  out.camera = lookingFrom(out.camera, Side::Right);
  out.camera.distance = 70;
  out.light.kind = LightKind::Lamps;
  out.light.lamps[1].kelvin = 4000;
  out.lightFollows = false;
  out.view = View::Clay;
  out.focus = {2.8f, Vec3(1, 2, 3)};
  out.backdrop.kind = BackdropKind::Gradient;
  out.backdrop.top = {0.5f, 0.25f, 0.125f};
  out.backdrop.ground = true;
  return out;
}

}  // namespace

class TestCameras : public QObject {
  Q_OBJECT
 private slots:
  void areKeptByName() {
    const Document bare = test::documentOf(test::sphere(10, 10));
    Look look = lookFromSide();
    look.stage = "zones";
    auto d = withCamera(bare, "Side", look);
    QVERIFY(d);
    d = withCamera(*d, "", {});
    QVERIFY(d);
    QCOMPARE(d->cameras.size(), size_t{2});
    QCOMPARE(d->cameras[1].name, std::string("Camera 2"));
    QVERIFY(d->cameras[0].look.stage.empty());
    QVERIFY(d->cameras[0].look.camera == look.camera);
    QVERIFY(!withCamera(*d, "Side", {}));
    QVERIFY(!withCameraNamed(*d, d->cameras[1].id, "Side"));
    QVERIFY(withCameraNamed(*d, d->cameras[0].id, "Side"));
    const uint32_t first = d->cameras[0].id;
    auto moved = withCameraMoved(*d, first, 1);
    QVERIFY(moved && moved->cameras[1].id == first);
    auto replaced = withCameraReplaced(*d, first, {});
    QVERIFY(replaced && replaced->cameras[0].look == Look{} && replaced->cameras[0].name == "Side");
    auto without = withoutCamera(*d, first);
    QVERIFY(without && !cameraNamed(*without, "Side"));
    QVERIFY(!withoutCamera(*without, first));
    QVERIFY(!withCameraReplaced(*without, first, {}));
    // numbers are not given twice
    auto again = withCamera(*without, "Side", {});
    QVERIFY(again && again->cameras.back().id != first);
    Document full = bare;
    for (size_t i = 0; i < kMostCameras; ++i) {
      auto more = withCamera(full, {}, {});
      QVERIFY(more);
      full = std::move(*more);
    }
    QVERIFY(!withCamera(full, {}, {}));
  }

  // What was seen before the sculpt was stood up another way is seen again.
  void standWithTheSculpt() {
    auto d = withCamera(test::documentOf(test::sphere(10, 10, Vec3(0, 0, 20))), "Eye", lookFromSide());
    QVERIFY(d);
    const Vec3 before = project(d->cameras[0].look.camera, {100, 100}, d->surface->positions[17]);
    Placement placement = d->placement;
    placement.up = Axis::PlusZ;
    placement.front = Axis::PlusX;
    const auto turned = withPlacement(*d, placement);
    QVERIFY(turned);
    QVERIFY((turned->surface->positions[17] - d->surface->positions[17]).norm() > 1);
    const Vec3 after = project(turned->cameras[0].look.camera, {100, 100}, turned->surface->positions[17]);
    QVERIFY((after - before).norm() < 1e-2f);
  }

  void goThroughAFile() {
    const test::Folder folder;
    auto d = withCamera(test::documentOf(test::sphere(10, 10)), "Kept “side”", lookFromSide());
    QVERIFY(d);
    *d = withFillLayer(*d, "Tone", Stratum::Flesh, {0.5f, 0.4f, 0.3f});
    auto varied = withVariant(*d, "As it is");
    QVERIFY(varied);
    const auto read = documentFromState(stateOf(*varied), varied->surface->size(), kDocumentFormat);
    QVERIFY2(read, read ? "" : read.error().message().c_str());
    QCOMPARE(read->cameras.size(), size_t{1});
    // (how it is turned is made one long again)
    KeptCamera back = read->cameras[0];
    const Camera& kept = varied->cameras[0].look.camera;
    QVERIFY(back.look.camera.turn.angularDistance(kept.turn) < 1e-5f);
    back.look.camera.turn = kept.turn;
    QVERIFY(back == varied->cameras[0]);
    QVERIFY(read->variants == varied->variants);
    QCOMPARE(read->nextCamera, varied->nextCamera);
    QCOMPARE(read->nextVariant, varied->nextVariant);
  }

  void strangeStatesAreTold() {
    auto d = withCamera(test::documentOf(test::sphere(10, 10)), "One", {});
    QVERIFY(d);
    *d = withFillLayer(*d, "Tone", Stratum::Flesh, {0.5f, 0.4f, 0.3f});
    auto varied = withVariant(*d, "As it is");
    QVERIFY(varied);
    const auto refused = [&](auto change) {
      nlohmann::json state = stateOf(*varied);
      change(state);
      return !documentFromState(state, varied->surface->size(), kDocumentFormat);
    };
    QVERIFY(!refused([](auto&) {}));
    QVERIFY(refused([](auto& s) { s["cameras"].push_back(s["cameras"][0]); }));
    QVERIFY(refused([](auto& s) { s["cameras"][0]["id"] = 99; }));
    QVERIFY(refused([](auto& s) { s["cameras"][0]["look"]["view"] = "inside"; }));
    QVERIFY(refused([](auto& s) { s["cameras"][0]["look"]["backdrop"] = {{"kind", "wall"}}; }));
    QVERIFY(refused([](auto& s) { s["cameras"][0]["look"]["focus"] = {{"sharp", {1, 2}}}; }));
    QVERIFY(refused([](auto& s) { s["cameras"][0].erase("name"); }));
    QVERIFY(refused([](auto& s) { s["variants"].push_back(s["variants"][0]); }));
    QVERIFY(refused([](auto& s) { s["variants"][0]["layers"] = 3; }));
    QVERIFY(refused([](auto& s) { s["variants"][0]["layers"].push_back("all"); }));
  }

  void variantsSayWhichLayersShow() {
    Document d = test::documentOf(test::sphere(10, 10));
    QVERIFY(!withVariant(d, "None"));
    d = withFillLayer(d, "Ground", Stratum::Flesh, {0.5f, 0.5f, 0.5f});
    d = withFillLayer(d, "Markings", Stratum::Pigment, {0.2f, 0.2f, 0.2f});
    const uint32_t markings = d.activeLayer;
    auto kept = withVariant(d, "Marked");
    QVERIFY(kept);
    LayerChange fade;
    fade.opacity = 0.25f;
    fade.visible = false;
    auto faded = withLayerChanged(*kept, markings, fade);
    QVERIFY(faded);
    faded = withVariant(*faded, "Plain");
    QVERIFY(faded);
    QVERIFY(!showsVariant(*faded, faded->variants[0]));
    QVERIFY(showsVariant(*faded, faded->variants[1]));
    // a layer that came later stays as it is
    Document later = withFillLayer(*faded, "Slime", Stratum::Surface, {0.4f, 0.5f, 0.4f});
    auto marked = asVariant(later, later.variants[0].id);
    QVERIFY(marked);
    QCOMPARE(layerOf(*marked, markings)->opacity, 1.f);
    QVERIFY(layerOf(*marked, markings)->visible);
    QVERIFY(layerOf(*marked, later.activeLayer)->visible);
    // what does not change is the same layer
    QVERIFY(marked->layers[0] == later.layers[0]);
    // one that is gone does not matter
    auto gone = withoutLayer(*marked, markings);
    QVERIFY(gone && asVariant(*gone, gone->variants[1].id));
    QVERIFY(!withVariant(later, "Plain"));
    QVERIFY(!asVariant(later, 77));
    auto replaced = withVariantReplaced(*marked, marked->variants[1].id);
    QVERIFY(replaced && replaced->variants[1].layers.size() == 3 && replaced->variants[1].name == "Plain");
    auto without = withoutVariant(*replaced, replaced->variants[0].id);
    QVERIFY(without && without->variants.size() == 1);
  }
};

JUVENOR_TEST(TestCameras)

}  // namespace juvenor

#include "test_cameras.moc"
