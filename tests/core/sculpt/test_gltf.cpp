// What glTF files made by others hold that our own never do: nodes without a scene, integers that are no
// parts of one, skeletons, moved textures.
#include "core/sculpt/gltf_triangle.h"
#include "support/run_all.h"

namespace juvenor {

using test::dataOf;
using test::read;
using test::Triangle3;

class TestGltf : public QObject {
  Q_OBJECT
 private slots:
  void nodesWithoutASceneAreReadOnce() {
    Triangle3 t;
    t.scenes.clear();
    t.nodes = R"([{"children":[1],"translation":[0,0,5]},{"mesh":0,"name":"chin"}])";
    const auto s = read(t);
    QVERIFY2(s, s ? "" : s.error().message().c_str());
    QCOMPARE(s->parts, std::vector<std::string>{"chin"});
    QCOMPARE(s->vertices.size(), size_t{3});
    QCOMPARE(s->vertices[1], Vec3(1, 0, 5));
  }
  void twoNodesMayShowOneMesh() {
    Triangle3 t;
    t.scenes = R"("scene":0,"scenes":[{"nodes":[0,1]}],)";
    t.nodes = R"([{"mesh":0},{"mesh":0,"translation":[4,0,0]}])";
    const auto s = read(t);
    QVERIFY(s && s->parts.size() == 2 && s->vertices.size() == 6);
    QCOMPARE(s->vertices[4], Vec3(5, 0, 0));
  }
  // glTF 2.0, 3.5.3: a node's matrix by columns, or translation · rotation · scale, over those of its
  // parents.
  void nodesTurnScaleAndMoveWhatTheyHold() {
    Triangle3 t;
    t.nodes = R"([{"children":[1],"matrix":[0,1,0,0, -1,0,0,0, 0,0,1,0, 10,20,30,1]},)"
              R"({"mesh":0,"translation":[1,2,3],"rotation":[0,0.70710678,0,0.70710678],"scale":[2,3,4]}])";
    const auto s = read(t);
    QVERIFY2(s, s ? "" : s.error().message().c_str());
    // (1, 0, 0) → scaled (2, 0, 0) → a quarter around y (0, 0, −2) → moved (1, 2, 1) → a quarter around z
    // (−2, 1, 1)
    QVERIFY((s->vertices[1] - Vec3(8, 21, 31)).norm() < 1e-4f);
    // (0, 1, 0) → (0, 3, 0) → (0, 3, 0) → (1, 5, 3) → (−5, 1, 3)
    QVERIFY((s->vertices[2] - Vec3(5, 21, 33)).norm() < 1e-4f);
    QVERIFY((s->vertices[0] - Vec3(8, 21, 33)).norm() < 1e-4f);
  }
  // 3.6.2.2: c / 32767 for signed shorts that are said to be normalised.
  void normalisedIntegersArePartsOfOne() {
    Triangle3 t;
    t.positions = dataOf(std::vector<int16_t>{-32767, 0, 0, 0, 16384, 0, 0, 0, 0, 0, 32767, 0});
    t.type = 5122;
    t.stride = 8;
    t.about = R"(,"normalized":true)";
    const auto s = read(t);
    QVERIFY2(s, s ? "" : s.error().message().c_str());
    QVERIFY((s->vertices[0] - Vec3(-1, 0, 0)).norm() < 1e-6f);
    QVERIFY((s->vertices[1] - Vec3(16384.f / 32767, 0, 0)).norm() < 1e-6f);
    QVERIFY((s->vertices[2] - Vec3(0, 0, 1)).norm() < 1e-6f);
  }
  // 3.6.2.3: some elements are put in place of those of the view.
  void sparseAccessorsPutSomeInPlaceOfOthers() {
    Triangle3 t;
    t.buffers = ",{" + dataOf(std::vector<uint16_t>{1}) + "},{" + dataOf(std::vector<float>{7, 8, 9}) + "}";
    t.views = R"(,{"buffer":1,"byteLength":2},{"buffer":2,"byteLength":12})";
    t.about =
        R"(,"sparse":{"count":1,"indices":{"bufferView":1,"componentType":5123},"values":{"bufferView":2}})";
    const auto s = read(t);
    QVERIFY2(s, s ? "" : s.error().message().c_str());
    QCOMPARE(s->vertices[1], Vec3(7, 8, 9));
    QCOMPARE(s->vertices[2], Vec3(0, 1, 0));
  }
  void integersThatAreNoPartsOfOneStayWhatTheyAre() {
    Triangle3 t;
    t.positions = dataOf(std::vector<int16_t>{-300, 0, 0, 0, 200, 0, 0, 0, 0, -7, 100, 0});
    t.type = 5122;
    t.stride = 8;
    const auto s = read(t);
    QVERIFY2(s, s ? "" : s.error().message().c_str());
    QCOMPARE(s->vertices[0], Vec3(-300, 0, 0));
    QCOMPARE(s->vertices[2], Vec3(0, -7, 100));
  }
  // glTF 2.0, 3.7.3.3: the node's own transform is not used for a mesh that a skeleton moves.
  void whatASkeletonMovesIsNotMovedByItsNode() {
    Triangle3 t;
    t.nodes = R"([{"mesh":0,"skin":0,"translation":[9,9,9]},{"name":"joint"}])";
    t.rest = R"("skins":[{"joints":[1]}],)";
    const auto s = read(t);
    QVERIFY2(s, s ? "" : s.error().message().c_str());
    QCOMPARE(s->vertices[1], Vec3(1, 0, 0));
  }
  void texturesThatAreMovedMoveTheirUvs() {
    Triangle3 t;
    t.attributes = R"(,"TEXCOORD_0":1)";
    t.more = R"(,"material":0)";
    t.buffers = ",{" + dataOf(std::vector<float>{0, 0, 1, 0, 0, 1}) + "}";
    t.views = R"(,{"buffer":1,"byteLength":24})";
    t.accessors = R"(,{"bufferView":1,"type":"VEC2","count":3,"componentType":5126})";
    t.rest = R"("materials":[{"pbrMetallicRoughness":{"baseColorTexture":{"index":0,"extensions":{
      "KHR_texture_transform":{"offset":[0.25,0.5],"rotation":1.5707963267948966,"scale":[0.5,2]}}}}}],
      "textures":[{"source":0}],"images":[{"uri":"none.png"}],"extensionsUsed":["KHR_texture_transform"],)";
    const auto s = read(t);
    QVERIFY2(s, s ? "" : s.error().message().c_str());
    QCOMPARE(s->uvSets.size(), size_t{1});
    const auto& uv = s->uvSets[0].coordinates;
    // (1, 0) is scaled to (0.5, 0), turned up the picture to (0, −0.5), moved to (0.25, 0); v counts upward
    // here
    QVERIFY((uv[1] - Vec2(0.25f, 1)).norm() < 1e-6f);
    // (0, 1): (0, 2), turned to the right: (2, 0), moved to (2.25, 0.5)
    QVERIFY((uv[2] - Vec2(2.25f, 0.5f)).norm() < 1e-6f);
    QVERIFY((uv[0] - Vec2(0.25f, 0.5f)).norm() < 1e-6f);
  }
};

JUVENOR_TEST(TestGltf)
}  // namespace juvenor
#include "test_gltf.moc"
