// Every test class registers itself; the program of a folder runs them all, or those named on the command
// line.
#pragma once

#include <QtTest/QtTest>

namespace juvenor::test {

using MakeTest = QObject* (*)();
void registerTest(const char* name, MakeTest make);

/// Runs the registered tests; the first argument behind the program may name one class, or a share of all
/// ("1/2"); the rest goes to Qt Test.
int runAll(QStringList arguments);

template <class Test>
struct Register {
  explicit Register(const char* name) {
    registerTest(name, []() -> QObject* { return new Test; });
  }
};

}  // namespace juvenor::test

/// Below the class, before the moc file is included.
#define JUVENOR_TEST(Class) static const juvenor::test::Register<Class> registered##Class(#Class);
