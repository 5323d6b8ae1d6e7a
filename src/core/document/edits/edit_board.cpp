#include <fmt/format.h>

#include <algorithm>

#include "core/document/edits/edits.h"

namespace juvenor {

Document withPicture(const Document& document, std::string name, PicturePointer data) {
  Document out = document;
  BoardPicture picture;
  picture.id = out.nextPicture++;
  picture.name = std::move(name);
  picture.fingerprint = data->fingerprint;
  picture.data = std::move(data);
  out.board.push_back(std::move(picture));
  return out;
}

Result<Document> withoutPicture(const Document& document, uint32_t id) {
  Document out = document;
  if (std::erase_if(out.board, [&](const BoardPicture& p) { return p.id == id; }) == 0)
    return Error{fmt::format("there is no picture {} on the board", id)};
  return out;
}

Result<Document> withPictureView(const Document& document, uint32_t id, float centerX, float centerY,
                                 float nearer) {
  Document out = document;
  const auto found = std::ranges::find(out.board, id, &BoardPicture::id);
  if (found == out.board.end()) return Error{fmt::format("there is no picture {} on the board", id)};
  found->nearer = std::clamp(nearer, 1.f, 64.f);
  found->centerX = std::clamp(centerX, 0.f, 1.f);
  found->centerY = std::clamp(centerY, 0.f, 1.f);
  return out;
}

Document withWells(const Document& document, std::vector<EncodedColor> wells) {
  Document out = document;
  out.wells = std::move(wells);
  return out;
}

}  // namespace juvenor
