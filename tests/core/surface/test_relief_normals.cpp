// Normals bent by relief against those of the surface the heights describe, in closed form.

#include "core/layers/channels.h"
#include "core/surface/relief_normals.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

template <class HeightAt>
ScalarField heightsOf(const Surface& surface, float step, HeightAt heightAt) {
  ScalarField out(surface.size(), {kLevel});
  for (size_t c = 0; c < out.chunkCount(); ++c) {
    auto chunk = out.writable(c);
    for (size_t s = c * kChunkSize; s < std::min(surface.size(), (c + 1) * kChunkSize); ++s)
      chunk->plane[0][s % kChunkSize] = height16(heightAt(surface.positions[s]), step);
    out.setChunk(c, std::move(chunk));
  }
  return out;
}

double degreesBetween(const Vec3& a, const Vec3& b) {
  return static_cast<double>(std::atan2(a.cross(b).norm(), a.dot(b))) * 180 / M_PI;
}

}  // namespace

class TestReliefNormals : public QObject {
  Q_OBJECT
 private slots:
  // A sine of amplitude a and wavelength w over a plane has the slope 2πa/w · cos(2πx/w).
  void aSineLeansAsItsSlopeSays() {
    const auto surface = test::surfaceOf(test::plane(200, 100));
    constexpr float kWave = 6, kHigh = 0.5f, kStep = 1e-4f;
    const float k = 2 * static_cast<float>(M_PI) / kWave;
    const Vec3 along = Vec3(1, 0.6f, 0).normalized();
    const auto field =
        heightsOf(*surface, kStep, [&](const Vec3& p) { return kHigh * std::sin(k * p.dot(along)); });
    const ReliefNormals bent = reliefNormals(surface, field, kLevel, kStep);
    double sum = 0, most = 0, lean = 0;
    for (size_t s = 0; s < surface->size(); ++s) {
      const float slope = kHigh * k * std::cos(k * surface->positions[s].dot(along));
      const Vec3 expected = (Vec3::UnitZ() - slope * along).normalized();
      const double off = degreesBetween(bent.at(s), expected);
      sum += off;
      most = std::max(most, off);
      lean = std::max(lean, degreesBetween(bent.at(s), Vec3::UnitZ()));
    }
    const double mean = sum / static_cast<double>(surface->size());
    QVERIFY2(mean < 2 && lean > 25, qPrintable(QString("%1 mean, %2 most").arg(mean).arg(most)));
  }
  // Heights over a sphere of radius r: r + h is a sphere again when h is even, and nothing leans.
  void evenHeightsLeanNowhere() {
    const auto surface = test::surfaceOf(test::sphere(60, 10));
    const auto field = heightsOf(*surface, 1e-4f, [](const Vec3&) { return 0.7f; });
    const ReliefNormals bent = reliefNormals(surface, field, kLevel, 1e-4f);
    for (size_t s = 0; s < surface->size(); ++s)
      QVERIFY(degreesBetween(bent.at(s), surface->normals[s]) < 0.05);
  }
  // Working out only what changed gives what working out all gives, across the borders of chunks too.
  void updatingWhatChangedIsEnough() {
    const auto surface = test::surfaceOf(test::plane(150, 100));
    std::mt19937 random(4);
    ScalarField field(surface->size(), {kLevel});
    ReliefNormals bent(surface);
    for (int step = 0; step < 12; ++step) {
      const auto c = static_cast<uint32_t>(random() % field.chunkCount());
      if (step == 9) {
        field.setChunk(c, nullptr);
      } else {
        auto chunk = field.writable(c);
        for (auto& v : chunk->plane[0]) v = static_cast<uint16_t>(kLevel + random() % 900);
        field.setChunk(c, std::move(chunk));
      }
      bent.update(field, kLevel, 1e-3f, std::array{c});
      const ReliefNormals whole = reliefNormals(surface, field, kLevel, 1e-3f);
      for (size_t s = 0; s < surface->size(); ++s) QVERIFY(bent.at(s) == whole.at(s));
    }
  }
  void noReliefHoldsNothing() {
    const auto surface = test::surfaceOf(test::soup(test::sphere(10, 1)));
    ReliefNormals bent(surface);
    bent.update(ScalarField(surface->size(), {kLevel}), kLevel, 1, std::array{0u});
    QVERIFY(!bent.any() && bent.at(3) == surface->normals[3]);
    // loose triangles, and places without any neighbour, take heights too
    const auto field = heightsOf(*surface, 1e-4f, [](const Vec3& p) { return 0.1f * p.x(); });
    const ReliefNormals leaning = reliefNormals(surface, field, kLevel, 1e-4f);
    for (size_t s = 0; s < surface->size(); ++s) QVERIFY(std::abs(leaning.at(s).norm() - 1) < 1e-4f);
  }
  // Half of the normals lean one way and half the other: the mean is as long as the cosine of that.
  void meansAreShorterTheMoreNormalsDiffer() {
    const auto surface = test::surfaceOf(test::plane(80, 10));
    ScalarField field(surface->size());
    for (size_t c = 0; c < chunkCount(surface->size()); ++c) {
      auto chunk = std::make_shared<ScalarChunk>();
      for (size_t i = 0; i < kChunkSize && c * kChunkSize + i < surface->size(); ++i) {
        // a roof over each eighth of the plate
        const float along = surface->positions[c * kChunkSize + i].x() + 5, at = std::fmod(along, 1.25f);
        chunk->plane[0][i] = static_cast<uint16_t>(kLevel + 8000 * std::min(at, 1.25f - at));
      }
      field.setChunk(c, chunk);
    }
    const ReliefNormals bent = reliefNormals(surface, field, kLevel, 1e-4f);
    double plain = 0, whole = 0;
    for (size_t s = 0; s < surface->size(); ++s) {
      QVERIFY((bent.meanAt(s, 0) - bent.at(s)).norm() < 1e-6f);
      float before = 1.0001f;
      for (float level = 0; level <= ReliefNormals::kLevels; level += 0.5f) {
        const float length = bent.meanAt(s, level).norm();
        QVERIFY(length <= before + 0.12f && length > 0.5f);
        before = length;
      }
      plain += static_cast<double>(bent.meanAt(s, 1).norm());
      whole += static_cast<double>(bent.meanAt(s, ReliefNormals::kLevels).norm());
    }
    const double count = static_cast<double>(surface->size());
    // slopes of 0.8: 1 / √(1 + 0.64), were no normal between them
    QVERIFY2(std::abs(whole / count - 0.78) < 0.06, qPrintable(QString::number(whole / count)));
    QVERIFY(plain / count > 0.93);
    const ReliefNormals none(surface);
    QVERIFY(none.meanAt(7, 3) == surface->normals[7]);
  }
};

JUVENOR_TEST(TestReliefNormals)
}  // namespace juvenor
#include "test_relief_normals.moc"
