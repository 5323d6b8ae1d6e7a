// Keys for buttons that act at once: a button's own shortcut only clicks after a tenth of a second of looking
// pressed, which a pen that follows the key would outrun.
#pragma once

#include <QAbstractButton>
#include <QShortcut>

namespace juvenor::app {

inline void bindKey(QAbstractButton* button, const QString& key) {
  if (key.isEmpty()) return;
  auto* shortcut = new QShortcut(QKeySequence(key), button);
  QObject::connect(shortcut, &QShortcut::activated, button, &QAbstractButton::click);
}

}  // namespace juvenor::app
