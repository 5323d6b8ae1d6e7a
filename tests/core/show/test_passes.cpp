// Passes: that they sum to the beauty, and what lies at each pixel against rays in closed form.
#include <OpenImageIO/imageio.h>

#include "core/document/edits/edits.h"
#include "core/layers/sources/fill.h"
#include "core/show/passes.h"
#include "core/show/still_picture.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr float kBall = 10;

// A ball and another behind it, with shine, glow, a metal's part and a coat.
Document twoBalls() {
  Document d =
      test::documentOf(test::together(test::sphere(80, kBall), test::sphere(40, 6, Vec3(12, 4, -9))));
  d = withFillLayer(d, "Skin", Stratum::Flesh, {0.8f, 0.55f, 0.45f});
  LayerChange change;
  change.values = test::inEveryChannel({0.8f, 0.55f, 0.45f}, 0.6f, 0.2f, 0, 0.1f);
  auto changed = withLayerChanged(d, d.activeLayer, change);
  return changed ? *changed : d;
}

struct Taken {
  std::vector<PassFacts> passes;
  std::vector<std::vector<float>> values;
  StillWish wish;

  // The first channel of a pass.
  size_t channel(std::string_view name) const {
    size_t at = 0;
    for (const PassFacts& p : passes) {
      if (p.name == name) return at;
      at += p.channels.size();
    }
    return at;
  }
};

Taken takenApart(const Light& light, int samples) {
  Taken out;
  out.wish.size = {90, 70};
  out.wish.samples = samples;
  out.wish.look.light = light;
  out.wish.look.lightFollows = false;
  out.wish.look.camera.distance = 60;
  auto scene = ShownScene::of(twoBalls(), true);
  if (!scene || !layLight(**scene, out.wish.look)) return out;
  out.passes = passesOf(**scene, out.wish.look);
  auto values = passValues(**scene, out.wish, {0, 0, 90, 70});
  if (values) out.values = std::move(*values);
  return out;
}

}  // namespace

class TestPasses : public QObject {
  Q_OBJECT
 private slots:
  void lightSumsToTheBeauty_data() {
    QTest::addColumn<int>("kind");
    QTest::newRow("overcast") << static_cast<int>(LightKind::Overcast);
    QTest::newRow("lamps") << static_cast<int>(LightKind::Lamps);
  }
  void lightSumsToTheBeauty() {
    QFETCH(int, kind);
    Light light;
    light.kind = static_cast<LightKind>(kind);
    light.lamps[3].on = true;
    const Taken taken = takenApart(light, 4);
    QVERIFY(!taken.values.empty());
    size_t lit = 0;
    for (size_t at = 0; at < 90 * 70; ++at)
      for (size_t c = 0; c < 3; ++c) {
        float sum = 0;
        size_t channel = 4;
        for (const PassFacts& pass : taken.passes) {
          if (pass.kind != PassKind::Light || pass.name.empty()) continue;
          sum += taken.values[channel + c][at];
          channel += 3;
        }
        const float whole = taken.values[c][at];
        QVERIFY2(std::abs(sum - whole) <= 0.001f * std::max(1.f, whole),
                 qPrintable(QString("%1 for %2").arg(sum).arg(whole)));
        if (whole > 0.01f) ++lit;
      }
    QVERIFY(lit > 1000);
    // each of them is something
    for (const PassFacts& pass : taken.passes) {
      if (pass.kind != PassKind::Light || pass.name.empty()) continue;
      const auto& values = taken.values[taken.channel(pass.name)];
      QVERIFY2(std::ranges::any_of(values, [](float v) { return std::abs(v) > 2e-4f; }), pass.name.c_str());
    }
    QCOMPARE(taken.channel("mirrored key") < taken.values.size(), light.kind == LightKind::Lamps);
  }

  // A still of the same samples is the beauty pass.
  void beautyIsTheStill() {
    const Taken taken = takenApart({}, 4);
    auto scene = ShownScene::of(twoBalls(), true);
    QVERIFY(scene);
    const auto still = stillPicture(**scene, taken.wish, true);
    QVERIFY(still);
    for (size_t at = 0; at < still->pixels.size(); ++at) {
      QVERIFY(std::abs(still->light(at).x() - taken.values[0][at]) <=
              2e-3f * std::max(1.f, taken.values[0][at]));
      QVERIFY(std::abs(still->cover(at) - taken.values[3][at]) < 1e-3f);
    }
  }

  void valuesAreThoseOfTheBall() {
    const Taken taken = takenApart({}, 2);
    const size_t depth = taken.channel("depth"), normal = taken.channel("normal"),
                 part = taken.channel("part"), position = taken.channel("position");
    const Lens lens(taken.wish.look.camera, taken.wish.size);
    size_t met = 0, behind = 0;
    for (int y = 0; y < 70; ++y)
      for (int x = 0; x < 90; ++x) {
        const size_t at = static_cast<size_t>(y * 90 + x);
        const Ray ray = lens.rayThrough({static_cast<float>(x) + 0.5f, static_cast<float>(y) + 0.5f});
        const float b = ray.origin.dot(ray.direction), c = ray.origin.squaredNorm() - kBall * kBall;
        // rays that graze it meet its triangles or not
        if (std::abs(b * b - c) < 6) continue;
        if (b * b < c) {
          if (taken.values[part][at] == 2) ++behind;
          QVERIFY(taken.values[part][at] != 1);
          continue;
        }
        const Vec3 place = ray.origin + (-b - std::sqrt(b * b - c)) * ray.direction;
        ++met;
        QCOMPARE(taken.values[part][at], 1.f);
        QVERIFY(std::abs(taken.values[depth][at] - (60 - place.z())) < 0.05f);
        const Vec3 told(taken.values[position][at], taken.values[position + 1][at],
                        taken.values[position + 2][at]);
        QVERIFY((told - place).norm() < 0.08f);
        const Vec3 way(taken.values[normal][at], taken.values[normal + 1][at], taken.values[normal + 2][at]);
        QVERIFY2(way.dot(place.normalized()) > 0.98f,
                 qPrintable(QString::number(way.dot(place.normalized()))));
      }
    QVERIFY(met > 500);
    QVERIFY(behind > 50);
  }

  void theFileHasThemAsLayers() {
    const test::Folder folder;
    auto scene = ShownScene::of(twoBalls(), true);
    QVERIFY(scene);
    StillWish wish;
    wish.size = {60, 150};
    wish.samples = 1;
    wish.look.camera.distance = 60;
    QVERIFY(writePasses(**scene, wish, folder / "passes.exr"));
    const auto in = OIIO::ImageInput::open((folder / "passes.exr").string());
    QVERIFY(in);
    QCOMPARE(in->spec().height, 150);
    size_t wanted = 0;
    for (const PassFacts& pass : passesOf(**scene, wish.look))
      for (const std::string& channel : pass.channels) {
        const std::string name = pass.name.empty() ? channel : pass.name + "." + channel;
        QVERIFY2(in->spec().channelindex(name) >= 0, name.c_str());
        ++wanted;
      }
    QCOMPARE(static_cast<size_t>(in->spec().nchannels), wanted);
    std::vector<float> read(60 * 150 * wanted);
    QVERIFY(in->read_image(0, 0, 0, -1, OIIO::TypeDesc::FLOAT, read.data()));
    const auto depth = static_cast<size_t>(in->spec().channelindex("depth.Z"));
    QVERIFY(std::abs(read[(75 * 60 + 30) * wanted + depth] - (60 - kBall)) < 0.2f);
    const Outcome other = writePasses(**scene, wish, folder / "passes.png");
    QVERIFY(!other);
    const Outcome stopped = writePasses(**scene, wish, folder / "no.exr", [](float f) { return f < 0.5f; });
    QVERIFY(!stopped && isCancelled(stopped.error()));
    QVERIFY(!std::filesystem::exists(folder / "no.exr"));
  }
};

JUVENOR_TEST(TestPasses)

}  // namespace juvenor

#include "test_passes.moc"
