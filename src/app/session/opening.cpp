#include "app/session/opening.h"

#include "core/layers/prepared_layer.h"

namespace juvenor::app {

Result<Opened> allPrepared(Result<Opened> opened, const Progress& progress) {
  if (!opened) return opened;
  const Document& shown = opened->steps[opened->current]->document;
  if (const auto ready = prepared(shown.layers, *shown.maps, progress); !ready) return ready.error();
  return opened;
}

Result<Opened> openedAndPrepared(const std::filesystem::path& file, const Progress& progress, size_t budget) {
  auto store = Store::open(file, true);
  if (!store) return store.error();
  return allPrepared(store->read([&](float f) { return report(progress, 0.7f * f); }, budget),
                     [&](float f) { return report(progress, 0.7f + 0.3f * f); });
}

}  // namespace juvenor::app
