#include "core/document/edits/place_stamp.h"

namespace juvenor {

Result<Document> withStampPlaced(const Document& document, const StrokeSetting& setting,
                                 const SurfacePoint& at, const Vec3& along, float radius, Flood& flood) {
  if (!(radius > 0)) return Error{"a stamp of no size lays nothing"};
  auto stroke = PaintStroke::begin(document, setting, flood);
  if (!stroke) return stroke.error();
  (*stroke)->stroke().place(at, along, radius);
  return (*stroke)->finish();
}

Result<Document> withStrokeAlong(const Document& document, const StrokeSetting& setting,
                                 std::span<const SurfacePoint> line, float pressure, Flood& flood) {
  auto stroke = PaintStroke::begin(document, setting, flood);
  if (!stroke) return stroke.error();
  for (const SurfacePoint& point : line) (*stroke)->stroke().moveTo(point, pressure);
  (*stroke)->stroke().end();
  if ((*stroke)->stroke().dabCount() == 0) return Error{"the line meets no skin"};
  return (*stroke)->finish();
}

}  // namespace juvenor
