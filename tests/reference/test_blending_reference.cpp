// The sixteen blend modes of W3C Compositing and Blending Level 1 against cairo's operators, within 8-bit
// rounding.
#include <cairo.h>

#include "core/color/blending.h"
#include "support/run_all.h"

#include <random>

namespace juvenor {
namespace {

struct Mode {
  BlendMode ours;
  cairo_operator_t theirs;
};
constexpr Mode kModes[] = {{BlendMode::Normal, CAIRO_OPERATOR_OVER},
                           {BlendMode::Multiply, CAIRO_OPERATOR_MULTIPLY},
                           {BlendMode::Screen, CAIRO_OPERATOR_SCREEN},
                           {BlendMode::Overlay, CAIRO_OPERATOR_OVERLAY},
                           {BlendMode::Darken, CAIRO_OPERATOR_DARKEN},
                           {BlendMode::Lighten, CAIRO_OPERATOR_LIGHTEN},
                           {BlendMode::ColorDodge, CAIRO_OPERATOR_COLOR_DODGE},
                           {BlendMode::ColorBurn, CAIRO_OPERATOR_COLOR_BURN},
                           {BlendMode::HardLight, CAIRO_OPERATOR_HARD_LIGHT},
                           {BlendMode::SoftLight, CAIRO_OPERATOR_SOFT_LIGHT},
                           {BlendMode::Difference, CAIRO_OPERATOR_DIFFERENCE},
                           {BlendMode::Exclusion, CAIRO_OPERATOR_EXCLUSION},
                           {BlendMode::Hue, CAIRO_OPERATOR_HSL_HUE},
                           {BlendMode::Saturation, CAIRO_OPERATOR_HSL_SATURATION},
                           {BlendMode::Color, CAIRO_OPERATOR_HSL_COLOR},
                           {BlendMode::Luminosity, CAIRO_OPERATOR_HSL_LUMINOSITY}};

using Bytes = std::array<uint8_t, 4>;  // premultiplied red, green, blue, alpha

uint32_t argb(const Bytes& b) {
  return uint32_t{b[3]} << 24 | uint32_t{b[0]} << 16 | uint32_t{b[1]} << 8 | b[2];
}

Pixel pixelOf(const Bytes& b) {
  return {b[0] / 255.f, b[1] / 255.f, b[2] / 255.f, b[3] / 255.f};
}

std::vector<Bytes> pixels(uint32_t seed, size_t count) {
  std::mt19937 random(seed);
  std::vector<Bytes> out(count);
  for (Bytes& b : out) {
    const uint32_t a = random() % 3 == 0 ? 255 : random() % 256;
    for (size_t c = 0; c < 3; ++c) b[c] = static_cast<uint8_t>(random() % (a + 1));
    b[3] = static_cast<uint8_t>(a);
  }
  return out;
}

std::vector<uint32_t> byCairo(cairo_operator_t mode, const std::vector<Bytes>& back,
                              const std::vector<Bytes>& source) {
  std::vector<uint32_t> b, s;
  for (size_t i = 0; i < back.size(); ++i) {
    b.push_back(argb(back[i]));
    s.push_back(argb(source[i]));
  }
  const int width = static_cast<int>(back.size());
  auto* into = cairo_image_surface_create_for_data(reinterpret_cast<unsigned char*>(b.data()),
                                                   CAIRO_FORMAT_ARGB32, width, 1, width * 4);
  auto* from = cairo_image_surface_create_for_data(reinterpret_cast<unsigned char*>(s.data()),
                                                   CAIRO_FORMAT_ARGB32, width, 1, width * 4);
  cairo_t* c = cairo_create(into);
  cairo_set_operator(c, mode);
  cairo_set_source_surface(c, from, 0, 0);
  cairo_paint(c);
  cairo_destroy(c);
  cairo_surface_flush(into);
  cairo_surface_destroy(from);
  cairo_surface_destroy(into);
  return b;
}

}  // namespace

class TestBlendingReference : public QObject {
  Q_OBJECT
 private slots:
  void modesAgreeWithCairo_data() {
    QTest::addColumn<int>("index");
    for (size_t i = 0; i < std::size(kModes); ++i)
      QTest::newRow(blendModeKey(kModes[i].ours).data()) << static_cast<int>(i);
  }
  void modesAgreeWithCairo() {
    QFETCH(int, index);
    const Mode& mode = kModes[index];
    const auto back = pixels(1, 4000), source = pixels(2, 4000);
    const auto theirs = byCairo(mode.theirs, back, source);
    int worst = 0;
    for (size_t i = 0; i < back.size(); ++i) {
      const Pixel ours = blend(mode.ours, pixelOf(back[i]), pixelOf(source[i]));
      const float mine[4] = {ours.r, ours.g, ours.b, ours.a};
      const int shifts[4] = {16, 8, 0, 24};
      for (int c = 0; c < 4; ++c) {
        const int v = static_cast<int>((theirs[i] >> shifts[c]) & 255);
        worst = std::max(worst, std::abs(v - static_cast<int>(std::lround(mine[c] * 255))));
      }
    }
    // cairo rounds inside; one step for plain modes, two where it divides by alpha
    QVERIFY2(worst <= 2, qPrintable(QString("%1 steps apart").arg(worst)));
  }
};

JUVENOR_TEST(TestBlendingReference)
}  // namespace juvenor
#include "test_blending_reference.moc"
