// The window: everything in its place, the menus, opening and saving, and what happens when a file is
// dropped.
#pragma once

#include <QMainWindow>

#include "app/brush_strip/brush_strip.h"
#include "app/course/course.h"
#include "app/easel/easel.h"
#include "app/firstpage/first_page.h"
#include "app/session/session.h"
#include "app/sheet/sheet_panel.h"
#include "app/show/foot_strip.h"
#include "app/side/side_column.h"
#include "app/stepback/step_back_strip.h"
#include "core/export/refined_sculpt.h"
#include "core/textures/wear_materials.h"
#include "demo/demo.h"

class QLabel;
class QMenu;
class QPushButton;
class QSplitter;
class QStackedWidget;

namespace juvenor::app {

class RecipeBook;

/// How large the window opens on a screen that has `room`: with its frame it must fit.
QSize firstSize(const QSize& room);

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  MainWindow();

  Session& session() { return *session_; }
  Easel& easel() { return *easel_; }
  SideColumn& side() { return *side_; }
  StepBackStrip& stepBack() { return *back_; }
  FootStrip& cameras() { return *cameras_; }
  FootStrip& variants() { return *variants_; }
  SheetPanel& sheet() { return *sheet_; }
  /// The sheet beside the easel, or with all its room.
  enum class SheetRoom { None, Beside, All };
  void setSheetRoom(SheetRoom room);

  /// Opens a document or a sculpt by its ending; a failure is told and leaves what is open.
  bool openFile(const QString& file);
  /// The demo document of a figure, of one or two million points, made once and kept in the user's cache.
  bool openDemo(demo::Figure figure);
  /// The same with about `fine` points; `quick` of them serve until these are there, unless it is 0.
  bool openDemo(demo::Figure figure, size_t fine, size_t quick = 0);
  bool saveTo(const QString& file);
  /// Layers as a layered picture of `pixels` a side in the layout of the tile that is looked at, and back;
  /// false: why not was told.
  bool sendLayersTo(const QString& file, int pixels = 4096);
  bool takeLayersFrom(const QString& file);
  bool exportTo(const QString& file, const ColouredSetting& setting = {});
  /// Asks how all work is to be carried over to a sculpt, and does it as one step. (carrying.cpp)
  void carryOverTo(const QString& file);
  /// The demo head thirty years on is sculpted, once, and carried over to.
  void carryOverToOlder();
  /// A part as a sculpt of its own, to be changed elsewhere and taken in again.
  void writePart(uint32_t part);
  void addOtherSide(QMenu* layer);
  void takeRestPose();
  void takeRestPoseFrom(const QString& file);
  /// Plays strokes back from a file; a failure is told.
  bool replayFile(const QString& file);
  /// Puts a file among those used lately and says that it waits: other work came first.
  void keepForLater(const QString& file);
  /// Offers back the work of processes that are gone; true when one was taken.
  bool offerRecovery();
  /// Whether opening a sculpt may ask how it stands when that is not certain; otherwise the guess is taken.
  void setAsksHowItStands(bool on) { asks_ = on; }
  /// Takes the place on the screen it had when it was closed last, and remembers the one it has then.
  void restorePlace();
  void undo();
  void redo();

 protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;

 private:
  void buildMenus();
  void buildViewMenu();
  void buildLayout();
  void connectPrepare(Course& course);
  void connectFinish();
  QWidget* buildMessageLine();
  void showMessage(const QString& said, bool seriously);
  void paste();
  void open();
  void openSculpt();
  void closeWork();
  void enableActions();
  void save();
  void saveAs();
  void exportFile();
  void exportHair();
  void exportPicture();
  void saveRecording();
  void replayRecording();
  /// `spacing`: points that far apart are proposed; 0: four times as many. `then`: what else is done to the
  /// document.
  /// `there`: rather where the active layer or part is than everywhere.
  void refine(float spacing = 0, const Session::Edit& then = {}, bool there = false);
  void offerPoints(const Worn& worn, const std::shared_ptr<const BroughtMaterials>& materials,
                   const QStringList& remarks);
  void openRecipes();
  void placeSculpt();
  void unwrapSculpt();  // layouts.cpp
  void carryOver();     // carrying.cpp
  void partsBack();
  void lettingPartsGo();
  void sendLayers();
  void takeLayersBack();
  /// Asks how a sculpt stands; nothing when it was not answered.
  std::optional<Placement> askPlacement(std::shared_ptr<const Surface> own, const Placement& now,
                                        const QString& name);
  bool mayLeave();
  bool saveTo(const QString& file, bool anew);
  bool settleConflict(const QString& file);
  bool settleGone(const QString& file);
  QString askGround(const LeftBehind& left);
  bool bringBack(LeftBehind left);
  void putWorkAside(const LeftBehind& left);
  void complain(const Error& error, const QString& what);
  void remember(const QString& file);
  void showSaved();
  void showCard(const QPoint& globalPosition);
  void showKeyMap();
  bool takeSculpt(const QString& file);
  void sculptFiner(demo::Figure figure, size_t points);
  void takeFiner(const std::shared_ptr<Opened>& fine, const QString& title);
  bool takeDocument(const QString& file, bool asTemplate, const QString& title);

  std::unique_ptr<Session> session_;
  Easel* easel_;
  SheetPanel* sheet_;
  QSplitter* split_;
  QStackedWidget* pages_;
  FirstPage* first_;
  BrushStrip* strip_;
  SideColumn* side_;
  StepBackStrip* back_;
  FootStrip *cameras_ = nullptr, *variants_ = nullptr;
  RecipeBook* recipes_ = nullptr;  ///< once it was asked for
  QLabel *message_, *saved_;
  QPushButton* offer_;  ///< beside the message: what would help
  std::function<void()> offered_;
  QString said_;              ///< what the message line shows now, if it was said
  QList<QAction*> needWork_;  ///< disabled while none is open
  bool saving_ = false, asks_ = true, keepsPlace_ = false;
  uint64_t coarseDemo_ = 0;  ///< the first step of one that a finer one may replace
  Background sculpting_;     ///< of the finer one
};

}  // namespace juvenor::app
