// A stroke on a layer of a document, from pen down to pen up. The document is not changed; finish gives the
// next one.
#pragma once

#include "core/brush/paints/slide.h"
#include "core/brush/stroke.h"
#include "core/document/document.h"

namespace juvenor {

struct StrokeSetting {
  Brush brush;
  const InkKind* ink = nullptr;
  ChannelValues paint = EncodedColor{};  ///< what is not in it is not touched by any ink
  uint32_t layer = 0;
  bool onMask = false;   ///< the layer's mask instead of its channels
  bool onGuard = false;  ///< the document's guard instead of any layer
  uint32_t activePart = kNone;
  /// What the dabs draw from; unset: it follows from how many strokes came before, so that a stroke done
  /// again is the same.
  std::optional<uint64_t> seed;
  std::shared_ptr<const Stencil> stencil = {};  ///< held between eye and sculpt; null: none
  std::shared_ptr<const SlidePaint> slide =
      {};  ///< what the pen takes in place of its own values; null: none
  /// The skin as it looks, whose tone what a tip brings of its own takes on; null: colours stay as they are.
  std::shared_ptr<const ColorField> adaptsTo = {};
  std::optional<CutPlane> cutAway = {};  ///< see Stroke::Setting
  uint32_t checkpoint = 0;               ///< for the ink that restores: from which one; 0: the last
};
/// Whether what it lays comes from its slide: taking off, bringing back and masks are the pen's own.
bool goesThroughSlide(const StrokeSetting& setting);

class PaintStroke {
 public:
  /// Refuses hidden, locked and computed layers in words for the artist.
  static Result<std::unique_ptr<PaintStroke>> begin(const Document& document, const StrokeSetting& setting,
                                                    Flood& flood);

  Stroke& stroke() { return *stroke_; }
  const Document& before() const { return document_; }
  bool onGuard() const { return setting_.onGuard; }
  /// The channels it works on; none while a mask is painted.
  ChannelSet channels() const;
  /// The mask or guard in work as it looks at the last takeTouched.
  const ScalarField& mask() const { return work_.front().field->as<1>(); }
  /// Chunks touched since the last call, ascending, whatever their channel. Brings the fields up to date.
  std::vector<uint32_t> takeTouched();
  /// The layer as it looks at the last takeTouched, sharing the fields in work; null while the guard is
  /// painted.
  LayerPointer layerNow() const;
  /// The document with the stroke on it. The stroke takes no more points afterwards.
  Result<Document> finish();

 private:
  PaintStroke(const Document& document, const StrokeSetting& setting)
      : document_(document), setting_(setting) {}
  void work(std::optional<Channel> channel, WorkingField::Any field, const ScalarField* guard,
            std::shared_ptr<const WorkingField::Any> kept = {});
  /// Puts the fields of the layer in work, with what was kept of them for an ink that brings back.
  Outcome workOnLayer();
  Outcome workOnMask();
  /// The fields of the layer with those in work among them.
  ChannelFields fieldsNow() const;

  Document document_;
  StrokeSetting setting_;
  std::vector<InkAtWork> work_;  ///< in the order of the channels
  std::unique_ptr<Stroke> stroke_;
};

}  // namespace juvenor
