// Bytes as they lie in a document: packed and unpacked they are the same, and nothing else is taken for them.
#include "core/document/store/packing.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using Arrays = std::map<std::string, std::string, std::less<>>;

Arrays packedArrays(const Sculpt& sculpt) {
  Arrays out;
  const Outcome done = packSculpt(sculpt, [&](std::string_view name, const std::string& bytes) -> Outcome {
    out[std::string(name)] = bytes;
    return Done{};
  });
  if (!done) out.clear();
  return out;
}

Result<Sculpt> unpackedFrom(const Arrays& arrays) {
  return unpackSculpt(
      [&](std::string_view name) {
        const auto at = arrays.find(name);
        return at == arrays.end() ? std::string() : at->second;
      },
      "made");
}

}  // namespace

class TestPacking : public QObject {
  Q_OBJECT
 private slots:
  void sculptsComeBackToTheBit() {
    for (const Sculpt& before :
         {test::oddities(3), test::together(test::sphere(8, 2), test::plane(3, 1, "second"))}) {
      const Arrays arrays = packedArrays(before);
      QVERIFY(arrays.size() >= 4);
      const auto after = unpackedFrom(arrays);
      QVERIFY2(after, after ? "" : after.error().what.c_str());
      QCOMPARE(test::difference(before, *after), std::string());
      QVERIFY(after->colors == before.colors && after->parts == before.parts);
      QCOMPARE(after->name, before.name);
    }
  }
  // Each array, in turn: gone, cut, longer, of another sculpt, and packed nonsense. It opens or says why not.
  void damagedArraysAreRefusedOrHarmless() {
    const Sculpt sculpt = test::oddities(3);
    const Arrays good = packedArrays(sculpt), other = packedArrays(test::sphere(12, 1));
    int refused = 0, tried = 0;
    for (const auto& [name, bytes] : good) {
      const std::string plain = *unpacked(bytes, size_t{1} << 30);
      std::vector<std::string> damages{"",
                                       bytes.substr(0, bytes.size() / 2),
                                       bytes + bytes,
                                       "nonsense",
                                       *packed(plain + "x"),
                                       *packed(plain + plain),
                                       *packed(plain.substr(0, plain.size() / 2)),
                                       *packed(std::string(plain.size(), '\xff'))};
      if (const auto there = other.find(name); there != other.end()) damages.push_back(there->second);
      for (const std::string& damage : damages) {
        Arrays arrays = good;
        arrays[name] = damage;
        const auto after = unpackedFrom(arrays);
        ++tried;
        if (!after) {
          ++refused;
          QVERIFY2(!after.error().message().empty(), name.c_str());
        } else {
          // what was taken keeps the rules that everything else relies on
          QVERIFY(after->polygonStart.back() == after->corners.size());
          for (const uint32_t c : after->corners) QVERIFY(c < after->vertices.size());
          for (const uint32_t p : after->polygonPart) QVERIFY(p < after->parts.size());
        }
      }
    }
    QVERIFY2(refused > tried / 2, qPrintable(QString("%1 of %2").arg(refused).arg(tried)));
  }
  void chunksComeBackAndShortOnesDoNot() {
    Chunk<4> chunk;
    std::mt19937 random(5);
    for (auto& plane : chunk.plane)
      for (uint16_t& v : plane) v = static_cast<uint16_t>(random());
    const std::string bytes = *packedChunk(chunk);
    Chunk<4> back;
    Chunk<1> other;
    QVERIFY(unpackChunk(bytes, back));
    QVERIFY(back.plane == chunk.plane);
    // a chunk of one plane is no chunk of four, and the other way round
    QVERIFY(!unpackChunk(bytes, other));
    QVERIFY(!unpackChunk(*packedChunk(Chunk<1>()), back));
    QVERIFY(!unpackChunk(bytes.substr(0, bytes.size() - 1), back));
    QVERIFY(!unpackChunk("", back));
  }
  // A few bytes that claim to be a great many are not unpacked to see.
  void nothingIsUnpackedBeyondWhatIsAskedFor() {
    const std::string bomb = *packed(std::string(size_t{64} << 20, '\0'));
    QVERIFY(bomb.size() < 10'000);
    const auto refused = unpacked(bomb, 1000);
    QVERIFY(!refused);
    QVERIFY(!refused.error().message().empty());
    QCOMPARE(unpacked(bomb, size_t{64} << 20)->size(), size_t{64} << 20);
    QVERIFY(!unpacked("", 10) || unpacked("", 10)->empty());
    QCOMPARE(*unpacked(*packed(""), 0), std::string());
  }
};

JUVENOR_TEST(TestPacking)
}  // namespace juvenor
#include "test_packing.moc"
