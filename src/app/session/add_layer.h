// A new layer of a kind, as the artist gets one by a click.
#pragma once

#include "app/session/session.h"

namespace juvenor::app {

/// A fresh layer of the kind becomes the active one, and what one needs for it is in hand. Whether its
/// settings are to be shown: a tone is set in the mixer, all others on their page.
bool addLayerOf(Session& session, const SourceKind& kind, Stratum stratum);

}  // namespace juvenor::app
