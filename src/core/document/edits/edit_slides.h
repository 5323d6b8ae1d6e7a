// Edits of slides and what is thrown by them.
#pragma once

#include "core/document/document.h"
#include "core/layers/sources/thrown.h"

namespace juvenor {

/// The slide with this number, or null.
const Slide* slideOf(const Document& document, uint32_t id);

/// A slide as a view shows it: the picture whole in its middle.
Slide freshSlide(std::string name, PicturePointer picture, const Camera& camera);

/// Keeps a slide as it is placed. With number 0 it is a new one and gets the document's next; else what was
/// thrown by it follows. An error when there is none of that number, or it has no picture.
Result<Document> withSlide(const Document& document, Slide slide);
/// Takes a slide away; what was thrown by it stays.
Result<Document> withoutSlide(const Document& document, uint32_t id);

/// Throws a slide: a new layer over the active one, or one slide more on a layer of thrown slides (`onto`).
Result<Document> withThrow(const Document& document, uint32_t slide, std::optional<uint32_t> onto = {});
/// Other settings of a layer of thrown slides; its slides stay.
Result<Document> withThrowSet(const Document& document, uint32_t layer, const Throw& setting);

/// Finds the camera the slide's photo was taken with from its pins, and stands it there; its pins stay as
/// they are but bend nothing that the camera explains. `missing` receives how far pins are off, in pixels of
/// the photo.
Result<Slide> withCameraSolved(const Slide& slide, float* missing = nullptr);

}  // namespace juvenor
