// What juvenor-batch tells of UVs, and the texture maps it writes.
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include "batch/answer.h"
#include "core/photo/picture_data.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
using test::Answer;
using test::batch;
using test::text;
using test::write;

class TestBatchTextures : public QObject {
  Q_OBJECT
 private slots:
  void init() { folder_ = std::make_unique<test::Folder>(); }
  void uvsAreToldAsJson() {
    const Sculpt box = test::oddities(4);
    QVERIFY(writeSculpt(*folder_ / "box.obj", box, {}));
    const Answer told = batch({"uv", text(*folder_ / "box.obj"), "--size", "2048"});
    QCOMPARE(told.code, 0);
    const QJsonObject uv = QJsonDocument::fromJson(told.out.toUtf8()).object();
    size_t triangles = 0;
    for (size_t p = 0; p < box.polygonCount(); ++p) triangles += box.polygon(p).size() - 2;
    QCOMPARE(static_cast<size_t>(uv["triangles"].toInt()), triangles);
    QCOMPARE(uv["tiles"].toArray()[0].toObject()["tile"].toInt(), 1001);
    QVERIFY(uv["islands"].toInt() >= 1 && uv["stretch"].toObject()["mean"].toDouble() >= 0.999);
    QCOMPARE(uv["pixels per mm"].toObject()["at"].toInt(), 2048);
    QVERIFY(writeSculpt(*folder_ / "ball.obj", test::sphere(12, 3), {}));
    const Answer none = batch({"uv", text(*folder_ / "ball.obj")});
    QCOMPARE(none.code, 1);
    QVERIFY2(none.problem.contains("has no UVs"), qPrintable(none.problem));
    const Answer other = batch({"uv", text(*folder_ / "box.obj"), "--set", "second"});
    QCOMPARE(other.code, 1);
    QVERIFY2(other.problem.contains("has no UV set 'second'"), qPrintable(other.problem));
  }
  void aSkinGoesOutAsMaps() {
    const QString doc = made();
    const Answer done = batch({"bake", doc, "-o", text(*folder_ / "maps"), "--maps",
                               "colour,normal,gloss+metal+cavity", "--size", "128", "--samples", "4"});
    QVERIFY2(done.code == 0, qPrintable(done.problem));
    const QJsonObject told = QJsonDocument::fromJson(done.out.toUtf8()).object();
    QCOMPARE(told["files"].toArray().size(), 4);
    const auto colour = readPicture(*folder_ / "maps/skin_colour.png");
    QVERIFY(colour);
    QCOMPARE((*colour)->width, 128);
    // the fill, in the middle of the sheet
    QCOMPARE((*colour)->pixels[64 * 128 + 64], 0xff804020u);
    // again: refused, and said otherwise done
    QCOMPARE(batch({"bake", doc, "-o", text(*folder_ / "maps"), "--maps", "colour", "--size", "64"}).code, 1);
    QCOMPARE(
        batch({"bake", doc, "-o", text(*folder_ / "maps"), "--maps", "colour", "--size", "64", "--force"})
            .code,
        0);
  }
  void anotherMeshWearsThem() {
    const QString doc = made();
    Sculpt low = sheet(2);
    for (Vec3& v : low.vertices) v.z() += 0.1f;
    QVERIFY(writeSculpt(*folder_ / "low.obj", low, {}));
    const QStringList command{"bake",   doc,      "-o",    text(*folder_ / "maps"),
                              "--maps", "colour", "--for", text(*folder_ / "low.obj"),
                              "--size", "64"};
    const Answer done = batch(command + QStringList{"--reach", "2"});
    QVERIFY2(done.code == 0, qPrintable(done.problem));
    const QJsonObject told = QJsonDocument::fromJson(done.out.toUtf8()).object();
    QVERIFY(std::abs(told["reach mm"].toDouble() - 2) < 1e-4);
    QCOMPARE(told["texels without skin"].toInt(), 0);
    // a unit said wrong puts it somewhere else
    const Answer far = batch(command + QStringList{"--force", "--mesh-unit", "m"});
    QVERIFY2(far.code == 1 ||
                 QJsonDocument::fromJson(far.out.toUtf8()).object()["texels without skin"].toInt() > 0,
             qPrintable(far.out));
  }
  void whatIsSaidWrongIsTold() {
    const QString doc = made();
    const std::pair<QStringList, const char*> wrong[] = {
        {{"--maps", "colours"}, "there is no map 'colours'"},
        {{"--tiles", "1002"}, "nothing lies in tile 1002"},
        {{"--tiles", "7"}, "is not in 1001"},
        {{"--format", "gif"}, "there is no 'gif'"},
        {{"--depth", "12"}, "there is no '12'"},
        {{"--depth", "half"}, "cannot keep"},
        {{"--padding", "much"}, "is no whole number"},
        {{"--normals", "some"}, "there is no 'some'"},
        {{"--set", "second"}, "has no UV set 'second'"},
        {{"--for", "/nowhere.obj"}, "no such file"},
        {{"--layered"}, "only EXR files hold several maps"},
    };
    for (const auto& [said, told] : wrong) {
      const Answer failed = batch(QStringList{"bake", doc, "-o", text(*folder_ / "maps")} + said);
      QCOMPARE(failed.code, 1);
      QVERIFY2(failed.problem.contains(told), qPrintable(failed.problem));
    }
    QCOMPARE(batch({"bake", doc, "-o", text(*folder_ / "maps"), "--size", "7"}).code, 2);
  }

 private:
  static Sculpt sheet(int cells) {
    Sculpt out = test::plane(cells, 20);
    UvSet uv{"UV", {}, out.corners};
    for (const Vec3& v : out.vertices)
      uv.coordinates.emplace_back(0.5f + 0.04f * v.x(), 0.5f + 0.04f * v.y());
    out.uvSets = {uv};
    return out;
  }
  QString made() {
    if (!writeSculpt(*folder_ / "skin.obj", sheet(20), {})) qFatal("no sculpt");
    write(*folder_ / "s.json", R"(
      [{"do": "add layer", "kind": "fill", "color": [0.50196, 0.25098, 0.12549]}])");
    const QString doc = text(*folder_ / "skin.juvenor");
    if (batch({"new", text(*folder_ / "skin.obj"), "-o", doc, "--unit", "mm"}).code != 0)
      qFatal("no document");
    if (const Answer ran = batch({"run", text(*folder_ / "s.json"), doc}); ran.code != 0)
      qFatal("%s", qPrintable(ran.problem));
    return doc;
  }
  std::unique_ptr<test::Folder> folder_;
};

JUVENOR_TEST(TestBatchTextures)
}  // namespace juvenor
#include "test_batch_textures.moc"
