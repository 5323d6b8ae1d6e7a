#include "core/layers/mask_steps.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/json_fields.h"

namespace juvenor {
namespace {

constexpr size_t kMostMaskSteps = 16;
constexpr std::array<MaskStepFacts, 7> kStepFacts{{
    {"melt", "Melt", "Makes its edges soft", "Softness", "", 0, 0, 0, false},
    {"sharpen", "Sharpen", "Makes what differs from around differ more", "Softness", "Strength", 0, 4, 1,
     false},
    {"grow", "Grow", "What shows spreads along the skin", "Way", "", 0, 0, 0, false},
    {"shrink", "Shrink", "What shows draws back", "Way", "", 0, 0, 0, false},
    {"contrast", "Contrast", "All one grey to black and white", "", "Contrast", -1, 1, 0.5f, false},
    {"painterly", "Fray", "Pulls its edges along the skin as a brush does", "Pull", "Bristles", 0.02f, 1,
     0.2f, true},
    {"break up", "Break up", "Cuts what is half shown into patches of noise", "Patches", "Strength", 0, 1, 1,
     true},
}};

}  // namespace

std::span<const MaskStepFacts> maskStepFacts() {
  return kStepFacts;
}

const MaskStepFacts& factsOf(MaskStep::Way way) {
  return kStepFacts[static_cast<size_t>(way)];
}

void markLookers(const PreparedMaskSteps& steps, std::vector<char>& marks) {
  for (const auto& step : steps) {
    std::vector<char> out = marks;
    for (size_t c = 0; c < marks.size(); ++c)
      if (!out[c]) out[c] = std::ranges::any_of(step->around(c), [&](uint32_t n) { return marks[n] != 0; });
    marks = std::move(out);
  }
}

// What a step looks at: the mask after the ones before it.
class SteppedMask::Level final : public PlaneGround {
 public:
  Level(const SteppedMask& mask, size_t level) : mask_(mask), level_(level) {}
  ChunkPlanes at(size_t chunk) const override {
    const ScalarField::Pointer from = mask_.at(level_, chunk);
    return {from, {from->plane[0].data(), nullptr, nullptr}};
  }

 private:
  const SteppedMask& mask_;
  size_t level_;
};

SteppedMask::SteppedMask(Plain plain, std::shared_ptr<const PreparedMaskSteps> steps)
    : plain_(std::move(plain)), steps_(std::move(steps)), known_(steps_->size() + 1) {}

ScalarField::Pointer SteppedMask::at(size_t chunk) const {
  return at(steps_->size(), chunk);
}

ScalarField::Pointer SteppedMask::at(size_t level, size_t chunk) const {
  static const ScalarField::Pointer all = ScalarField(kChunkSize, {65535}).writable(0);
  const auto key = static_cast<uint32_t>(chunk);
  {
    const std::lock_guard hold(mutex_);
    if (const auto found = known_[level].find(key); found != known_[level].end()) return found->second;
  }
  ScalarField::Pointer out =
      level == 0 ? plain_(chunk) : (*steps_)[level - 1]->made(chunk, Level(*this, level - 1));
  if (!out) out = all;
  const std::lock_guard hold(mutex_);
  return known_[level].emplace(key, std::move(out)).first->second;
}

void SteppedMask::takeOver(const SteppedMask& other, std::vector<char> marks) {
  if (other.steps_ != steps_) return;
  const std::lock_guard hold(other.mutex_);
  for (size_t level = 0; level < known_.size(); ++level) {
    if (level > 0) markLookers({(*steps_)[level - 1]}, marks);
    for (const auto& [chunk, kept] : other.known_[level])
      if (!marks[chunk]) known_[level].emplace(chunk, kept);
  }
}

nlohmann::json toJson(const MaskSteps& steps) {
  nlohmann::json out = nlohmann::json::array();
  for (const MaskStep& step : steps) {
    const MaskStepFacts& facts = factsOf(step.way);
    nlohmann::json one{{"way", facts.key}};
    if (!facts.size.empty()) one["size"] = step.size;
    if (!facts.amount.empty()) one["amount"] = step.amount;
    if (facts.seeded) one["seed"] = step.seed;
    out.push_back(std::move(one));
  }
  return out;
}

namespace {

Result<MaskStep> stepFrom(const nlohmann::json& json) {
  MaskStep out;
  if (!json.is_object() || !json.contains("way") || !json["way"].is_string()) return Error{"it has no way"};
  auto way = json["way"].get<std::string>();
  const auto known = std::ranges::find(kStepFacts, way, &MaskStepFacts::key);
  if (known == kStepFacts.end()) return Error{fmt::format("no mask has a step '{}'", way)};
  out.way = static_cast<MaskStep::Way>(known - kStepFacts.begin());
  out.amount = known->usual;
  JsonFields fields(json);
  fields.text("way", way);
  if (!known->size.empty()) fields.number("size", out.size, 0, 1e9f);
  if (!known->amount.empty()) fields.number("amount", out.amount, known->least, known->most);
  if (known->seeded) fields.whole("seed", out.seed);
  if (const Outcome ok = fields.done(); !ok) return ok.error();
  return out;
}

}  // namespace

Result<MaskSteps> maskStepsFrom(const nlohmann::json& list) {
  if (!list.is_array()) return Error{"the steps of a mask are not a list"};
  if (list.size() > kMostMaskSteps)
    return Error{fmt::format("a mask has more than {} steps", kMostMaskSteps)};
  MaskSteps out;
  for (const nlohmann::json& json : list) {
    auto step = stepFrom(json);
    if (!step) return Error{fmt::format("step {} of a mask: {}", out.size() + 1, step.error().what)};
    out.push_back(*step);
  }
  return out;
}

}  // namespace juvenor
