// The stages of the course: what each is called and for, and what going to one changes. They guide, they
// never lock; whoever shows a stage follows the tools.
#pragma once

#include "app/session/session.h"

namespace juvenor::app {

/// As the course names it.
QString stageName(int stage);
/// What one does there, in a line.
QString stageTip(int stage);
/// As files name it, and back; Base where a file says nothing that is known.
QString stageKey(int stage);
int stageFromKey(const QString& key);

/// The stage is the one at hand: its pages and tools come forward. For the zones a layer of them is chosen,
/// so that they can be dragged at once.
void goToStage(Session& session, int stage);
/// The same when the artist asked for it: a tool of the stage is taken in hand, and what comes next is said.
void enterStage(Session& session, int stage);

}  // namespace juvenor::app
