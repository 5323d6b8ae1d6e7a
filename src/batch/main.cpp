// juvenor-batch: the whole path from a sculpt to coloured geometry without a window. Exit codes: 0 done, 1
// the work failed (one line on standard error says why), 2 the command was not understood.
#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <iostream>

#include "batch/bake_command.h"
#include "batch/commands.h"
#include "batch/kinds_command.h"
#include "batch/layers_command.h"
#include "batch/show_commands.h"
#include "core/color/skin_tone.h"

using namespace juvenor;

int main(int argc, char** argv) {
  CLI::App app{"Colours the skin of sculpted characters from the shell.", "juvenor-batch"};
  app.set_version_flag("--version", JUVENOR_VERSION);
  app.require_subcommand(1);
  Outcome done = Done{};
  std::string input, document, out;
  bool force = false;
  const auto forces = [&](CLI::App* command) {
    command->add_flag("--force", force, "Replaces what is there: a document, or a sculpt of somebody else's");
  };

  auto* info = app.add_subcommand("info", "Prints what a sculpt or document holds, as JSON");
  info->add_option("FILE", input, "OBJ, PLY, GLB, glTF, STL or .juvenor")->required();
  info->callback([&] { done = batch::info(input); });

  auto* ready = app.add_subcommand("ready", "Prints whether a sculpt can carry paint, as JSON");
  ready->add_option("FILE", input, "OBJ, PLY, GLB, glTF, STL or .juvenor")->required();
  ready->callback([&] { done = batch::ready(input); });

  auto* uv = app.add_subcommand("uv", "Prints what the UVs of a sculpt or document lay out, as JSON");
  std::string uvSet;
  int uvPixels = 4096;
  uv->add_option("FILE", input, "OBJ, PLY, GLB, glTF or .juvenor")->required();
  uv->add_option("--set", uvSet, "The UV set; else the first");
  uv->add_option("--size", uvPixels, "Pixels of a tile's edge, for pixels per mm")
      ->check(CLI::Range(16, 65536));
  uv->callback([&] { done = batch::uv(input, uvSet, uvPixels); });

  batch::UnwrapCommand unwrapping;
  auto* unwrap =
      app.add_subcommand("unwrap", "Makes UVs: charts cut along creases and where the skin is hidden");
  unwrap->add_option("FILE", unwrapping.file, "OBJ, PLY, GLB, glTF, STL, or a document")->required();
  unwrap->add_option("-o,--out", unwrapping.out, "The sculpt with its UVs, .obj or .glb; or the document")
      ->required();
  unwrap->add_option("--name", unwrapping.name, "What the UV set is called");
  unwrap->add_option("--tiles", unwrapping.tiles, "Tiles they are spread over")->check(CLI::Range(1, 100));
  unwrap->add_option("--padding", unwrapping.padding, "Between islands, as a part of a tile")
      ->check(CLI::Range(0.f, 0.1f));
  forces(unwrap);
  unwrap->callback([&] {
    unwrapping.force = force;
    done = batch::unwrap(unwrapping);
  });

  batch::CarryCommand carrying;
  auto* carry = app.add_subcommand("carry", "Carries all work of a document over to a changed sculpt");
  carry->add_option("DOCUMENT", carrying.document, "The document")->required();
  carry->add_option("SCULPT", carrying.sculpt, "OBJ, PLY, GLB, glTF or STL")->required();
  carry->add_option("-o,--out", carrying.out, "The document over the new sculpt, .juvenor")->required();
  carry->add_option("--pins", carrying.pins, "JSON: pairs of places, parts that belong together");
  carry->add_option("--report", carrying.report, "Where the report goes, .json; else it is printed");
  forces(carry);
  carry->callback([&] {
    carrying.force = force;
    done = batch::carry(carrying);
  });

  batch::BakeCommand baking;
  batch::addBake(app, baking, forces)->callback([&] {
    baking.force = force;
    done = batch::bake(baking);
  });

  batch::LayersCommand sending;
  batch::addLayers(app, sending, forces)->callback([&] {
    sending.force = force;
    done = batch::layers(sending);
  });

  auto* fresh = app.add_subcommand("new", "Makes a document over a sculpt");
  fresh->add_option("SCULPT", input, "OBJ, PLY, GLB, glTF or STL")->required();
  fresh->add_option("-o,--out", document, "The document, .juvenor")->required();
  batch::PlacementSaid stands;
  fresh->add_option("--up", stands.up, "Which of the sculpt's axes is up: x, -x, y, -y, z or -z");
  fresh->add_option("--front", stands.front, "Which of them faces the viewer");
  fresh->add_option("--unit", stands.unit, "What a scene unit is: mm, cm, m or inch");
  fresh->add_option("--height", stands.height, "The height of the figure in cm, in place of a unit");
  forces(fresh);
  fresh->callback([&] { done = batch::newDocumentFile(input, document, stands, force); });

  auto* run =
      app.add_subcommand("run", "Runs a script of edits on a document and saves it (docs/scripts.md)");
  run->add_option("SCRIPT", input, "The script, JSON")->required();
  run->add_option("DOC", document, "The document")->required();
  bool evenIfOpen = false;
  run->add_flag("--even-if-open", evenIfOpen,
                "Changes a document that is open elsewhere too; who saves there is asked what to do");
  run->callback([&] { done = batch::run(input, document, evenIfOpen); });

  auto* exporting = app.add_subcommand(
      "export", "Writes the coloured sculpt: ply and obj hold sRGB-encoded colours, glb linear ones");
  exporting->add_option("DOC", document, "The document")->required();
  exporting->add_option("-o,--out", out, "The file, .ply, .obj or .glb")->required();
  ColouredSetting coloured;
  exporting->add_flag("--relief-applied", coloured.withRelief,
                      "A copy with the relief applied: every vertex moved along its normal by the height");
  exporting->add_flag("--all-points", coloured.allPoints, "The points that were added too, as triangles");
  exporting->add_flag("--made-parts", coloured.madeParts,
                      "The parts that were made here, in place of those of the sculpt's file");
  forces(exporting);
  exporting->callback([&] { done = batch::exportDocument(document, out, coloured, force); });

  auto* hair =
      app.add_subcommand("hair", "Writes the hair that grows on a document as lines from root to tip");
  hair->add_option("DOC", document, "The document")->required();
  hair->add_option("-o,--out", out, "The file, .obj or .glb")->required();
  forces(hair);
  hair->callback([&] { done = batch::exportHair(document, out, force); });

  std::string at;
  auto* probing =
      app.add_subcommand("probe", "What the skin is at a place, and what each layer adds there, as JSON");
  probing->add_option("DOC", document, "The document")->required();
  probing->add_option("--at", at, "X,Y,Z in scene units; the nearest place of the skin is taken")->required();
  probing->callback([&] { done = batch::probe(document, at); });

  batch::ShotSetting setting;
  auto* shot = app.add_subcommand("shot", "Makes a picture of a document; needs no display");
  shot->add_option("DOC", document, "The document")->required();
  shot->add_option("-o,--out", out, "The picture, .png, .tif or .jpg")->required();
  batch::addLook(*shot, setting.look);
  shot->add_option("--channel", setting.channel,
                   "Of the channel view: gloss, relief, metal, glow, wander, coat or fuzz")
      ->capture_default_str();
  shot->add_flag("--false-color", setting.falseColor, "The channel view from blue over green to yellow");
  shot->add_option("--size", setting.size, "WIDTHxHEIGHT in pixels")->capture_default_str();
  shot->add_option("--background", setting.background, "Grey behind the sculpt, 0 to 255")
      ->capture_default_str();
  shot->add_option("--steps", setting.steps, "Steps of grey in the value view, 2 to 9");
  shot->add_option("--squint", setting.squint, "Blur of the value view in pixels");
  shot->add_option("--map", setting.map,
                   "A surface map in false colour, like '{\"map\": \"cavity\", \"scale\": 4}'");
  shot->add_flag("--lines", setting.lines, "The sculpt's polygon edges over it");
  shot->callback([&] { done = batch::shot(document, out, setting); });

  batch::addShow(app, done, forces, force);

  std::string figure = "ferryman";
  size_t points = 300'000;
  auto* demo =
      app.add_subcommand("demo", "Makes a demo sculpt, or a dressed document when the file ends in .juvenor");
  demo->add_option(
          "--sculpt", figure,
          "ferryman, keeper, photos: the keeper coloured by them, or older: his bare head to carry over to")
      ->check(CLI::IsMember({"ferryman", "keeper", "photos", "older"}))
      ->capture_default_str();
  demo->add_option("--points", points, "About how many vertices")
      ->check(CLI::Range(size_t{2'000}, size_t{20'000'000}))
      ->capture_default_str();
  demo->add_option("-o,--out", out, "The file, .ply, .obj, .glb or .juvenor")->required();
  forces(demo);
  demo->callback([&] { done = batch::demoFile(*juvenor::demo::figureFromKey(figure), points, out, force); });

  batch::RecipeSetting recipe;
  std::vector<std::string> onto;
  auto* recipes = app.add_subcommand("recipe", "Skins saved to be laid on other sculpts (docs/recipes.md)");
  recipes->require_subcommand(1);
  auto* list = recipes->add_subcommand("list", "The recipes that ship, as JSON");
  list->callback([&] { done = batch::recipeList(); });
  auto* save = recipes->add_subcommand("save", "Layers of a document as a recipe");
  save->add_option("DOC", document, "The document")->required();
  save->add_option("-o,--out", out, "The recipe, .juvenor-recipe")->required();
  save->add_option("--layers", recipe.layers, "Names or ids; all that work themselves out when not said");
  save->add_option("--name", recipe.name, "What it is called; the file's name when not said");
  save->add_option("--about", recipe.about, "A line on what it is");
  save->callback([&] { done = batch::recipeSave(document, out, recipe); });
  auto* apply = recipes->add_subcommand("apply", "Lays a recipe on documents and sculpts, in one call");
  apply->add_option("RECIPE", input, "A .juvenor-recipe, or the name of one that ships")->required();
  apply->add_option("ONTO", onto, "Documents, changed in place, and sculpts, which get documents")
      ->required();
  apply->add_option("--parts", recipe.parts, "Lays it on these parts alone");
  apply->add_option("--to", recipe.folder,
                    "The folder for documents over sculpts; beside them when not said");
  // (--sheet is what it was called before)
  apply->add_option("--contact,--sheet", recipe.contact,
                    "A contact sheet: a picture of all of them, side by side");
  apply->add_flag("--as-is", recipe.asIs, "Adds no points, however coarse a sculpt is");
  apply->add_flag("--even-if-open", recipe.evenIfOpen, "Changes documents that are open elsewhere too");
  apply->callback([&] { done = batch::recipeApply(input, onto, recipe); });

  auto* past = app.add_subcommand("history", "The steps of a document, as JSON");
  past->add_option("DOC", document, "The document")->required();
  past->callback([&] { done = batch::history(document); });
  size_t lastSteps = 0;
  auto* compact = app.add_subcommand("compact", "Gives room that dropped steps left back to the disk");
  compact->add_option("DOC", document, "The document")->required();
  compact->add_option("--steps", lastSteps, "Keeps only the last so many steps of the history");
  compact->callback([&] { done = batch::compact(document, lastSteps); });
  std::string journal, ground;
  auto* recover = app.add_subcommand("recover", "Work that was not saved when its program ended");
  recover->require_subcommand(1);
  recover->add_subcommand("list", "The journals that wait, as JSON")->callback([&] {
    done = batch::recoverList();
  });
  auto* take = recover->add_subcommand("take", "The work of a journal as a document of its own");
  take->add_option("JOURNAL", journal, "Its path, or its file's name")->required();
  take->add_option("-o,--out", out, "The document, .juvenor")->required();
  take->add_option("--document", ground, "Where the document is by now that it goes on from");
  forces(take);
  take->callback([&] { done = batch::recoverTake(journal, ground, out, force); });
  auto* aside = recover->add_subcommand("aside", "Puts a journal where it is offered no more");
  aside->add_option("JOURNAL", journal, "Its path, or its file's name")->required();
  aside->callback([&] { done = batch::recoverAside(journal); });

  int count = 12;
  app.add_subcommand("kinds", "The kinds of layers, their numbers, channels and steps of masks, as Markdown")
      ->callback([&] {
        fmt::print("{}", batch::kindsText());
        done = Done{};
      });

  auto* palette = app.add_subcommand("palette", "The colours a picture is made of, dark to light");
  palette->add_option("PICTURE", input, "PNG, JPEG, TIFF, EXR or WebP")->required();
  palette->add_option("-n,--count", count, "How many")->check(CLI::Range(1, 64))->capture_default_str();
  palette->add_option("-o,--out", out, "The palette, .gpl; without it the colours are printed");
  palette->callback([&] { done = batch::palette(input, count, out); });

  SkinTone skin;
  auto* tone = app.add_subcommand("tone", "A skin tone from what is in the skin, with its readings as JSON");
  tone->add_option("--melanin", skin.melanin, "0 to 1")->capture_default_str();
  tone->add_option("--blood", skin.blood, "0 to 1")->capture_default_str();
  tone->add_option("--yellow", skin.yellow, "0 to 1")->capture_default_str();
  tone->callback([&] { done = batch::tone(skin.melanin, skin.blood, skin.yellow); });

  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    return app.exit(e) == 0 ? 0 : 2;
  } catch (const std::exception& e) {
    done = Error{e.what()};
  }
  if (done) return 0;
  std::cerr << "juvenor-batch: " << done.error().message() << "\n";
  return 1;
}
