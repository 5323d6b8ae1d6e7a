#include <algorithm>

#include "core/document/edits/edits.h"
#include "core/document/edits/moved_field.h"
#include "core/document/whole_stack.h"
#include "core/layers/composite/composite.h"

namespace juvenor {
namespace {

// What each part is filled with; null where it stays.
using PartValues = std::vector<const ChannelValues*>;

PartValues onPart(const Document& document, uint32_t part, const ChannelValues& values) {
  PartValues out(document.surface->partCount, nullptr);
  for (uint32_t p = 0; p < out.size(); ++p)
    if (part == kNone || p == part) out[p] = &values;
  return out;
}

// A painted layer with those channels moved that values are given for.
Result<Document> filled(const Document& document, uint32_t id, const PartValues& values, float strength,
                        const ScalarField* through = nullptr) {
  const Outcome ok = paintable(document, id, false);
  if (!ok) return ok.error();
  ChannelFields fields = *layerOf(document, id)->source->fields();
  const std::vector<uint32_t>& parts = document.surface->parts;
  eachChannel([&](auto c) {
    using Value = typename ChannelField<c()>::Value;
    std::vector<std::optional<Value>> targets;
    for (const ChannelValues* v : values)
      targets.push_back(v && v->channels().has(c()) ? std::optional<Value>(laid<c()>(*v, document.reliefStep))
                                                    : std::nullopt);
    if (std::ranges::none_of(targets, [](const auto& t) { return t.has_value(); })) return;
    const auto before = fields.get<c()>();
    const bool keepsCover = layerOf(document, id)->keepsCover && factsOf(c()).rule != ChannelRule::Add;
    fields.get<c()>() = movedField<factsOf(c()).planes()>(
        before, document, std::clamp(strength, 0.f, 1.f),
        [&](size_t s) {
          std::optional<Value> target = targets[parts[s]];
          if (target && keepsCover) {
            // as much of it as there is paint
            const uint32_t cover = before.at(s).back();
            for (uint16_t& v : *target) v = static_cast<uint16_t>((v * cover + 32767u) / 65535u);
          }
          return target;
        },
        through);
  });
  return withPainted(document, id, std::move(fields));
}

// What a layer's masks show together.
Result<ScalarField> wholeMaskOf(const Document& document, const LayerPointer& layer) {
  // (what it takes its mask from may be hidden, and is asked for all the same)
  const auto stack = wholeStackOf(document, {}, layer->id);
  if (!stack) return stack.error();
  return wholeMask((*stack)[placeOf(document, layer->id)], document.surface->size());
}

}  // namespace

Result<Document> withFilled(const Document& document, uint32_t id, const ChannelValues& values,
                            float strength, uint32_t part) {
  return filled(document, id, onPart(document, part, values), strength);
}

Result<Document> withFilledThrough(const Document& document, uint32_t id, const ChannelValues& values,
                                   float strength, uint32_t through) {
  const LayerPointer masked = layerOf(document, through);
  if (!masked || (!masked->mask && masked->terms.empty() && masked->maskFrom == 0))
    return Error{"that layer has no mask to fill through"};
  const auto mask = wholeMaskOf(document, masked);
  if (!mask) return mask.error();
  return filled(document, id, onPart(document, kNone, values), strength, &*mask);
}

Result<Document> withPartsFilled(const Document& document, uint32_t id,
                                 const std::map<uint32_t, ChannelValues>& values, float strength) {
  PartValues byPart(document.surface->partCount, nullptr);
  for (const auto& [part, v] : values)
    if (part < byPart.size()) byPart[part] = &v;
  return filled(document, id, byPart, strength);
}

Result<Document> withMaskFilled(const Document& document, uint32_t id, float value, float strength,
                                uint32_t part) {
  const std::array<uint16_t, 1> target{to16(value)};
  const std::vector<uint32_t>& parts = document.surface->parts;
  const auto targetOf = [&](size_t s) { return part == kNone || parts[s] == part ? &target : nullptr; };
  const float way = std::clamp(strength, 0.f, 1.f);
  if (id == kGuard) {
    // the guard does not keep itself from being changed
    Document unguarded = document;
    unguarded.guard.reset();
    return withMaskField(
        document, id,
        movedField<1>(document.guard.value_or(openMask(parts.size())), unguarded, way, targetOf));
  }
  const Outcome ok = paintable(document, id, true);
  if (!ok) return ok.error();
  return withMaskField(document, id, movedField<1>(*layerOf(document, id)->mask, document, way, targetOf));
}

}  // namespace juvenor
