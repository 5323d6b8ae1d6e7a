#include "app/strata/strata_list.h"

#include "app/session/words.h"
#include "core/layers/nesting.h"

namespace juvenor::app {
namespace {

constexpr int kBandPadding = 12, kLeastBand = 56, kGap = 2;

bool matches(const Layer& layer, const QString& find) {
  return QString::fromStdString(layer.name).contains(find, Qt::CaseInsensitive) ||
         told(layer.source->kind().label).contains(find, Qt::CaseInsensitive) ||
         QString::fromStdString(layer.source->remark()).contains(find, Qt::CaseInsensitive);
}

bool isListed(const LayerStack& layers, size_t place, const QString& find) {
  if (!find.isEmpty()) return matches(*layers[place], find);
  return std::ranges::none_of(groupsAround(layers, place), [&](size_t g) { return layers[g]->folded; });
}

}  // namespace

int rowHeight(bool dense) {
  return dense ? 24 : 34;
}

const StrataRow* StrataList::at(const QPoint& position) const {
  for (const StrataRow& r : rows)
    if (r.rect.contains(position)) return &r;
  return nullptr;
}

const StrataRow* StrataList::of(uint32_t layer) const {
  for (const StrataRow& r : rows)
    if (r.layer == layer) return &r;
  return nullptr;
}

StrataList listed(const Document& document, const StrataListing& listing) {
  StrataList out;
  const LayerStack& layers = document.layers;
  const int high = rowHeight(listing.dense);
  int y = 0;
  for (int s = 2; s >= 0; --s) {
    StrataBand band{static_cast<Stratum>(s), {}};
    const int top = y;
    y += kBandPadding;
    for (size_t i = layers.size(); i-- > 0;) {
      if (layers[i]->stratum != band.stratum || !isListed(layers, i, listing.find)) continue;
      const int depth = listing.find.isEmpty() ? static_cast<int>(groupsAround(layers, i).size()) : 0;
      const int left = kStrataMargin + kStandsIn * std::min(depth, 6);
      out.rows.push_back({layers[i]->id, QRect(left, y, listing.width - left - 6, high), depth});
      y += high + kGap;
    }
    y = std::max(y + kBandPadding - kGap, top + kLeastBand);
    band.rect = QRect(0, top, listing.width, y - top);
    out.bands.push_back(band);
  }
  out.height = y;
  return out;
}

namespace {

// How many layers and groups of a place lie below one, those that are dragged not counted.
size_t countBelow(const Document& document, const std::vector<uint32_t>& dragged, const StackPlace& place,
                  size_t end) {
  size_t out = 0;
  for (size_t i = 0; i < end; ++i) {
    const Layer& layer = *document.layers[i];
    out += layer.stratum == place.stratum && layer.group == place.group &&
           std::ranges::find(dragged, layer.id) == dragged.end();
  }
  return out;
}

const StrataRow* rowAbove(const StrataList& list, const StrataBand& band, int y) {
  const StrataRow* out = nullptr;
  for (const StrataRow& r : list.rows)
    if (r.rect.center().y() < y && band.rect.contains(QPoint(1, r.rect.center().y()))) out = &r;
  return out;
}

}  // namespace

StrataDrop dropAt(const Document& document, const StrataList& list, const std::vector<uint32_t>& dragged,
                  const QPoint& position) {
  const int y = std::clamp(position.y(), 0, list.height - 1);
  const StrataBand* band = &list.bands.back();
  for (const StrataBand& b : list.bands)
    if (b.rect.contains(QPoint(1, y))) band = &b;
  StrataDrop out;
  out.place.stratum = band->stratum;
  const auto count = [&](size_t end) { out.place.above = countBelow(document, dragged, out.place, end); };
  const int width = band->rect.width() - 6;
  // the middle of a group's row: into it
  if (const StrataRow* on = list.at(position)) {
    const Layer& layer = *layerOf(document, on->layer);
    const int middle = std::abs(position.y() - on->rect.center().y());
    if (isGroup(layer) && middle < on->rect.height() / 4 &&
        std::ranges::find(dragged, layer.id) == dragged.end()) {
      out.place.group = layer.id;
      count(document.layers.size());
      out.line = on->rect;
      return out;
    }
  }
  const StrataRow* above = rowAbove(list, *band, y);
  if (!above) {
    count(document.layers.size());
    out.line = QRect(kStrataMargin, band->rect.top() + kBandPadding - 2, width - kStrataMargin, 2);
    return out;
  }
  size_t at = placeOf(document, above->layer);
  int left = above->rect.left();
  if (isGroup(*document.layers[at]) && !document.layers[at]->folded && firstOf(document.layers, at) < at) {
    // right under an open group's row: on top of what lies in it
    out.place.group = above->layer;
    left += kStandsIn;
  } else {
    // to the left of a group's last row: out of it
    while (document.layers[at]->group != 0 && position.x() < left &&
           firstOf(document.layers, placeOf(document, document.layers[at]->group)) ==
               firstOf(document.layers, at)) {
      at = placeOf(document, document.layers[at]->group);
      left -= kStandsIn;
    }
    out.place.group = document.layers[at]->group;
    at = firstOf(document.layers, at);
  }
  count(at);
  out.line = QRect(left, above->rect.bottom() + 1, width - left, 2);
  return out;
}

}  // namespace juvenor::app
