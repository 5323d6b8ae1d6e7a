// Hair added in the strata, painted where it is to grow, combed and drawn along an edge.
#include <QComboBox>

#include "app/side/side_column.h"
#include "core/layers/sources/hair.h"
#include "driven_window.h"

namespace juvenor::app {

class TestHairWindow : public QObject {
  Q_OBJECT
 private slots:
  void itGrowsWhereItsMaskIsPainted() {
    test::DrivenWindow w(test::sphere(40, 100));
    w.easel().setView(View::Skin);
    const QImage bald = w.picture();
    addHair(w);
    // nothing grows before one says where, and the mask is in hand for that
    QCOMPARE(w.session().tools().tool(), Tool::Mask);
    QVERIFY(w.active()->mask.has_value());
    w.session().tools().setMasksShown(false);
    QVERIFY(darker(w.picture(), bald) < 0.001);
    Brush brush = w.session().tools().brush();
    brush.radius = 30;
    brush.flow = brush.opacity = 1;
    w.session().tools().setBrush(brush);
    w.session().tools().setColor({1, 1, 1});
    w.mouseStroke({w.at({-20, 40, 89}), w.at({0, 45, 89}), w.at({20, 40, 89})});
    const double grown = darker(w.picture(), bald);
    QVERIFY2(grown > 0.01 && grown < 0.5, qPrintable(QString::number(grown)));
    // longer hair hides more, and undo takes it back
    Guides longer = *w.active()->source->guides();
    longer.size.size *= 3;
    w.session().apply(*withSource(w.document(), w.active()->id, w.active()->source->withGuides(longer)),
                      "Longer");
    QVERIFY(darker(w.picture(), bald) > 1.2 * grown);
    w.window.undo();
    QVERIFY(std::abs(darker(w.picture(), bald) / grown - 1) < 0.05);
  }
  void lashesAreDrawnAlongAnEdge() {
    test::DrivenWindow w(test::sphere(40, 100));
    addHair(w);
    auto* usual = w.named<QComboBox>("usual hair");
    QVERIFY(usual);
    usual->setCurrentIndex(2);
    emit usual->activated(2);
    w.settle();
    QCOMPARE(w.session().history().steps().back()->name, std::string("Lashes"));
    w.named<QPushButton>("draw edge")->click();
    QCOMPARE(w.session().tools().tool(), Tool::Comb);
    QVERIFY(w.named<QPushButton>("comb edges")->isVisible() &&
            w.named<QPushButton>("comb edges")->isChecked());
    w.mouseStroke({w.at({-30, 20, 93}), w.at({0, 25, 96}), w.at({30, 20, 93})});
    QCOMPARE(hair(w).guides.edges.size(), size_t{1});
    QVERIFY(hair(w).guides.direction.combs.empty());
    QVERIFY(hair(w).guides.edges[0].places.size() > 2);
    // up again it combs
    w.named<QPushButton>("comb edges")->click();
    w.mouseStroke({w.at({-30, -20, 93}), w.at({0, -25, 96})});
    QCOMPARE(hair(w).guides.edges.size(), size_t{1});
    QCOMPARE(hair(w).guides.direction.combs.size(), size_t{1});
    w.named<QPushButton>("clear edges")->click();
    w.settle();
    QVERIFY(hair(w).guides.edges.empty());
    // of other layers there are no edges
    w.session().apply(withPaintedLayer(w.document(), "Paint", Stratum::Pigment), "Add");
    QVERIFY(!w.named<QPushButton>("comb edges")->isVisible());
  }

 private:
  static const Hair& hair(test::DrivenWindow& w) { return *hairOf(*w.active()->source); }
  static void addHair(test::DrivenWindow& w) {
    w.window.side().show(SideColumn::Page::Layer);
    w.named<QPushButton>("add layer")->click();
    w.named<QWidget>("kind card")->findChild<QAbstractButton*>("kind hair")->click();
    w.settle();
  }
  // The part of the pixels that became much darker.
  static double darker(const QImage& now, const QImage& before) {
    size_t count = 0;
    for (int y = 0; y < now.height(); ++y)
      for (int x = 0; x < now.width(); ++x) count += qGray(now.pixel(x, y)) + 24 < qGray(before.pixel(x, y));
    return static_cast<double>(count) / (static_cast<double>(now.width()) * now.height());
  }
};

JUVENOR_TEST(TestHairWindow)
}  // namespace juvenor::app
#include "test_hair_window.moc"
