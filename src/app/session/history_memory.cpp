#include "app/session/history_memory.h"

#include <QSettings>
#include <algorithm>

#include "core/document/history.h"

namespace juvenor::app {
namespace {

constexpr const char* kKey = "history/memory";
constexpr int kUsual = 25;  // as History takes by itself

}  // namespace

int historyShare() {
  const int said = QSettings().value(kKey, kUsual).toInt();
  return std::clamp(said, 1, 90);
}

void setHistoryShare(int percent) {
  QSettings().setValue(kKey, percent);
}

size_t historyBudget(int percent) {
  return History::usualBudget() / kUsual * static_cast<size_t>(percent);
}

}  // namespace juvenor::app
