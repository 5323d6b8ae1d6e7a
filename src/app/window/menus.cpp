#include <QActionGroup>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QMenuBar>
#include <QSettings>

#include "app/recipes/recipe_book.h"
#include "app/session/job.h"
#include "app/session/stages.h"
#include "app/strata/layer_acts.h"
#include "app/style/style.h"
#include "app/window/main_window.h"
#include "app/window/placement_dialog.h"
#include "app/window/refine_dialog.h"
#include "core/layers/sources/zones.h"

namespace juvenor::app {

void MainWindow::buildMenus() {
  const auto addAlways = [this](QMenu* menu, const QString& text, const QString& key, auto slot) {
    QAction* a = menu->addAction(text, this, slot);
    a->setShortcut(QKeySequence(key));
    return a;
  };
  // what there is nothing to do with while no work is open
  const auto add = [&](QMenu* menu, const QString& text, const QString& key, auto slot) {
    QAction* a = addAlways(menu, text, key, slot);
    needWork_.append(a);
    return a;
  };
  QMenu* file = menuBar()->addMenu(tr("&File"));
  addAlways(file, tr("New from a sculpt …"), "Ctrl+N", [this] { openSculpt(); });
  addAlways(file, tr("Open …"), "Ctrl+O", [this] { open(); });
  QMenu* recent = file->addMenu(tr("Open recent"));
  connect(recent, &QMenu::aboutToShow, this, [this, recent] {
    recent->clear();
    for (const QString& path : QSettings().value("recent").toStringList())
      recent->addAction(QFileInfo(path).fileName(), this, [this, path] { openFile(path); })->setToolTip(path);
    if (recent->isEmpty()) recent->addAction(tr("Nothing was opened yet"))->setEnabled(false);
  });
  recent->setToolTipsVisible(true);
  QMenu* demos = file->addMenu(tr("Demo sculpts"));
  demos->addAction(tr("River ferryman"), this, [this] { openDemo(demo::Figure::Ferryman); });
  demos->addAction(tr("Ferry keeper"), this, [this] { openDemo(demo::Figure::Keeper); });
  demos->addAction(tr("Ferry keeper by photos"), this, [this] { openDemo(demo::Figure::ByPhotos); });
  demos->addSeparator();
  add(demos, tr("Carry the work over to the keeper, older …"), "", [this] { carryOverToOlder(); });
  file->addSeparator();
  add(file, tr("Save"), "Ctrl+S", [this] { save(); });
  add(file, tr("Save as …"), "Ctrl+Shift+S", [this] { saveAs(); });
  file->addSeparator();
  add(file, tr("Export coloured sculpt …"), "Ctrl+E", [this] { exportFile(); });
  add(file, tr("Write texture maps …"), "", [this] {
    if (session_->isOpen()) goToStage(*session_, kFinishStage);
  });
  add(file, tr("Export hair as lines …"), "", [this] { exportHair(); });
  add(file, tr("Export picture of the view …"), "", [this] { exportPicture(); });
  file->addSeparator();
  add(file, tr("Close"), "Ctrl+W", [this] { closeWork(); });
  addAlways(file, tr("Quit"), "Ctrl+Q", [this] { close(); });

  QMenu* edit = menuBar()->addMenu(tr("&Edit"));
  add(edit, tr("Undo"), "Ctrl+Z", [this] { undo(); });
  add(edit, tr("Redo"), "Ctrl+Shift+Z", [this] { redo(); });
  add(edit, tr("Keep a checkpoint"), "Ctrl+K", [this] { session_->keepCheckpoint(); });
  edit->addSeparator();
  add(edit, tr("Paste a picture (onto the board, or as a slide)"), "Ctrl+V", [this] { paste(); });

  buildViewMenu();

  QMenu* sculpt = menuBar()->addMenu(tr("&Sculpt"));
  add(sculpt, tr("Add points …"), "Ctrl+R", [this] { refine(); });
  add(sculpt, tr("How it stands …"), "", [this] { placeSculpt(); });
  add(sculpt, tr("Unwrap …"), "", [this] { unwrapSculpt(); });
  sculpt->addSeparator();
  add(sculpt, tr("Carry over to …"), "", [this] { carryOver(); });
  add(sculpt, tr("Take changed parts in …"), "", [this] { partsBack(); });
  add(sculpt, tr("Let hidden parts go"), "", [this] { lettingPartsGo(); });
  sculpt->addSeparator();
  add(sculpt, tr("Mirror in a rest pose …"), "", [this] { takeRestPose(); });
  add(sculpt, tr("Mirror in the figure as it stands"), "", [this] {
    if (!session_->isOpen()) return;
    if (!session_->document().rest.any()) return session_->say(tr("It mirrors as it stands."));
    session_->apply(withoutRestPose(session_->document()), tr("No rest pose"));
  });
  QMenu* layer = menuBar()->addMenu(tr("&Layer"));
  add(layer, tr("Add a painted layer"), "Ctrl+L", [this] {
    if (!session_->isOpen()) return;
    session_->settleStrokes();
    const LayerPointer active = layerOf(session_->document(), session_->document().activeLayer);
    session_->apply(withPaintedLayer(session_->document(), tr("Paint").toStdString(),
                                     active ? active->stratum : Stratum::Pigment),
                    tr("Add layer"));
  });
  add(layer, tr("Add a layer of hue zones"), "", [this] {
    if (!session_->isOpen()) return;
    session_->settleStrokes();
    session_->apply(
        withSourceLayer(session_->document(), tr("Hue zones").toStdString(), Stratum::Flesh, zoneSource({})),
        tr("Add layer of zones"));
    session_->tools().setTool(Tool::Zones);
    side_->show(SideColumn::Page::Layer);
  });
  // what the menu at the rows has for what is chosen, by keys too
  const auto act = [&](const QString& text, const char* key, const char* shortcut) {
    add(layer, text, shortcut, [this, key, text] {
      for (const LayerAct& found : layerActs(*session_))
        if (found.may && std::string_view(found.key) == key) return found.run();
      if (session_->isOpen()) session_->say(tr("“%1” has nothing to work on here.").arg(text), true);
    });
  };
  act(tr("Duplicate"), "duplicate", "Ctrl+D");
  act(tr("Merge down"), "merge down", "");
  act(tr("Merge what is chosen"), "merge", "");
  act(tr("Merge all that is seen"), "merge visible", "");
  layer->addSeparator();
  act(tr("Put in a group"), "group", "Ctrl+G");
  act(tr("Take the group apart"), "ungroup", "Ctrl+Shift+G");
  act(tr("Only on the layer below, or everywhere"), "clipped", "Ctrl+B");
  act(tr("Show alone, or all again"), "alone", "Ctrl+J");
  layer->addSeparator();
  act(tr("Add mask"), "add mask", "");
  addOtherSide(layer);
  layer->addSeparator();
  add(layer, tr("Recipe book …"), "N", [this] { openRecipes(); });
  add(layer, tr("Send layers to a painting program …"), "", [this] { sendLayers(); });
  add(layer, tr("Take layers back …"), "", [this] { takeLayersBack(); });
  layer->addSeparator();
  act(tr("Delete"), "delete", "");

  QMenu* brush = menuBar()->addMenu(tr("&Brush"));
  add(brush, tr("Brush roll"), "B", [this] { strip_->openRoll(QCursor::pos()); });
  add(brush, tr("Repeat the last stroke"), "R", [this] { easel_->repeatStroke(); });
  add(brush, tr("Hold the stencil, or put it aside"), "Shift+D",
      [this] { easel_->stencil().setShown(!easel_->stencil().shown()); });
  add(brush, tr("Hold the slide, or put it aside"), "Shift+S",
      [this] { easel_->slide().setShown(!easel_->slide().shown()); });
  add(brush, tr("Move the sculpt beneath the slide, or the slide"), "V",
      [this] { easel_->slide().setMovesSculpt(!easel_->slide().movesSculpt()); });
  QMenu* pen = brush->addMenu(tr("Simulated pen"));
  const std::pair<QString, SimulatedPen::Pressure> pressures[] = {
      {tr("Mouse presses fully"), SimulatedPen::Pressure::Full},
      {tr("Mouse pressure grows along the way"), SimulatedPen::Pressure::Ramp},
      {tr("Slow presses hard, fast lightly"), SimulatedPen::Pressure::Speed}};
  auto* one = new QActionGroup(this);
  for (const auto& [text, pressure] : pressures) {
    QAction* a = pen->addAction(
        text, this, [this, pressure = pressure] { easel_->simulatedPen().setPressure(pressure); });
    a->setCheckable(true);
    a->setChecked(pressure == SimulatedPen::Pressure::Full);
    one->addAction(a);
  }
  pen->addSeparator();
  QAction* record = pen->addAction(tr("Record strokes"));
  record->setCheckable(true);
  connect(record, &QAction::toggled, this, [this](bool on) {
    easel_->setRecording(on);
    if (!on) saveRecording();
  });
  pen->addAction(tr("Replay strokes …"), this, [this] { replayRecording(); });

  QMenu* help = menuBar()->addMenu(tr("&Help"));
  addAlways(help, tr("Key map"), "F1", [this] { showKeyMap(); });
  enableActions();
  connect(session_.get(), &Session::opened, this, &MainWindow::enableActions);
  connect(session_.get(), &Session::left, this, &MainWindow::enableActions);
}

void MainWindow::enableActions() {
  for (QAction* action : needWork_) action->setEnabled(session_->isOpen());
}

void MainWindow::buildViewMenu() {
  QMenu* view = menuBar()->addMenu(tr("&View"));
  const auto add = [this, view](const QString& text, const QString& key, auto slot) {
    QAction* a = view->addAction(text, this, slot);
    a->setShortcut(QKeySequence(key));
    return a;
  };
  needWork_ << add(tr("Frame all"), "Home", [this] { easel_->frameAll(); });
  needWork_ << add(tr("Frame the active part"), "End", [this] { easel_->framePart(); });
  view->addSeparator();
  needWork_ << add(tr("Front"), "5", [this] { easel_->look(Side::Front); });
  needWork_ << add(tr("Right side"), "6", [this] { easel_->look(Side::Right); });
  needWork_ << add(tr("Left side"), "7", [this] { easel_->look(Side::Left); });
  needWork_ << add(tr("Top"), "8", [this] { easel_->look(Side::Top); });
  needWork_ << add(tr("Parallel or perspective"), "9",
                   [this] { easel_->setParallel(!easel_->viewing().camera.parallel); });
  view->addSeparator();
  needWork_ << add(tr("Cut away what is near, or nothing"), "Shift+X", [this] { easel_->toggleCutAway(); });
  needWork_ << add(tr("Sheet beside the easel, or not"), "Ctrl+U",
                   [this] { setSheetRoom(sheet_->isVisible() ? SheetRoom::None : SheetRoom::Beside); });
  needWork_ << add(tr("All room for the sheet, or beside"), "Ctrl+Shift+U",
                   [this] { setSheetRoom(easel_->isVisible() ? SheetRoom::All : SheetRoom::Beside); });
  needWork_ << add(tr("Squares over the skin, or not"), "Shift+I", [this] {
    if (session_->document().sculpt->uvSets.empty())
      return session_->say(tr("The sculpt has no UVs: Sculpt ▸ Unwrap makes them."), true);
    sheet_->setSquares(!sheet_->squares());
  });
  view->addSeparator();
  needWork_ << add(tr("All of the checkpoint compared with, or split"), "Shift+Q",
                   [this] { easel_->split().flip(!easel_->split().flipped()); });
  needWork_ << add(tr("Step back, or not"), "Shift+A", [this] { back_->setVisible(!back_->isVisible()); });
  needWork_ << add(tr("Cameras, or not"), "Shift+C",
                   [this] { cameras_->setVisible(!cameras_->isVisible()); });
  needWork_ << add(tr("Keep this view as a camera"), "Shift+K", [this] { cameras_->keep(); });
  needWork_ << add(tr("Variants, or not"), "Shift+G",
                   [this] { variants_->setVisible(!variants_->isVisible()); });
  needWork_ << add(tr("Show or hide masks"), "H",
                   [this] { session_->tools().setMasksShown(!session_->tools().masksShown()); });
  add(tr("Full screen, or a window again"), "F11",
      [this] { isFullScreen() ? showNormal() : showFullScreen(); });
  add(tr("Grey behind the sculpt …"), "", [this] {
    bool ok = false;
    const int grey =
        QInputDialog::getInt(this, tr("Grey behind the sculpt"), tr("0 is black, 255 is white"),
                             static_cast<int>(easel_->viewing().background & 0xff), 0, 255, 1, &ok);
    if (ok) easel_->setBackground(grey);
  });
}

void MainWindow::openRecipes() {
  if (!recipes_) recipes_ = new RecipeBook(*session_, this);
  recipes_->refresh();
  recipes_->show();
  recipes_->raise();
}

void MainWindow::refine(float spacing, const Session::Edit& then, bool there) {
  if (!session_->isOpen()) return;
  session_->settleStrokes();
  RefineDialog dialog(session_->document(), session_->activePart(), this);
  if (spacing > 0) dialog.propose(spacing, there);
  if (dialog.exec() != QDialog::Accepted) return;
  const Refinement wanted = dialog.refinement();
  session_->edit(
      wanted.spacing > 0 && !wanted.where.empty()
          ? tr("Points %1 apart, in places")
                .arg(shortLength(wanted.spacing, session_->document().placement.millimetres))
      : wanted.spacing > 0
          ? tr("Points %1 apart").arg(shortLength(wanted.spacing, session_->document().placement.millimetres))
          : tr("Four times the points"),
      [wanted, then](const Document& d, const Progress& p) -> Result<Document> {
        if (!then) return withRefinement(d, wanted, p);
        auto finer = withRefinement(d, wanted, [&](float f) { return report(p, 0.5f * f); });
        if (!finer) return finer;
        return then(*finer, [&](float f) { return report(p, 0.5f + 0.5f * f); });
      });
}

std::optional<Placement> MainWindow::askPlacement(std::shared_ptr<const Surface> own, const Placement& now,
                                                  const QString& name) {
  auto rays = runJobFor<RaysPointer>(this, tr("Preparing the pictures …"), [&](const Progress& p) {
    return buildRays(own, Rays::Quality::Quick, p);
  });
  if (!rays) {
    complain(rays.error(), tr("How “%1” stands cannot be shown.").arg(name));
    return std::nullopt;
  }
  PlacementDialog dialog(*rays, now, name, this);
  if (dialog.exec() != QDialog::Accepted) return std::nullopt;
  return dialog.placement();
}

void MainWindow::placeSculpt() {
  if (!session_->isOpen()) return;
  session_->settleStrokes();
  const Document d = session_->document();
  using Before = std::shared_ptr<const Surface>;
  const auto before =
      runJobFor<Before>(this, tr("Looking how it stands …"),
                        [&](const Progress&) -> Result<Before> { return unplaced(d.surface, d.placement); });
  if (!before) return complain(before.error(), tr("How “%1” stands cannot be shown.").arg(session_->title()));
  const auto wanted = askPlacement(*before, d.placement, session_->title());
  if (!wanted || *wanted == d.placement) return;
  const bool turns = !(turnOf(*wanted) == turnOf(d.placement));
  const bool done = session_->edit(tr("How it stands"), [wanted](const Document& x, const Progress& p) {
    return withPlacement(x, *wanted, p);
  });
  if (done && turns) easel_->frameAll();
}

}  // namespace juvenor::app
