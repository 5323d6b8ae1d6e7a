// Layers of a document as a layered picture in the layout of a tile, and back: what was changed there comes
// back as paint on the layers it came from, by what differs from what went out; what was not touched stays to
// the bit. What went out is kept beside the picture as NAME.sent.ora.
#pragma once

#include <filesystem>

#include "core/document/document.h"

namespace juvenor {

struct LayersToSend {
  std::vector<uint32_t> layers;  ///< by their ids; empty: all that bring colour and are seen
  int tile = 1001;
  int pixels = 4096;
  size_t uvSet = 0;
};

struct SentLayers {
  std::string picture;  ///< the bytes of the .ora file
  /// Layers whose way of blending the standard does not know, by name: they went out as they look.
  std::vector<std::string> asTheyLook;
};

/// Colours of each with its mask in its alpha; its opacity and strength stand beside it. The error names a
/// layer that is not there or brings no colour.
Result<SentLayers> sentLayers(const Document& document, const LayersToSend& wish,
                              const Progress& progress = {});

struct ReturnedLayers {
  Document document;
  std::vector<std::string> painted;  ///< layers that took what was changed, by name
  std::vector<std::string>
      added;  ///< new ones: what the picture has more, and changes of layers that cannot be painted
  std::vector<std::string> missing;  ///< went out and did not come back; they stay as they are
};

/// `picture`: the bytes that came back; `sent`: those that went out, or empty: then all of it becomes new
/// layers, of the tile and UV set that `wish` says.
Result<ReturnedLayers> withReturnedLayers(const Document& document, const std::string& picture,
                                          const std::string& sent, const LayersToSend& wish,
                                          const Progress& progress = {});

/// NAME.sent.ora beside NAME.ora.
std::filesystem::path sentBeside(const std::filesystem::path& file);
/// Writes what goes out, and beside it what it is compared with when it comes back; gives the layers that
/// went out as they look.
Result<std::vector<std::string>> sendLayers(const Document& document, const std::filesystem::path& file,
                                            const LayersToSend& wish, const Progress& progress = {});
/// Takes a file back, against what lies beside it.
Result<ReturnedLayers> takenBack(const Document& document, const std::filesystem::path& file,
                                 const LayersToSend& wish, const Progress& progress = {});

}  // namespace juvenor
