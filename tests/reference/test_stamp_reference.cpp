// How a stamp is sampled, against OpenImageIO's own filtering of the same picture on a plane.
#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>

#include "core/brush/stamp.h"
#include "core/noise/noise.h"
#include "core/seeded.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr int kEdge = 256;

// Soft clouds with fine grain over them.
std::vector<uint16_t> cloudy() {
  std::vector<uint16_t> out(kEdge * kEdge);
  Draws draws(5);
  for (int y = 0; y < kEdge; ++y)
    for (int x = 0; x < kEdge; ++x) {
      const float cloud = fractal(Vec3(static_cast<float>(x), static_cast<float>(y), 0.5f) / 40.f, 4, 9) +
                          0.15f * draws.around();
      out[static_cast<size_t>(y * kEdge + x)] =
          static_cast<uint16_t>(65535 * std::clamp(0.5f + 0.5f * cloud, 0.f, 1.f));
    }
  return out;
}

// Peak signal to noise in decibels of the stamp on `cells` × `cells` samples against OpenImageIO's resize.
double psnrOn(const Stamp& stamp, const std::vector<uint16_t>& picture, int cells, const char* filter) {
  OIIO::ImageSpec spec(kEdge, kEdge, 1, OIIO::TypeDesc::UINT16);
  const OIIO::ImageBuf whole(spec, const_cast<uint16_t*>(picture.data()));
  const OIIO::ImageBuf small =
      OIIO::ImageBufAlgo::resize(whole, filter, 0, OIIO::ROI(0, cells, 0, cells, 0, 1, 0, 1));
  double sum = 0;
  int count = 0;
  const float width = 2.f / static_cast<float>(cells);
  // within: at the edges one knows what lies beyond and the other does not
  for (int y = 2; y < cells - 2; ++y)
    for (int x = 2; x < cells - 2; ++x) {
      const Vec2 at((static_cast<float>(x) + 0.5f) * width - 1, 1 - (static_cast<float>(y) + 0.5f) * width);
      const float wanted = small.getchannel(x, y, 0, 0);
      const double off = static_cast<double>(stamp.at(at, width).shape - wanted);
      sum += off * off;
      ++count;
    }
  return -10 * std::log10(sum / count);
}

}  // namespace

class TestStampReference : public QObject {
  Q_OBJECT
 private slots:
  void samplingAgreesWithOpenImageIo() {
    const auto picture = cloudy();
    StampLevel full;
    full.width = full.height = kEdge;
    full.shape = picture;
    const Stamp stamp("cloudy", std::move(full));
    // magnified it goes straight between pixels; halves are exact means; between two sizes it blends both
    QVERIFY2(psnrOn(stamp, picture, 512, "triangle") > 38,
             qPrintable(QString::number(psnrOn(stamp, picture, 512, "triangle"))));
    for (const int cells : {128, 64, 32})
      QVERIFY2(psnrOn(stamp, picture, cells, "box") > 34,
               qPrintable(QString("%1: %2").arg(cells).arg(psnrOn(stamp, picture, cells, "box"))));
    for (const int cells : {170, 100, 45})
      QVERIFY2(psnrOn(stamp, picture, cells, "triangle") > 30,
               qPrintable(QString("%1: %2").arg(cells).arg(psnrOn(stamp, picture, cells, "triangle"))));
  }
};

JUVENOR_TEST(TestStampReference)
}  // namespace juvenor
#include "test_stamp_reference.moc"
