// The stroke before, to be laid once more with whatever is in hand now.
#pragma once

#include "app/session/session.h"

namespace juvenor::app {

struct LastStroke {
  std::vector<PenPoint> points;
  Camera camera;
  ViewSize size;
  SheetPointer sheet = {};  ///< it was drawn on; null: on the easel
};

/// Lays it again where it lay, whatever the view is now; false when it could not be.
bool repeat(Session& session, const LastStroke& stroke, const BeforeSkin& before);

}  // namespace juvenor::app
