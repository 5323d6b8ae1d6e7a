// The boxes and pages about the sculpt, in one picture.
#pragma once

#include "app/driven_window.h"

namespace juvenor::screens {

/// How it stands, added points, export, carrying over, parts and maps; the window shows a demo's document.
void showDialogs(test::DrivenWindow& w, const QString& file);

}  // namespace juvenor::screens
