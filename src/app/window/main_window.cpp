#include "app/window/main_window.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenuBar>
#include <QPushButton>
#include <QScreen>
#include <QSettings>
#include <QSplitter>
#include <QStackedWidget>
#include <QThreadPool>
#include <QTimer>
#include <QVBoxLayout>
#include <QWidgetAction>
#include <utility>

#include "app/controls/background_progress.h"
#include "app/kit/kit.h"
#include "app/mixer/mixer.h"
#include "app/mixer/pen_lays.h"
#include "app/strata/strata.h"
#include "app/style/style.h"
#include "app/window/application.h"
#include "app/window/key_map.h"
#include "core/color/skin_tint.h"

namespace juvenor::app {

QSize firstSize(const QSize& room) {
  const QSize frame(16, 48);
  return QSize(1280, 800).boundedTo(room - frame);
}

MainWindow::MainWindow() : session_(std::make_unique<Session>(journalFolder())) {
  setWindowTitle("Juvenor");
  setWindowIcon(QIcon(":/org.juvenor.Juvenor.svg"));
  setAcceptDrops(true);
  setContextMenuPolicy(Qt::NoContextMenu);
  resize(firstSize(screen()->availableSize()));
  setMinimumSize(1240, 680);
  easel_ = new Easel(*session_);
  buildLayout();
  buildMenus();
  connect(session_.get(), &Session::said, this, [this](const QString& text, bool seriously) {
    showMessage(text, seriously);
    QTimer::singleShot(seriously ? 12000 : 7000, message_, [this, text] {
      if (message_->text() == text) showMessage({}, false);
    });
  });
  connect(session_.get(), &Session::offered, this,
          [this](const QString& text, const QString& action, const std::function<void()>& act) {
            emit session_->said(text, true);
            offered_ = act;
            offer_->setText(action);
            offer_->show();
          });
  if (const auto* application = qobject_cast<Application*>(qApp))
    connect(application, &Application::failed, this,
            [this](const QString& why) { session_->say(why, true); });
  // what was said goes first; what hinders the pen stands there as long as it does
  const auto hindrance = [this] {
    if (said_.isEmpty()) showMessage({}, false);
  };
  connect(easel_, &Easel::hindranceChanged, this, hindrance);
  connect(&session_->tools(), &Tools::changed, this, hindrance);
  connect(session_.get(), &Session::documentChanged, this, hindrance);
  connect(session_.get(), &Session::savedStateChanged, this, &MainWindow::showSaved);
  connect(session_.get(), &Session::documentChanged, this, &MainWindow::showSaved);
  connect(session_.get(), &Session::opened, this, [this] {
    showMessage({}, false);  // what was said of other work is over
    pages_->setCurrentIndex(1);
    easel_->setFocus();
    showSaved();
  });
  connect(session_.get(), &Session::movedAway, easel_, &Easel::frameAll, Qt::QueuedConnection);
  connect(easel_, &Easel::probed, strip_, &BrushStrip::showProbe);
  connect(easel_, &Easel::cardWanted, this, &MainWindow::showCard);
  connect(side_, &SideColumn::partWanted, this, &MainWindow::writePart);
  connect(session_.get(), &Session::pointsWanted, this, [this](float spacing) { refine(spacing, {}, true); });
  connect(first_, &FirstPage::openWanted, this, &MainWindow::open);
  connect(first_, &FirstPage::fileWanted, this, &MainWindow::openFile);
  connect(first_, &FirstPage::demoWanted, this, [this](const QString& key) {
    if (const auto figure = demo::figureFromKey(key.toStdString())) openDemo(*figure);
  });
  first_->setRecent(QSettings().value("recent").toStringList());
  // takes a second or two; whoever first blends by the skin model should not wait for it
  QTimer::singleShot(3000, this, [] {
    QThreadPool::globalInstance()->start([] {
      (void)caught([]() -> Outcome {
        SkinTint::prepare();
        return Done{};
      });
    });
  });
}

void MainWindow::buildLayout() {
  pages_ = new QStackedWidget;
  strip_ = new BrushStrip(*session_);
  first_ = new FirstPage;
  pages_->addWidget(first_);
  auto* work = new QWidget;
  auto* column = new QVBoxLayout(work);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(1);
  auto* course = new Course(*session_, *easel_);
  column->addWidget(course);
  auto* middle = new QHBoxLayout;
  middle->setSpacing(1);
  middle->addWidget(new Kit(*session_));
  side_ = new SideColumn(*session_, *easel_);
  middle->addWidget(side_);
  connect(&side_->stage().maps(), &MapsPage::previewed, this,
          [this](const QImage& picture, int tile, const QString& said) {
            if (sheet_->isHidden()) setSheetRoom(SheetRoom::Beside);
            sheet_->view().setPreview(picture, tile, said);
          });
  connectPrepare(*course);
  side_->stage().maps().setTile([this] { return sheet_->view().viewing().tile; });
  connect(&side_->stage().maps(), &MapsPage::colouredWanted, this, &MainWindow::exportFile);
  sheet_ = new SheetPanel(*session_, *easel_);
  sheet_->hide();
  split_ = new QSplitter;
  split_->setObjectName("easel and sheet");
  split_->setChildrenCollapsible(false);
  split_->setHandleWidth(5);
  split_->addWidget(easel_);
  split_->addWidget(sheet_);
  // a third at first
  split_->setStretchFactor(0, 2);
  split_->setStretchFactor(1, 1);
  back_ = new StepBackStrip(*session_, *easel_);
  middle->addWidget(back_);
  auto* seen = new QVBoxLayout;
  seen->setSpacing(1);
  seen->addWidget(split_, 1);
  seen->addWidget(variants_ = new FootStrip(FootStrip::Of::Variants, *session_, *easel_));
  seen->addWidget(cameras_ = new FootStrip(FootStrip::Of::Cameras, *session_, *easel_));
  middle->addLayout(seen, 1);
  connectFinish();
  connect(&sheet_->view(), &SheetView::probed, strip_, &BrushStrip::showProbe);
  connect(&sheet_->view(), &SheetView::cardWanted, this, &MainWindow::showCard);
  connect(sheet_, &SheetPanel::unwrapWanted, this, &MainWindow::unwrapSculpt);
  connect(sheet_, &SheetPanel::pictureDropped, this,
          [this](const QString& picture) { side_->stage().maps().bring({picture}); });
  auto* right = new QWidget;
  right->setFixedWidth(286);
  auto* rightColumn = new QVBoxLayout(right);
  rightColumn->setContentsMargins(0, 0, 0, 0);
  rightColumn->setSpacing(0);
  auto* mixer = new Mixer(*session_);
  rightColumn->addWidget(mixer);
  rightColumn->addWidget(new PenLays(*session_));
  auto* strata = new Strata(*session_);
  connect(strata, &Strata::settingsWanted, this, [this] { side().show(SideColumn::Page::Layer); });
  // when all has its place: what is folded gives room, and is not asked again for it
  connect(
      strata, &Strata::listed, mixer, [mixer, strata] { mixer->makeRoom(strata->roomWanted()); },
      Qt::QueuedConnection);
  rightColumn->addWidget(strata, 1);
  middle->addWidget(right);
  column->addLayout(middle, 1);
  column->addWidget(buildMessageLine());
  column->addWidget(strip_);
  pages_->addWidget(work);
  setCentralWidget(pages_);
  saved_ = new QLabel;
  saved_->setProperty("quiet", true);
  saved_->setContentsMargins(0, 0, 12, 0);
  saved_->setMinimumHeight(26);
  saved_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  menuBar()->setCornerWidget(saved_);
  saved_->show();
}

// What the Prepare page asks for lies elsewhere.
void MainWindow::connectPrepare(Course& course) {
  PreparePage* page = &side_->stage().prepare();
  connect(page, &PreparePage::unmendedChanged, &course.thread(),
          [&thread = course.thread()](bool on) { thread.setUnmended(kPrepareStage, on); });
  connect(page, &PreparePage::placeWanted, this, &MainWindow::placeSculpt);
  connect(page, &PreparePage::pointsWanted, this, [this](float spacing) { refine(spacing); });
  connect(page, &PreparePage::unwrapWanted, this, &MainWindow::unwrapSculpt);
  connect(page, &PreparePage::partsWanted, this, [this] { side_->show(SideColumn::Page::Parts); });
  connect(page, &PreparePage::boardWanted, this, [this] { side_->show(SideColumn::Page::Board); });
}

// The pages of Finish call the strips around the easel.
void MainWindow::connectFinish() {
  FinishPages& finish = side_->stage().finish();
  const auto toggles = [](auto* strip) { return [strip] { strip->setVisible(!strip->isVisible()); }; };
  connect(&finish, &FinishPages::stepBackWanted, this, toggles(back_));
  connect(&finish.showing(), &ShowPage::camerasWanted, this, toggles(cameras_));
  connect(&finish.showing(), &ShowPage::variantsWanted, this, toggles(variants_));
  connect(back_, &StepBackStrip::eyeTold, &finish, &FinishPages::tellEye);
}

// What happened, and beside it the work that is going on in the background.
QWidget* MainWindow::buildMessageLine() {
  auto* line = new QWidget;
  line->setFixedHeight(26);
  auto* row = new QHBoxLayout(line);
  row->setContentsMargins(0, 0, 14, 0);
  message_ = new QLabel;
  message_->setObjectName("message");
  message_->setContentsMargins(14, 0, 14, 0);
  message_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  row->addWidget(message_, 1);
  offer_ = new QPushButton;
  offer_->setObjectName("offer");
  offer_->setFixedHeight(22);
  offer_->hide();
  connect(offer_, &QPushButton::clicked, this, [this] {
    const auto act = std::exchange(offered_, {});
    showMessage({}, false);
    if (act) act();
  });
  row->addWidget(offer_);
  row->addWidget(new BackgroundProgress(session_->background(), "background"));
  row->addWidget(new BackgroundProgress(session_->measuring(), "measuring"));
  row->addWidget(new BackgroundProgress(sculpting_, "sculpting"));
  row->addWidget(&easel_->valueBar());
  row->addWidget(&easel_->channelBar());
  return line;
}

void MainWindow::setSheetRoom(SheetRoom room) {
  const bool anew = sheet_->isHidden() && room == SheetRoom::Beside;
  // one of them is always there: who shows comes first
  if (room != SheetRoom::All) easel_->show();
  sheet_->setVisible(room != SheetRoom::None);
  if (room == SheetRoom::All) easel_->hide();
  if (anew) split_->setSizes({2 * split_->width() / 3, split_->width() / 3});
  room == SheetRoom::All ? sheet_->view().setFocus() : easel_->setFocus();
}

void MainWindow::showMessage(const QString& said, bool seriously) {
  said_ = said;
  offer_->hide();
  const QString text = said.isEmpty() ? easel_->hindrance() : said;
  if (text == message_->text()) return;
  message_->setStyleSheet(seriously ? "color: #e3c98f;" : "color: #e8e8e8;");
  message_->setText(text);
  message_->setToolTip(text);
}

void MainWindow::paste() {
  // with the slide in hand a photo is hung before the eye, else it goes onto the board
  if (session_->tools().tool() == Tool::Slide) {
    if (!side_->stage().photo().paste()) session_->say(tr("There is no picture to paste."));
    return;
  }
  if (!side_->board().paste()) return session_->say(tr("There is no picture to paste."));
  side_->show(SideColumn::Page::Board);
}

void MainWindow::showSaved() {
  if (!session_->isOpen()) return;
  const QString name = session_->title() + (session_->path().empty() ? QString() : QString(".juvenor"));
  saved_->setText(name + (session_->unsaved()        ? tr(" · not saved, all strokes kept")
                          : session_->path().empty() ? tr(" · never saved")
                                                     : tr(" · saved")));
  saved_->adjustSize();
  menuBar()->setCornerWidget(saved_);
  setWindowTitle(QString("%1%2 – Juvenor").arg(session_->unsaved() ? "• " : "", name));
}

void MainWindow::undo() {
  if (!session_->isOpen()) return;
  session_->settleStrokes();
  if (!session_->history().canUndo()) return session_->say(tr("There is nothing to undo."));
  session_->goTo(session_->history().current() - 1);
}

void MainWindow::redo() {
  if (!session_->isOpen()) return;
  session_->settleStrokes();
  if (!session_->history().canRedo()) return session_->say(tr("There is nothing to do again."));
  session_->goTo(session_->history().current() + 1);
}

void MainWindow::showCard(const QPoint& at) {
  if (!session_->isOpen()) return;
  QMenu card(this);
  auto* box = new QWidget;
  box->setFixedWidth(236);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(12, 8, 12, 10);
  Tools& tools = session_->tools();
  const auto add = [&](const QString& name, const ValueSlider::Scale& scale, float Brush::*member) {
    auto* s = new ValueSlider(name, scale);
    s->show(static_cast<double>(tools.brush().*member));
    connect(s, &ValueSlider::changed, s, [&tools, member](double v) {
      Brush b = tools.brush();
      b.*member = static_cast<float>(v);
      tools.setBrush(b);
    });
    column->addWidget(s);
  };
  const double d = static_cast<double>(session_->document().surface->bounds.diagonal());
  add(tr("Size"),
      {0.0005 * d, 0.4 * d, static_cast<double>(session_->document().placement.millimetres), "mm", true, 1},
      &Brush::radius);
  add(tr("Opacity"), {0, 1, 100, "%", false, 0}, &Brush::opacity);
  add(tr("Flow"), {0.001, 1, 100, "%", true, 1}, &Brush::flow);
  auto* wells = new QHBoxLayout;
  wells->setSpacing(2);
  for (const EncodedColor& c : session_->document().wells) {
    auto* b = new QPushButton;
    b->setFixedSize(19, 19);
    b->setAccessibleName(QString::fromStdString(toHex(c)));
    b->setStyleSheet(QString("background: %1; border-radius: 9px; padding: 0;").arg(toQColor(c).name()));
    connect(b, &QPushButton::clicked, &card, [&tools, c, &card] {
      tools.setColor(c);
      card.close();
    });
    wells->addWidget(b);
  }
  column->addLayout(wells);
  auto* action = new QWidgetAction(&card);
  action->setDefaultWidget(box);
  card.addAction(action);
  card.exec(at);
}

void MainWindow::showKeyMap() {
  KeyMap(this).exec();
}

void MainWindow::keyPressEvent(QKeyEvent* event) {
  Brush b = session_->tools().brush();
  if (event->key() == Qt::Key_Comma)
    b.radius /= 1.1f;
  else if (event->key() == Qt::Key_Period)
    b.radius *= 1.1f;
  else
    return QMainWindow::keyPressEvent(event);
  session_->tools().setBrush(b);
}

void MainWindow::keyReleaseEvent(QKeyEvent* event) {
  QMainWindow::keyReleaseEvent(event);
}

}  // namespace juvenor::app

#include "moc_main_window.cpp"
