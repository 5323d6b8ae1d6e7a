// What a surface remembers for layers is booked as what it takes, or the budget would not hold: measured by
// the C library's own count of what is in use (mallinfo2, one arena for all threads).
#include <malloc.h>

#include "core/document/edits/edits.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/registry.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

constexpr double kMiB = 1 << 20;

double inUse() {
  malloc_trim(0);
  const struct mallinfo2 m = mallinfo2();
  return static_cast<double>(m.uordblks) + static_cast<double>(m.hblkhd);
}

double bookedIn(SurfaceMaps& maps) {
  double out = 0;
  for (const SurfaceMaps::Booked& entry : maps.booked()) out += static_cast<double>(entry.bytes);
  return out;
}

QString wordsOf(double booked, double taken, SurfaceMaps& maps) {
  QString out = QString("booked %1 MiB, taken %2 MiB:").arg(booked / kMiB).arg(taken / kMiB);
  for (const SurfaceMaps::Booked& entry : maps.booked())
    out += QString("\n  %1 %2").arg(entry.bytes).arg(QString::fromStdString(entry.key.substr(0, 60)));
  return out;
}

}  // namespace

class TestBookedMemory : public QObject {
  Q_OBJECT
 private slots:
  void initTestCase() {
    mallopt(M_ARENA_MAX, 1);
    sphere_ = test::documentOf(test::sphere(220, 10));
  }
  void everyKindBooksWhatItTakes_data() {
    QTest::addColumn<QString>("key");
    for (const SourceKind* kind : sourceKinds())
      if (kind->fresh)
        QTest::newRow(kind->key.data()) << QString::fromUtf8(kind->key.data(), kind->key.size());
  }
  void everyKindBooksWhatItTakes() {
    QFETCH(QString, key);
    const SourceKind& kind = *sourceKind(key.toStdString());
    Document d = withFillLayer(sphere_, "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f});
    d = withSourceLayer(d, "layer", kind.stratum, kind.fresh(*d.surface, {0.4f, 0.2f, 0.1f}));
    d.maps = std::make_shared<SurfaceMaps>(d.surface);
    (void)d.maps->ladder();
    QVERIFY(d.maps->rays());
    const double before = inUse();
    QVERIFY(skinOf(d.layers, *d.maps, d.bare));
    const double booked = bookedIn(*d.maps), taken = inUse() - before;
    QVERIFY2(std::abs(booked - taken) < 0.1 * std::max(booked, taken) + 0.1 * kMiB,
             qPrintable(wordsOf(booked, taken, *d.maps)));
  }

 private:
  Document sphere_;
};

JUVENOR_TEST(TestBookedMemory)
}  // namespace juvenor
#include "test_booked_memory.moc"
