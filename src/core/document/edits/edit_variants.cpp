#include "core/document/edits/edit_variants.h"

#include "core/document/edits/named_in_row.h"

namespace juvenor {
namespace {

Error noSuchVariant() {
  return {"that variant is not there any more"};
}

std::vector<Variant::Shown> shownNow(const Document& document) {
  std::vector<Variant::Shown> out;
  for (const LayerPointer& l : document.layers) out.push_back({l->id, l->visible, l->opacity});
  return out;
}

// Calls `visit(row, shown)` for each layer there is that a variant knows.
template <class Visit>
void eachShown(const Document& document, const Variant& variant, Visit visit) {
  for (const Variant::Shown& shown : variant.layers)
    if (const size_t row = placeOf(document, shown.layer); row < document.layers.size()) visit(row, shown);
}

}  // namespace

const Variant* variantOf(const Document& document, uint32_t id) {
  return inRow(document.variants, id);
}

const Variant* variantNamed(const Document& document, std::string_view name) {
  return inRow(document.variants, name);
}

Result<Document> withVariant(const Document& document, std::string name) {
  if (document.layers.empty()) return Error{"There is no layer yet that could show or not."};
  if (document.variants.size() >= kMostVariants)
    return Error{fmt::format("there are {} variants already; no more are kept", kMostVariants)};
  auto free = freeName(document.variants, std::move(name), "Variant");
  if (!free) return free.error();
  Document out = document;
  out.variants.push_back({out.nextVariant++, std::move(*free), shownNow(document)});
  return out;
}

Result<Document> withVariantReplaced(const Document& document, uint32_t id) {
  Document out = document;
  const auto at = std::ranges::find(out.variants, id, &Variant::id);
  if (at == out.variants.end()) return noSuchVariant();
  at->layers = shownNow(document);
  return out;
}

Result<Document> withVariantNamed(const Document& document, uint32_t id, std::string name) {
  auto free = freeName(document.variants, std::move(name), "Variant", id);
  if (!free) return free.error();
  Document out = document;
  const auto at = std::ranges::find(out.variants, id, &Variant::id);
  if (at == out.variants.end()) return noSuchVariant();
  at->name = std::move(*free);
  return out;
}

Result<Document> withoutVariant(const Document& document, uint32_t id) {
  Document out = document;
  if (std::erase_if(out.variants, [&](const Variant& v) { return v.id == id; }) == 0) return noSuchVariant();
  return out;
}

Result<Document> asVariant(const Document& document, uint32_t id) {
  const Variant* variant = variantOf(document, id);
  if (!variant) return noSuchVariant();
  Document out = document;
  eachShown(document, *variant, [&](size_t row, const Variant::Shown& shown) {
    const Layer& was = *document.layers[row];
    if (was.visible == shown.visible && was.opacity == shown.opacity) return;
    Layer layer = was;
    layer.visible = shown.visible;
    layer.opacity = shown.opacity;
    out.layers[row] = std::make_shared<Layer>(std::move(layer));
  });
  return out;
}

bool showsVariant(const Document& document, const Variant& variant) {
  bool same = true;
  eachShown(document, variant, [&](size_t row, const Variant::Shown& shown) {
    const Layer& is = *document.layers[row];
    same = same && is.visible == shown.visible && is.opacity == shown.opacity;
  });
  return same;
}

}  // namespace juvenor
