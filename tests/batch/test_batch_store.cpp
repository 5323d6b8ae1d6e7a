// What lies on disk, told and mended from a shell.
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include "batch/answer.h"
#include "core/document/edits/edits.h"
#include "core/document/store/journal.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
using test::Answer;
using test::batch;
using test::documentIn;
using test::text;
using test::write;

class TestBatchStore : public QObject {
  Q_OBJECT
 private slots:
  void init() {
    folder_ = std::make_unique<test::Folder>();
    QVERIFY(writeSculpt(*folder_ / "x.obj", test::sphere(40, 10), {}));
    doc_ = *folder_ / "x.juvenor";
  }
  // History, and room, of a document; work of a process that is gone, taken up without a window.
  void whatLiesOnDiskIsToldAndTakenUp() {
    const QString doc = text(doc_);
    QCOMPARE(batch({"new", text(*folder_ / "x.obj"), "-o", doc}).code, 0);
    write(*folder_ / "s.json",
          "[{\"do\": \"add layer\", \"name\": \"Paint\"}, {\"do\": \"fill\", \"color\": \"#aa7755\"}]");
    QCOMPARE(batch({"run", text(*folder_ / "s.json"), doc}).code, 0);
    const auto json = [](const Answer& a) { return QJsonDocument::fromJson(a.out.toUtf8()).object(); };
    QJsonArray steps = json(batch({"history", doc}))["steps"].toArray();
    QVERIFY(steps.size() >= 2 && steps.last().toObject()["shown"].toBool());
    QVERIFY(!steps.first().toObject()["name"].toString().isEmpty());
    const Document before = documentIn(doc_);
    const QJsonObject sizes = json(batch({"compact", doc, "--steps", "1"}));
    QVERIFY(sizes["after"].toInteger() > 0 && sizes["after"].toInteger() <= sizes["before"].toInteger());
    steps = json(batch({"history", doc}))["steps"].toArray();
    QCOMPARE(steps.size(), 1);
    const Document after = documentIn(doc_);
    QVERIFY(test::sameValues(*layerOf(after, before.activeLayer)->source->fields(),
                             *layerOf(before, before.activeLayer)->source->fields()));
    // a journal as a crash leaves it, of work that was never saved
    const auto journals = journalFolder();
    for (int i = 0; i < 2; ++i) {
      History h(after, "Open");
      h.push(*withFilled(after, after.activeLayer, EncodedColor{0.1f, 0.2f, 0.3f}, 1), "Fill");
      Journal journal(journals, {}, "Lost work");
      journal.keep({h.steps().begin(), h.steps().end()}, h.steps().back()->id);
      QVERIFY(journal.flush());
      journal.leaveBehind();
    }
    const QJsonArray left = json(batch({"recover", "list"}))["journals"].toArray();
    QCOMPARE(left.size(), 2);
    QCOMPARE(left[0].toObject()["title"].toString(), QString("Lost work"));
    const QString one = left[0].toObject()["journal"].toString(),
                  other = left[1].toObject()["journal"].toString();
    QCOMPARE(batch({"recover", "take", one, "-o", doc}).code, 1);  // a document is there
    const auto back = *folder_ / "back.juvenor";
    const Answer took = batch({"recover", "take", QFileInfo(one).fileName(), "-o", text(back)});
    QVERIFY2(took.code == 0, qPrintable(took.problem));
    const Document found = documentIn(back);
    QCOMPARE(toHex(straight(colorAt(*layerOf(found, found.activeLayer)->source->painted(), 3))),
             toHex({0.1f, 0.2f, 0.3f}));
    QVERIFY(!QFileInfo::exists(one));
    const Answer aside = batch({"recover", "aside", other});
    QVERIFY2(aside.code == 0, qPrintable(aside.problem));
    QVERIFY(!QFileInfo::exists(other) && QFileInfo::exists(json(aside)["journal"].toString()));
    QCOMPARE(json(batch({"recover", "list"}))["journals"].toArray().size(), 0);
    QCOMPARE(batch({"recover", "take", "nothing.journal", "-o", text(back), "--force"}).code, 1);
  }

 private:
  std::unique_ptr<test::Folder> folder_;
  std::filesystem::path doc_;
};

JUVENOR_TEST(TestBatchStore)
}  // namespace juvenor
#include "test_batch_store.moc"
