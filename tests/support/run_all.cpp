#include "support/run_all.h"

#include <QRegularExpression>
#include <memory>
#include <optional>
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

// "2/3": every third class, from the second.
struct Share {
  int first = 0, of = 1;
};

std::optional<Share> shareOf(const QString& text) {
  const QRegularExpressionMatch match = QRegularExpression("^(\\d)/(\\d)$").match(text);
  if (!match.hasMatch()) return std::nullopt;
  const Share out{match.captured(1).toInt() - 1, match.captured(2).toInt()};
  if (out.first < 0 || out.first >= out.of) return std::nullopt;
  return out;
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
  const std::optional<Share> share = shareOf(wanted);
  int failures = 0, run = 0, place = 0;
  for (const auto& entry : entries()) {
    const bool shared = share && place++ % share->of == share->first;
    if (!wanted.isEmpty() && !shared && entry.name != wanted) continue;
    const std::unique_ptr<QObject> test(entry.make());
    failures += QTest::qExec(test.get(), arguments);
    ++run;
  }
  if (run == 0) qCritical("no test of that name");
  return run == 0 ? 1 : std::min(failures, 100);
}

}  // namespace juvenor::test
