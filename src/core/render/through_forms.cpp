#include "core/render/through_forms.h"

#include <fmt/format.h>

namespace juvenor {

Result<std::shared_ptr<const ThroughForms>> throughForms(SurfaceMaps& maps, float most) {
  return maps.derived<ThroughForms>(fmt::format("through {:.4g}", most),
                                    [&]() -> Result<std::shared_ptr<const ThroughForms>> {
                                      const auto rays = maps.rays();
                                      if (!rays) return rays.error();
                                      return std::make_shared<const ThroughForms>(throughForms(**rays, most));
                                    });
}

}  // namespace juvenor
