// Work that is closed is gone: no page, no hand and no picture keeps its millions of points alive while other
// work is open.
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edit_slides.h"
#include "core/layers/sources/ramp.h"
#include "driven_window.h"
#include "support/photos.h"

namespace juvenor::app {

class TestLetGo : public QObject {
  Q_OBJECT
 private slots:
  void nothingKeepsWorkThatIsClosed_data() {
    QTest::addColumn<bool>("opens");
    QTest::newRow("other work is opened") << true;
    QTest::newRow("closed") << false;
  }
  void nothingKeepsWorkThatIsClosed() {
    QFETCH(bool, opens);
    test::DrivenWindow w(test::sphere(40, 10));
    const auto other = w.folder() / "other.obj";
    QVERIFY(writeSculpt(other, test::sphere(16, 3), {}));
    MaskTerm high;
    high.map = {&kOcclusionMap, 2, Vec3::UnitY()};
    Document d = withSourceLayer(w.document(), "Ramp", Stratum::Flesh,
                                 rampSource({high}, {{0, {0.2f, 0.1f, 0.1f}, 0.5f}}));
    d = withPaintedLayer(d, "Paint", Stratum::Pigment);
    Slide slide = freshSlide("grey",
                             test::photo(64, 64,
                                         [](float, float) {
                                           return LinearColor{0.3f, 0.3f, 0.3f};
                                         }),
                             w.easel().viewing().camera);
    slide.pins = {{{0, 0}, {0, 0, 10}}};
    w.session().apply(withSlide(d, slide), "Zz");
    w.session().apply(withCheckpoint(w.document(), "Before", 0), "Zz");
    w.settle();
    w.awaitBackground();
    // every tool laid or showed something, every page was seen
    for (int tool = 0; tool < kToolCount; ++tool) {
      w.session().tools().setTool(static_cast<Tool>(tool));
      w.mouseStroke({w.at({-3, 2, 9}), w.at({2, 2, 9})});
      w.hover(w.at({1, 1, 9.5f}));
      QTest::keyClick(&w.easel(), Qt::Key_Escape);
      w.settle();
    }
    for (int stage = 0; stage < 6; ++stage) {
      w.session().tools().setStage(stage);
      w.window.side().show(SideColumn::Page::Stage);
      w.settle();
      w.awaitBackground();
    }
    for (const auto page : {SideColumn::Page::Board, SideColumn::Page::Parts, SideColumn::Page::Layer,
                            SideColumn::Page::Past}) {
      w.window.side().show(page);
      w.settle();
      w.awaitBackground();
    }
    w.showSkin();
    w.settleFully();
    const std::weak_ptr<const Surface> surface = w.document().surface;
    const std::weak_ptr<const Sculpt> sculpt = w.document().sculpt;
    const std::weak_ptr<const Layer> painted = w.document().layers.back();
    const std::weak_ptr<SurfaceMaps> maps = w.document().maps;
    d = {};
    slide = {};
    w.answerWith("Leave without saving");
    if (opens) {
      QVERIFY(w.window.openFile(test::DrivenWindow::path(other)));
      w.settleFully();
    } else {
      w.key(Qt::Key_W, Qt::ControlModifier);
      QVERIFY(!w.session().isOpen());
    }
    w.awaitBackground();
    QTRY_VERIFY_WITH_TIMEOUT(surface.expired(), 5000);
    QTRY_VERIFY_WITH_TIMEOUT(maps.expired() && sculpt.expired() && painted.expired(), 5000);
  }
};

JUVENOR_TEST(TestLetGo)
}  // namespace juvenor::app
#include "test_let_go.moc"
