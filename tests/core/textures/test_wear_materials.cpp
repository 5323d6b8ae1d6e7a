// Sculpts that bring textures: what is in their files becomes layers, by each texture's own UV set and
// transform; files outside their folder are not opened, and what is missing is told.
#include <fstream>

#include "core/color/lab.h"
#include "core/document/edits/edits.h"
#include "core/files.h"
#include "core/layers/composite/composite.h"
#include "core/photo/picture_file.h"
#include "core/sculpt/formats.h"
#include "core/textures/hand_on.h"
#include "core/textures/wear_materials.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A square in the middle, 10 across, with the whole picture on it, as text.
std::string gltf(const std::string& uri, const std::string& transform = {}) {
  const float numbers[] = {-5, -5, 0, 5, -5, 0, 5, 5, 0, -5, 5, 0, 0, 1, 1, 1, 1, 0, 0, 0};
  const uint16_t indices[] = {0, 1, 2, 0, 2, 3};
  std::string bytes(reinterpret_cast<const char*>(numbers), sizeof(numbers));
  bytes.append(reinterpret_cast<const char*>(indices), sizeof(indices));
  const QByteArray packed = QByteArray(bytes.data(), static_cast<qsizetype>(bytes.size())).toBase64();
  std::string text =
      "{'asset':{'version':'2.0'},'scene':0,'scenes':[{'nodes':[0]}],'nodes':[{'mesh':0}],"
      "'meshes':[{'primitives':[{'attributes':{'POSITION':0,'TEXCOORD_0':1},'indices':2,'material':0}]}],"
      "'materials':[{'pbrMetallicRoughness':{'baseColorTexture':{'index':0" +
      transform + "}}}],'textures':[{'source':0}],'images':[{'uri':'" + uri +
      "'}],'accessors':[{'bufferView':0,'componentType':5126,'count':4,'type':'VEC3','min':[-5,-5,0],'max':["
      "5,5,0]},"
      "{'bufferView':1,'componentType':5126,'count':4,'type':'VEC2'},"
      "{'bufferView':2,'componentType':5123,'count':6,'type':'SCALAR'}],"
      "'bufferViews':[{'buffer':0,'byteLength':48},{'buffer':0,'byteOffset':48,'byteLength':32},"
      "{'buffer':0,'byteOffset':80,'byteLength':12}],"
      "'buffers':[{'byteLength':92,'uri':'data:application/octet-stream;base64," +
      packed.toStdString() + "'}]}";
  std::ranges::replace(text, '\'', '"');
  return text;
}

// Four quarters: red and green above, blue and white below.
std::string quarters() {
  std::vector<uint32_t> pixels;
  for (int y = 0; y < 64; ++y)
    for (int x = 0; x < 64; ++x)
      pixels.push_back(y < 32 ? (x < 32 ? 0xffc00000 : 0xff00c000) : (x < 32 ? 0xff0000c0 : 0xffe0e0e0));
  return *encodePng({64, 64}, pixels);
}

struct Opened2 {
  Document document;
  Worn worn;
  Sculpt sculpt;
};

// As opening does it, with points between.
Opened2 opened(const std::filesystem::path& file) {
  auto sculpt = readSculpt(file);
  if (!sculpt) qFatal("%s", sculpt.error().message().c_str());
  const auto materials = std::exchange(sculpt->materials, nullptr);
  Document d = test::documentOf(*sculpt);
  for (int i = 0; i < 5; ++i) d = *withRefinement(d, {});
  Worn none{d, {}, 0, 0, {}};
  auto worn = materials ? withWornMaterials(d, *materials) : Result<Worn>(none);
  if (!worn) qFatal("%s", worn.error().message().c_str());
  return {worn->document, *worn, *sculpt};
}

std::string hexAt(const Opened2& o, const Vec3& place) {
  const ChannelFields skin = *skinOf(o.document.layers, *o.document.maps, o.document.bare);
  size_t best = 0;
  for (size_t s = 0; s < o.document.surface->size(); ++s)
    if ((o.document.surface->positions[s] - place).norm() <
        (o.document.surface->positions[best] - place).norm())
      best = s;
  return toHex(straight(colorAt(skin.color(), best)));
}

}  // namespace

class TestWearMaterials : public QObject {
  Q_OBJECT
 private slots:
  void picturesBesideAndInside_data() {
    QTest::addColumn<bool>("inside");
    QTest::newRow("beside") << false;
    QTest::newRow("inside") << true;
  }
  void picturesBesideAndInside() {
    QFETCH(bool, inside);
    const test::Folder folder;
    const std::string png = quarters();
    QVERIFY(writeBytes(folder / "skin.png", png));
    const QByteArray packed = QByteArray(png.data(), static_cast<qsizetype>(png.size())).toBase64();
    QVERIFY(writeBytes(folder / "x.gltf",
                       gltf(inside ? "data:image/png;base64," + packed.toStdString() : "skin.png")));
    const Opened2 o = opened(folder / "x.gltf");
    QCOMPARE(o.worn.layers.size(), size_t{1});
    QVERIFY(o.sculpt.remarks.empty());
    QCOMPARE(hexAt(o, {-2.5f, 2.5f, 0}), std::string("#c00000"));
    QCOMPARE(hexAt(o, {2.5f, 2.5f, 0}), std::string("#00c000"));
    QCOMPARE(hexAt(o, {-2.5f, -2.5f, 0}), std::string("#0000c0"));
    QCOMPARE(hexAt(o, {2.5f, -2.5f, 0}), std::string("#e0e0e0"));
    // 64 texels over 32 gaps, the way points lie farthest apart: along the diagonals
    QVERIFY2(std::abs(o.worn.texelsAPoint - 2.83f) < 0.1f, qPrintable(QString::number(o.worn.texelsAPoint)));
    // sculpts of documents keep no pictures
    QVERIFY(!o.document.sculpt->materials);
  }
  // KHR_texture_transform: half the size and moved shows one quarter all over; pictures repeat.
  void texturesAreMoved_data() {
    QTest::addColumn<QString>("transform");
    QTest::addColumn<QString>("leftTop");
    QTest::addColumn<QString>("rightBottom");
    const auto ext = [](const char* what) {
      return QString(",'extensions':{'KHR_texture_transform':{%1}}").arg(what);
    };
    QTest::newRow("right upper quarter") << ext("'scale':[0.5,0.5],'offset':[0.5,0]") << "#00c000"
                                         << "#00c000";
    QTest::newRow("left lower quarter") << ext("'scale':[0.5,0.5],'offset':[0,0.5]") << "#0000c0"
                                        << "#0000c0";
    QTest::newRow("repeated") << ext("'offset':[3.5,0]") << "#00c000"
                              << "#0000c0";
    // a quarter turn counterclockwise about the upper left corner: (u, v) shows (v, −u)
    QTest::newRow("turned") << ext("'rotation':1.5707963") << "#0000c0"
                            << "#00c000";
  }
  void texturesAreMoved() {
    QFETCH(QString, transform);
    QFETCH(QString, leftTop);
    QFETCH(QString, rightBottom);
    const test::Folder folder;
    QVERIFY(writeBytes(folder / "skin.png", quarters()));
    QVERIFY(writeBytes(folder / "x.gltf", gltf("skin.png", transform.toStdString())));
    const Opened2 o = opened(folder / "x.gltf");
    QCOMPARE(QString::fromStdString(hexAt(o, {-2.5f, 2.5f, 0})), leftTop);
    QCOMPARE(QString::fromStdString(hexAt(o, {2.5f, -2.5f, 0})), rightBottom);
  }
  void whatCannotBeHadIsTold_data() {
    QTest::addColumn<QString>("uri");
    QTest::newRow("missing") << "gone.png";
    QTest::newRow("outside") << "../outside.png";
    QTest::newRow("by a link outside") << "link.png";
    QTest::newRow("absolute") << "/etc/hostname";
    QTest::newRow("empty") << "empty.png";
    QTest::newRow("a device") << "../../../../../../dev/zero";
  }
  void whatCannotBeHadIsTold() {
    QFETCH(QString, uri);
    const test::Folder whole;
    std::filesystem::create_directory(whole / "in");
    QVERIFY(writeBytes(whole / "outside.png", quarters()));
    std::filesystem::create_symlink(whole / "outside.png", whole / "in/link.png");
    std::ofstream(whole / "in/empty.png").close();
    QVERIFY(writeBytes(whole / "in/x.gltf", gltf(uri.toStdString())));
    QVERIFY(writeBytes(whole / "in/x.obj",
                       "mtllib x.mtl\nv -5 -5 0\nv 5 -5 0\nv 5 5 0\nvt 0 0\nvt 1 0\nvt 1 1\nusemtl skin\n"
                       "f 1/1 2/2 3/3\n"));
    QVERIFY(writeBytes(whole / "in/x.mtl", "newmtl skin\nmap_Kd " + uri.toStdString() + "\n"));
    for (const char* name : {"in/x.gltf", "in/x.obj"}) {
      const Opened2 o = opened(whole / name);
      QVERIFY2(o.worn.layers.empty(), name);
      QVERIFY2(!o.sculpt.remarks.empty() && o.sculpt.remarks[0].find(uri.toStdString()) != std::string::npos,
               name);
    }
  }
  void damagedPicturesAreTold() {
    const test::Folder folder;
    QVERIFY(writeBytes(folder / "skin.png", quarters().substr(0, 90)));
    QVERIFY(writeBytes(folder / "x.gltf", gltf("skin.png")));
    const Opened2 o = opened(folder / "x.gltf");
    QVERIFY(o.worn.layers.empty() && o.worn.remarks.size() == 1);
  }
  // What this program hands on it can take back: two parts with materials of their own, as GLB and as OBJ
  // with MTL.
  void whatIsHandedOnIsWorn_data() {
    QTest::addColumn<bool>("glb");
    QTest::newRow("glb") << true;
    QTest::newRow("obj") << false;
  }
  void whatIsHandedOnIsWorn() {
    QFETCH(bool, glb);
    Sculpt both = test::together(test::plane(60, 100, "Left"), test::plane(60, 100, "Right"));
    UvSet uv{"UV", {}, both.corners};
    const size_t half = both.vertices.size() / 2;
    for (size_t v = 0; v < both.vertices.size(); ++v) {
      Vec3& p = both.vertices[v];
      // each fills a tile of its own
      uv.coordinates.emplace_back(0.02f + 0.96f * (p.x() / 100 + 0.5f) + (v < half ? 0.f : 1.f),
                                  0.02f + 0.96f * (p.y() / 100 + 0.5f));
      if (v >= half) p.x() += 150;
    }
    both.uvSets = {uv};
    Document d = withPaintedLayer(test::documentOf(both), "Paint", Stratum::Pigment);
    const ChannelValues lit = test::inEveryChannel({0.7f, 0.3f, 0.2f}, 0.8f, 0.6f, 0, 0.5f);
    d = *withFilled(d, d.activeLayer, lit, 1, 0);
    d = *withFilled(d, d.activeLayer, test::inEveryChannel({0.2f, 0.4f, 0.8f}, 0.3f, 0.1f, 0, 0), 1, 1);
    const test::Folder folder;
    HandOn wish;
    wish.folder = folder.path();
    wish.name = "two";
    wish.pixels = 256;
    for (const char* map : {"colour", "roughness", "metal", "emission"})
      wish.maps.push_back({*textureWishFrom(map, 100), MapDepth::Whole8});
    wish.meshFile = glb ? MeshFile::Glb : MeshFile::Obj;
    const auto out = handOn(d, wish);
    QVERIFY2(out, out ? "" : out.error().message().c_str());
    auto sculpt = readSculpt(folder / (glb ? "two.glb" : "two.obj"));
    QVERIFY2(sculpt, sculpt ? "" : sculpt.error().message().c_str());
    QVERIFY(sculpt->materials && sculpt->materials->materials.size() >= 2);
    const auto materials = std::exchange(sculpt->materials, nullptr);
    const auto worn = withWornMaterials(test::documentOf(*sculpt), *materials);
    QVERIFY2(worn, worn ? "" : worn.error().message().c_str());
    QVERIFY(worn->layers.size() >= 2);
    const Document& now = worn->document;
    const ChannelFields skin = *skinOf(now.layers, *now.maps, now.bare);
    size_t seen = 0;
    for (size_t s = 0; s < now.surface->size(); s += 7) {
      const bool left = now.surface->positions[s].x() < 75;
      const EncodedColor wanted = left ? EncodedColor{0.7f, 0.3f, 0.2f} : EncodedColor{0.2f, 0.4f, 0.8f};
      QVERIFY(deltaE2000(toLab(straight(colorAt(skin.color(), s))), toLab(wanted)) < 1);
      QVERIFY(std::abs(from16(skin.get<Channel::Gloss>().at(s)[0]) - (left ? 0.8f : 0.3f)) < 0.01f);
      QVERIFY(std::abs(from16(skin.get<Channel::Metal>().at(s)[0]) - (left ? 0.6f : 0.1f)) < 0.01f);
      QVERIFY(std::abs(from16(skin.get<Channel::Glow>().at(s)[0]) - (left ? 0.5f : 0.f)) < 0.02f);
      // (an MTL says nothing of films and down)
      const float coat = from16(skin.get<Channel::Coat>().at(s)[0]),
                  fuzz = from16(skin.get<Channel::Fuzz>().at(s)[0]);
      QVERIFY(std::abs(coat - (!glb ? 0.f : left ? 0.2f : 0.7f)) < 0.01f);
      QVERIFY(std::abs(fuzz - (!glb ? 0.f : left ? 0.6f : 0.1f)) < 0.02f);
      ++seen;
    }
    QVERIFY(seen > 500);
  }
  void pointsThatAreAddedTakeThemAnew() {
    const test::Folder folder;
    QVERIFY(writeBytes(folder / "skin.png", quarters()));
    QVERIFY(writeBytes(folder / "x.gltf", gltf("skin.png")));
    auto sculpt = readSculpt(folder / "x.gltf");
    const auto materials = std::exchange(sculpt->materials, nullptr);
    const auto coarse = withWornMaterials(test::documentOf(*sculpt), *materials);
    QVERIFY(coarse && coarse->texelsAPoint > 30);
    Document finer = coarse->document;
    for (int i = 0; i < 5; ++i) finer = *withRefinement(finer, {});
    Opened2 o{*withWornMaterialsAnew(finer, *materials, coarse->layers), *coarse, *sculpt};
    QCOMPARE(hexAt(o, {-2.5f, 2.5f, 0}), std::string("#c00000"));
    QCOMPARE(hexAt(o, {2.5f, -2.5f, 0}), std::string("#e0e0e0"));
    QCOMPARE(o.document.layers.size(), finer.layers.size());
    // others keep what they have
    Opened2 left{*withWornMaterialsAnew(finer, *materials, std::vector<uint32_t>{}), *coarse, *sculpt};
    QCOMPARE(left.document.layers[0]->source, finer.layers[0]->source);
  }
};

JUVENOR_TEST(TestWearMaterials)
}  // namespace juvenor
#include "test_wear_materials.moc"
