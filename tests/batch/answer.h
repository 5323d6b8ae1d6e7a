// juvenor-batch called as a person would, and what it said.
#pragma once

#include <QProcess>
#include <QtTest>
#include <fstream>

#include "core/document/store/store.h"

namespace juvenor::test {

struct Answer {
  int code = -1;
  QString out, problem;
};

inline Answer batch(const QStringList& arguments) {
  QProcess process;
  process.start(qEnvironmentVariable("JUVENOR_BATCH"), arguments);
  if (!process.waitForFinished(300'000)) return {};
  return {process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -2,
          process.readAllStandardOutput(), process.readAllStandardError()};
}

inline QString text(const std::filesystem::path& path) {
  return QString::fromStdString(path.string());
}

inline void write(const std::filesystem::path& path, const QByteArray& what) {
  std::ofstream(path) << what.toStdString();
}

inline Document documentIn(const std::filesystem::path& file) {
  auto opened = Store::open(file, true)->read();
  return opened->steps[opened->current]->document;
}

}  // namespace juvenor::test
