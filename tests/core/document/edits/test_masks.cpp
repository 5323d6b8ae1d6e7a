// Painted masks and the guard, fills by parts, landmarks and zones, board and wells: edits of a document and
// their way through a file.
#include <OpenImageIO/imageio.h>

#include "core/color/lab.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/document/store/state_json.h"
#include "core/document/store/store.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/ramp.h"
#include "core/render/still.h"
#include "support/made.h"
#include "support/old_formats.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// Two planes as two parts, a painted layer over them, its mask hiding everything but a disc of radius 3.
Document withDisc() {
  Sculpt second = test::plane(20, 10, "Second");
  for (Vec3& v : second.vertices) v.z() = -5;
  Document d = test::documentOf(test::together(test::plane(100, 20, "First"), second));
  d = withPaintedLayer(d, "Paint", Stratum::Flesh);
  ScalarField mask = openMask(d.surface->size());
  for (size_t c = 0; c < mask.chunkCount(); ++c) {
    auto chunk = mask.writable(c);
    for (size_t i = 0; i < kChunkSize && c * kChunkSize + i < mask.size(); ++i) {
      const size_t s = c * kChunkSize + i;
      if (d.surface->parts[s] != 0 || d.surface->positions[s].norm() > 3) chunk->plane[0][i] = 0;
    }
    mask.setChunk(c, std::move(chunk));
  }
  return *withMaskField(d, d.activeLayer, std::move(mask));
}

// How much of the first plane shows, as the radius of a disc.
double radiusShown(const Document& d, uint32_t id) {
  const ScalarField mask = *maskFieldOf(d, id);
  double area = 0;
  for (size_t s = 0; s < mask.size(); ++s)
    if (d.surface->parts[s] == 0) area += static_cast<double>(from16(mask.at(s)[0]) * d.surface->areas[s]);
  return std::sqrt(area / M_PI);
}

std::filesystem::path pictureIn(const test::Folder& folder, const std::string& name, int width = 40,
                                int height = 30) {
  std::vector<uint8_t> bytes;
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x)
      for (const int c : {x < width / 2 ? 200 : 40, 8 * y, 60}) bytes.push_back(static_cast<uint8_t>(c));
  const std::filesystem::path path = folder / name;
  const auto out = OIIO::ImageOutput::create(path.string());
  OIIO::ImageSpec spec(width, height, 3, OIIO::TypeDesc::UINT8);
  spec.attribute("compression", "lossless");
  if (!out || !out->open(path.string(), spec) || !out->write_image(OIIO::TypeDesc::UINT8, bytes.data()))
    qFatal("no picture was written");
  out->close();
  return path;
}

// A still as those programs made it: eight rays spread evenly over each pixel, their bytes averaged.
std::vector<uint32_t> boxPicture(const Document& d, const StillSetting& setting) {
  const auto rays = *d.maps->rays();
  const ChannelFields skin = *skinOf(d.layers, *d.maps, d.bare);
  const ShadeInput input = shadeInputOf(*d.surface, skin, {}, setting);
  VisibilityImage seen;
  std::vector<uint32_t> out(static_cast<size_t>(setting.size.width) *
                            static_cast<size_t>(setting.size.height));
  std::vector<std::array<uint32_t, 3>> sums(out.size());
  constexpr uint32_t kRays = 8;
  for (uint32_t ray = 0; ray < kRays; ++ray) {
    const double a = 0.5 + 0.7548776662466927 * ray, b = 0.5 + 0.5698402909980532 * ray;
    castVisibility(*rays, setting.camera, setting.size,
                   Vec2(static_cast<float>(a - std::floor(a)), static_cast<float>(b - std::floor(b))),
                   d.hiddenParts, seen);
    shade(input, seen, {0, 0, setting.size.width, setting.size.height}, out);
    for (size_t i = 0; i < out.size(); ++i)
      for (size_t c = 0; c < 3; ++c) sums[i][c] += out[i] >> (16 - 8 * c) & 0xff;
  }
  for (size_t i = 0; i < out.size(); ++i)
    out[i] = 0xff000000u | (sums[i][0] + 4) / kRays << 16 | (sums[i][1] + 4) / kRays << 8 |
             (sums[i][2] + 4) / kRays;
  return out;
}

}  // namespace

class TestMasks : public QObject {
  Q_OBJECT
 private slots:
  // documents keep written chunks alone, and read what is missing as open
  void whatHidesUnwrittenHidesInTheFileToo() {
    Document d = test::documentOf(test::plane(100, 20));
    d = withPaintedLayer(d, "Paint", Stratum::Flesh);
    const ScalarField none = closedMask(d.surface->size());
    QVERIFY(!none.holdsAny() && none.at(0)[0] == 0);
    d = *withMaskField(d, d.activeLayer, none);
    d = *withMaskField(d, kGuard, none);
    QVERIFY(d.layers.back()->mask->chunk(0) == d.layers.back()->mask->chunk(1));
    const test::Folder folder;
    const History h(d, "Begin");
    QVERIFY(saveAs(folder / "w.juvenor", std::vector(h.steps().begin(), h.steps().end()), h.steps()[0]->id));
    const auto opened = Store::open(folder / "w.juvenor")->read();
    QVERIFY(opened);
    const Document& again = opened->steps.back()->document;
    QVERIFY(test::sameValues(*maskFieldOf(again, d.activeLayer), none));
    QVERIFY(test::sameValues(*maskFieldOf(again, kGuard), none));
  }

  void growsAndShrinksByAWayAlongTheSkin() {
    const Document d = withDisc();
    const uint32_t id = d.activeLayer;
    const double before = radiusShown(d, id);
    QVERIFY(std::abs(radiusShown(*withGrownMask(d, id, 1.5f), id) - before - 1.5) < 0.06);
    QVERIFY(std::abs(radiusShown(*withGrownMask(d, id, -1.5f), id) - before + 1.5) < 0.06);
    // the other part lies near in space, not along the skin
    const ScalarField grown = *maskFieldOf(*withGrownMask(d, id, 8), id);
    for (size_t s = 0; s < grown.size(); ++s)
      if (d.surface->parts[s] == 1) QCOMPARE(grown.at(s)[0], uint16_t{0});
  }
  void meltingKeepsTheAmount() {
    const Document d = withDisc();
    const Document soft = *withMeltedMask(d, d.activeLayer, 1);
    QVERIFY(std::abs(radiusShown(soft, d.activeLayer) - radiusShown(d, d.activeLayer)) < 0.03);
    const ScalarField mask = *maskFieldOf(soft, d.activeLayer);
    size_t between = 0;
    for (size_t s = 0; s < mask.size(); ++s) between += mask.at(s)[0] > 6000 && mask.at(s)[0] < 59000;
    QVERIFY(between > 500);
    QVERIFY(!withMeltedMask(d, d.activeLayer, 0));
    QVERIFY(!withMeltedMask(withPaintedLayer(d, "bare", Stratum::Flesh), d.nextLayer, 1));
  }
  // The mask of one layer says where another is filled; its maps count too, and the guard holds.
  void fillsThroughTheMaskOfALayer() {
    Document d = withDisc();
    const uint32_t disc = d.activeLayer;
    d = withPaintedLayer(d, "Filled", Stratum::Pigment);
    const uint32_t id = d.activeLayer;
    const EncodedColor red{1, 0, 0};
    QVERIFY(!withFilledThrough(d, id, red, 1, id));
    const auto alphaAt = [&](const Document& x, size_t s) {
      return layerOf(x, id)->source->painted()->at(s)[3];
    };
    const Document filled = *withFilledThrough(d, id, red, 0.5f, disc);
    QVERIFY(!maskFieldOf(filled, id));
    size_t inside = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const bool shown = maskFieldOf(d, disc)->at(s)[0] > 0;
      inside += shown;
      QVERIFY(std::abs(alphaAt(filled, s) - (shown ? 32768 : 0)) <= 1);
    }
    QVERIFY(inside > 100);
    // half of the disc by a map, and a guard over the rest
    MaskTerm right;
    right.map = {&kElevationMap, 0, Vec3::UnitX()};
    right.low = 0.5f;
    right.fade = 0;
    const Document halved = *withMaskTerms(d, disc, {right});
    const Document half = *withFilledThrough(halved, id, red, 1, disc);
    for (size_t s = 0; s < d.surface->size(); ++s)
      if (std::abs(d.surface->positions[s].x()) > 0.3f)
        QCOMPARE(alphaAt(half, s) > 0, alphaAt(filled, s) > 0 && d.surface->positions[s].x() > 0);
    ScalarField closed(d.surface->size());
    const Document guarded = *withMaskField(d, kGuard, std::move(closed));
    const Document held = *withFilledThrough(guarded, id, red, 1, disc);
    for (size_t s = 0; s < d.surface->size(); s += 7) QCOMPARE(alphaAt(held, s), uint16_t{0});
  }
  void fromPartsColoursAndBrightness() {
    Document d = withDisc();
    const uint32_t id = d.activeLayer;
    const Document parts = *withMaskFromParts(d, id, {1});
    for (size_t s = 0; s < d.surface->size(); s += 11)
      QCOMPARE(maskFieldOf(parts, id)->at(s)[0], d.surface->parts[s] == 1 ? uint16_t{65535} : uint16_t{0});
    // two picked colours, the first part in one of them
    d = *withoutMask(d, id);
    d = *withPartsFilled(d, id, {{0, {0.6f, 0.3f, 0.2f}}, {1, {0.2f, 0.3f, 0.7f}}});
    const std::vector<EncodedColor> picked{{0.6f, 0.3f, 0.2f}, {0.1f, 0.9f, 0.1f}};
    const Document byColor = *withMaskFromColors(d, id, picked, 3, 2);
    const EncodedColor near{0.66f, 0.34f, 0.22f};
    const double away = deltaE2000(toLab(near), toLab(picked[0]));
    QVERIFY(away > 1);
    const Document soft =
        *withMaskFromColors(*withFilled(d, id, near, 1, 0), id, picked, static_cast<float>(away) - 1, 2);
    for (size_t s = 0; s < d.surface->size(); s += 11) {
      const bool first = d.surface->parts[s] == 0;
      QCOMPARE(maskFieldOf(byColor, id)->at(s)[0], first ? uint16_t{65535} : uint16_t{0});
      QVERIFY(std::abs(int(maskFieldOf(soft, id)->at(s)[0]) - (first ? 32768 : 0)) < 60);
    }
    MaskTerm bright;
    bright.low = 0.5f;
    bright.fade = 0;
    bright.high = 1;
    const Document light = *withMaskFromBrightness(*withFilled(d, id, {0.9f, 0.9f, 0.9f}, 1, 0), id, bright);
    for (size_t s = 0; s < d.surface->size(); s += 11)
      QCOMPARE(maskFieldOf(light, id)->at(s)[0], d.surface->parts[s] == 0 ? uint16_t{65535} : uint16_t{0});
    MaskTerm up;
    up.map = usualMap(&kElevationMap, 10);
    up.map.direction = Vec3::UnitZ();
    const Document mapped = *withMaskFromMaps(d, id, {up});
    QCOMPARE(maskFieldOf(mapped, id)->at(0)[0], d.surface->parts[0] == 0 ? uint16_t{65535} : uint16_t{0});
  }
  // What the guard protects no ink and no fill changes; the guard itself is painted like a mask.
  void theGuardProtectsFromInksAndFills() {
    Document d = withDisc();
    d = *withoutMask(d, d.activeLayer);
    const uint32_t id = d.activeLayer;
    d = *withFilled(*withCheckpoint(d, "Before", 0), id, {0.6f, 0.5f, 0.4f}, 1);
    Flood flood;
    const auto stroke = [&](const char* ink, bool onGuard, float radius) {
      StrokeSetting setting;
      setting.brush.radius = radius;
      setting.brush.flow = 1;
      setting.brush.hardness = 0.9f;
      setting.ink = inkKind(ink);
      setting.paint.color = {1, 0, 0};
      setting.layer = id;
      setting.onGuard = onGuard;
      auto s = PaintStroke::begin(d, setting, flood);
      SurfacePoint p;
      for (const float x : {-2.f, 2.f}) {
        p.position = {x, 0, 0};
        (*s)->stroke().moveTo(p, 1);
      }
      d = *(*s)->finish();
    };
    stroke("lay", true, 1);
    QVERIFY(d.guard);
    const ColorField before = *layerOf(d, id)->source->painted();
    for (const InkKind& ink : inkKinds()) stroke(ink.key.data(), false, 4);
    d = *withFilled(d, id, {0, 1, 0}, 1);
    d = *withPartsFilled(d, id, {{0, {0, 1, 1}}}, 0.5f);
    const ColorField& after = *layerOf(d, id)->source->painted();
    size_t kept = 0, changed = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      if (d.guard->at(s)[0] == 0) {
        QCOMPARE(colorAt(after, s), colorAt(before, s));
        ++kept;
      } else if (d.guard->at(s)[0] == 65535) {
        changed += !(colorAt(after, s) == colorAt(before, s));
      }
    }
    QVERIFY2(kept > 100 && changed > 1000, qPrintable(QString("%1 %2").arg(kept).arg(changed)));
    QVERIFY(!withoutMask(d, kGuard)->guard);
    const Document inverted = *withInvertedMask(d, kGuard);
    QCOMPARE(inverted.guard->at(5)[0], static_cast<uint16_t>(65535 - d.guard->at(5)[0]));
  }
  // A guard that is partly open means the same to a stroke and to a fill: what they do arrives by that share,
  // however often the pen passes.
  void aPartGuardLimitsStrokesAndFillsAlike() {
    const Document open = *withFilled(*withoutMask(withDisc(), withDisc().activeLayer),
                                      withDisc().activeLayer, {0.6f, 0.5f, 0.4f}, 1);
    const uint32_t id = open.activeLayer;
    const auto painted = [&](const Document& d, const char* ink) {
      StrokeSetting setting;
      setting.brush.radius = 4;
      setting.brush.flow = 1;
      setting.ink = inkKind(ink);
      setting.paint.color = {1, 0, 0};
      setting.layer = id;
      Flood flood;
      auto s = PaintStroke::begin(d, setting, flood);
      SurfacePoint p;
      for (const float x : {-2.f, 2.f, -2.f, 2.f, -2.f, 2.f}) {
        p.position = {x, 0, 0};
        (*s)->stroke().moveTo(p, 1);
      }
      return *(*s)->finish();
    };
    const auto colors = [&](const Document& d) { return *layerOf(d, id)->source->painted(); };
    for (const float share : {0.25f, 0.5f, 0.9f}) {
      ScalarField partly = openMask(open.surface->size());
      for (size_t c = 0; c < partly.chunkCount(); ++c) {
        auto chunk = partly.writable(c);
        std::ranges::fill(chunk->plane[0], to16(share));
        partly.setChunk(c, std::move(chunk));
      }
      const Document held = *withMaskField(open, kGuard, std::move(partly));
      const std::array<std::pair<Document, Document>, 3> tries{
          std::pair{painted(open, "lay"), painted(held, "lay")},
          std::pair{painted(open, "erase"), painted(held, "erase")},
          std::pair{*withFilled(open, id, {0, 1, 0}, 1), *withFilled(held, id, {0, 1, 0}, 1)}};
      const ColorField before = colors(open);
      for (const auto& [free, guarded] : tries) {
        const ColorField all = colors(free), part = colors(guarded);
        size_t changed = 0;
        for (size_t s = 0; s < open.surface->size(); ++s)
          for (size_t c = 0; c < 4; ++c) {
            const float was = before.at(s)[c], whole = all.at(s)[c];
            QVERIFY(std::abs(part.at(s)[c] - (was + share * (whole - was))) < 3);
            changed += std::abs(whole - was) > 5000;
          }
        QVERIFY(changed > 1000);
      }
    }
  }
  void landmarksCarryTheirZones() {
    Document d = test::documentOf(test::sphere(48, 100));
    QVERIFY(!withUsualZones(d));
    QVERIFY(!withLandmark(d, "elbow", Vec3::Zero()));
    for (const auto& [key, p] : std::map<std::string, Vec3>{{"crown", {0, 100, 0}},
                                                            {"chin", {0, -80, 60}},
                                                            {"nose", {0, 0, 100}},
                                                            {"cheekbone", {60, 0, 80}}})
      d = *withLandmark(d, key, p);
    d = *withUsualZones(d);
    const ZoneSet* zones = layerOf(d, d.activeLayer)->source->zones();
    QVERIFY(zones);
    QCOMPARE(zones->zones.size(), size_t{4});
    const auto named = [&](const char* key) {
      return *std::ranges::find(layerOf(d, d.activeLayer)->source->zones()->zones, key, &HueZone::landmark);
    };
    QVERIFY(named("cheekbone").mirrored && !named("nose").mirrored);
    // the crown yellow, nose and cheeks red, the chin blue-grey (common practice)
    QVERIFY(std::abs(named("crown").tint.hue - 85) < 25 && std::abs(named("nose").tint.hue - 25) < 20 &&
            std::abs(named("chin").tint.hue - 245) < 30);
    const float height = (Vec3(0, 100, 0) - Vec3(0, -80, 60)).norm();
    QVERIFY(named("nose").reach > 0.05f * height && named("nose").reach < 0.3f * height);
    d = *withLandmark(d, "nose", {5, 10, 99});
    QVERIFY(named("nose").anchor == Vec3(5, 10, 99));
    QVERIFY(named("chin").anchor == Vec3(0, -80, 60));
  }
  void picturesOfEveryKindAreRead() {
    const test::Folder folder;
    for (const char* name : {"a.png", "a.tif", "a.exr", "a.webp", "a.jpg"}) {
      const auto picture = readPicture(pictureIn(folder, name));
      QVERIFY2(bool(picture), picture ? "" : picture.error().message().c_str());
      QCOMPARE((*picture)->width, 40);
      QCOMPARE((*picture)->height, 30);
      const EncodedColor left = meanColor(**picture, 10, 15, 5), right = meanColor(**picture, 30, 15, 5);
      // an EXR holds linear numbers, so what was written as 200 of 255 is that much light
      const float expected = name == std::string("a.exr") ? encodeSrgb(200 / 255.f) : 200 / 255.f;
      QVERIFY2(std::abs(left.r - expected) < 0.03f && right.r < left.r - 0.3f, name);
    }
    const auto flat = readPicture(pictureIn(folder, "b.png", 9, 9));
    QCOMPARE(toHex(meanColor(**flat, 0, 3, 1)), std::string("#c8183c"));
    for (const char* bytes : {"", "no picture", "\x89PNG\r\n\x1a\nshort"}) {
      const auto damaged = decodePicture(bytes, "torn.png");
      QVERIFY(!damaged);
      QCOMPARE(damaged.error().where, std::string("torn.png"));
    }
    std::string cut = (*flat)->file;
    cut.resize(cut.size() / 2);
    QVERIFY(!decodePicture(cut, "cut.png"));
  }
  void boardAndWellsAreEdits() {
    const test::Folder folder;
    Document d = test::documentOf(test::plane(4, 4));
    const auto data = *readPicture(pictureIn(folder, "mud.png"));
    d = withPicture(withPicture(d, "mud", data), "mud again", data);
    QCOMPARE(d.board.size(), size_t{2});
    QVERIFY(d.board[0].id != d.board[1].id);
    d = *withPictureView(d, d.board[1].id, 0.25f, 2, 3);
    QCOMPARE(d.board[1].centerY, 1.f);
    QVERIFY(!withPictureView(d, 99, 0, 0, 1) && !withoutPicture(d, 99));
    d = *withoutPicture(d, d.board[0].id);
    QCOMPARE(d.board.front().name, std::string("mud again"));
    QCOMPARE(withWells(d, {{1, 0, 0}}).wells.size(), size_t{1});
  }
  // Zones, recipes, measured maps, guard, landmarks and pictures survive a file, and the maps are not
  // measured again.
  void everythingNewComesBackFromAFile() {
    const test::Folder folder;
    Document d = withDisc();
    MaskTerm up;
    up.map = {&kOcclusionMap, 2, Vec3::UnitY()};
    d = *withMaskTerms(d, d.activeLayer, {up});
    d = *withLandmark(*withLandmark(d, "nose", {0, 0, 0}), "chin", {0, -5, 0});
    d = *withUsualZones(d);
    d = withSourceLayer(d, "Ramp", Stratum::Pigment,
                        rampSource({up}, {{0, {1, 0, 0}, 1}, {1, {0, 0, 1}, 0.5f}}));
    d = *withInvertedMask(*withMask(d, kGuard), kGuard);
    d = withPicture(d, "mud", *readPicture(pictureIn(folder, "mud.png")));
    History h(d, "Open");
    h.push(*withPictureView(d, d.board[0].id, 0.3f, 0.4f, 2), "View");
    const std::vector<StepPointer> steps{h.steps().begin(), h.steps().end()};
    QVERIFY(saveAs(folder / "x.juvenor", steps, steps.back()->id));
    const auto back = Store::open(folder / "x.juvenor", true)->read();
    QVERIFY2(bool(back), back ? "" : back.error().message().c_str());
    const Document& e = back->steps.back()->document;
    QVERIFY(e.maps->known(up.map));
    QCOMPARE(**e.maps->map(up.map), **d.maps->map(up.map));
    QVERIFY(e.landmarks == d.landmarks);
    QCOMPARE(e.guard->at(3)[0], uint16_t{0});
    QCOMPARE(e.board.size(), size_t{1});
    QCOMPARE(e.board[0].nearer, 2.f);
    QCOMPARE(e.board[0].data->pixels, d.board[0].data->pixels);
    QCOMPARE(e.board[0].data, back->steps.front()->document.board[0].data);
    for (size_t i = 0; i < d.layers.size(); ++i) {
      QVERIFY(e.layers[i]->terms == d.layers[i]->terms);
      QCOMPARE(e.layers[i]->source->parameters(), d.layers[i]->source->parameters());
    }
    QVERIFY(
        test::sameValues(*compositeOf(e.layers, *e.maps, e.bare), *compositeOf(d.layers, *d.maps, d.bare)));
  }
  // A file of the first format is read, and brought up to date when it is saved into.
  void aFileOfTheFirstFormatIsTakenUp() {
    const test::Folder folder;
    Document d = withDisc();
    History h(d, "Open");
    std::vector<StepPointer> steps{h.steps().begin(), h.steps().end()};
    QVERIFY(saveAs(folder / "old.juvenor", steps, steps.back()->id));
    {
      auto db = Database::open(folder / "old.juvenor", Database::Mode::ReadWrite);
      QVERIFY(test::asFormat7(*db));
      QVERIFY(db->run(
          "INSERT INTO meta SELECT 'order', group_concat(step) FROM (SELECT step FROM sequence "
          "ORDER BY place); DROP TABLE sequence; DROP TABLE map; DROP TABLE grown; DROP TABLE picture; "
          "DROP TABLE named; ALTER TABLE step DROP COLUMN time; PRAGMA user_version = 1"));
    }
    QVERIFY(Store::open(folder / "old.juvenor", true)->read());
    auto store = Store::open(folder / "old.juvenor");
    auto opened = store->read();
    QVERIFY(opened);
    Document next =
        withPicture(opened->steps.back()->document, "mud", *readPicture(pictureIn(folder, "mud.png")));
    History more(std::move(opened->steps), 0);
    more.push(next, "Picture");
    steps.assign(more.steps().begin(), more.steps().end());
    const Outcome written = store->write(steps, steps.back()->id);
    QVERIFY2(bool(written), written ? "" : written.error().message().c_str());
    QCOMPARE(Store::open(folder / "old.juvenor", true)->read()->steps.back()->document.board.size(),
             size_t{1});
  }
  // Files that older programs wrote, with masks, a ramp and zones over maps: they look the same to the byte,
  // and are of the newest format once they are saved.
  void filesOfOlderFormatsLookTheSame_data() {
    QTest::addColumn<QString>("format");
    for (const char* format : {"format-2", "format-3"}) QTest::newRow(format) << format;
  }
  void filesOfOlderFormatsLookTheSame() {
    QFETCH(QString, format);
    const std::string name = format.toStdString();
    const test::Folder folder;
    const std::filesystem::path data = std::filesystem::path(QT_TESTCASE_SOURCEDIR) / "data",
                                copy = folder / "old.juvenor";
    std::filesystem::copy_file(data / (name + ".juvenor"), copy);
    const auto looksTheSame = [&] {
      const auto opened = Store::open(copy, true)->read();
      QVERIFY2(opened, opened ? "" : opened.error().message().c_str());
      const Document& d = opened->steps[opened->current]->document;
      StillSetting setting;
      setting.size = {400, 300};
      setting.view = View::Flat;
      setting.camera = framed(lookingFrom({}, Side::Front), setting.size, shownPoints(d));
      const auto pixels = boxPicture(d, setting);
      const auto expected = readPicture(data / (name + ".png"));
      QVERIFY(expected);
      // arithmetic is free in the last bit, of which a byte shows next to nothing
      size_t others = 0;
      int furthest = 0;
      for (size_t i = 0; i < pixels.size(); ++i)
        for (const int shift : {0, 8, 16}) {
          const auto byte = [&](uint32_t pixel) { return static_cast<int>(pixel >> shift & 0xff); };
          const int off = std::abs(byte(pixels[i]) - byte((*expected)->pixels[i]));
          others += off > 0;
          furthest = std::max(furthest, off);
        }
      QVERIFY2(furthest <= 1 && others * 100 < pixels.size(),
               qPrintable(QString("%1 bytes differ, by up to %2").arg(others).arg(furthest)));
    };
    looksTheSame();
    {
      auto store = Store::open(copy);
      const auto opened = store->read();
      const auto written = store->write(opened->steps, opened->steps[opened->current]->id);
      QVERIFY2(bool(written), written ? "" : written.error().message().c_str());
    }
    looksTheSame();
    int version = 0, oldWords = 0;
    auto db = Database::open(copy, Database::Mode::ReadOnly);
    QVERIFY(db->query("PRAGMA user_version", {}, [&](const SqlRow& r) {
      version = static_cast<int>(r.integer(0));
      return true;
    }));
    QVERIFY(db->query("SELECT count(*) FROM step WHERE state LIKE '%recipe%' OR state LIKE '%blur%'", {},
                      [&](const SqlRow& r) {
                        oldWords = static_cast<int>(r.integer(0));
                        return true;
                      }));
    QCOMPARE(version, kDocumentFormat);
    QCOMPARE(oldWords, 0);
  }
  void refiningCarriesEverythingOver() {
    Document d = withDisc();
    MaskTerm up;
    up.map = {&kFacingMap, 0, Vec3::UnitZ()};
    d = *withMaskTerms(d, d.activeLayer, {up});
    d = *withInvertedMask(*withMask(d, kGuard), kGuard);
    const Document fine = *withRefinement(d, {});
    QCOMPARE(fine.guard->size(), fine.surface->size());
    QCOMPARE(fine.guard->at(77)[0], uint16_t{0});
    QVERIFY(fine.maps->known(up.map));
    QVERIFY(fine.maps != d.maps);
  }
};

JUVENOR_TEST(TestMasks)
}  // namespace juvenor
#include "test_masks.moc"
