// A home of its own for every test program, from its first line: nobody's settings, journals, recipes,
// brushes and demos are touched, whatever a test does.
#pragma once

#include <QTemporaryDir>
#include <optional>

namespace juvenor::test {

/// Where the user's folders lie as long as this lives.
class Home {
 public:
  Home() {
    qputenv("HOME", folder_.path().toUtf8());
    for (const char* name : {"XDG_STATE_HOME", "XDG_CACHE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME"})
      qputenv(name, folder_.filePath(name).toUtf8());
  }

 private:
  const QTemporaryDir folder_;
};

/// A variable of the environment with another value as long as this lives.
class Variable {
 public:
  Variable(const char* name, const std::string& value)
      : name_(name), before_(qEnvironmentVariableIsSet(name) ? std::optional(qgetenv(name)) : std::nullopt) {
    qputenv(name, QByteArray::fromStdString(value));
  }
  ~Variable() { before_ ? qputenv(name_, *before_) : qunsetenv(name_); }
  Variable(const Variable&) = delete;
  Variable& operator=(const Variable&) = delete;

 private:
  const char* name_;
  std::optional<QByteArray> before_;
};

}  // namespace juvenor::test
