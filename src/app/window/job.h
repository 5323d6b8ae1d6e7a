// Work that takes a while: runs on a thread of its own under a small dialog with progress and Cancel, while
// the window goes on answering.
#pragma once

#include <QString>
#include <functional>
#include <optional>

#include "core/progress.h"

class QWidget;

namespace juvenor::app {

/// Runs `work` and returns when it is done or was cancelled (`work` then gives cancelledError()).
void runJob(QWidget* parent, const QString& title, const std::function<void(const Progress&)>& work);

template <class T>
Result<T> runJobFor(QWidget* parent, const QString& title,
                    const std::function<Result<T>(const Progress&)>& work) {
  std::optional<Result<T>> result;
  runJob(parent, title, [&](const Progress& progress) { result.emplace(work(progress)); });
  return std::move(*result);
}

}  // namespace juvenor::app
