// Work that goes on beside the painting: what it is, how far it is, and a way to stop it.
#pragma once

#include <QWidget>

#include "app/session/background.h"

namespace juvenor::app {

/// Shown while `background` runs. The bar is named `name`, its button "cancel `name`".
class BackgroundProgress : public QWidget {
  Q_OBJECT
 public:
  BackgroundProgress(Background& background, const QString& name);
};

}  // namespace juvenor::app
