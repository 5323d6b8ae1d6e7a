// The stages of the course: what each is called and for, and what going to one changes. They guide, they
// never lock; whoever shows a stage follows the tools.
#pragma once

#include "app/session/session.h"

namespace juvenor::app {

/// As the course names them.
QStringList stageNames();
/// What one does at each, in a line.
QStringList stageTips();

/// The stage is the one at hand: its pages and tools come forward. For the zones a layer of them is chosen,
/// so that they can be dragged at once.
void goToStage(Session& session, int stage);
/// The same when the artist asked for it: a tool of the stage is taken in hand, and what comes next is said.
void enterStage(Session& session, int stage);

}  // namespace juvenor::app
