// Panoramas that no library of ours wrote: byte by byte as the published layouts say (OpenEXR file layout,
// openexr.com; Radiance picture format, Ward 1991), half floats and shared exponents.
#include <array>
#include <cmath>
#include <cstring>

#include "core/files.h"
#include "core/render/environment.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr int kWidth = 512, kHeight = 256;

// A sky of (1, 0.5, 0.25), and one bright square a quarter around, a quarter down.
bool isBright(int x, int y) {
  return x >= 120 && x < 136 && y >= 56 && y < 72;
}

template <class T>
void put(std::string& out, const T& value) {
  const size_t at = out.size();
  out.resize(at + sizeof(T));
  std::memcpy(out.data() + at, &value, sizeof(T));
}

void attribute(std::string& out, const char* name, const char* type, const std::string& value) {
  out.append(name, std::strlen(name) + 1);
  out.append(type, std::strlen(type) + 1);
  put(out, static_cast<int32_t>(value.size()));
  out += value;
}

// Scan lines without compression, channels in the order of the alphabet, its window away from the origin.
std::string exr() {
  constexpr int kLeft = 30, kTop = -12;
  std::string out("\x76\x2f\x31\x01\x02\0\0\0", 8), channels, window, one, middle(8, '\0');
  for (const char* name : {"B", "G", "R"}) {
    channels.append(name, 2);
    put(channels, int32_t{1});  // half floats
    put(channels, int32_t{0});
    put(channels, std::array<int32_t, 2>{1, 1});
  }
  channels += '\0';
  put(window, std::array<int32_t, 4>{kLeft, kTop, kLeft + kWidth - 1, kTop + kHeight - 1});
  put(one, 1.f);
  attribute(out, "channels", "chlist", channels);
  attribute(out, "compression", "compression", std::string(1, '\0'));
  attribute(out, "dataWindow", "box2i", window);
  attribute(out, "displayWindow", "box2i", window);
  attribute(out, "lineOrder", "lineOrder", std::string(1, '\0'));
  attribute(out, "pixelAspectRatio", "float", one);
  attribute(out, "screenWindowCenter", "v2f", middle);
  attribute(out, "screenWindowWidth", "float", one);
  out += '\0';
  constexpr size_t kLine = 8 + 3 * 2 * kWidth;
  const size_t first = out.size() + 8 * kHeight;
  for (size_t y = 0; y < kHeight; ++y) put(out, uint64_t{first + y * kLine});
  for (int y = 0; y < kHeight; ++y) {
    put(out, int32_t{kTop + y});
    put(out, int32_t{3 * 2 * kWidth});
    // 0.25, 0.5 and 1; 512 where it is bright
    for (const uint16_t sky : {0x3400, 0x3800, 0x3c00})
      for (int x = 0; x < kWidth; ++x) put(out, isBright(x, y) ? uint16_t{0x6000} : sky);
  }
  return out;
}

// Flat pixels of three mantissas and an exponent.
std::string radiance() {
  std::string out = "#?RADIANCE\nSOFTWARE=by hand\nFORMAT=32-bit_rle_rgbe\n\n-Y 256 +X 512\n";
  for (int y = 0; y < kHeight; ++y)
    for (int x = 0; x < kWidth; ++x) {
      const std::array<uint8_t, 4> sky{128, 64, 32, 129}, bright{128, 128, 128, 138};
      put(out, isBright(x, y) ? bright : sky);
    }
  return out;
}

}  // namespace

class TestPanoramaFiles : public QObject {
  Q_OBJECT
 private slots:
  void whatOthersWriteIsReadAsItIs_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<QByteArray>("bytes");
    QTest::newRow("OpenEXR") << "sky.exr" << QByteArray::fromStdString(exr());
    QTest::newRow("Radiance") << "sky.hdr" << QByteArray::fromStdString(radiance());
  }
  void whatOthersWriteIsReadAsItIs() {
    QFETCH(QString, name);
    QFETCH(QByteArray, bytes);
    const test::Folder folder;
    const auto file = folder / name.toStdString();
    QVERIFY(writeBytes(file, bytes.toStdString()));
    const auto read = readPanorama(file);
    QVERIFY2(read, read ? "" : read.error().message().c_str());
    // columns go around from −z over +x, rows down from +y
    const auto toward = [](int x, int y) {
      const float around = 2 * static_cast<float>(M_PI) * static_cast<float>(x) / kWidth,
                  down = static_cast<float>(M_PI) * static_cast<float>(y) / kHeight;
      return Vec3(std::sin(around) * std::sin(down), std::cos(down), -std::cos(around) * std::sin(down));
    };
    const Vec3 sky = read->at(toward(384, 128)), bright = read->at(toward(128, 64));
    QVERIFY2(std::abs(sky.x() / sky.z() - 4) < 0.02f && std::abs(sky.y() / sky.z() - 2) < 0.02f,
             qPrintable(QString("%1 %2 %3").arg(sky.x()).arg(sky.y()).arg(sky.z())));
    // far above one, nothing is cut off
    QVERIFY2(std::abs(bright.x() / sky.x() / 512 - 1) < 0.02f,
             qPrintable(QString::number(bright.x() / sky.x())));
    QVERIFY(std::abs(bright.z() / bright.x() - 1) < 0.01f);
    const Environment environment(*read);
    QVERIFY(environment.sun() && environment.sun()->toward.dot(toward(128, 64)) > 0.999f);
  }
};

JUVENOR_TEST(TestPanoramaFiles)
}  // namespace juvenor
#include "test_panorama_files.moc"
