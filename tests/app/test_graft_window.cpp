// Grafts in the window: taken by rectangle, strip and lasso, kept in the box, placed and painted with.
#include <QComboBox>
#include <QLabel>
#include <QToolButton>

#include "app/hands/graft_hand.h"
#include "app/stage/graft_box.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/graft/graft_file.h"
#include "driven_window.h"
#include "support/home.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

// A ball whose left half is red and whose right half is green, and an empty box.
struct Grafting : DrivenWindow {
  const test::Variable data{"XDG_DATA_HOME", (folder() / "data").string()};

  Grafting() : DrivenWindow(test::sphere(160, 10)) {
    ColorField field(document().surface->size());
    for (size_t c = 0; c < field.chunkCount(); ++c) {
      auto chunk = field.writable(c);
      for (size_t i = 0; i < kChunkSize && c * kChunkSize + i < field.size(); ++i)
        setSample(*chunk, i,
                  opaque16(document().surface->positions[c * kChunkSize + i].x() < 0
                               ? EncodedColor{0.8f, 0.3f, 0.3f}
                               : EncodedColor{0.3f, 0.7f, 0.3f}));
      field.setChunk(c, std::move(chunk));
    }
    session().apply(withPainted(document(), document().activeLayer, std::move(field)), "Paint");
    window.side().show(SideColumn::Page::Stage);
    easel().setView(View::Flat);  // no light to wait for
    window.side().stage().goTo(4);
    key(Qt::Key_T, Qt::ShiftModifier);
    settle();
  }
  void click(const char* name) {
    auto* b = named<QAbstractButton>(name);
    QVERIFY2(b && b->isEnabled(), name);
    QTest::mouseClick(b, Qt::LeftButton);
    settle();
  }
  // Until the box is on disk and in hand.
  void awaitTaken() {
    awaitBackground();
    QCoreApplication::processEvents();
    settle();
  }
  std::vector<std::filesystem::path> files() {
    std::vector<std::filesystem::path> out;
    std::error_code ec;
    for (const auto& f : std::filesystem::directory_iterator(graftFolder(), ec)) out.push_back(f.path());
    return out;
  }
  bool green(const Vec3& place) {
    const Rgba16 c = colorNear(place);
    return c.g > c.r;
  }
};

}  // namespace

class TestGraftWindow : public QObject {
  Q_OBJECT
 private slots:
  void aRectangleIsTakenAndPlacedElsewhere() {
    Grafting w;
    const size_t steps = w.session().history().steps().size();
    w.mouseStroke({w.at({4, 0, 9.1f}), w.at({5, 1, 8.6f}), w.at({5.5f, 1.5f, 8.2f})});
    w.awaitTaken();
    QCOMPARE(w.files().size(), size_t{1});
    QCOMPARE(w.session().history().steps().size(), steps);
    const auto read = readGraft(w.files()[0]);
    QVERIFY(read && read->width == 1024);
    // it is in hand, in the channels it brings
    QCOMPARE(w.session().tools().tool(), Tool::Stamp);
    QVERIFY(w.session().tools().brush().stamp.ownColors);
    QVERIFY(w.session().tools().laid().has(Channel::Relief) &&
            !w.session().tools().laid().has(Channel::Metal));
    QVERIFY(!w.green({-5, 0, 8.6f}));
    w.mouseStroke({w.at({-5, 0, 8.6f})});
    w.click("lay stamp");
    w.settle();
    QVERIFY(w.green({-5, 0, 8.6f}));
    QVERIFY(!w.green({-5, 6, 6.2f}));
    QCOMPARE(w.session().history().steps().back()->name, std::string("Stamp “Graft 1”"));
  }
  void aStripAndALassoAreTaken() {
    Grafting w;
    w.setBrush([](Brush& b) { b.radius = 1; });
    w.click("graft Strip");
    std::vector<QPoint> way;
    for (int i = 0; i <= 20; ++i) {
      const float x = -4 + 0.4f * static_cast<float>(i);
      way.push_back(w.at({x, 0, std::sqrt(100 - x * x)}));
    }
    w.mouseStroke(way);
    w.awaitTaken();
    QCOMPARE(w.files().size(), size_t{1});
    const auto strip = readGraft(w.files()[0]);
    QVERIFY(strip && strip->width > 3 * strip->height);
    const size_t row = static_cast<size_t>(strip->height / 2 * strip->width);
    QVERIFY(strip->color[0][row + 200] > strip->color[1][row + 200]);
    QVERIFY(strip->color[0][row + 800] < strip->color[1][row + 800]);
    w.key(Qt::Key_T, Qt::ShiftModifier);
    w.click("graft Lasso");
    way.clear();
    for (int i = 0; i <= 24; ++i) {
      const float a = 0.26f * static_cast<float>(i), x = 4 + 2 * std::cos(a), y = 2 * std::sin(a);
      way.push_back(w.at({x, y, std::sqrt(100 - x * x - y * y)}));
    }
    w.mouseStroke(way);
    w.awaitTaken();
    QCOMPARE(w.files().size(), size_t{2});
  }
  void tooSmallIsSaidAndNothingIsTaken() {
    Grafting w;
    w.mouseStroke({w.at({4, 0, 9.1f})});
    w.awaitTaken();
    QVERIFY(w.files().empty());
    QVERIFY(w.named<QLabel>("message")->text().contains("small"));
    QCOMPARE(w.session().tools().tool(), Tool::Graft);
  }
  void theBoxListsThemAndAsABrushItPaints() {
    Grafting w;
    w.mouseStroke({w.at({4, 0, 9.1f}), w.at({5, 1, 8.6f}), w.at({5.5f, 1.5f, 8.2f})});
    w.awaitTaken();
    auto* inBox = w.named<QToolButton>("graft of Graft 1");
    QVERIFY(inBox && !inBox->icon().isNull());
    w.session().tools().setTool(Tool::Blend);
    QTest::mouseClick(inBox, Qt::LeftButton);
    QTRY_COMPARE_WITH_TIMEOUT(w.session().tools().tool(), Tool::Stamp, 5000);
    w.click("stroke stamp");
    QCOMPARE(w.session().tools().tool(), Tool::Airbrush);
    w.mouseStroke({w.at({-6, -3, 7.4f}), w.at({-5, 0, 8.6f}), w.at({-6, 3, 7.4f})});
    QVERIFY(w.green({-5, 0, 8.6f}));
  }
  void adaptedItTakesTheToneAround() {
    Grafting w;
    w.mouseStroke({w.at({4, 0, 9.1f}), w.at({5, 1, 8.6f}), w.at({5.5f, 1.5f, 8.2f})});
    w.awaitTaken();
    w.click("adapt stamp");
    w.mouseStroke({w.at({-5, 0, 8.6f})});
    w.click("lay stamp");
    w.settle();
    // even green on red becomes red
    QVERIFY(!w.green({-5, 0, 8.6f}));
    QCOMPARE(w.session().history().steps().back()->name, std::string("Stamp “Graft 1”"));
  }
  void whatChangedSinceACheckpointIsTakenAlone() {
    Grafting w;
    auto* since = w.named<QPushButton>("graft difference");
    QVERIFY(!since->isEnabled());
    w.session().keepCheckpoint();
    w.setBrush([](Brush& b) { b.radius = 1, b.flow = 1, b.hardness = 0.8f; });
    w.chooseColor({0.1f, 0.1f, 0.9f});
    w.session().tools().setTool(Tool::Airbrush);
    w.mouseStroke({w.at({4, 0, 9.1f})});
    w.key(Qt::Key_T, Qt::ShiftModifier);
    QVERIFY(since->isEnabled());
    w.click("graft difference");
    w.mouseStroke({w.at({4, 0, 9.1f}), w.at({6, 2, 7.7f}), w.at({6.4f, 2.6f, 7.2f})});
    w.awaitTaken();
    QCOMPARE(w.files().size(), size_t{1});
    const Graft g = *readGraft(w.files()[0]);
    const size_t middle = static_cast<size_t>(g.height / 2 * g.width + g.width / 2);
    QVERIFY(g.alpha[middle] > 0.99f && g.color[2][middle] > 0.5f);
    QVERIFY(g.alpha[middle + static_cast<size_t>(g.width) * 9 / 20] == 0);
  }
  // what came after the second checkpoint, over the same place, is no part of it
  void whatChangedBetweenTwoCheckpointsIsTaken() {
    Grafting w;
    const auto paint = [&](const EncodedColor& color) {
      w.setBrush([](Brush& b) { b.radius = 1, b.flow = 1, b.hardness = 0.8f; });
      w.chooseColor(color);
      w.session().tools().setTool(Tool::Airbrush);
      w.mouseStroke({w.at({4, 0, 9.1f})});
      w.session().keepCheckpoint();
    };
    w.session().keepCheckpoint();
    paint({0.1f, 0.1f, 0.9f});
    paint({0.9f, 0.1f, 0.1f});
    w.session().tools().setCheckpoint(w.document().checkpoints.front().id);
    w.key(Qt::Key_T, Qt::ShiftModifier);
    w.click("graft difference");
    auto* until = w.named<QComboBox>("graft until");
    QVERIFY(until->isVisible() && until->isEnabled());
    QCOMPARE(until->count(), 4);
    const auto take = [&] {
      w.session().tools().setTool(Tool::Graft);
      w.mouseStroke({w.at({4, 0, 9.1f}), w.at({6, 2, 7.7f}), w.at({6.4f, 2.6f, 7.2f})});
      w.awaitTaken();
    };
    until->setCurrentIndex(1);  // the same one: told, and nothing taken
    take();
    QCOMPARE(w.files().size(), size_t{0});
    until->setCurrentIndex(2);
    take();
    QCOMPARE(w.files().size(), size_t{1});
    const Graft g = *readGraft(w.files()[0]);
    const size_t middle = static_cast<size_t>(g.height / 2 * g.width + g.width / 2);
    QVERIFY(g.alpha[middle] > 0.99f);
    QVERIFY2(g.color[2][middle] > 0.5f && g.color[0][middle] < 0.3f,
             qPrintable(QString("%1 %2").arg(g.color[0][middle]).arg(g.color[2][middle])));
  }
};
JUVENOR_TEST(TestGraftWindow)

}  // namespace juvenor::app
#include "test_graft_window.moc"
