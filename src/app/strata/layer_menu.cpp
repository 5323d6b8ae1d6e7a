// What one may do with layers, at their rows.
#include <QMenu>

#include "app/strata/layer_acts.h"
#include "app/strata/strata.h"

namespace juvenor::app {

namespace {

void fill(QMenu& menu, const std::vector<LayerAct>& acts) {
  int section = -1;
  for (const LayerAct& act : acts) {
    if (std::exchange(section, act.section) != act.section && !menu.isEmpty()) menu.addSeparator();
    if (!act.more.empty()) {
      QMenu* inside = menu.addMenu(act.label);
      inside->setEnabled(act.may);
      fill(*inside, act.more);
      continue;
    }
    QAction* a = menu.addAction(act.label, &menu, act.run);
    a->setObjectName(act.key);
    a->setCheckable(act.checked.has_value());
    if (act.checked) a->setChecked(*act.checked);
    a->setEnabled(act.may);
    if (!act.shortcut.isEmpty()) a->setShortcut(act.shortcut);
  }
}

}  // namespace

void Strata::menu(uint32_t id, const QPoint& at) {
  session_.settleStrokes();
  if (!layerOf(session_.document(), id)) return;
  const auto chosen = session_.chosenLayers();
  // what one points at is meant, alone unless it is one of several
  if (std::ranges::find(chosen, id) == chosen.end()) session_.chooseLayers({id});
  QMenu menu;
  fill(menu, layerActs(session_));
  menu.exec(at);
}

}  // namespace juvenor::app
