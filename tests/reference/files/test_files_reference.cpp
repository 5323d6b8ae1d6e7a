// Files against the outside: the official glTF validator, assimp as a reader, a real scan, and the models
// that the makers of assimp test with.
#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <QDirIterator>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <assimp/Importer.hpp>
#include <fstream>

#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/export/vertex_finish.h"
#include "core/files.h"
#include "core/layers/composite/composite.h"
#include "core/sculpt/gltf_library.h"
#include "reference/files/node.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using test::node;
using test::validated;

// The scan as the npm package ships it: positions and triangles.
Sculpt bunny() {
  const QJsonObject raw =
      QJsonDocument::fromJson(node("console.log(JSON.stringify(require('bunny')))", {})).object();
  Sculpt s;
  s.name = "Scan";
  s.parts = {"Scan"};
  s.polygonStart = {0};
  for (const auto v : raw["positions"].toArray()) {
    const QJsonArray p = v.toArray();
    s.vertices.emplace_back(static_cast<float>(p[0].toDouble()), static_cast<float>(p[1].toDouble()),
                            static_cast<float>(p[2].toDouble()));
  }
  for (const auto v : raw["cells"].toArray()) {
    for (const auto c : v.toArray()) s.corners.push_back(static_cast<uint32_t>(c.toInt()));
    s.polygonStart.push_back(static_cast<uint32_t>(s.corners.size()));
    s.polygonPart.push_back(0);
  }
  return s;
}

Document paintedOn(const Sculpt& sculpt) {
  Document d = test::documentOf(sculpt);
  d = withFillLayer(d, "Tone", Stratum::Flesh, {0.55f, 0.36f, 0.25f});
  d = withPaintedLayer(d, "Marks", Stratum::Pigment);
  StrokeSetting setting;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  setting.paint = test::inEveryChannel({0.1f, 0.7f, 0.9f}, 0.8f, 0.6f, 0.01f * d.surface->bounds.diagonal());
  setting.brush.radius = 0.2f * d.surface->bounds.diagonal();
  setting.brush.flow = 0.8f;
  Flood flood;
  auto stroke = PaintStroke::begin(d, setting, flood);
  for (size_t s = 0; s < d.surface->size(); s += std::max<size_t>(1, d.surface->size() / 20)) {
    SurfacePoint p;
    p.position = d.surface->positions[s];
    p.normal = p.toViewer = d.surface->normals[s];
    p.part = d.surface->parts[s];
    (*stroke)->stroke().moveTo(p, 1);
    (*stroke)->stroke().lift();
  }
  return *(*stroke)->finish();
}

struct Exported {
  std::filesystem::path file;
  VertexFinish finish;
};

Exported exported(const Document& d, const std::filesystem::path& file) {
  Exported out{file, finishOf(d, *skinOf(d.layers, *d.maps, d.bare))};
  const Outcome written = writeSculpt(file, *d.sculpt, out.finish);
  if (!written) qFatal("%s", written.error().message().c_str());
  return out;
}

size_t differentColors(const VertexFinish& finish) {
  std::set<std::array<uint16_t, 3>> all;
  for (const Rgba16& c : finish.colors) all.insert({c.r, c.g, c.b});
  return all.size();
}

// The room a form fills, and the skin it has; of a polygon with dents Newell's normal tells the area.
struct Extent {
  Box box;
  double area = 0;

  void add(std::span<const Vec3> polygon) {
    Vec3 normal = Vec3::Zero();
    for (size_t i = 0; i < polygon.size(); ++i) {
      box.add(polygon[i]);
      normal += (polygon[i] - polygon[0]).cross(polygon[(i + 1) % polygon.size()] - polygon[0]);
    }
    area += 0.5 * static_cast<double>(normal.norm());
  }
};
Extent extentOf(const Sculpt& s) {
  Extent out;
  for (size_t p = 0; p < s.polygonCount(); ++p) {
    std::vector<Vec3> polygon;
    for (const uint32_t v : s.polygon(p)) polygon.push_back(s.vertices[v] + s.offset.cast<float>());
    out.add(polygon);
  }
  return out;
}
Extent extentOf(const aiScene& scene) {
  Extent out;
  for (unsigned m = 0; m < scene.mNumMeshes; ++m) {
    const aiMesh& mesh = *scene.mMeshes[m];
    for (unsigned f = 0; f < mesh.mNumFaces; ++f) {
      std::vector<Vec3> polygon;
      for (unsigned c = 0; c < mesh.mFaces[f].mNumIndices; ++c) {
        const aiVector3D& v = mesh.mVertices[mesh.mFaces[f].mIndices[c]];
        polygon.emplace_back(v.x, v.y, v.z);
      }
      // points and lines are no skin
      if (polygon.size() > 2) out.add(polygon);
    }
  }
  return out;
}

}  // namespace

class TestFilesReference : public QObject {
  Q_OBJECT
 private slots:
  void validatorFindsNothingToSay_data() {
    QTest::addColumn<QString>("which");
    for (const char* which : {"scan", "oddities", "soup", "parts"}) QTest::newRow(which) << which;
  }
  void validatorFindsNothingToSay() {
    QFETCH(QString, which);
    const Sculpt sculpt = which == "scan"       ? bunny()
                          : which == "oddities" ? test::oddities(1)
                          : which == "soup"     ? test::soup(test::sphere(20, 1))
                                            : test::together(test::sphere(120, 1), test::torus(24, 3, 0.4f));
    QVERIFY(sculpt.vertices.size() > 5);
    const test::Folder folder;
    const Exported e = exported(paintedOn(sculpt), folder / "x.glb");
    const QJsonObject issues = validated(e.file);
    QVERIFY2(issues.contains("numErrors"), "the validator did not answer");
    QVERIFY2(issues["numErrors"].toInt() == 0 && issues["numWarnings"].toInt() == 0,
             QJsonDocument(issues).toJson().constData());
  }
  // Gloss, relief, metal and glow as attributes of glTF and properties of PLY, read back by their own
  // readers.
  void everyChannelIsHandedOn() {
    const test::Folder folder;
    const Document d = paintedOn(test::sphere(40, 10));
    const Exported glb = exported(d, folder / "x.glb"), ply = exported(d, folder / "x.ply");
    const size_t count = glb.finish.numbers.size();
    QCOMPARE(count, kChannelCount - 1);
    tinygltf::Model model;
    std::string problems, warnings;
    QVERIFY(tinygltf::TinyGLTF().LoadBinaryFromFile(&model, &problems, &warnings, glb.file.string()));
    const auto& primitive = model.meshes[0].primitives[0];
    const QString header = QString::fromStdString(readBytes(ply.file)->substr(0, 600));
    for (const VertexNumbers& numbers : glb.finish.numbers) {
      const auto [low, high] = std::ranges::minmax(numbers.values);
      QVERIFY2(high > low + 0.01f, numbers.name.c_str());
      const std::string key = "_" + QString::fromStdString(numbers.name).toUpper().toStdString();
      QVERIFY2(primitive.attributes.contains(key), key.c_str());
      const auto& accessor = model.accessors[static_cast<size_t>(primitive.attributes.at(key))];
      QCOMPARE(accessor.count, d.sculpt->vertices.size());
      QVERIFY(header.contains("property float " + QString::fromStdString(numbers.name)));
    }
    // the same numbers at every vertex, in the PLY's order
    const std::string bytes = *readBytes(ply.file);
    const size_t body = bytes.find("end_header\n") + 11, row = 12 + 12 + 3 + 4 * count;
    for (size_t v = 0; v < d.sculpt->vertices.size(); ++v)
      for (size_t k = 0; k < count; ++k) {
        float value = 0;
        std::memcpy(&value, bytes.data() + body + v * row + 27 + 4 * k, 4);
        QCOMPARE(value, ply.finish.numbers[k].values[v]);
      }
  }
  // Applied relief moves every vertex by the height there, along its normal; nothing else changes.
  void appliedReliefMovesVerticesByTheHeight() {
    for (const Placement& stands : {Placement{}, Placement{Axis::PlusZ, Axis::MinusY, 1}}) {
      const Document d =
          *withPlacement(paintedOn(test::together(test::sphere(40, 10), test::oddities(3))), stands);
      const ChannelFields skin = *skinOf(d.layers, *d.maps, d.bare);
      VertexFinish finish = finishOf(d, skin);
      const std::vector<Vec3> before = finish.normals;
      const Sculpt applied = withReliefApplied(d, skin, finish);
      QVERIFY(applied.corners == d.sculpt->corners && applied.polygonStart == d.sculpt->polygonStart);
      const auto found = std::ranges::find(finish.numbers, std::string("relief"), &VertexNumbers::name);
      QVERIFY(found != finish.numbers.end());
      const VertexNumbers& heights = *found;
      float highest = 0;
      for (size_t v = 0; v < applied.vertices.size(); ++v) {
        const Vec3 way = applied.vertices[v] - d.sculpt->vertices[v];
        QVERIFY((way - heights.values[v] * before[v]).norm() < 1e-5f);
        highest = std::max(highest, way.norm());
      }
      QVERIFY(highest > 0.1f);
      size_t leaning = 0;
      for (size_t v = 0; v < before.size(); ++v) leaning += (before[v] - finish.normals[v]).norm() > 0.02f;
      QVERIFY(leaning > 20);
    }
  }
  // The validator itself is not asleep.
  void validatorSeesABrokenFile() {
    const test::Folder folder;
    const Exported e = exported(paintedOn(test::sphere(8, 1)), folder / "x.glb");
    std::string bytes = *readBytes(e.file);
    const size_t at = bytes.find("\"VEC3\"");
    QVERIFY(at != std::string::npos);
    bytes.replace(at, 6, "\"VEC9\"");
    QVERIFY(writeBytes(folder / "bad.glb", bytes));
    QVERIFY(validated(folder / "bad.glb")["numErrors"].toInt() > 0);
  }
  void assimpReadsTheSameColoursBack_data() {
    QTest::addColumn<QString>("ending");
    for (const char* ending : {"glb", "ply", "obj"}) QTest::newRow(ending) << ending;
  }
  void assimpReadsTheSameColoursBack() {
    QFETCH(QString, ending);
    const Sculpt sculpt = bunny();
    QVERIFY(sculpt.vertices.size() > 1000);
    const test::Folder folder;
    const Exported e = exported(paintedOn(sculpt), folder / ("x." + ending.toStdString()));
    QVERIFY(differentColors(e.finish) > 50);
    Assimp::Importer importer;
    const aiScene* scene =
        importer.ReadFile(e.file.string(), ending == "obj" ? unsigned{aiProcess_JoinIdenticalVertices} : 0u);
    QVERIFY2(scene && scene->mNumMeshes == 1, importer.GetErrorString());
    const aiMesh& mesh = *scene->mMeshes[0];
    QCOMPARE(static_cast<size_t>(mesh.mNumFaces), sculpt.polygonCount());
    QCOMPARE(static_cast<size_t>(mesh.mNumVertices), sculpt.vertices.size());
    QVERIFY(mesh.HasVertexColors(0) && mesh.HasNormals());
    // assimp's reader of decimals is not exact and joining changes the order: the nearest vertex is the one
    const auto nearest = [&](const Vec3& p) {
      size_t best = 0;
      for (size_t v = 1; v < sculpt.vertices.size(); ++v)
        if ((sculpt.vertices[v] - p).squaredNorm() < (sculpt.vertices[best] - p).squaredNorm()) best = v;
      return best;
    };
    std::set<size_t> met;
    for (unsigned v = 0; v < mesh.mNumVertices; ++v) {
      const Vec3 p(mesh.mVertices[v].x, mesh.mVertices[v].y, mesh.mVertices[v].z);
      const size_t at = nearest(p);
      QVERIFY((sculpt.vertices[at] - p).norm() < 1e-5f);
      met.insert(at);
      const EncodedColor wanted = straight(e.finish.colors[at]);
      const aiColor4D& c = mesh.mColors[0][v];
      // COLOR_0 of glTF is linear; PLY and OBJ hold sRGB-encoded values
      const EncodedColor got =
          ending == "glb" ? encode(LinearColor{c.r, c.g, c.b}) : EncodedColor{c.r, c.g, c.b};
      QVERIFY(std::abs(got.r - wanted.r) <= 1 / 255.f && std::abs(got.g - wanted.g) <= 1 / 255.f &&
              std::abs(got.b - wanted.b) <= 1 / 255.f);
    }
    QCOMPARE(met.size(), sculpt.vertices.size());
  }
  void aScanIsPaintedRefinedAndComesOutAsItWentIn() {
    const Sculpt sculpt = bunny();
    const Document d = *withRefinement(paintedOn(sculpt), {});
    QCOMPARE(d.surface->triangles.size(), 4 * sculpt.polygonCount());
    const test::Folder folder;
    for (const char* name : {"x.ply", "x.obj"}) {
      const Exported e = exported(d, folder / name);
      auto back = readSculpt(e.file);
      QVERIFY(back);
      back->parts = sculpt.parts;
      QCOMPARE(QString::fromStdString(test::difference(sculpt, *back)), QString());
      QCOMPARE(back->colors.size(), sculpt.vertices.size());
    }
  }
  // What assimp makes of the models it comes with and what we make of them fill the same room with as much
  // skin.
  void assimpSeesTheSameForms() {
    int alike = 0;
    QStringList other;
    QDirIterator all("/usr/share/assimp/models", QDir::Files, QDirIterator::Subdirectories);
    while (all.hasNext()) {
      const QString file = all.next();
      if (!QStringList{"obj", "ply", "stl", "gltf", "glb"}.contains(QFileInfo(file).suffix().toLower()))
        continue;
      const auto sculpt = readSculpt(file.toStdString());
      if (!sculpt) continue;
      Assimp::Importer importer;
      const aiScene* scene = importer.ReadFile(file.toStdString(), aiProcess_PreTransformVertices);
      if (!scene || !scene->HasMeshes()) continue;
      const Extent mine = extentOf(*sculpt), theirs = extentOf(*scene);
      const float size = theirs.box.diagonal();
      const bool same =
          (mine.box.low - theirs.box.low).norm() < 1e-3f * size &&
          (mine.box.high - theirs.box.high).norm() < 1e-3f * size &&
          std::abs(mine.area - theirs.area) <= 1e-3 * theirs.area + 1e-6 * static_cast<double>(size * size);
      same ? void(++alike) : other.append(QFileInfo(file).fileName());
    }
    QVERIFY(alike >= 50);
    QVERIFY2(other.isEmpty(), qPrintable(other.join(", ")));
  }
  // Debian's assimp-testmodels: every OBJ, PLY, STL, glTF and GLB opens or is refused with a message; none
  // crashes.
  void modelsOfOthersOpenOrAreRefused() {
    int opened = 0, refused = 0;
    const QString root = "/usr/share/assimp/models";
    QDirIterator all(root, QDir::Files, QDirIterator::Subdirectories);
    while (all.hasNext()) {
      const QString file = all.next();
      const QString ending = QFileInfo(file).suffix().toLower();
      if (!QStringList{"obj", "ply", "stl", "gltf", "glb"}.contains(ending)) continue;
      const auto sculpt = readSculpt(file.toStdString());
      if (!sculpt) {
        ++refused;
        QVERIFY2(sculpt.error().message().find(QFileInfo(file).fileName().toStdString()) != std::string::npos,
                 sculpt.error().message().c_str());
        qInfo("refused: %s", sculpt.error().message().c_str());
        continue;
      }
      ++opened;
      const auto surface = buildSurface(*sculpt);
      QVERIFY2(surface, qPrintable(file));
      QCOMPARE((*surface)->sampleOfVertex.size(), sculpt->vertices.size());
      // what opened can be handed on, and what was handed on opens again the same
      const test::Folder folder;
      for (const char* name : {"x.ply", "x.obj"}) {
        const auto out = folder / name;
        QVERIFY2(
            writeSculpt(
                out, *sculpt,
                {(*surface)->normals.empty()
                     ? std::vector<Vec3>()
                     : finishOf(newDocument(std::make_shared<const Sculpt>(*sculpt), *surface),
                                *skinOf(LayerStack{}, *std::make_unique<SurfaceMaps>(*surface), {1, 1, 1}))
                           .normals,
                 {}}),
            qPrintable(file));
        const auto back = readSculpt(out);
        QVERIFY2(back, back ? "" : back.error().message().c_str());
        QCOMPARE(back->vertices.size(), sculpt->vertices.size());
        QVERIFY(back->corners == sculpt->corners && back->polygonStart == sculpt->polygonStart);
      }
    }
    qInfo("%d opened, %d refused", opened, refused);
    QVERIFY(opened >= 55);
    QVERIFY(refused <= 40);
  }
};

JUVENOR_TEST(TestFilesReference)
}  // namespace juvenor
#include "test_files_reference.moc"
