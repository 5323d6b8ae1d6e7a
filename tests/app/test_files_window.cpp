// Files as an artist meets them: saving and opening again, exporting, drops, broken ones, work that is
// offered back after a kill.
#include <QDropEvent>
#include <QFileDialog>
#include <QLineEdit>
#include <QMimeData>
#include <QProcess>
#include <QSettings>
#include <csignal>
#include <fstream>

#include "app/controls/ask_file.h"
#include "app/window/export_dialog.h"
#include "app/window/file_places.h"
#include "core/document/store/journal.h"
#include "core/files.h"
#include "driven_window.h"

namespace juvenor {

using test::DrivenWindow;
using test::twoParts;

class TestFilesWindow : public QObject {
  Q_OBJECT
 private slots:
  void savedAndOpenedAgainItIsTheSame() {
    DrivenWindow w(twoParts());
    w.setBrush([](Brush& b) { b.radius = 3, b.flow = 0.6f; });
    w.mouseStroke({w.at({-5, 5, 7}), w.at({3, 6, 7})});
    QVERIFY(w.session().unsaved() && w.window.windowTitle().startsWith("•"));
    const QString file = DrivenWindow::path(w.folder() / "work.juvenor");
    QVERIFY(w.window.saveTo(file));
    QVERIFY(!w.session().unsaved() && !w.window.windowTitle().startsWith("•"));
    const QImage picture = w.picture();
    const ColorField painted = w.painted();
    QVERIFY(w.window.openFile(file));
    w.settle();
    QVERIFY(test::sameValues(painted, w.painted()));
    QCOMPARE(w.session().history().steps().size(), size_t{2});
    QCOMPARE(w.picture(), picture);
    QCOMPARE(w.wrongPixels(), 0);
  }
  void exportWritesTheComposite() {
    DrivenWindow w(twoParts());
    w.session().fillNow();
    const QString file = DrivenWindow::path(w.folder() / "out.ply");
    QVERIFY(w.window.exportTo(file));
    const auto back = readSculpt(file.toStdString());
    QVERIFY(back);
    QCOMPARE(back->colors.size(), w.document().sculpt->vertices.size());
    // the fill covers the active part, and the export says so vertex by vertex
    const ColorField shown = *compositeOf(w.document().layers, *w.document().maps, w.document().bare);
    size_t filled = 0;
    for (size_t v = 0; v < back->colors.size(); ++v) {
      const Rgba16 wanted = colorAt(shown, v), found = back->colors[v];
      QVERIFY(std::abs(wanted.r - found.r) <= 129 && std::abs(wanted.g - found.g) <= 129 &&
              std::abs(wanted.b - found.b) <= 129);
      filled += toHex(straight(found)) == toHex(w.session().tools().color());
    }
    QVERIFY(filled > back->colors.size() / 3 && filled <= back->colors.size());
    const test::Folder folder;
    QCOMPARE(app::ExportDialog(w.document(), "river", folder / "mine.juvenor", nullptr).file().toStdString(),
             (folder / "river-coloured.ply").string());
    // what is suggested is never a file that is there
    std::ofstream(folder / "river-coloured.ply") << "somebody's own";
    QCOMPARE(app::ExportDialog(w.document(), "river", folder / "mine.juvenor", nullptr).file().toStdString(),
             (folder / "river-coloured-2.ply").string());
    app::ExportDialog dialog(w.document(), "river", {}, nullptr);
    QVERIFY(QFileInfo(QFileInfo(dialog.file()).path()).isDir());
    QVERIFY(dialog.file().endsWith("river-coloured.ply"));
    const auto buttons = dialog.findChildren<QAbstractButton*>();
    const auto glb = std::ranges::find_if(buttons, [](QAbstractButton* b) { return b->text() == "GLB"; });
    QVERIFY(glb != buttons.end());
    (*glb)->click();
    QVERIFY(dialog.file().endsWith("river-coloured.glb"));
  }
  // The artist's own sculpt is never written over unasked: what is suggested is free, what is there is asked
  // about.
  void whatIsThereIsReplacedOnlyWhenOneSaysSo() {
    DrivenWindow w(twoParts());
    const auto file = w.folder() / "own.ply";
    std::ofstream(file) << "somebody's own";
    w.answerWith("Another name");
    QVERIFY(!app::mayReplace(&w.window, DrivenWindow::path(file)));
    QVERIFY2(w.said.contains("own.ply"), qPrintable(w.said));
    w.answerWith("Replace it");
    QVERIFY(app::mayReplace(&w.window, DrivenWindow::path(file)));
    QVERIFY(app::mayReplace(&w.window, DrivenWindow::path(w.folder() / "free.ply")));
    QCOMPARE(*readBytes(file), std::string("somebody's own"));
    // the export's own dialog asks before it is over
    QTimer::singleShot(50, &w.window, [&] {
      auto* dialog = qobject_cast<app::ExportDialog*>(QApplication::activeModalWidget());
      QVERIFY(dialog);
      dialog->findChild<QLineEdit*>()->setText(DrivenWindow::path(file));
      w.answerWith("Another name");
      QTimer::singleShot(600, &w.window, [] {
        if (auto* again = qobject_cast<QDialog*>(QApplication::activeModalWidget())) again->reject();
      });
      dialog->accept();
    });
    w.key(Qt::Key_E, Qt::ControlModifier);
    QCOMPARE(*readBytes(file), std::string("somebody's own"));
  }
  // Where nothing was saved and the home has no folder for documents, a first save is offered in the home,
  // not wherever the program was started.
  void aFirstSaveIsOfferedWhereThereIsAFolder() {
    DrivenWindow w;
    QSettings().remove("recent");
    const QFileInfo offered(app::placeFor(w.session(), "head.juvenor"));
    QVERIFY2(QFileInfo(offered.path()).isDir() && offered.isAbsolute(), qPrintable(offered.filePath()));
    QVERIFY(app::documentsFolder() == offered.path());
  }
  void aBrokenFileLeavesWhatIsOpen() {
    DrivenWindow w(twoParts());
    const auto before = w.document().sculpt;
    std::ofstream(w.folder() / "bad.ply") << "ply\nformat ascii 1.0\nelement vertex 7\n";
    w.answerWith("OK");
    QVERIFY(!w.window.openFile(DrivenWindow::path(w.folder() / "bad.ply")));
    QVERIFY2(w.said.contains("bad.ply") && w.said.contains("end_header"), qPrintable(w.said));
    QCOMPARE(w.document().sculpt, before);
    w.answerWith("OK");
    QVERIFY(!w.window.saveTo("/proc/nowhere/x.juvenor"));
    QVERIFY(w.said.contains("not saved"));
    QVERIFY(w.colorNear({-5, 5, 7.6f}).a == 0);
    w.mouseStroke({w.at({-5, 5, 7})});
    QCOMPARE(w.session().history().steps().size(), size_t{2});
    QVERIFY(w.colorNear({-5, 5, 7.6f}).a > 0);
  }
  void unsavedWorkIsAskedAbout() {
    DrivenWindow w(twoParts());
    w.session().fillNow();
    w.answerWith("Stay");
    QVERIFY(!w.window.close());
    QVERIFY(w.said.contains("not saved"));
    w.answerWith("Leave without saving");
    QVERIFY(w.window.close());
  }
  void aDroppedFileIsOpened() {
    DrivenWindow w;
    QVERIFY(!w.session().isOpen());
    (void)writeSculpt(w.folder() / "d.stl.obj", test::sphere(10, 1), {});
    QMimeData mime;
    mime.setUrls({QUrl::fromLocalFile(DrivenWindow::path(w.folder() / "d.stl.obj"))});
    QDragEnterEvent enter({5, 5}, Qt::CopyAction, &mime, Qt::LeftButton, {});
    QCoreApplication::sendEvent(&w.window, &enter);
    QVERIFY(enter.isAccepted());
    QDropEvent drop({5, 5}, Qt::CopyAction, &mime, Qt::LeftButton, {});
    QCoreApplication::sendEvent(&w.window, &drop);
    QVERIFY(w.session().isOpen());
  }
  // The program itself, painting and killed: the next start offers all finished strokes.
  void afterAKillTheWorkIsOfferedBack() {
    DrivenWindow w(twoParts());
    recordStrokes(w);
    w.session().close();
    paintAndKill(w, w.folder() / "x.obj");
    DrivenWindow next;
    next.answerWith("Take it up again");
    QVERIFY(next.window.offerRecovery());
    next.settle();
    QVERIFY2(next.said.contains("no saved file: 3"), qPrintable(next.said));
    QCOMPARE(next.session().history().steps().size(), size_t{4});
    QVERIFY(next.session().unsaved());
    QVERIFY(leftBehind(journalFolder()).journals.empty());
    size_t covered = 0;
    for (size_t s = 0; s < next.painted().size(); ++s) covered += next.painted().at(s)[3] > 0;
    QVERIFY(covered > 50);
  }
  // The other answers: later, aside, and where the document is by now. None of them loses the work.
  void whatIsOfferedBackCanWaitOrBePutAside() {
    DrivenWindow w(twoParts());
    recordStrokes(w);
    const auto document = w.folder() / "ferry.juvenor", moved = w.folder() / "moved.juvenor";
    for (int i = 0; i < 3; ++i) w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(w.window.saveTo(DrivenWindow::path(document)));
    w.session().close();
    paintAndKill(w, document);
    std::filesystem::rename(document, moved);
    DrivenWindow next;
    const auto waiting = [] { return leftBehind(journalFolder()).journals; };
    QCOMPARE(waiting().size(), size_t{1});
    const std::filesystem::path journal = waiting().front().journal;
    next.answerWith("Ask me next time");
    QVERIFY(!next.window.offerRecovery());
    QCOMPARE(waiting().size(), size_t{1});
    next.answerWith("Take it up again");
    QTimer::singleShot(400, &next.window, [&] { next.answerWith("Ask me next time"); });
    QVERIFY(!next.window.offerRecovery());
    QVERIFY2(next.said.contains("Where is “ferry” now?"), qPrintable(next.said));
    QCOMPARE(waiting().size(), size_t{1});
    next.answerWith("Put it aside");
    QVERIFY(!next.window.offerRecovery());
    QVERIFY(waiting().empty());
    const auto aside = journalFolder() / "aside" / journal.filename();
    QVERIFY2(std::filesystem::exists(aside), aside.c_str());
    std::filesystem::rename(aside, journal);
    // and taken up on the document where it is now
    next.answerWith("Take it up again");
    QTimer::singleShot(400, &next.window, [&] {
      next.answerWith("Look for it …");
      auto* timer = new QTimer(&next.window);
      connect(timer, &QTimer::timeout, &next.window, [timer, &moved] {
        auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
        if (!dialog) return;
        timer->deleteLater();
        dialog->findChild<QLineEdit*>()->setText(DrivenWindow::path(moved));
        QTest::keyClick(dialog->findChild<QLineEdit*>(), Qt::Key_Return);
      });
      timer->start(50);
    });
    QVERIFY(next.window.offerRecovery());
    next.settle();
    QVERIFY(next.session().unsaved());
    QCOMPARE(next.session().path(), moved);
    QVERIFY(next.session().history().steps().size() >= 4);
    QVERIFY(waiting().empty());
  }

 private:
  void recordStrokes(DrivenWindow& w) {
    w.setBrush([](Brush& b) { b.radius = 2, b.flow = 0.4f; });
    w.easel().setRecording(true);
    for (const float x : {-4.f, 0.f, 4.f}) w.penStroke({{w.at({x, 6, 6}), 0.6}, {w.at({x + 1, 6, 6}), 0.9}});
    QVERIFY(writeBytes(w.folder() / "s.json", toJson(w.easel().recording()).dump()));
  }
  // In a process of its own, killed when its journal holds three strokes.
  void paintAndKill(DrivenWindow& w, const std::filesystem::path& file) {
    QProcess program;
    program.start(
        qEnvironmentVariable("JUVENOR_PROGRAM"),
        {"--as-guessed", "--replay", DrivenWindow::path(w.folder() / "s.json"), DrivenWindow::path(file)});
    QVERIFY(program.waitForStarted());
    // its journal tells how far it is
    const auto stepsOnDisk = [] {
      size_t steps = 0;
      std::error_code ec;
      for (const auto& e : std::filesystem::directory_iterator(journalFolder(), ec)) {
        if (e.path().extension() != ".journal") continue;
        if (auto store = Store::open(e.path(), true))
          if (const auto ids = store->stepIds()) steps = std::max(steps, ids->size());
      }
      return steps;
    };
    QTRY_VERIFY_WITH_TIMEOUT(stepsOnDisk() >= 4, 60'000);
    ::kill(static_cast<pid_t>(program.processId()), SIGKILL);
    program.waitForFinished();
  }
};

JUVENOR_TEST(TestFilesWindow)
}  // namespace juvenor
#include "test_files_window.moc"
