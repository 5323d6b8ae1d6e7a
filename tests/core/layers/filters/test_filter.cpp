// Filter layers: what melts spreads as heat does, chunks fit together, nothing crosses a gap, sharpening
// undoes nothing, brushed edges fray along the direction alone, and only what a change is felt by is worked
// out again.
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/composite.h"
#include "core/layers/filters/filter.h"
#include "core/layers/sources/painted.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

LayerPointer layerWith(uint32_t id, SourcePointer source) {
  Layer out;
  out.id = id;
  out.source = std::move(source);
  return std::make_shared<Layer>(std::move(out));
}

// White where x < 0, black beyond.
LayerPointer halves(const Surface& surface) {
  ColorField field(surface.size());
  for (size_t c = 0; c < field.chunkCount(); ++c) {
    auto chunk = field.writable(c);
    for (size_t i = 0; i < std::min(kChunkSize, surface.size() - c * kChunkSize); ++i) {
      const uint16_t v = surface.positions[c * kChunkSize + i].x() < 0 ? 65535 : 0;
      setSample(*chunk, i, {v, v, v, 65535});
    }
    field.setChunk(c, std::move(chunk));
  }
  return layerWith(1, paintedSource(std::move(field)));
}

LayerPointer filterLayer(Filter::Way way, float size, float amount = 1) {
  Filter filter;
  filter.way = way;
  filter.guides.size.size = size;
  filter.guides.direction.flow = Vec3::UnitX();
  filter.guides.direction.curvature = 0;
  filter.guides.direction.form = 4;
  filter.amount = amount;
  return layerWith(2, filterSource(filter));
}

// Red, 0…1.
std::vector<float> redsOf(const LayerStack& layers, SurfaceMaps& maps) {
  const auto skin = compositeOf(layers, maps, {0.5f, 0.5f, 0.5f});
  std::vector<float> out;
  for (size_t s = 0; s < maps.size(); ++s) out.push_back(from16(skin->at(s)[0]));
  return out;
}

}  // namespace

class TestFilter : public QObject {
  Q_OBJECT
 private slots:
  // An edge that heat has run into is an error function of the deviation.
  void meltsAsHeatDoes_data() {
    QTest::addColumn<float>("deviation");
    for (const float d : {0.06f, 0.12f, 0.25f, 0.5f, 0.9f}) QTest::addRow("%g", static_cast<double>(d)) << d;
  }
  void meltsAsHeatDoes() {
    QFETCH(float, deviation);
    const auto surface = test::surfaceOf(test::plane(160, 10));
    SurfaceMaps maps(surface);
    const auto reds = redsOf({halves(*surface), filterLayer(Filter::Way::Melt, deviation)}, maps);
    double error = 0, count = 0;
    // the edge lies half a step before 0 (the samples there are black)
    const float edge = -0.5f * 10 / 160;
    for (size_t s = 0; s < reds.size(); ++s) {
      const Vec3& p = surface->positions[s];
      if (std::abs(p.y()) > 2 || std::abs(p.x()) > 2.5f * deviation) continue;
      const float expected = 0.5f * std::erfc((p.x() - edge) / (deviation * 1.41421356f));
      error += static_cast<double>(std::abs(reds[s] - expected));
      ++count;
    }
    QVERIFY2(error / count < 0.025, qPrintable(QString::number(error / count)));
  }

  // Worked out chunk by chunk it is the same as on its own, and dark and light stay as much as they were.
  void neitherSeamsNorLoss() {
    const auto surface = test::surfaceOf(test::sphere(160, 5));
    SurfaceMaps maps(surface);
    const auto before = redsOf({halves(*surface)}, maps);
    const auto after = redsOf({halves(*surface), filterLayer(Filter::Way::Melt, 0.3f)}, maps);
    double was = 0, is = 0;
    float steepest = 0;
    for (uint32_t s = 0; s < after.size(); ++s) {
      was += static_cast<double>(before[s] * surface->areas[s]);
      is += static_cast<double>(after[s] * surface->areas[s]);
      // at the poles points lie far closer than a colour has steps
      if (std::abs(surface->positions[s].y()) > 4.5f) continue;
      for (const uint32_t n : surface->neighborsOf(s))
        steepest = std::max(
            steepest, std::abs(after[s] - after[n]) / (surface->positions[s] - surface->positions[n]).norm());
    }
    QVERIFY(std::abs(is / was - 1) < 0.01);
    // no steeper than the middle of a melted edge, 1 / (σ √2π)
    QVERIFY2(steepest < 1.5f / (0.3f * 2.5066f), qPrintable(QString::number(static_cast<double>(steepest))));
  }

  void neverCrossesAGap() {
    // two sheets a hair apart, one white and one black
    Sculpt lower = test::plane(60, 6, "Lower");
    for (Vec3& v : lower.vertices) v.z() -= 0.02f;
    const auto sheets = test::together(test::plane(60, 6, "Upper"), lower);
    const auto surface = test::surfaceOf(sheets);
    SurfaceMaps maps(surface);
    ColorField field(surface->size());
    for (size_t c = 0; c < field.chunkCount(); ++c) {
      auto chunk = field.writable(c);
      for (size_t i = 0; i < std::min(kChunkSize, surface->size() - c * kChunkSize); ++i) {
        const uint16_t v = surface->parts[c * kChunkSize + i] == 0 ? 65535 : 0;
        setSample(*chunk, i, {v, v, v, 65535});
      }
      field.setChunk(c, std::move(chunk));
    }
    for (const auto way : {Filter::Way::Melt, Filter::Way::Painterly}) {
      const auto reds = redsOf({layerWith(1, paintedSource(field)), filterLayer(way, 0.5f)}, maps);
      for (size_t s = 0; s < reds.size(); ++s)
        QVERIFY(std::abs(reds[s] - (surface->parts[s] == 0 ? 1.f : 0.f)) < 1e-3f);
    }
  }

  // Sharpening what was melted brings edges back a good way, and leaves flat skin alone.
  void sharpens() {
    const auto surface = test::surfaceOf(test::plane(160, 10));
    SurfaceMaps maps(surface);
    const auto melt = filterLayer(Filter::Way::Melt, 0.2f);
    Layer sharp = *filterLayer(Filter::Way::Sharpen, 0.2f, 1.2f);
    sharp.id = 3;
    const auto soft = redsOf({halves(*surface), melt}, maps);
    const auto crisp = redsOf({halves(*surface), melt, std::make_shared<Layer>(sharp)}, maps);
    double softEdge = 0, crispEdge = 0;
    for (uint32_t s = 0; s < soft.size(); ++s) {
      const Vec3& p = surface->positions[s];
      if (std::abs(p.x()) > 1.5f) QVERIFY(std::abs(crisp[s] - soft[s]) < 1e-3f);
      if (std::abs(p.x()) > 0.2f || std::abs(p.y()) > 3) continue;
      for (const uint32_t n : surface->neighborsOf(s)) {
        softEdge += static_cast<double>(std::abs(soft[s] - soft[n]));
        crispEdge += static_cast<double>(std::abs(crisp[s] - crisp[n]));
      }
    }
    QVERIFY2(crispEdge > 1.25 * softEdge, qPrintable(QString::number(crispEdge / softEdge)));
  }

  // Pulled along x, an edge across it frays by up to the reach; the same edge pulled along y stays.
  void brushesAlongTheDirection() {
    const auto surface = test::surfaceOf(test::plane(200, 10));
    SurfaceMaps maps(surface);
    const auto frayed = [&](const Vec3& flow) {
      Filter filter = *filterOf(*filterLayer(Filter::Way::Painterly, 1)->source);
      filter.guides.direction.flow = flow;
      const auto reds = redsOf({halves(*surface), layerWith(2, filterSource(filter))}, maps);
      size_t changed = 0, far = 0;
      for (size_t s = 0; s < reds.size(); ++s) {
        const float x = surface->positions[s].x();
        if (std::abs(reds[s] - (x < 0 ? 1.f : 0.f)) < 0.01f) continue;
        ++changed;
        far += std::abs(x) > 1.15f;
      }
      return std::pair(static_cast<float>(changed) / static_cast<float>(reds.size()), far);
    };
    const auto across = frayed(Vec3::UnitX()), along = frayed(Vec3::UnitY());
    QVERIFY2(across.first > 0.03f && across.second == 0, qPrintable(QString::number(across.first)));
    QVERIFY2(along.first < 0.015f, qPrintable(QString::number(along.first)));
  }

  // Gloss and relief melt as colour does, and what is not worked on stays to the bit.
  void worksOnAnyChannel() {
    const auto surface = test::surfaceOf(test::plane(160, 10));
    SurfaceMaps maps(surface);
    ChannelFields fields(surface->size());
    for (size_t c = 0; c < chunkCount(surface->size()); ++c) {
      auto gloss = fields.get<Channel::Gloss>().writable(c);
      auto relief = fields.get<Channel::Relief>().writable(c);
      for (size_t i = 0; i < std::min(kChunkSize, surface->size() - c * kChunkSize); ++i) {
        const bool left = surface->positions[c * kChunkSize + i].x() < 0;
        gloss->plane[0][i] = left ? 65535 : 0;
        gloss->plane[1][i] = 65535;
        relief->plane[0][i] = static_cast<uint16_t>(kLevel + (left ? 2000 : -2000));
      }
      fields.get<Channel::Gloss>().setChunk(c, gloss);
      fields.get<Channel::Relief>().setChunk(c, relief);
    }
    const LayerPointer halves = layerWith(1, paintedSource(fields));
    Filter filter = *filterOf(*filterLayer(Filter::Way::Melt, 0.25f)->source);
    filter.on = ChannelSet(Channel::Gloss) | Channel::Relief;
    const auto melted = skinOf({halves, layerWith(2, filterSource(filter))}, maps, {0.5f, 0.5f, 0.5f});
    filter.on = Channel::Relief;
    const auto relief = skinOf({halves, layerWith(2, filterSource(filter))}, maps, {0.5f, 0.5f, 0.5f});
    double gloss = 0, height = 0, count = 0;
    for (uint32_t s = 0; s < surface->size(); ++s) {
      const Vec3& p = surface->positions[s];
      if (std::abs(p.y()) > 3 || std::abs(p.x()) > 0.7f) continue;
      const float share = 0.5f * std::erfc((p.x() + 0.5f * 10 / 160) / (0.25f * 1.41421356f));
      const auto h = static_cast<float>(melted->get<Channel::Relief>().at(s)[0]) - kLevel;
      gloss += static_cast<double>(std::abs(from16(melted->get<Channel::Gloss>().at(s)[0]) - share));
      height += static_cast<double>(std::abs(h / 4000 - (share - 0.5f)));
      count += 1;
    }
    QVERIFY2(gloss / count < 0.025, qPrintable(QString::number(gloss / count)));
    QVERIFY2(height / count < 0.025, qPrintable(QString::number(height / count)));
    for (uint32_t s = 0; s < surface->size(); ++s) {
      QVERIFY(relief->get<Channel::Relief>().at(s) == melted->get<Channel::Relief>().at(s));
      QVERIFY(relief->get<Channel::Gloss>().at(s) == fields.get<Channel::Gloss>().at(s));
    }
  }

  // A slope much wider than the radius goes, ripples much finer than it stay; closed forms: heat weakens a
  // wave of length L by exp(−2 (π σ / L)²).
  void evensOutWhatIsBroad() {
    const auto surface = test::surfaceOf(test::plane(200, 10));
    SurfaceMaps maps(surface);
    const auto wave = [](float x, float length) { return std::sin(2 * 3.14159265f * x / length); };
    ColorField field(surface->size());
    for (size_t c = 0; c < field.chunkCount(); ++c) {
      auto chunk = field.writable(c);
      for (size_t i = 0; i < std::min(kChunkSize, surface->size() - c * kChunkSize); ++i) {
        const float x = surface->positions[c * kChunkSize + i].x();
        const uint16_t v = to16(0.5f + 0.2f * wave(x, 4) + 0.1f * wave(x, 0.4f));
        setSample(*chunk, i, {v, v, v, 65535});
      }
      field.setChunk(c, std::move(chunk));
    }
    const auto reds = redsOf(
        {layerWith(1, paintedSource(std::move(field))), filterLayer(Filter::Way::EvenOut, 0.25f)}, maps);
    double broad = 0, fine = 0, norm = 0;
    for (size_t s = 0; s < reds.size(); ++s) {
      const Vec3& p = surface->positions[s];
      if (std::abs(p.x()) > 2 || std::abs(p.y()) > 3) continue;  // one whole broad wave, far from the rim
      broad += static_cast<double>((reds[s] - 0.5f) * wave(p.x(), 4));
      fine += static_cast<double>((reds[s] - 0.5f) * wave(p.x(), 0.4f));
      norm += static_cast<double>(wave(p.x(), 4) * wave(p.x(), 4));
    }
    const auto kept = [](double length) { return std::exp(-2 * std::pow(3.14159265 * 0.25 / length, 2)); };
    QVERIFY2(std::abs(broad / norm - 0.2 * (1 - kept(4) + std::pow(kept(4), 36))) < 0.02,
             qPrintable(QString::number(broad / norm)));
    QVERIFY2(std::abs(fine / norm - 0.1 * (1 - kept(0.4))) < 0.01, qPrintable(QString::number(fine / norm)));
  }

  // What is fine in the layer it hangs on comes over what is broad below that; where nothing is below it to
  // look at, nothing happens.
  void swapsDetail() {
    const auto surface = test::surfaceOf(test::plane(200, 10));
    SurfaceMaps maps(surface);
    const auto painted = [&](uint32_t id, float level, float broad, float fine) {
      ColorField field(surface->size());
      for (size_t c = 0; c < field.chunkCount(); ++c) {
        auto chunk = field.writable(c);
        for (size_t i = 0; i < std::min(kChunkSize, surface->size() - c * kChunkSize); ++i) {
          const float x = surface->positions[c * kChunkSize + i].x();
          const uint16_t v = to16(level + broad * x + fine * std::sin(2 * 3.14159265f * x / 0.3f));
          setSample(*chunk, i, {v, v, v, 65535});
        }
        field.setChunk(c, std::move(chunk));
      }
      return layerWith(id, paintedSource(std::move(field)));
    };
    const LayerPointer skin = painted(1, 0.5f, 0.03f, 0.08f), photo = painted(3, 0.3f, -0.04f, 0.05f);
    const auto swap = [&](bool broad, bool hangs) {
      Filter filter = *filterOf(*filterLayer(Filter::Way::SwapDetail, 0.3f)->source);
      filter.broad = broad;
      Layer out = *layerWith(4, filterSource(filter));
      out.clipped = hangs;
      return std::make_shared<Layer>(std::move(out));
    };
    const auto check = [&](const std::vector<float>& reds, float level, float broad, float fine) {
      double error = 0, count = 0;
      for (size_t s = 0; s < reds.size(); ++s) {
        const Vec3& p = surface->positions[s];
        if (std::abs(p.x()) > 3 || std::abs(p.y()) > 3) continue;
        const float expected = level + broad * p.x() + fine * std::sin(2 * 3.14159265f * p.x() / 0.3f);
        error += static_cast<double>(std::abs(reds[s] - expected));
        count += 1;
      }
      return error / count;
    };
    const auto fine = redsOf({skin, photo, swap(false, true)}, maps);
    QVERIFY2(check(fine, 0.5f, 0.03f, 0.05f) < 0.004,
             qPrintable(QString::number(check(fine, 0.5f, 0.03f, 0.05f))));
    const auto broad = redsOf({skin, photo, swap(true, true)}, maps);
    QVERIFY2(check(broad, 0.3f, -0.04f, 0.08f) < 0.004,
             qPrintable(QString::number(check(broad, 0.3f, -0.04f, 0.08f))));
    QVERIFY(redsOf({skin, photo, swap(false, false)}, maps) == redsOf({skin, photo}, maps));
  }

  // A change below is felt as far as a filter reaches and no further; what is remembered comes out the same.
  void onlyWhatFeelsAChangeIsWorkedOutAgain() {
    const auto surface = test::surfaceOf(test::sphere(260, 5));
    SurfaceMaps maps(surface);
    const EncodedColor bare{0.5f, 0.5f, 0.5f};
    const LayerPointer below = halves(*surface), filter = filterLayer(Filter::Way::Melt, 0.15f);
    const PreparedStack stack = linked(*prepared({below, filter}, maps), bare, surface->size());
    ColorField whole = compositeOf(stack, surface->size(), bare);
    // one chunk painted red
    ChannelFields fields = *below->source->fields();
    auto chunk = fields.color().writable(20);
    for (size_t i = 0; i < kChunkSize; ++i) setSample(*chunk, i, {65535, 0, 0, 65535});
    fields.color().setChunk(20, std::move(chunk));
    const LayerPointer painted = layerWith(1, paintedSource(std::move(fields)));
    const PreparedStack after =
        linked(*prepared({painted, filter}, maps, {}, stack), bare, surface->size(), stack);
    const auto changed = changedChunks(stack, after, surface->size());
    const auto felt = feltChunks(after, 1, std::array{20u}, surface->size());
    QVERIFY(changed == felt);
    QVERIFY(felt.size() > 1 && felt.size() < chunkCount(surface->size()) / 2);
    updateComposite(whole, after, bare, felt);
    const ColorField fresh = *compositeOf({painted, filter}, maps, bare);
    for (size_t c = 0; c < whole.chunkCount(); ++c) QVERIFY(whole.chunk(c)->plane == fresh.chunk(c)->plane);
    // a layer above is felt by itself alone
    QVERIFY(feltChunks(after, 2, std::array{20u}, surface->size()) == std::vector<uint32_t>{20});
  }

  void parametersComeBack() {
    for (const auto way : {Filter::Way::Melt, Filter::Way::Sharpen, Filter::Way::Painterly,
                           Filter::Way::EvenOut, Filter::Way::SwapDetail}) {
      Filter given = *filterOf(*filterLayer(way, 0.7f, 1.5f)->source);
      given.on = ChannelSet(Channel::Color) | Channel::Relief;
      given.broad = true;
      const auto source = filterSource(given);
      const auto again = makeSource("filter", source->parameters(), 10);
      QVERIFY(again && *filterOf(**again) == *filterOf(*source));
      QCOMPARE(source->guides() != nullptr, way == Filter::Way::Painterly);
    }
    QVERIFY(!makeSource("filter", {{"on", nlohmann::json::array()}}, 10));
    QVERIFY(makeSource("filter", {{"on", {"sheen"}}}, 10).error().what.find("sheen") != std::string::npos);
    QVERIFY(makeSource("filter", {{"way", "fold"}}, 10).error().what.find("fold") != std::string::npos);
  }

  void canBeCancelled() {
    SurfaceMaps maps(test::surfaceOf(test::sphere(100, 5)));
    maps.ladder();
    for (const auto way : {Filter::Way::Melt, Filter::Way::Painterly}) {
      const auto stopped = filterLayer(way, 0.5f)->source->prepare(maps, [](float) { return false; });
      QVERIFY(!stopped && isCancelled(stopped.error()));
    }
  }
};

JUVENOR_TEST(TestFilter)
}  // namespace juvenor
#include "test_filter.moc"
