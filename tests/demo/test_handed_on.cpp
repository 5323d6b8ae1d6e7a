// The keeper's skin as texture maps: it comes back from them as it went, and a mesh of a fiftieth of his
// points that wears them looks as he does.
#include "core/color/lab.h"
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/render/still.h"
#include "core/textures/bring_maps.h"
#include "core/textures/hand_on.h"
#include "core/textures/unwrap.h"
#include "demo/demo.h"
#include "support/brought.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Document keeper(size_t points) {
  const auto sculpt = std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::Keeper, points));
  return *demo::dressed(demo::Figure::Keeper, sculpt, *buildSurface(*sculpt));
}

HandOn wishFor(const test::Folder& folder, std::initializer_list<TextureKind> kinds, MapDepth depth,
               int pixels) {
  HandOn out;
  out.folder = folder.path();
  out.name = "keeper";
  out.pixels = pixels;
  for (const TextureKind kind : kinds) out.maps.push_back({TextureWish(kind), depth});
  return out;
}

EncodedColor colorOf(uint32_t pixel) {
  const auto of = [&](int shift) { return static_cast<float>(pixel >> shift & 0xff) / 255; };
  return {of(16), of(8), of(0)};
}

}  // namespace

class TestHandedOn : public QObject {
  Q_OBJECT
 private slots:
  void theSkinComesBackFromItsMaps() {
    const test::Folder folder;
    const auto laid = demo::laidOut(demo::Figure::Keeper, keeper(60'000));
    QVERIFY2(laid, laid ? "" : laid.error().message().c_str());
    const Document& d = *laid;
    const auto colour = handOn(d, wishFor(folder, {TextureKind::Colour}, MapDepth::Whole8, 2048));
    QVERIFY2(colour, colour ? "" : colour.error().message().c_str());
    HandOn wish = wishFor(folder, {TextureKind::Gloss, TextureKind::Height}, MapDepth::Whole16, 1024);
    wish.force = true;  // (the description beside the maps is there)
    const auto others = handOn(d, wish);
    QVERIFY2(others, others ? "" : others.error().message().c_str());
    Document bare = newDocument(d.sculpt, d.surface, d.placement);
    const auto back = withMaps(bare, 0,
                               {test::brought(BringAs::Colour, folder / "keeper_colour.png"),
                                test::brought(BringAs::Gloss, folder / "keeper_gloss.png"),
                                test::brought(BringAs::Height, folder / "keeper_height.png")},
                               "Back");
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    const ChannelFields before = *skinOf(d.layers, *d.maps, d.bare),
                        after = *skinOf(back->document.layers, *back->document.maps, back->document.bare);
    double color = 0, gloss = 0;
    float least = 1e9f, most = -1e9f;
    std::vector<float> relief;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      color +=
          deltaE2000(toLab(straight(colorAt(before.color(), s))), toLab(straight(colorAt(after.color(), s))));
      gloss += static_cast<double>(std::abs(from16(before.get<Channel::Gloss>().at(s)[0]) -
                                            from16(after.get<Channel::Gloss>().at(s)[0])));
      const float was = heightOf(before.get<Channel::Relief>().at(s)[0], d.reliefStep);
      least = std::min(least, was);
      most = std::max(most, was);
      relief.push_back(std::abs(was - heightOf(after.get<Channel::Relief>().at(s)[0], d.reliefStep)));
    }
    const auto count = static_cast<double>(d.surface->size());
    double height = 0;
    for (const float r : relief) height += static_cast<double>(r) / count;
    const double range = static_cast<double>(most - least);
    QVERIFY2(color / count < 0.5, qPrintable(QString("ΔE2000 %1").arg(color / count)));
    QVERIFY2(gloss / count < 1 / 255.0, qPrintable(QString("gloss %1").arg(255 * gloss / count)));
    QVERIFY(range > 0);
    QVERIFY2(height < 0.02 * range, qPrintable(QString("relief %1 of %2").arg(height).arg(range)));
  }
  void aFiftiethOfTheMeshLooksAsHeDoes() {
    const test::Folder folder;
    const Document d = keeper(120'000);
    // with UVs of its own
    Sculpt low = test::lighter(*d.sculpt, 50);
    QVERIFY2(low.polygonCount() * 45 < 2 * d.sculpt->polygonCount(),
             qPrintable(QString::number(low.polygonCount())));
    const auto laid = unwrapped(low, {});
    QVERIFY2(laid, laid ? "" : laid.error().message().c_str());
    low.uvSets = {laid->set};
    HandOn wish = wishFor(folder, {TextureKind::Colour}, MapDepth::Whole8, 2048);
    wish.by.mesh = std::make_shared<const Sculpt>(low);
    const auto out = handOn(d, wish);
    QVERIFY2(out, out ? "" : out.error().message().c_str());
    // it wears the map on points so fine that each pixel sees its texels
    const auto mesh = std::make_shared<const Sculpt>(low);
    Document worn = newDocument(mesh, *buildSurface(*mesh), d.placement);
    Refinement finer;
    finer.spacing = 0.5f * d.surface->spacing;
    worn = *withRefinement(worn, finer);
    const auto wears =
        withMaps(worn, 0, {test::brought(BringAs::Colour, folder / "keeper_colour.png")}, "Worn");
    QVERIFY2(wears, wears ? "" : wears.error().message().c_str());
    StillSetting still;
    still.size = {700, 700};
    still.view = View::Flat;
    still.background = 0xff000000;
    still.camera = framed({}, still.size, d.surface->bounds);
    const auto sculpted = stillOf(d, still), light = stillOf(wears->document, still);
    QVERIFY(sculpted && light);
    double sum = 0;
    size_t both = 0;
    for (size_t i = 0; i < sculpted->size(); ++i) {
      const uint32_t a = (*sculpted)[i], b = (*light)[i];
      if ((a & 0xffffff) == 0 || (b & 0xffffff) == 0) continue;
      sum += deltaE2000(toLab(colorOf(a)), toLab(colorOf(b)));
      ++both;
    }
    QVERIFY(both > 60'000);
    const double mean = sum / static_cast<double>(both);
    QVERIFY2(mean < 1, qPrintable(QString("ΔE2000 %1").arg(mean)));
  }
};

JUVENOR_TEST(TestHandedOn)

}  // namespace juvenor

#include "test_handed_on.moc"
