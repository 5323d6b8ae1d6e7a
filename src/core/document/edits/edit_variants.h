// Edits of versions of one skin.
#pragma once

#include "core/document/document.h"

namespace juvenor {

inline constexpr size_t kMostVariants = 32;

/// The variant with this number, or null; the same by its name.
const Variant* variantOf(const Document& document, uint32_t id);
const Variant* variantNamed(const Document& document, std::string_view name);

/// Keeps which layers show, and how strongly, as a variant after those there are. An empty name gets a
/// number; one that is taken is an error.
Result<Document> withVariant(const Document& document, std::string name);
/// What shows now in place of what a variant said; its name stays.
Result<Document> withVariantReplaced(const Document& document, uint32_t id);
Result<Document> withVariantNamed(const Document& document, uint32_t id, std::string name);
Result<Document> withoutVariant(const Document& document, uint32_t id);

/// Layers show as a variant says; those it does not know stay.
Result<Document> asVariant(const Document& document, uint32_t id);
/// Whether they show so now.
bool showsVariant(const Document& document, const Variant& variant);

}  // namespace juvenor
