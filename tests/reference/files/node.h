// Node and the packages the tests ask (run-tests installs them).
#pragma once

#include <QtTest/QtTest>

#include <QByteArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <filesystem>

namespace juvenor::test {

inline QString nodeModules() {
  const QString folder = qEnvironmentVariable("JUVENOR_NODE_MODULES");
  return folder.isEmpty() ? QStringLiteral("build/node/node_modules") : folder;
}

/// What a script prints; what it complains of becomes a warning.
inline QByteArray node(const QString& script, const QStringList& arguments) {
  QProcess process;
  auto environment = QProcessEnvironment::systemEnvironment();
  environment.insert("NODE_PATH", nodeModules());
  process.setProcessEnvironment(environment);
  process.start("node", QStringList{"-e", script} + arguments);
  process.waitForFinished(120'000);
  const QByteArray problems = process.readAllStandardError();
  if (!problems.isEmpty()) qWarning("%s", problems.constData());
  return process.readAllStandardOutput();
}

/// What the official glTF validator says of a file.
inline QJsonObject validated(const std::filesystem::path& file) {
  const QByteArray out = node(
      "const v=require('gltf-validator'),fs=require('fs');"
      "v.validateBytes(new Uint8Array(fs.readFileSync(process.argv[1])),{maxIssues:50})"
      ".then(r=>console.log(JSON.stringify(r.issues)));",
      {QString::fromStdString(file.string())});
  return QJsonDocument::fromJson(out).object();
}

}  // namespace juvenor::test
