// Groups that pass through equal their layers without them, groups by themselves equal merging first, and
// layers that hang on another show as the W3C's Compositing and Blending Level 1 says of source-atop.
#include "core/layers/group.h"
#include "core/layers/nesting.h"
#include "core/layers/sources/fill.h"
#include "core/layers/sources/markings.h"
#include "core/layers/sources/ramp.h"
#include "support/run_all.h"
#include "support/stacks.h"

namespace juvenor::stacks {
namespace {

// The mixing function by the specification's own words, opaque on opaque.
double mixOf(BlendMode mode, double backdrop, double source) {
  const auto b = static_cast<float>(backdrop), s = static_cast<float>(source);
  return static_cast<double>(blend(mode, {b, b, b, 1}, {s, s, s, 1}).r);
}

}  // namespace

class TestGroups : public QObject {
  Q_OBJECT
 private slots:
  void passingThroughIsNoDifference() {
    Random random(5);
    Document d = painted(painted(ground(), "A", random), "B", random);
    d = blended(d, named(d, "B"), BlendMode::Blood, 0.8f);
    d = withSourceLayer(d, "Melt", Stratum::Pigment, melted(0.03f));
    d = blended(withSourceLayer(d, "Turn", Stratum::Pigment, turned(40)), d.nextLayer, BlendMode::Multiply,
                0.6f);
    d = painted(d, "C", random);
    const std::vector<uint32_t> inside{named(d, "B"), named(d, "Melt"), named(d, "Turn")};
    const Document grouped = *withGroup(d, inside, "G");
    QCOMPARE(grouped.layers.size(), d.layers.size() + 1);
    QVERIFY(groupOf(*layerOf(grouped, grouped.activeLayer)->source)->passes);
    QVERIFY(test::sameValues(skin(d), skin(grouped)));
    // and out of it again
    QVERIFY(test::sameValues(skin(d), skin(*withoutGroup(grouped, grouped.activeLayer))));
  }
  void byItselfIsMergingFirst() {
    Random random(6);
    Document d = painted(painted(painted(ground(), "A", random), "B", random), "C", random);
    d = blended(d, named(d, "B"), BlendMode::Multiply, 0.7f);
    const std::vector<uint32_t> inside{named(d, "A"), named(d, "B"), named(d, "C")};
    Document grouped = *withGroup(d, inside, "G");
    const uint32_t group = grouped.activeLayer;
    LayerChange apart;
    apart.passes = false;
    apart.blend = BlendMode::SoftLight;
    apart.opacity = 0.6f;
    grouped = changed(grouped, group, apart);
    // merged as one layer with the group's ways
    const auto merged = withMerged(grouped, {{group}});
    QVERIFY2(merged, merged ? "" : merged.error().what.c_str());
    QCOMPARE(merged->layers.size(), size_t{2});
    const Layer& one = *merged->layers[1];
    QVERIFY(one.blend == BlendMode::SoftLight && one.opacity == 1);
    const ChannelFields whole = skin(grouped), flat = skin(*merged);
    // its opacity is in the paint now, which is rounded once more
    const auto near = [&](auto c) {
      for (size_t s = 0; s < whole.size(); ++s)
        for (size_t p = 0; p < whole.get<c()>().at(s).size(); ++p)
          if (std::abs(int{whole.get<c()>().at(s)[p]} - int{flat.get<c()>().at(s)[p]}) > 3) return false;
      return true;
    };
    eachChannel([&](auto c) { QVERIFY(near(c)); });
    // at full opacity to the bit
    LayerChange full;
    full.opacity = 1;
    grouped = changed(grouped, group, full);
    QVERIFY(test::sameValues(skin(grouped), skin(*withMerged(grouped, {{group}}))));
  }
  void groupsShowInPart() {
    Random random(7);
    const Document d = painted(ground(), "A", random), bare = ground();
    Document grouped = *withGroup(d, {{named(d, "A")}}, "G");
    LayerChange change;
    change.opacity = 0.25f;
    change.strength[static_cast<size_t>(Channel::Relief)] = -1;
    grouped = changed(grouped, grouped.activeLayer, change);
    const ChannelFields none = skin(bare), all = skin(d), some = skin(grouped);
    for (size_t s = 0; s < none.size(); s += 7) {
      for (size_t p = 0; p < 3; ++p) {
        const double from = none.color().at(s)[p], to = all.color().at(s)[p];
        QVERIFY(std::abs(some.color().at(s)[p] - (from + 0.25 * (to - from))) <= 1);
      }
      const double height = all.get<Channel::Relief>().at(s)[0] - double{kLevel};
      QVERIFY(std::abs(some.get<Channel::Relief>().at(s)[0] - kLevel + 0.25 * height) <= 1);
    }
    // its mask does the same where it hides, and hidden it is not there
    ScalarField mask = openMask(d.surface->size());
    mask.setChunk(0, std::make_shared<ScalarChunk>());
    change = {};
    change.opacity = 1;
    change.strength[static_cast<size_t>(Channel::Relief)] = 1;
    const Document masked =
        *withMaskField(changed(grouped, grouped.activeLayer, change), grouped.activeLayer, mask);
    for (size_t s = 0; s < none.size(); s += 5)
      QCOMPARE(skin(masked).color().at(s), s < kChunkSize ? none.color().at(s) : all.color().at(s));
    change = {};
    change.visible = false;
    QVERIFY(test::sameValues(skin(changed(masked, masked.activeLayer, change)), none));
  }
  // co = αs·αb·Cs' + αb·Cb·(1 − αs), Cs' = (1 − αb)·Cs + αb·B(Cb, Cs), αo = αb, then over what lies below
  // (W3C Compositing and Blending Level 1, 9.1.4 "Source Atop" and 10 "Blending").
  void hangingIsSourceAtop() {
    constexpr double kBack = 0.3;
    Random random(8);
    for (const BlendMode mode :
         {BlendMode::Normal, BlendMode::Multiply, BlendMode::Screen, BlendMode::Overlay, BlendMode::HardLight,
          BlendMode::Difference, BlendMode::Darken}) {
      Document d = test::documentOf(test::plane(40, 1));
      const size_t samples = d.surface->size();
      d.bare = {static_cast<float>(kBack), static_cast<float>(kBack), static_cast<float>(kBack)};
      struct One {
        double base, alphaBase, source, alphaSource;
      };
      std::vector<One> ones;
      ColorField base(samples), over(samples);
      auto lower = base.writable(0), upper = over.writable(0);
      for (size_t s = 0; s < samples; ++s) {
        const auto part = [&] { return static_cast<double>(random() % 5) / 4; };
        const One one{part(), part(), part(), part()};
        ones.push_back(one);
        const auto at = [](double value, double alpha) {
          const uint16_t v = to16(static_cast<float>(value * alpha));
          return Rgba16{v, v, v, to16(static_cast<float>(alpha))};
        };
        setSample(*lower, s, at(one.base, one.alphaBase));
        setSample(*upper, s, at(one.source, one.alphaSource));
      }
      base.setChunk(0, lower);
      over.setChunk(0, upper);
      d = withSourceLayer(d, "Base", Stratum::Pigment, paintedSource(base));
      d = withSourceLayer(d, "Over", Stratum::Pigment, paintedSource(over));
      d = *withClipped(blended(d, d.activeLayer, mode), d.activeLayer, true);
      const ColorField out = skin(d).color();
      for (size_t s = 0; s < samples; ++s) {
        const One& o = ones[s];
        const double mixed = (1 - o.alphaBase) * o.source + o.alphaBase * mixOf(mode, o.base, o.source);
        const double atop = o.alphaSource * o.alphaBase * mixed + o.alphaBase * o.base * (1 - o.alphaSource);
        const double expected = atop + (1 - o.alphaBase) * kBack;
        const double found = static_cast<double>(from16(out.at(s)[0]));
        QVERIFY2(std::abs(found - expected) < 5e-5,
                 qPrintable(QString("%1: %2 for %3").arg(told(mode)).arg(found).arg(expected)));
      }
    }
  }
  void hangingShowsInEveryChannelWhereTheBaseCovers() {
    Document d = ground();
    const size_t samples = d.surface->size();
    ColorField spots(samples);
    auto chunk = spots.writable(0);
    for (size_t s = 0; s < 200; ++s) setSample(*chunk, s, {20'000, 10'000, 5'000, 40'000});
    spots.setChunk(0, chunk);
    d = withSourceLayer(d, "Spots", Stratum::Pigment, paintedSource(spots));
    ChannelValues wet;
    wet[Channel::Gloss] = 1.f;
    wet[Channel::Relief] = 0.01f;
    d = withSourceLayer(d, "Wet", Stratum::Pigment, fillSource(wet));
    d = *withClipped(d, d.activeLayer, true);
    const ChannelFields out = skin(d);
    const double cover = 40'000 / 65'535.0;
    QVERIFY(std::abs(static_cast<double>(from16(out.get<Channel::Gloss>().at(10)[0])) -
                     (cover + (1 - cover) / 2)) < 1e-4);
    QCOMPARE(out.get<Channel::Gloss>().at(5000)[0], kBareGloss);
    QVERIFY(out.get<Channel::Relief>().at(10)[0] > kLevel);
    QCOMPARE(out.get<Channel::Relief>().at(5000)[0], kLevel);
    // hidden, what it hangs on takes it along
    LayerChange hide;
    hide.visible = false;
    const ChannelFields without = skin(changed(d, named(d, "Spots"), hide));
    QVERIFY(test::sameValues(without, skin(ground())));
  }
  // What covers there shows here: a live mask is the other layer's alpha with its own mask and opacity.
  void masksFromOtherLayersAreLive() {
    Random random(13);
    Document d = painted(ground(), "Spots", random);
    const uint32_t spots = named(d, "Spots");
    LayerChange half;
    half.opacity = 0.5f;
    half.visible = true;
    d = changed(d, spots, half);
    d = withFillLayer(d, "Red", Stratum::Surface, {1, 0, 0});
    const uint32_t red = d.activeLayer;
    d = *withMaskFrom(d, red, spots);
    QVERIFY(!withMaskFrom(d, spots, red) && !withMaskFrom(d, red, red));
    const ChannelFields& paint = *layerOf(d, spots)->source->fields();
    const ColorField out = skin(d).color();
    const Document without = *withoutLayer(d, red);
    const ColorField below = skin(without).color();
    for (size_t s = 0; s < out.size(); s += 3) {
      // gloss covers too, where it was painted
      const int cover = std::max<int>(paint.color().at(s)[3], paint.get<Channel::Gloss>().at(s)[1]);
      const double alpha = 0.5 * std::max<int>(cover, paint.get<Channel::Metal>().at(s)[1]) / 65535;
      const double expected = alpha * 65535 + (1 - alpha) * below.at(s)[0];
      QVERIFY(std::abs(out.at(s)[0] - expected) < 3);
    }
    // off it hides nothing, and gone is what it was taken from
    LayerChange off;
    off.maskOff = true;
    QCOMPARE(skin(changed(d, red, off)).color().at(7)[0], uint16_t{65535});
    QCOMPARE(layerOf(*withoutLayer(d, spots), red)->maskFrom, 0u);
  }
  // Relief: the higher, the lower, the layer's own; gloss: times what is below. By as much as the strength
  // says, and hollows where it is below 0.
  void channelsMeetAsTheirModesSay() {
    Document d = test::documentOf(test::plane(20, 1));
    const size_t samples = d.surface->size();
    const auto sheet = [&](auto height, auto gloss) {
      ChannelFields out(samples);
      auto heights = out.get<Channel::Relief>().writable(0);
      auto covers = out.get<Channel::Gloss>().writable(0);
      for (size_t s = 0; s < samples; ++s) {
        heights->plane[0][s] = static_cast<uint16_t>(kLevel + height(s));
        covers->plane[0][s] = to16(gloss(s) * 0.5f);
        covers->plane[1][s] = to16(0.5f);
      }
      out.get<Channel::Relief>().setChunk(0, heights);
      out.get<Channel::Gloss>().setChunk(0, covers);
      return paintedSource(std::move(out));
    };
    const auto lower = [](size_t s) { return static_cast<int>(s % 200) - 100; };
    const auto upper = [](size_t s) { return static_cast<int>(s % 7) * 30 - 90; };
    d = withSourceLayer(d, "Lower", Stratum::Pigment, sheet(lower, [](size_t) { return 0.8f; }));
    d = withSourceLayer(d, "Upper", Stratum::Pigment, sheet(upper, [](size_t) { return 0.4f; }));
    const uint32_t id = d.activeLayer;
    const auto heightsBy = [&](ChannelMode mode, float strength) {
      LayerChange change;
      change.mode[static_cast<size_t>(Channel::Relief)] = mode;
      change.strength[static_cast<size_t>(Channel::Relief)] = strength;
      return skin(changed(d, id, change)).get<Channel::Relief>();
    };
    for (const float strength : {1.f, 0.5f, -1.f}) {
      const ScalarField high = heightsBy(ChannelMode::Higher, strength),
                        low = heightsBy(ChannelMode::Lower, strength),
                        own = heightsBy(ChannelMode::Replace, strength);
      for (size_t s = 0; s < samples; ++s) {
        const double was = lower(s), is = (strength < 0 ? -1 : 1) * upper(s);
        const auto expected = [&](double to) {
          return kLevel + was + (upper(s) == 0 ? 0 : (to - was) * std::abs(static_cast<double>(strength)));
        };
        QVERIFY(std::abs(high.at(s)[0] - expected(std::max(was, is))) <= 1);
        QVERIFY(std::abs(low.at(s)[0] - expected(std::min(was, is))) <= 1);
        QVERIFY(std::abs(own.at(s)[0] - expected(is)) <= 1);
      }
    }
    LayerChange times;
    times.mode[static_cast<size_t>(Channel::Gloss)] = ChannelMode::Multiply;
    const double below =
        static_cast<double>(from16(skin(*withoutLayer(d, id)).get<Channel::Gloss>().at(9)[0]));
    const double found =
        static_cast<double>(from16(skin(changed(d, id, times)).get<Channel::Gloss>().at(9)[0]));
    QVERIFY(std::abs(found - below * (0.5 + 0.5 * 0.4)) < 1e-4);
    times.mode[static_cast<size_t>(Channel::Gloss)] = ChannelMode::Higher;
    QVERIFY(!withLayerChanged(d, id, times));
  }
  void masksAreCopied() {
    Random random(14);
    Document d = painted(painted(ground(), "A", random), "B", random);
    ScalarField mask = openMask(d.surface->size());
    mask.setChunk(0, std::make_shared<ScalarChunk>());
    d = *withMaskField(d, named(d, "A"), mask);
    const CopiedMask held = *copiedMask(d, named(d, "A"));
    QVERIFY(!copiedMask(d, named(d, "B")));
    d = *withCopiedMask(d, held, {{named(d, "B")}});
    QVERIFY(test::sameValues(*layerOf(d, named(d, "B"))->mask, mask));
    QVERIFY(!withCopiedMask(ground(), held, {{named(d, "B")}}));
  }
  // An adjust or a filter layer that hangs on one layer works on that alone.
  void changesOneLayerAlone() {
    Random random(9);
    Document d = painted(ground(), "Paint", random);
    const Document plain = d;
    d = withSourceLayer(d, "Turn", Stratum::Pigment, turned(120));
    d = *withClipped(d, d.activeLayer, true);
    // as if its paint had been adjusted
    Adjust adjust;
    adjust.hue = 120;
    adjust.contrast = 0.3f;
    const Document laid = *withAdjusted(plain, named(plain, "Paint"), adjust);
    const ColorField out = skin(d).color(), expected = skin(laid).color();
    for (size_t s = 0; s < out.size(); ++s)
      for (size_t p = 0; p < 3; ++p) QVERIFY(std::abs(int{out.at(s)[p]} - int{expected.at(s)[p]}) < 40);
    // what is melted keeps to what the layer covers
    Document melt = withSourceLayer(plain, "Melt", Stratum::Pigment, melted(0.05f));
    melt = *withClipped(melt, melt.activeLayer, true);
    const ColorField bare = skin(ground()).color(), before = skin(plain).color(), after = skin(melt).color();
    const ChannelFields& paint = *layerOf(plain, named(plain, "Paint"))->source->fields();
    size_t differ = 0;
    for (size_t s = 0; s < after.size(); ++s) {
      if (paint.color().at(s)[3] == 0) QCOMPARE(after.at(s), bare.at(s));
      differ += after.at(s) != before.at(s);
    }
    QVERIFY(differ > after.size() / 4);
  }
  // Of a group by itself a filter melts what it covers too.
  void meltsAGroupWithItsRim() {
    Document d = ground();
    ColorField half(d.surface->size());
    for (size_t c = 0; c < half.chunkCount(); ++c) {
      auto chunk = half.writable(c);
      for (size_t s = c * kChunkSize; s < std::min(half.size(), (c + 1) * kChunkSize); ++s)
        if (d.surface->positions[s].x() < 0) setSample(*chunk, s % kChunkSize, {0, 0, 65'535, 65'535});
      half.setChunk(c, chunk);
    }
    d = withSourceLayer(d, "Half", Stratum::Pigment, paintedSource(half));
    d = withSourceLayer(d, "Melt", Stratum::Pigment, melted(0.05f));
    d = *withGroup(d, {{named(d, "Half"), named(d, "Melt")}}, "G");
    LayerChange apart;
    apart.passes = false;
    d = changed(d, d.activeLayer, apart);
    const ColorField out = skin(d).color();
    const Rgba16 back = opaque16({0.7f, 0.5f, 0.4f});
    for (size_t s = 0; s < out.size(); ++s) {
      const double x = static_cast<double>(d.surface->positions[s].x());
      if (std::abs(static_cast<double>(d.surface->positions[s].y())) > 0.3 || std::abs(x) > 0.3) continue;
      // heat from a half plane: the error function of the way by the deviation, from between the last point
      // that is covered and the first that is not
      const double covered = 0.5 * std::erfc((x + 0.5 / 110) / (std::sqrt(2.0) * 0.05));
      const double red = (1 - covered) * static_cast<double>(from16(back.r));
      QVERIFY(std::abs(static_cast<double>(from16(out.at(s)[0])) - red) < 0.03);
    }
  }
  void mergingNeverChangesTheLook() {
    Random random(10);
    Document d = painted(painted(ground(), "A", random), "B", random);
    const auto plain = withMergedDown(d, named(d, "B"));
    QVERIFY(plain && plain->layers.size() == 2);
    QVERIFY(!withMergedDown(blended(d, named(d, "A"), BlendMode::Multiply), named(d, "B")));
    const auto tint = withMergedDown(blended(d, named(d, "B"), BlendMode::Blood), named(d, "B"));
    QVERIFY(!tint);
    QVERIFY(tint.error().what.find("group") != std::string::npos);
    LayerChange lock;
    lock.locked = true;
    QVERIFY(!withMergedDown(changed(d, named(d, "A"), lock), named(d, "B")));
    QVERIFY(!withoutLayer(changed(d, named(d, "A"), lock), named(d, "A")));
    // what lies in a locked group stays as well
    Document in = *withGroup(d, {{named(d, "A"), named(d, "B")}}, "G");
    QVERIFY(withoutLayer(in, named(in, "A")) && withMergedVisible(in, "All"));
    in = changed(in, named(in, "G"), lock);
    const auto kept = withoutLayer(in, named(in, "A"));
    QVERIFY(!kept && kept.error().what.find("“G”") != std::string::npos);
    QVERIFY(!withMergedDown(in, named(in, "B")) && !withMergedVisible(in, "All"));
    // all that is seen, whatever it is made of
    d = blended(d, named(d, "B"), BlendMode::Blood);
    d = painted(withSourceLayer(d, "Turn", Stratum::Surface, turned(50)), "Hidden", random, Stratum::Surface);
    LayerChange hide;
    hide.visible = false;
    d = changed(d, d.activeLayer, hide);
    const Document one = *withMergedVisible(d, "All");
    QCOMPARE(one.layers.size(), size_t{2});
    QVERIFY(test::sameValues(skin(one), skin(d)));
  }
  void movesAndCopiesWhole() {
    Random random(11);
    Document d = painted(painted(painted(ground(), "A", random), "B", random), "C", random);
    d = *withGroup(d, {{named(d, "A"), named(d, "B")}}, "In");
    d = *withGroup(d, {{named(d, "In"), named(d, "C")}}, "Out");
    QVERIFY(wellNested(d.layers));
    const Document twice = *withDuplicate(d, named(d, "Out"));
    QCOMPARE(twice.layers.size(), d.layers.size() + 5);
    QVERIFY(wellNested(twice.layers));
    QVERIFY(!withLayersMoved(d, {{named(d, "Out")}}, {Stratum::Pigment, named(d, "In"), 0}));
    const Document up = *withLayersMoved(d, {{named(d, "In")}}, {Stratum::Surface, 0, 0});
    QVERIFY(wellNested(up.layers));
    QVERIFY(layerOf(up, named(up, "A"))->stratum == Stratum::Surface);
    QCOMPARE(layerOf(up, named(up, "In"))->group, 0u);
    const Document gone = *withoutLayer(d, named(d, "Out"));
    QCOMPARE(gone.layers.size(), size_t{1});
    QVERIFY(!withGroup(d, {{named(d, "C"), named(d, "Ground")}}, "Across"));
    QVERIFY(!withClipped(d, named(d, "A"), true));
  }
  // What a layer is made from is worked out once: not for a name, an opacity, a lock, nor for a stroke on its
  // mask, which is felt in its chunk alone.
  void aMaskStrokePreparesNothingAgain() {
    Document d = test::documentOf(test::plane(110, 1));
    const size_t samples = d.surface->size();
    Speckle dots;
    dots.smallest = 0.01f;
    dots.largest = 0.03f;
    MaskTerm term;
    term.map.kind = &kElevationMap;
    for (const SourcePointer& source :
         {fillSource(EncodedColor{0.5f, 0.2f, 0.1f}), turned(20), speckleSource(dots),
          rampSource({term}, {{0, {0, 0, 1}, 0}, {1, {1, 0, 0}, 1}}, Channel::Color)}) {
      Document layered = withSourceLayer(d, "L", Stratum::Pigment, source);
      const uint32_t id = layered.activeLayer;
      layered = *withMaskTerms(*withMask(layered, id), id, {term});
      const PreparedStack before = *prepared(layered.layers, *layered.maps);
      LayerChange change;
      change.name = "Other";
      change.opacity = 0.7f;
      change.locked = true;
      const PreparedStack named =
          *prepared(withLayerChanged(layered, id, change)->layers, *layered.maps, {}, before);
      QVERIFY(named[0].source == before[0].source && named[0].maps == before[0].maps);
      ScalarField mask = *layerOf(layered, id)->mask;
      mask.setChunk(1, std::make_shared<ScalarChunk>());
      const Document stroked = *withMaskField(layered, id, mask);
      const PreparedStack after = preparedNow(stroked.layers, *stroked.maps, before);
      QVERIFY(after[0].source == before[0].source && after[0].maps == before[0].maps);
      QCOMPARE(changedChunks(before, after, samples), (std::vector<uint32_t>{1}));
      // a copy takes what its original has
      const Document twice = *withDuplicate(stroked, id);
      QVERIFY(preparedNow(twice.layers, *twice.maps, after)[1].source == before[0].source);
    }
  }

 private:
  static QString told(BlendMode mode) { return QString::fromUtf8(blendModeKey(mode).data()); }
};

JUVENOR_TEST(TestGroups)
}  // namespace juvenor::stacks
#include "test_groups.moc"
