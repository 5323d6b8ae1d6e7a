// Bad files give one message that names the file and the place, and never crash.
#include <fmt/format.h>

#include <fstream>

#include "core/files.h"
#include "core/json_fields.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Result<Sculpt> readAs(const std::string& ending, const std::string& bytes) {
  const test::Folder folder;
  const auto file = folder / ("broken." + ending);
  std::ofstream(file, std::ios::binary) << bytes;
  return readSculpt(file);
}

std::string glb(const std::string& json, const std::string& binary = {}) {
  std::string text = json;
  while (text.size() % 4) text += ' ';
  const auto word = [](size_t v) {
    const auto w = static_cast<uint32_t>(v);
    return std::string(reinterpret_cast<const char*>(&w), 4);
  };
  std::string out = "glTF" + word(2) + word(12 + 8 + text.size() + (binary.empty() ? 0 : 8 + binary.size())) +
                    word(text.size()) + "JSON" + text;
  if (!binary.empty()) out += word(binary.size()) + std::string("BIN\0", 4) + binary;
  return out;
}

// A triangle whose accessor promises `count` positions.
std::string glbPromising(const std::string& count, const std::string& more = {}) {
  return glb(R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"mesh":0}],
    "meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],"buffers":[{"byteLength":36}],
    "bufferViews":[{"buffer":0,"byteLength":36}],"accessors":[{"bufferView":0,"componentType":5126,"type":"VEC3","count":)" +
                 count + more + "}]}",
             std::string(36, '\0'));
}

// A triangle whose three indices are of a component type.
std::string glbIndexed(const std::string& type) {
  return glb(
      R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"mesh":0}],
    "meshes":[{"primitives":[{"attributes":{"POSITION":0},"indices":1}]}],"buffers":[{"byteLength":48}],
    "bufferViews":[{"buffer":0,"byteLength":36},{"buffer":0,"byteOffset":36,"byteLength":12}],
    "accessors":[{"bufferView":0,"componentType":5126,"type":"VEC3","count":3},
    {"bufferView":1,"type":"SCALAR","count":3,"componentType":)" +
          type + "}]}",
      std::string(48, '\0'));
}

}  // namespace

class TestBrokenFiles : public QObject {
  Q_OBJECT
 private slots:
  void oneClearMessage_data() {
    QTest::addColumn<QString>("ending");
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("place");
    QTest::addColumn<QString>("expected");
    const auto add = [](const char* name, const char* ending, const std::string& bytes, const char* place,
                        const char* said) {
      QTest::newRow(name) << ending << QByteArray::fromStdString(bytes) << place << said;
    };
    const std::string head = "ply\nformat ascii 1.0\n";
    const std::string xyz = "property float x\nproperty float y\nproperty float z\n";
    const std::string faces = "element face 1\nproperty list uchar int vertex_indices\nend_header\n";
    for (const char* ending : {"obj", "ply", "glb", "gltf", "stl"})
      add(ending, ending, "", "broken.", "empty");
    add("unknown kind", "xyz", "1 2 3", "broken.xyz", "reads obj, ply, glb, gltf, stl");
    add("obj points only", "obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\n", "broken.obj", "no polygons");
    add("obj no vertices", "obj", "# nothing\n", "broken.obj", "no vertices");
    add("obj NaN", "obj", "v 0 0 0\nv nan 0 0\nf 1 2 2\n", "line 2", "finite");
    add("obj infinity", "obj", "v 0 0 inf\n", "line 1", "finite");
    add("obj too large", "obj", "v 0 0 1e99\n", "line 1", "finite");
    add("obj words", "obj", "v 0 zero 0\n", "line 1", "three coordinates");
    add("obj index high", "obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", "broken.obj", "vertex 9");
    add("obj index zero", "obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 0 1 2\n", "line 4", "out of range");
    add("obj index low", "obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf -9 1 2\n", "line 4", "out of range");
    add("obj uv index", "obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nf 1/1 2/7 3/1\n", "broken.obj", "UV 7");
    add("obj two corners", "obj", "v 0 0 0\nv 1 0 0\nf 1 2\n", "line 3", "three corners");
    add("obj words in face", "obj", "v 0 0 0\nf a b c\n", "line 2", "vertex number");
    add("ply other magic", "ply", "plz\n", "byte 0", "'ply'");
    add("ply endless header", "ply", head + "element vertex 3\n", "byte", "end_header");
    add("ply unknown format", "ply", "ply\nformat ebcdic 1.0\n", "byte 4", "no format");
    add("ply unknown type", "ply", head + "element vertex 1\nproperty quad x\n", "byte", "no type");
    add("ply no z", "ply",
        head + "element vertex 1\nproperty float x\nproperty float y\nelement face 0\nend_header\n0 0\n",
        "byte", "x, y and z");
    add("ply absurd count", "ply", head + "element vertex 99999999999\n" + xyz + "end_header\n", "byte",
        "99999999999");
    add("ply count overflow", "ply", head + "element vertex 99999999999999999999999\n" + xyz + "end_header\n",
        "byte", "element NAME COUNT");
    add("ply cut short", "ply", head + "element vertex 3\n" + xyz + faces + "0 0 0\n1 0 0\n0 1", "byte",
        "too early");
    add("ply NaN", "ply", head + "element vertex 1\n" + xyz + faces + "0 nan 0\n3 0 0 0\n", "byte",
        "vertex 1");
    add("ply index", "ply", head + "element vertex 3\n" + xyz + faces + "0 0 0\n1 0 0\n0 1 0\n3 0 1 3\n",
        "broken.ply", "vertex 4");
    add("ply negative index", "ply",
        head + "element vertex 3\n" + xyz + faces + "0 0 0\n1 0 0\n0 1 0\n3 0 1 -1\n", "byte", "vertex -1");
    add("ply list too long", "ply",
        head + "element vertex 3\n" + xyz + faces + "0 0 0\n1 0 0\n0 1 0\n4000000 0 1 2\n", "byte",
        "4000000");
    add("ply without faces", "ply", head + "element vertex 1\n" + xyz + "end_header\n0 0 0\n", "broken.ply",
        "no polygons");
    add("gltf no json", "gltf", "{\"asset\":", "broken.gltf", "no readable glTF");
    add("glb cut header", "glb", "glTF\2\0", "broken.glb", "no readable glTF");
    add("glb promises too much", "glb", glbPromising("4000000"), "broken.glb", "4000000");
    add("glb beyond its view", "glb", glbPromising("4"), "broken.glb", "do not fit");
    add("glb offset beyond", "glb", glbPromising("1", ",\"byteOffset\":4000000000"), "broken.glb", "fit");
    add("glb nodes in a circle", "glb",
        glb(R"({"asset":{"version":"2.0"},"scenes":[{"nodes":[0]}],"nodes":[{"children":[0]}]})"),
        "broken.glb", "circle");
    // thirty nodes that each have the next one twice: 2³⁰ ways
    std::string nodes;
    for (int i = 1; i < 30; ++i) nodes += fmt::format(R"({{"children":[{},{}]}},)", i, i);
    add("glb nodes that are no tree", "glb",
        glb(R"({"asset":{"version":"2.0"},"scenes":[{"nodes":[0]}],"nodes":[)" + nodes +
            R"({"name":"last"}]})"),
        "broken.glb", "is reached in two ways");
    add("glb offset near the end of numbers", "glb",
        glbPromising("1", ",\"byteOffset\":18446744073709551600"), "broken.glb", "");
    for (const char* type : {"5120", "5122", "5126"})
      add((std::string("glb indices of type ") + type).c_str(), "glb", glbIndexed(type), "broken.glb",
          "are of a type that is none for them");
    const auto deep = [](const std::string& open, const std::string& close, size_t levels) {
      std::string out;
      for (size_t i = 0; i < levels; ++i) out += open;
      out += "1";
      for (size_t i = 0; i < levels; ++i) out += close;
      return out;
    };
    for (const auto& [name, text] :
         {std::pair("lists", deep("[", "]", 200'000)), std::pair("objects", deep("{\"a\":", "}", 200'000))}) {
      add((std::string("glb nested ") + name).c_str(), "glb",
          glb(R"({"asset":{"version":"2.0","extras":)" + text + "}}"), "broken.glb", "nested more than 128");
      add((std::string("gltf nested ") + name).c_str(), "gltf",
          R"({"asset":{"version":"2.0"},"extras":)" + text + "}", "broken.gltf", "nested more than 128");
    }
    add("stl nonsense", "stl", "solid nothing at all", "broken.stl", "");
  }
  void oneClearMessage() {
    QFETCH(QString, ending);
    QFETCH(QByteArray, bytes);
    QFETCH(QString, place);
    QFETCH(QString, expected);
    const auto read = readAs(ending.toStdString(), bytes.toStdString());
    QVERIFY(!read);
    const QString message = QString::fromStdString(read.error().message());
    QVERIFY2(message.contains(place) && message.contains("broken."), qPrintable(message));
    QVERIFY2(message.contains(expected), qPrintable(message));
    QVERIFY2(!message.contains('\n'), qPrintable(message));
  }
  // What a library quotes of a file may be all of it: a refusal stays a line, whole characters to its end.
  void whatIsQuotedIsShort() {
    const test::Folder folder;
    std::string word;
    for (int i = 0; i < 3000; ++i) word += "ä";
    for (const std::string& text : {"{\"asset\": {\"version\": \"2.0\"}, \"scene\": \"" + word + "\n\"}",
                                    "{" + word, "{\"a\": \"" + word})
      for (const char* name : {"long.gltf", "long.juvenor-recipe"}) {
        const auto file = folder / name;
        QVERIFY(writeBytes(file, text));
        const Error why =
            std::string_view(name).ends_with("gltf") ? readSculpt(file).error() : parsedJson(text).error();
        QVERIFY2(!why.what.empty() && why.what.size() < 500, why.what.c_str());
        QVERIFY(!QString::fromStdString(why.what).contains(QChar::ReplacementCharacter));
      }
  }
  void missingFilesAndFoldersAreNamed() {
    const auto missing = readSculpt("/nowhere/x.obj");
    QVERIFY(!missing && missing.error().message() == "/nowhere/x.obj: no such file");
    const test::Folder folder;
    std::filesystem::create_directory(folder / "y.ply");
    const auto directory = readSculpt(folder / "y.ply");
    QVERIFY(!directory && directory.error().what.find("folder") != std::string::npos);
  }
  // A whole file, cut at every 1 % of its length: opened or refused with a message.
  void cutFilesAreOpenedOrRefused_data() {
    QTest::addColumn<QString>("ending");
    for (const char* ending : {"obj", "ply", "glb"}) QTest::newRow(ending) << ending;
  }
  void cutFilesAreOpenedOrRefused() {
    QFETCH(QString, ending);
    const Sculpt s = test::together(test::sphere(16, 2), test::oddities(1));
    VertexFinish finish;
    finish.normals.assign(s.vertices.size(), Vec3(0, 0, 1));
    finish.colors.assign(s.vertices.size(), {9, 99, 999, 65535});
    const test::Folder folder;
    const auto file = folder / ("whole." + ending.toStdString());
    QVERIFY(writeSculpt(file, s, finish));
    const std::string bytes = *readBytes(file);
    int refused = 0;
    for (int percent = 0; percent < 100; ++percent) {
      const auto read =
          readAs(ending.toStdString(), bytes.substr(0, bytes.size() * static_cast<size_t>(percent) / 100));
      if (read) continue;
      ++refused;
      QVERIFY(read.error().message().find("broken.") != std::string::npos);
    }
    // only OBJ may end anywhere between two lines
    QVERIFY(ending == "obj" ? refused > 0 : refused == 100);
  }
  // Bytes overwritten at random: whatever comes, no crash and no sculpt that breaks the rules.
  void scrambledFilesNeverCrash() {
    std::mt19937 random(42);
    const Sculpt s = test::oddities(2);
    const test::Folder folder;
    for (const char* ending : {"obj", "ply", "glb"}) {
      const auto file = folder / (std::string("x.") + ending);
      QVERIFY(writeSculpt(file, s, {{}, s.colors}));
      const std::string bytes = *readBytes(file);
      for (int round = 0; round < 300; ++round) {
        std::string bad = bytes;
        for (int hit = 0; hit < 1 + round % 4; ++hit)
          bad[random() % bad.size()] = static_cast<char>(random());
        const auto read = readAs(ending, bad);
        if (!read) continue;
        for (const uint32_t c : read->corners) QVERIFY(c < read->vertices.size());
        QVERIFY(buildSurface(*read));
      }
    }
  }
};

JUVENOR_TEST(TestBrokenFiles)
}  // namespace juvenor
#include "test_broken_files.moc"
