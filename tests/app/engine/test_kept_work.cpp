// What is worked out again after any edit of a stack is what working out everything gives, to the bit. It
// stands here, where the program runs as it is shipped, for a thousand edits take minutes under the
// sanitizers.
#include "core/layers/composite/below_chunks.h"
#include "core/layers/composite/kept_chunks.h"
#include "core/layers/nesting.h"
#include "core/layers/sources/zones.h"
#include "support/run_all.h"
#include "support/stacks.h"

namespace juvenor::stacks {

class TestKeptWork : public QObject {
  Q_OBJECT
 private slots:
  // Work that is kept is the same as work that is fresh, whatever was done in between.
  void keptWorkIsFreshWork() {
    Random random(12);
    Document d = ground();
    const size_t samples = d.surface->size();
    PreparedStack stack = linked(*prepared(d.layers, *d.maps), d.bare, samples);
    ChannelFields kept = skinOf(stack, samples, d.bare);
    size_t done = 0;
    for (int step = 0; step < 1000; ++step) {
      const auto next = edited(d, random);
      if (!next) continue;
      ++done;
      QVERIFY2(wellNested(next->layers),
               wellNested(next->layers) ? "" : wellNested(next->layers).error().what.c_str());
      PreparedStack after =
          linked(*prepared(next->layers, *next->maps, {}, stack), next->bare, samples, stack);
      eachChannel([&](auto c) {
        updateComposite(kept, after, next->bare, changedChunks(stack, after, samples, c()), c());
      });
      const ChannelFields fresh = *skinOf(next->layers, *next->maps, next->bare);
      QVERIFY2(test::sameValues(kept, fresh),
               qPrintable(QString("step %1: %2").arg(step).arg(listed(*next))));
      stack = std::move(after);
      d = *next;
    }
    QVERIFY(done > 500u);
  }

  // While one layer is painted on, or its mask, what else there is is worked out once; that comes out the
  // same too.
  void aDabIsFreshWork() {
    const size_t dabs =
        checkKept(5, dabbed, [](std::optional<KeptChunks>& kept, const auto&, const auto&, uint32_t id) {
          if (!kept) kept.emplace(id);
        });
    QVERIFY2(dabs > 300, qPrintable(QString::number(dabs)));
  }

  // So it is while a layer is only laid otherwise.
  void aTickIsFreshWork() {
    const auto laid = [](const Document& d, uint32_t id, Random& random) {
      return withLayerChanged(d, id, laidOtherwise(random));
    };
    const size_t ticks = checkKept(9, laid,
                                   [](std::optional<KeptChunks>& kept, const PreparedStack& before,
                                      const PreparedStack& now, uint32_t id) {
                                     if (tunedLayer(before, now) != id)
                                       kept.reset();
                                     else if (!kept)
                                       kept.emplace(id);
                                   });
    QVERIFY2(ticks > 250, qPrintable(QString::number(ticks)));
  }

 private:
  // Changes one layer of random stacks a few times over; what comes of it with what is kept is what comes of
  // it afresh. `keep` says what is kept from one stack to the next. Gives how often anything was.
  template <class Change, class Keep>
  size_t checkKept(uint32_t seed, Change change, Keep keep) {
    Random random(seed);
    Document d = ground();
    const size_t samples = d.surface->size();
    size_t count = 0;
    for (int round = 0; round < 250; ++round) {
      for (int k = 0; k < 3; ++k)
        if (auto next = edited(d, random)) d = std::move(*next);
      if (d.layers.empty()) continue;
      const uint32_t id = d.layers[random() % d.layers.size()]->id;
      PreparedStack stack = linked(*prepared(d.layers, *d.maps), d.bare, samples);
      ChannelFields skin = skinOf(stack, samples, d.bare);
      std::optional<KeptChunks> kept;
      for (int step = 0; step < 4; ++step) {
        const auto next = change(d, id, random);
        if (!next) break;
        PreparedStack after = linked(*prepared(next->layers, *next->maps, {}, stack), d.bare, samples, stack);
        keep(kept, stack, after, id);
        count += kept.has_value();
        eachChannel([&](auto c) {
          const auto changed = changedChunks(stack, after, samples, c());
          if (kept)
            updateComposite(skin, after, d.bare, changed, c(), *kept);
          else
            updateComposite(skin, after, d.bare, changed, c());
        });
        const bool same = test::sameValues(skin, *skinOf(next->layers, *next->maps, next->bare));
        if (!same)
          QTest::qFail(qPrintable(QString("round %1 on %2: %3").arg(round).arg(id).arg(listed(*next))),
                       __FILE__, __LINE__);
        if (!same) return 0;
        stack = std::move(after);
        d = *next;
      }
    }
    return count;
  }

  static LayerChange laidOtherwise(Random& random) {
    LayerChange change;
    const auto part = [&] { return static_cast<float>(random() % 1000 + 1) / 1000; };
    change.opacity = part();
    if (random() % 3 == 0) change.strength[random() % kChannelCount] = part();
    if (random() % 4 == 0) change.blend = static_cast<BlendMode>(random() % kBlendModeCount);
    return change;
  }

  // One chunk of a layer's paint, or of its mask, is another.
  static Result<Document> dabbed(const Document& d, uint32_t id, Random& random) {
    const LayerPointer layer = layerOf(d, id);
    const size_t chunk = random() % chunkCount(d.surface->size());
    if (layer->source->fields() && random() % 2) {
      ChannelFields fields = *layer->source->fields();
      const ChannelFields fresh = somePaint(d.surface->size(), random);
      eachChannel([&](auto c) { fields.get<c()>().setChunk(chunk, fresh.get<c()>().chunk(chunk)); });
      return withPainted(d, id, fields);
    }
    ScalarField mask = layer->mask.value_or(openMask(d.surface->size()));
    auto part = mask.writable(chunk);
    for (uint16_t& v : part->plane[0]) v = static_cast<uint16_t>(random() % 65536);
    mask.setChunk(chunk, std::move(part));
    return withMaskField(d, id, mask);
  }

  static QString told(BlendMode mode) { return QString::fromUtf8(blendModeKey(mode).data()); }

  // Which edit it was, and what the stack is after it.
  QString listed(const Document& d) const {
    QStringList out{QString::number(what_)};
    for (const LayerPointer& l : d.layers)
      out << QString("%1 %2%3%4 %5 %6 in %7 from %8")
                 .arg(l->id)
                 .arg(QString::fromStdString(l->name), l->clipped ? " hangs" : "",
                      l->visible ? "" : " hidden", told(l->blend))
                 .arg(static_cast<double>(l->opacity))
                 .arg(l->group)
                 .arg(l->maskFrom);
    return out.join(", ");
  }

  // Something one does to a stack; an error where that cannot be.
  Result<Document> edited(const Document& d, Random& random) {
    if (d.layers.empty()) return painted(d, "P", random);
    const auto any = [&] { return d.layers[random() % d.layers.size()]->id; };
    const uint32_t id = any();
    const bool full = d.layers.size() > 14;
    LayerChange change;
    const uint32_t what = random() % 21;
    what_ = static_cast<int>(what);
    switch (what) {
      case 0:
      case 1:
        return full ? withoutLayer(d, id) : Result<Document>(painted(d, "P", random));
      case 2:
        if (full) return withoutLayer(d, id);
        return withSourceLayer(d, "M", Stratum::Pigment,
                               random() % 2 ? someFilter(random) : turned(30, random));
      case 3:
        if (full) return withoutLayer(d, id);
        return withSourceLayer(d, "Z", Stratum::Pigment, zoneSource({{test::areaAt({0, 0.1f, 0}, 0.3f)}, 0}));
      case 4:
        return full ? withoutLayer(d, id) : withGroup(d, {{id, any()}}, "G");
      case 5:
        return withoutGroup(d, id);
      case 6:
      case 7:
        return withClipped(d, id, random() % 3 > 0);
      case 8:
        change.passes = random() % 2 == 0;
        return withLayerChanged(d, id, change);
      case 9:
        change.opacity = 0.25f * static_cast<float>(random() % 5);
        return withLayerChanged(d, id, change);
      case 10:
        change.visible = random() % 3 > 0;
        return withLayerChanged(d, id, change);
      case 11:
        change.blend = static_cast<BlendMode>(random() % kBlendModeCount);
        return withLayerChanged(d, id, change);
      case 12: {
        const uint32_t into = any();
        const bool group = isGroup(*layerOf(d, into));
        return withLayersMoved(d, {{id}},
                               {static_cast<Stratum>(random() % 3), group ? into : 0, random() % 3});
      }
      case 13: {
        ScalarField mask = openMask(d.surface->size());
        auto part = mask.writable(random() % mask.chunkCount());
        for (size_t i = 0; i < kChunkSize / 2; ++i)
          part->plane[0][i] = static_cast<uint16_t>(random() % 65536);
        mask.setChunk(random() % mask.chunkCount(), part);
        return layerOf(d, id)->mask && random() % 2 ? withoutMask(d, id) : withMaskField(d, id, mask);
      }
      case 14:
        change.strength[random() % kChannelCount] = 0.5f * static_cast<float>(random() % 3);
        return withLayerChanged(d, id, change);
      case 15:
        return withMaskFrom(d, id, random() % 3 ? any() : 0);
      case 17:
        change.mode[static_cast<size_t>(Channel::Relief)] =
            static_cast<ChannelMode>(std::array{0, 2, 3, 4}[random() % 4]);
        change.mode[static_cast<size_t>(Channel::Gloss)] = static_cast<ChannelMode>(random() % 2);
        return withLayerChanged(d, id, change);
      case 16:
        change.maskOff = random() % 2 == 0;
        return withLayerChanged(d, id, change);
      case 18: {
        MaskSteps steps;
        for (uint32_t k = random() % 3; k > 0; --k) {
          MaskStep step;
          step.way = std::array{MaskStep::Way::Melt, MaskStep::Way::Grow, MaskStep::Way::Contrast,
                                MaskStep::Way::BreakUp}[random() % 4];
          step.size = 0.02f;
          steps.push_back(step);
        }
        return withMaskSteps(d, id, steps);
      }
      default:
        if (!layerOf(d, id)->source->fields()) return withDuplicate(d, full ? 0 : id);
        return withPainted(d, id, somePaint(d.surface->size(), random));
    }
  }

  int what_ = 0;
};

JUVENOR_TEST(TestKeptWork)
}  // namespace juvenor::stacks
#include "test_kept_work.moc"
