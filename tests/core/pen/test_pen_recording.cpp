// Recorded strokes go through JSON unchanged, scale with the easel, and say what is wrong with a bad file.
#include "core/pen/pen_recording.h"
#include "support/run_all.h"

namespace juvenor {

class TestPenRecording : public QObject {
  Q_OBJECT
 private slots:
  void goesThroughJson() {
    const PenRecording before{
        {640, 480},
        {{{{1.5f, 2.25f}, 0.3f, {10, -5}, 0.125}, {{7, 9}, 1, {0, 0}, 0.25}}, {{{3, 4}, 0, {0, 0}, 9}}}};
    const auto after = penRecordingFrom(nlohmann::json::parse(toJson(before).dump()));
    QVERIFY(after);
    QCOMPARE(after->strokes.size(), size_t{2});
    QCOMPARE(after->size.width, 640);
    for (size_t s = 0; s < 2; ++s) {
      QCOMPARE(after->strokes[s].size(), before.strokes[s].size());
      for (size_t i = 0; i < before.strokes[s].size(); ++i) {
        const PenPoint &a = before.strokes[s][i], &b = after->strokes[s][i];
        QVERIFY(a.pixel == b.pixel && a.pressure == b.pressure && a.tilt == b.tilt && a.seconds == b.seconds);
      }
    }
  }
  void scalesAroundTheMiddleByTheHeight() {
    const PenRecording r{{400, 200}, {{{{200, 100}, 1, {0, 0}, 0}, {{300, 50}, 1, {0, 0}, 0}}}};
    const PenRecording scaled = scaledTo(r, {1000, 400});
    QVERIFY(scaled.strokes[0][0].pixel == Vec2(500, 200));
    QVERIFY(scaled.strokes[0][1].pixel == Vec2(700, 100));
  }
  void badFilesSayWhere_data() {
    QTest::addColumn<QByteArray>("json");
    QTest::addColumn<QString>("said");
    const QByteArray head = "{\"format\":\"juvenor pen strokes 1\",\"width\":9,\"height\":9,\"strokes\":";
    QTest::newRow("nothing") << QByteArray("null") << "no recording";
    QTest::newRow("other format") << QByteArray("{\"format\":\"x\"}") << "no recording";
    QTest::newRow("no size")
        << QByteArray("{\"format\":\"juvenor pen strokes 1\",\"width\":0,\"height\":9,\"strokes\":[]}")
        << "width";
    QTest::newRow("no y") << head + "[[{\"x\":1,\"y\":2},{\"x\":1}]]}"
                          << "stroke 1, point 2";
    QTest::newRow("pressure") << head + "[[{\"x\":1,\"y\":2,\"pressure\":3}]]}"
                              << "0 to 1";
    QTest::newRow("a slip of the pen") << head + "[[{\"x\":1,\"y\":2,\"presure\":1}]]}"
                                       << "did you mean \"pressure\"";
    QTest::newRow("words") << head + "[[{\"x\":\"a\",\"y\":2}]]}"
                           << "stroke 1, point 1";
    QTest::newRow("no list") << head + "[{\"x\":1}]}"
                             << "stroke 1";
  }
  void badFilesSayWhere() {
    QFETCH(QByteArray, json);
    QFETCH(QString, said);
    const auto read = penRecordingFrom(nlohmann::json::parse(json.toStdString()));
    QVERIFY(!read);
    QVERIFY2(QString::fromStdString(read.error().what).contains(said), read.error().what.c_str());
  }
};

JUVENOR_TEST(TestPenRecording)
}  // namespace juvenor
#include "test_pen_recording.moc"
