// One visitor for every field of a document: history, journal and store walk fields with it and know neither
// channels nor masks.
#pragma once

#include "core/document/document.h"

namespace juvenor {

/// Which field of a document: of a layer by its id, or with kGuardId of the document itself. The numbers
/// stand in files.
struct FieldId {
  uint32_t layer = 0;
  int number = 0;

  auto operator<=>(const FieldId&) const = default;
};
inline constexpr uint32_t kGuardId = 0;
/// The number of a mask; channels have theirs in the table.
inline constexpr int kMaskNumber = 1;
/// The number of a document's doubt.
inline constexpr int kDoubtNumber = 32;

/// Planes of the field with a number, 0 when there is none.
constexpr int planesOfField(int number) {
  if (number == kMaskNumber || number == kDoubtNumber) return 1;
  for (const ChannelFacts& facts : kChannels)
    if (facts.field == number) return facts.planes();
  return 0;
}

/// Calls `visit(id, field)` for each field of a layer.
template <class Visit>
void eachField(const Layer& layer, Visit visit) {
  if (const ChannelFields* fields = layer.source->fields())
    eachChannel([&](auto c) { visit(FieldId{layer.id, factsOf(c()).field}, fields->get<c()>()); });
  if (layer.mask) visit(FieldId{layer.id, kMaskNumber}, *layer.mask);
}

/// What a layer of a checkpoint is told as changes of: itself in the document before, and when it was kept
/// only now the layer it was kept of. Null when there is neither.
inline LayerPointer groundOf(const Document& after, const Document* before, const Checkpoint& checkpoint,
                             size_t layer) {
  const LayerPointer known = before ? layerOrKept(*before, checkpoint.layers[layer]->id) : nullptr;
  return known ? known : layerOf(after, checkpoint.of[layer]);
}

/// Calls `visit(id, field, before)` for each field of a document that may differ from the one before, null
/// where there was none of that size.
template <class Visit>
void eachChangedField(const Document& after, const Document* before, Visit visit) {
  const auto compared = [&](const auto& old) {
    return [&, old](FieldId id, const auto& field) {
      using Field = std::decay_t<decltype(field)>;
      const Field* match = nullptr;
      if (old)
        eachField(*old, [&](FieldId oldId, const auto& oldField) {
          if constexpr (std::is_same_v<std::decay_t<decltype(oldField)>, Field>)
            if (oldId.number == id.number && oldField.size() == field.size()) match = &oldField;
        });
      visit(id, field, match);
    };
  };
  const auto own = [&](int number, std::optional<ScalarField> Document::*field) {
    const auto& now = after.*field;
    if (!now) return;
    const bool known = before && before->*field && (before->*field)->size() == now->size();
    visit(FieldId{kGuardId, number}, *now, known ? &*(before->*field) : nullptr);
  };
  own(kMaskNumber, &Document::guard);
  own(kDoubtNumber, &Document::doubt);
  const auto layer = [&](const LayerPointer& now, const LayerPointer& old) {
    if (old != now) eachField(*now, compared(old));
  };
  for (const LayerPointer& l : after.layers) layer(l, before ? layerOf(*before, l->id) : nullptr);
  for (const Checkpoint& c : after.checkpoints)
    for (size_t i = 0; i < c.layers.size(); ++i) layer(c.layers[i], groundOf(after, before, c, i));
}

}  // namespace juvenor
