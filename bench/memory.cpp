// Memory a sample and a layer takes, counted from the arrays themselves and checked against the process.
#include <fmt/format.h>
#include <malloc.h>
#include <unistd.h>

#include <fstream>

#include "core/document/edits/edits.h"
#include "core/document/history.h"
#include "core/render/picture.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

double inUse() {
  const struct mallinfo2 m = mallinfo2();
  return static_cast<double>(m.uordblks) + static_cast<double>(m.hblkhd);
}

double resident() {
  std::ifstream statm("/proc/self/statm");
  double total = 0, pages = 0;
  statm >> total >> pages;
  return pages * static_cast<double>(sysconf(_SC_PAGESIZE));
}

}  // namespace

void benchMemory() {
  const Document& d = ferryman(2'000'000);
  const auto n = static_cast<double>(d.surface->size());
  malloc_trim(0);
  double before = inUse();
  const auto surface = *buildSurface(*d.sculpt);
  add({"Memory of the surface", fmt::format("{:.0f} bytes a sample", (inUse() - before) / n),
       "a position alone: 12 bytes", fmt::format("{:.1f}", (inUse() - before) / n / 12), ""});
  // Embree takes its memory from the system itself
  before = resident();
  const auto rays = std::make_unique<Rays>(surface, Rays::Quality::Quick);
  add({"Memory of the ray structure", fmt::format("{:.0f} bytes a sample", (resident() - before) / n),
       "a position alone: 12 bytes", fmt::format("{:.1f}", (resident() - before) / n / 12), ""});
  before = inUse();
  const Document filled =
      *withFilled(withPaintedLayer(d, "p", Stratum::Flesh), d.nextLayer, {0.5f, 0.4f, 0.3f}, 1);
  add({"Memory of a painted layer, all covered", fmt::format("{:.1f} bytes a sample", (inUse() - before) / n),
       "four channels of 16 bits: 8 bytes", fmt::format("{:.2f}", (inUse() - before) / n / 8), ""});
  const ChannelFields& fields = *layerOf(filled, filled.activeLayer)->source->fields();
  before = inUse();
  const ChannelFields copy = fields;
  const double colors = inUse() - before;
  before = inUse();
  const ColorField color = fields.color();
  add({"Memory of three untouched channels",
       fmt::format("{:.3f} bytes a sample", (colors - (inUse() - before)) / n),
       "the list of colour's chunks: " + fmt::format("{:.3f}", (inUse() - before) / n),
       fmt::format("{:.3f}", (colors - (inUse() - before)) / (inUse() - before)), "0"});
  before = inUse();
  const Document masked = *withMask(filled, filled.activeLayer);
  add({"Memory of an untouched mask", fmt::format("{:.3f} bytes a sample", (inUse() - before) / n),
       "16 bits: 2 bytes", fmt::format("{:.3f}", (inUse() - before) / n / 2), ""});
}

}  // namespace juvenor::bench
