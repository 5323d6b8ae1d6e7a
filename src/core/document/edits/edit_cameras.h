// Edits of cameras that are kept by name.
#pragma once

#include "core/document/document.h"

namespace juvenor {

/// No more are kept than one can tell apart in a row.
inline constexpr size_t kMostCameras = 64;

/// The camera with this number, or null; the same by its name.
const KeptCamera* cameraOf(const Document& document, uint32_t id);
const KeptCamera* cameraNamed(const Document& document, std::string_view name);

/// Keeps a look as a camera after those there are. An empty name gets a number; one that is taken is an
/// error.
Result<Document> withCamera(const Document& document, std::string name, const Look& look);
/// Puts another look in place of a kept one; its name stays.
Result<Document> withCameraReplaced(const Document& document, uint32_t id, const Look& look);
Result<Document> withCameraNamed(const Document& document, uint32_t id, std::string name);
Result<Document> withoutCamera(const Document& document, uint32_t id);
/// To a place in the row, counted without itself.
Result<Document> withCameraMoved(const Document& document, uint32_t id, size_t place);

}  // namespace juvenor
