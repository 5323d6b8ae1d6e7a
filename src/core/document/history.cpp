#include "core/document/history.h"

#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <random>

#include "core/document/document_fields.h"

namespace juvenor {
namespace {

template <int P>
size_t fieldBytes(const Field<P>* before, const Field<P>& after) {
  size_t count = 0;
  for (size_t i = 0; i < after.chunkCount(); ++i)
    if (after.chunk(i) && !(before && before->chunk(i) == after.chunk(i))) ++count;
  return count * sizeof(Chunk<P>);
}

}  // namespace

uint64_t freshStepId() {
  // from the system each time: a generator of our own would repeat itself in a process that was forked
  std::random_device device;
  return std::max<uint64_t>(1, (uint64_t{device()} << 32 | device()) >> 1);
}

int64_t timeNow() {
  return std::chrono::duration_cast<std::chrono::seconds>(std::chrono::system_clock::now().time_since_epoch())
      .count();
}

size_t newBytes(const Document& before, const Document& after) {
  size_t bytes = 0;
  if (after.surface != before.surface) bytes += bytesOf(*after.surface);
  const std::map<uint64_t, PicturePointer> there = picturesOf(before);
  for (const auto& [fingerprint, picture] : picturesOf(after))
    if (!there.contains(fingerprint)) bytes += picture->bytes();
  for (const MadeUvs& uvs : after.uvs)
    if (std::ranges::find(before.uvs, uvs) == before.uvs.end()) bytes += bytesOf(*uvs.set);
  if (after.rest.any() && after.rest.skin != before.rest.skin)
    bytes += after.surface->size() * (2 * sizeof(Vec3) + sizeof(uint32_t)) +
             after.rest.vertices->size() * sizeof(Vec3);
  if (after.parts.any() && after.parts != before.parts) bytes += bytesOf(*after.parts.labels);
  eachChangedField(after, &before, [&](FieldId, const auto& field, const auto* old) {
    if (field.holdsAny()) bytes += fieldBytes(old, field);
  });
  return bytes;
}

History::History(Document document, std::string name, size_t memoryBudget) : budget_(memoryBudget) {
  auto step = std::make_shared<Step>();
  step->id = freshStepId();
  step->name = std::move(name);
  step->time = timeNow();
  step->document = std::move(document);
  steps_.push_back(std::move(step));
}

History::History(std::vector<StepPointer> steps, size_t current, size_t memoryBudget)
    : steps_(steps.begin(), steps.end()),
      current_(std::min(current, steps.size() - 1)),
      budget_(memoryBudget) {
  for (const StepPointer& s : steps_) {
    bytes_ += s->bytes;
  }
}

void History::push(Document document, std::string name) {
  while (steps_.size() > current_ + 1) {
    bytes_ -= steps_.back()->bytes;
    steps_.pop_back();
  }
  auto step = std::make_shared<Step>();
  step->id = freshStepId();
  step->name = std::move(name);
  step->time = timeNow();
  step->bytes = newBytes(steps_.back()->document, document);
  step->document = std::move(document);
  bytes_ += step->bytes;
  steps_.push_back(std::move(step));
  ++current_;
  keepToBudget();
}

size_t History::usualBudget() {
  const long pages = ::sysconf(_SC_PHYS_PAGES), size = ::sysconf(_SC_PAGESIZE);
  if (pages <= 0 || size <= 0) return size_t{2} << 30;
  return static_cast<size_t>(pages) * static_cast<size_t>(size) / 4;
}

void History::setBudget(size_t bytes) {
  budget_ = bytes;
  keepToBudget();
}

void History::goTo(size_t step) {
  current_ = std::min(step, steps_.size() - 1);
}

void History::call(size_t step, std::string given) {
  auto called = std::make_shared<Step>(*steps_[step]);
  called->given = std::move(given);
  steps_[step] = std::move(called);
}

void History::keepToBudget() {
  while (bytes_ > budget_ && current_ > 0 && steps_.size() > 2) {
    // what the second step does not share with the first becomes part of the ground everything stands on
    bytes_ -= steps_[1]->bytes;
    if (!steps_.front()->given.empty()) forgotten_.push_back(steps_.front()->given);
    steps_.pop_front();
    --current_;
  }
}

}  // namespace juvenor
