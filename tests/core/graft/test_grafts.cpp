// Grafts: what is taken is the skin as it was, and what is laid is what was taken.
#include <OpenImageIO/imageio.h>

#include <Eigen/SparseCholesky>
#include <cmath>
#include <fstream>

#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/lay_graft.h"
#include "core/document/edits/place_stamp.h"
#include "core/files.h"
#include "core/graft/graft_file.h"
#include "core/graft/take_graft.h"
#include "core/layers/composite/composite.h"
#include "core/surface/build/search.h"
#include "core/surface/graph/harmonic_offset.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using ColorOf = std::function<LinearColor(const Vec3&)>;
using NumberOf = std::function<float(const Vec3&)>;

template <Channel C, class ValueAt>
ChannelField<C> fieldFrom(const Surface& surface, ValueAt valueAt) {
  ChannelField<C> out(surface.size(), nothingOf<C>());
  for (size_t c = 0; c < out.chunkCount(); ++c) {
    auto chunk = out.writable(c);
    for (size_t s = c * kChunkSize; s < std::min(surface.size(), (c + 1) * kChunkSize); ++s) {
      const auto value = valueAt(surface.positions[s]);
      for (size_t p = 0; p < value.size(); ++p) chunk->plane[p][s % kChunkSize] = value[p];
    }
    out.setChunk(c, std::move(chunk));
  }
  return out;
}

// A document with one painted layer that has colour, and gloss and heights where they are given.
Document skinned(const Sculpt& sculpt, const ColorOf& color, const NumberOf& height = {},
                 const NumberOf& gloss = {}) {
  Document d = withPaintedLayer(test::documentOf(sculpt), "Skin", Stratum::Flesh);
  ChannelFields fields(d.surface->size());
  fields.color() = fieldFrom<Channel::Color>(*d.surface, [&](const Vec3& p) {
    const LinearColor c = color(p);
    return std::array<uint16_t, 4>{encodeSrgb16(c.r), encodeSrgb16(c.g), encodeSrgb16(c.b), 65535};
  });
  if (height)
    fields.get<Channel::Relief>() = fieldFrom<Channel::Relief>(
        *d.surface, [&](const Vec3& p) { return std::array{height16(height(p), d.reliefStep)}; });
  if (gloss)
    fields.get<Channel::Gloss>() = fieldFrom<Channel::Gloss>(*d.surface, [&](const Vec3& p) {
      return std::array<uint16_t, 2>{to16(gloss(p)), 65535};
    });
  return *withPainted(d, d.activeLayer, std::move(fields));
}

LinearColor waves(const Vec3& p) {
  return {0.4f + 0.2f * std::sin(0.5f * p.x()), 0.3f + 0.1f * std::cos(0.4f * p.y()), 0.25f};
}

SurfacePoint on(const Document& d, const Vec3& place) {
  const uint32_t s = *nearestSample(*d.surface, place, 1e6f);
  SurfacePoint out;
  out.position = d.surface->positions[s];
  out.normal = d.surface->normals[s];
  out.toViewer = out.normal;
  out.part = d.surface->parts[s];
  return out;
}

PatchRectangle rectangle(const Document& d, const Vec3& at, const Vec2& half) {
  return {on(d, at), Vec3::UnitX(), half};
}

GraftTake taking(int pixels, float cut = 0) {
  GraftTake out;
  out.pixels = pixels;
  out.cut = cut;
  return out;
}

Result<Graft> taken(const Document& d, const PatchShape& shape, const GraftTake& take) {
  return takenGraft(*d.surface, *graftSkinOf(d), shape, take, "patch");
}

// Where a pixel lies from the middle, scene units.
Vec2 placeOf(const Graft& g, size_t pixel) {
  const float unit = g.across / static_cast<float>(std::max(g.width, g.height));
  const auto x = static_cast<float>(pixel % static_cast<size_t>(g.width)),
             y = static_cast<float>(pixel / static_cast<size_t>(g.width));
  return {(x + 0.5f - 0.5f * static_cast<float>(g.width)) * unit,
          (0.5f * static_cast<float>(g.height) - y - 0.5f) * unit};
}

// Root mean square of what a plane of the graft is off, over its middle.
double offFrom(const Graft& g, const std::vector<float>& plane,
               const std::function<float(const Vec2&)>& wanted) {
  double sum = 0, count = 0;
  for (size_t i = 0; i < g.pixels(); ++i) {
    if (g.alpha[i] < 0.99f) continue;
    const double off = static_cast<double>(plane[i] - wanted(placeOf(g, i)));
    sum += off * off;
    ++count;
  }
  return count > 0 ? std::sqrt(sum / count) : 1e9;
}

Document laid(const Document& d, const Graft& g, const Vec3& at, const GraftLaying& laying) {
  const auto setting = layingOf(g, d, laying);
  Flood flood;
  return *withStampPlaced(d, *setting, on(d, at), Vec3::UnitX(), setting->brush.radius, flood);
}

LinearColor seenAt(const Document& d, const Vec3& place) {
  const ColorField skin = *compositeOf(d.layers, *d.maps, d.bare);
  return decode(straight(colorAt(skin, *nearestSample(*d.surface, place, 1e6f))));
}

}  // namespace

class TestGrafts : public QObject {
  Q_OBJECT
 private slots:
  void aRectangleIsTheSkinAsItWas() {
    const Document d =
        skinned(test::plane(400, 40), waves, {}, [](const Vec3& p) { return 0.5f + 0.01f * p.x(); });
    const Graft g = *taken(d, rectangle(d, {3, -2, 0}, {8, 5}), taking(512));
    QCOMPARE(g.width, 512);
    QCOMPARE(g.height, 320);
    QVERIFY(std::abs(g.across - 16) < 1e-4f);
    QVERIFY(g.channels() == (ChannelSet(Channel::Color) | Channel::Gloss | Channel::Relief));
    const auto wave = [](const Vec2& p) { return waves({p.x() + 3, p.y() - 2, 0}); };
    QVERIFY(offFrom(g, g.color[0], [&](const Vec2& p) { return wave(p).r; }) < 5e-4);
    QVERIFY(offFrom(g, g.color[1], [&](const Vec2& p) { return wave(p).g; }) < 5e-4);
    QVERIFY(offFrom(g, g.gloss, [](const Vec2& p) { return 0.5f + 0.01f * (p.x() + 3); }) < 5e-4);
    QVERIFY(offFrom(g, g.relief, [](const Vec2&) { return 0.f; }) < 1e-5);
    // it dies out toward its rim
    QVERIFY(g.alpha[0] < 0.02f && g.alpha[160 * 512 + 256] == 1);
    QVERIFY(g.alpha[160 * 512 + 20] > 0.1f && g.alpha[160 * 512 + 20] < 0.9f);
  }
  // A small graft of dense skin takes means, no single samples: stripes finer than its pixels are grey.
  void smallOnesAverage() {
    const Document d = skinned(test::plane(600, 40), [](const Vec3& p) {
      const float on = static_cast<int>(std::floor((p.x() + 20) / 0.0666667f + 0.25f)) % 2 == 0 ? 0.8f : 0.2f;
      return LinearColor{on, on, on};
    });
    const Graft g = *taken(d, rectangle(d, {0, 0, 0}, {16, 16}), taking(128));
    QVERIFY2(offFrom(g, g.color[0], [](const Vec2&) { return 0.5f; }) < 0.08,
             qPrintable(QString::number(offFrom(g, g.color[0], [](const Vec2&) { return 0.5f; }))));
  }
  void broadReliefStaysBehind() {
    const auto fine = [](const Vec3& p) { return 0.05f * std::sin(4 * p.x()); };
    const Document d = skinned(test::plane(500, 40), waves, [&](const Vec3& p) {
      return fine(p) + 0.25f * std::exp(-p.head<2>().squaredNorm() / 200) + 0.005f * p.y();
    });
    const Graft g = *taken(d, rectangle(d, Vec3::Zero(), {8, 8}), taking(512, 1.5f));
    const auto wanted = [&](const Vec2& p) { return fine({p.x(), p.y(), 0}); };
    // a Gaussian of 1.5 leaves exp(−(4·1.5)²/2) of such a wave, next to nothing
    QVERIFY2(offFrom(g, g.relief, wanted) < 0.003, qPrintable(QString::number(offFrom(g, g.relief, wanted))));
    const Graft all = *taken(d, rectangle(d, Vec3::Zero(), {8, 8}), taking(512));
    QVERIFY(offFrom(all, all.relief, wanted) > 0.03);
  }
  // The relief of a sculpted form: bumps on a ball come off, the ball does not.
  void theFormCountsAsReliefWhenAsked() {
    const auto ball = [](float bumps) {
      Sculpt out = test::sphere(400, 20);
      for (Vec3& v : out.vertices) {
        const float angle = std::atan2(v.x(), v.z()), tilt = std::asin(std::clamp(v.y() / 20, -1.f, 1.f));
        v *= 1 + bumps / 20 * std::sin(60 * angle) * std::sin(60 * tilt);
      }
      return out;
    };
    const auto heights = [&](float bumps) {
      const Document d = skinned(ball(bumps), waves);
      GraftTake take = taking(256, 1.2f);
      take.form = true;
      const Graft g = *taken(d, rectangle(d, {0, 0, 20}, {5, 5}), take);
      return std::sqrt(std::pow(offFrom(g, g.relief, [](const Vec2&) { return 0.f; }), 2));
    };
    // the mean square of a product of two sines is a quarter
    const double smooth = heights(0), rough = heights(0.1f);
    QVERIFY2(smooth < 0.004, qPrintable(QString::number(smooth)));
    QVERIFY2(std::abs(rough - 0.05) < 0.008, qPrintable(QString::number(rough)));
  }
  void aStripFollowsItsLine() {
    // rings around the origin; along a ring the strip's rows are one colour
    const auto rings = [](const Vec3& p) {
      const float r = 0.4f + 0.3f * std::sin(3 * p.head<2>().norm());
      return LinearColor{r, 0.2f, 0.2f};
    };
    const Document d = skinned(test::plane(500, 40), rings);
    PatchStrip strip;
    strip.half = 1.5f;
    for (int i = 0; i <= 60; ++i) {
      const float a = static_cast<float>(M_PI) * static_cast<float>(i) / 60;
      strip.line.push_back({10 * std::cos(a), 10 * std::sin(a), 0});
    }
    const Graft g = *taken(d, strip, taking(1024));
    QVERIFY(std::abs(g.across - 10 * static_cast<float>(M_PI)) < 0.1f);
    // left of a line that goes around leftward lies its middle
    const auto wanted = [&](const Vec2& p) { return rings({10 - p.y(), 0, 0}).r; };
    QVERIFY2(offFrom(g, g.color[0], wanted) < 0.01,
             qPrintable(QString::number(offFrom(g, g.color[0], wanted))));
  }
  // Over a groove along its line, and with a line of few places over a round form, neighbours stay
  // neighbours.
  void aStripHoldsTogetherOverCreases() {
    Sculpt bent = test::plane(400, 40);
    for (Vec3& v : bent.vertices) {
      v.z() = -2 * std::exp(-v.y() * v.y() / 0.5f) - 0.01f * v.x() * v.x();
    }
    const Document d = skinned(bent, waves);
    const PatchStrip strip{
        {on(d, {-14, 1, -2}).position, on(d, {0, 0.2f, 0}).position, on(d, {14, 1, -2}).position}, 0, 3};
    const Patch patch = *patchOf(*d.surface, strip, 0);
    std::map<uint32_t, Vec2> placeOf;
    for (size_t i = 0; i < patch.samples.size(); ++i) placeOf[patch.samples[i]] = patch.places[i];
    size_t edges = 0, torn = 0;
    for (const auto& [s, place] : placeOf)
      for (const uint32_t n : d.surface->neighborsOf(s)) {
        const auto other = placeOf.find(n);
        if (other == placeOf.end()) continue;
        ++edges;
        torn += (place - other->second).norm() >
                3 * (d.surface->positions[s] - d.surface->positions[n]).norm() + 0.05f;
      }
    QVERIFY2(edges > 10'000 && torn == 0, qPrintable(QString("%1 of %2").arg(torn).arg(edges)));
  }
  void aLassoTakesWhatItEncloses() {
    const Document d = skinned(test::plane(300, 40), waves);
    PatchLasso lasso;
    for (const Vec2& p : {Vec2(-6, -6), Vec2(6, -6), Vec2(6, 6), Vec2(2, 6), Vec2(2, -2), Vec2(-6, -2)})
      lasso.loop.push_back(on(d, {p.x(), p.y(), 0}));
    GraftTake take = taking(256);
    take.feather = 0;
    const Graft g = *taken(d, lasso, take);
    double area = 0;
    const double pixel = std::pow(static_cast<double>(g.across) / 256, 2);
    for (const float a : g.alpha) area += static_cast<double>(a) * pixel;
    QVERIFY2(std::abs(area - (12 * 12 - 8 * 8)) < 3, qPrintable(QString::number(area)));
  }
  void itIsLaidAsItWasTaken() {
    const Document from = skinned(
        test::plane(300, 40), waves, [](const Vec3& p) { return 0.05f * std::sin(3 * p.x()); },
        [](const Vec3&) { return 0.8f; });
    const Graft g = *taken(from, rectangle(from, {2, 2, 0}, {6, 6}), taking(512, 2));
    Document onto = skinned(test::plane(300, 40), [](const Vec3&) { return LinearColor{0.1f, 0.1f, 0.4f}; });
    const uint32_t skin = onto.activeLayer;
    GraftLaying laying;
    laying.layer = skin;
    const Document all = laid(onto, g, {-4, 4, 0}, laying);
    const ChannelFields& now = *layerOf(all, skin)->source->fields();
    double colors = 0, heights = 0, count = 0;
    for (uint32_t s = 0; s < all.surface->size(); ++s) {
      const Vec3 p = all.surface->positions[s] - Vec3(-4, 4, 0);
      if (std::max(std::abs(p.x()), std::abs(p.y())) > 3.5f) continue;
      const LinearColor c = decode(straight(colorAt(now.color(), s))), w = waves(p + Vec3(2, 2, 0));
      const float h = heightOf(now.get<Channel::Relief>().at(s)[0], all.reliefStep);
      colors += std::pow(static_cast<double>(c.r - w.r), 2) + std::pow(static_cast<double>(c.g - w.g), 2);
      heights += std::pow(static_cast<double>(h - 0.05f * std::sin(3 * (p.x() + 2))), 2);
      ++count;
      QVERIFY(std::abs(from16(now.get<Channel::Gloss>().at(s)[0]) - 0.8f) < 0.01f);
    }
    QVERIFY2(std::sqrt(colors / count) < 0.003, qPrintable(QString::number(std::sqrt(colors / count))));
    QVERIFY2(std::sqrt(heights / count) < 0.003, qPrintable(QString::number(std::sqrt(heights / count))));
    // one channel alone, at half the strength
    laying.channels = Channel::Relief;
    laying.strength = 0.5f;
    const Document half = laid(onto, g, {-4, 4, 0}, laying);
    const uint32_t at = *nearestSample(*half.surface, {-4, 4, 0}, 1);
    QCOMPARE(colorAt(layerOf(half, skin)->source->fields()->color(), at),
             colorAt(layerOf(onto, skin)->source->fields()->color(), at));
    const auto height = [&](const Document& d) {
      return heightOf(layerOf(d, skin)->source->fields()->get<Channel::Relief>().at(at)[0], d.reliefStep);
    };
    QVERIFY(std::abs(height(half) - 0.5f * height(all)) < 1e-3f);
  }
  // Against a direct solve of the five-point Laplacian, put together here from the grid alone.
  void theOffsetIsThatOfADirectSolve() {
    constexpr int kCells = 60;
    const auto surface = test::surfaceOf(test::plane(kCells, 60));
    const auto column = [&](uint32_t s) {
      return static_cast<int>(std::lround(surface->positions[s].x() + 30));
    };
    const auto row = [&](uint32_t s) {
      return static_cast<int>(std::lround(surface->positions[s].y() + 30));
    };
    std::vector<uint32_t> samples;
    std::vector<char> fixed;
    std::vector<std::array<float, 3>> offset;
    const auto given = [](int x, int y) {
      return std::sin(0.2f * static_cast<float>(x)) + 0.03f * static_cast<float>(y);
    };
    for (uint32_t s = 0; s < surface->size(); ++s) {
      const int x = column(s), y = row(s);
      if (x < 5 || x > 45 || y < 8 || y > 50) continue;
      const bool rim = x == 5 || x == 45 || y == 8 || y == 50;
      samples.push_back(s);
      fixed.push_back(rim);
      const float v = rim ? given(x, y) : 0;
      offset.push_back({v, -v, 2});
    }
    for (size_t i = 0; i < samples.size(); ++i)
      if (!fixed[i]) offset[i][2] = 0;
    harmonicOffset(*surface, samples, fixed, offset);
    constexpr int kWide = 39, kHigh = 41;  // free ones
    const auto number = [](int x, int y) { return (y - 9) * kWide + (x - 6); };
    Eigen::SparseMatrix<double> laplacian(kWide * kHigh, kWide * kHigh);
    std::vector<Eigen::Triplet<double>> entries;
    Eigen::VectorXd right = Eigen::VectorXd::Zero(kWide * kHigh);
    for (int y = 9; y <= 49; ++y)
      for (int x = 6; x <= 44; ++x) {
        entries.emplace_back(number(x, y), number(x, y), 4);
        for (const auto& [u, v] : {std::pair(x - 1, y), {x + 1, y}, {x, y - 1}, {x, y + 1}})
          if (u == 5 || u == 45 || v == 8 || v == 50)
            right(number(x, y)) += static_cast<double>(given(u, v));
          else
            entries.emplace_back(number(x, y), number(u, v), -1);
      }
    laplacian.setFromTriplets(entries.begin(), entries.end());
    const Eigen::VectorXd exact = Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>>(laplacian).solve(right);
    double worst = 0;
    for (size_t i = 0; i < samples.size(); ++i) {
      if (fixed[i]) continue;
      const double wanted = exact(number(column(samples[i]), row(samples[i])));
      worst = std::max({worst, std::abs(static_cast<double>(offset[i][0]) - wanted),
                        std::abs(static_cast<double>(offset[i][1]) + wanted),
                        std::abs(static_cast<double>(offset[i][2]) - 2)});
    }
    QVERIFY2(worst < 2e-3, qPrintable(QString::number(worst)));
  }
  void anAdaptedGraftTakesTheToneAround() {
    // dark skin with a light spot, on light skin that gets lighter to the right
    const auto spot = [](const Vec3& p) {
      const float v = 0.05f + 0.1f * std::exp(-p.squaredNorm() / 4);
      return LinearColor{v, v, v};
    };
    const auto light = [](const Vec3& p) {
      const float v = 0.45f + 0.01f * p.x();
      return LinearColor{v, 0.8f * v, 0.7f * v};
    };
    const Document from = skinned(test::plane(200, 40), spot);
    const Graft g = *taken(from, rectangle(from, Vec3::Zero(), {6, 6}), taking(256));
    const Document onto = skinned(test::plane(200, 40), light);
    GraftLaying laying;
    laying.layer = onto.activeLayer;
    laying.channels = Channel::Color;
    const Document plain = laid(onto, g, Vec3::Zero(), laying);
    laying.adapts = true;
    const Document adapted = laid(onto, g, Vec3::Zero(), laying);
    // without it is a dark square; with it the skin's own tone with the spot on it
    QVERIFY(seenAt(plain, {4, 0, 0}).r < 0.2f);
    for (const Vec3& p : {Vec3(4, 0, 0), Vec3(-4, 1, 0), Vec3(0, 4, 0)}) {
      const LinearColor is = seenAt(adapted, p), was = light(p);
      QVERIFY2(std::abs(is.r - was.r) < 0.04f && std::abs(is.b - was.b) < 0.04f,
               qPrintable(QString("%1 %2").arg(is.r).arg(was.r)));
    }
    QVERIFY(seenAt(adapted, Vec3::Zero()).r > seenAt(adapted, {4, 0, 0}).r + 0.1f);
  }
  void aDifferenceIsTakenAlone() {
    Document d = skinned(test::plane(200, 40), waves);
    const uint32_t skin = d.activeLayer;
    d = *withCheckpoint(d, "Before", 0);
    StrokeSetting setting;
    setting.ink = inkKind("lay");
    setting.layer = skin;
    setting.brush.radius = 2;
    setting.brush.flow = 1;
    setting.brush.hardness = 0.8f;
    setting.paint = ChannelValues(1, 0, 0);
    setting.paint[Channel::Relief] = 0.2f;
    Flood flood;
    const SurfacePoint at = on(d, {1, 1, 0});
    d = *withStrokeAlong(d, setting, std::span(&at, 1), 1, flood);
    const auto between = graftSkinBetween(d, d.checkpoints[0].id, 0);
    QVERIFY(between);
    const Graft g = *takenGraft(*d.surface, *between, rectangle(d, {1, 1, 0}, {6, 6}), taking(256), "change");
    const auto alphaAt = [&](float x) {
      return g.alpha[static_cast<size_t>(128 * 256 + 128 + static_cast<int>(x / 12 * 256))];
    };
    QVERIFY(alphaAt(0) > 0.99f && alphaAt(3.5f) == 0);
    QVERIFY(!takenGraft(*d.surface, *between, rectangle(d, {-12, -12, 0}, {4, 4}), taking(128), "none"));
  }
  void theFileIsAnExrWithNamedChannels() {
    const test::Folder folder;
    const Document d =
        skinned(test::plane(200, 40), waves, [](const Vec3& p) { return 0.1f * std::sin(p.x()); });
    const Graft g = *taken(d, rectangle(d, Vec3::Zero(), {8, 4}), taking(256, 3));
    QVERIFY(writeGraft(g, folder / "cheek.exr"));
    const auto in = OIIO::ImageInput::open((folder / "cheek.exr").string());
    QVERIFY(in);
    const OIIO::ImageSpec& spec = in->spec();
    QCOMPARE(spec.nchannels, 6);
    for (const char* name : {"R", "G", "B", "A", "gloss", "relief"})
      QVERIFY2(std::ranges::find(spec.channelnames, name) != spec.channelnames.end(), name);
    QVERIFY(std::abs(spec.get_float_attribute("across") - 16) < 1e-4f);
    std::vector<float> values(g.pixels() * 6);
    QVERIFY(in->read_image(0, 0, 0, 6, OIIO::TypeFloat, values.data()));
    const auto place = [&](const char* name) {
      return static_cast<size_t>(std::ranges::find(spec.channelnames, name) - spec.channelnames.begin());
    };
    const size_t middle = g.pixels() / 2 + 128;
    QVERIFY(std::abs(values[middle * 6 + place("relief")] - g.relief[middle]) < 1e-6f);
    QVERIFY(std::abs(values[middle * 6 + place("R")] - g.color[0][middle] * g.alpha[middle]) < 1e-3f);
    const Graft back = *readGraft(folder / "cheek.exr");
    QCOMPARE(back.name, std::string("cheek"));
    QVERIFY(back.channels() == g.channels() && back.width == 256 && back.height == 128);
    QVERIFY(offFrom(back, back.color[1], [&](const Vec2& p) { return waves({p.x(), p.y(), 0}).g; }) < 2e-3);
  }
  void badFilesAreToldAndNothingIsLost() {
    const test::Folder folder;
    const Document d = skinned(test::plane(100, 40), waves);
    const Graft g = *taken(d, rectangle(d, Vec3::Zero(), {8, 8}), taking(128));
    QVERIFY(writeGraft(g, folder / "x.exr"));
    const std::string bytes = *readBytes(folder / "x.exr");
    for (size_t cut = 0; cut < bytes.size(); cut += bytes.size() / 37 + 1) {
      std::ofstream(folder / "cut.exr", std::ios::binary) << bytes.substr(0, cut);
      const auto read = readGraft(folder / "cut.exr");
      if (!read) QVERIFY(!read.error().message().empty());
    }
    for (size_t at = 0; at < bytes.size(); at += bytes.size() / 211 + 1) {
      std::string wrong = bytes;
      wrong[at] = static_cast<char>(wrong[at] ^ 0x5a);
      std::ofstream(folder / "bent.exr", std::ios::binary) << wrong;
      if (const auto read = readGraft(folder / "bent.exr"))
        for (const float a : read->alpha) QVERIFY(a >= 0 && a <= 1);
    }
    QVERIFY(!readGraft(folder / "none.exr"));
    QVERIFY(!writeGraft(g, folder / "x.exr" / "below" / "y.exr"));
    QCOMPARE(*readBytes(folder / "x.exr"), bytes);
  }
  void whatCannotBeTakenIsSaid() {
    const Document d = skinned(test::plane(100, 40), waves);
    QVERIFY(!taken(d, rectangle(d, Vec3::Zero(), {8, 8}), taking(64)));
    QVERIFY(!taken(d, rectangle(d, Vec3::Zero(), {0, 8}), taking(128)));
    QVERIFY(!taken(d, PatchStrip{{Vec3::Zero()}, 0, 2}, taking(128)));
    QVERIFY(!taken(d, PatchLasso{{on(d, Vec3::Zero())}, Vec3::UnitX()}, taking(128)));
    GraftTake none = taking(128);
    none.channels = {};
    QVERIFY(!taken(d, rectangle(d, Vec3::Zero(), {8, 8}), none));
  }
};
JUVENOR_TEST(TestGrafts)

}  // namespace juvenor
#include "test_grafts.moc"
