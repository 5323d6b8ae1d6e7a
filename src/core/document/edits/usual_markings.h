// The markings one begins with, sized by the head and placed by its landmarks where there are any.
#pragma once

#include "core/document/document.h"
#include "core/layers/sources/markings.h"

namespace juvenor {

/// Freckles where the sun reaches, more of them over nose and cheeks; for blend mode Melanin.
Speckle usualFreckles(const Document& document);
/// Blood that comes and goes in clouds; for blend mode Blood.
Mottle usualMottling(const Document& document);
/// Vessels at the temples, or without landmarks none yet: roots are placed on the skin.
Veins usualVeins(const Document& document);
/// Over cheeks, nose and ears, or without landmarks nothing yet: a mask for blend mode Blood.
ScalarField usualBlush(const Document& document);

}  // namespace juvenor
