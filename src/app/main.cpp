#include <QCommandLineParser>
#include <QTimer>

#include "app/style/style.h"
#include "app/window/application.h"
#include "app/window/main_window.h"

int main(int argc, char** argv) {
  juvenor::app::Application application(argc, argv);
  QApplication::setApplicationName("juvenor");
  QApplication::setOrganizationName("juvenor");
  QApplication::setApplicationVersion("0.1.0");
  QGuiApplication::setDesktopFileName("org.juvenor.Juvenor");
  juvenor::app::applyStyle(application);
  QCommandLineParser parser;
  parser.setApplicationDescription("Colours the skin of sculpted characters.");
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addOption({"demo", "Open a demo sculpt: ferryman or keeper.", "figure"});
  parser.addOption({"points", "Vertices of the demo sculpt.", "count"});
  parser.addOption(
      {"as-guessed", "Do not ask how a sculpt stands or how large it is: take what its file suggests."});
  parser.addOption({"replay", "Paint recorded pen strokes once the sculpt is open.", "file"});
  parser.addPositionalArgument("file", "A document or a sculpt to open.", "[file]");
  parser.process(application);

  juvenor::app::MainWindow window;
  window.setAsksHowItStands(!parser.isSet("as-guessed"));
  window.restorePlace();
  window.show();
  QTimer::singleShot(0, &window, [&] {
    if (window.offerRecovery()) {
      if (!parser.positionalArguments().isEmpty()) window.keepForLater(parser.positionalArguments().front());
      return;
    }
    if (!parser.positionalArguments().isEmpty()) {
      window.openFile(parser.positionalArguments().front());
    } else if (parser.isSet("demo")) {
      const auto figure = juvenor::demo::figureFromKey(parser.value("demo").toStdString());
      const size_t points = parser.value("points").toULongLong();
      if (figure) points ? window.openDemo(*figure, points) : window.openDemo(*figure);
    }
    if (parser.isSet("replay")) window.replayFile(parser.value("replay"));
  });
  return QApplication::exec();
}
