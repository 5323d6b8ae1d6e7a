// What juvenor-batch carries over to changed sculpts.
#include <QJsonDocument>
#include <QJsonObject>

#include "batch/answer.h"
#include "core/files.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
using test::Answer;
using test::batch;
using test::text;
using test::write;

class TestBatchCarry : public QObject {
  Q_OBJECT
 private slots:
  void init() { folder_ = std::make_unique<test::Folder>(); }
  // a changed sculpt: the work goes along into a document of its own, with what came of it
  void allWorkIsCarriedOver() {
    const auto file = [&](const char* name) { return text(*folder_ / name); };
    QVERIFY(writeSculpt(*folder_ / "ball.obj", test::sphere(40, 10), {}));
    QVERIFY(writeSculpt(*folder_ / "other.obj", test::sphere(60, 10), {}));
    QVERIFY(writeSculpt(*folder_ / "plate.obj", test::plane(20, 900), {}));
    QCOMPARE(batch({"new", file("ball.obj"), "-o", file("ball.juvenor")}).code, 0);
    write(*folder_ / "paint.json",
          "[{\"do\": \"add layer\", \"name\": \"Red\"}, {\"do\": \"fill\", \"color\": \"#c03020\"}]");
    QCOMPARE(batch({"run", file("paint.json"), file("ball.juvenor")}).code, 0);
    write(*folder_ / "pins.json",
          "{\"pins\": [{\"name\": \"pole\", \"old\": [0, 10, 0], \"new\": [0, 10, 0]}]}");
    const Answer told = batch({"carry", file("ball.juvenor"), file("other.obj"), "-o", file("other.juvenor"),
                               "--pins", file("pins.json"), "--report", file("report.json")});
    QVERIFY2(told.code == 0, qPrintable(told.problem));
    QVERIFY(told.out.contains("sure"));
    const auto report = readBytes(*folder_ / "report.json");
    QVERIFY(report);
    const QJsonObject json = QJsonDocument::fromJson(QByteArray::fromStdString(*report)).object();
    QVERIFY(json["sure"].toDouble() > 0.99);
    QCOMPARE(json["points"].toInt(), static_cast<int>(test::sphere(60, 10).vertices.size()));
    const Answer info = batch({"info", file("other.juvenor")});
    QVERIFY(info.out.contains("Red"));
    // nothing is written over unasked, and what does not fit leaves nothing behind
    QVERIFY(batch({"carry", file("ball.juvenor"), file("other.obj"), "-o", file("other.juvenor")}).code != 0);
    const Answer refused =
        batch({"carry", file("ball.juvenor"), file("plate.obj"), "-o", file("plate.juvenor")});
    QVERIFY(refused.code != 0);
    QVERIFY(refused.problem.contains("plate.obj") && refused.problem.contains('%'));
    QVERIFY(!std::filesystem::exists(*folder_ / "plate.juvenor"));
    write(*folder_ / "pins.json", "{\"pins\": [{\"old\": [0, 10, 0]}]}");
    QVERIFY(batch({"carry", file("ball.juvenor"), file("other.obj"), "-o", file("x.juvenor"), "--pins",
                   file("pins.json")})
                .problem.contains("pin 1"));
  }

 private:
  std::unique_ptr<test::Folder> folder_;
};

JUVENOR_TEST(TestBatchCarry)

}  // namespace juvenor

#include "test_batch_carry.moc"
