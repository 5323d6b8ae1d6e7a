#include "demo/demo.h"

#include <cmath>

#include "core/document/edits/edits.h"
#include "core/noise/noise.h"
#include "demo/shapes.h"

namespace juvenor::demo {

std::string_view figureKey(Figure figure) {
  constexpr std::string_view kKeys[] = {"ferryman", "keeper", "photos", "older"};
  return kKeys[static_cast<size_t>(figure)];
}

std::optional<Figure> figureFromKey(std::string_view key) {
  for (const Figure figure : {Figure::Ferryman, Figure::Keeper, Figure::ByPhotos, Figure::OlderKeeper})
    if (key == figureKey(figure)) return figure;
  return std::nullopt;
}

Result<Sculpt> makeSculpt(Figure figure, size_t points, const Progress& progress) {
  const auto piecesFor = figure == Figure::Ferryman      ? ferrymanPieces
                         : figure == Figure::OlderKeeper ? olderKeeperPieces
                                                         : keeperPieces;
  // the number of vertices goes with the inverse square of the cell
  constexpr float kTrial = 3.2f;
  double trial = 0;
  for (const Piece& p : piecesFor(kTrial)) trial += estimateVertices(p.distance, p.box, kTrial);
  const float cell =
      kTrial * static_cast<float>(std::sqrt(trial / static_cast<double>(std::max<size_t>(points, 2000))));
  const std::vector<Piece> pieces = piecesFor(cell);
  Sculpt out;
  out.name = figure == Figure::Ferryman      ? "River ferryman"
             : figure == Figure::OlderKeeper ? "Ferry keeper, older"
                                             : "Ferry keeper";
  out.polygonStart.push_back(0);
  for (uint32_t part = 0; part < pieces.size(); ++part) {
    const Piece& p = pieces[part];
    auto quads = isosurface(p.distance, p.box, cell, p.relief, [&](float f) {
      const float body = 0.8f;  // the first piece is by far the largest
      return report(progress, part == 0 ? body * f
                                        : body + (1 - body) * static_cast<float>(part) /
                                                     static_cast<float>(pieces.size()));
    });
    if (!quads) return quads.error();
    const auto first = static_cast<uint32_t>(out.vertices.size());
    out.parts.push_back(p.name);
    out.vertices.insert(out.vertices.end(), quads->vertices.begin(), quads->vertices.end());
    for (const auto& q : quads->quads) {
      for (const uint32_t v : q) out.corners.push_back(first + v);
      out.polygonStart.push_back(static_cast<uint32_t>(out.corners.size()));
      out.polygonPart.push_back(part);
    }
  }
  const Outcome checked = finishSculpt(out, out.name);
  if (!checked) return checked.error();
  return out;
}

}  // namespace juvenor::demo
