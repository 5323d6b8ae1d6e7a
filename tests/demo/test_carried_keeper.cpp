// The keeper's colours on other meshes of his head: a third of the triangles, other polygons, and back again.
#include "core/carry/carry_over.h"
#include "core/color/lab.h"
#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/painted.h"
#include "demo/demo.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

// What the keeper's layers come to, as one painted layer: patterns would grow anew on other points.
const Document& paintedKeeper() {
  static const Document made = [] {
    const auto sculpt = std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::Keeper, 60'000));
    const Document dressed = *demo::dressed(demo::Figure::Keeper, sculpt, *buildSurface(*sculpt));
    ColorField skin = skinOf(dressed.layers, *dressed.maps, dressed.bare)->color();
    const Document bare = newDocument(sculpt, *buildSurface(*sculpt), dressed.placement);
    return withSourceLayer(bare, "Skin", Stratum::Pigment, paintedSource(std::move(skin)));
  }();
  return made;
}

struct Difference {
  double mean = 0, worstOfHundred = 0;  ///< ΔE2000: of all, and what 99 of 100 keep
};

// What points of one document hold, against what the other's skin shows at their places.
Difference differenceOf(const Document& now, const Document& truth) {
  const auto rays = *truth.maps->rays();
  const ColorField &is = *now.layers.back()->source->painted(),
                   &was = *truth.layers.back()->source->painted();
  std::vector<float> all;
  for (size_t s = 0; s < now.surface->size(); ++s) {
    const auto hit = rays->nearestAlike(now.surface->positions[s], truth.surface->bounds.diagonal(),
                                        {now.surface->normals[s], 0.3f});
    if (!hit) continue;
    const Triangle& t = truth.surface->triangles[hit->triangle];
    const float weight[] = {1 - hit->u - hit->v, hit->u, hit->v};
    EncodedColor there{0, 0, 0};
    for (size_t k = 0; k < 3; ++k) {
      const EncodedColor c = straight(colorAt(was, t[k]));
      there.r += weight[k] * c.r;
      there.g += weight[k] * c.g;
      there.b += weight[k] * c.b;
    }
    all.push_back(static_cast<float>(deltaE2000(toLab(straight(colorAt(is, s))), toLab(there))));
  }
  Difference out;
  for (const float d : all) out.mean += static_cast<double>(d) / static_cast<double>(all.size());
  std::ranges::sort(all);
  out.worstOfHundred = static_cast<double>(all[all.size() * 99 / 100]);
  return out;
}

Document carriedTo(const Document& old, Sculpt sculpt) {
  auto out = carriedOver(old, std::make_shared<const Sculpt>(std::move(sculpt)));
  if (!out) qFatal("%s", out.error().what.c_str());
  return std::move(out->document);
}

}  // namespace

class TestCarriedKeeper : public QObject {
  Q_OBJECT
 private slots:
  void hisColoursComeAlong_data() {
    QTest::addColumn<bool>("lighter");
    QTest::newRow("a third of the triangles") << true;
    QTest::newRow("other polygons") << false;
  }
  void hisColoursComeAlong() {
    QFETCH(const bool, lighter);
    const Document& old = paintedKeeper();
    const Document there = carriedTo(
        old, lighter ? test::lighter(*old.sculpt, 3) : *demo::makeSculpt(demo::Figure::Keeper, 75'000));
    const Difference once = differenceOf(there, old);
    const auto told = [](const Difference& d) {
      return QString("ΔE2000 mean %1, 99 of 100 below %2").arg(d.mean).arg(d.worstOfHundred);
    };
    QVERIFY2(once.mean < 0.7 && once.worstOfHundred < 3, qPrintable(told(once)));
    const Difference back = differenceOf(carriedTo(there, *old.sculpt), old);
    QVERIFY2(back.mean < 1, qPrintable(told(back)));
    qInfo("%s; and back: %s", qUtf8Printable(told(once)), qUtf8Printable(told(back)));
  }
};

JUVENOR_TEST(TestCarriedKeeper)

}  // namespace juvenor

#include "test_carried_keeper.moc"
