#include <algorithm>

#include "core/brush/ink.h"

namespace juvenor {

WorkingField::WorkingField(ColorField field)
    : isColor_(true),
      color_(field),
      colorBefore_(std::move(field)),
      pages_(color_.chunkCount()),
      coverage_(color_.chunkCount()),
      touched_(color_.chunkCount(), 0) {}

WorkingField::WorkingField(ScalarField field)
    : isColor_(false),
      scalar_(field),
      scalarBefore_(std::move(field)),
      pages_(scalar_.chunkCount()),
      coverage_(scalar_.chunkCount()),
      touched_(scalar_.chunkCount(), 0) {}

template <int P>
void WorkingField::open(Field<P>& field, const Field<P>& before, size_t chunk, Page& page) {
  auto now = before.writable(chunk);
  std::shared_ptr<const Chunk<P>> old = before.chunk(chunk);
  if (!old) old = before.writable(chunk);
  for (int p = 0; p < P; ++p) {
    page.now[p] = now->plane[p].data();
    page.before[p] = old->plane[p].data();
  }
  kept_.push_back(old);
  field.setChunk(chunk, std::move(now));
}

const WorkingField::Page& WorkingField::page(uint32_t sample) {
  const size_t chunk = sample / kChunkSize;
  Page& page = pages_[chunk];
  touched_[chunk] = 1;
  if (!page.coverage) {
    if (isColor_)
      open(color_, colorBefore_, chunk, page);
    else
      open(scalar_, scalarBefore_, chunk, page);
    coverage_[chunk] = std::make_unique<float[]>(kChunkSize);
    page.coverage = coverage_[chunk].get();
  }
  return page;
}

uint16_t WorkingField::value(uint32_t sample, int plane) const {
  const size_t chunk = sample / kChunkSize;
  if (pages_[chunk].coverage) return pages_[chunk].now[plane][sample % kChunkSize];
  return isColor_ ? color_.at(sample)[plane] : scalar_.at(sample)[0];
}

std::vector<uint32_t> WorkingField::takeTouched() {
  std::vector<uint32_t> out;
  for (uint32_t i = 0; i < touched_.size(); ++i)
    if (touched_[i]) out.push_back(i);
  std::fill(touched_.begin(), touched_.end(), 0);
  return out;
}

}  // namespace juvenor
