// What holds the window up: two programs at one document, layers that cannot be worked out, sculpts that lie
// on their face, points added, tools and kinds in reach, keys that go back to the easel, light that goes with
// the view.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QProcess>
#include <QProgressBar>
#include <QRegularExpression>

#include "app/controls/value_slider.h"
#include "app/driven_window.h"
#include "app/style/style.h"
#include "app/window/placement_dialog.h"
#include "app/window/refine_dialog.h"
#include "core/document/store/in_use.h"
#include "core/files.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

// Runs a script on a document in a process of its own; what it printed as a problem, empty when it went well.
QString batchRun(const std::filesystem::path& script, const std::filesystem::path& document,
                 bool evenIfOpen) {
  QProcess batch;
  QStringList arguments{"run", DrivenWindow::path(script), DrivenWindow::path(document)};
  if (evenIfOpen) arguments << "--even-if-open";
  batch.start(qEnvironmentVariable("JUVENOR_BATCH"), arguments);
  batch.waitForFinished(60'000);
  return batch.exitCode() == 0 ? QString() : QString::fromUtf8(batch.readAllStandardError());
}

// A layer that cannot be worked out, as when memory does not suffice.
class Hopeless : public LayerSource {
 public:
  const SourceKind& kind() const override { return *sourceKind("ramp"); }
  Result<PreparedSourcePointer> prepare(SurfaceMaps&, const Progress&) const override {
    return Error{"there is not enough memory for it"};
  }
  nlohmann::json parameters() const override { return nlohmann::json::object(); }
  SourcePointer refined(const Refined&) const override { return std::make_shared<Hopeless>(); }
};

double meanGrey(const QImage& image, uint32_t background) {
  double sum = 0;
  int count = 0;
  for (int y = 0; y < image.height(); ++y)
    for (int x = 0; x < image.width(); ++x)
      if ((image.pixel(x, y) | 0xff000000u) != background) {
        sum += qGray(image.pixel(x, y));
        ++count;
      }
  return count ? sum / count : 0;
}

// Acts on the next dialog of a kind that shows.
template <class Dialog>
void whenShown(DrivenWindow& w, const std::function<void(Dialog&)>& act) {
  auto* timer = new QTimer(&w.window);
  QObject::connect(timer, &QTimer::timeout, &w.window, [timer, act] {
    for (QWidget* top : QApplication::topLevelWidgets())
      if (auto* dialog = qobject_cast<Dialog*>(top); dialog && dialog->isVisible()) {
        timer->stop();
        timer->deleteLater();
        return act(*dialog);
      }
  });
  timer->start(20);
}

}  // namespace

class TestFirmGround : public QObject {
  Q_OBJECT
 private slots:
  void theShellAndTheWindowLoseNoStroke() {
    DrivenWindow w(test::sphere(96, 10));
    const auto document = w.folder() / "ferry.juvenor", script = w.folder() / "tone.json";
    QVERIFY(w.window.saveTo(DrivenWindow::path(document)));
    const nlohmann::json added{
        {"do", "add layer"}, {"name", "From the shell"}, {"kind", "fill"}, {"color", "#804020"}};
    QVERIFY(writeBytes(script, nlohmann::json::array({added}).dump()));
    // it says that the document is open, and leaves it alone
    const QString said = batchRun(script, document, false);
    QVERIFY2(said.contains("is open in process " + QString::number(QCoreApplication::applicationPid())),
             qPrintable(said));
    QCOMPARE(batchRun(script, document, true), QString());
    w.setBrush([](Brush& b) { b.radius = 3, b.flow = 1, b.opacity = 1; });
    w.chooseColor({1, 0, 0});
    w.mouseStroke({w.at({0, 0, 10}), w.at({2, 0, 9.7f})});
    QVERIFY(w.session().unsaved());
    w.answerWith("Put mine after theirs");
    QVERIFY(w.window.saveTo(DrivenWindow::path(document)));
    QVERIFY2(w.said.contains("another program"), qPrintable(w.said));
    const auto opened = Store::open(document, true)->read();
    const Document& d = opened->steps[opened->current]->document;
    QCOMPARE(d.layers.size(), size_t{2});
    const uint32_t s = *nearestSample(*d.surface, {0, 0, 10}, 1e6f);
    size_t red = 0, brown = 0;
    for (const LayerPointer& l : d.layers) {
      brown += l->name == "From the shell";
      if (l->source->painted()) red += colorAt(*l->source->painted(), s).a > 60'000;
    }
    QCOMPARE(red, size_t{1});
    QCOMPARE(brown, size_t{1});
  }
  void aConflictThatIsPutOffKeepsTheJournal() {
    DrivenWindow w(test::sphere(64, 10));
    const auto document = w.folder() / "ferry.juvenor", script = w.folder() / "tone.json";
    QVERIFY(w.window.saveTo(DrivenWindow::path(document)));
    QVERIFY(writeBytes(script, R"([{"do": "layer", "opacity": 0.5}])"));
    QCOMPARE(batchRun(script, document, true), QString());
    w.setBrush([](Brush& b) { b.radius = 3, b.flow = 1; });
    w.mouseStroke({w.at({0, 0, 10})});
    const std::string before = *readBytes(document);
    w.answerWith("Not now");
    QVERIFY(!w.window.saveTo(DrivenWindow::path(document)));
    QCOMPARE(*readBytes(document), before);
    QVERIFY(w.session().unsaved() && w.session().flush());
  }
  void paintingGoesOnWhileSaving() {
    DrivenWindow w(test::sphere(96, 10));
    w.setBrush([](Brush& b) { b.radius = 3, b.flow = 1; });
    w.mouseStroke({w.at({0, 0, 10})});
    const auto file = w.folder() / "s.juvenor";
    // a stroke is made in the loop that waits for the save
    QTimer::singleShot(0, &w.window, [&] {
      w.session().beginStroke(false, {{300, 300}, 1, {0, 0}, 0});
      w.session().engine().endStroke();
    });
    QVERIFY(w.window.saveTo(DrivenWindow::path(file)));
    w.settle();
    QVERIFY(w.session().flush());
    QVERIFY(w.window.saveTo(DrivenWindow::path(file)));
    const auto opened = Store::open(file, true)->read();
    QCOMPARE(opened->steps.size(), w.session().history().steps().size());
  }
  // Other work that is opened while a save is on its way has nothing to do with that file.
  void aSaveBelongsToTheWorkItWasMadeOf() {
    DrivenWindow w(test::sphere(64, 10));
    const auto mine = w.folder() / "mine.juvenor", other = w.folder() / "other.obj";
    QVERIFY(writeSculpt(other, test::plane(20, 10), {}));
    const auto work = w.session().saving(mine);
    QVERIFY(w.window.openFile(DrivenWindow::path(other)));
    const auto saved = work();
    QVERIFY2(saved, saved ? "" : saved.error().message().c_str());
    QVERIFY(!w.session().noteSaved(*saved));
    QVERIFY(w.session().path().empty());
    const size_t vertices = Store::open(mine, true)->read()->steps.front()->document.sculpt->vertices.size();
    QVERIFY(w.session().saveTo(w.folder() / "second.juvenor"));
    QCOMPARE(Store::open(mine, true)->read()->steps.front()->document.sculpt->vertices.size(), vertices);
  }
  // What the work was kept by goes only when what takes its place is on disk; where that cannot be, it stays.
  void aJournalStaysUntilTheNextOneHoldsTheWork() {
    DrivenWindow w(test::sphere(64, 10));
    w.setBrush([](Brush& b) { b.radius = 3, b.flow = 1; });
    w.mouseStroke({w.at({0, 0, 10})});
    QVERIFY(w.session().flush());
    const auto journals = [] {
      size_t out = 0;
      for (const auto& e : std::filesystem::directory_iterator(journalFolder()))
        out += e.path().extension() == ".journal";
      return out;
    };
    const size_t before = journals();
    const History same = w.session().history();
    w.session().takeRecovered(same, "again", {}, {});
    QVERIFY(journals() >= before);
    QVERIFY(w.session().flush());
    QVERIFY(w.session().unsaved());
    QTRY_COMPARE_WITH_TIMEOUT(journals(), before, 10'000);
  }
  void aLayerThatCannotBeWorkedOutSaysWhy() {
    DrivenWindow w(test::sphere(64, 10));
    QMap<uint32_t, QString> told;
    connect(&w.session().engine(), &Engine::troubled, this,
            [&](const QMap<uint32_t, QString>& t) { told = t; });
    w.session().apply(
        withSourceLayer(w.document(), "Hopeless", Stratum::Surface, std::make_shared<Hopeless>()), "Add");
    w.settleFully();
    const uint32_t id = w.document().activeLayer;
    QVERIFY2(told.value(id).contains("memory"), qPrintable(told.value(id)));
    // it shows nothing, the rest does, and who exports is told
    QVERIFY(!compositeOf(w.document().layers, *w.document().maps, w.document().bare));
    LayerChange hide;
    hide.visible = false;
    w.session().apply(withoutLayer(w.document(), id), "Delete");
    w.settleFully();
    QVERIFY(told.isEmpty());
    QCOMPARE(w.wrongPixels(), 0);
  }
  void aSculptThatLiesIsAskedForAndStands() {
    DrivenWindow w;
    w.window.setAsksHowItStands(true);
    Sculpt lying = test::box(16, {2, 1, 9});
    const auto file = w.folder() / "lying.obj";
    QVERIFY(writeSculpt(file, lying, {}));
    QString tall;
    whenShown<PlacementDialog>(w, [&](PlacementDialog& dialog) {
      QCOMPARE(dialog.placement().up, Axis::PlusZ);  // the guess
      auto* unit = dialog.findChild<QComboBox*>("unit");
      unit->setCurrentIndex(1);
      emit unit->activated(1);
      tall = dialog.findChild<QLabel*>("tall")->text();
      dialog.findChild<QAbstractButton*>("front 1")->click();
      dialog.accept();
    });
    QVERIFY(w.window.openFile(DrivenWindow::path(file)));
    w.settle();
    QVERIFY2(tall.contains("90"), qPrintable(tall));
    QCOMPARE(w.document().placement.up, Axis::PlusZ);
    QCOMPARE(w.document().placement.millimetres, 10.f);
    QCOMPARE(w.document().surface->bounds.high.y(), 4.5f);
    // another stand later is a step that can be undone
    whenShown<PlacementDialog>(w, [](PlacementDialog& dialog) {
      dialog.findChild<QAbstractButton*>("up 2")->click();
      dialog.accept();
    });
    for (QAction* a : w.window.findChildren<QAction*>())
      if (a->text() == "How it stands …") a->trigger();
    w.settle();
    QCOMPARE(w.document().placement.up, Axis::PlusY);
    QCOMPARE(w.wrongPixels(), 0);
    w.window.undo();
    QCOMPARE(w.document().placement.up, Axis::PlusZ);
    // given up, nothing is opened
    whenShown<PlacementDialog>(w, [](PlacementDialog& dialog) { dialog.reject(); });
    QVERIFY(w.session().saveTo(w.folder() / "x.juvenor"));
    QVERIFY(!w.window.openFile(DrivenWindow::path(file)));
    QCOMPARE(w.session().title(), QString("x"));
  }
  void addingPointsTellsWhatComes() {
    DrivenWindow w(test::sphere(64, 10));
    const size_t before = w.document().surface->size();
    QString told;
    whenShown<RefineDialog>(w, [&](RefineDialog& dialog) {
      QVERIFY(dialog.findChild<QAbstractButton*>("round")->isChecked());  // it is coarse
      told = dialog.findChild<QLabel*>("outcome")->text();
      dialog.accept();
    });
    w.key(Qt::Key_R, Qt::ControlModifier);
    w.settle();
    QVERIFY2(told.contains(QRegularExpression("[1-9][0-9]* MB")), qPrintable(told));
    QCOMPARE(w.document().refinements.size(), size_t{1});
    QCOMPARE(w.document().refinements[0].shape, RefineShape::Round);
    QVERIFY(w.document().surface->size() > 3 * before);
    float inside = 0;
    for (const Vec3& p : w.document().surface->positions) inside = std::max(inside, 10 - p.norm());
    QVERIFY(inside < 0.01f);
  }
  void pointsAreAddedWhereTheMaskShows() {
    DrivenWindow w(test::sphere(64, 10));
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Pigment), "Add");
    const uint32_t id = w.document().activeLayer;
    w.session().apply(*withMask(w.document(), id), "Mask");
    const Document& d = w.document();
    ScalarField shows = openMask(d.surface->size());
    for (size_t c = 0; c < shows.chunkCount(); ++c) {
      auto chunk = shows.writable(c);
      for (size_t s = c * kChunkSize; s < std::min(shows.size(), (c + 1) * kChunkSize); ++s)
        chunk->plane[0][s % kChunkSize] = d.surface->positions[s].z() > 8 ? 65535 : 0;
      shows.setChunk(c, std::move(chunk));
    }
    w.session().apply(*withMaskField(d, id, shows), "Front");
    const size_t before = w.document().surface->size();
    whenShown<RefineDialog>(w, [&](RefineDialog& dialog) {
      auto* where = dialog.findChild<QComboBox*>("where");
      // and on the active part
      QCOMPARE(where->count(), 3);
      where->setCurrentIndex(1);
      auto* outcome = dialog.findChild<QLabel*>("outcome");
      QTRY_VERIFY(outcome->text().contains("MB"));
      dialog.accept();
    });
    w.key(Qt::Key_R, Qt::ControlModifier);
    w.settle();
    QCOMPARE(w.document().refinements.size(), size_t{1});
    QVERIFY(!w.document().refinements[0].where.empty());
    const std::shared_ptr<const Surface> finer = w.document().surface;
    const Surface& s = *finer;
    QVERIFY(s.size() > before + before / 10 && s.size() < 2 * before);
    const auto behind = [](const Surface& of) {
      return std::ranges::count_if(of.positions, [](const Vec3& p) { return p.z() < 0; });
    };
    w.window.undo();
    QCOMPARE(behind(s), behind(*w.document().surface));
  }
  void everyKindIsOneClickFromTheCard() {
    DrivenWindow w(test::sphere(48, 10));
    for (const SourceKind* kind : sourceKinds())
      for (int stratum = -1; stratum < 3; stratum += 3) {
        w.named<QPushButton>("add layer")->click();
        auto* card = w.named<QWidget>("kind card");
        QVERIFY(card && card->isVisible());
        QVERIFY(card->width() <= 660 && card->height() <= 440);
        card->findChild<QAbstractButton*>(QString("stratum %1").arg(stratum))->click();
        auto* button = card->findChild<QAbstractButton*>(
            "kind " + QString::fromUtf8(kind->key.data(), static_cast<qsizetype>(kind->key.size())));
        QTRY_VERIFY(!button->icon().isNull());
        button->click();
        w.settle();
        QTRY_VERIFY(!w.named<QWidget>("kind card"));
        QCOMPARE(&w.active()->source->kind(), kind);
        QCOMPARE(w.active()->stratum, stratum < 0 ? kind->stratum : static_cast<Stratum>(stratum));
      }
  }
  void theKitGoesWithTheStageAndKeysStay() {
    DrivenWindow w(test::sphere(48, 10));
    const auto shown = [&](const char* tool) {
      for (auto* b : w.window.findChildren<QToolButton*>("kit"))
        if (b->property("tool").toString() == tool) return b->isVisible();
      return false;
    };
    w.window.side().stage().goTo(0);
    QVERIFY(shown("Fill") && !shown("Zones") && shown("Airbrush"));
    w.key(Qt::Key_Z);  // from another stage: it shows while it is in hand
    QCOMPARE(w.session().tools().tool(), Tool::Zones);
    QVERIFY(shown("Zones"));
    w.key(Qt::Key_A);
    QVERIFY(!shown("Zones"));
    int tools = 0;
    for (auto* b : w.window.findChildren<QToolButton*>("kit")) tools += b->isVisible();
    QVERIFY(tools <= 11);
  }
  void itFitsASmallScreen() {
    DrivenWindow w(test::sphere(48, 10));
    w.window.resize(1240, 680);
    w.settle();
    QCOMPARE(w.window.size(), QSize(1240, 680));
    QVERIFY(w.easel().width() >= 620);
    // nothing of the panels sticks out
    for (QWidget* child : w.window.findChildren<QWidget*>()) {
      if (!child->isVisible() || child->isWindow()) continue;
      const QRect inside(child->mapTo(&w.window, QPoint(0, 0)), child->size());
      QWidget* scrolled = child->parentWidget();
      while (scrolled && scrolled->objectName() != "qt_scrollarea_viewport")
        scrolled = scrolled->parentWidget();
      if (scrolled) continue;
      QVERIFY2(w.window.rect().contains(inside),
               qPrintable(child->metaObject()->className() + child->objectName()));
    }
  }
  void lettersAreShortcutsAgainAfterANumber() {
    DrivenWindow w(test::sphere(48, 10));
    ValueSlider* size = nullptr;
    for (auto* s : w.window.findChildren<ValueSlider*>())
      if (s->isVisible() && s->accessibleName() == "Size") size = s;
    QVERIFY(size);
    QTest::mouseDClick(size, Qt::LeftButton);
    auto* edit = size->findChild<QLineEdit*>();
    QVERIFY(edit);
    edit->selectAll();
    QTest::keyClicks(edit, "2");
    QTest::keyClick(edit, Qt::Key_Return);
    QCOMPARE(QApplication::focusWidget(), static_cast<QWidget*>(&w.easel()));
    QVERIFY(std::abs(w.session().tools().brush().radius * w.document().placement.millimetres - 2) < 1e-3f);
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_M);
    QVERIFY(w.session().tools().brush().mirror[0]);
  }
  // Nothing is written over the sculpt: the line above the strip tells it, after what was said.
  void whatHindersThePenStandsInTheLine() {
    DrivenWindow w(test::sphere(20, 10));
    const auto line = [&] { return w.named<QLabel>("message")->text(); };
    w.session().say("something else");
    QCOMPARE(line(), QString("something else"));
    w.setBrush([](Brush& b) { b.radius = 0.1f; });
    QCOMPARE(line(), QString("something else"));
    emit w.session().opened();  // other work: what was said of this is over
    QVERIFY2(line().contains("finer than the points"), qPrintable(line()));
    w.session().tools().setTool(Tool::Pick);
    QCOMPARE(line(), QString());
    w.session().tools().setTool(Tool::Smear);
    QVERIFY(!line().isEmpty());
    w.setBrush([](Brush& b) { b.radius = 4; });
    QCOMPARE(line(), QString());
  }
  // The picture is of the work before until the surface is prepared: its parts and places are not the new
  // one's.
  void aPressBeforeTheNewSurfaceIsThereTouchesNothing() {
    Sculpt crest = test::sphere(24, 3, {0, 16, 0});
    crest.parts = {"Crest"};
    DrivenWindow w(test::together(test::sphere(96, 10), crest));
    const QPoint onCrest = w.at({0, 16, 3});
    w.setBrush([](Brush& b) { b.radius = 1; });
    w.session().setActivePart(0);
    const Document next =
        withPaintedLayer(test::documentOf(test::sphere(256, 10)), "Paint", Stratum::Pigment);
    w.session().take(History(next, "Open"), "next");
    for (const Tool tool : {Tool::Airbrush, Tool::Fill, Tool::Zones}) {
      w.session().tools().setTool(tool);
      QTest::mouseClick(&w.easel(), Qt::LeftButton, {}, onCrest);
    }
    QCOMPARE(w.session().activePart(), uint32_t{0});
    QVERIFY(w.named<QLabel>("message")->text().contains("prepared"));
    w.settle();
    QCOMPARE(w.session().history().steps().size(), size_t{1});
    w.session().tools().setTool(Tool::Airbrush);
    w.mouseStroke({w.at({0, 0, 10})});
    QCOMPARE(w.session().history().steps().size(), size_t{2});
  }
  // What nobody met on its way through the event loop is told there, and the program goes on.
  void anExceptionInTheWindowIsToldAndThePaintingGoesOn() {
    DrivenWindow w(test::sphere(64, 10));
    auto* message = w.named<QLabel>("message");
    QPushButton button(&w.window);
    button.show();
    connect(&button, &QPushButton::clicked, this, [] { throw std::bad_alloc(); });
    QTest::mouseClick(&button, Qt::LeftButton);
    QVERIFY2(message->text().contains("memory"), qPrintable(message->text()));
    QTimer::singleShot(0, &w.window, [] { throw std::runtime_error("the ferry is gone"); });
    QTRY_VERIFY(message->text().contains("the ferry is gone"));
    w.mouseStroke({w.at({0, 0, 10})});
    QCOMPARE(w.session().history().steps().size(), size_t{2});
    QCOMPARE(w.wrongPixels(), 0);
  }
  void theStripShowsTheNumbersOfTheToolInHand() {
    DrivenWindow w(test::sphere(48, 10));
    const auto numbers = [&] {
      QStringList out;
      for (auto* s : w.named<QWidget>("strip")->findChildren<ValueSlider*>())
        if (s->isVisible()) out << s->accessibleName();
      return out;
    };
    const QStringList brush{"Size", "Opacity", "Flow", "Hardness", "Steady"};
    for (const auto& [tool, expected] : {std::pair(Tool::Smear, brush),
                                         {Tool::Fill, QStringList{"Fill strength"}},
                                         {Tool::Mask, brush},
                                         {Tool::Zones, QStringList{}},
                                         {Tool::Erase, brush},
                                         {Tool::Pick, QStringList{}}}) {
      w.session().tools().setTool(tool);
      w.settle();
      QCOMPARE(numbers(), expected);
    }
    // and those of its tip, never more than seven
    w.session().tools().setTool(Tool::Airbrush);
    w.setBrush([](Brush& b) { b.tip = TipKind::Spray; });
    QCOMPARE(numbers(), QStringList({"Size", "Opacity", "Flow", "Dots", "Dot size", "Spread", "Steady"}));
    w.setBrush([](Brush& b) { b.tip = TipKind::Stamp; });
    QCOMPARE(numbers(), QStringList({"Size", "Opacity", "Flow", "Step", "Spread", "Steady"}));
  }
  // A frame takes some of the screen; what would lie beyond its edge cannot be reached.
  void theWindowOpensWithItsFrameOnTheScreen() {
    QCOMPARE(firstSize({1920, 1080}), QSize(1280, 800));
    for (const QSize room : {QSize(1280, 800), QSize(1280, 770), QSize(1366, 768), QSize(1280, 720)}) {
      const QSize size = firstSize(room);
      QVERIFY(size.width() + 10 < room.width() && size.height() + 40 < room.height());
    }
  }
  // Lengths of skin go from hairs to whales: each has three figures, in the slider and where it is typed.
  void lengthsHaveThreeFigures() {
    ValueSlider slider("Size", {0.001, 100'000, 1, "mm", true, 1});
    slider.resize(200, 38);
    slider.QWidget::show();
    for (const auto& [value, figures] :
         {std::pair(0.0153, "0.015"), {1.234, "1.23"}, {18.06, "18.1"}, {129.4, "129"}}) {
      slider.show(value);
      QTest::mouseDClick(&slider, Qt::LeftButton, {}, {150, 10});
      auto* edit = slider.findChild<QLineEdit*>();
      QVERIFY(edit);
      QCOMPARE(edit->text(), QString(figures));
      // Escape leaves it as it was
      QTest::keyClicks(edit, "77");
      QTest::keyClick(edit, Qt::Key_Escape);
      QTRY_VERIFY(!slider.findChild<QLineEdit*>());
      QCOMPARE(slider.value(), value);
    }
  }
  void theLightGoesWithTheView() {
    DrivenWindow w(test::sphere(64, 10));
    w.easel().setView(View::Skin);
    const uint32_t background = w.easel().viewing().background;
    const double front = meanGrey(w.picture(), background);
    w.easel().look(Side::Back);
    const double back = meanGrey(w.picture(), background);
    QVERIFY2(std::abs(front - back) < 2, qPrintable(QString("%1 %2").arg(front).arg(back)));
    // standing still, what one sees stays; then the front shows its other side
    w.named<QPushButton>("light follows")->click();
    QVERIFY(!w.easel().viewing().lightFollows);
    QVERIFY(std::abs(meanGrey(w.picture(), background) - back) < 1);
    w.easel().look(Side::Front);
    QVERIFY(meanGrey(w.picture(), background) < back - 8);
    QCOMPARE(w.wrongPixels(), 0);
  }
  void signsBesideSkinAreGrey() {
    for (const auto which : {QStyle::SP_MessageBoxWarning, QStyle::SP_MessageBoxCritical,
                             QStyle::SP_MessageBoxQuestion, QStyle::SP_MessageBoxInformation}) {
      const QImage sign = QApplication::style()->standardIcon(which).pixmap(32, 32).toImage();
      int drawn = 0;
      for (int y = 0; y < sign.height(); ++y)
        for (int x = 0; x < sign.width(); ++x) {
          const QColor c = sign.pixelColor(x, y);
          if (c.alpha() < 128) continue;
          ++drawn;
          QVERIFY(std::abs(c.red() - c.green()) <= 1 && std::abs(c.green() - c.blue()) <= 1);
        }
      QVERIFY(drawn > 20);
    }
  }
};

JUVENOR_TEST(TestFirmGround)
}  // namespace juvenor::app
#include "test_firm_ground.moc"
