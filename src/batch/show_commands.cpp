#include "batch/show_commands.h"

#include <fmt/format.h>

#include "batch/listed.h"
#include "batch/work.h"
#include "core/photo/picture_file.h"
#include "core/show/contact_sheet.h"
#include "core/show/film.h"
#include "core/show/passes.h"
#include "core/show/still_file.h"

namespace juvenor::batch {
namespace {

// Pictures are no documents, and yet somebody's: they are replaced where that is said.
Outcome mayPut(const fs::path& file, bool force) {
  std::error_code ec;
  if (force || !fs::exists(file, ec)) return Done{};
  return Error{"is there already; --force replaces it", file.string()};
}

Finishing finishingOf(const StillSaid& said) {
  return {said.bloom, said.vignette, said.grain};
}

Result<StillWish> stillWish(const StillSaid& said, const Document& document) {
  const auto size = sizeFrom(said.size);
  if (!size) return size.error();
  auto look = lookFrom(said, document, *size);
  if (!look) return look.error();
  StillWish out{std::move(*look), *size, said.samples};
  if (const Outcome ok = checkedWish(out); !ok) return ok.error();
  return out;
}

// What a still and its passes start from.
struct ReadyStill {
  StillWish wish;
  ShownScene::Pointer scene;
};
Result<ReadyStill> readyStill(const fs::path& document, const StillSaid& said) {
  const auto d = documentIn(document);
  if (!d) return d.error();
  auto wish = stillWish(said, *d);
  if (!wish) return wish.error();
  auto scene = ShownScene::of(*d, wish->look.view == View::Skin);
  if (!scene) return scene.error();
  return ReadyStill{std::move(*wish), std::move(*scene)};
}

struct StillCommand {
  std::string document, out;
  StillSaid said;
  bool clear = false;
  int bits = 8;
};

Outcome makeStill(const StillCommand& c, bool force) {
  const StillDepth depth = c.bits == 16 ? StillDepth::Bits16 : StillDepth::Bits8;
  Outcome ok = checkedStillFile(c.out, c.clear, depth);
  if (ok) ok = mayPut(c.out, force);
  if (!ok) return ok;
  const auto ready = readyStill(c.document, c.said);
  if (!ready) return ready.error();
  auto picture = stillPicture(*ready->scene, ready->wish, c.clear);
  if (!picture) return picture.error();
  finish(*picture, finishingOf(c.said));
  return writeStill(c.out, *picture, c.clear, depth);
}

struct FilmCommand {
  std::string document, out, motion = "sculpt", frames;
  StillSaid said;
  FilmTime time;
  float quality = 0.7f;
  std::string cameras;

  FilmCommand() {
    said.size = "1280x720";
    said.samples = 8;
  }
};

Outcome setFrames(const std::string& text, FilmWish& wish) {
  char rest = 0;
  if (text.empty()) return Done{};
  if (std::sscanf(text.c_str(), "%d-%d%c", &wish.first, &wish.last, &rest) != 2 || wish.first < 0 ||
      wish.last < wish.first)
    return Error{fmt::format("--frames: '{}' is no stretch; expected FIRST-LAST, like 0-59", text)};
  return Done{};
}

Outcome setCameras(const std::string& names, const Document& d, FilmWish& wish) {
  std::vector<KeptCamera> kept = d.cameras;
  if (!names.empty()) {
    kept.clear();
    for (const std::string& name : listed(names)) kept.push_back({0, name, {}});
  }
  for (KeptCamera& camera : kept) {
    auto look = keptLook(d, camera.name);
    if (!look) return look.error();
    camera.look = std::move(*look);
  }
  wish.cameras = std::move(kept);
  return Done{};
}

Outcome mayPutFilm(const FilmWish& wish, const fs::path& out, bool force) {
  if (!isNumbered(out)) return mayPut(out, force);
  const int last = wish.last < 0 ? frameCount(wish.time) - 1 : wish.last;
  for (int frame = wish.first; frame <= last; ++frame)
    if (const Outcome ok = mayPut(numberedPicture(out, frame), force); !ok) return ok;
  return Done{};
}

Outcome makeFilmFile(const FilmCommand& c, bool force) {
  const auto d = documentIn(c.document);
  if (!d) return d.error();
  FilmWish wish;
  wish.time = c.time;
  const auto motion = motionFromKey(c.motion);
  if (!motion)
    return Error{
        fmt::format("there is no motion '{}'; there are sculpt, light, camera and flight", c.motion)};
  wish.time.motion = *motion;
  auto still = stillWish(c.said, *d);
  if (!still) return still.error();
  wish.still = std::move(*still);
  wish.finishing = finishingOf(c.said);
  wish.quality = c.quality;
  Outcome ok = setFrames(c.frames, wish);
  if (ok && *motion == Motion::Flight) ok = setCameras(c.cameras, *d, wish);
  if (ok) ok = checkedFilm(wish, c.out);
  if (ok) ok = mayPutFilm(wish, c.out, force);
  if (!ok) return ok;
  const auto scene = ShownScene::of(*d, wish.still.look.view == View::Skin);
  if (!scene) return scene.error();
  return makeFilm(**scene, wish, c.out);
}

struct ContactCommand {
  std::string document, out, of = "cameras", tile = "640x480";
  LookSaid look;
  ContactWish wish;
};

Outcome makeContact(const ContactCommand& c, bool force) {
  if (const Outcome may = mayPut(c.out, force); !may) return may;
  const auto d = documentIn(c.document);
  if (!d) return d.error();
  ContactWish wish = c.wish;
  const auto size = sizeFrom(c.tile);
  if (!size) return size.error();
  wish.tile = *size;
  wish.font = labelFont();
  const auto look = lookFrom(c.look, *d, *size);
  if (!look) return look.error();
  const auto tiles = c.of == "cameras"       ? tilesOfCameras(*d)
                     : c.of == "checkpoints" ? tilesOfCheckpoints(*d, *look)
                                             : tilesOfVariants(*d, *look);
  if (!tiles) return tiles.error();
  const auto sheet = contactSheet(*tiles, wish);
  if (!sheet) return sheet.error();
  return writePicture(c.out, sheet->size, sheet->pixels);
}

struct PassesCommand {
  std::string document, out;
  StillSaid said;
};

Outcome makePasses(const PassesCommand& c, bool force) {
  if (const Outcome may = mayPut(c.out, force); !may) return may;
  const auto ready = readyStill(c.document, c.said);
  if (!ready) return ready.error();
  return writePasses(*ready->scene, ready->wish, c.out);
}

using Forces = std::function<void(CLI::App*)>;

void addStillCommand(CLI::App& app, Outcome& done, const Forces& forces, const bool& force) {
  auto* command = app.add_subcommand("still", "Makes a finished picture: many samples, a lens, a backdrop");
  const auto c = std::make_shared<StillCommand>();
  command->add_option("DOC", c->document, "The document")->required();
  command->add_option("-o,--out", c->out, "The picture, .png, .tif, .jpg or .exr")->required();
  addStill(*command, c->said);
  command->add_flag("--clear", c->clear,
                    "Nothing behind the sculpt: an alpha says how much of a pixel it covers");
  command->add_option("--bits", c->bits, "A channel, of .png and .tif")
      ->check(CLI::IsMember({8, 16}))
      ->capture_default_str();
  forces(command);
  command->callback([c, &done, &force] { done = makeStill(*c, force); });
}

void addFilmCommand(CLI::App& app, Outcome& done, const Forces& forces, const bool& force) {
  auto* command = app.add_subcommand("film", "Makes a film: a turntable, light that goes round, or a flight");
  const auto c = std::make_shared<FilmCommand>();
  command->add_option("DOC", c->document, "The document")->required();
  command
      ->add_option("-o,--out", c->out,
                   "The film: .webm (VP9), .mkv (AV1), or .png for numbered pictures, NAME-0000.png and on")
      ->required();
  command
      ->add_option("--motion", c->motion,
                   "What goes round: sculpt, light or camera; or flight between cameras")
      ->capture_default_str();
  command->add_option("--cameras", c->cameras,
                      "Of a flight, by name with commas between; else all, in their order");
  command->add_option("--seconds", c->time.seconds, "How long it lasts")->capture_default_str();
  command->add_option("--per-second", c->time.perSecond, "Pictures a second, 24 to 60")
      ->capture_default_str();
  command->add_flag("--other-way", c->time.otherWay, "Goes round the other way");
  command->add_option("--quality", c->quality, "0 to 1")->check(CLI::Range(0.f, 1.f))->capture_default_str();
  command->add_option("--frames", c->frames,
                      "FIRST-LAST: a part of it, to be made on another machine and joined");
  addStill(*command, c->said);
  forces(command);
  command->callback([c, &done, &force] { done = makeFilmFile(*c, force); });

  auto* join =
      app.add_subcommand("join", "Puts parts of a film one after the other; nothing is encoded again");
  const auto parts = std::make_shared<std::vector<std::string>>();
  const auto out = std::make_shared<std::string>();
  join->add_option("PART", *parts, "The parts, in order")->required();
  join->add_option("-o,--out", *out, "The film, .webm or .mkv like its parts")->required();
  forces(join);
  join->callback([parts, out, &done, &force] {
    const std::vector<fs::path> files(parts->begin(), parts->end());
    done = mayPut(*out, force);
    if (done) done = joinFilms(files, *out);
  });
}

void addContactCommand(CLI::App& app, Outcome& done, const Forces& forces, const bool& force) {
  auto* command = app.add_subcommand("contact", "Makes a sheet of several pictures with their names");
  const auto c = std::make_shared<ContactCommand>();
  command->add_option("DOC", c->document, "The document")->required();
  command->add_option("-o,--out", c->out, "The picture, .png, .tif or .jpg")->required();
  command->add_option("--of", c->of, "cameras; or checkpoints or variants from one look")
      ->check(CLI::IsMember({"cameras", "checkpoints", "variants"}))
      ->capture_default_str();
  command->add_option("--tile", c->tile, "WIDTHxHEIGHT of each picture")->capture_default_str();
  command->add_option("--columns", c->wish.columns, "Side by side; 0: what suits a page")
      ->capture_default_str();
  command->add_option("--samples", c->wish.samples, "Rays a pixel")->capture_default_str();
  addLook(*command, c->look);
  forces(command);
  command->callback([c, &done, &force] { done = makeContact(*c, force); });
}

void addPassesCommand(CLI::App& app, Outcome& done, const Forces& forces, const bool& force) {
  auto* command =
      app.add_subcommand("passes", "Takes a still apart: its light, and what lies at each pixel, in one EXR");
  const auto c = std::make_shared<PassesCommand>();
  command->add_option("DOC", c->document, "The document")->required();
  command->add_option("-o,--out", c->out, "The file, .exr")->required();
  addStill(*command, c->said);
  forces(command);
  command->callback([c, &done, &force] { done = makePasses(*c, force); });
}

}  // namespace

void addShow(CLI::App& app, Outcome& done, const Forces& forces, const bool& force) {
  addStillCommand(app, done, forces, force);
  addFilmCommand(app, done, forces, force);
  addContactCommand(app, done, forces, force);
  addPassesCommand(app, done, forces, force);
}

}  // namespace juvenor::batch
