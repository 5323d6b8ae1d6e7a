// Programs killed at any moment while they save, save under another name, refine, put their work after
// another's or take up what a crash left: whatever was said to be safe is found again, in a document or in a
// journal that can be taken up. JUVENOR_KILLS says how many; without it each kind has a few seconds.
#include <QElapsedTimer>
#include <QFileInfo>
#include <QProcess>
#include <QThread>
#include <csignal>
#include <set>

#include "core/files.h"
#include "kills/kill_scene.h"
#include "support/mutated.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

namespace fs = std::filesystem;
using test::KillFolder;

constexpr qint64 kUsualTime = 4'000;  // milliseconds for each kind

// Two painted layers and a few steps, saved; for recovery a journal of three strokes more, for save as a
// document that will be replaced.
void prepare(const KillFolder& folder, bool crashed) {
  Document d = withPaintedLayer(test::documentOf(test::plane(90, 10)), "Paint", Stratum::Pigment);
  History h(withPaintedLayer(d, "Other", Stratum::Pigment), "open");
  test::painted(h, "before", "Other", 5);
  auto store = saveAs(folder.work(), test::stepsOf(h), test::currentOf(h));
  QVERIFY(store);
  const History replaced(d, "to be replaced");
  QVERIFY(saveAs(folder.other(), test::stepsOf(replaced), test::currentOf(replaced)));
  if (!crashed) return;
  Journal journal(folder.journals(), {folder.work(), store->save()}, "work");
  for (const char* name : {"stroke 1", "stroke 2", "stroke 3"}) {
    test::painted(h, name, "Paint", static_cast<uint32_t>(name[7]));
    journal.keep(test::stepsOf(h), test::currentOf(h));
    QVERIFY(journal.flush());
  }
  journal.leaveBehind();
}

// The names of all steps of a document or a journal; an error when it cannot be read.
using Names = std::set<std::string>;
Result<Names> namesOf(const Result<Opened>& opened) {
  if (!opened) return opened.error();
  Names out;
  for (const StepPointer& step : opened->steps) out.insert(step->name);
  return out;
}
Result<Names> namesIn(const fs::path& document) {
  auto store = Store::open(document, true);
  if (!store) return store.error();
  return namesOf(store->read());
}

struct Killed {
  Names safe;        ///< what the program said
  bool was = false;  ///< killed before it was done
  QString trouble;
};

// A word of the worker's; empty when it says nothing any more.
QString wordOf(QProcess& worker) {
  while (!worker.canReadLine())
    if (!worker.waitForReadyRead(60'000)) return {};
  return QString::fromUtf8(worker.readLine()).trimmed();
}

Killed killed(QProcess& worker, const QByteArray& what, const KillFolder& folder,
              std::optional<qint64> afterMicros, qint64* took = nullptr) {
  Killed out;
  worker.write(what + '\t' + QByteArray::fromStdString(folder.root.string()) + '\n');
  pid_t child = 0;
  QElapsedTimer time;
  for (;;) {
    const QString word = wordOf(worker);
    if (word.startsWith("pid ")) child = word.mid(4).toInt();
    if (word == "go") time.start();
    // whichever was heard first
    if (afterMicros && child > 0 && time.isValid()) {
      QThread::usleep(static_cast<unsigned long>(*afterMicros));
      ::kill(std::exchange(child, 0), SIGKILL);
    }
    if (word.isEmpty() || word.startsWith("failed"))
      out.trouble = word.isEmpty() ? "the worker fell silent" : word;
    if (word.isEmpty() || word == "done" || word == "killed") {
      out.was = word == "killed";
      break;
    }
    if (!word.startsWith("pid ") && word != "go") out.safe.insert(word.toStdString());
  }
  if (took) *took = time.nsecsElapsed() / 1000;
  return out;
}

// What is missing of all that is safe; empty when everything was found.
QString missingAfter(const KillFolder& folder, Names wanted) {
  wanted.insert({"open", "before"});
  const auto work = namesIn(folder.work());
  if (!work) return "the document: " + QString::fromStdString(work.error().message());
  const auto other = namesIn(folder.other());
  if (!other) return "the other document: " + QString::fromStdString(other.error().message());
  // it is what it was, or all of what takes its place
  if (*other != Names{"to be replaced"} && !other->contains("stroke 3"))
    return "the other document is half of something";
  Names found = *work;
  found.insert(other->begin(), other->end());
  const LeftBehindList left = leftBehind(folder.journals());
  for (const Error& unreadable : left.unreadable)
    return "a journal: " + QString::fromStdString(unreadable.message());
  for (const LeftBehind& journal : left.journals) {
    const auto names = namesOf(recover(journal));
    if (!names) return "a journal: " + QString::fromStdString(names.error().message());
    found.insert(names->begin(), names->end());
  }
  for (const std::string& name : wanted)
    if (!found.contains(name)) return QString::fromStdString("“" + name + "” is nowhere");
  return {};
}

}  // namespace

class TestKills : public QObject {
  Q_OBJECT
 private slots:
  // what is killed is the program, not the machine: a disc in memory keeps its word as well, and sooner
  void initTestCase() {
    if (QFileInfo("/dev/shm").isWritable()) qputenv("TMPDIR", "/dev/shm");
  }
  void nothingThatWasSafeIsLost_data() {
    QTest::addColumn<QString>("what");
    for (const char* what : {"save", "save as", "refine", "put after", "recover"})
      QTest::newRow(what) << what;
  }
  void nothingThatWasSafeIsLost() {
    QFETCH(QString, what);
    const QByteArray name = what.toUtf8();
    QProcess worker;
    worker.start(qEnvironmentVariable("JUVENOR_KILL_WORKER"), QStringList());
    const bool crashed = what == "recover";
    const auto round = [&](std::optional<qint64> after, qint64* took = nullptr) {
      const test::Folder folder;
      const KillFolder here{folder.path()};
      prepare(here, crashed);
      Killed result = killed(worker, name, here, after, took);
      if (!result.trouble.isEmpty()) return std::pair(result, result.trouble);
      Names wanted = result.safe;
      if (crashed) wanted.insert({"stroke 1", "stroke 2", "stroke 3"});
      return std::pair(result, missingAfter(here, wanted));
    };
    qint64 usual = 0;
    const auto [whole, trouble] = round({}, &usual);
    QVERIFY2(trouble.isEmpty(), qPrintable(trouble));
    QVERIFY(!whole.was && usual > 0);
    const uint32_t count = test::wantedNumber("JUVENOR_KILLS", 0) / 5;
    std::mt19937 random(31);
    QElapsedTimer time;
    time.start();
    uint32_t rounds = 0, kills = 0;
    for (; count > 0 ? rounds < count : time.elapsed() < kUsualTime; ++rounds) {
      const auto after = static_cast<qint64>(random() % static_cast<uint64_t>(usual));
      const auto [result, missing] = round(after);
      QVERIFY2(
          missing.isEmpty(),
          qPrintable(
              QString("%1 killed after %2 µs, round %3: %4").arg(what).arg(after).arg(rounds).arg(missing)));
      kills += result.was;
    }
    worker.closeWriteChannel();
    QVERIFY(worker.waitForFinished(10'000));
    qInfo("%s: %u of %u rounds killed, nothing lost", name.constData(), kills, rounds);
    QVERIFY2(kills > 0, qPrintable(QString("%1 of %2").arg(kills).arg(rounds)));
  }
};

JUVENOR_TEST(TestKills)
}  // namespace juvenor
#include "test_kills.moc"
