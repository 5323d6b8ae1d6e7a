#include "core/document/edits/edit_cameras.h"

#include "core/document/edits/named_in_row.h"

namespace juvenor {
namespace {

Error noSuchCamera() {
  return {"that camera is not there any more"};
}

// What a look says of the work's stage and of pictures that are read already is not the camera's.
Look lookToKeep(Look look) {
  look.stage.clear();
  look.light.environment = nullptr;
  look.camera = uncut(look.camera);
  return look;
}

}  // namespace

const KeptCamera* cameraOf(const Document& document, uint32_t id) {
  return inRow(document.cameras, id);
}

const KeptCamera* cameraNamed(const Document& document, std::string_view name) {
  return inRow(document.cameras, name);
}

Result<Document> withCamera(const Document& document, std::string name, const Look& look) {
  if (document.cameras.size() >= kMostCameras)
    return Error{fmt::format("there are {} cameras already; no more are kept", kMostCameras)};
  auto free = freeName(document.cameras, std::move(name), "Camera");
  if (!free) return free.error();
  Document out = document;
  out.cameras.push_back({out.nextCamera++, std::move(*free), lookToKeep(look)});
  return out;
}

Result<Document> withCameraReplaced(const Document& document, uint32_t id, const Look& look) {
  Document out = document;
  const auto at = std::ranges::find(out.cameras, id, &KeptCamera::id);
  if (at == out.cameras.end()) return noSuchCamera();
  at->look = lookToKeep(look);
  return out;
}

Result<Document> withCameraNamed(const Document& document, uint32_t id, std::string name) {
  auto free = freeName(document.cameras, std::move(name), "Camera", id);
  if (!free) return free.error();
  Document out = document;
  const auto at = std::ranges::find(out.cameras, id, &KeptCamera::id);
  if (at == out.cameras.end()) return noSuchCamera();
  at->name = std::move(*free);
  return out;
}

Result<Document> withoutCamera(const Document& document, uint32_t id) {
  Document out = document;
  if (std::erase_if(out.cameras, [&](const KeptCamera& c) { return c.id == id; }) == 0) return noSuchCamera();
  return out;
}

Result<Document> withCameraMoved(const Document& document, uint32_t id, size_t place) {
  Document out = document;
  if (!moveInRow(out.cameras, id, place)) return noSuchCamera();
  return out;
}

}  // namespace juvenor
