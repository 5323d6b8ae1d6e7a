#include "core/export/vertex_finish.h"

#include "core/surface/relief_normals.h"

namespace juvenor {

VertexFinish finishOf(const Document& document, const ChannelFields& skin) {
  return finishAt(document, skin, document.surface->sampleOfVertex);
}

VertexFinish finishAt(const Document& document, const ChannelFields& skin,
                      std::span<const uint32_t> samples) {
  VertexFinish out;
  const Eigen::Matrix3f back = turnOf(document.placement).transpose();
  for (const uint32_t s : samples) {
    out.normals.push_back(back * document.surface->normals[s]);
    out.colors.push_back(colorAt(skin.color(), s));
  }
  eachChannel([&](auto c) {
    if constexpr (factsOf(c()).rule != ChannelRule::Blend) {
      const auto& field = skin.get<c()>();
      if (!field.holdsAny()) return;
      VertexNumbers& numbers = out.numbers.emplace_back(VertexNumbers{std::string(factsOf(c()).key), {}});
      for (const uint32_t s : samples)
        numbers.values.push_back(factsOf(c()).rule == ChannelRule::Add
                                     ? heightOf(field.at(s)[0], document.reliefStep)
                                     : from16(field.at(s)[0]));
    }
  });
  return out;
}

Sculpt withReliefApplied(const Document& document, const ChannelFields& skin, VertexFinish& finish) {
  Sculpt out = *document.sculpt;
  applyRelief(out, document, skin, document.surface->sampleOfVertex, finish);
  return out;
}

void applyRelief(Sculpt& sculpt, const Document& document, const ChannelFields& skin,
                 std::span<const uint32_t> samples, VertexFinish& finish) {
  const auto& relief = skin.get<Channel::Relief>();
  const ReliefNormals bent = reliefNormals(document.surface, relief, kLevel, document.reliefStep);
  const Eigen::Matrix3f back = turnOf(document.placement).transpose();
  for (size_t v = 0; v < sculpt.vertices.size(); ++v) {
    const uint32_t s = samples[v];
    sculpt.vertices[v] +=
        heightOf(relief.at(s)[0], document.reliefStep) * (back * document.surface->normals[s]);
    if (!finish.normals.empty()) finish.normals[v] = back * bent.at(s);
  }
  // what the file said of the old shape's normals is true no more
  sculpt.normals.clear();
}

}  // namespace juvenor
