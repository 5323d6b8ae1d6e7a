#include <QCoreApplication>

#include "support/run_all.h"

int main(int argc, char** argv) {
  const QCoreApplication application(argc, argv);
  return juvenor::test::runAll(QCoreApplication::arguments());
}
