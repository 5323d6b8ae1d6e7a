// Texture maps as files: what they are called, what their formats say of them, and everything that can be in
// the way.
#include <OpenImageIO/imageio.h>

#include <limits>

#include "core/document/edits/edits.h"
#include "core/files.h"
#include "core/textures/hand_on.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// Two sheets side by side, one in each of two tiles.
Sculpt twoTiles() {
  Sculpt a = test::plane(8, 10, "Left"), b = test::plane(8, 10, "Right");
  for (Sculpt* s : {&a, &b}) {
    UvSet uv{"UV", {}, s->corners};
    for (const Vec3& v : s->vertices)
      uv.coordinates.emplace_back(0.1f + 0.08f * (v.x() + 5) + (s == &b ? 1.f : 0.f),
                                  0.1f + 0.08f * (v.y() + 5));
    s->uvSets = {uv};
  }
  for (Vec3& v : b.vertices) v.x() += 11;
  return test::together(a, b);
}

HandOn wishFor(const test::Folder& folder, std::initializer_list<std::string_view> maps) {
  HandOn out;
  out.folder = folder / "maps";
  out.name = "Keeper";
  out.pixels = 64;
  for (const std::string_view text : maps) {
    const auto map = textureWishFrom(text, 10);
    if (!map) qFatal("%s", map.error().what.c_str());
    out.maps.push_back({*map, factsOf(map->kind).deep ? MapDepth::Whole16 : MapDepth::Whole8});
  }
  return out;
}

std::vector<std::string> filesIn(const std::filesystem::path& folder) {
  std::vector<std::string> out;
  std::error_code ec;
  for (const auto& entry : std::filesystem::directory_iterator(folder, ec))
    out.push_back(entry.path().filename().string());
  std::ranges::sort(out);
  return out;
}

OIIO::ImageSpec specOf(const std::filesystem::path& file) {
  const auto in = OIIO::ImageInput::open(file.string());
  if (!in) qFatal("%s", OIIO::geterror().c_str());
  return in->spec();
}

std::string messageOf(const Result<HandedOn>& done) {
  return done ? std::string() : done.error().message();
}

}  // namespace

class TestHandOn : public QObject {
  Q_OBJECT
 private slots:
  void filesAreCalledAsTilesAre() {
    const test::Folder folder;
    const Document d = test::documentOf(twoTiles());
    const auto done = handOn(d, wishFor(folder, {"colour", "height", "roughness+metal+occlusion"}));
    QVERIFY2(done, messageOf(done).c_str());
    QCOMPARE(done->tiles, (std::vector{1001, 1002}));
    QCOMPARE(filesIn(folder / "maps"),
             (std::vector<std::string>{"Keeper_colour.1001.png", "Keeper_colour.1002.png",
                                       "Keeper_height.1001.png", "Keeper_height.1002.png", "Keeper_maps.json",
                                       "Keeper_roughness-metal-occlusion.1001.png",
                                       "Keeper_roughness-metal-occlusion.1002.png"}));
    QCOMPARE(specOf(folder / "maps/Keeper_roughness-metal-occlusion.1001.png").nchannels, 3);
    QCOMPARE(specOf(folder / "maps/Keeper_height.1001.png").format, OIIO::TypeDesc(OIIO::TypeDesc::UINT16));
    const auto told = nlohmann::json::parse(*readBytes(folder / "maps/Keeper_maps.json"));
    QCOMPARE(told["files"].size(), size_t{6});
    QCOMPARE(told["maps"][0]["encoding"], "sRGB");
    QCOMPARE(told["maps"][1]["range mm"].size(), size_t{2});
  }
  void aTileAloneLeavesTheOthersAndTheirDescription() {
    const test::Folder folder;
    const Document d = test::documentOf(twoTiles());
    HandOn wish = wishFor(folder, {"colour"});
    wish.tiles = {1002};
    QVERIFY(handOn(d, wish));
    wish.tiles = {1001};
    QVERIFY(handOn(d, wish));
    QCOMPARE(filesIn(folder / "maps"),
             (std::vector<std::string>{"Keeper_colour.1001.png", "Keeper_colour.1002.png",
                                       "Keeper_maps.1001.json", "Keeper_maps.1002.json"}));
  }
  // The chunk of the PNG standard that says sRGB is in colours and in nothing else.
  void onlyColoursAreTaggedAsColours() {
    const test::Folder folder;
    const auto done =
        handOn(test::documentOf(twoTiles()), wishFor(folder, {"colour", "parts", "gloss", "normal"}));
    QVERIFY2(done, messageOf(done).c_str());
    for (const auto& [name, tagged] :
         {std::pair("colour", true), {"parts", true}, {"gloss", false}, {"normal", false}}) {
      const auto bytes = readBytes(folder / ("maps/Keeper_" + std::string(name) + ".1001.png"));
      QVERIFY(bytes);
      QCOMPARE(bytes->find("sRGB") != std::string::npos, tagged);
    }
  }
  void everyFormatKeepsWhatItSays() {
    const Document d = test::documentOf(twoTiles());
    const std::pair<MapFormat, std::vector<MapDepth>> kept[] = {
        {MapFormat::Png, {MapDepth::Whole8, MapDepth::Whole16}},
        {MapFormat::Tiff, {MapDepth::Whole8, MapDepth::Whole16, MapDepth::Float}},
        {MapFormat::Exr, {MapDepth::Half, MapDepth::Float}}};
    const auto typeOf = [](MapDepth depth) {
      return OIIO::TypeDesc(depth == MapDepth::Whole8    ? OIIO::TypeDesc::UINT8
                            : depth == MapDepth::Whole16 ? OIIO::TypeDesc::UINT16
                            : depth == MapDepth::Half    ? OIIO::TypeDesc::HALF
                                                         : OIIO::TypeDesc::FLOAT);
    };
    for (const auto& [format, depths] : kept)
      for (const MapDepth depth : {MapDepth::Whole8, MapDepth::Whole16, MapDepth::Half, MapDepth::Float}) {
        const test::Folder folder;
        HandOn wish = wishFor(folder, {"colour"});
        wish.format = format;
        wish.maps[0].depth = depth;
        wish.tiles = {1001};
        const auto done = handOn(d, wish);
        const bool can = std::ranges::find(depths, depth) != depths.end();
        QCOMPARE(static_cast<bool>(done), can);
        if (!can) {
          QVERIFY(filesIn(folder / "maps").empty());
          continue;
        }
        QCOMPARE(specOf(done->files[0]).format, typeOf(depth));
        // the bare tone, in the middle of the sheet
        const auto in = OIIO::ImageInput::open(done->files[0].string());
        std::vector<float> values(64 * 64 * 3);
        QVERIFY(in && in->read_image(0, 0, 0, 3, OIIO::TypeDesc::FLOAT, values.data()));
        const bool whole = depth == MapDepth::Whole8 || depth == MapDepth::Whole16;
        const float wanted = whole ? d.bare.r : decodeSrgb(d.bare.r);
        QVERIFY2(std::abs(values[(32 * 64 + 32) * 3] - wanted) < 0.003f,
                 qPrintable(QString("%1, wanted %2").arg(values[(32 * 64 + 32) * 3]).arg(wanted)));
      }
  }
  void oneFileOfManyLayers() {
    const test::Folder folder;
    HandOn wish = wishFor(folder, {"colour", "gloss", "height"});
    wish.format = MapFormat::Exr;
    wish.layered = true;
    for (WishedMap& m : wish.maps)
      m.depth = m.map.kind == TextureKind::Height ? MapDepth::Float : MapDepth::Half;
    const auto done = handOn(test::documentOf(twoTiles()), wish);
    QVERIFY2(done, messageOf(done).c_str());
    const OIIO::ImageSpec spec = specOf(folder / "maps/Keeper_maps.1001.exr");
    std::vector<std::string> names = spec.channelnames;
    std::ranges::sort(names);
    QCOMPARE(names, (std::vector<std::string>{"colour.B", "colour.G", "colour.R", "gloss.Y", "height.Y"}));
  }
  void nothingIsWrittenOverUnasked() {
    const test::Folder folder;
    const Document d = test::documentOf(twoTiles());
    HandOn wish = wishFor(folder, {"colour", "gloss"});
    QVERIFY(handOn(d, wish));
    QVERIFY(writeBytes(folder / "maps/Keeper_gloss.1002.png", "mine"));
    std::filesystem::remove(folder / "maps/Keeper_colour.1001.png");
    const auto refused = handOn(d, wish);
    QVERIFY(!refused);
    QVERIFY(refused.error().message().find("is there already") != std::string::npos);
    QVERIFY(!std::filesystem::exists(folder / "maps/Keeper_colour.1001.png"));
    wish.force = true;
    QVERIFY(handOn(d, wish));
    QVERIFY(*readBytes(folder / "maps/Keeper_gloss.1002.png") != "mine");
  }
  void aCancelLeavesNoHalfFile() {
    const Document d = test::documentOf(twoTiles());
    for (int after = 0; after < 40; after += 3) {
      const test::Folder folder;
      std::atomic<int> calls = 0;
      const auto done =
          handOn(d, wishFor(folder, {"colour", "normal"}), [&](float) { return calls++ < after; });
      if (done) return;  // it was through
      QVERIFY(isCancelled(done.error()));
      for (const std::string& name : filesIn(folder / "maps")) {
        const auto in = OIIO::ImageInput::open((folder / ("maps/" + name)).string());
        std::vector<uint8_t> values(64 * 64 * 4);
        QVERIFY2(in && in->read_image(0, 0, 0, in->spec().nchannels, OIIO::TypeDesc::UINT8, values.data()),
                 name.c_str());
      }
    }
    QFAIL("it never came to its end");
  }
  void whatCannotBeIsTold_data() {
    QTest::addColumn<int>("what");
    QTest::addColumn<QString>("says");
    QTest::addRow("no UVs") << 0 << "has no UVs";
    QTest::addRow("a tile where nothing lies") << 1 << "nothing lies in tile 1005";
    QTest::addRow("too many pixels") << 2 << "16384";
    QTest::addRow("a folder that is a file") << 3 << "cannot be made";
    QTest::addRow("UVs that are no numbers") << 4 << "no triangle lies in any tile";
    QTest::addRow("UVs beyond all tiles") << 5 << "no triangle lies in any tile";
    QTest::addRow("UVs without an area") << 11 << "cover no pixel";
    QTest::addRow("a mesh beside the sculpt") << 6 << "stands beside the sculpt";
    QTest::addRow("two maps of one name") << 7 << "two maps would be called colour";
    QTest::addRow("a layer that is not there") << 8 << "there is no layer 77";
    QTest::addRow("rays of the sculpt itself") << 9 << "only be told of another mesh";
    QTest::addRow("a mesh without area") << 10 << "no triangle with an area";
  }
  void whatCannotBeIsTold() {
    QFETCH(int, what);
    QFETCH(QString, says);
    const test::Folder folder;
    Sculpt sculpt = twoTiles();
    HandOn wish = wishFor(folder, {"colour"});
    const auto everywhere = [&](const Vec2& uv) {
      for (Vec2& c : sculpt.uvSets[0].coordinates) c = uv;
    };
    if (what == 0) sculpt.uvSets.clear();
    if (what == 1) wish.tiles = {1001, 1005};
    if (what == 2) wish.pixels = 20000;
    if (what == 3) QVERIFY(writeBytes(folder / "maps", "a file"));
    if (what == 4) everywhere(Vec2::Constant(std::numeric_limits<float>::quiet_NaN()));
    if (what == 11) everywhere(Vec2(0.31f, 0.47f));
    if (what == 5) everywhere(Vec2(1e30f, -1e30f));
    if (what == 7) wish.maps.push_back(wish.maps[0]);
    if (what == 8) wish.maps[0].map = *textureWishFrom("layer:77", 10);
    if (what == 9) wish.maps[0].map = TextureKind::Found;
    if (what == 6 || what == 10) {
      Sculpt mesh = twoTiles();
      for (Vec3& v : mesh.vertices) v = what == 6 ? Vec3(v + Vec3(0, 0, 900)) : Vec3::Zero();
      wish.by.mesh = std::make_shared<const Sculpt>(mesh);
    }
    const auto done = handOn(test::documentOf(sculpt), wish);
    QVERIFY(!done);
    QVERIFY2(QString::fromStdString(done.error().message()).contains(says), done.error().message().c_str());
    QVERIFY(filesIn(folder / "maps").empty());
  }
  void wishesAreReadAndTold() {
    for (const char* text : {"colour", "occlusion", "layer:3", "mask:12", "roughness+metal+cavity"}) {
      const auto wish = textureWishFrom(text, 10);
      QVERIFY2(wish, text);
      QCOMPARE(textOf(*wish), text);
    }
    for (const char* text : {"", "color of skin", "layer:", "layer:x", "mask:-1", "colour+gloss", "gloss+",
                             "gloss+metal+cavity+ridge+occlusion", "measure", "packed"})
      QVERIFY2(!textureWishFrom(text, 10), text);
  }
};

JUVENOR_TEST(TestHandOn)
}  // namespace juvenor
#include "test_hand_on.moc"
