#include "core/export/vertex_finish.h"

#include "core/surface/relief_normals.h"

namespace juvenor {

VertexFinish finishOf(const Document& document, const ChannelFields& skin) {
  VertexFinish out;
  const Surface& surface = *document.surface;
  const Eigen::Matrix3f back = turnOf(document.placement).transpose();
  for (const uint32_t s : surface.sampleOfVertex) {
    out.normals.push_back(back * surface.normals[s]);
    out.colors.push_back(colorAt(skin.color(), s));
  }
  eachChannel([&](auto c) {
    if constexpr (factsOf(c()).rule != ChannelRule::Blend) {
      const auto& field = skin.get<c()>();
      if (!field.holdsAny()) return;
      VertexNumbers& numbers = out.numbers.emplace_back(VertexNumbers{std::string(factsOf(c()).key), {}});
      for (const uint32_t s : surface.sampleOfVertex)
        numbers.values.push_back(factsOf(c()).rule == ChannelRule::Add
                                     ? heightOf(field.at(s)[0], document.reliefStep)
                                     : from16(field.at(s)[0]));
    }
  });
  return out;
}

Sculpt withReliefApplied(const Document& document, const ChannelFields& skin, VertexFinish& finish) {
  Sculpt out = *document.sculpt;
  const Surface& surface = *document.surface;
  const auto& relief = skin.get<Channel::Relief>();
  const ReliefNormals bent = reliefNormals(document.surface, relief, kLevel, document.reliefStep);
  const Eigen::Matrix3f back = turnOf(document.placement).transpose();
  for (size_t v = 0; v < out.vertices.size(); ++v) {
    const uint32_t s = surface.sampleOfVertex[v];
    out.vertices[v] += heightOf(relief.at(s)[0], document.reliefStep) * (back * surface.normals[s]);
    if (!finish.normals.empty()) finish.normals[v] = back * bent.at(s);
  }
  // what the file said of the old shape's normals is true no more
  out.normals.clear();
  return out;
}

}  // namespace juvenor
