// What one may do with the layers that are chosen: the menu at the rows and the menu bar read the same list.
#pragma once

#include <QKeySequence>
#include <QString>
#include <functional>
#include <optional>
#include <vector>

#include "app/session/session.h"

namespace juvenor::app {

struct LayerAct {
  const char* key;  ///< for tests
  QString label;
  std::function<void()> run;
  int section = 0;  ///< a line between those of different ones
  bool may = true;
  std::optional<bool> checked = {};  ///< of what is on or off
  QKeySequence shortcut = {};
  std::vector<LayerAct> more = {};  ///< a menu of its own in place of an act
};

/// For what is chosen now; empty when nothing is open or there is no layer.
std::vector<LayerAct> layerActs(Session& session);

}  // namespace juvenor::app
