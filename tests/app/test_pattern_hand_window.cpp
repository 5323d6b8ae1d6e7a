// Patterns by hand in the window, fine skin, filters and the recipe book.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTimer>

#include "app/controls/value_slider.h"
#include "app/recipes/recipe_book.h"
#include "app/window/refine_dialog.h"
#include "core/layers/filters/filter.h"
#include "core/layers/sources/patterns.h"
#include "core/recipe/recipe_folder.h"
#include "driven_window.h"

namespace juvenor::app {
namespace {

using test::DrivenWindow;

struct Dressed : DrivenWindow {
  explicit Dressed(SourcePointer source, int rings = 120) : DrivenWindow(test::sphere(rings, 100)) {
    session().apply(withSourceLayer(document(), "Layer", Stratum::Surface, std::move(source)), "Add layer");
    window.side().show(SideColumn::Page::Layer);
    ready();
  }
  void ready() {
    for (int i = 0; i < 500 && !active()->source->isReady(*document().maps); ++i) QTest::qWait(10);
    settle();
  }
  size_t step() { return session().history().current(); }
  void drag(const std::vector<QPoint>& way) {
    mouseStroke(way);
    settle();
  }
  const Guides& guides() { return *active()->source->guides(); }
};

SourcePointer sphereScales() {
  Scales scales;
  scales.guides.direction.form = 20;
  scales.guides.size.size = 16;
  scales.depth = 1;
  return scaleSource(scales);
}

}  // namespace

class TestPatternHandWindow : public QObject {
  Q_OBJECT
 private slots:
  void strokesPushSizeAndSootheRelief() {
    Dressed w(sphereScales());
    w.showSkin();  // relief is light alone
    w.key(Qt::Key_W);
    QCOMPARE(w.session().tools().tool(), Tool::Touch);
    QVERIFY(w.named<QWidget>("touch bar")->isVisible());
    w.setBrush([](Brush& b) { b.radius = 15; });
    const size_t before = w.step();
    w.drag({w.at({-40, 0, 91}), w.at({0, 0, 100}), w.at({40, 0, 91})});
    QCOMPARE(w.step(), before + 1);
    QCOMPARE(w.guides().size.pushed.size(), size_t{1});
    QCOMPARE(w.guides().size.pushed[0].strength, 0.5f);
    w.ready();
    w.named<QPushButton>("touch Smaller")->click();
    w.drag({w.at({0, 50, 86}), w.at({30, 50, 81})});
    QVERIFY(w.guides().size.pushed[1].strength < 0);
    w.ready();
    const QImage rough = w.picture();
    w.named<QPushButton>("touch Soothe")->click();
    w.drag({w.at({-30, -20, 93}), w.at({30, -20, 93})});
    QCOMPARE(w.guides().soothed.size(), size_t{1});
    w.ready();
    QVERIFY(w.picture() != rough);
    w.session().goTo(before);
    w.ready();
    QVERIFY(w.guides().size.pushed.empty() && w.guides().soothed.empty());
  }

  // Painted like paint: with none to begin with, by mouse alone.
  void aPatternIsLaidWhereThereWasNone() {
    Dressed w(sphereScales());
    const QImage everywhere = w.picture();
    const uint32_t id = w.document().activeLayer;
    w.session().apply(withInvertedMask(*withMask(w.document(), id), id), "Invert");
    w.ready();
    const QImage bare = w.picture();
    QVERIFY(bare != everywhere);
    w.key(Qt::Key_W);
    w.setBrush([](Brush& b) { b.radius = 15; });
    const auto shown = [&] {
      return (*w.active()->mask).at(*nearestSample(*w.document().surface, {0, 0, 100}, 9))[0];
    };
    w.named<QPushButton>("touch Lay")->click();
    w.drag({w.at({-40, 0, 91}), w.at({0, 0, 100}), w.at({40, 0, 91})});
    QTRY_VERIFY(shown() > 30'000);
    w.settle();
    const QImage laid = w.picture();
    QVERIFY(laid != bare);
    QCOMPARE(laid.pixel(w.at({0, 80, 60})), bare.pixel(w.at({0, 80, 60})));
    w.named<QPushButton>("touch Thin")->click();
    for (int i = 0; i < 3; ++i) {
      const size_t before = w.step();
      w.drag({w.at({-40, 0, 91}), w.at({0, 0, 100}), w.at({40, 0, 91})});
      QTRY_COMPARE(w.step(), before + 1);
    }
    QVERIFY(shown() < 10'000);
  }

  // The pen's pressure goes with the stroke; a mouse presses fully.
  void thePenPressesMoreOrLess() {
    Dressed w(sphereScales());
    w.key(Qt::Key_W);
    w.setBrush([](Brush& b) { b.radius = 15; });
    w.penStroke({{w.at({-40, 0, 91}), 0.2}, {w.at({0, 0, 100}), 0.5}, {w.at({40, 0, 91}), 0.9}});
    const SkinStroke& stroke = w.guides().size.pushed.front();
    QCOMPARE(stroke.pressures, (std::vector<float>{0.2f, 0.5f, 0.9f}));
    w.ready();
    w.drag({w.at({-30, -40, 86}), w.at({30, -40, 86})});
    QVERIFY(w.guides().size.pushed.back().pressures.empty());
  }

  void aPressTintsOneScale() {
    Dressed w(sphereScales());
    w.key(Qt::Key_W);
    w.chooseColor({0.9f, 0.1f, 0.1f});
    w.named<QPushButton>("touch Tint")->click();
    const QImage before = w.picture();
    w.drag({w.at({0, 0, 100})});
    QCOMPARE(w.guides().cells.size(), size_t{1});
    w.ready();
    const QImage tinted = w.picture();
    // red where the scale is, and as it was a few scales away
    int redder = 0;
    for (int y = 0; y < tinted.height(); ++y)
      for (int x = 0; x < tinted.width(); ++x) {
        const QColor was = before.pixelColor(x, y), is = tinted.pixelColor(x, y);
        if (was == is) continue;
        QVERIFY((QPoint(x, y) - w.at({0, 0, 100})).manhattanLength() < 120);
        redder += is.red() - is.green() > was.red() - was.green() + 40;
      }
    QVERIFY2(redder > 60, qPrintable(QString::number(redder)));
    w.named<QPushButton>("touch Restore")->click();
    w.drag({w.at({0, 0, 100})});
    w.ready();
    QVERIFY(w.picture() == before);
    // what has no scales offers nothing for single ones
    w.session().apply(withSourceLayer(w.document(), "Bands", Stratum::Surface, bandSource({})), "Add layer");
    w.settle();
    QVERIFY(!w.named<QPushButton>("touch Tint")->isEnabled());
    QVERIFY(w.named<QPushButton>("touch Soothe")->isEnabled());
  }

  void fineSkinHasRegionsAndSaysWhenPointsAreFew() {
    FineSkin skin;
    skin.guides.direction.form = 20;
    skin.guides.size.size = 12;
    skin.depth = 1;
    Dressed w(fineSkinSource(skin), 160);
    auto* page = w.named<QWidget>("fine skin page");
    QVERIFY(page && page->isVisible());
    QVERIFY(!w.named<QLabel>("layer note")->isVisible());
    // no landmarks, no regions, and it says so
    const size_t before = w.step();
    page->findChild<QPushButton*>("usual regions")->click();
    w.settle();
    QCOMPARE(w.step(), before);
    for (const auto& [key, place] : {std::pair("crown", Vec3(0, 90, 43)), std::pair("chin", Vec3(0, -70, 71)),
                                     std::pair("nose", Vec3(0, 0, 100)), std::pair("lip", Vec3(0, -40, 91))})
      w.session().apply(withLandmark(w.document(), key, place), "Landmark");
    page->findChild<QPushButton*>("usual regions")->click();
    w.ready();
    QVERIFY(fineSkinOf(*w.active()->source)->regions.size() >= 3);
    auto* like = w.named<QComboBox>("region like");
    QVERIFY(like && like->isVisible());
    like->setCurrentIndex(4);
    emit like->activated(4);
    w.ready();
    QCOMPARE(fineSkinOf(*w.active()->source)->regions[0].like, std::string("palm"));
    // far too fine for so few points
    Guides fine = w.guides();
    fine.size.size = 2;
    w.session().apply(
        withSource(w.document(), w.document().activeLayer, w.active()->source->withGuides(fine)), "Size");
    w.ready();
    QTRY_VERIFY(w.named<QLabel>("layer note")->isVisible() &&
                w.named<QLabel>("layer note")->text().contains("Points are too few"));
    // which is offered there: four points to a line, on this part alone
    bool asked = false;
    QTimer::singleShot(50, [&] {
      auto* dialog = qobject_cast<app::RefineDialog*>(QApplication::activeModalWidget());
      if (!dialog) return;
      asked = std::abs(dialog->refinement().spacing - 0.5f) < 0.05f &&
              dialog->findChild<QComboBox*>("where")->currentIndex() == 1;
      dialog->reject();
    });
    page->findChild<QPushButton*>("points for it")->click();
    QVERIFY(asked);
  }

  void aFilterMeltsWhatIsPaintedBelowIt() {
    Dressed w(filterSource([] {
      Filter filter;
      filter.guides.size.size = 6;
      return filter;
    }()));
    const Document painted = withPaintedLayer(w.document(), "Paint", Stratum::Pigment);
    w.session().apply(painted, "Paint");
    w.settle();
    w.setBrush([](Brush& b) {
      b.radius = 8;
      b.flow = 1;
    });
    w.chooseColor({0.9f, 0.1f, 0.1f});
    w.key(Qt::Key_A);
    w.drag({w.at({-30, 0, 95}), w.at({30, 0, 95})});
    const auto shown = w.session().engine().skin();
    const ColorField fresh = *compositeOf(w.document().layers, *w.document().maps, w.document().bare);
    for (size_t c = 0; c < fresh.chunkCount(); ++c)
      QVERIFY2(shown.color().chunk(c)->plane == fresh.chunk(c)->plane, qPrintable(QString::number(c)));
    // beside the stroke the skin took some of it
    const auto beside = *nearestSample(*w.document().surface, {0, 13, 99}, 5);
    const auto tone = fresh.at(beside);
    QVERIFY(straight(Rgba16{tone[0], tone[1], tone[2], tone[3]}).g < w.document().bare.g - 0.01f);
  }

  void theBookLaysARecipeAndKeepsOne() {
    DrivenWindow w(test::sphere(60, 100));
    std::filesystem::remove_all(recipeFolder());
    w.key(Qt::Key_N);
    auto* book = w.window.findChild<RecipeBook*>("recipe book");
    QVERIFY(book && book->isVisible());
    auto* list = book->findChild<QListWidget*>("recipes");
    const int shipped = list->count();
    QVERIFY(shipped > 6);
    for (int i = 0; i < shipped; ++i) QVERIFY(!list->item(i)->icon().isNull());
    // one for teeth is for a part, a skin is not
    auto* onPart = book->findChild<QAbstractButton*>("recipe on part");
    list->setCurrentItem(list->findItems("Teeth", Qt::MatchExactly).at(0));
    QVERIFY(onPart->isChecked());
    list->setCurrentRow(2);
    QVERIFY(!onPart->isChecked());
    book->findChild<QAbstractButton*>("recipe adds points")->setChecked(false);
    const size_t step = w.session().history().current(), layers = w.document().layers.size();
    book->findChild<QPushButton*>("lay recipe")->click();
    w.awaitBackground();
    QCOMPARE(w.session().history().current(), step + 1);
    QCOMPARE(w.document().layers.size(), layers + 7);
    // a ball has no landmarks: what goes with them is told
    QVERIFY(book->findChild<QLabel*>("recipe says")->text().contains("no landmark"));
    QTimer::singleShot(300, [&] {
      auto* ask = book->findChild<RecipeLayers*>("recipe layers");
      QVERIFY(ask);
      ask->findChild<QLineEdit*>("recipe name")->setText("Ball");
      ask->accept();
    });
    book->findChild<QPushButton*>("make recipe")->click();
    w.awaitBackground();
    QCOMPARE(list->count(), shipped + 1);
    QCOMPARE(keptRecipes(recipeFolder()).recipes.size(), size_t{1});
    QVERIFY(!keptRecipes(recipeFolder()).recipes[0].recipe.picture.empty());
    QCOMPARE(list->currentRow(), shipped);
    book->findChild<QPushButton*>("remove recipe")->click();
    QCOMPARE(list->count(), shipped);
    QVERIFY(keptRecipes(recipeFolder()).recipes.empty());
  }
};

JUVENOR_TEST(TestPatternHandWindow)
}  // namespace juvenor::app
#include "test_pattern_hand_window.moc"
