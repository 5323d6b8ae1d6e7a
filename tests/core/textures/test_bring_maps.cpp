// Maps onto the skin: what went out comes back, heights from normals against the heights they are of, tiles,
// masks, alpha, and pictures that are none.
#include <OpenImageIO/imageio.h>

#include <cmath>

#include "core/color/lab.h"
#include "core/document/edits/edits.h"
#include "core/files.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/painted.h"
#include "core/textures/bring_maps.h"
#include "core/textures/hand_on.h"
#include "support/brought.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// An unrolled tube: a cut where it closes, two tiles one above the other.
Sculpt tube(int around, int rows) {
  Sculpt out;
  out.name = out.parts.emplace_back("Tube");
  out.polygonStart = {0};
  UvSet uv{"UV", {}, {}};
  for (int y = 0; y <= rows; ++y)
    for (int x = 0; x <= around; ++x) {
      const float a = 2 * static_cast<float>(M_PI) * static_cast<float>(x) / static_cast<float>(around);
      const float h = static_cast<float>(y) / static_cast<float>(rows);
      if (x < around) out.vertices.emplace_back(10 * std::sin(a), 60 * h, 10 * std::cos(a));
      // a little apart where the tiles meet
      const float v = h < 0.5f ? 0.05f + 1.8f * h : 1.05f + 1.8f * (h - 0.5f);
      uv.coordinates.emplace_back(0.05f + 0.9f * static_cast<float>(x) / static_cast<float>(around), v);
    }
  const auto lower = static_cast<uint32_t>(uv.coordinates.size());
  for (int x = 0; x <= around; ++x)
    uv.coordinates.emplace_back(0.05f + 0.9f * static_cast<float>(x) / static_cast<float>(around), 0.95f);
  for (int y = 0; y < rows; ++y)
    for (int x = 0; x < around; ++x) {
      const int corners[4][2] = {{x, y}, {x + 1, y}, {x + 1, y + 1}, {x, y + 1}};
      for (const auto& c : corners) {
        out.corners.push_back(static_cast<uint32_t>(c[1] * around + c[0] % around));
        const bool meets = c[1] == rows / 2 && y < rows / 2;
        uv.corner.push_back(meets ? lower + static_cast<uint32_t>(c[0])
                                  : static_cast<uint32_t>(c[1] * (around + 1) + c[0]));
      }
      out.polygonStart.push_back(static_cast<uint32_t>(out.corners.size()));
      out.polygonPart.push_back(0);
    }
  out.uvSets = {uv};
  return out;
}

// Soft waves in every channel.
Document dressed(const Sculpt& sculpt) {
  Document d = test::documentOf(sculpt);
  ChannelFields fields(d.surface->size());
  const auto fill = [&](auto& field, auto valueOf) {
    for (size_t c = 0; c < field.chunkCount(); ++c) {
      auto chunk = field.writable(c);
      for (size_t s = c * kChunkSize; s < std::min(field.size(), (c + 1) * kChunkSize); ++s) {
        const auto value = valueOf(d.surface->positions[s]);
        for (size_t p = 0; p < value.size(); ++p) chunk->plane[p][s % kChunkSize] = value[p];
      }
      field.setChunk(c, std::move(chunk));
    }
  };
  const auto wave = [](float x) { return 0.5f + 0.4f * std::sin(x); };
  fill(fields.color(), [&](const Vec3& p) {
    return std::array<uint16_t, 4>{to16(wave(0.4f * p.y())), to16(wave(0.7f * p.x())), to16(0.3f), 65535};
  });
  fill(fields.get<Channel::Gloss>(), [&](const Vec3& p) {
    return std::array<uint16_t, 2>{to16(wave(0.3f * p.y() + 1)), 65535};
  });
  fill(fields.get<Channel::Metal>(), [&](const Vec3& p) {
    return std::array<uint16_t, 2>{to16(wave(0.5f * p.z())), 65535};
  });
  fill(fields.get<Channel::Relief>(), [&](const Vec3& p) {
    return std::array<uint16_t, 1>{height16(0.2f * std::sin(0.8f * p.y()), d.reliefStep)};
  });
  return withSourceLayer(d, "Waves", Stratum::Surface, paintedSource(std::move(fields)));
}

HandOn wishFor(const test::Folder& folder, std::initializer_list<TextureKind> kinds) {
  HandOn out;
  out.folder = folder.path();
  out.name = "skin";
  out.pixels = 1024;
  for (const TextureKind kind : kinds) out.maps.push_back({TextureWish(kind), MapDepth::Whole16});
  return out;
}

ChannelFields skinOnly(const Document& d) {
  return *skinOf(d.layers, *d.maps, d.bare);
}

}  // namespace

class TestBringMaps : public QObject {
  Q_OBJECT
 private slots:
  void whatWentOutComesBack() {
    const test::Folder folder;
    const Document d = dressed(tube(160, 240));
    const HandOn wish = wishFor(
        folder, {TextureKind::Colour, TextureKind::Roughness, TextureKind::Metal, TextureKind::Height});
    const auto out = handOn(d, wish);
    QVERIFY2(out, out ? "" : out.error().message().c_str());
    QCOMPARE(out->tiles, (std::vector{1001, 1011}));
    const Document bare = test::documentOf(*d.sculpt);
    const auto back = withMaps(bare, 0,
                               {test::brought(BringAs::Colour, folder / "skin_colour.1001.png"),
                                test::brought(BringAs::Roughness, folder / "skin_roughness.1011.png"),
                                test::brought(BringAs::Metal, folder / "skin_metal.1001.png"),
                                test::brought(BringAs::Height, folder / "skin_height.1001.png")},
                               "Back");
    QVERIFY2(back, back ? "" : back.error().message().c_str());
    QCOMPARE(back->bare, size_t{0});
    QVERIFY(back->texelsAPoint > 2);
    const ChannelFields before = skinOnly(d), after = skinOnly(back->document);
    double sum = 0, worst = 0;
    float gloss = 0, metal = 0, relief = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const double away =
          deltaE2000(toLab(straight(colorAt(before.color(), s))), toLab(straight(colorAt(after.color(), s))));
      sum += away;
      worst = std::max(worst, away);
      const auto apart = [&](auto c) {
        return std::abs(from16(before.get<c()>().at(s)[0]) - from16(after.get<c()>().at(s)[0]));
      };
      gloss = std::max(gloss, apart(ChannelConstant<Channel::Gloss>()));
      metal = std::max(metal, apart(ChannelConstant<Channel::Metal>()));
      relief = std::max(relief, apart(ChannelConstant<Channel::Relief>()) * 65535 * d.reliefStep);
    }
    sum /= static_cast<double>(d.surface->size());
    QVERIFY2(sum < 0.35 && worst < 3, qPrintable(QString("mean %1, worst %2").arg(sum).arg(worst)));
    // (at the open rims half of what a point covers lies beyond the skin)
    QVERIFY2(gloss < 2 / 255.f && metal < 2 / 255.f, qPrintable(QString("%1 %2").arg(gloss).arg(metal)));
    // the range is 0.4; the rim of a cut is asked half a texel inside
    QVERIFY2(relief < 0.02f * 0.4f, qPrintable(QString::number(relief)));
  }
  // What is known of a wave by its normals alone.
  void heightsComeFromNormals() {
    const test::Folder folder;
    const Document d = dressed(tube(160, 240));
    HandOn wish = wishFor(folder, {TextureKind::Normal});
    wish.normals = NormalsFrom::Relief;
    for (const bool greenUp : {true, false}) {
      wish.greenUp = greenUp;
      wish.force = true;
      QVERIFY(handOn(d, wish));
      const Document bare = test::documentOf(*d.sculpt);
      BroughtMap normal = test::brought(BringAs::Normal, folder / "skin_normal.1001.png");
      normal.greenUp = greenUp;
      const auto back = withMaps(bare, 0, {normal}, "Back");
      QVERIFY2(back, back ? "" : back.error().message().c_str());
      const ChannelFields after = skinOnly(back->document);
      double mean = 0;
      std::vector<double> heights;
      for (size_t s = 0; s < d.surface->size(); ++s)
        mean += 0.2 * std::sin(0.8 * static_cast<double>(d.surface->positions[s].y()));
      mean /= static_cast<double>(d.surface->size());
      double worst = 0, squares = 0;
      for (size_t s = 0; s < d.surface->size(); ++s) {
        const double wanted = 0.2 * std::sin(0.8 * static_cast<double>(d.surface->positions[s].y())) - mean;
        const double away =
            static_cast<double>(heightOf(after.get<Channel::Relief>().at(s)[0], d.reliefStep)) - wanted;
        worst = std::max(worst, std::abs(away));
        squares += away * away;
      }
      const double typical = std::sqrt(squares / static_cast<double>(d.surface->size()));
      QVERIFY2(typical < 0.01 && worst < 0.04,
               qPrintable(QString("%1, worst %2 of 0.4").arg(typical).arg(worst)));
    }
  }
  // Red where a picture is opaque, nothing where it is clear; a missing tile leaves its points bare.
  void clearPixelsCoverNothing() {
    const test::Folder folder;
    std::vector<uint8_t> pixels(64 * 64 * 4);
    for (size_t i = 0; i < 64 * 64; ++i) {
      pixels[4 * i] = 200;
      pixels[4 * i + 3] = i % 64 < 32 ? 255 : 0;
    }
    const auto file = (folder / "red.1001.png").string();
    const auto out = OIIO::ImageOutput::create(file);
    OIIO::ImageSpec spec(64, 64, 4, OIIO::TypeDesc::UINT8);
    spec.attribute("oiio:UnassociatedAlpha", 1);
    QVERIFY(out && out->open(file, spec) && out->write_image(OIIO::TypeDesc::UINT8, pixels.data()) &&
            out->close());
    const Document bare = test::documentOf(tube(80, 120));
    const auto back = withMaps(bare, 0, {test::brought(BringAs::Colour, file)}, "Red");
    QVERIFY(back);
    QVERIFY(back->bare > bare.surface->size() / 3 && back->bare < bare.surface->size() * 2 / 3);
    const ChannelFields after = skinOnly(back->document);
    size_t red = 0, grey = 0;
    for (size_t s = 0; s < bare.surface->size(); ++s) {
      const Vec3& p = bare.surface->positions[s];
      const EncodedColor c = straight(colorAt(after.color(), s));
      // around from +z over +x: u below a half is x above 0
      if (p.y() > 29 || std::abs(p.x()) < 2) continue;
      red += p.x() > 0 && c.r > 0.77f && c.g < 0.01f;
      grey += p.x() < 0 && std::abs(c.g - bare.bare.g) < 0.01f;
    }
    QVERIFY2(red > 1500 && grey > 1500, qPrintable(QString("%1 %2").arg(red).arg(grey)));
  }
  void aMaskCoversItsLayer() {
    const test::Folder folder;
    const Document d = dressed(tube(80, 120));
    QVERIFY(handOn(d, wishFor(folder, {TextureKind::Colour, TextureKind::Gloss})));
    const auto back = withMaps(d, 0,
                               {test::brought(BringAs::Colour, folder / "skin_colour.1001.png"),
                                test::brought(BringAs::Mask, folder / "skin_gloss.1001.png")},
                               "Masked");
    QVERIFY(back);
    const LayerPointer layer = layerOf(back->document, back->document.activeLayer);
    QVERIFY(layer && layer->mask && layer->name == "Masked");
    const ChannelFields skin = skinOnly(d);
    for (size_t s = 0; s < d.surface->size(); s += 17) {
      const float is = from16(layer->mask->at(s)[0]), wanted = from16(skin.get<Channel::Gloss>().at(s)[0]);
      QVERIFY2(std::abs(is - wanted) < 0.02f, qPrintable(QString("%1, wanted %2 at %3 %4 %5")
                                                             .arg(is)
                                                             .arg(wanted)
                                                             .arg(d.surface->positions[s].x())
                                                             .arg(d.surface->positions[s].y())
                                                             .arg(d.surface->positions[s].z())));
    }
  }
  void namesSayWhatMapsAre() {
    const std::pair<const char*, BringAs> known[] = {{"keeper_colour.1001.png", BringAs::Colour},
                                                     {"Head_Roughness.tif", BringAs::Roughness},
                                                     {"head_NRM.png", BringAs::Normal},
                                                     {"rough_skin_albedo.png", BringAs::Colour},
                                                     {"x_metallic.png", BringAs::Metal},
                                                     {"x_displacement.exr", BringAs::Height},
                                                     {"gloss.png", BringAs::Gloss},
                                                     {"photo.jpg", BringAs::Colour},
                                                     {"x_clearcoat.png", BringAs::Coat},
                                                     {"x_fuzz.png", BringAs::Fuzz},
                                                     {"x_wander.png", BringAs::Wander},
                                                     {"lips_mask.png", BringAs::Mask}};
    for (const auto& [name, as] : known) QVERIFY2(bringAsByName(name) == as, name);
  }
  void whatIsNoMapIsTold_data() {
    QTest::addColumn<int>("what");
    QTest::addColumn<QString>("says");
    QTest::addRow("no file") << 0 << "no such file";
    QTest::addRow("an empty file") << 1 << "is no picture";
    QTest::addRow("a cut off picture") << 2 << "is damaged";
    QTest::addRow("a plane it has not") << 3 << "holds 1 values a pixel, 3 are needed";
    QTest::addRow("two maps of one channel") << 4 << "two maps would fill the Gloss";
    QTest::addRow("no UVs") << 5 << "has no UVs";
    QTest::addRow("no map") << 6 << "no map is chosen";
  }
  void whatIsNoMapIsTold() {
    QFETCH(int, what);
    QFETCH(QString, says);
    const test::Folder folder;
    Document d = dressed(tube(24, 24));
    HandOn wish = wishFor(folder, {TextureKind::Gloss});
    wish.pixels = 64;
    QVERIFY(handOn(d, wish));
    const auto file = folder / "skin_gloss.1001.png";
    std::vector<BroughtMap> maps{test::brought(BringAs::Gloss, file)};
    if (what == 0) maps[0].tiles = {{1001, {"x.png", {}, folder / "x.png"}}};
    if (what == 1) QVERIFY(writeBytes(file, ""));
    if (what == 2) QVERIFY(writeBytes(file, readBytes(file)->substr(0, 90)));
    if (what == 3) maps[0].as = BringAs::Normal;
    if (what == 4) maps.push_back(test::brought(BringAs::Roughness, file));
    if (what == 5) {
      Sculpt plain = *d.sculpt;
      plain.uvSets.clear();
      d = test::documentOf(plain);
    }
    if (what == 6) maps.clear();
    const auto done = withMaps(d, 0, maps, "None");
    QVERIFY(!done);
    QVERIFY2(QString::fromStdString(done.error().message()).contains(says), done.error().message().c_str());
  }
};

JUVENOR_TEST(TestBringMaps)
}  // namespace juvenor
#include "test_bring_maps.moc"
