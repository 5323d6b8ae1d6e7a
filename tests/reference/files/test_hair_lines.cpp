// Hair as lines, against the official glTF validator and assimp as a reader.
#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <assimp/Importer.hpp>

#include "core/document/edits/edits.h"
#include "core/hair/fibre_lines.h"
#include "core/hair/grown_hair.h"
#include "core/layers/sources/hair.h"
#include "core/surface/build/placement.h"
#include "reference/files/node.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A ball with two layers of hair, one of them light.
Document haired() {
  Hair hair;
  hair.guides.size.size = 3;
  hair.apart = 1.5f;
  Document d = withSourceLayer(test::documentOf(test::sphere(40, 10, {0, 2, 0})), "Beard", Stratum::Pigment,
                               hairSource(hair));
  hair.apart = 4;
  hair.grey = 1;
  return withSourceLayer(d, "White ones", Stratum::Pigment, hairSource(hair));
}

struct Counted {
  size_t layers = 0, fibres = 0;
};
Counted counted(const Fibres& f) {
  std::set<uint32_t> layers;
  for (const Fibre& fibre : f.fibres) layers.insert(fibre.layer);
  return {layers.size(), f.fibres.size()};
}

}  // namespace

class TestHairLines : public QObject {
  Q_OBJECT
 private slots:
  void theValidatorFindsNothingToSay() {
    const test::Folder folder;
    QVERIFY(!!writeHair(folder / "hair.glb", haired()));
    const QJsonObject issues = test::validated(folder / "hair.glb");
    QVERIFY2(issues.contains("numErrors"), "the validator did not answer");
    QVERIFY2(issues["numErrors"].toInt() == 0 && issues["numWarnings"].toInt() == 0,
             QJsonDocument(issues).toJson().constData());
  }
  // Every fibre as a line of its own, where it stands on the sculpt as it came, however that is turned here.
  void assimpReadsEveryFibre_data() {
    QTest::addColumn<QString>("ending");
    for (const char* ending : {"glb", "obj"}) QTest::newRow(ending) << ending;
  }
  void assimpReadsEveryFibre() {
    QFETCH(QString, ending);
    const Document d = *withPlacement(haired(), {Axis::PlusZ, Axis::MinusY, 1});
    const auto hair = grownHair(d);
    QVERIFY(hair && *hair);
    const Counted is = counted((*hair)->fibres());
    QCOMPARE(is.layers, size_t{2});
    const test::Folder folder;
    const auto file = folder / ("hair." + ending.toStdString());
    QVERIFY(!!writeHair(file, d));
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFile(file.string(), 0u);
    QVERIFY2(scene, importer.GetErrorString());
    size_t lines = 0, points = 0;
    for (unsigned m = 0; m < scene->mNumMeshes; ++m) {
      const aiMesh& mesh = *scene->mMeshes[m];
      QVERIFY(mesh.mPrimitiveTypes & aiPrimitiveType_LINE);
      lines += mesh.mNumFaces;
      points += mesh.mNumVertices;
      for (unsigned v = 0; v < mesh.mNumVertices; ++v) {
        const Vec3 place(mesh.mVertices[v].x, mesh.mVertices[v].y, mesh.mVertices[v].z);
        const float away = (place - Vec3(0, 2, 0)).norm();
        QVERIFY2(away > 9.8f && away < 13.5f, qPrintable(QString::number(away)));
      }
    }
    size_t segments = (*hair)->fibres().segments.size();
    QCOMPARE(lines, segments);
    QVERIFY(points >= segments + is.fibres);
  }
  void whatHasNoHairIsTold() {
    const test::Folder folder;
    const Outcome bald = writeHair(folder / "x.glb", test::documentOf(test::sphere(8, 1)));
    QVERIFY(!bald);
    QVERIFY(bald.error().message().find("no layer of hair") != std::string::npos);
    QVERIFY(!writeHair(folder / "x.ply", haired()));
    QVERIFY(!std::filesystem::exists(folder / "x.glb") && !std::filesystem::exists(folder / "x.ply"));
  }
};

JUVENOR_TEST(TestHairLines)

}  // namespace juvenor

#include "test_hair_lines.moc"
