#include "core/surface/cut_out.h"

#include <algorithm>

#include "core/parallel.h"

namespace juvenor {
namespace {

// The number in the cut of each chunk of the whole; kNone: it is not in it.
std::vector<uint32_t> numbersOfChunks(size_t count, std::span<const uint32_t> chunks) {
  std::vector<uint32_t> out(count, kNone);
  for (uint32_t i = 0; i < chunks.size(); ++i) out[chunks[i]] = i;
  return out;
}

uint32_t cutSample(std::span<const uint32_t> numbers, uint32_t sample) {
  const uint32_t chunk = numbers[sample / kChunkSize];
  return chunk == kNone ? kNone : static_cast<uint32_t>(chunk * kChunkSize + sample % kChunkSize);
}

void addNeighbors(const Surface& whole, const CutOut& cut, std::span<const uint32_t> numbers, Surface& out) {
  out.neighborStart.reserve(out.size() + 1);
  out.neighborStart.push_back(0);
  for (size_t s = 0; s < out.size(); ++s) {
    for (const uint32_t n : whole.neighborsOf(cut.wholeSample(s)))
      if (const uint32_t here = cutSample(numbers, n); here != kNone) out.neighbors.push_back(here);
    out.neighborStart.push_back(static_cast<uint32_t>(out.neighbors.size()));
  }
}

// In the order they have, whatever the number of cores.
void addTriangles(const Surface& whole, std::span<const uint32_t> numbers, Surface& out) {
  constexpr size_t kStretch = 65536;
  std::vector<std::vector<uint32_t>> found((whole.triangles.size() + kStretch - 1) / kStretch);
  parallel(
      found.size(),
      [&](size_t k) {
        for (size_t t = k * kStretch; t < std::min(whole.triangles.size(), (k + 1) * kStretch); ++t)
          if (std::ranges::all_of(whole.triangles[t],
                                  [&](uint32_t s) { return numbers[s / kChunkSize] != kNone; }))
            found[k].push_back(static_cast<uint32_t>(t));
      },
      1);
  for (const auto& stretch : found)
    for (const uint32_t t : stretch) {
      Triangle corners = whole.triangles[t];
      for (uint32_t& s : corners) s = cutSample(numbers, s);
      out.triangles.push_back(corners);
      out.triangleParts.push_back(whole.triangleParts[t]);
    }
}

}  // namespace

CutOut cutOut(const Surface& whole, std::vector<uint32_t> chunks) {
  const std::vector<uint32_t> numbers = numbersOfChunks(chunkCount(whole.size()), chunks);
  auto out = std::make_shared<Surface>();
  size_t samples = 0;
  for (const uint32_t c : chunks) samples += std::min(kChunkSize, whole.size() - c * kChunkSize);
  // the cut needs its size to be asked for values
  out->positions.resize(samples);
  CutOut cut{out, std::move(chunks)};
  out->positions = cutValues(cut, whole.positions);
  out->normals = cutValues(cut, whole.normals);
  out->areas = cutValues(cut, whole.areas);
  out->parts = cutValues(cut, whole.parts);
  addNeighbors(whole, cut, numbers, *out);
  addTriangles(whole, numbers, *out);
  // chunks hold whole groups of blocks, and of all but the last all
  constexpr size_t kBlocks = kChunkSize / kBlockSize;
  const auto part = [](const std::vector<Box>& all, size_t from, size_t count, std::vector<Box>& to) {
    for (size_t i = from; i < std::min(all.size(), from + count); ++i) to.push_back(all[i]);
  };
  for (const uint32_t c : cut.chunks) {
    part(whole.blocks, c * kBlocks, kBlocks, out->blocks);
    part(whole.groups, c * kBlocks / 16, kBlocks / 16, out->groups);
  }
  out->bounds = whole.bounds;
  out->spacing = whole.spacing;
  out->turn = whole.turn;
  out->partCount = whole.partCount;
  return cut;
}

SparseValues cutValues(const CutOut& cut, const SparseValues& whole) {
  SparseValues out;
  for (uint32_t i = 0; i < cut.chunks.size(); ++i) {
    const auto first = static_cast<uint32_t>(cut.chunks[i] * kChunkSize),
               end = static_cast<uint32_t>(first + kChunkSize);
    for (auto at = std::ranges::lower_bound(whole.samples, first); at != whole.samples.end() && *at < end;
         ++at) {
      out.samples.push_back(static_cast<uint32_t>(i * kChunkSize + (*at - first)));
      out.values.push_back(whole.values[static_cast<size_t>(at - whole.samples.begin())]);
    }
  }
  return out;
}

}  // namespace juvenor
