#include <QCoreApplication>

#include "support/home.h"
#include "support/run_all.h"

// OpenImageIO 2.4 forgets some thirty bytes of its own message whenever a picture cannot be opened,
// assimp 5.2 what a broken STL file made it begin with.
extern "C" const char* __lsan_default_suppressions() {
  return "leak:libOpenImageIO\nleak:libassimp\n";
}

int main(int argc, char** argv) {
  const juvenor::test::Home home;
  const QCoreApplication application(argc, argv);
  return juvenor::test::runAll(QCoreApplication::arguments());
}
