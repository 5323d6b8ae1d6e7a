#include "app/style/style.h"
#include "app/window/application.h"
#include "support/home.h"
#include "support/run_all.h"

int main(int argc, char** argv) {
  const juvenor::test::Home home;
  juvenor::app::Application application(argc, argv);
  QApplication::setApplicationName("juvenor");
  QApplication::setOrganizationName("juvenor");
  juvenor::app::applyStyle(application);
  return juvenor::test::runAll(QApplication::arguments());
}
