// What goes in comes out: vertices, order, polygons, parts, UVs and colours of OBJ and PLY, and what GLB can
// hold.
#include <bit>
#include <numbers>

#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

VertexFinish finishFrom(const Sculpt& sculpt) {
  return {std::vector<Vec3>(sculpt.vertices.size(), Vec3(0, 0.6f, 0.8f)), sculpt.colors};
}

template <class T>
void put(std::string& out, T value, bool swap) {
  auto raw = std::bit_cast<std::array<char, sizeof(T)>>(value);
  if (swap) std::reverse(raw.begin(), raw.end());
  out.append(raw.data(), raw.size());
}

// Two triangles with colours of a type, in one of the binary orders.
template <class T>
std::string binaryPly(const char* type, T full, bool big) {
  std::string out = std::string("ply\nformat binary_") + (big ? "big" : "little") +
                    "_endian 1.0\nelement vertex 4\nproperty double x\nproperty float y\nproperty short z\n";
  for (const char* c : {"red", "green", "blue"}) out += std::string("property ") + type + " " + c + "\n";
  out += "element face 2\nproperty list ushort uint vertex_index\nend_header\n";
  for (int i = 0; i < 4; ++i) {
    put(out, static_cast<double>(i % 2), big);
    put(out, static_cast<float>(i / 2), big);
    put(out, static_cast<int16_t>(-3 * i), big);
    put(out, i == 0 ? full : T{}, big);
    put(out, i == 1 ? full : T{}, big);
    put(out, i == 2 ? full : T{}, big);
  }
  for (const std::array<uint32_t, 3>& t : {std::array<uint32_t, 3>{0, 1, 2}, {2, 1, 3}}) {
    put(out, uint16_t{3}, big);
    for (const uint32_t v : t) put(out, v, big);
  }
  return out;
}

}  // namespace

class TestFormats : public QObject {
  Q_OBJECT
 private slots:
  void shuffledQuadsAndPolygonsGoRound_data() {
    QTest::addColumn<QString>("ending");
    QTest::addColumn<uint>("seed");
    for (const char* ending : {"obj", "ply"})
      for (uint seed = 1; seed <= 5; ++seed)
        QTest::newRow(qPrintable(QString("%1 %2").arg(ending).arg(seed))) << ending << seed;
  }
  void shuffledQuadsAndPolygonsGoRound() {
    QFETCH(QString, ending);
    QFETCH(uint, seed);
    const Sculpt before = test::oddities(seed);
    const test::Folder folder;
    const auto file = folder / ("x." + ending.toStdString());
    QVERIFY(writeSculpt(file, before, finishFrom(before)));
    const auto after = readSculpt(file);
    QVERIFY2(after, after ? "" : after.error().message().c_str());
    QCOMPARE(QString::fromStdString(test::difference(before, *after)), QString());
    QCOMPARE(after->colors.size(), before.colors.size());
    for (size_t i = 0; i < before.colors.size(); ++i) {
      const EncodedColor a = straight(before.colors[i]), b = straight(after->colors[i]);
      QVERIFY(std::abs(a.r - b.r) < 1e-5f && std::abs(a.g - b.g) < 1e-5f && std::abs(a.b - b.b) < 1e-5f);
    }
  }
  void floatsSurviveTextToTheBit() {
    Sculpt before = test::plane(1, 1);
    before.vertices = {
        {0.1f, 1e-30f, -3.4e38f}, {1.f / 3, 2e20f, -0.f}, {16777217.f, 1.00000012f, 7}, {1e-44f, -5, 6}};
    const auto after = readObj(writeObj(before, {}), "x.obj");
    QVERIFY2(after, after ? "" : after.error().message().c_str());
    for (size_t i = 0; i < 4; ++i) QVERIFY(before.vertices[i] == after->vertices[i]);
  }
  void hugePolygonsGoThroughPly() {
    Sculpt before;
    before.parts = {"x"};
    before.polygonStart = {0, 300};
    before.polygonPart = {0};
    for (uint32_t i = 0; i < 300; ++i) {
      before.vertices.emplace_back(std::cos(0.02f * static_cast<float>(i)),
                                   std::sin(0.02f * static_cast<float>(i)), 0.f);
      before.corners.push_back(i);
    }
    auto after = readPly(writePly(before, {}), "x");
    QVERIFY(after);
    after->parts = before.parts;
    QCOMPARE(QString::fromStdString(test::difference(before, *after)), QString());
  }
  void plyColoursOfEveryKind_data() {
    QTest::addColumn<QByteArray>("bytes");
    const auto add = [](const char* name, const std::string& s) {
      QTest::newRow(name) << QByteArray::fromStdString(s);
    };
    add("8 bits little", binaryPly("uchar", uint8_t{255}, false));
    add("8 bits big", binaryPly("uint8", uint8_t{255}, true));
    add("16 bits little", binaryPly("ushort", uint16_t{65535}, false));
    add("16 bits big", binaryPly("uint16", uint16_t{65535}, true));
    add("float little", binaryPly("float", 1.f, false));
    add("float big", binaryPly("float32", 1.f, true));
    add("double", binaryPly("double", 1.0, true));
  }
  void plyColoursOfEveryKind() {
    QFETCH(QByteArray, bytes);
    const auto s = readPly(bytes.toStdString(), "made.ply");
    QVERIFY2(s, s ? "" : s.error().message().c_str());
    QCOMPARE(s->polygonCount(), size_t{2});
    QVERIFY(s->vertices[3] == Vec3(1, 1, -9));
    QCOMPARE(s->colors[0], (Rgba16{65535, 0, 0, 65535}));
    QCOMPARE(s->colors[1], (Rgba16{0, 65535, 0, 65535}));
    QCOMPARE(s->colors[2], (Rgba16{0, 0, 65535, 65535}));
    QCOMPARE(s->corners, (std::vector<uint32_t>{0, 1, 2, 2, 1, 3}));
  }
  // Numbers on both sides of the list, a face that is a line, and every place the file can end too early at;
  // what is read side by side here is read one after the other in the other order of bytes.
  void plyFacesWithNumbersAroundTheirList() {
    const auto made = [](bool partFirst, bool big) {
      std::string out =
          std::string("ply\nformat binary_") + (big ? "big" : "little") +
          "_endian 1.0\nelement vertex 5\nproperty float x\nproperty float y\nproperty float z\n"
          "element face 3\n";
      out += partFirst
                 ? "property short part\nproperty list uchar int vertex_indices\nproperty double weight\n"
                 : "property uchar flag\nproperty list uchar int vertex_indices\nproperty short part\n";
      out += "end_header\n";
      for (int i = 0; i < 15; ++i) put(out, static_cast<float>(i * i % 7), big);
      const std::vector<int32_t> faces[] = {{0, 1, 2, 3}, {0, 1}, {2, 3, 4}};
      for (size_t f = 0; f < 3; ++f) {
        const auto part = static_cast<int16_t>(2 - f);
        partFirst ? put(out, part, big) : put(out, uint8_t{9}, big);
        put(out, static_cast<uint8_t>(faces[f].size()), big);
        for (const int32_t v : faces[f]) put(out, v, big);
        partFirst ? put(out, 0.5, big) : put(out, part, big);
      }
      return out;
    };
    for (const bool partFirst : {true, false}) {
      const std::string bytes = made(partFirst, false);
      const auto s = readPly(bytes, "made.ply");
      const auto other = readPly(made(partFirst, true), "made.ply");
      QVERIFY(s && other);
      QCOMPARE(QString::fromStdString(test::difference(*s, *other)), QString());
      QCOMPARE(s->polygonStart, (std::vector<uint32_t>{0, 4, 7}));
      QCOMPARE(s->polygonPart, (std::vector<uint32_t>{2, 0}));
      QCOMPARE(s->corners, (std::vector<uint32_t>{0, 1, 2, 3, 2, 3, 4}));
      QCOMPARE(s->remarks.size(), size_t{1});
      for (size_t cut = bytes.find("end_header") + 11; cut < bytes.size(); ++cut)
        QVERIFY2(!readPly(std::string_view(bytes).substr(0, cut), "made.ply"),
                 qPrintable(QString::number(cut)));
    }
  }
  void plyTextWithStrangersIsRead() {
    const auto s = readPly(
        "ply\r\nformat ascii 1.0\r\ncomment part 0 Left eye\r\nelement camera 1\r\nproperty float "
        "f\r\nproperty list uchar "
        "int ids\r\nelement vertex 4\r\nproperty float confidence\r\nproperty float x\r\nproperty float "
        "y\r\nproperty float "
        "z\r\nproperty float s\r\nproperty float t\r\nelement face 2\r\nproperty uchar flags\r\nproperty "
        "list uchar int "
        "vertex_indices\r\nproperty ushort part\r\nend_header\r\n1.5 3 7 8 9\r\n1 0 0 0 0 0\r\n1 1 0 0 1 "
        "0\r\n.5 1 1 0 1 1\r\n"
        "1 0 1 0 0 1\r\n0 4 0 1 2 3 0\r\n0 2 0 1 0\r\n",
        "made.ply");
    QVERIFY2(s, s ? "" : s.error().message().c_str());
    QCOMPARE(s->parts, std::vector<std::string>{"Left eye"});
    QCOMPARE(s->polygonCount(), size_t{1});
    QCOMPARE(s->uvSets.size(), size_t{1});
    QVERIFY(s->uvSets[0].coordinates[s->uvSets[0].corner[2]] == Vec2(1, 1));
    // a camera and a face of two corners were left out, and that is said
    QCOMPARE(s->remarks.size(), size_t{2});
  }
  void objWithEverythingTheDescriptionAllows() {
    const auto s = readObj(
        "# made up\n\nv 0 0 0 1 0 0\nv 1 0 0\nv 1 1 0 0 0 1\nv 0 1 0\nvt 0 0\nvt 1 0 0\nvt 0.5\n"
        "g left arm\nf -4/1 -3/2 \\\n -2/3\ng\nf 1//1 3//1 4//1\ns off\nusemtl x\nl 1 2\np 3\n",
        "made.obj");
    QVERIFY2(s, s ? "" : s.error().message().c_str());
    QCOMPARE(s->polygonCount(), size_t{2});
    QCOMPARE(s->parts, (std::vector<std::string>{"left arm", "default"}));
    QCOMPARE(s->uvSets[0].corner[3], kNone);
    QCOMPARE(s->colors[0].r, uint16_t{65535});
    QCOMPARE(s->colors[2].b, uint16_t{65535});
    QCOMPARE(s->colors[3], (Rgba16{65535, 65535, 65535, 65535}));
    QCOMPARE(s->remarks.size(), size_t{1});
  }
  void objObjectsComeBeforeGroups() {
    const auto s =
        readObj("v 0 0 0\nv 1 0 0\nv 0 1 0\no Head\ng a\nf 1 2 3\no Eye\ng a\nf 3 2 1\n", "made.obj");
    QVERIFY(s);
    QCOMPARE(s->parts, (std::vector<std::string>{"Head", "Eye"}));
  }
  void objPolygonsBeforeTheFirstNameHaveAPartOfTheirOwn() {
    const std::string vertices = "v 0 0 0\nv 1 0 0\nv 0 1 0\n";
    const auto s =
        readObj(vertices + "f 1 2 3\ng skin\nf 3 2 1\no Head\nf 1 2 3\ng more\nf 2 3 1\n", "made.obj");
    QVERIFY(s);
    QCOMPARE(s->parts, (std::vector<std::string>{"Head", "default"}));
    QCOMPARE(s->polygonPart, (std::vector<uint32_t>{1, 1, 0, 0}));
    // a name that comes again is the same part
    const auto again = readObj(vertices + "g a\nf 1 2 3\ng b\nf 3 2 1\ng a\nf 2 3 1\n", "made.obj");
    QVERIFY(again);
    QCOMPARE(again->polygonPart, (std::vector<uint32_t>{0, 1, 0}));
  }
  // Eight digits are read by themselves, more with care: on both sides of that, and far beyond what exists.
  void objIndicesOfAnyLength() {
    const std::string vertices = "v 0 0 0\nv 1 0 0\nv 0 1 0\n";
    for (const char* third : {"3", "03", "00000003", "000000003", "0000000000000000003", "-1"}) {
      const auto s = readObj(vertices + "f 1 2 " + third + "\n", "made.obj");
      QVERIFY2(s, third);
      QCOMPARE(s->corners, (std::vector<uint32_t>{0, 1, 2}));
    }
    for (const char* third : {"0", "4", "12345678", "123456789", "4294967299", "18446744073709551619", "-4",
                              "x", "99999999999999999999999999", "-", ""}) {
      const auto s = readObj(vertices + "f 1 2 " + third + "\n", "made.obj");
      QVERIFY2(!s, third);
      QVERIFY2(!s.error().what.empty(), third);
    }
  }
  // A piece's polygons may have far more corners than there is room made for.
  void objPolygonsOfManyCorners() {
    std::string text;
    std::vector<uint32_t> corners;
    for (uint32_t i = 0; i < 500; ++i) {
      const double a = i * 2 * std::numbers::pi / 500;
      text += "v " + std::to_string(std::cos(a)) + " " + std::to_string(std::sin(a)) + " 0\n";
      corners.push_back(i);
    }
    text += "f";
    for (uint32_t i = 1; i <= 500; ++i) text += " " + std::to_string(i);
    const auto s = readObj(text, "made.obj");
    QVERIFY(s);
    QCOMPARE(s->corners, corners);
    QCOMPARE(s->polygonCount(), size_t{1});
  }
  void glbKeepsPartsColoursAndUvs() {
    const Sculpt before = test::oddities(3);
    const auto bytes = writeGlb(before, finishFrom(before));
    QVERIFY(bytes);
    const auto after = readGltf(*bytes, "made.glb", {});
    QVERIFY2(after, after ? "" : after.error().message().c_str());
    QCOMPARE(after->parts, before.parts);
    QCOMPARE(after->uvSets.size(), size_t{1});
    // every polygon became corners − 2 triangles
    QCOMPARE(after->polygonCount(), before.corners.size() - 2 * before.polygonCount());
    std::map<std::array<float, 3>, Rgba16> colors;
    for (size_t i = 0; i < before.vertices.size(); ++i)
      colors[{before.vertices[i].x(), before.vertices[i].y(), before.vertices[i].z()}] = before.colors[i];
    for (size_t i = 0; i < after->vertices.size(); ++i) {
      const Vec3& v = after->vertices[i];
      QVERIFY(colors.contains({v.x(), v.y(), v.z()}));
      if (v == Vec3(2, 2, 2)) continue;  // two vertices of the sculpt lie there
      const EncodedColor a = straight(after->colors[i]), b = straight(colors[{v.x(), v.y(), v.z()}]);
      QVERIFY(std::abs(a.r - b.r) < 1e-3f && std::abs(a.g - b.g) < 1e-3f && std::abs(a.b - b.b) < 1e-3f);
    }
  }
  void polygonsWithDentsAreCutInside() {
    const std::vector<Vec3> arrow{{0, 0, 0}, {2, 1, 0}, {0, 2, 0}, {0.6f, 1, 0}};
    for (uint32_t turn = 0; turn < 4; ++turn) {
      const std::vector<uint32_t> corners{turn, (turn + 1) % 4, (turn + 2) % 4, (turn + 3) % 4};
      std::vector<std::array<uint32_t, 3>> cut;
      triangulate(arrow, corners, cut);
      QCOMPARE(cut.size(), size_t{2});
      float area = 0;
      for (const auto& t : cut) {
        const float twice = (arrow[corners[t[1]]] - arrow[corners[t[0]]])
                                .cross(arrow[corners[t[2]]] - arrow[corners[t[0]]])
                                .z();
        QVERIFY(twice > 0);
        area += twice / 2;
      }
      QVERIFY(std::abs(area - 1.4f) < 1e-5f);
    }
  }
  void starsAreCutIntoTheirOwnArea() {
    std::vector<Vec3> star;
    std::vector<uint32_t> corners;
    double exact = 0;
    for (uint32_t i = 0; i < 20; ++i) {
      const float r = i % 2 ? 1.f : 3.f, a = 0.314159265f * static_cast<float>(i);
      star.emplace_back(0.3f * r * std::cos(a), r * std::cos(a), r * std::sin(a));
      corners.push_back(i);
    }
    for (uint32_t i = 0; i < 20; ++i) {
      const Vec3 &a = star[i], &b = star[(i + 1) % 20];
      exact += 0.5 * (a.y() * b.z() - a.z() * b.y());
    }
    std::vector<std::array<uint32_t, 3>> cut;
    triangulate(star, corners, cut);
    QCOMPARE(cut.size(), size_t{18});
    double sum = 0;
    for (const auto& t : cut) {
      const double area = 0.5 * (star[t[1]] - star[t[0]]).cross(star[t[2]] - star[t[0]]).x();
      QVERIFY(area > 0);
      sum += area;
    }
    QVERIFY(std::abs(sum - exact) < 1e-4);
  }
  void cancellingLeavesNothing() {
    Sculpt s = test::sphere(120, 1);
    int calls = 0;
    const auto read = readPly(writePly(s, {}), "x", [&](float) { return ++calls < 1; });
    QVERIFY(!read && isCancelled(read.error()));
  }
  void writingToAFullDiskLeavesTheOldFile() {
    const test::Folder folder;
    QVERIFY(writeBytes(folder / "x.ply", "the old one"));
    const Sculpt s = test::plane(2, 1);
    const Outcome failed = writeSculpt("/dev/full/x.ply", s, {});
    QVERIFY(!failed && failed.error().message().find("/dev/full/x.ply") != std::string::npos);
    // a folder in the way of the partial file stands for a disk that gives out
    std::filesystem::create_directory(folder / "x.ply.part");
    QVERIFY(!writeSculpt(folder / "x.ply", s, {}));
    QCOMPARE(*readBytes(folder / "x.ply"), std::string("the old one"));
  }
};

JUVENOR_TEST(TestFormats)
}  // namespace juvenor
#include "test_formats.moc"
