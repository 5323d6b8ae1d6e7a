// Stamps, brushes as JSON, and the roll as a file.
#include <numeric>

#include "core/base64.h"
#include "core/brush/brush_roll.h"
#include "core/brush/made_stamps.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/photo/picture_file.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// Left half red, right half clear, with a companion that rises to the top.
StampPointer halfRed() {
  StampLevel level;
  level.width = 64;
  level.height = 32;
  for (int y = 0; y < 32; ++y)
    for (int x = 0; x < 64; ++x) {
      const uint16_t on = x < 32 ? 65535 : 0;
      level.shape.push_back(on);
      level.color[0].push_back(on);
      level.color[1].push_back(0);
      level.color[2].push_back(0);
      level.relief.push_back(static_cast<uint16_t>(65535 - 1999 * y));
    }
  return std::make_shared<Stamp>("half red", std::move(level));
}

RollBrush own() {
  RollBrush out{"Tattoo", "lay", 2, {}};
  out.brush.tip = TipKind::Stamp;
  out.brush.stamp = {halfRed(), true, false};
  out.brush.turnBy = TurnBy::Stroke;
  out.brush.spread = {0.1f, 0.2f, 30, 0.4f, 0.05f, 0.6f, 7};
  out.brush.pressureDots = true;
  return out;
}

Document placedOn(const Sculpt& sculpt, const Brush& brush, const SurfacePoint& at, const Vec3& along) {
  const Document d = withPaintedLayer(test::documentOf(sculpt), "Paint", Stratum::Pigment);
  StrokeSetting setting;
  setting.brush = brush;
  setting.ink = inkKind("lay");
  setting.layer = d.activeLayer;
  setting.paint = EncodedColor{0, 0, 1};
  setting.paint[Channel::Relief] = 0.5f;
  Flood flood;
  auto stroke = std::move(*PaintStroke::begin(d, setting, flood));
  stroke->stroke().place(at, along, brush.radius);
  return *stroke->finish();
}

}  // namespace

class TestRoll : public QObject {
  Q_OBJECT
 private slots:
  // The vectors of RFC 4648, section 10.
  void base64IsThePublishedOne() {
    const std::pair<const char*, const char*> vectors[] = {{"", ""},
                                                           {"f", "Zg=="},
                                                           {"fo", "Zm8="},
                                                           {"foo", "Zm9v"},
                                                           {"foob", "Zm9vYg=="},
                                                           {"fooba", "Zm9vYmE="},
                                                           {"foobar", "Zm9vYmFy"}};
    for (const auto& [plain, text] : vectors) {
      QCOMPARE(toBase64(plain), std::string(text));
      QVERIFY(fromBase64(text) == std::string(plain));
    }
    for (const char* wrong : {"Zg=", "Z", "Zm9!", "===="}) {
      const auto read = fromBase64(wrong);
      QVERIFY2(!read || read->empty(), wrong);
    }
  }
  void everyShippedStampHasAShape() {
    QCOMPARE(madeStamps().size(), size_t{16});
    for (const MadeStamp& made : madeStamps()) {
      const StampPointer stamp = madeStamp(made.key);
      QVERIFY(stamp && stamp->width() == 512);
      const auto& shape = stamp->full().shape;
      const double mean =
          std::accumulate(shape.begin(), shape.end(), 0.0) / static_cast<double>(shape.size()) / 65535;
      QVERIFY2(mean > 0.004 && mean < 0.78, made.key.data());
      QVERIFY2(from16(*std::ranges::max_element(shape)) > 0.6f, made.key.data());
      // nothing reaches the edge, where a stamp would show its frame
      for (size_t i = 0; i < 512; ++i)
        for (const size_t at : {i, i * 512, i * 512 + 511, 511 * 512 + i})
          QVERIFY2(from16(shape[at]) < 0.23f, made.key.data());
    }
    QVERIFY(!madeStamp("unknown"));
  }
  // What a sample covers is averaged: seen from far the mean of the picture, from near its pixels.
  void samplingAverages() {
    const StampPointer stamp = halfRed();
    QVERIFY(std::abs(stamp->at({-0.5f, 0}, 0.01f).shape - 1) < 0.01f);
    QVERIFY(stamp->at({0.5f, 0}, 0.01f).shape < 0.01f);
    QVERIFY(std::abs(stamp->at({0.01f, 0}, 2).shape - 0.5f) < 0.02f);
    QCOMPARE(stamp->at({-0.5f, 0.6f}, 0.01f).shape, 0.f);
    QVERIFY(stamp->at({-0.5f, 0}, 0.01f).color.r > 0.99f && stamp->at({-0.5f, 0}, 0.01f).color.g < 0.01f);
    QVERIFY(stamp->at({-0.5f, 0.45f}, 0.01f).relief > 0.8f &&
            stamp->at({-0.5f, -0.45f}, 0.01f).relief < -0.8f);
  }
  void pictureFilesBecomeStamps() {
    std::vector<uint32_t> grey(16 * 16, 0xff000000), clear(16 * 16, 0x00ff0000);
    grey[5] = 0xffffffff;
    clear[7] = 0x80ff0000;
    const auto shape = decodeStamp(*encodePng({16, 16}, grey), "grey");
    QVERIFY(shape && !(*shape)->hasColor() && (*shape)->full().shape[5] == 65535 &&
            (*shape)->full().shape[6] == 0);
    const auto colored = decodeStamp(*encodePng({16, 16}, clear, true), "colored");
    QVERIFY(colored && (*colored)->hasColor() && (*colored)->full().shape[7] == 128 * 257);
    // sixteen bits stay sixteen, and heights have their middle at 32768; eight bits have it at 128
    std::vector<Straight16> fine(16 * 16, {32768, 32768, 32768, 65535});
    fine[9] = {40001, 40001, 40001, 65535};
    const auto deep = decodeStamp(*encodePng({16, 16}, clear, true), "x", *encodePng({16, 16}, fine, false));
    QVERIFY(deep && (*deep)->full().relief[9] == 40001 && (*deep)->full().relief[0] == 32768);
    const std::vector<uint32_t> level(16 * 16, 0xff808080);
    const auto plain = decodeStamp(*encodePng({16, 16}, clear, true), "x", *encodePng({16, 16}, level));
    QVERIFY(plain && (*plain)->full().relief[0] == 32768);
    const auto odd = decodeStamp(*encodePng({16, 16}, grey), "x", *encodePng({8, 32}, grey));
    QVERIFY(!odd && odd.error().what.find("8 × 32") != std::string::npos);
    QVERIFY(!decodeStamp("no picture", "x"));
    const std::vector<uint32_t> large(4097 * 2, 0xffffffff);
    const auto tooLarge = decodeStamp(*encodePng({4097, 2}, large), "large");
    QVERIFY(!tooLarge && tooLarge.error().what.find("4096") != std::string::npos);
  }
  void usualBrushesSurviveAFile() {
    const BrushRoll& roll = usualRoll();
    QCOMPARE(roll.size(), size_t{16});
    const auto read = decodedRoll(*encodedRoll(roll), "x");
    QVERIFY2(read, read ? "" : read.error().message().c_str());
    for (size_t i = 0; i < roll.size(); ++i) QVERIFY2((*read)[i] == roll[i], roll[i].name.c_str());
  }
  void ownStampsTravelInside() {
    const RollBrush mine = own();
    const auto text = encodedRoll({mine});
    const auto read = decodedRoll(*text, "x");
    QVERIFY2(read, read ? "" : read.error().message().c_str());
    const StampLevel &before = mine.brush.stamp.stamp->full(),
                     &after = read->front().brush.stamp.stamp->full();
    QVERIFY(after.shape == before.shape && after.relief == before.relief && after.color == before.color);
    QVERIFY(read->front().brush.spread == own().brush.spread);
  }
  void wrongSetsAreToldWhatIsWrong_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("says");
    const auto with = [](const char* brush) {
      return QString(R"({"format": "juvenor brushes 1", "brushes": [{"name": "A", "brush": %1}]})")
          .arg(brush);
    };
    QTest::newRow("no JSON") << "{"
                             << "no JSON";
    QTest::newRow("another format") << R"({"format": "x"})"
                                    << "version";
    QTest::newRow("size") << with(R"({"size": -1})") << "size";
    QTest::newRow("tip") << with(R"({"tip": "oil"})") << "oil";
    QTest::newRow("stamp") << with(R"({"tip": "stamp", "stamp": {"name": "nowhere"}})") << "nowhere";
    QTest::newRow("no stamp") << with(R"({"tip": "stamp"})") << "stamp";
    QTest::newRow("no number") << with(R"({"spread": {"hue": "red"}})") << "hue";
    QTest::newRow("pressure") << with(R"({"pressure": ["wind"]})") << "wind";
    QTest::newRow("no Base64")
        << R"({"format": "juvenor brushes 1", "brushes": [], "stamps": [{"name": "s", "picture": "*"}]})"
        << "Base64";
    QTest::newRow("no picture")
        << R"({"format": "juvenor brushes 1", "brushes": [], "stamps": [{"name": "s", "picture": "Zm9v"}]})"
        << "picture";
  }
  void wrongSetsAreToldWhatIsWrong() {
    QFETCH(QString, text);
    QFETCH(QString, says);
    const auto read = decodedRoll(text.toStdString(), "set");
    QVERIFY(!read);
    QVERIFY2(QString::fromStdString(read.error().message()).contains(says), read.error().message().c_str());
  }
  // Half a set, or one with bytes changed, never does more than be refused.
  void brokenSetsAreRefusedOrRead() {
    const std::string whole = *encodedRoll({own(), usualRoll()[2]});
    std::mt19937 random(4);
    for (int i = 0; i < 300; ++i) {
      std::string broken = whole.substr(0, random() % whole.size());
      if (i % 2) {
        broken = whole;
        for (int k = 0; k < 4; ++k) broken[random() % 900] = static_cast<char>(random());
      }
      (void)decodedRoll(broken, "x");
    }
    QVERIFY(decodedRoll(whole, "x"));
  }
  void fittedBrushesKeepTheirDots() {
    const Brush brush = usualRoll()[2].brush;
    // a head in centimetres
    const Brush on = fitted(brush, 10, 40), back = inMillimetres(on, 10, 40);
    QVERIFY(std::abs(on.radius - brush.radius / 10) < 1e-5f);
    QVERIFY(std::abs(coverOfDensity(on.spray) - coverOfDensity(brush.spray)) < 1e-5f);
    QVERIFY(std::abs(back.spray.density - brush.spray.density) < 1e-5f);
    // a figure two units high whose unit nobody knows
    QVERIFY(fitted(brush, 1, 2).radius < 0.2f);
  }
  // The longer side as wide as the brush, its colours on the left half, its heights beside them.
  void aPlacedStampLiesWhereItWasPut() {
    Brush brush = own().brush;
    brush.radius = 8;
    brush.hardness = 1;
    brush.spread = {};
    SurfacePoint at;
    const Document d = placedOn(test::plane(200, 40), brush, at, Vec3::UnitX());
    const auto& fields = *layerOf(d, d.activeLayer)->source->fields();
    double area = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const Vec3& p = d.surface->positions[s];
      const auto color = fields.color().at(s);
      area += static_cast<double>(from16(color[3]) * d.surface->areas[s]);
      if (std::abs(p.x() + 4) < 3 && std::abs(p.y()) < 3) {
        QVERIFY(color[3] > 65000 && color[0] > 65000 && color[2] < 500);
        const float height = heightOf(fields.get<Channel::Relief>().at(s)[0], d.reliefStep);
        QVERIFY(std::abs(height - 0.5f * p.y() / 4) < 0.06f);
      }
      if (p.x() > 0.5f || std::abs(p.y()) > 4.5f) QCOMPARE(color[3], uint16_t{0});
    }
    QVERIFY2(std::abs(area - 64) < 3, qPrintable(QString::number(area)));
  }
  void aMirroredStampIsAMirrorImage() {
    Brush brush = own().brush;
    brush.radius = 6;
    brush.hardness = 1;
    brush.spread = {};
    brush.mirror = {true, false, false};
    SurfacePoint at;
    at.position = {10, 3, 0};
    const Document d = placedOn(test::plane(200, 40), brush, at, Vec3(1, 0.6f, 0));
    const auto& field = *layerOf(d, d.activeLayer)->source->painted();
    size_t covered = 0, off = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const Vec3& p = d.surface->positions[s];
      if (p.x() <= 0) continue;
      const auto other = *nearestSample(*d.surface, {-p.x(), p.y(), 0}, 1);
      covered += field.at(s)[3] > 30000;
      off += std::abs(field.at(s)[3] - field.at(other)[3]) > 3000;
    }
    QVERIFY(covered > 300);
    QVERIFY2(off * 50 < covered, qPrintable(QString("%1 of %2").arg(off).arg(covered)));
  }
};

JUVENOR_TEST(TestRoll)
}  // namespace juvenor
#include "test_roll.moc"
