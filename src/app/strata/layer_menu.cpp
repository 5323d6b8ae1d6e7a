// What one may do with layers, at their rows.
#include <QMenu>

#include "app/strata/layer_acts.h"
#include "app/strata/strata.h"

namespace juvenor::app {

void Strata::menu(uint32_t id, const QPoint& at) {
  session_.settleStrokes();
  if (!layerOf(session_.document(), id)) return;
  const auto chosen = session_.chosenLayers();
  // what one points at is meant, alone unless it is one of several
  if (std::ranges::find(chosen, id) == chosen.end()) session_.chooseLayers({id});
  QMenu menu;
  int section = -1;
  for (const LayerAct& act : layerActs(session_)) {
    if (std::exchange(section, act.section) != act.section && !menu.isEmpty()) menu.addSeparator();
    QAction* a = menu.addAction(act.label, this, act.run);
    a->setObjectName(act.key);
    a->setCheckable(act.checked.has_value());
    if (act.checked) a->setChecked(*act.checked);
    a->setEnabled(act.may);
    if (!act.shortcut.isEmpty()) a->setShortcut(act.shortcut);
  }
  menu.exec(at);
}

}  // namespace juvenor::app
