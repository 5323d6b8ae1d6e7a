// All keys on one page.
#pragma once

#include <QDialog>

namespace juvenor::app {

class KeyMap : public QDialog {
 public:
  explicit KeyMap(QWidget* parent);
};

}  // namespace juvenor::app
