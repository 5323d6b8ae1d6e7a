// Layers to a painting program and back: the file is what the OpenRaster specification says, what was not
// touched stays to the bit, what was comes back as paint on the layer it came from, and what is no such file
// is told.
#include <zip.h>

#include "core/color/lab.h"
#include "core/document/edits/edits.h"
#include "core/files.h"
#include "core/layers/sources/fill.h"
#include "core/photo/picture_file.h"
#include "core/textures/open_raster.h"
#include "core/textures/picture_layers.h"
#include "core/zip_archive.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr int kPixels = 256;

template <class T>
T orDie(Result<T> result) {
  if (!result) qFatal("%s", result.error().message().c_str());
  return std::move(*result);
}

Document dressed() {
  Sculpt sculpt = test::plane(80, 100);
  UvSet uv{"UV", {}, sculpt.corners};
  for (const Vec3& v : sculpt.vertices) uv.coordinates.emplace_back(v.x() / 100 + 0.5f, v.y() / 100 + 0.5f);
  sculpt.uvSets = {uv};
  Document d = withFillLayer(test::documentOf(sculpt), "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f});
  d = withPaintedLayer(d, "Paint", Stratum::Pigment);
  d = orDie(withFilled(d, d.activeLayer, {0.2f, 0.6f, 0.3f}, 0.5f));
  LayerChange change;
  change.opacity = 0.75f;
  change.blend = BlendMode::Multiply;
  d = orDie(withLayerChanged(d, d.activeLayer, change));
  // a name of its own, as others' programs want it
  const Document twice = withPaintedLayer(d, "Paint", Stratum::Surface);
  return orDie(withFilled(twice, twice.activeLayer, {0.9f, 0.9f, 0.2f}, 0.3f));
}

LayersToSend wish() {
  LayersToSend out;
  out.pixels = kPixels;
  return out;
}

std::string sentOrDie(const Document& d) {
  auto out = sentLayers(d, wish());
  if (!out) qFatal("%s", out.error().message().c_str());
  return std::move(out->picture);
}

// The right half of a layer's picture in another colour.
std::string changed(const std::string& bytes, size_t layer, uint32_t color) {
  RasterPicture picture = orDie(openRasterFrom(bytes));
  const PicturePointer before = orDie(decodePicture(picture.layers[layer].png, "layer"));
  std::vector<uint32_t> pixels = before->pixels;
  for (int y = 0; y < before->height; ++y)
    for (int x = before->width / 2; x < before->width; ++x)
      pixels[static_cast<size_t>(y) * static_cast<size_t>(before->width) + static_cast<size_t>(x)] = color;
  picture.layers[layer].png = orDie(encodePng({before->width, before->height}, pixels, true));
  return orDie(openRasterBytes(picture));
}

}  // namespace

class TestPictureLayers : public QObject {
  Q_OBJECT
 private slots:
  // OpenRaster 0.0.6, "File layout": mimetype first and stored, stack.xml, data, Thumbnails, mergedimage.png.
  void theFileIsWhatTheStandardSays() {
    const std::string bytes = sentOrDie(dressed());
    // the name and the words of a stored first entry stand at these places of a zip (APPNOTE 4.3.7)
    QCOMPARE(bytes.substr(30, 8), std::string("mimetype"));
    QCOMPARE(bytes.substr(38, 16), std::string("image/openraster"));
    zip_error_t error;
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    zip_t* zip = zip_open_from_source(source, ZIP_RDONLY | ZIP_CHECKCONS, &error);
    QVERIFY(zip);
    for (const char* name :
         {"mimetype", "stack.xml", "mergedimage.png", "Thumbnails/thumbnail.png", "data/layer0.png"})
      QVERIFY2(zip_name_locate(zip, name, 0) >= 0, name);
    zip_discard(zip);
    const auto read = openRasterFrom(bytes);
    QVERIFY2(read, read ? "" : read.error().message().c_str());
    const RasterPicture picture = *read;
    QCOMPARE(picture.width, kPixels);
    QCOMPARE(picture.layers.size(), size_t{3});
    // topmost first, names apart
    QCOMPARE(picture.layers[0].name, std::string("Paint (2)"));
    QCOMPARE(picture.layers[1].name, std::string("Paint"));
    QCOMPARE(picture.layers[1].operation, std::string("svg:multiply"));
    QCOMPARE(picture.layers[1].opacity, 0.75f);
    QCOMPARE(picture.layers[2].name, std::string("Tone"));
    const PicturePointer small = orDie(decodePicture(
        orDie(orDie(ZipReader::open(bytes)).read("Thumbnails/thumbnail.png", 1 << 20)), "thumbnail"));
    QVERIFY(small->width <= 256 && small->height <= 256);
    const PicturePointer own = orDie(decodePicture(picture.layers[1].png, "layer"));
    const Straight16 pixel = own->straight(static_cast<size_t>(kPixels * kPixels / 2 + kPixels / 2));
    QVERIFY(std::abs(int{pixel.a} - 32768) < 300 && std::abs(int{pixel.g} - int{to16(0.6f)}) < 300);
  }
  void whatWasNotTouchedStaysToTheBit() {
    const Document d = dressed();
    const std::string sent = sentOrDie(d);
    const auto same = withReturnedLayers(d, sent, sent, wish());
    QVERIFY(same && same->painted.empty() && same->added.empty() && same->missing.empty());
    // packed anew by another program, with the same pixels
    RasterPicture again = orDie(openRasterFrom(sent));
    for (RasterLayer& layer : again.layers) {
      const PicturePointer pixels = orDie(decodePicture(layer.png, "layer"));
      layer.png = orDie(encodePng({pixels->width, pixels->height}, pixels->pixels, true));
      layer.id = 0;
    }
    const auto back = withReturnedLayers(d, orDie(openRasterBytes(again)), sent, wish());
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    QVERIFY(back->painted.empty() && back->added.empty());
  }
  void whatWasChangedComesBackOnItsLayer() {
    const Document d = dressed();
    const std::string sent = sentOrDie(d);
    const auto back = withReturnedLayers(d, changed(sent, 0, 0xff2040c0), sent, wish());
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    QCOMPARE(back->painted, std::vector<std::string>{"Paint"});
    QVERIFY(back->added.empty());
    const uint32_t top = d.layers.back()->id, below = d.layers[1]->id;
    QCOMPARE(layerOf(back->document, below)->source, layerOf(d, below)->source);
    const ColorField &before = *layerOf(d, top)->source->painted(),
                     &after = *layerOf(back->document, top)->source->painted();
    size_t right = 0, left = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const float x = d.surface->positions[s].x();
      if (x < -2) {
        QCOMPARE(after.at(s), before.at(s));
        ++left;
      } else if (x > 2 && x < 48) {
        const Rgba16 c = colorAt(after, s);
        QVERIFY2(std::abs(int{c.a} - 65535) < 400,
                 qPrintable(QString("%1 at %2 %3").arg(c.a).arg(x).arg(d.surface->positions[s].y())));
        QVERIFY(deltaE2000(toLab(straight(c)), toLab(*fromHex("#2040c0"))) < 1);
        ++right;
      }
    }
    QVERIFY(right > 2000 && left > 2000);
  }
  // A layer that is worked out cannot be painted: its change lies over it. One that is cut out and moved lies
  // where it is.
  void othersBecomeLayers() {
    const Document d = dressed();
    const std::string sent = sentOrDie(d);
    RasterPicture picture = orDie(openRasterFrom(changed(sent, 2, 0xffa03020)));
    RasterLayer fresh;
    fresh.name = "New";
    fresh.left = 64;
    fresh.top = 32;
    fresh.opacity = 0.5f;
    fresh.operation = "svg:screen";
    fresh.png = orDie(encodePng({32, 32}, std::vector<uint32_t>(32 * 32, 0xff10f010), true));
    picture.layers.insert(picture.layers.begin(), fresh);
    picture.layers.erase(picture.layers.begin() + 2);
    const auto back = withReturnedLayers(d, orDie(openRasterBytes(picture)), sent, wish());
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    QVERIFY(back->painted.empty());
    QCOMPARE(back->added, (std::vector<std::string>{"Tone, painted over", "New"}));
    QCOMPARE(back->missing, std::vector<std::string>{"Paint"});
    QCOMPARE(back->document.layers.size(), d.layers.size() + 2);
    LayerPointer made;
    for (const LayerPointer& layer : back->document.layers)
      if (layer->name == "New") made = layer;
    QVERIFY(made && made->blend == BlendMode::Screen && made->opacity == 0.5f);
    // pixels 64 … 95 from the left are u 0.25 … 0.375, 32 … 63 from the top v 0.75 … 0.875
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const Vec3& p = d.surface->positions[s];
      const bool inside = p.x() > -24 && p.x() < -13.5f && p.y() > 26 && p.y() < 36.5f;
      const bool outside = p.x() < -26 || p.x() > -11.5f || p.y() < 24 || p.y() > 38.5f;
      const uint16_t alpha = made->source->painted()->at(s)[3];
      if (inside) QVERIFY(alpha > 65000);
      if (outside) QCOMPARE(alpha, uint16_t{0});
    }
    // without what went out all of it is new
    const auto foreign = withReturnedLayers(d, sent, {}, wish());
    QVERIFY(foreign && foreign->added.size() == 3 && foreign->painted.empty());
  }
  // Under a mask that hides half, what is painted there comes back as strong as it was painted.
  void masksCountForWhatIsSeen() {
    Document d = dressed();
    const uint32_t top = d.layers.back()->id;
    d = orDie(withMask(d, top));
    d = orDie(withMaskFilled(d, top, 0.5f, 1, kNone));
    const std::string sent = sentOrDie(d);
    // half of it is seen: 0x80 there is all of the paint
    const auto back = withReturnedLayers(d, changed(sent, 0, 0x80c02020), sent, wish());
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    const ColorField& after = *layerOf(back->document, top)->source->painted();
    const auto mask = from16(layerOf(d, top)->mask->at(0)[0]);
    size_t seen = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      if (d.surface->positions[s].x() < 2 || d.surface->positions[s].x() > 48) continue;
      QVERIFY2(std::abs(from16(after.at(s)[3]) * mask - 128 / 255.f) < 0.01f,
               qPrintable(QString("%1, mask %2").arg(from16(after.at(s)[3])).arg(mask)));
      ++seen;
    }
    QVERIFY(seen > 2000);
  }
  void whatIsNoPictureIsTold_data() {
    QTest::addColumn<int>("what");
    QTest::addColumn<QString>("says");
    QTest::newRow("nothing") << 0 << "is no OpenRaster picture";
    QTest::newRow("cut off") << 1 << "is no OpenRaster picture";
    QTest::newRow("another size") << 2 << "went out with";
    QTest::newRow("a missing layer picture") << 3 << "is missing";
    QTest::newRow("a damaged layer picture") << 4 << "";
    QTest::newRow("no layer that brings colour") << 5 << "there is no layer 99";
    QTest::newRow("an empty tile") << 6 << "nothing lies in tile 1002";
  }
  void whatIsNoPictureIsTold() {
    QFETCH(int, what);
    QFETCH(QString, says);
    const Document d = dressed();
    const std::string sent = sentOrDie(d);
    RasterPicture picture = orDie(openRasterFrom(sent));
    LayersToSend other = wish();
    Result<ReturnedLayers> back = Error{"not tried"};
    if (what == 0) back = withReturnedLayers(d, "PK", sent, wish());
    if (what == 1) back = withReturnedLayers(d, sent.substr(0, sent.size() / 2), sent, wish());
    if (what == 2) {
      picture.width = picture.height = 128;
      back = withReturnedLayers(d, orDie(openRasterBytes(picture)), sent, wish());
    }
    if (what == 3) {
      picture.layers[0].png.clear();
      back = withReturnedLayers(d, orDie(openRasterBytes(picture)), sent, wish());
    }
    if (what == 4) {
      picture.layers[0].png.resize(picture.layers[0].png.size() / 2);
      back = withReturnedLayers(d, orDie(openRasterBytes(picture)), sent, wish());
    }
    Error told{""};
    if (what < 5) {
      QVERIFY(!back);
      told = back.error();
    } else {
      if (what == 5) other.layers = {99};
      if (what == 6) other.tile = 1002;
      const auto none = sentLayers(d, other);
      QVERIFY(!none);
      told = none.error();
    }
    QVERIFY2(!told.message().empty() && QString::fromStdString(told.message()).contains(says),
             told.message().c_str());
  }
};

JUVENOR_TEST(TestPictureLayers)
}  // namespace juvenor
#include "test_picture_layers.moc"
