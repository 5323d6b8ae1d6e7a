// What leaves the work to be looked at: a finished still, and a picture of a turntable.
#include <fmt/format.h>

#include <chrono>

#include "core/render/still.h"
#include "core/show/film.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

double secondsNow() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

double tookOnce(const std::function<void()>& work) {
  const double from = secondsNow();
  work();
  return secondsNow() - from;
}

// As many rays as a picture has pixels, shaded by nothing.
double barePass(const ShownScene& scene, const Camera& camera, const ViewSize& size) {
  VisibilityImage seen;
  return leastSecondsOf(
      "a bare ray pass",
      [&] {
        castVisibility(scene.rays(), camera, size, {0.5f, 0.5f}, {}, seen);
      },
      3);
}

void bigStill(ShownScene& scene) {
  StillWish wish;
  wish.size = {3840, 2160};
  wish.samples = 64;
  wish.look.camera = framed({}, wish.size, shownPoints(scene.document()));
  const double light = tookOnce([&] { (void)layLight(scene, wish.look); });
  const double still = tookOnce([&] { (void)stillOfLit(scene, wish, false); });
  const double bare = barePass(scene, wish.look.camera, wish.size);
  add({"Still, 3,840 × 2,160, 64 samples, 2 M", milliseconds(still),
       "64 bare ray passes: " + milliseconds(64 * bare), fmt::format("{:.2f}", still / (64 * bare)),
       "≤ 90 s"});
  add({"The light for it, from nothing, 2 M", milliseconds(light), "", "", ""});
}

void turntable(ShownScene& scene) {
  FilmWish wish;
  wish.still.size = {1280, 720};
  wish.still.samples = 8;
  wish.still.firstLook = kFilmLook;
  wish.still.look.camera = framed({}, wish.still.size, shownPoints(scene.document()));
  const double bare = barePass(scene, wish.still.look.camera, wish.still.size);
  (void)layLight(scene, wish.still.look);
  const double ready = tookOnce([&] { (void)scene.readyForTurningLight(); });
  int frame = 0;
  const double each = leastSecondsOf(
      "a turntable's picture",
      [&] {
        StillWish still = wish.still;
        still.look = lookAt(wish.time, wish.still.look, {}, Vec3::Zero(), ++frame);
        const auto picture = stillPicture(scene, still, false);
        if (picture) (void)bytesOf(*picture);
      },
      3);
  add({"Turntable, a picture of 1,280 × 720, 8 samples, 2 M", milliseconds(each),
       "8 bare ray passes: " + milliseconds(8 * bare), fmt::format("{:.2f}", each / (8 * bare)), "≤ 1 s"});
  add({"Soft light made ready to turn, once a film, 2 M", milliseconds(ready), "", "", ""});
}

}  // namespace

void benchShowing() {
  const auto scene = ShownScene::of(ferryman(2'000'000), true);
  if (!scene) return;
  bigStill(**scene);
  turntable(**scene);
}

}  // namespace juvenor::bench
