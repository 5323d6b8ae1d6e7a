#include <algorithm>

#include "core/brush/ink.h"

namespace juvenor {

namespace {

bool holdsBack(const ScalarChunk& guard) {
  return std::ranges::any_of(guard.plane[0], [](uint16_t g) { return g < 65535; });
}

uint16_t through(uint16_t before, uint16_t now, uint16_t guard) {
  const int64_t way = int64_t{now} - before;
  return static_cast<uint16_t>(before + (way * guard + (way < 0 ? -32767 : 32767)) / 65535);
}

}  // namespace

WorkingField::WorkingField(Any field, const ScalarField* guard, bool keepsCover)
    : guard_(guard), keepsCover_(keepsCover), field_(field), before_(std::move(field)) {
  std::visit(
      [&]<int P>(const Field<P>& f) {
        planes_ = P;
        pages_.resize(f.chunkCount());
        scratch_.resize(f.chunkCount());
        touched_.resize(f.chunkCount(), 0);
      },
      field_);
}

template <int P>
void WorkingField::open(Field<P>& field, size_t chunk, Page& page) {
  const auto& before = std::get<Field<P>>(before_);
  auto now = before.writable(chunk);
  std::shared_ptr<const Chunk<P>> old = before.chunk(chunk);
  if (!old) old = before.writable(chunk);
  for (int p = 0; p < P; ++p) {
    page.shown[p] = page.now[p] = now->plane[p].data();
    page.before[p] = old->plane[p].data();
  }
  kept_.push_back(old);
  if (guard_ && guard_->chunk(chunk) && holdsBack(*guard_->chunk(chunk)))
    page.guard = guard_->chunk(chunk)->plane[0].data();
  page.held = page.guard || keepsCover_;
  if (page.held) {
    auto free = std::make_shared<Chunk<P>>(*now);
    for (int p = 0; p < P; ++p) page.now[p] = free->plane[p].data();
    kept_.push_back(free);
  }
  field.setChunk(chunk, std::move(now));
}

const WorkingField::Page& WorkingField::page(uint32_t sample) {
  const size_t chunk = sample / kChunkSize;
  Page& page = pages_[chunk];
  touched_[chunk] = 1;
  if (!page.coverage) {
    std::visit([&](auto& field) { open(field, chunk, page); }, field_);
    scratch_[chunk] = std::make_unique<float[]>(kChunkSize * static_cast<size_t>(1 + planes_));
    page.coverage = scratch_[chunk].get();
    for (int p = 0; p < planes_; ++p) page.laid[p] = page.coverage + kChunkSize * static_cast<size_t>(p + 1);
  }
  return page;
}

uint16_t WorkingField::value(uint32_t sample, int plane) const {
  const size_t chunk = sample / kChunkSize;
  if (const Page& page = pages_[chunk]; page.coverage) {
    const size_t i = sample % kChunkSize;
    return page.held ? shown(page, i, plane) : page.now[plane][i];
  }
  return std::visit([&](const auto& field) { return field.at(sample)[static_cast<size_t>(plane)]; }, field_);
}

uint16_t WorkingField::shown(const Page& page, size_t i, int plane) const {
  const uint16_t value =
      page.guard ? through(page.before[plane][i], page.now[plane][i], page.guard[i]) : page.now[plane][i];
  if (!keepsCover_) return value;
  const int cover = planes() - 1;
  const uint32_t was = page.before[cover][i];
  const uint32_t is =
      page.guard ? through(page.before[cover][i], page.now[cover][i], page.guard[i]) : page.now[cover][i];
  if (is == was) return value;
  // where nothing is left of the colour it is what it was
  if (is == 0) return page.before[plane][i];
  return static_cast<uint16_t>(std::min(was, (value * was + is / 2) / is));
}

void WorkingField::letThrough(const Page& page) const {
  for (int p = 0; p < planes(); ++p)
    for (size_t i = 0; i < kChunkSize; ++i) page.shown[p][i] = shown(page, i, p);
}

std::vector<uint32_t> WorkingField::takeTouched() {
  std::vector<uint32_t> out;
  for (uint32_t i = 0; i < touched_.size(); ++i) {
    if (!touched_[i]) continue;
    out.push_back(i);
    if (pages_[i].held) letThrough(pages_[i]);
  }
  std::fill(touched_.begin(), touched_.end(), 0);
  return out;
}

}  // namespace juvenor
