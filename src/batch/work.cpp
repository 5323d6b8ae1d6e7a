#include "batch/work.h"

#include "core/files.h"
#include "core/sculpt/formats.h"
#include "core/textures/wear_materials.h"

namespace juvenor::batch {

bool isDocument(const fs::path& file) {
  return file.extension() == ".juvenor";
}

Result<Work> openWork(const fs::path& file, bool readOnly) {
  auto store = Store::open(file, readOnly);
  if (!store) return store.error();
  auto opened = store->read();
  if (!opened) return opened.error();
  History history(std::move(opened->steps), opened->current);
  return Work{std::move(*store), std::move(history)};
}

Result<Document> documentIn(const fs::path& file) {
  auto store = Store::open(file, true);
  if (!store) return store.error();
  auto opened = store->readShown();
  if (!opened) return opened.error();
  return opened->steps.front()->document;
}

Outcome mayWrite(const fs::path& file, bool force) {
  std::error_code ec;
  if (force || !fs::exists(file, ec)) return Done{};
  if (isDocument(file)) return Error{"is there already; --force replaces it", file.string()};
  const auto endings = readableSculptEndings();
  if (std::ranges::find(endings, endingOf(file)) == endings.end()) return Done{};
  const auto bytes = readBytes(file);
  if (bytes && std::string_view(*bytes).substr(0, 1 << 20).find("Juvenor") != std::string_view::npos)
    return Done{};
  return Error{"was not written by this program, and may be the sculpt itself; --force replaces it",
               file.string()};
}

Outcome saveNew(const fs::path& file, Document document, const std::string& name) {
  const History history(std::move(document), name);
  auto saved = saveAs(file, std::vector<StepPointer>{history.steps().front()}, history.steps().front()->id);
  if (!saved) return saved.error();
  return Done{};
}

Result<Document> documentOver(const fs::path& file, const PlacementSaid& said) {
  auto sculpt = readSculpt(file);
  if (!sculpt) return sculpt.error();
  const auto materials = std::exchange(sculpt->materials, nullptr);
  const auto shared = std::make_shared<const Sculpt>(std::move(*sculpt));
  auto surface = buildSurface(*shared);
  if (!surface) return surface.error();
  const auto placement = placementFrom(said, guessedPlacement(*shared, endingOf(file)).placement, **surface);
  if (!placement) return placement.error();
  Document out = newDocument(shared, *surface, *placement);
  if (!materials) return out;
  auto worn = withWornMaterials(out, *materials);
  if (!worn) return worn.error();
  return std::move(worn->document);
}

}  // namespace juvenor::batch
