#include "support/run_all.h"

#include <memory>
#include <vector>

namespace juvenor::test {
namespace {

struct Entry {
  QString name;
  MakeTest make;
};

std::vector<Entry>& entries() {
  static std::vector<Entry> all;
  return all;
}

}  // namespace

void registerTest(const char* name, MakeTest make) {
  entries().push_back({name, make});
}

int runAll(QStringList arguments) {
  const QString program = arguments.takeFirst();
  QString wanted;
  if (!arguments.isEmpty() && !arguments.front().startsWith('-')) wanted = arguments.takeFirst();
  arguments.prepend(program);
  int failures = 0, run = 0;
  for (const auto& entry : entries()) {
    if (!wanted.isEmpty() && entry.name != wanted) continue;
    const std::unique_ptr<QObject> test(entry.make());
    failures += QTest::qExec(test.get(), arguments);
    ++run;
  }
  if (run == 0) qCritical("no test of that name");
  return run == 0 ? 1 : std::min(failures, 100);
}

}  // namespace juvenor::test
