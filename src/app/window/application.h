// The program's event loop, with a net below it: an exception that nobody met, such as memory that does not
// suffice for an edit, ends what was being done and is told; the program goes on.
#pragma once

#include <QApplication>

namespace juvenor::app {

class Application : public QApplication {
  Q_OBJECT
 public:
  using QApplication::QApplication;
  bool notify(QObject* receiver, QEvent* event) override;

 signals:
  /// In words for the artist.
  void failed(const QString& why);
};

}  // namespace juvenor::app
