// Several pictures side by side with their names, for a client: all cameras, all checkpoints or variants of a
// work.
#pragma once

#include <filesystem>

#include "core/show/still_picture.h"

namespace juvenor {

/// A picture of a sheet: what is shown, from where.
struct ContactTile {
  std::string name;
  Document document;
  Look look;
};

struct ContactWish {
  ViewSize tile{640, 480};
  int columns = 0;  ///< 0: as many as make the sheet about as wide as a page lying down
  int samples = 16;
  EncodedColor ground{0.22f, 0.22f,
                      0.22f};  ///< between the pictures; names are light or dark, as it asks for
  std::filesystem::path font;  ///< of the names: labelFont()
};

struct ContactSheet {
  ViewSize size;
  std::vector<uint32_t> pixels;  ///< 0xffRRGGBB
};

/// All cameras of a document as they are, or the document from one look as each of its checkpoints or
/// variants.
Result<std::vector<ContactTile>> tilesOfCameras(const Document& document);
Result<std::vector<ContactTile>> tilesOfCheckpoints(const Document& document, const Look& look);
Result<std::vector<ContactTile>> tilesOfVariants(const Document& document, const Look& look);

/// Pictures of one document in a row share what is worked out for it.
Result<ContactSheet> contactSheet(std::span<const ContactTile> tiles, const ContactWish& wish,
                                  const Progress& progress = {});

/// The program's own font for names, beside it or where it is installed; empty: it is not there.
std::filesystem::path labelFont();

}  // namespace juvenor
