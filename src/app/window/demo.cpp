// The demo documents. Coarse ones come with the program and open as any document does; the fine one is
// sculpted beside it, once, and kept in the user's cache. While nothing was painted it takes the coarse one's
// place.
#include <QApplication>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <QTimer>

#include "app/session/job.h"
#include "app/session/opening.h"
#include "app/window/main_window.h"

namespace juvenor::app {
namespace {

constexpr size_t kQuickPoints = 200'000;

size_t finePoints(demo::Figure figure) {
  return figure == demo::Figure::Ferryman ? 2'000'000 : 1'000'000;
}

QString titleOf(demo::Figure figure) {
  return figure == demo::Figure::Ferryman      ? MainWindow::tr("river-ferryman")
         : figure == demo::Figure::Keeper      ? MainWindow::tr("ferry-keeper")
         : figure == demo::Figure::OlderKeeper ? MainWindow::tr("ferry-keeper-older")
                                               : MainWindow::tr("keeper-by-photos");
}

QString fileOf(demo::Figure figure, size_t points) {
  // the number at the end is that of the generator; another one makes the file anew
  return QString("%1/%2-%3-12.juvenor")
      .arg(QStandardPaths::writableLocation(QStandardPaths::CacheLocation), titleOf(figure))
      .arg(points);
}

// The coarse document that came with the program; empty where it was built without.
QString shippedFile(demo::Figure figure) {
  const QDir program(QCoreApplication::applicationDirPath());
  const QString name = QString("%1.juvenor").arg(QString::fromUtf8(demo::figureKey(figure).data()));
  for (const char* folder : {"demo", "../share/juvenor/demo"})
    if (const QString file = program.filePath(QString("%1/%2").arg(QString::fromLatin1(folder), name));
        QFileInfo::exists(file))
      return QDir::cleanPath(file);
  return {};
}

Outcome makeDemo(demo::Figure figure, size_t points, const std::filesystem::path& file,
                 const Progress& progress) {
  std::error_code ec;
  std::filesystem::create_directories(file.parent_path(), ec);
  auto sculpt = demo::makeSculpt(figure, points, [&](float f) { return report(progress, 0.5f * f); });
  if (!sculpt) return sculpt.error();
  const auto shared = std::make_shared<const Sculpt>(std::move(*sculpt));
  auto surface = buildSurface(*shared, [&](float f) { return report(progress, 0.5f + 0.1f * f); });
  if (!surface) return surface.error();
  auto document =
      demo::dressed(figure, shared, *surface, [&](float f) { return report(progress, 0.6f + 0.2f * f); });
  if (document)
    document = demo::laidOut(figure, std::move(*document),
                             [&](float f) { return report(progress, 0.8f + 0.15f * f); });
  if (!document) return document.error();
  const History history(std::move(*document), "Demo, first layers");
  const std::vector<StepPointer> steps(history.steps().begin(), history.steps().end());
  auto store = saveAs(file, steps, steps.front()->id);
  if (!store) return store.error();
  return Done{};
}

}  // namespace

bool MainWindow::openDemo(demo::Figure figure) {
  return openDemo(figure, finePoints(figure), kQuickPoints);
}

bool MainWindow::openDemo(demo::Figure figure, size_t fine, size_t quick) {
  if (!mayLeave()) return false;
  const bool quickly = quick && !QFileInfo::exists(fileOf(figure, fine));
  QString file = fileOf(figure, quickly ? quick : fine);
  if (const QString shipped = quickly && quick == kQuickPoints ? shippedFile(figure) : QString();
      !shipped.isEmpty())
    file = shipped;
  if (!QFileInfo::exists(file)) {
    const auto made =
        runJobFor<Done>(this, tr("Sculpting the demo, once …"), [&](const Progress& p) -> Outcome {
          return makeDemo(figure, quickly ? quick : fine, file.toStdString(), p);
        });
    if (!made) {
      complain(made.error(), tr("The demo could not be made."));
      return false;
    }
  }
  if (!takeDocument(file, true, titleOf(figure))) return false;
  if (quickly) sculptFiner(figure, fine);
  return true;
}

void MainWindow::sculptFiner(demo::Figure figure, size_t points) {
  const QString file = fileOf(figure, points);
  coarseDemo_ = session_->history().steps().front()->id;
  const auto fine = std::make_shared<std::optional<Opened>>();
  session_->say(
      tr("You can paint at once; a finer one, of %L1 points, is being sculpted meanwhile.").arg(points));
  // the one that is at work already will do
  const QString name = tr("Finer %1, %L2 points").arg(titleOf(figure)).arg(points);
  if (sculpting_.running() && sculpting_.name() == name) return;
  sculpting_.start(
      name,
      [figure, points, file, fine](const Progress& p) -> Outcome {
        const auto path = std::filesystem::path(file.toStdString());
        if (const Outcome made = makeDemo(figure, points, path, [&](float f) { return report(p, 0.8f * f); });
            !made)
          return made;
        auto opened = openedAndPrepared(
            path, [&](float f) { return report(p, 0.8f + 0.2f * f); }, kNoBudget);
        if (!opened) return opened.error();
        *fine = std::move(*opened);
        return Done{};
      },
      [this, figure, fine](const Outcome& done) {
        if (!done && isCancelled(done.error())) return session_->say(tr("The coarse demo stays."));
        if (!done) {
          session_->say(
              tr("The finer demo could not be made: %1").arg(QString::fromStdString(done.error().message())),
              true);
          return;
        }
        takeFiner(std::make_shared<Opened>(std::move(**fine)), titleOf(figure));
      });
}

// In place of the coarse one, seen as that was seen, unless something was done to that.
void MainWindow::takeFiner(const std::shared_ptr<Opened>& fine, const QString& title) {
  // never under a hand, a dialog or a menu
  if (easel_->inUse() || QApplication::activeModalWidget() || QApplication::activePopupWidget()) {
    QTimer::singleShot(200, this, [this, fine, title] { takeFiner(fine, title); });
    return;
  }
  if (!session_->isOpen()) return;
  session_->settleStrokes();
  const History& history = session_->history();
  if (history.steps().front()->id != coarseDemo_ || history.steps().size() > 1) {
    session_->say(tr(
        "The finer demo is ready: File ▸ Demo sculpts opens it. What you have painted stays on this one."));
    return;
  }
  const Camera camera = easel_->viewing().camera;
  const Brush brush = session_->tools().brush();
  session_->take(History(std::move(fine->steps), fine->current), title);
  easel_->setCamera(camera);
  session_->tools().setBrush(brush);
  session_->say(tr("The finer demo is here: %L1 points.").arg(session_->document().surface->size()));
}

}  // namespace juvenor::app
