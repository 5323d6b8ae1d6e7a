// Every drag on the easel against everything that can come between press and release: it ends, as a step or
// as nothing, and leaves no preview, no open stroke and no wrong step behind.
#include <QMessageBox>
#include <QSignalSpy>

#include "core/brush/made_stamps.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edit_slides.h"
#include "core/layers/sources/patterns.h"
#include "core/layers/sources/zones.h"
#include "core/photo/picture_file.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

// A drag: what is in hand, where it begins and ends, with which button.
struct DragTried {
  const char* name;
  Tool tool;
  const char* layer;
  Qt::MouseButton button = Qt::LeftButton;
  Vec3 from = {0, 0, 10}, to = {3, 2, 9.3f};
  Qt::KeyboardModifiers modifiers = {};
};

constexpr const char* kBetween[] = {"nothing", "another button", "wheel",     "another tool", "pick held",
                                    "undo",    "another layer",  "escape",    "focus",        "box",
                                    "edit",    "hidden",         "other work"};

struct DragWindow : test::DrivenWindow {
  DragWindow() : DrivenWindow(test::sphere(40, 10)) {
    Document d = document();
    ZoneSet zones;
    HueZone zone;
    zone.name = "Nose";
    zone.anchor = {0, 0, 10};
    zone.reach = 3;
    zone.tint.hue = 20;
    zones.zones.push_back(zone);
    d = withSourceLayer(d, "Zones", Stratum::Flesh, zoneSource(zones));
    Scales scales;
    scales.guides.size.size = 2;
    d = withSourceLayer(d, "Scales", Stratum::Surface, scaleSource(scales));
    d = *withCheckpoint(d, "Kept", 0);
    session().apply(d, "Dressed");
    for (int i = 0; i < 500 && !active()->source->isReady(*document().maps); ++i) QTest::qWait(10);
    setBrush([](Brush& b) { b.radius = 1.5f; });
    std::vector<uint32_t> pixels(64 * 64);
    for (size_t i = 0; i < pixels.size(); ++i) pixels[i] = 0xff000000u | static_cast<uint32_t>(i * 977);
    (void)writePicture(folder() / "photo.png", {64, 64}, pixels);
    easel().stencil().take(madeStamp("nail"));
    easel().stencil().setShown(false);
    // what is seen takes time with every look
    window.setMinimumSize(400, 300);
    window.resize(760, 520);
    settle();
    based();
  }
  void choose(const char* layer) {
    const LayerStack layers =
        document().layers;  // (choosing settles strokes, which makes it another document)
    for (const LayerPointer& l : layers)
      if (l->name == layer) session().chooseLayer(l->id);
  }
  void send(QEvent::Type type, Qt::MouseButton button, Qt::MouseButtons buttons, const QPoint& p,
            Qt::KeyboardModifiers modifiers = {}) {
    QMouseEvent event(type, p, easel().mapToGlobal(p), button, buttons, modifiers);
    QCoreApplication::sendEvent(&easel(), &event);
  }
  void begin(const DragTried& d, const QPoint& from, const QPoint& to) {
    easel().setFocus();
    send(QEvent::MouseButtonPress, d.button, d.button, from, d.modifiers);
    send(QEvent::MouseMove, Qt::NoButton, d.button, (from + to) / 2, d.modifiers);
    send(QEvent::MouseMove, Qt::NoButton, d.button, to, d.modifiers);
  }
  void hoverAbout() {
    for (const Vec3& p : {Vec3(-3, 0, 9.5f), Vec3(0, 4, 9), Vec3(2, -3, 9.3f)})
      send(QEvent::MouseMove, Qt::NoButton, Qt::NoButton, at(p));
    settle();
  }
  size_t step() { return session().history().current(); }
  /// From here on this is how everything was at first.
  void based() {
    base_ = session().history().steps()[step()]->id;
    first_ = document();
  }
  const Document& first() const { return first_; }
  /// Everything as it was at first.
  void startOver() {
    const auto& steps = session().history().steps();
    const auto base = std::ranges::find(steps, base_, &Step::id);
    if (base != steps.end()) session().goTo(static_cast<size_t>(base - steps.begin()));
  }
  /// One stroke of the airbrush on the painted layer.
  void paint() {
    session().tools().setTool(Tool::Airbrush);
    choose("Paint");
    settle();
    mouseStroke({at({-2, -2, 9.5f}), at({2, -2, 9.5f})});
  }

 private:
  uint64_t base_ = 0;
  Document first_;
};

void comeBetween(DragWindow& w, const std::string_view what, const DragTried& d) {
  const QPoint place = w.at({0, 2, 9.8f});
  const Qt::MouseButton other = d.button == Qt::LeftButton ? Qt::RightButton : Qt::LeftButton;
  if (what == "another button") {
    w.send(QEvent::MouseButtonPress, other, d.button | other, place);
    w.send(QEvent::MouseMove, Qt::NoButton, d.button | other, place + QPoint(9, 4));
    w.send(QEvent::MouseButtonRelease, other, d.button, place + QPoint(9, 4));
  } else if (what == "wheel") {
    QWheelEvent wheel(place, w.easel().mapToGlobal(place), {}, {0, 240}, d.button, {}, Qt::NoScrollPhase,
                      false);
    QCoreApplication::sendEvent(&w.easel(), &wheel);
  } else if (what == "another tool") {
    w.session().tools().setTool(d.tool == Tool::Blend ? Tool::Smear : Tool::Blend);
  } else if (what == "pick held") {
    w.session().tools().setHoldsPick(true);
    w.send(QEvent::MouseMove, Qt::NoButton, d.button, place);
    w.session().tools().setHoldsPick(false);
  } else if (what == "undo") {
    w.window.undo();
  } else if (what == "another layer") {
    w.choose(std::string_view(d.layer) == "Paint" ? "Scales" : "Paint");
  } else if (what == "escape") {
    QTest::keyClick(&w.easel(), Qt::Key_Escape);
  } else if (what == "focus") {
    w.easel().clearFocus();
  } else if (what == "box") {
    QMessageBox box(&w.window);
    QTimer::singleShot(30, &box, &QMessageBox::reject);
    box.exec();
  } else if (what == "edit") {
    w.session().edit("Tone", [](const Document& x, const Progress&) -> Result<Document> {
      return withFillLayer(x, "Tone", Stratum::Flesh, {0.5f, 0.4f, 0.3f});
    });
  } else if (what == "hidden") {
    w.easel().hide();
    w.easel().show();
  } else if (what == "other work") {
    w.session().settleStrokes();
    w.session().take(History(w.first(), "Other"), "other");
    w.based();
  }
}

}  // namespace

class TestDragStates : public QObject {
  Q_OBJECT
 private slots:
  void whateverComesBetweenADragEnds_data() {
    QTest::addColumn<int>("which");
    for (int i = 0; i < static_cast<int>(std::size(kDrags)); ++i) QTest::newRow(kDrags[i].name) << i;
  }
  void whateverComesBetweenADragEnds() {
    QFETCH(int, which);
    const DragTried& d = kDrags[which];
    for (const char* between : kBetween) {
      if (!window_) window_ = std::make_unique<DragWindow>();
      tryOne(d, between);
      if (QTest::currentTestFailed()) return window_.reset();
    }
  }
  // A pen alone: its barrel turns and pans, and opens the card; a move without the tip down paints nothing.
  void aPenAloneTurnsPansAndOpensTheCard() {
    DragWindow w;
    w.session().tools().setTool(Tool::Airbrush);
    const auto camera = [&] { return w.easel().viewing().camera; };
    const QPoint from = w.at({0, 0, 10}), to = from + QPoint(60, 20);
    const size_t steps = w.step();
    for (const Qt::MouseButton button : {Qt::RightButton, Qt::MiddleButton}) {
      const Camera before = camera();
      penWith(w, QEvent::TabletPress, from, button, button);
      penWith(w, QEvent::TabletMove, to, Qt::NoButton, button);
      penWith(w, QEvent::TabletRelease, to, button, Qt::NoButton);
      QVERIFY(!(camera() == before));
      QVERIFY(!w.easel().inUse());
    }
    QSignalSpy card(&w.easel(), &Easel::cardWanted);
    QTimer::singleShot(200, &w.window, [] {
      if (QWidget* shown = QApplication::activePopupWidget()) shown->close();
    });
    penWith(w, QEvent::TabletPress, from, Qt::RightButton, Qt::RightButton);
    penWith(w, QEvent::TabletRelease, from, Qt::RightButton, Qt::NoButton);
    QCOMPARE(card.count(), 1);
    for (int i = 0; i < 5; ++i)
      penWith(w, QEvent::TabletMove, from + QPoint(i * 8, 0), Qt::NoButton, Qt::NoButton);
    w.settle();
    QCOMPARE(w.step(), steps);
  }

 private:
  static inline const DragTried kDrags[] = {
      {"airbrush", Tool::Airbrush, "Paint"},
      {"smear", Tool::Smear, "Paint"},
      {"line", Tool::Airbrush, "Paint", Qt::LeftButton, {0, 0, 10}, {3, 2, 9.3f}, Qt::ControlModifier},
      {"mask", Tool::Mask, "Paint"},
      {"pick", Tool::Pick, "Paint"},
      {"zone", Tool::Zones, "Zones"},
      {"stamp", Tool::Stamp, "Paint"},
      {"stencil", Tool::Stencil, "Paint"},
      {"slide", Tool::Slide, "Paint"},
      {"graft", Tool::Graft, "Paint"},
      {"cut line", Tool::CutLine, "Paint"},
      {"comb", Tool::Comb, "Scales"},
      {"touch", Tool::Touch, "Scales"},
      {"turn", Tool::Airbrush, "Paint", Qt::RightButton},
      {"pan", Tool::Airbrush, "Paint", Qt::MiddleButton},
      {"split", Tool::Airbrush, "Paint"}};

  static void penWith(DragWindow& w, QEvent::Type type, const QPoint& p, Qt::MouseButton button,
                      Qt::MouseButtons buttons) {
    static const QPointingDevice stylus("barrel", 7003, QInputDevice::DeviceType::Stylus,
                                        QPointingDevice::PointerType::Pen, QInputDevice::Capability::Pressure,
                                        1, 3);
    QTabletEvent event(type, &stylus, p, w.easel().mapToGlobal(p), 0, 0, 0, 0, 0, 0, Qt::NoModifier, button,
                       buttons);
    QCoreApplication::sendEvent(&w.easel(), &event);
  }

  void tryOne(const DragTried& d, const char* between) {
    DragWindow& w = *window_;
    const std::string said = std::string(d.name) + ", " + between;
    const bool splits = std::string_view(d.name) == "split";
    w.startOver();
    w.easel().look(Side::Front);
    w.easel().frameAll();
    w.choose(d.layer);
    w.session().tools().setTool(d.tool);
    w.easel().stencil().setShown(d.tool == Tool::Stencil);
    if (d.tool == Tool::Stamp) w.easel().stampPlacing().take(madeStamp("nail"));
    if (d.tool == Tool::Slide) hangSlide();
    w.easel().split().compare(splits ? w.document().checkpoints.front().id : 0);
    w.settle();
    const QPoint middle = w.easel().rect().center();
    const bool byEye = splits || d.tool == Tool::Stencil || d.tool == Tool::Slide;
    const QPoint from = byEye ? middle : w.at(d.from), to = byEye ? middle + QPoint(40, 25) : w.at(d.to);
    const size_t steps = w.step();
    w.begin(d, from, to);
    QVERIFY2(w.easel().inUse(), said.c_str());
    comeBetween(w, between, d);
    const bool boxed = std::string_view(between) == "box";
    if (!boxed) w.send(QEvent::MouseButtonRelease, d.button, Qt::NoButton, to);
    w.settle();
    w.awaitBackground();
    const size_t after = w.step();
    w.hoverAbout();
    if (boxed) w.send(QEvent::MouseButtonRelease, d.button, Qt::NoButton, to);
    w.settle();
    QVERIFY2(!w.easel().inUse(), said.c_str());
    QVERIFY2(w.step() == after, (said + ": hovering did something").c_str());
    const size_t most = steps + 1 + (std::string_view(between) == "edit") +
                        (d.tool == Tool::Mask || d.tool == Tool::Slide || d.tool == Tool::Graft);
    if (std::string_view(between) != "other work")
      QVERIFY2(after <= most, qPrintable(QString("%1: %2 steps more")
                                             .arg(said.c_str())
                                             .arg(static_cast<qint64>(after) - static_cast<qint64>(steps))));
    // what is placed waits for its Lay, seen all the while
    w.easel().stampPlacing().giveUp();
    w.easel().split().compare(0);
    w.easel().stencil().setShown(false);
    w.easel().slide().setShown(false);
    w.session().tools().setTool(Tool::Airbrush);
    if (std::ranges::find(kLookedAt, std::string_view(between)) != std::end(kLookedAt))
      QVERIFY2(w.wrongPixels() == 0, (said + ": a preview stays").c_str());
    const LayerStack before = w.document().layers;
    const size_t count = w.session().history().current();
    w.paint();
    QVERIFY2(w.session().history().current() == count + 1, (said + ": no clean stroke").c_str());
    for (const LayerPointer& l : before)
      if (l->name != "Paint")
        QVERIFY2(layerOf(w.document(), l->id) == l, (said + ": the next stroke took more along").c_str());
  }

  // Looking whether the picture is the document's takes a second; the next stroke tells of previews as well.
  static constexpr std::string_view kLookedAt[] = {"nothing", "another layer", "box"};

  void hangSlide() {
    DragWindow& w = *window_;
    if (w.document().slides.empty()) {
      auto picture = readPicture(w.folder() / "photo.png");
      QVERIFY2(picture, picture ? "" : picture.error().message().c_str());
      Slide slide;
      slide.name = "photo";
      slide.picture = *picture;
      slide.fingerprint = (*picture)->fingerprint;
      slide.camera = w.easel().viewing().camera;
      QVERIFY(w.session().apply(withSlide(w.document(), slide), "Hang"));
    }
    w.easel().slide().take(&w.document().slides.front());
    w.easel().slide().setShown(true);
    w.easel().slide().setMovesSculpt(false);
  }

  std::unique_ptr<DragWindow> window_;
};

JUVENOR_TEST(TestDragStates)
}  // namespace juvenor::app
#include "test_drag_states.moc"
