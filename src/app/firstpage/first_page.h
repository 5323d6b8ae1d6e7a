// What stands there when nothing is open: open a file, a recent one, or one of the two demo sculpts as
// pictures.
#pragma once

#include <QWidget>

class QVBoxLayout;

namespace juvenor::app {

class FirstPage : public QWidget {
  Q_OBJECT
 public:
  FirstPage();
  void setRecent(const QStringList& files);

 signals:
  void openWanted();
  void fileWanted(const QString& file);
  void demoWanted(const QString& figure);

 private:
  QVBoxLayout* recent_;
};

}  // namespace juvenor::app
