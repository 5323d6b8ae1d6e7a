// Tones of a slide and the skin it lies on: matched to all of it or to one zone, and told apart at its pins.
#include "core/color/lab.h"
#include "core/document/edits/edit_slides.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/tone_slides.h"
#include "support/made.h"
#include "support/photos.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

const EncodedColor kTone{0.7f, 0.5f, 0.4f}, kRed{0.6f, 0.2f, 0.15f};
const LinearColor kGrey{0.2f, 0.25f, 0.3f};

// A plane of one tone, a red zone around one place, a mask over its left half, and a slide of one grey.
Document zoned() {
  Document d = withFillLayer(test::documentOf(test::plane(100, 10)), "tone", Stratum::Flesh, kTone);
  d = withSourceLayer(d, "Zones", Stratum::Flesh, sourceKind("zones")->fresh(*d.surface, {}));
  HueZone cheek = test::areaAt({3, 3, 0}, 2);
  cheek.name = "Cheek";
  cheek.tint.plain = true;
  cheek.tint.color = kRed;
  d = *withZones(d, d.activeLayer, {{cheek}, 0});
  Slide slide = test::slideOver(test::photo(64, 64, [](float, float) { return kGrey; }),
                                test::cameraFrom({0, 0, 1}, 40));
  slide.id = 0;
  slide.pins = {{{0, 0}, {0, 0, 0}}};
  return *withSlide(d, slide);
}

Oklab meanOf(const Result<Slide>& matched) {
  const auto& m = matched->tone.to.mean;
  return {m[0], m[1], m[2]};
}

double apart(const Oklab& a, const Oklab& b) {
  return static_cast<double>(std::hypot(a.l - b.l, a.a - b.a, a.b - b.b));
}

}  // namespace

class TestToneSlides : public QObject {
  Q_OBJECT
 private slots:
  void tonesAreMatchedToOneZone() {
    const Document d = zoned();
    const Slide& slide = d.slides.front();
    const uint32_t zones = d.activeLayer;
    const Oklab all = meanOf(withTonesMatched(d, slide)),
                cheek = meanOf(withTonesMatched(d, slide, {zones, "Cheek"})), tone = toOklab(decode(kTone)),
                red = toOklab(decode(kRed));
    QVERIFY2(apart(all, tone) < 0.02, qPrintable(QString::number(apart(all, tone))));
    QVERIFY2(apart(cheek, red) < 0.5 * apart(tone, red), qPrintable(QString::number(apart(cheek, red))));
    const auto none = withTonesMatched(d, slide, {zones, "Chin"});
    QVERIFY(!none && none.error().message().find("Chin") != std::string::npos);
    QVERIFY(!withTonesMatched(d, slide, {d.layers.front()->id, "Cheek"}));
    QVERIFY(!withTonesMatched(d, slide, {99u, ""}));
  }
  void pinsTellHowFarThePhotoIs() {
    const Document d = zoned();
    Slide slide = d.slides.front();
    // a second pin of what the photo does not show
    slide.pins.push_back({{3, 0}, {4.5f, 0, 0}});
    auto pins = pinDifferences(d, slide);
    QVERIFY(pins);
    QCOMPARE(pins->size(), size_t{2});
    const double raw = deltaE2000(toLab(encode(kGrey)), toLab(kTone));
    QVERIFY((*pins)[0] && !(*pins)[1]);
    QVERIFY2(std::abs((*pins)[0]->photo - raw) < 0.1, qPrintable(QString::number((*pins)[0]->photo)));
    QCOMPARE((*pins)[0]->photo, (*pins)[0]->toned);
    slide.pins.pop_back();
    slide = *withTonesMatched(d, slide);
    pins = pinDifferences(d, slide);
    QVERIFY(std::abs((*pins)[0]->photo - raw) < 0.1);
    QVERIFY2((*pins)[0]->toned < 1.5, qPrintable(QString::number((*pins)[0]->toned)));
    slide.tone.match = 0.5f;
    const double half = (*pinDifferences(d, slide))[0]->toned;
    QVERIFY(half > (*pins)[0]->toned && half < raw);
    // what the slide itself laid does not count
    const Document thrown = *withThrow(d, 1);
    QVERIFY(std::abs((*pinDifferences(thrown, slide))[0]->photo - raw) < 0.1);
    slide.picture.reset();
    QVERIFY(!pinDifferences(d, slide));
  }
};

JUVENOR_TEST(TestToneSlides)

}  // namespace juvenor

#include "test_tone_slides.moc"
