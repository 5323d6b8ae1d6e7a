// Tests of the window run in folders of their own, so that nobody's settings, journals and demos are touched.
#include <QTemporaryDir>

#include "app/style/style.h"
#include "app/window/application.h"
#include "support/run_all.h"

int main(int argc, char** argv) {
  const QTemporaryDir home;
  for (const char* name : {"XDG_STATE_HOME", "XDG_CACHE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME"})
    qputenv(name, home.filePath(name).toUtf8());
  juvenor::app::Application application(argc, argv);
  QApplication::setApplicationName("juvenor");
  QApplication::setOrganizationName("juvenor");
  juvenor::app::applyStyle(application);
  return juvenor::test::runAll(QApplication::arguments());
}
