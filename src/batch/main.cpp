#include "core/export/picture_file.h"
#include "core/layers/composite.h"
#include "core/render/picture.h"
#include "demo/demo.h"
#include <chrono>
#include <iostream>
using namespace juvenor;
int main(int argc, char** argv) {
  auto t0 = std::chrono::steady_clock::now();
  auto lap = [&](const char* n) { auto t = std::chrono::steady_clock::now(); std::cerr << n << " " << std::chrono::duration<double>(t - t0).count() << "\n"; t0 = t; };
  auto fig = *demo::figureFromKey(argv[1]);
  auto s = demo::makeSculpt(fig, std::stoul(argv[2]));
  lap("sculpt");
  std::cerr << s->vertices.size() << " verts " << s->polygonCount() << "\n";
  auto surf = *buildSurface(*s);
  lap("surface");
  std::cerr << surf->size() << " spacing " << surf->spacing << "\n";
  Rays rays(surf, Rays::Quality::Full);
  lap("rays");
  LightTransfer tr(surf->size());
  tr.addRays(rays, 0, surf->size(), 16);
  lap("transfer 16");
  auto curv = roughCurvature(*surf);
  Light light;
  auto lit = litSamples(*surf, tr, curv, light);
  lap("lit");
  auto comp = compositeOf({}, *surf, {0.72f, 0.55f, 0.45f});
  ViewSize size{1000, 800};
  Camera cam;
  cam = framed(cam, size, surf->bounds);
  if (argc > 5) cam = turned(cam, {std::stof(argv[5]), 0});
  if (argc > 6) cam = zoomed(cam, size, std::stof(argv[6]), {std::stof(argv[7]), std::stof(argv[8])});
  ShadeInput in{surf.get(), &comp, &lit, cam, light, *viewFromKey(argv[4])};
  auto px = picture(rays, in, size, {}, 4);
  lap("picture 4");
  (void)writePicture(argv[3], size, px);
}
