// A stroke on a layer of a document, from pen down to pen up. The document is not changed; finish gives the
// next one.
#pragma once

#include "core/brush/stroke.h"
#include "core/document/document.h"

namespace juvenor {

struct StrokeSetting {
  Brush brush;
  const InkKind* ink = nullptr;
  EncodedColor color;
  uint32_t layer = 0;
  bool onMask = false;   ///< the layer's mask instead of its colour
  bool onGuard = false;  ///< the document's guard instead of any layer
  uint32_t activePart = kNone;
};

class PaintStroke {
 public:
  /// Refuses hidden, locked and computed layers in words for the artist.
  static Result<std::unique_ptr<PaintStroke>> begin(const Document& document, const StrokeSetting& setting,
                                                    Flood& flood);

  Stroke& stroke() { return *stroke_; }
  WorkingField& field() { return *field_; }
  const Document& before() const { return document_; }
  bool onGuard() const { return setting_.onGuard; }
  /// The layer as it looks at the last takeTouched, sharing the field in work; null while the guard is
  /// painted.
  LayerPointer layerNow() const;
  /// The document with the stroke on it. The stroke takes no more points afterwards.
  Result<Document> finish();

 private:
  PaintStroke(const Document& document, const StrokeSetting& setting)
      : document_(document), setting_(setting) {}

  Document document_;
  StrokeSetting setting_;
  std::unique_ptr<WorkingField> field_;
  std::unique_ptr<Stroke> stroke_;
};

}  // namespace juvenor
