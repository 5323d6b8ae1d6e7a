// The parts page: taking a part apart, parts of masks, renaming, joining, hiding by a mask, and the way back.
#include <QListWidget>
#include <QMenu>
#include <QTimer>

#include "core/export/refined_sculpt.h"
#include "driven_window.h"

namespace juvenor {

using test::DrivenWindow;

class TestPartsWindow : public QObject {
  Q_OBJECT

  static QAction* actionIn(QMenu* menu, const QString& text) {
    for (QAction* action : menu->actions()) {
      if (action->text().contains(text)) return action;
      if (action->menu())
        if (QAction* inside = actionIn(action->menu(), text)) return inside;
    }
    return nullptr;
  }
  // Presses what the page's button shows; false where it is not there or cannot be pressed.
  static bool choose(DrivenWindow& w, const QString& text) {
    bool chosen = false;
    QTimer::singleShot(50, [&] {
      auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
      if (!menu) return;
      QAction* action = actionIn(menu, text);
      if (action && action->isEnabled()) {
        chosen = true;
        action->trigger();
      }
      menu->close();
    });
    QTest::mouseClick(w.named<QPushButton>("part menu"), Qt::LeftButton);
    w.awaitBackground();
    w.settle();
    return chosen;
  }
  static Sculpt twoBalls() {
    Sculpt out = test::together(test::sphere(40, 10), test::sphere(20, 4, {18, 0, 0}));
    out.parts = {"Body"};
    std::ranges::fill(out.polygonPart, 0u);
    return out;
  }
  static QStringList listed(DrivenWindow& w) {
    QStringList out;
    auto* list = w.named<QListWidget>("parts");
    for (int i = 0; i < list->count(); ++i) out << list->item(i)->text();
    return out;
  }

 private slots:
  void takenApartNamedAndJoined() {
    DrivenWindow w(twoBalls());
    w.key(Qt::Key_4, Qt::ShiftModifier);
    QCOMPARE(listed(w), QStringList{"Body"});
    QVERIFY(choose(w, "loose shells"));
    QCOMPARE(listed(w), (QStringList{"Body", "Body 2"}));
    QCOMPARE(w.session().activePart(), 0u);
    w.named<QListWidget>("parts")->item(1)->setText("Ear");
    w.awaitBackground();
    QCOMPARE(w.document().sculpt->parts[1], std::string("Ear"));
    // a name that is there is refused, and the list says what is
    w.named<QListWidget>("parts")->item(1)->setText("Body");
    w.awaitBackground();
    QCOMPARE(listed(w), (QStringList{"Body", "Ear"}));
    // what is hidden is gone from the picture
    const QImage before = w.picture();
    w.named<QListWidget>("parts")->item(1)->setCheckState(Qt::Unchecked);
    w.settle();
    QVERIFY(w.picture() != before);
    QCOMPARE(w.wrongPixels(), 0);
    QVERIFY(choose(w, "Show all"));
    QVERIFY(w.document().hiddenParts.empty());
    QVERIFY(choose(w, "Ear"));
    QCOMPARE(listed(w), QStringList{"Body"});
    w.window.undo();
    w.settle();
    QCOMPARE(listed(w), (QStringList{"Body", "Ear"}));
    QVERIFY(choose(w, "parts of the file"));
    QCOMPARE(listed(w), QStringList{"Body"});
    QVERIFY(!choose(w, "parts of the file"));
  }
  void masksMakeThemAndHide() {
    DrivenWindow w(twoBalls());
    w.key(Qt::Key_4, Qt::ShiftModifier);
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Pigment), "Add");
    QVERIFY(!choose(w, "hat the mask hides"));
    Document d = *withMask(w.document(), w.document().activeLayer);
    ScalarField mask = *maskFieldOf(d, d.activeLayer);
    for (size_t c = 0; c < mask.chunkCount(); ++c) {
      auto chunk = mask.writable(c);
      for (size_t s = c * kChunkSize; s < std::min(mask.size(), (c + 1) * kChunkSize); ++s)
        if (d.surface->positions[s].y() > 0) chunk->plane[0][s % kChunkSize] = 0;
      mask.setChunk(c, chunk);
    }
    w.session().apply(withMaskField(d, d.activeLayer, mask), "Mask");
    QVERIFY(choose(w, "hat the mask hides"));
    QCOMPARE(listed(w), (QStringList{"Body", "Hidden"}));
    QCOMPARE(w.document().hiddenParts, std::set<uint32_t>{1});
    QCOMPARE(w.wrongPixels(), 0);
    QVERIFY(choose(w, "parts of the file"));
    QVERIFY(w.document().hiddenParts.empty());
    QVERIFY(choose(w, "mask of “Paint” shows"));
    QCOMPARE(listed(w), (QStringList{"Body", "Masked"}));
  }
};

JUVENOR_TEST(TestPartsWindow)

}  // namespace juvenor

#include "test_parts_window.moc"
