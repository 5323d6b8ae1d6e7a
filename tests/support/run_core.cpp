#include <QCoreApplication>

#include "support/home.h"
#include "support/run_all.h"

// OpenImageIO 2.4 forgets some thirty bytes of its own message whenever a picture cannot be opened.
extern "C" const char* __lsan_default_suppressions() {
  return "leak:libOpenImageIO\n";
}

int main(int argc, char** argv) {
  const juvenor::test::Home home;
  const QCoreApplication application(argc, argv);
  return juvenor::test::runAll(QCoreApplication::arguments());
}
