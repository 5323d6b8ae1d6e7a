// Fields share chunks; the vector build of the blend modes agrees with the plain reading; the composite works
// out only what changed.
#include "core/document/edits/edits.h"
#include "core/layers/composite/blend_chunk.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/markings.h"
#include "core/layers/sources/ramp.h"
#include "core/layers/sources/zones.h"
#include "support/made.h"
#include "support/run_all.h"
#include "support/sanitized.h"

namespace juvenor {
namespace {

ColorChunk randomChunk(uint32_t seed, bool opaque) {
  std::mt19937 random(seed);
  ColorChunk c;
  for (size_t i = 0; i < kChunkSize; ++i) {
    // corners of the value range come often, the rest is even
    const auto channel = [&](uint32_t alpha) -> uint16_t {
      switch (random() % 6) {
        case 0:
          return 0;
        case 1:
          return static_cast<uint16_t>(alpha);
        default:
          return static_cast<uint16_t>(random() % (alpha + 1));
      }
    };
    const uint32_t a = opaque ? 65535 : random() % 5 == 0 ? 0 : random() % 65536;
    setSample(c, i, {channel(a), channel(a), channel(a), static_cast<uint16_t>(a)});
  }
  return c;
}

Pixel pixelOf(const Rgba16& s, float scale = 1) {
  return {from16(s.r) * scale, from16(s.g) * scale, from16(s.b) * scale, from16(s.a) * scale};
}

float furthest(const Pixel& a, const Rgba16& b) {
  return std::max({std::abs(a.r - from16(b.r)), std::abs(a.g - from16(b.g)), std::abs(a.b - from16(b.b)),
                   std::abs(a.a - from16(b.a))});
}

}  // namespace

// The source in place of one of its kind, or on a new layer.
Document setOrAdded(const Document& d, const SourcePointer& source) {
  for (const LayerPointer& l : d.layers)
    if (&l->source->kind() == &source->kind() && !l->locked) return *withSource(d, l->id, source);
  return withSourceLayer(d, "marking", Stratum::Pigment, source);
}

class TestLayers : public QObject {
  Q_OBJECT
 private slots:
  void unwrittenChunksCostNothing() {
    ScalarField field(10'000, {77});
    QCOMPARE(field.chunkCount(), size_t{3});
    QCOMPARE(field.at(9'999)[0], uint16_t{77});
    QVERIFY(!field.chunk(2));
    auto chunk = field.writable(2);
    QCOMPARE(chunk->plane[0][5], uint16_t{77});
    chunk->plane[0][5] = 1;
    const ScalarField before = field;
    field.setChunk(2, chunk);
    QCOMPARE(field.at(2 * kChunkSize + 5)[0], uint16_t{1});
    QCOMPARE(before.at(2 * kChunkSize + 5)[0], uint16_t{77});
    QCOMPARE(before.chunk(0), field.chunk(0));
  }
  void chunksBlendAsPixelsDo_data() {
    QTest::addColumn<int>("mode");
    for (int m = 0; m < kBlendModeCount; ++m)
      QTest::newRow(blendModeKey(static_cast<BlendMode>(m)).data()) << m;
  }
  void chunksBlendAsPixelsDo() {
    QFETCH(int, mode);
    const auto m = static_cast<BlendMode>(mode);
    ScalarChunk mask;
    std::mt19937 random(5);
    for (uint16_t& v : mask.plane[0]) v = static_cast<uint16_t>(random());
    for (const bool opaque : {true, false})
      for (const ScalarChunk* use :
           {static_cast<const ScalarChunk*>(nullptr), static_cast<const ScalarChunk*>(&mask)}) {
        const ColorChunk source = randomChunk(1, false), back = randomChunk(2, opaque);
        ColorChunk out = back;
        blendChunk(m, out, source, use, 0.7f);
        for (size_t i = 0; i < kChunkSize; ++i) {
          const float scale = 0.7f * (use ? from16(mask.plane[0][i]) : 1.f);
          const Pixel expected = blend(m, pixelOf(sampleOf(back, i)), pixelOf(sampleOf(source, i), scale));
          const float off = furthest(expected, sampleOf(out, i));
          // dividing by the smallest steps of 16 bits magnifies rounding; tables are looked up in whole
          // numbers
          QVERIFY2(off < (isSkinTint(m) ? 4e-4f : 4e-5f),
                   qPrintable(QString("sample %1 is off by %2").arg(i).arg(static_cast<double>(off))));
        }
      }
  }
  // Layers of one of skin's own modes on each other are one film: what they come to is looked up once, and
  // what one layer could not bring is brought in steps.
  void neighbouringTintsAreOneFilm() {
    for (const BlendMode mode : {BlendMode::Blood, BlendMode::LiftMelanin, BlendMode::Yellow}) {
      Document d = test::documentOf(test::plane(10, 1));
      std::vector<float> alphas{0.3f, 0.25f, 0.7f};
      for (const float alpha : alphas) {
        d = withSourceLayer(d, "wash", Stratum::Pigment, fillSource(EncodedColor{1, 0, 0}));
        LayerChange change;
        change.blend = mode;
        change.opacity = alpha;
        d = *withLayerChanged(d, d.activeLayer, change);
      }
      const auto colorWith = [&](size_t layers) {
        Document e = d;
        e.layers.resize(layers);
        return straight(colorAt(*compositeOf(e.layers, *e.maps, e.bare), 0));
      };
      const SkinTint& tint = *skinTintOf(mode);
      const auto off = [](const EncodedColor& a, const EncodedColor& b) {
        return std::max({std::abs(a.r - b.r), std::abs(a.g - b.g), std::abs(a.b - b.b)});
      };
      QVERIFY(off(colorWith(2), tint(d.bare, 0.55f)) < 4e-4f);
      QVERIFY(off(colorWith(3), tint(tint(d.bare, 1), 0.25f)) < 8e-4f);
      // one that lies between them parts them
      LayerChange apart;
      apart.blend = mode == BlendMode::Blood ? BlendMode::Melanin : BlendMode::Blood;
      const Document parted = *withLayerChanged(d, d.layers[1]->id, apart);
      const EncodedColor sequence = tint((*skinTintOf(*apart.blend))(tint(d.bare, 0.3f), 0.25f), 0.7f);
      QVERIFY(off(straight(colorAt(*compositeOf(parted.layers, *d.maps, d.bare), 0)), sequence) < 8e-4f);
    }
  }
  // Beer-Lambert: absorbance adds, so two films of half the depth are one of the whole.
  void twoHalfStainsAreOneWhole() {
    for (uint32_t seed = 0; seed < 4; ++seed) {
      const ColorChunk source = [&] {
        ColorChunk c = randomChunk(seed, true);
        return c;
      }();
      const ColorChunk back = randomChunk(seed + 50, true);
      ColorChunk once = back, twice = back;
      blendChunk(BlendMode::Stain, once, source, nullptr, 0.8f);
      blendChunk(BlendMode::Stain, twice, source, nullptr, 0.4f);
      blendChunk(BlendMode::Stain, twice, source, nullptr, 0.4f);
      for (size_t i = 0; i < kChunkSize; ++i) {
        const Rgba16 a = sampleOf(once, i), b = sampleOf(twice, i);
        // the value in between is rounded to 16 bits, which near black is worth more after the second film
        QVERIFY(std::abs(a.r - b.r) <= 12 && std::abs(a.g - b.g) <= 12 && std::abs(a.b - b.b) <= 12);
      }
    }
  }
  // Every backdrop under films from clear to black, thin and thick: also where the encoded curve is straight,
  // on both sides of that place, and where lanes of both lie side by side.
  void stainsHoldOnEveryBackdrop() {
    for (const uint16_t film : {0, 2000, 2651, 2680, 9000, 40000, 65000, 65535})
      for (const float depth : {0.02f, 0.35f, 1.f})
        for (uint32_t first = 0; first < 65536; first += (test::kSanitized ? 8 : 1) * kChunkSize) {
          ColorChunk source, out;
          for (size_t i = 0; i < kChunkSize; ++i) {
            // neighbours far apart, so that no vector is dark or light alone
            const auto back = static_cast<uint16_t>((first + i) * 40503u);
            setSample(source, i, {film, 65535, film, 65535});
            setSample(out, i, {back, back, static_cast<uint16_t>(first + i), 65535});
          }
          const ColorChunk before = out;
          blendChunk(BlendMode::Stain, out, source, nullptr, depth);
          for (size_t i = 0; i < kChunkSize; ++i) {
            const Pixel expected =
                blend(BlendMode::Stain, pixelOf(sampleOf(before, i)), pixelOf(sampleOf(source, i), depth));
            const float off = furthest(expected, sampleOf(out, i));
            QVERIFY2(off < 2.5e-5f, qPrintable(QString("film %1, depth %2, backdrop %3: off by %4")
                                                   .arg(film)
                                                   .arg(static_cast<double>(depth))
                                                   .arg(first + i)
                                                   .arg(static_cast<double>(off))));
          }
        }
  }
  void nothingOnTopChangesNothing() {
    for (int m = 0; m < kBlendModeCount; ++m) {
      const ColorChunk back = randomChunk(9, true), empty;
      ColorChunk out = back;
      blendChunk(static_cast<BlendMode>(m), out, empty, nullptr, 1);
      for (size_t i = 0; i < kChunkSize; ++i) {
        const Rgba16 a = sampleOf(back, i), b = sampleOf(out, i);
        QVERIFY(std::abs(a.r - b.r) <= 1 && std::abs(a.g - b.g) <= 1 && std::abs(a.b - b.b) <= 1 &&
                b.a == 65535);
      }
    }
  }
  void modesHaveKeysBothWays() {
    for (int m = 0; m < kBlendModeCount; ++m) {
      const auto mode = static_cast<BlendMode>(m);
      QVERIFY(blendModeFromKey(blendModeKey(mode)) == mode);
      QVERIFY(!blendModeLabel(mode).empty());
    }
    QVERIFY(!blendModeFromKey("no-such-mode"));
  }
  void compositeGoesFromBareToTop() {
    Document d = test::documentOf(test::plane(80, 1));
    d.layers.clear();
    const ColorField bare = *compositeOf(d.layers, *d.maps, {0.25f, 0.5f, 0.75f});
    QCOMPARE(colorAt(bare, 100), opaque16({0.25f, 0.5f, 0.75f}));
    d = withFillLayer(d, "red", Stratum::Flesh, {1, 0, 0});
    d = withFillLayer(d, "blue", Stratum::Surface, {0, 0, 1});
    LayerChange half;
    half.opacity = 0.5f;
    d = *withLayerChanged(d, d.activeLayer, half);
    const Rgba16 purple = colorAt(*compositeOf(d.layers, *d.maps, d.bare), 6000);
    QVERIFY(std::abs(purple.r - 32768) <= 1 && purple.g == 0 && std::abs(purple.b - 32768) <= 1 &&
            purple.a == 65535);
    LayerChange hide;
    hide.visible = false;
    d = *withLayerChanged(d, d.activeLayer, hide);
    QCOMPARE(colorAt(*compositeOf(d.layers, *d.maps, d.bare), 6000), (Rgba16{65535, 0, 0, 65535}));
  }
  // Whatever the edit, updating the chunks that may differ gives what working out everything gives.
  void updatingChangedChunksIsEnough() {
    Document d = test::documentOf(test::plane(150, 1));  // six chunks
    std::mt19937 random(3);
    ChannelFields skin = *skinOf(d.layers, *d.maps, d.bare);
    for (int step = 0; step < (test::kSanitized ? 30 : 90); ++step) {
      Document next = d;
      const auto id = d.layers.empty() ? 0u : d.layers[random() % d.layers.size()]->id;
      const LayerPointer layer = layerOf(d, id);
      LayerChange change;
      MaskTerm term;
      term.map = {random() % 2 ? &kElevationMap : &kFacingMap, 0, Vec3(1, 0.5f, 0).normalized()};
      term.low = 0.1f * static_cast<float>(random() % 8);
      switch (random() % 18) {
        case 0:
          next = withFillLayer(d, "f", static_cast<Stratum>(random() % 3),
                               {0.3f, 0.1f, static_cast<float>(random() % 100) / 100});
          change.opacity = 0.4f;
          next = *withLayerChanged(next, next.activeLayer, change);
          break;
        case 1:
        case 2: {
          next = withPaintedLayer(d, "p", static_cast<Stratum>(random() % 3));
          ColorField field(d.surface->size());
          field.setChunk(random() % field.chunkCount(),
                         std::make_shared<ColorChunk>(randomChunk(static_cast<uint32_t>(step), false)));
          next = *withPainted(next, next.activeLayer, field);
          break;
        }
        case 3:
          if (layer) next = *withLayerMoved(d, id, static_cast<Stratum>(random() % 3), random() % 3);
          break;
        case 4:
          if (layer && d.layers.size() > 5) next = *withoutLayer(d, id);
          break;
        case 5:
          change.blend = static_cast<BlendMode>(random() % kBlendModeCount);
          if (layer) next = *withLayerChanged(d, id, change);
          break;
        case 6:
          change.visible = random() % 2 == 0;
          if (layer) next = *withLayerChanged(d, id, change);
          break;
        case 7:
          if (layer && !layer->mask) {
            ScalarField mask = openMask(d.surface->size());
            mask.setChunk(1, std::make_shared<ScalarChunk>());
            next = *withMaskField(*withMask(d, id), id, mask);
          } else if (layer) {
            next = *withInvertedMask(d, id);
          }
          break;
        case 8:
          if (layer) next = *withDuplicate(d, id);
          break;
        case 9:
          if (layer) next = *withMaskTerms(d, id, layer->terms.empty() ? MaskTerms{term} : MaskTerms());
          break;
        case 10:
          if (layer && rampContent(*layer->source))
            next = *withSource(d, id,
                               rampSource({term}, {{0, {0.9f, 0.2f, 0.1f}, 0.7f, {0, 0.3f, 0.005f, 1}}},
                                          random() % 2 ? ChannelSet::all() : ChannelSet(Channel::Metal)));
          else
            next =
                withSourceLayer(d, "r", Stratum::Flesh, rampSource({term}, {{0, {0, 0, 1}, 0}, {1, {}, 1}}));
          break;
        case 11:
          for (auto& strength : change.strength)
            if (random() % 2) strength = 0.5f * static_cast<float>(random() % 5) - 1;
          if (layer) next = *withLayerChanged(d, id, change);
          break;
        case 12: {
          ChannelValues values;
          values[static_cast<Channel>(1 + random() % 3)] = 0.01f * static_cast<float>(random() % 100);
          next = withSourceLayer(d, "v", Stratum::Surface, fillSource(values));
          break;
        }
        case 13:
          if (layer && layer->source->fields()) {
            ChannelFields fields = *layer->source->fields();
            auto cover = std::make_shared<CoverChunk>();
            cover->plane[0].fill(static_cast<uint16_t>(random() % 30'000));
            cover->plane[1].fill(40'000);
            fields.get<Channel::Gloss>().setChunk(random() % 6, cover);
            auto heights = std::make_shared<ScalarChunk>();
            heights->plane[0].fill(static_cast<uint16_t>(20'000 + random() % 30'000));
            fields.get<Channel::Relief>().setChunk(random() % 6, heights);
            next = *withPainted(d, id, fields);
          }
          break;
        case 14: {
          Speckle spots;
          spots.smallest = 0.01f;
          spots.largest = 0.06f;
          spots.cover = 0.05f * static_cast<float>(random() % 8);
          spots.raised = random() % 2 ? 0.5f : 0;
          spots.height = 0.004f;
          if (random() % 2) spots.density = {term};
          const auto source = speckleSource(spots);
          next = setOrAdded(d, source);
          break;
        }
        case 15: {
          Mottle clouds;
          clouds.tones = {{{1, 0, 0}, 0}, {{0, 0, 1}, 0.1f * static_cast<float>(random() % 8)}};
          clouds.size = 0.2f;
          clouds.fine = 0.05f;
          clouds.crease = 0.05f;
          const auto source = mottleSource(clouds);
          next = setOrAdded(d, source);
          break;
        }
        case 16: {
          Veins vessels;
          HueZone root;
          root.anchor = {0.1f * static_cast<float>(random() % 8) - 0.4f, -0.3f, 0};
          root.reach = 0.4f;
          vessels.roots = {root};
          vessels.width = 0.02f;
          vessels.finest = 0.004f;
          vessels.spacing = 0.09f;
          vessels.depth = 0;
          vessels.height = random() % 2 ? 0.003f : 0;
          const auto source = veinSource(vessels);
          next = setOrAdded(d, source);
          break;
        }
        default: {
          HueZone zone;
          zone.anchor = {0.1f * static_cast<float>(random() % 8) - 0.4f, 0.2f, 0};
          zone.reach = 0.12f;
          zone.grain = 0.03f;
          if (layer && layer->source->zones()) {
            ZoneSet set = *layer->source->zones();
            set.zones.push_back(zone);
            set.melt = random() % 2 ? 0.02f : 0;
            next = *withZones(d, id, set);
          } else {
            next = withSourceLayer(d, "z", Stratum::Flesh, zoneSource({{zone}, 0}));
          }
          break;
        }
      }
      const PreparedStack before = *prepared(d.layers, *d.maps), after = *prepared(next.layers, *next.maps);
      const ChannelFields whole = *skinOf(next.layers, *next.maps, next.bare);
      eachChannel([&](auto c) {
        const auto chunks = changedChunks(before, after, d.surface->size(), c());
        updateComposite(skin, after, next.bare, chunks, c());
        QVERIFY2(test::sameValues(skin.get<c()>(), whole.get<c()>()),
                 qPrintable(QString("step %1, %2").arg(step).arg(factsOf(c()).key.data())));
      });
      d = next;
    }
  }
  void paintedStrokeTouchesOnlyItsChunks() {
    Document d = withPaintedLayer(test::documentOf(test::plane(150, 1)), "p", Stratum::Pigment);
    ColorField field = *layerOf(d, d.activeLayer)->source->painted();
    field.setChunk(3, std::make_shared<ColorChunk>(randomChunk(1, false)));
    const Document next = *withPainted(d, d.activeLayer, field);
    QCOMPARE(changedChunks(*prepared(d.layers, *d.maps), *prepared(next.layers, *d.maps), d.surface->size()),
             std::vector<uint32_t>{3});
  }
  void unknownKindsAreNamed() {
    const auto unknown = makeSource("tattoo", {}, 10);
    QVERIFY(!unknown && unknown.error().what.find("tattoo") != std::string::npos);
    QVERIFY(!makeSource("fill", {{"color", "red"}}, 10));
    QVERIFY(!makeSource("fill", {{"color", {1, 2, "x"}}}, 10));
    QVERIFY(makeSource("fill", {{"color", {1, 0.5, 0}}}, 10));
  }
};

JUVENOR_TEST(TestLayers)
}  // namespace juvenor
#include "test_layers.moc"
