#include "core/show/film.h"

#include <fmt/format.h>

#include "core/files.h"
#include "core/photo/picture_file.h"

namespace juvenor {
namespace {

namespace fs = std::filesystem;

// The first and the last picture that are made.
std::pair<int, int> framesOf(const FilmWish& wish) {
  const int count = frameCount(wish.time);
  return {wish.first, wish.last < 0 ? count - 1 : wish.last};
}

using TakeFrame = std::function<Outcome(int frame, std::span<const uint32_t> pixels)>;

// Light that turns is spread once for all directions where that takes less than spreading it again and again.
Outcome readyFor(ShownScene& scene, const FilmWish& wish, const Progress& progress) {
  const auto [first, last] = framesOf(wish);
  const int frames = last - first + 1;
  if (!lightMoves(wish.time) || wish.still.look.view != View::Skin ||
      frames < static_cast<int>(kTransferPieces))
    return Done{};
  if (const Outcome laid = layLight(scene, wish.still.look, progress); !laid) return laid;
  return scene.readyForTurningLight(progress);
}

Outcome eachFrame(ShownScene& scene, const FilmWish& wish, const TakeFrame& take, const Progress& progress) {
  constexpr float kReady = 0.05f;
  const Outcome ready = readyFor(scene, wish, [&](float f) { return report(progress, kReady * f); });
  if (!ready) return ready;
  Box box;
  for (const Vec3& p : scene.document().surface->positions) box.add(p);
  const auto [first, last] = framesOf(wish);
  // a flight's cameras have backdrops of their own
  auto backdrop = wish.time.motion == Motion::Flight
                      ? Result<BackdropPicture>(BackdropPicture())
                      : readBackdrop(wish.still.look.backdrop, wish.still.size);
  if (!backdrop) return backdrop.error();
  for (int frame = first; frame <= last; ++frame) {
    StillWish still = wish.still;
    still.backdrop = *backdrop;
    // each picture is seen for a moment
    still.firstLook = kFilmLook;
    still.look = lookAt(wish.time, wish.still.look, wish.cameras, box.center(), frame);
    const float done = static_cast<float>(frame - first) / static_cast<float>(last - first + 1),
                part = 1 / static_cast<float>(last - first + 1);
    auto picture = stillPicture(scene, still, false, {}, [&](float f) {
      return report(progress, kReady + (1 - kReady) * (done + part * f));
    });
    if (!picture) return picture.error();
    Finishing finishing = wish.finishing;
    finishing.seed += static_cast<uint32_t>(frame);
    finish(*picture, finishing);
    if (const Outcome taken = take(frame, bytesOf(*picture)); !taken) return taken;
  }
  return Done{};
}

}  // namespace

bool isNumbered(const fs::path& out) {
  return out.extension() == ".png" || out.extension() == ".PNG";
}

fs::path numberedPicture(const fs::path& out, int frame) {
  return out.parent_path() / fmt::format("{}-{:04}{}", out.stem().string(), frame, out.extension().string());
}

Outcome checkedFilm(const FilmWish& wish, const fs::path& out) {
  Outcome ok = checkedTime(wish.time, wish.cameras.size());
  if (ok) ok = checkedWish(wish.still);
  if (ok && !isNumbered(out)) ok = checkedFilmFile(out, wish.still.size);
  if (!ok) return ok;
  const auto [first, last] = framesOf(wish);
  const int count = frameCount(wish.time);
  if (first < 0 || first > last || last >= count)
    return Error{fmt::format("the film has the pictures 0 to {}, not {} to {}", count - 1, first, last)};
  return Done{};
}

Result<Look> lookOf(const KeptCamera& camera) {
  Look out = camera.look;
  if (out.light.kind != LightKind::Surroundings) return out;
  auto environment = environmentFor(out.light.surroundings);
  if (!environment)
    return Error{
        fmt::format("the surroundings of the camera “{}”: {}", camera.name, environment.error().message())};
  out.light.environment = std::move(*environment);
  return out;
}

Outcome makeFilm(ShownScene& scene, const FilmWish& wish, const fs::path& out, const OnFrame& onFrame,
                 const Progress& progress) {
  if (const Outcome ok = checkedFilm(wish, out); !ok) return ok;
  if (isNumbered(out))
    return eachFrame(
        scene, wish,
        [&](int frame, std::span<const uint32_t> pixels) {
          if (onFrame) onFrame(frame, pixels);
          return writePicture(numberedPicture(out, frame), wish.still.size, pixels);
        },
        progress);
  Outcome cancelled = Done{};
  const Outcome done = replacedWhole(out, [&](const fs::path& partial) -> Outcome {
    auto film = FilmFile::begin(partial, out, wish.still.size, wish.time.perSecond, wish.quality);
    if (!film) return film.error();
    const Outcome made = eachFrame(
        scene, wish,
        [&](int frame, std::span<const uint32_t> pixels) {
          if (onFrame) onFrame(frame, pixels);
          return (*film)->add(pixels);
        },
        progress);
    if (!made && isCancelled(made.error())) cancelled = made;
    return made ? (*film)->end() : made;
  });
  return cancelled ? done : cancelled;
}

}  // namespace juvenor
