// Melanin and blood of the tone nearest to the skin's colour, solved once for every sample.
#include "core/color/tone_solver.h"
#include "core/surface/map_field.h"
#include "core/textures/texel_map.h"

namespace juvenor {
namespace {

class ToneTexels : public TexelMap {
 public:
  ToneTexels(const MapInput& in, float SkinTone::*control) {
    const ColorField& colors = in.skin->color();
    const ToneSolver& solver = toneSolver();
    values_ = mapField(ScalarField(colors.size()), [&](size_t, size_t begin, size_t end) {
      auto out = std::make_shared<ScalarChunk>();
      Rgba16 last{};
      uint16_t value = 0;
      for (size_t s = begin; s < end; ++s) {
        // neighbours are often of one colour
        const Rgba16 now = colorAt(colors, s);
        if (s == begin || now != last) value = to16(solver(straight(now)).*control);
        last = now;
        out->plane[0][s - begin] = value;
      }
      return ScalarField::Pointer(std::move(out));
    });
  }
  void add(const TexelPlace& p, Values& sum) const override {
    for (size_t k = 0; k < 3; ++k) sum[0] += p.weights[k] * from16(values_.at(p.samples[k])[0]);
  }

 private:
  ScalarField values_;
};

}  // namespace

TexelMapPointer toneTexels(const MapInput& input, float SkinTone::*control) {
  return std::make_unique<ToneTexels>(input, control);
}

}  // namespace juvenor
