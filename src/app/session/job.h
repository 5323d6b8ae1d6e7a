// Work that takes a moment and whose result is wanted before anything else happens: it runs on a thread of
// its own while the window goes on answering, and when it takes longer a small dialog tells how far it is.
#pragma once

#include <QString>
#include <functional>
#include <optional>

#include "core/progress.h"

class QWidget;

namespace juvenor::app {

/// What the artist can do meanwhile.
enum class Meanwhile {
  Nothing,   ///< from the first moment: the work is about what he would change
  Painting,  ///< the work has a copy of its own; no dialog comes
};

/// Runs `work` and returns when it is done or was cancelled (`work` then gives cancelledError()).
void runJob(QWidget* parent, const QString& title, Meanwhile meanwhile,
            const std::function<void(const Progress&)>& work);

template <class T>
Result<T> runJobFor(QWidget* parent, const QString& title,
                    const std::function<Result<T>(const Progress&)>& work,
                    Meanwhile meanwhile = Meanwhile::Nothing) {
  std::optional<Result<T>> result;
  runJob(parent, title, meanwhile,
         [&](const Progress& progress) { result.emplace(caught([&] { return work(progress); })); });
  return std::move(*result);
}

}  // namespace juvenor::app
