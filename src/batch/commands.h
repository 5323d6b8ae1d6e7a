// What juvenor-batch can do: one function a subcommand. Each prints its result to standard output and gives
// its error as a value.
#pragma once

#include "batch/look_said.h"
#include "batch/script_lookup.h"
#include "core/export/refined_sculpt.h"
#include "core/render/still.h"
#include "demo/demo.h"

namespace juvenor::batch {

namespace fs = std::filesystem;

/// What a sculpt or document holds, as JSON.
Outcome info(const fs::path& file);
/// What a UV set of a sculpt or document lays out, as JSON: islands, tiles, overlaps, stretch, and how many
/// pixels a millimetre of skin gets when a tile has so many on its edge. `set`: its name; empty: the first.
/// (uv_command.cpp)
Outcome uv(const fs::path& file, const std::string& set, int pixels);
/// Whether a sculpt or a document's can carry paint, as JSON. (ready_command.cpp)
Outcome ready(const fs::path& file);
struct UnwrapCommand {
  fs::path file, out;
  std::string name = "Unwrapped";
  int tiles = 1;
  float padding = 0.004f;  ///< of a tile
  bool force = false;
};
/// Writes a sculpt, or a document with one step more, again with a UV set made for it, before those it has;
/// prints how well it lies as JSON. (uv_command.cpp)
Outcome unwrap(const UnwrapCommand& said);
struct CarryCommand {
  fs::path document, sculpt, out;
  fs::path pins;    ///< JSON, docs/scripts.md; empty: none
  fs::path report;  ///< where the report goes; empty: it is printed
  bool force = false;
};
/// All work of a document onto a changed sculpt, in a document of its own with one step more; prints what
/// came of it as JSON. (carry_command.cpp)
Outcome carry(const CarryCommand& said);
// `force`: what is there is written over, whatever it is; see mayWrite.

/// A new document over a sculpt.
Outcome newDocumentFile(const fs::path& sculpt, const fs::path& document, const PlacementSaid& said,
                        bool force);
/// Runs a script of edits on a document and saves it.
/// A document that is open elsewhere is left alone unless `evenIfOpen`.
Outcome run(const fs::path& script, const fs::path& document, bool evenIfOpen);
/// The coloured sculpt of a document.
Outcome exportDocument(const fs::path& document, const fs::path& out, const ColouredSetting& setting,
                       bool force);
/// The fibres that grow on it as lines, .obj or .glb.
Outcome exportHair(const fs::path& document, const fs::path& out, bool force);
/// What a document's skin is at the place of its surface nearest to `at` (three numbers with commas between,
/// scene units), and what each layer adds there, as JSON. (probe.cpp)
Outcome probe(const fs::path& document, const std::string& at);

struct ShotSetting {
  LookSaid look;
  std::string size = "1280x800";
  bool lines = false;
  int background = 108;
  int steps = 0;
  float squint = 0;
  std::string map;                ///< JSON of a mask's term
  std::string channel = "gloss";  ///< of the channel view
  bool falseColor = false;
};
/// A picture of a document, the same as the window shows.
Outcome shot(const fs::path& document, const fs::path& out, const ShotSetting& setting);
/// A demo figure as a sculpt, or dressed with its first layers when the ending is .juvenor.
Outcome demoFile(demo::Figure figure, size_t points, const fs::path& out, bool force);

struct RecipeSetting {
  std::string name, about;
  std::vector<std::string> layers;  ///< names or ids; empty: all that work themselves out
  std::vector<std::string> parts;   ///< to lay it on; empty: everywhere
  bool asIs = false;                ///< no points are added
  bool evenIfOpen = false;
  fs::path folder;   ///< where documents over sculpts go; empty: beside them
  fs::path contact;  ///< a picture of all, side by side; empty: none
};
/// What ships, as JSON. (recipe_commands.cpp)
Outcome recipeList();
/// Layers of a document as a recipe, with a picture of them.
Outcome recipeSave(const fs::path& document, const fs::path& out, const RecipeSetting& setting);
/// Lays a recipe (a file, or the name of one that ships) on documents, which are saved, and on sculpts, which
/// get documents. Says as JSON what came of each; goes on with the next when one cannot be done.
Outcome recipeApply(const std::string& recipe, const std::vector<std::string>& onto,
                    const RecipeSetting& setting);

// ---- what lies on disk (store_commands.cpp)

/// The steps of a document as JSON, oldest first.
Outcome history(const fs::path& document);
/// Gives room that dropped steps left back to the disk; `steps`: of the history only the last so many stay
/// (0: all). Prints the size before and after as JSON. A document that is open elsewhere is left alone.
Outcome compact(const fs::path& document, size_t steps);
/// Journals of work that was not saved, as JSON.
Outcome recoverList();
/// The work of a journal (its path, or its file's name) as a document of its own; `ground`: where the
/// document is by now that it goes on from. The journal goes when that is written.
Outcome recoverTake(const std::string& journal, const fs::path& ground, const fs::path& out, bool force);
/// Puts a journal where it is offered no more.
Outcome recoverAside(const std::string& journal);

/// The colours of a picture, printed, or written as .gpl when `out` is given. (color_commands.cpp)
Outcome palette(const fs::path& picture, int count, const fs::path& out);
/// A skin tone's colour and readings as JSON.
Outcome tone(float melanin, float blood, float yellow);

}  // namespace juvenor::batch
