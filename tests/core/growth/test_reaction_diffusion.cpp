// Reaction and diffusion on the skin: what is kept where nothing reacts, which pattern known settings give,
// how far apart it lies, gaps.
#include <cmath>

#include "core/growth/reaction_diffusion.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

struct Reacting {
  std::shared_ptr<const Surface> surface;
  ReactionGround ground;

  Reacting(const Sculpt& sculpt, float size) : surface(test::surfaceOf(sculpt)) {
    const auto ladder = std::make_shared<const SkinLadder>(skinLadder(skinGraph(*surface), surface->spacing));
    ground = reactionGround(*surface, ladder, std::vector<Vec3>(surface->size(), Vec3::UnitX()),
                            std::vector<float>(surface->size(), size), size);
  }
  std::vector<float> pattern(const ReactionSetting& setting) const {
    Substances substances = sown(ground, setting.seed);
    (void)react(ground, setting, substances);
    return substances.v;
  }
};

double massOf(const SkinGraph& graph, const std::vector<float>& values) {
  double sum = 0;
  for (size_t n = 0; n < values.size(); ++n)
    sum += static_cast<double>(graph.areas[n]) * static_cast<double>(values[n]);
  return sum;
}

// Pieces that hang together where there is more than half of the most, and the area they take.
struct Pieces {
  std::vector<float> areas;
  float part = 0;  // of all skin
};
Pieces piecesOf(const SkinGraph& graph, const std::vector<float>& values) {
  const float half = 0.5f * std::ranges::max(values);
  std::vector<char> seen(values.size(), 0);
  Pieces out;
  double all = 0, covered = 0;
  for (uint32_t n = 0; n < values.size(); ++n) {
    all += static_cast<double>(graph.areas[n]);
    if (seen[n] || values[n] < half) continue;
    std::vector<uint32_t> open{n};
    seen[n] = 1;
    float area = 0;
    while (!open.empty()) {
      const uint32_t m = open.back();
      open.pop_back();
      area += graph.areas[m];
      for (uint32_t e = graph.start[m]; e < graph.start[m + 1]; ++e)
        if (const uint32_t o = graph.neighbors[e]; !seen[o] && values[o] >= half) {
          seen[o] = 1;
          open.push_back(o);
        }
    }
    out.areas.push_back(area);
    covered += static_cast<double>(area);
  }
  out.part = static_cast<float>(covered / all);
  return out;
}

}  // namespace

class TestReactionDiffusion : public QObject {
  Q_OBJECT
 private slots:
  // Without reaction what is there only spreads: none is lost, and it evens out.
  void spreadingAloneKeepsTheMass() {
    const Reacting r(test::sphere(80, 10), 3);
    ReactionSetting setting;
    setting.reacts = false;
    setting.stretch = 2;
    setting.steps = 400;
    Substances substances = sown(r.ground, 1);
    const SkinGraph& graph = r.ground.level.graph();
    const double u = massOf(graph, substances.u), v = massOf(graph, substances.v);
    const float most = std::ranges::max(substances.v);
    QVERIFY(react(r.ground, setting, substances));
    QVERIFY(std::abs(massOf(graph, substances.u) / u - 1) < 1e-4);
    QVERIFY(std::abs(massOf(graph, substances.v) / v - 1) < 1e-4);
    QVERIFY(std::ranges::max(substances.v) < 0.6f * most);
    QVERIFY(std::ranges::min(substances.v) >= 0);
  }

  // What stands on one node of a plane spreads as the heat kernel does: its variance grows by 2 D t along
  // each axis, and where it stood a share of 1 / (4 π D t) is left. The second substance has D = 0.08, in
  // lengths of the model, of which `wavelength` go from one spot to the next.
  void whatSpreadsIsTheHeatKernel() {
    constexpr float kSize = 4;
    const Reacting r(test::plane(150, 60), kSize);
    const SkinGraph& graph = r.ground.level.graph();
    uint32_t middle = 0;
    for (uint32_t n = 0; n < graph.size(); ++n)
      if (graph.positions[n].norm() < graph.positions[middle].norm()) middle = n;
    ReactionSetting setting;
    setting.reacts = false;
    for (const int steps : {150, 600}) {
      setting.steps = steps;
      Substances substances{std::vector<float>(graph.size(), 0), std::vector<float>(graph.size(), 0)};
      substances.v[middle] = 1;
      QVERIFY(react(r.ground, setting, substances));
      double mass = 0, xx = 0, yy = 0;
      for (size_t n = 0; n < graph.size(); ++n) {
        const Vec3 p = graph.positions[n] - graph.positions[middle];
        const double held = static_cast<double>(graph.areas[n]) * static_cast<double>(substances.v[n]);
        mass += held;
        xx += held * static_cast<double>(p.x() * p.x());
        yy += held * static_cast<double>(p.y() * p.y());
      }
      const double unit = static_cast<double>(kSize / setting.wavelength),
                   spread = 0.08 * steps * unit * unit;
      for (const double variance : {xx / mass, yy / mass})
        QVERIFY2(std::abs(variance / (2 * spread) - 1) < 0.04,
                 qPrintable(QString("%1 steps: %2, not %3").arg(steps).arg(variance).arg(2 * spread)));
      const double peak = static_cast<double>(substances.v[middle]) / mass,
                   expected = 1 / (4 * M_PI * spread);
      QVERIFY2(std::abs(peak / expected - 1) < 0.06,
               qPrintable(QString("%1 steps: %2, not %3").arg(steps).arg(peak).arg(expected)));
    }
  }

  // Places in the map of Pearson (1993), from memory: at F 0.035, k 0.065 (his λ) spots, at F 0.029, k 0.057
  // lines that hang together, at F 0.039, k 0.058 one sheet with holes.
  void knownSettingsGiveKnownPatterns() {
    const Reacting r(test::plane(200, 40), 2.4f);
    const SkinGraph& graph = r.ground.level.graph();
    ReactionSetting setting;
    setting.steps = 2200;
    setting.wavelength = 15;
    const Pieces spots = piecesOf(graph, r.pattern(setting));
    const float apart2 = 2.4f * 2.4f;
    QVERIFY2(spots.areas.size() > 100, qPrintable(QString::number(spots.areas.size())));
    QVERIFY(spots.part > 0.05f && spots.part < 0.35f);
    // one of its own for each, as far apart as asked for
    QVERIFY(std::ranges::max(spots.areas) < 1.2f * apart2);
    const float perSpot = 1600 / static_cast<float>(spots.areas.size());
    QVERIFY2(perSpot > 0.6f * apart2 && perSpot < 1.8f * apart2,
             qPrintable(QString::number(static_cast<double>(perSpot))));
    setting.feed = 0.029f;
    setting.kill = 0.057f;
    setting.wavelength = 11.2f;
    const Pieces maze = piecesOf(graph, r.pattern(setting));
    QVERIFY(maze.part > 0.35f && maze.part < 0.6f);
    QVERIFY(std::ranges::max(maze.areas) > 8 * apart2);
    setting.feed = 0.039f;
    setting.kill = 0.058f;
    setting.wavelength = 14;
    const Pieces net = piecesOf(graph, r.pattern(setting));
    QVERIFY(net.part > 0.6f);
    QVERIFY(std::ranges::max(net.areas) > 0.95f * net.part * 1600);
  }

  // Stretched along x the pattern changes more slowly that way than across.
  void stretchesAlongTheDirection() {
    const Reacting r(test::plane(200, 40), 2.4f);
    const SkinGraph& graph = r.ground.level.graph();
    const auto steepness = [&](float stretch) {
      ReactionSetting setting;
      setting.feed = 0.029f;
      setting.kill = 0.057f;
      setting.stretch = stretch;
      setting.steps = 1200;
      const std::vector<float> v = r.pattern(setting);
      std::array<double, 2> change{}, count{};
      for (size_t n = 0; n < v.size(); ++n)
        for (uint32_t e = graph.start[n]; e < graph.start[n + 1]; ++e) {
          const Vec3 step = graph.positions[graph.neighbors[e]] - graph.positions[n];
          const size_t across = std::abs(step.y()) > std::abs(step.x());
          if (std::abs(step[across ? 0 : 1]) > 0.2f * step.norm()) continue;
          change[across] += std::abs(static_cast<double>(v[graph.neighbors[e]] - v[n]));
          count[across] += 1;
        }
      return change[1] / count[1] * count[0] / change[0];
    };
    QVERIFY(std::abs(steepness(1) - 1) < 0.2);
    const double stretched = steepness(2.5f);
    QVERIFY2(stretched > 1.5, qPrintable(QString::number(stretched)));
  }

  void neverCrossesAGap() {
    Sculpt upper = test::plane(60, 20, "Upper");
    for (Vec3& v : upper.vertices) v.z() += 0.02f;
    const Reacting r(test::together(test::plane(60, 20), upper), 3);
    Substances substances = sown(r.ground, 1);
    const SkinGraph& graph = r.ground.level.graph();
    for (size_t n = 0; n < graph.size(); ++n)
      if (graph.positions[n].z() > 0.01f) {
        substances.u[n] = 1;
        substances.v[n] = 0;
      }
    ReactionSetting setting;
    setting.steps = 600;
    QVERIFY(react(r.ground, setting, substances));
    float most = 0;
    for (size_t n = 0; n < graph.size(); ++n)
      if (graph.positions[n].z() > 0.01f) most = std::max(most, substances.v[n]);
    QCOMPARE(most, 0.f);
    QVERIFY(std::ranges::max(substances.v) > 0.2f);
    const std::vector<float> over = spreadOver(*r.surface, r.ground, substances.v);
    for (uint32_t s = 0; s < over.size(); ++s)
      if (r.surface->parts[s] == 1) QCOMPARE(over[s], 0.f);
  }

  void canBeCancelled() {
    const Reacting r(test::sphere(32, 10), 4);
    Substances substances = sown(r.ground, 1);
    const Outcome out = react(r.ground, {}, substances, [](float f) { return f < 0.3f; });
    QVERIFY(!out && isCancelled(out.error()));
  }
};

JUVENOR_TEST(TestReactionDiffusion)
}  // namespace juvenor
#include "test_reaction_diffusion.moc"
