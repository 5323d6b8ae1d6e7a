// Compressed glTF, packed here by the libraries' own encoders (Draco; meshoptimizer), and damaged.
#include <draco/compression/encode.h>
#include <draco/mesh/triangle_soup_mesh_builder.h>
#include <meshoptimizer.h>

#include <cstring>
#include <nlohmann/json.hpp>

#include "core/files.h"
#include "core/sculpt/formats.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using nlohmann::json;

std::string glb(const json& document, std::string binary) {
  std::string text = document.dump();
  while (text.size() % 4) text.push_back(' ');
  while (binary.size() % 4) binary.push_back('\0');
  const auto word = [](uint32_t v) { return std::string(reinterpret_cast<const char*>(&v), 4); };
  return "glTF" + word(2) + word(static_cast<uint32_t>(28 + text.size() + binary.size())) +
         word(static_cast<uint32_t>(text.size())) + "JSON" + text +
         word(static_cast<uint32_t>(binary.size())) + std::string("BIN\0", 4) + binary;
}

json sceneOf(const json& primitive) {
  return {{"asset", {{"version", "2.0"}}},
          {"scene", 0},
          {"scenes", {{{"nodes", {0}}}}},
          {"nodes", {{{"mesh", 0}, {"name", "Head"}}}},
          {"meshes", {{{"primitives", {primitive}}}}}};
}

std::vector<Triangle> trianglesOf(const Sculpt& s) {
  std::vector<Triangle> out, cut;
  for (size_t p = 0; p < s.polygonCount(); ++p) {
    cut.clear();
    triangulate(s.vertices, s.polygon(p), cut);
    for (const Triangle& t : cut) out.push_back({s.polygon(p)[t[0]], s.polygon(p)[t[1]], s.polygon(p)[t[2]]});
  }
  return out;
}

std::string dracoFile(const Sculpt& s) {
  const auto triangles = trianglesOf(s);
  draco::TriangleSoupMeshBuilder builder;
  builder.Start(static_cast<int>(triangles.size()));
  const int position = builder.AddAttribute(draco::GeometryAttribute::POSITION, 3, draco::DT_FLOAT32);
  for (size_t f = 0; f < triangles.size(); ++f)
    builder.SetAttributeValuesForFace(position, draco::FaceIndex(static_cast<uint32_t>(f)),
                                      s.vertices[triangles[f][0]].data(), s.vertices[triangles[f][1]].data(),
                                      s.vertices[triangles[f][2]].data());
  const auto mesh = builder.Finalize();
  draco::Encoder encoder;
  encoder.SetAttributeQuantization(draco::GeometryAttribute::POSITION, 16);
  draco::EncoderBuffer buffer;
  if (!encoder.EncodeMeshToBuffer(*mesh, &buffer).ok()) return {};
  const std::string packed(buffer.data(), buffer.size());
  json document = sceneOf(
      {{"attributes", {{"POSITION", 0}}},
       {"indices", 1},
       {"extensions",
        {{"KHR_draco_mesh_compression",
          {{"bufferView", 0}, {"attributes", {{"POSITION", mesh->attribute(position)->unique_id()}}}}}}}});
  document["extensionsUsed"] = document["extensionsRequired"] = {"KHR_draco_mesh_compression"};
  document["buffers"] = {{{"byteLength", packed.size()}}};
  document["bufferViews"] = {{{"buffer", 0}, {"byteLength", packed.size()}}};
  document["accessors"] = {{{"componentType", 5126},
                            {"count", mesh->num_points()},
                            {"type", "VEC3"},
                            {"min", {-9, -9, -9}},
                            {"max", {9, 9, 9}}},
                           {{"componentType", 5125}, {"count", mesh->num_faces() * 3}, {"type", "SCALAR"}}};
  return glb(document, packed);
}

std::string meshoptFile(const Sculpt& s) {
  std::vector<uint32_t> indices;
  for (const Triangle& t : trianglesOf(s)) indices.insert(indices.end(), t.begin(), t.end());
  std::vector<unsigned char> vertices(meshopt_encodeVertexBufferBound(s.vertices.size(), 12)),
      order(meshopt_encodeIndexBufferBound(indices.size(), s.vertices.size()));
  vertices.resize(
      meshopt_encodeVertexBuffer(vertices.data(), vertices.size(), s.vertices.data(), s.vertices.size(), 12));
  order.resize(meshopt_encodeIndexBuffer(order.data(), order.size(), indices.data(), indices.size()));
  std::string binary(vertices.begin(), vertices.end());
  while (binary.size() % 4) binary.push_back('\0');
  const size_t second = binary.size();
  binary.append(order.begin(), order.end());
  json document = sceneOf({{"attributes", {{"POSITION", 0}}}, {"indices", 1}});
  const auto view = [](size_t offset, size_t length, size_t stride, size_t count, const char* mode) {
    return json{{"buffer", 0},
                {"byteLength", length},
                {"byteOffset", offset},
                {"extensions",
                 {{"EXT_meshopt_compression",
                   {{"buffer", 0},
                    {"byteOffset", offset},
                    {"byteLength", length},
                    {"byteStride", stride},
                    {"count", count},
                    {"mode", mode}}}}}};
  };
  document["extensionsUsed"] = document["extensionsRequired"] = {"EXT_meshopt_compression"};
  document["buffers"] = {{{"byteLength", binary.size()}}};
  document["bufferViews"] = {view(0, vertices.size(), 12, s.vertices.size(), "ATTRIBUTES"),
                             view(second, order.size(), 4, indices.size(), "TRIANGLES")};
  document["accessors"] = {
      {{"bufferView", 0},
       {"componentType", 5126},
       {"count", s.vertices.size()},
       {"type", "VEC3"},
       {"min", {-9, -9, -9}},
       {"max", {9, 9, 9}}},
      {{"bufferView", 1}, {"componentType", 5125}, {"count", indices.size()}, {"type", "SCALAR"}}};
  return glb(document, binary);
}

}  // namespace

class TestCompressedGltf : public QObject {
  Q_OBJECT
 private slots:
  void meshoptComesBackExactly() {
    const Sculpt ball = test::sphere(40, 5);
    const auto read = readGltf(meshoptFile(ball), "ball.glb", {});
    QVERIFY2(read, read ? "" : read.error().message().c_str());
    QVERIFY(read->vertices == ball.vertices);
    // the encoder may turn triangles around, it keeps which they are
    const auto normalized = [](std::vector<Triangle> triangles) {
      for (Triangle& t : triangles) std::ranges::rotate(t, std::ranges::min_element(t));
      std::ranges::sort(triangles);
      return triangles;
    };
    QVERIFY(normalized(trianglesOf(*read)) == normalized(trianglesOf(ball)));
  }
  void dracoComesBackAsFineAsItWasKept() {
    const Sculpt ball = test::sphere(40, 5);
    const auto read = readGltf(dracoFile(ball), "ball.glb", {});
    QVERIFY2(read, read ? "" : read.error().message().c_str());
    QCOMPARE(read->polygonCount(), trianglesOf(ball).size());
    QCOMPARE(read->parts, std::vector<std::string>{"Head"});
    for (const Vec3& v : read->vertices) QVERIFY(std::abs(v.norm() - 5) < 0.03f);
    QVERIFY(buildSurface(*read));
  }
  void damagedCompressionIsRefused() {
    const Sculpt ball = test::sphere(12, 5);
    std::mt19937 random(4);
    int refused = 0, tried = 0;
    for (const std::string& good : {meshoptFile(ball), dracoFile(ball)}) {
      const size_t begin = good.find(std::string("BIN\0", 4)) + 4;
      for (int round = 0; round < 150; ++round) {
        std::string bad = good;
        for (int k = 0; k < 1 + round % 8; ++k)
          bad[begin + random() % (bad.size() - begin)] = static_cast<char>(random());
        ++tried;
        const auto read = readGltf(bad, "bad.glb", {});
        refused += !read;
        if (!read) QVERIFY(!read.error().what.empty());
      }
      for (const char* promise :
           {"\"count\":1000000000", "\"byteStride\":255", "\"byteLength\":4000000000"}) {
        std::string bad = good;
        const auto key = std::string(promise).substr(0, std::string(promise).find(':') + 1);
        const auto at = bad.find(key, bad.find("EXT_meshopt"));
        if (at == std::string::npos) continue;
        const auto end = bad.find_first_of(",}", at);
        json document = json::parse(bad.substr(20, bad.find(std::string("BIN\0", 4)) - 24), nullptr, false);
        QVERIFY(document.is_object());
        bad = glb(json::parse(document.dump().replace(
                      document.dump().find(key, document.dump().find("EXT_meshopt")), end - at, promise)),
                  bad.substr(begin));
        QVERIFY(!readGltf(bad, "bad.glb", {}));
      }
    }
    QVERIFY2(refused > tried / 4, qPrintable(QString("%1 of %2").arg(refused).arg(tried)));
  }
  void textOfSixteenBitsIsNamed() {
    const test::Folder folder;
    std::string wide("\xff\xfe", 2);
    for (const char c : std::string("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n")) wide += {c, '\0'};
    for (const std::string& bytes : {wide, wide.substr(2)}) {
      QVERIFY(writeBytes(folder / "wide.obj", bytes));
      const auto read = readSculpt(folder / "wide.obj");
      QVERIFY(!read && read.error().what.find("UTF-16") != std::string::npos);
    }
  }
  void numbersTooLargeAreRefused() {
    const std::string head =
        "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n"
        "element face 1\nproperty list uchar int vertex_indices\nend_header\n";
    QVERIFY(readPly(head + "0 0 0\n1 0 0\n0 1e-999 0\n3 0 1 2\n", "x.ply"));
    const auto read = readPly(head + "0 0 0\n1e999 0 0\n0 1 0\n3 0 1 2\n", "x.ply");
    QVERIFY(!read && read.error().what.find("too large") != std::string::npos &&
            read.error().where.find("byte") != std::string::npos);
    QVERIFY(!readObj("v 0 0 0\nv 1e999 0 0\nv 0 1 0\nf 1 2 3\n", "x.obj"));
  }
  // Pieces of the text are read side by side: it is the same sculpt, and errors name the same line.
  void longTextIsReadInPieces() {
    const Sculpt ball = test::together(test::sphere(260, 5), test::oddities(2));
    const std::string text = writeObj(ball, {});
    QVERIFY(text.size() > 3'000'000);
    const auto read = readObj(text, "long.obj");
    QVERIFY2(read, read ? "" : read.error().message().c_str());
    QCOMPARE(QString::fromStdString(test::difference(*read, ball, 1e-6f)), QString());
    const auto lines = static_cast<size_t>(std::ranges::count(text, '\n'));
    const auto broken = readObj(text + "f 1 2 x\n", "long.obj");
    QVERIFY(!broken);
    QVERIFY2(broken.error().where.find(std::to_string(lines + 1)) != std::string::npos,
             broken.error().where.c_str());
    // a line that goes on looks like one of its own to who only counts
    const auto odd = readObj(text + "v 0 0 \\\n0\nv 0 1 \\\nv\n", "long.obj");
    QVERIFY(!odd);
    QVERIFY(readObj("v 0 0 \\\n0\nv 1 0 0\nv 0 1 0\nf -3 -2 \\\n-1\n", "odd.obj"));
  }
  void normalsOfFilesAreTakenUp() {
    const test::Folder folder;
    const Sculpt ball = test::sphere(12, 5);
    VertexFinish finish;
    for (const Vec3& v : ball.vertices) finish.normals.push_back(v.normalized());
    for (const char* ending : {"obj", "ply", "glb"}) {
      const auto path = folder / (std::string("ball.") + ending);
      QVERIFY(writeSculpt(path, ball, finish));
      const auto read = readSculpt(path);
      QCOMPARE(read->normals.size(), read->vertices.size());
      const auto surface = test::surfaceOf(*read);
      for (size_t s = 0; s < surface->size(); ++s)
        QVERIFY2((surface->normals[s] - surface->positions[s].normalized()).norm() < 1e-4f, ending);
    }
  }
};

JUVENOR_TEST(TestCompressedGltf)
}  // namespace juvenor
#include "test_compressed_gltf.moc"
