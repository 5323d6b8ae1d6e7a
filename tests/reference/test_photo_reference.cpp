// Slides against OpenCV's cameras and OpenImageIO's filtered look-ups.
#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>
#include <OpenImageIO/texture.h>

#include <opencv2/calib3d.hpp>

#include "core/noise/noise.h"
#include "core/photo/slide_view.h"
#include "core/photo/solve_camera.h"
#include "core/seeded.h"
#include "support/made.h"
#include "support/photos.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr int kWide = 640, kHigh = 480;

Camera someCamera(Draws& draws) {
  Camera out;
  const Vec3 back = normalizedOr(Vec3(draws.around(), draws.around(), 0.6f + draws.unit()), Vec3::UnitZ());
  out.turn = turnBetween<float>(Vec3::UnitZ(), back) * Eigen::AngleAxisf(draws.around(), Vec3::UnitZ());
  out.distance = 50 + 30 * draws.unit();
  out.target = 3 * Vec3(draws.around(), draws.around(), draws.around());
  out.fieldOfView = 15 + 30 * draws.unit();
  return out;
}

std::vector<cv::Point3d> places(Draws& draws, int count) {
  std::vector<cv::Point3d> out;
  for (int i = 0; i < count; ++i)
    out.emplace_back(9 * draws.around(), 9 * draws.around(), 9 * draws.around());
  return out;
}

// OpenCV looks along +z with y down.
struct CvCamera {
  cv::Mat turn, shift, lens;
};

CvCamera inOpenCv(const Camera& camera) {
  const double focal = 0.5 * kHigh / std::tan(static_cast<double>(camera.fieldOfView) * CV_PI / 360);
  CvCamera out;
  out.lens = (cv::Mat_<double>(3, 3) << focal, 0, 0.5 * kWide, 0, focal, 0.5 * kHigh, 0, 0, 1);
  const Eigen::Matrix3d flip = Eigen::Vector3d(1, -1, -1).asDiagonal();
  const Eigen::Matrix3d turn = flip * camera.turn.cast<double>().toRotationMatrix().transpose();
  const Eigen::Vector3d shift = -turn * camera.eye().cast<double>();
  cv::Mat matrix(3, 3, CV_64F);
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 3; ++j) matrix.at<double>(i, j) = turn(i, j);
  cv::Rodrigues(matrix, out.turn);
  out.shift = (cv::Mat_<double>(3, 1) << shift.x(), shift.y(), shift.z());
  return out;
}

float cloud(float u, float v) {
  float sum = 0.35f;
  for (const float scale : {4.f, 9.f, 21.f, 45.f, 100.f})
    sum += 0.1f * perlin(Vec3(u * scale, v * scale, 0.7f), 4);
  return std::clamp(sum, 0.05f, 0.9f);
}

}  // namespace

class TestPhotoReference : public QObject {
  Q_OBJECT
 private slots:
  void placesProjectAsInOpenCv() {
    Draws draws(11);
    for (int round = 0; round < 20; ++round) {
      const Camera camera = someCamera(draws);
      const CvCamera theirs = inOpenCv(camera);
      const auto points = places(draws, 12);
      std::vector<cv::Point2d> seen;
      cv::projectPoints(points, theirs.turn, theirs.shift, theirs.lens, cv::noArray(), seen);
      const auto ours = toView(camera);
      for (size_t i = 0; i < points.size(); ++i) {
        const Vec3 p(static_cast<float>(points[i].x), static_cast<float>(points[i].y),
                     static_cast<float>(points[i].z));
        const Vec3 at = ours.leftCols<3>() * p + ours.col(3);
        const double x = 0.5 * kWide + 0.5 * kHigh * static_cast<double>(at.x() / at.z()),
                     y = 0.5 * kHigh - 0.5 * kHigh * static_cast<double>(at.y() / at.z());
        QVERIFY2(std::hypot(x - seen[i].x, y - seen[i].y) < 0.01,
                 qPrintable(QString("%1 %2").arg(x - seen[i].x).arg(y - seen[i].y)));
      }
    }
  }
  // the same pins, off by half a pixel, and the focal length known: both find one camera
  void theCameraFromPinsIsOpenCvs() {
    Draws draws(5);
    for (int round = 0; round < 10; ++round) {
      const Camera camera = someCamera(draws);
      const CvCamera truth = inOpenCv(camera);
      const auto points = places(draws, 9);
      std::vector<cv::Point2d> seen;
      cv::projectPoints(points, truth.turn, truth.shift, truth.lens, cv::noArray(), seen);
      std::vector<CameraPin> pins;
      for (size_t i = 0; i < points.size(); ++i) {
        seen[i].x += 0.5 * draws.around();
        seen[i].y += 0.5 * draws.around();
        pins.push_back({Vec2(static_cast<float>((seen[i].x - 0.5 * kWide) / (0.5 * kWide)),
                             static_cast<float>((0.5 * kHigh - seen[i].y) / (0.5 * kWide))),
                        Vec3(static_cast<float>(points[i].x), static_cast<float>(points[i].y),
                             static_cast<float>(points[i].z))});
      }
      cv::Mat turn, shift;
      QVERIFY(
          cv::solvePnP(points, seen, truth.lens, cv::noArray(), turn, shift, false, cv::SOLVEPNP_ITERATIVE));
      const auto ours = solveCamera(pins, 1.f * kHigh / kWide, camera.fieldOfView);
      QVERIFY(ours);
      const CvCamera found = inOpenCv(ours->camera);
      QVERIFY2(cv::norm(found.turn - turn) < 2e-3, qPrintable(QString::number(cv::norm(found.turn - turn))));
      QVERIFY2(cv::norm(found.shift - shift) < 2e-3 * cv::norm(shift),
               qPrintable(QString::number(cv::norm(found.shift - shift) / cv::norm(shift))));
    }
  }
  // a photo on a plane that slants away until it is squeezed eight times, sample by sample
  void aSlantedPlaneIsFilteredAsInOpenImageIo_data() {
    QTest::addColumn<float>("slant");
    QTest::addColumn<float>("width");
    for (const float slant : {0.f, 45.f, 70.f, 82.f})
      for (const float width : {1.f, 3.f, 7.f})
        QTest::addRow("%g degrees, %g pixels", static_cast<double>(slant), static_cast<double>(width))
            << slant << width;
  }
  void aSlantedPlaneIsFilteredAsInOpenImageIo() {
    QFETCH(const float, slant);
    QFETCH(const float, width);
    constexpr int kSide = 512;
    const PicturePointer picture = test::photo(kSide, kSide, [](float u, float v) {
      const float c = cloud(u, v);
      return LinearColor{c, c, c};
    });
    const test::Folder folder;
    OIIO::ImageBuf plain(OIIO::ImageSpec(kSide, kSide, 3, OIIO::TypeDesc::FLOAT));
    for (int y = 0; y < kSide; ++y)
      for (int x = 0; x < kSide; ++x) {
        const float c = decodeSrgb16(picture->straight(static_cast<size_t>(y * kSide + x)).g);
        const float rgb[3] = {c, c, c};
        plain.setpixel(x, y, rgb);
      }
    const std::string path = (folder / "cloud.exr").string();
    QVERIFY(
        OIIO::ImageBufAlgo::make_texture(OIIO::ImageBufAlgo::MakeTxTexture, plain, path, OIIO::ImageSpec()));
    // the one all share: OpenImageIO 2.4 gives one of its own back by the wrong size
    OIIO::TextureSystem* textures = OIIO::TextureSystem::create(true);
    OIIO::TextureOpt options;
    options.anisotropic = 16;
    options.interpmode = OIIO::TextureOpt::InterpSmartBicubic;
    options.swrap = options.twrap = OIIO::TextureOpt::WrapClamp;
    // the plane turns around the picture's upright axis: what lies sideways is squeezed
    const float squeeze = 1 / std::max(std::cos(slant * std::numbers::pi_v<float> / 180), 1e-3f);
    const PicturePyramid pyramid(picture);
    double sum = 0;
    int count = 0;
    Draws draws(3);
    for (int i = 0; i < 600; ++i) {
      const Vec2 pixel(100 + 312 * draws.unit(), 100 + 312 * draws.unit());
      Eigen::Matrix2f spread = Eigen::Matrix2f::Zero();
      // half a sample's width, in pixels
      spread(0, 0) = 0.5f * width * squeeze;
      spread(1, 1) = 0.5f * width;
      float wanted[3];
      QVERIFY(textures->texture(OIIO::ustring(path), options, pixel.x() / kSide, pixel.y() / kSide,
                                width * squeeze / kSide, 0, 0, width / kSide, 3, wanted));
      const double off = static_cast<double>(pyramid.at(pixel, spread).color.g - wanted[1]);
      sum += off * off;
      ++count;
    }
    const double psnr = -10 * std::log10(sum / count);
    QVERIFY2(psnr > 34, qPrintable(QString("%1 dB").arg(psnr)));
    qInfo("%.1f dB", psnr);
  }
};

JUVENOR_TEST(TestPhotoReference)

}  // namespace juvenor

#include "test_photo_reference.moc"
