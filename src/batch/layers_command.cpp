#include "batch/layers_command.h"

#include <fmt/format.h>

#include <iostream>

#include "batch/listed.h"
#include "batch/uv_set.h"
#include "core/json_fields.h"
#include "core/textures/bake.h"
#include "core/textures/picture_layers.h"

namespace juvenor::batch {

Outcome layers(const LayersCommand& said) {
  for (const fs::path& file : {said.out, sentBeside(said.out)})
    if (const Outcome may = mayWrite(file, said.force); !may) return may;
  const auto document = documentIn(said.document);
  if (!document) return document.error();
  const auto set = setOf(*document->sculpt, said.set);
  if (!set) return Error{set.error().what, said.document.string()};
  LayersToSend wish;
  wish.tile = said.tile;
  wish.pixels = said.size;
  wish.uvSet = *set;
  for (const std::string& text : listed(said.layers)) {
    const auto id = wholeNumber(text, "--layers");
    if (!id) return id.error();
    wish.layers.push_back(*id);
  }
  const auto asTheyLook = sendLayers(*document, said.out, wish);
  if (!asTheyLook) return asTheyLook.error();
  const nlohmann::json told{{"file", said.out.string()},
                            {"compared with", sentBeside(said.out).string()},
                            {"sent as they look", *asTheyLook}};
  std::cout << textOf(told, 2) << "\n";
  return Done{};
}

CLI::App* addLayers(CLI::App& app, LayersCommand& said, const std::function<void(CLI::App*)>& forces) {
  auto* layers =
      app.add_subcommand("layers", "Writes layers as a layered picture (OpenRaster) for a painting program");
  layers->add_option("DOC", said.document, "The document")->required();
  layers->add_option("-o,--out", said.out, "The picture, .ora")->required();
  layers->add_option("--layers", said.layers, "Their numbers with commas between; else all that are seen");
  layers->add_option("--tile", said.tile, "The tile whose layout they are laid out in")
      ->check(CLI::Range(1001, 9999));
  layers->add_option("--size", said.size, "Pixels of its edge")->check(CLI::Range(kLeastPixels, kMostPixels));
  layers->add_option("--set", said.set, "The UV set; else the first");
  forces(layers);
  return layers;
}

}  // namespace juvenor::batch
