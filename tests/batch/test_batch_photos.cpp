// Scripts about photos, grafts and moments of the work.
#include <QJsonDocument>
#include <QJsonObject>

#include "batch/answer.h"
#include "core/photo/picture_file.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {

class TestBatchPhotos : public QObject {
  Q_OBJECT
 private slots:
  void init() {
    folder_ = std::make_unique<test::Folder>();
    const Sculpt sculpt = test::together(test::sphere(40, 10), test::plane(8, 30, "Ground"));
    QVERIFY(writeSculpt(*folder_ / "x.obj", sculpt, {}));
    doc_ = test::text(*folder_ / "x.juvenor");
    QCOMPARE(test::batch({"new", test::text(*folder_ / "x.obj"), "-o", doc_}).code, 0);
  }
  void slidesAreThrownAndPaintedThroughByScripts() {
    const std::vector<uint32_t> red(48 * 48, 0xffc02010);
    const auto png = encodePng({48, 48}, red);
    QFile picture(test::text(*folder_ / "red.png"));
    QVERIFY(picture.open(QIODevice::WriteOnly));
    picture.write(QByteArray::fromStdString(*png));
    picture.close();
    const auto ran = [&](QByteArray script) {
      script.replace('\'', '"').replace("RED", test::text(*folder_ / "red.png").toUtf8());
      test::write(*folder_ / "s.json", script);
      return test::batch({"run", test::text(*folder_ / "s.json"), doc_});
    };
    const auto seen = [&](const char* at) {
      const test::Answer probe = test::batch({"probe", doc_, "--at", at});
      const QString said = QJsonDocument::fromJson(probe.out.toUtf8()).object()["color"].toString();
      return fromHex(said.toStdString()).value_or(EncodedColor{});
    };
    test::Answer answer = ran(
        "[{'do': 'add layer', 'name': 'Paint'}, {'do': 'slide', 'file': 'RED', 'name': 'Red', 'half': 0.5},"
        " {'do': 'stroke', 'points': [[0, 0, 10]], 'paint': {'slide': 'Red'},"
        " 'brush': {'size': 2, 'hardness': 1, 'flow': 1, 'pressure': []}}]");
    QVERIFY2(answer.code == 0, qPrintable(answer.problem));
    QVERIFY(seen("0,0,10").g < 0.2f && seen("0,3,9.5").g > 0.5f);
    answer = ran("[{'do': 'throw', 'feather': 0}]");
    QVERIFY2(answer.code == 0, qPrintable(answer.problem));
    QVERIFY(seen("0,3,9.5").g < 0.2f && seen("0,0,-10").g > 0.5f);
    // moved away, what was thrown goes along; what was painted stays
    answer = ran("[{'do': 'slide', 'slide': 'Red', 'middle': [9, 0]}]");
    QVERIFY2(answer.code == 0, qPrintable(answer.problem));
    QVERIFY(seen("0,3,9.5").g > 0.5f && seen("0,0,10").g < 0.2f);
    // what cannot be done is told, and nothing changes
    for (const char* wrong :
         {"[{'do': 'slide', 'slide': 'Red', 'solve': true}]", "[{'do': 'throw', 'slide': 'Blue'}]",
          "[{'do': 'throw', 'part': 'half'}]", "[{'do': 'slide', 'file': 'nowhere.png'}]",
          "[{'do': 'slide', 'file': 'RED', 'view': {'from': 'below'}}]",
          "[{'do': 'stroke', 'points': [[0, 0, 10]], 'paint': {'slide': 9}}]"}) {
      answer = ran(wrong);
      QVERIFY2(answer.code == 1 && answer.problem.contains("step 1"), wrong);
    }
  }
  void momentsAndGraftsAreScriptable() {
    const auto ran = [&](QByteArray script) {
      script.replace('\'', '"').replace("GRAFT", test::text(*folder_ / "cheek.exr").toUtf8());
      test::write(*folder_ / "s.json", script);
      return test::batch({"run", test::text(*folder_ / "s.json"), doc_});
    };
    const auto green = [&](const char* at) {
      const test::Answer probe = test::batch({"probe", doc_, "--at", at});
      const QString said = QJsonDocument::fromJson(probe.out.toUtf8()).object()["color"].toString();
      const EncodedColor c = fromHex(said.toStdString()).value_or(EncodedColor{});
      return c.g > c.r;
    };
    test::Answer answer =
        ran("[{'do': 'add layer', 'name': 'Paint'}, {'do': 'fill', 'color': '#c03020'},"
            " {'do': 'checkpoint', 'name': 'Red'}, {'do': 'fill', 'color': '#20a030'},"
            " {'do': 'stroke', 'ink': 'restore', 'checkpoint': 'Red', 'points': [[0, 0, 10]],"
            "  'brush': {'size': 4, 'hardness': 1, 'flow': 1, 'pressure': []}}]");
    QVERIFY2(answer.code == 0, qPrintable(answer.problem));
    QVERIFY(!green("0,0,10") && green("0,7,7"));
    // red skin off the front, onto the back; taking changes nothing
    answer = ran(
        "[{'do': 'graft take', 'file': 'GRAFT', 'pixels': 128,"
        "  'rectangle': {'at': [0, 0, 10], 'size': [3, 3]}, 'channels': ['color', 'relief'], 'form': true},"
        " {'do': 'graft lay', 'file': 'GRAFT', 'at': [0, 0, -10]}]");
    QVERIFY2(answer.code == 0, qPrintable(answer.problem));
    QVERIFY(!green("0,0,-10") && green("0,7,7"));
    answer = ran("[{'do': 'restore', 'layer': 'Paint', 'channels': ['color']}]");
    QVERIFY2(answer.code == 0, qPrintable(answer.problem));
    QVERIFY(!green("0,7,7"));
    answer = ran(
        "[{'do': 'undo'}, {'do': 'restore', 'layer': 'Paint', 'whole': true}, {'do': 'delete checkpoint'}]");
    QVERIFY2(answer.code == 0, qPrintable(answer.problem));
    for (const char* wrong :
         {"[{'do': 'restore'}]", "[{'do': 'graft take', 'file': 'GRAFT'}]",
          "[{'do': 'graft take', 'file': 'GRAFT', 'strip': {'line': [[0, 0, 10]], 'width': 2}}]",
          "[{'do': 'graft take', 'file': 'GRAFT', 'pixels': 99999, 'rectangle': {'at': [0, 0, 10], 'size': "
          "[3, 3]}}]",
          "[{'do': 'graft take', 'file': 'GRAFT', 'rectangle': {'at': [0, 0, 900], 'size': [3, 3]}}]",
          "[{'do': 'graft lay', 'file': 'nowhere.exr', 'at': [0, 0, 10]}]",
          "[{'do': 'graft lay', 'file': 'GRAFT'}]",
          "[{'do': 'stroke', 'ink': 'restore', 'points': [[0, 0, 10]]}]"}) {
      answer = ran(wrong);
      QVERIFY2(answer.code == 1 && answer.problem.contains("step 1"), wrong);
    }
  }

 private:
  std::unique_ptr<test::Folder> folder_;
  QString doc_;
};

JUVENOR_TEST(TestBatchPhotos)
}  // namespace juvenor
#include "test_batch_photos.moc"
