// Drives the real window through the demo and keeps a picture of each main view: `make_screens FOLDER
// [POINTS]`. Not a test; docs/screenshots is made with it.
#include <QDir>
#include <QLabel>
#include <QPainter>
#include <QSplitter>
#include <QTemporaryDir>

#include "app/brush_roll/roll_panel.h"
#include "app/brush_strip/brush_strip.h"
#include "app/driven_window.h"
#include "app/recipes/recipe_book.h"
#include "app/session/stages.h"
#include "app/stage/photo_page.h"
#include "app/strata/kind_card.h"
#include "app/style/style.h"
#include "app/window/key_map.h"
#include "core/photo/picture_file.h"
#include "core/textures/unwrap.h"
#include "demo/demo.h"
#include "screens/dialog_shots.h"
#include "screens/shots.h"

using namespace juvenor;
using screens::keepBeside;
using screens::keepSettled;
using screens::keepWithPage;
using screens::showDialogs;

namespace {

// A stroke along points of the scene with a pen whose pressure swells and fades.
void stroke(test::DrivenWindow& w, const std::vector<Vec3>& points) {
  std::vector<std::pair<QPoint, double>> way;
  for (size_t i = 0; i + 1 < points.size(); ++i)
    for (int k = 0; k < 12; ++k) {
      const float t = static_cast<float>(k) / 12;
      const double along = (static_cast<double>(i) + k / 12.0) / static_cast<double>(points.size() - 1);
      way.emplace_back(w.at(points[i] + t * (points[i + 1] - points[i])),
                       0.25 + 0.75 * std::sin(3.14159 * along));
    }
  w.penStroke(way);
}

void paintFerryman(test::DrivenWindow& w) {
  w.session().setActivePart(0);
  w.setBrush([](Brush& b) {
    b.mirror[0] = true;
    b.radius = 17;
    b.flow = 0.06f;
    b.hardness = 0;
  });
  w.chooseColor(*fromHex("#b5503f"));
  stroke(w, {{62, 46, 80}, {70, 38, 72}, {58, 30, 88}});
  stroke(w, {{60, 40, 82}, {72, 44, 66}});
  w.setBrush([](Brush& b) {
    b.radius = 5;
    b.flow = 0.3f;
    b.hardness = 0.3f;
  });
  w.chooseColor(*fromHex("#2f5a55"));
  stroke(w, {{20, 95, 80}, {30, 82, 90}, {44, 74, 88}, {60, 70, 76}});
  stroke(w, {{14, 90, 84}, {22, 74, 98}, {40, 64, 96}, {62, 60, 82}});
  w.chooseColor(*fromHex("#d9c07a"));
  w.setBrush([](Brush& b) { b.radius = 2.6f, b.flow = 0.5f; });
  for (const float x : {26.f, 36.f, 46.f, 56.f})
    stroke(w, {{x, 78 - 0.1f * x, 94}, {x + 4, 74 - 0.1f * x, 92}});
}

// Relief and gloss from the pen, under lamps, with the light's page open; and the sculpt's lines.
QPixmap showChannels(test::DrivenWindow& w, const QDir& folder) {
  app::Tools& tools = w.session().tools();
  w.session().apply(withPaintedLayer(w.document(), "Warts and slime", Stratum::Surface), "Add layer");
  tools.setLaid(Channel::Color, false);
  tools.setLaid(Channel::Relief, true);
  tools.setLaid(Channel::Gloss, true);
  tools.setNumber(Channel::Gloss, 0.9f);
  tools.setNumber(Channel::Relief, 0.8f);
  w.setBrush([](Brush& b) { b.radius = 3.2f, b.flow = 0.6f, b.hardness = 0.2f; });
  for (const Vec3& p :
       {Vec3(30, 60, 100), Vec3(41, 56, 96), Vec3(52, 60, 90), Vec3(36, 48, 100), Vec3(48, 47, 94)})
    stroke(w, {p, p + Vec3(0.6f, 0.2f, 0)});
  Light light = w.easel().viewing().light;
  const Light before = light;
  light.kind = LightKind::Lamps;
  light.dial = 0;
  w.easel().setLight(light);
  w.hover(w.at({41, 56, 96}));
  auto* button = w.named<QPushButton>("light");
  button->click();
  auto* page = w.named<QWidget>("light page");
  keepWithPage(w, *page, folder.filePath("light.png"));
  page->hide();
  w.easel().setLight(before);
  tools.setLaid(Channel::Color, true);
  w.easel().setLines(true);
  w.easel().setView(View::Clay);
  const Camera whole = w.easel().viewing().camera;
  Camera near = whole;
  near.target = {40, 60, 60};
  near.distance *= 0.22f;
  w.easel().setCamera(near);
  w.settle();
  w.settleFully();
  const QPixmap clay = w.easel().grab();
  w.easel().setLines(false);
  w.easel().setCamera(whole);
  tools.setLaid(Channel::Relief, false);
  tools.setLaid(Channel::Gloss, false);
  return clay;
}

uint32_t layerNamed(test::DrivenWindow& w, const std::string& name) {
  for (const LayerPointer& l : w.document().layers)
    if (l->name == name) return l->id;
  qFatal("there is no layer %s", name.c_str());
  return 0;
}

// The board with its palette beside the mixer.
void showMaps(test::DrivenWindow& w, const QDir& folder) {
  w.session().tools().setTool(app::Tool::Airbrush);
  w.window.side().show(app::SideColumn::Page::Board);
  w.window.side().board().takePalette();
  while (w.session().background().running()) QTest::qWait(20);
  const auto pictures = w.window.findChildren<QWidget*>("board picture");
  QTest::mouseClick(pictures.front(), Qt::LeftButton, {}, QPoint(60, 50));
  w.hover(w.at({54, 66, 84}));
  auto* fold = w.window.findChild<QPushButton*>("fold mixer");
  fold->click();
  keepSettled(w, folder.filePath("board-and-mixer.png"));
  fold->click();
}

// The skin laid flat beside the easel, with the brush over it; and squares over both.
void showSheet(test::DrivenWindow& w, const QDir& folder) {
  const auto laid = [&] {
    for (int i = 0; i < 3000 && (w.session().background().running() || w.window.sheet().laying().running());
         ++i)
      QTest::qWait(20);
    w.settle();
  };
  if (w.document().sculpt->uvSets.empty())
    w.session().edit("Unwrap", [](const Document& d, const Progress&) { return withUnwrapped(d, {}); });
  laid();
  w.session().tools().setTool(app::Tool::Airbrush);
  w.window.setSheetRoom(app::MainWindow::SheetRoom::Beside);
  auto* split = w.window.findChild<QSplitter*>("easel and sheet");
  split->setSizes({split->width() / 2, split->width() / 2});
  laid();
  auto& view = w.window.sheet().view();
  const QPoint pen(view.width() / 3, view.height() / 2);
  QMouseEvent move(QEvent::MouseMove, pen, view.mapToGlobal(pen), Qt::NoButton, Qt::NoButton, {});
  QCoreApplication::sendEvent(&view, &move);
  w.easel().frameAll();
  w.settle();
  w.settleFully();
  const QPixmap painted = w.window.grab();
  w.window.sheet().setSquares(true);
  w.settle();
  w.settleFully();
  const QPixmap squares = split->grab(QRect(0, 90, split->width(), 400));
  w.window.sheet().setSquares(false);
  QImage both(painted.width(), painted.height() + squares.height() + 8, QImage::Format_RGB32);
  both.fill(QColor(0x38, 0x38, 0x38));
  QPainter painter(&both);
  painter.drawPixmap(0, 0, painted);
  painter.drawPixmap((painted.width() - squares.width()) / 2, painted.height() + 8, squares);
  painter.end();
  both.save(folder.filePath("sheet.png"));
  w.window.setSheetRoom(app::MainWindow::SheetRoom::None);
  w.settle();
}

void showKeeper(test::DrivenWindow& w, const QDir& folder) {
  w.window.side().show(app::SideColumn::Page::Stage);
  w.window.side().stage().goTo(0);
  w.hover(w.at({-26, 24, 84}));
  keepSettled(w, folder.filePath("keeper.png"));
  w.session().chooseLayer(layerNamed(w, "Hue zones"));
  w.window.side().stage().goTo(1);
  w.window.side().show(app::SideColumn::Page::Layer);
  w.session().tools().setTool(app::Tool::Zones);
  w.session().tools().setZone(6);
  w.settle();
  keepSettled(w, folder.filePath("zones.png"));
}

Camera nearTo(test::DrivenWindow& w, const Vec3& target, float turn, float distance) {
  Camera c = turned(w.easel().viewing().camera, Vec2(turn, 0) / kDegreesPerPixel);
  c.target = target;
  c.distance *= distance;
  return c;
}

// The ferryman's hide with its page, and the comb in hand.
void showPattern(test::DrivenWindow& w, const QDir& folder) {
  const Camera whole = w.easel().viewing().camera;
  const uint32_t before = w.document().activeLayer;
  w.session().tools().setStage(3);
  w.session().chooseLayer(layerNamed(w, "Hide"));
  w.window.side().show(app::SideColumn::Page::Layer);
  w.easel().setCamera(nearTo(w, {10, 70, 60}, 24, 0.55f));
  w.session().tools().setTool(app::Tool::Comb);
  for (int i = 0; i < 500 && w.easel().comb().lineCount() == 0; ++i) QTest::qWait(20);
  w.settle();
  // with what one sees who steps back
  w.window.stepBack().show();
  w.settleFully();
  for (int i = 0; i < 600 && w.window.stepBack().picture(app::StepBackStrip::Eye).isNull(); ++i)
    QTest::qWait(50);
  for (int i = 0; i < 600 && !w.window.stepBack().upToDate(); ++i) QTest::qWait(50);
  keepSettled(w, folder.filePath("pattern-stage.png"));
  w.window.stepBack().hide();
  w.session().tools().setTool(app::Tool::Airbrush);
  w.session().tools().setStage(0);
  w.session().chooseLayer(before);
  w.easel().setCamera(whole);
  w.settle();
}

// Finish, Show: its page, with cameras and variants at the easel's foot.
void showShowing(test::DrivenWindow& w, const QDir& folder) {
  w.session().tools().setStage(app::kFinishStage);
  w.window.side().show(app::SideColumn::Page::Stage);
  w.window.side().stage().finish().goTo(app::FinishPages::Page::Show);
  for (app::FootStrip* strip : {&w.window.cameras(), &w.window.variants()}) {
    strip->show();
    w.settle();
  }
  for (app::FootStrip* strip : {&w.window.cameras(), &w.window.variants()})
    for (int i = 0; i < 600 && !strip->upToDate(); ++i) QTest::qWait(50);
  keepSettled(w, folder.filePath("finish-stage.png"));
  w.window.cameras().hide();
  w.window.variants().hide();
  w.session().tools().setStage(0);
  w.settle();
}

// The stage of pigment with the roll at the pen; fine skin and its page.
void showPigment(test::DrivenWindow& w, const QDir& folder) {
  app::Tools& tools = w.session().tools();
  const Camera whole = w.easel().viewing().camera;
  tools.setTool(app::Tool::Airbrush);
  w.session().chooseLayer(layerNamed(w, "Freckles"));
  w.window.side().show(app::SideColumn::Page::Stage);
  w.window.side().stage().goTo(2);
  w.settle();
  QTest::qWait(2500);
  auto* strip = w.window.findChild<app::BrushStrip*>();
  strip->openRoll(w.easel().mapToGlobal(QPoint(320, 300)));
  QTest::qWait(1500);
  auto* roll = w.window.findChild<app::RollPanel*>();
  keepWithPage(w, *roll, folder.filePath("pigment-stage.png"));
  roll->hide();

  // fine skin near by, with the tool that works on patterns by hand
  w.session().chooseLayer(layerNamed(w, "Fine skin"));
  w.window.side().show(app::SideColumn::Page::Layer);
  tools.setStage(3);
  tools.setTool(app::Tool::Touch);
  // as fine as the points of a screen show
  Guides guides = *w.active()->source->guides();
  guides.size.size = std::max(guides.size.size, 1.1f * kLeastSpacings * w.document().surface->spacing);
  w.session().apply(
      withSource(w.document(), w.document().activeLayer, w.active()->source->withGuides(guides)), "Size");
  for (int i = 0; i < 1000 && !w.active()->source->isReady(*w.document().maps); ++i) QTest::qWait(10);
  w.easel().setCamera(nearTo(w, {38, 26, 74}, 24, 0.3f));
  w.settle();
  keepSettled(w, folder.filePath("fine-skin.png"));
  tools.setTool(app::Tool::Airbrush);
  w.easel().setCamera(whole);
  w.settle();
}

// A photo of the finished head in lamp light, hung before the bare one and pinned to it; its camera solved,
// its light evened by the form, half of it painted through.
void showPhoto(test::DrivenWindow& w, const QDir& folder) {
  Camera away = nearTo(w, {0, 20, 30}, -14, 1);
  StillSetting setting;
  setting.camera = away;
  setting.size = {1400, 1400};
  setting.light.kind = LightKind::Lamps;
  setting.light.lamps = {{{true, -55, 35, 0.8f, 25, 6504}, {true, 35, 20, 0.4f, 40, 6504}, {}, {false}}};
  setting.light.lamps[2].on = false;
  const auto still = stillOf(w.document(), setting);
  const auto png = encodePng(setting.size, *still);
  const PicturePointer photo = *decodePicture(*png, "keeper.png");
  Document bare = w.document();
  for (const LayerPointer& layer : w.document().layers) {
    LayerChange hidden;
    hidden.visible = false;
    bare = *withLayerChanged(bare, layer->id, hidden);
  }
  w.session().apply(withPaintedLayer(bare, "By photo", Stratum::Surface), "Begin anew");
  w.window.side().show(app::SideColumn::Page::Stage);
  w.window.side().stage().goTo(4);
  w.easel().setCamera(nearTo(w, {0, 20, 30}, -8, 1));
  w.settle();
  app::PhotoPage& page = w.window.side().stage().photo();
  page.hang("ferry keeper", photo);
  w.settle();
  // pinned where the same places are
  Slide slide = *w.easel().slide().slide();
  const auto seen = toView(away);
  for (const Landmark& mark : w.document().landmarks) {
    if (mark.key != "nose" && mark.key != "chin" && mark.key != "lip" && mark.key != "brow" &&
        mark.key != "lip-corner" && mark.key != "temple")
      continue;
    const Vec3 at = seen.leftCols<3>() * mark.position + seen.col(3);
    slide.pins.push_back({at.head<2>() / at.z(), mark.position});
  }
  w.session().apply(withSlide(w.document(), slide), "Pin slide");
  w.settle();
  for (const char* name : {"photo solve", "photo light"}) {
    QTest::mouseClick(w.named<QPushButton>(name), Qt::LeftButton);
    w.awaitBackground();
    w.settle();
  }
  w.session().tools().setTool(app::Tool::Airbrush);
  w.session().setActivePart(0);
  w.setBrush([](Brush& b) {
    b.mirror = {};
    b.radius = 16;
    b.flow = 0.8f;
    b.hardness = 0.4f;
  });
  for (const float y : {78.f, 66.f, 54.f, 42.f, 30.f, 18.f, 6.f, -6.f})
    stroke(w, {{8, y, 80}, {30, y, 74}, {58, y, 50}});
  w.session().tools().setTool(app::Tool::Slide);
  w.settle();
  QTest::qWait(1500);
  keepSettled(w, folder.filePath("photo-stage.png"));
}

// The work as it was before the pen touched it, beside the work now.
void showMoments(test::DrivenWindow& w, const QDir& folder) {
  w.window.side().show(app::SideColumn::Page::Past);
  w.session().callStep(1, "As it was opened");
  w.settle();
  w.easel().split().compare(w.document().checkpoints.front().id);
  QTest::qWait(3000);
  w.session().tools().setTool(app::Tool::Restore);
  w.hover(w.at({54, 66, 84}));
  keepSettled(w, folder.filePath("moments.png"));
  w.easel().split().compare(0);
  w.session().tools().setTool(app::Tool::Airbrush);
  w.window.side().show(app::SideColumn::Page::Board);
}

// Skin off the cheek, with its form, placed on the other side of the chin.
void showGrafts(test::DrivenWindow& w, const QDir& folder) {
  w.session().apply(withPaintedLayer(w.document(), "Grafts", Stratum::Surface), "Add layer");
  w.window.side().show(app::SideColumn::Page::Stage);
  w.window.side().stage().goTo(4);
  const Camera whole = w.easel().viewing().camera;
  w.easel().setCamera(nearTo(w, {10, 0, 50}, -10, 0.55f));
  w.session().setActivePart(0);
  w.key(Qt::Key_T, Qt::ShiftModifier);
  w.settle();
  QTest::mouseClick(w.named<QPushButton>("graft form"), Qt::LeftButton);
  w.mouseStroke({w.at({42, 24, 70}), w.at({46, 30, 68}), w.at({52, 36, 65})});
  w.awaitBackground();
  w.settle();
  w.session().tools().setAdapts(true);
  w.mouseStroke({w.at({-30, -20, 76}), w.at({-24, -18, 78}), w.at({-14, -14, 82})});
  QTest::qWait(2500);
  keepSettled(w, folder.filePath("grafts.png"));
  w.easel().stampPlacing().giveUp();
  w.session().tools().setAdapts(false);
  for (const Channel c : {Channel::Gloss, Channel::Relief}) w.session().tools().setLaid(c, false);
  w.easel().setCamera(whole);
}

QPixmap bookPicture(test::DrivenWindow& w) {
  w.key(Qt::Key_N);
  auto* book = w.window.findChild<app::RecipeBook*>("recipe book");
  book->findChild<QListWidget*>("recipes")->setCurrentRow(4);
  w.settle();
  const QPixmap out = book->grab();
  book->close();
  return out;
}

}  // namespace

int main(int argc, char** argv) {
  const QTemporaryDir home;
  for (const char* name : {"XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME"})
    qputenv(name, home.filePath(name).toUtf8());
  // the demo stays in the cache it is always in; pictures show no path of the machine they are made on
  if (!qEnvironmentVariableIsSet("XDG_CACHE_HOME"))
    qputenv("XDG_CACHE_HOME", QDir::home().filePath(".cache").toUtf8());
  qputenv("HOME", "/home/artist");
  QApplication application(argc, argv);
  QApplication::setApplicationName("juvenor");
  QApplication::setOrganizationName("juvenor");
  app::applyStyle(application);
  const QDir folder(argc > 1 ? argv[1] : ".");
  const size_t points = argc > 2 ? QString(argv[2]).toULongLong() : 0;
  test::DrivenWindow w;
  w.settleFully();
  const QPixmap first = w.window.grab();
  w.window.openDemo(demo::Figure::Ferryman, points ? points : 2'000'000);
  w.settle();
  app::goToStage(w.session(), app::kPrepareStage);
  w.window.side().show(app::SideColumn::Page::Stage);
  // until the sculpt was looked at
  for (int i = 0; i < 600 && !w.window.side().stage().prepare().unmended(); ++i) QTest::qWait(50);
  w.settleFully();
  keepBeside({first, w.window.grab()}, folder.filePath("first-page.png"));
  app::goToStage(w.session(), app::kBaseStage);
  w.session().keepCheckpoint();
  paintFerryman(w);
  w.hover(w.at({54, 66, 84}));
  keepSettled(w, folder.filePath("painting.png"));
  showMoments(w, folder);
  showPattern(w, folder);
  showShowing(w, folder);
  const QPixmap clay = showChannels(w, folder);
  w.easel().setView(View::Value);
  w.settle();
  {
    w.easel().valueBar().set({5, 3});
    w.settle();
    QTest::qWait(60);
    w.settleFully();
    const QPixmap values = w.easel().grab();
    w.easel().valueBar().set({});
    w.easel().setView(View::Channel);
    w.easel().channelBar().set({Channel::Gloss, true}, false);
    w.settleFully();
    keepBeside({values, clay, w.easel().grab()}, folder.filePath("value-and-clay.png"));
  }
  w.easel().setView(View::Flat);
  w.session().goTo(w.session().history().current() - 4);
  w.settle();
  w.window.side().show(app::SideColumn::Page::Past);
  w.settle();
  w.window.side().show(app::SideColumn::Page::Stage);
  w.session().goTo(w.session().history().steps().size() - 1);
  w.easel().setView(View::Skin);
  w.settle();
  showDialogs(w, folder.filePath("sculpt-dialogs.png"));
  app::KindCard kinds(&w.window);
  kinds.show();
  const auto pictures = kinds.findChildren<QToolButton*>();
  for (int i = 0; i < 1000 && std::ranges::any_of(pictures, [](auto* b) { return b->icon().isNull(); }); ++i)
    QTest::qWait(20);
  const QPixmap ofKinds = kinds.grab();
  kinds.close();
  app::KeyMap keys(&w.window);
  keys.show();
  const QPixmap ofKeys = keys.grab();
  keys.close();
  w.window.saveTo(QDir(home.path()).filePath("ferryman.juvenor"));
  showMaps(w, folder);
  w.session().goTo(0);
  w.window.saveTo(QDir(home.path()).filePath("ferryman.juvenor"));
  w.window.openDemo(demo::Figure::Keeper, points ? points : 1'000'000);
  w.settle();
  showKeeper(w, folder);
  showSheet(w, folder);
  showPigment(w, folder);
  keepBeside({ofKeys, ofKinds, bookPicture(w)}, folder.filePath("keys-kinds-recipes.png"));
  showGrafts(w, folder);
  showPhoto(w, folder);
  w.window.saveTo(QDir(home.path()).filePath("keeper.juvenor"));
  return 0;
}
