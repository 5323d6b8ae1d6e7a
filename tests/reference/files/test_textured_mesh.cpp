// Meshes that wear their maps, against the official glTF validator and assimp as a reader.
#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <assimp/Importer.hpp>

#include "core/document/edits/edit_variants.h"
#include "core/document/edits/edits.h"
#include "core/export/refined_sculpt.h"
#include "core/files.h"
#include "core/layers/composite/composite.h"
#include "core/photo/picture_data.h"
#include "core/sculpt/gltf_library.h"
#include "core/textures/hand_on.h"
#include "reference/files/node.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// A sheet in tile 1001 and one bent to a half pipe in tile 1012.
Sculpt twoParts() {
  Sculpt a = test::plane(12, 10, "Cheek"), b = test::plane(12, 10, "Left eye");
  for (Sculpt* s : {&a, &b}) {
    UvSet uv{"UV", {}, s->corners};
    const Vec2 tile = s == &b ? Vec2(1, 1) : Vec2(0, 0);
    for (const Vec3& v : s->vertices)
      uv.coordinates.push_back(tile + Vec2(0.1f + 0.08f * (v.x() + 5), 0.1f + 0.08f * (v.y() + 5)));
    s->uvSets = {uv};
  }
  for (Vec3& v : b.vertices) v = Vec3(12 + 3 * std::sin(v.x() * 0.3f), v.y(), 3 * std::cos(v.x() * 0.3f));
  return test::together(a, b);
}

HandOn wishFor(const test::Folder& folder, MeshFile file) {
  HandOn out;
  out.folder = folder.path();
  out.name = "skin";
  out.pixels = 64;
  out.meshFile = file;
  for (const TextureKind kind :
       {TextureKind::Colour, TextureKind::Roughness, TextureKind::Metal, TextureKind::Normal})
    out.maps.push_back({TextureWish(kind), MapDepth::Whole8});
  return out;
}

}  // namespace

class TestTexturedMesh : public QObject {
  Q_OBJECT
 private slots:
  void theValidatorFindsNothing_data() {
    QTest::addColumn<bool>("surroundings");
    QTest::addColumn<bool>("films");
    QTest::addRow("the mesh alone") << false << false;
    QTest::addRow("with a camera and lamps") << true << false;
    QTest::addRow("with a wet film and down") << false << true;
  }
  void theValidatorFindsNothing() {
    QFETCH(bool, surroundings);
    QFETCH(bool, films);
    const test::Folder folder;
    HandOn wish = wishFor(folder, MeshFile::Glb);
    if (surroundings) {
      HandedCamera camera;
      camera.pose(2, 3) = 40;
      HandedCamera parallel = camera;
      parallel.halfHeight = 8;
      wish.cameras = {camera, parallel};
      wish.lamps = {{"Key", Vec3(1, 1, 1).normalized(), Vec3(1, 0.9f, 0.8f), 3},
                    {"Rim", -Vec3::UnitZ(), Vec3::Ones(), 1}};
    }
    Document d = test::documentOf(twoParts());
    if (films) {
      ChannelValues wet;
      wet[Channel::Coat] = 0.8f;
      wet[Channel::Fuzz] = 0.5f;
      d = withPaintedLayer(d, "Wet", Stratum::Surface);
      d = *withFilled(d, d.activeLayer, wet, 1);
    }
    const auto done = handOn(d, wish);
    QVERIFY2(done, done ? "" : done.error().message().c_str());
    const QJsonObject issues = test::validated(folder / "skin.glb");
    const QByteArray told = QJsonDocument(issues).toJson();
    QVERIFY2(issues.contains("numErrors") && issues["numErrors"].toInt() == 0 &&
                 issues["numWarnings"].toInt() == 0 && issues["numInfos"].toInt() == 0 &&
                 issues["numHints"].toInt() == 0,
             told.constData());
    tinygltf::Model model;
    tinygltf::TinyGLTF loader;
    loader.SetImageLoader([](auto...) { return true; }, nullptr);
    std::string error, warning;
    QVERIFY(loader.LoadBinaryFromFile(&model, &error, &warning, (folder / "skin.glb").string()));
    QCOMPARE(model.materials.size(), size_t{2});
    QCOMPARE(model.materials[1].name, "Left_eye.1012");
    QCOMPARE(model.images.size(), size_t{films ? 10u : 6u});
    for (const char* extension : {"KHR_materials_clearcoat", "KHR_materials_sheen"}) {
      QCOMPARE(std::ranges::count(model.extensionsUsed, std::string(extension)), films ? 1 : 0);
      QCOMPARE(model.materials[1].extensions.count(extension), size_t{films ? 1u : 0u});
    }
    QCOMPARE(model.cameras.size(), size_t{surroundings ? 2u : 0u});
    QCOMPARE(model.lights.size(), size_t{surroundings ? 2u : 0u});
    // the eye's UVs are those of its tile
    const auto& accessor =
        model.accessors[static_cast<size_t>(model.meshes[1].primitives[0].attributes.at("TEXCOORD_0"))];
    const auto& view = model.bufferViews[static_cast<size_t>(accessor.bufferView)];
    const auto* uv = reinterpret_cast<const float*>(model.buffers[0].data.data() + view.byteOffset);
    for (size_t i = 0; i < 2 * accessor.count; ++i) QVERIFY(uv[i] > 0.09f && uv[i] < 0.91f);
    // the picture inside is the one beside it
    const auto& image = model.bufferViews[static_cast<size_t>(model.images[0].bufferView)];
    const auto inside = decodePicture(
        std::string(reinterpret_cast<const char*>(model.buffers[0].data.data() + image.byteOffset),
                    image.byteLength),
        "x");
    const auto beside = readPicture(folder / "skin_colour.1001.png");
    QVERIFY(inside && beside);
    QVERIFY((*inside)->pixels == (*beside)->pixels);
  }
  void variantsAreMaterialsByName() {
    const test::Folder folder;
    HandOn wish = wishFor(folder, MeshFile::Glb);
    wish.variants = true;
    Document d = withFillLayer(test::documentOf(twoParts()), "Red", Stratum::Flesh, {0.8f, 0.2f, 0.2f});
    d = *withVariant(d, "Flushed");
    LayerChange pale;
    pale.opacity = 0.25f;
    d = *withVariant(*withLayerChanged(d, d.activeLayer, pale), "Pale “winter”");
    const auto done = handOn(d, wish);
    QVERIFY2(done, done ? "" : done.error().message().c_str());
    const QJsonObject issues = test::validated(folder / "skin.glb");
    QVERIFY2(issues["numErrors"].toInt() == 0 && issues["numWarnings"].toInt() == 0,
             QJsonDocument(issues).toJson().constData());
    tinygltf::Model model;
    tinygltf::TinyGLTF loader;
    loader.SetImageLoader([](auto...) { return true; }, nullptr);
    std::string error, warning;
    QVERIFY(loader.LoadBinaryFromFile(&model, &error, &warning, (folder / "skin.glb").string()));
    QCOMPARE(model.materials.size(), size_t{6});
    const auto& names = model.extensions.at("KHR_materials_variants").Get("variants");
    QCOMPARE(names.ArrayLen(), size_t{2});
    QCOMPARE(names.Get(1).Get("name").Get<std::string>(), std::string("Pale “winter”"));
    const auto colorOf = [&](int material) {
      const auto& look = model.materials[static_cast<size_t>(material)].pbrMetallicRoughness;
      const auto& texture = model.textures[static_cast<size_t>(look.baseColorTexture.index)];
      const auto& view =
          model
              .bufferViews[static_cast<size_t>(model.images[static_cast<size_t>(texture.source)].bufferView)];
      const auto picture = decodePicture(
          std::string(reinterpret_cast<const char*>(model.buffers[0].data.data() + view.byteOffset),
                      view.byteLength),
          "x");
      return picture ? (*picture)->pixels[32 * 64 + 32] : 0u;
    };
    const auto& mappings =
        model.meshes[0].primitives[0].extensions.at("KHR_materials_variants").Get("mappings");
    QCOMPARE(mappings.ArrayLen(), size_t{2});
    const auto materialFor = [&](int variant) {
      for (int m = 0; m < 2; ++m)
        if (mappings.Get(m).Get("variants").Get(0).Get<int>() == variant)
          return mappings.Get(m).Get("material").Get<int>();
      return -1;
    };
    // the skin as it shows now is the pale one; the other is as red as it was kept
    const uint32_t now = colorOf(model.meshes[0].primitives[0].material);
    QCOMPARE(colorOf(materialFor(1)), now);
    QVERIFY((colorOf(materialFor(0)) >> 8 & 0xff) + 40 < (now >> 8 & 0xff));
  }
  void othersReadTheObjAndItsLibrary() {
    const test::Folder folder;
    const auto done = handOn(test::documentOf(twoParts()), wishFor(folder, MeshFile::Obj));
    QVERIFY2(done, done ? "" : done.error().message().c_str());
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFile((folder / "skin.obj").string(), aiProcess_Triangulate);
    QVERIFY2(scene, importer.GetErrorString());
    QCOMPARE(scene->mNumMeshes, 2u);
    std::vector<std::string> found;
    for (unsigned m = 0; m < scene->mNumMeshes; ++m) {
      aiString path;
      const aiMaterial* material = scene->mMaterials[scene->mMeshes[m]->mMaterialIndex];
      QCOMPARE(material->GetTexture(aiTextureType_DIFFUSE, 0, &path), aiReturn_SUCCESS);
      QVERIFY(std::filesystem::exists(folder / path.C_Str()));
      found.emplace_back(path.C_Str());
    }
    std::ranges::sort(found);
    QCOMPARE(found, (std::vector<std::string>{"skin_colour.1001.png", "skin_colour.1012.png"}));
    // and we read what we wrote
    const auto back = readSculpt(folder / "skin.obj");
    QVERIFY(back);
    QCOMPARE(test::difference(*back, twoParts(), 1e-5f), "");
  }
  // Added points leave as vertices, with the colours painted on them and the sculpt's UVs.
  void addedPointsGoOut() {
    Document d = test::documentOf(twoParts());
    const auto refined = withRefinement(d, {0, RefineShape::Flat});
    QVERIFY(refined);
    d = *refined;
    const auto skin = skinOf(d.layers, *d.maps, d.bare);
    QVERIFY(skin);
    const test::Folder folder;
    for (const char* ending : {"ply", "obj", "glb"}) {
      const auto file = folder / ("all." + std::string(ending));
      const Outcome done = writeColoured(file, d, *skin, {.allPoints = true});
      QVERIFY2(done, done ? "" : done.error().message().c_str());
      if (std::string_view(ending) == "glb") {
        const QJsonObject issues = test::validated(file);
        QVERIFY2(issues["numErrors"].toInt(-1) == 0 && issues["numWarnings"].toInt() == 0,
                 QJsonDocument(issues).toJson().constData());
      }
      const auto back = readSculpt(file);
      QVERIFY(back);
      QVERIFY(back->vertices.size() >= d.surface->size());
      QCOMPARE(back->polygonCount(), d.surface->triangles.size());
      QCOMPARE(back->parts, d.sculpt->parts);
      QCOMPARE(back->uvSets.size(), size_t{1});
      // the flat sheet's UVs are linear in its places, at added points too
      for (size_t p = 0; p < back->polygonCount(); ++p)
        for (uint32_t c = back->polygonStart[p]; c < back->polygonStart[p + 1]; ++c) {
          if (back->polygonPart[p] != 0) continue;
          const Vec3& v = back->vertices[back->corners[c]];
          const Vec2 wanted(0.1f + 0.08f * (v.x() + 5), 0.1f + 0.08f * (v.y() + 5));
          QVERIFY((back->uvSets[0].coordinates[back->uvSets[0].corner[c]] - wanted).norm() < 1e-5f);
        }
    }
  }
};

JUVENOR_TEST(TestTexturedMesh)
}  // namespace juvenor
#include "test_textured_mesh.moc"
