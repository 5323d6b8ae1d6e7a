// The tables of kinds: docs are what they print, files keep every number within its range, pages of the
// window are tested beside them (tests/app/test_kind_pages.cpp).
#include "batch/kinds_command.h"
#include "core/files.h"
#include "core/layers/guides.h"
#include "core/layers/source.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {

class TestKinds : public QObject {
  Q_OBJECT
 private slots:
  void theDocsAreWhatTheTablesSay() {
    const auto written = readBytes(std::filesystem::path(QT_TESTCASE_SOURCEDIR) / "../docs/kinds.md");
    QVERIFY(written);
    QVERIFY2(*written == batch::kindsText(), "run juvenor-batch kinds > docs/kinds.md");
  }

  // Each number of each kind comes back from a file as it went in, is cut at its ends, and nothing else of
  // the layer changes with it.
  void everyNumberIsReadAndWritten() {
    const auto surface = test::surfaceOf(test::plane(6, 1));
    size_t numbers = 0;
    for (const SourceKind* kind : sourceKinds()) {
      if (!kind->members) continue;
      const nlohmann::json fresh = kind->fresh(*surface, {0.5f, 0.4f, 0.3f})->parameters();
      for (const MemberFacts& m : kind->members()) {
        const std::string key(m.key);
        QVERIFY2(fresh.contains(key), key.c_str());
        QVERIFY(std::ranges::find(kind->keys, m.key) != kind->keys.end());
        const float least = std::max(m.least, -5.f), most = std::min(m.most, std::max(7.f, 2 * least));
        for (const float value : {least, most, 0.5f * (least + most)}) {
          nlohmann::json changed = fresh;
          changed[key] = value;
          const auto source = kind->read(changed, 10);
          QVERIFY2(source, key.c_str());
          nlohmann::json again = (*source)->parameters();
          QVERIFY2(std::abs(again[key].get<float>() - value) < 1e-5f, key.c_str());
          again[key] = fresh[key];
          QVERIFY2(again == fresh, key.c_str());
        }
        nlohmann::json beyond = fresh;
        beyond[key] = 3e9f;
        QCOMPARE((*kind->read(beyond, 10))->parameters()[key].get<float>(), m.most);
        beyond[key] = "much";
        QVERIFY(!kind->read(beyond, 10));
        ++numbers;
      }
      const bool lengths = std::ranges::any_of(
          kind->members(), [](const MemberFacts& m) { return m.unit == MemberUnit::Length; });
      QVERIFY(lengths == !kind->lengths.empty());
    }
    QVERIFY(numbers > 70);
  }

  // So do those of what kinds share.
  void sharedNumbersAreReadAndWritten() {
    HueZone zone;
    readsItsNumbers<HueZone>(toJson(ZoneSet{{zone}, 0})["zones"][0],
                             [](const nlohmann::json& j) -> std::optional<nlohmann::json> {
                               const auto read = zoneSetFrom({{"zones", nlohmann::json::array({j})}});
                               if (!read) return std::nullopt;
                               return toJson(*read)["zones"][0];
                             });
    readsItsNumbers<MaskTerm>(toJson(MaskTerms{{{&kCavityMap, 1, Vec3::UnitY()}}})[0],
                              [](const nlohmann::json& j) -> std::optional<nlohmann::json> {
                                const auto read = maskTermsFrom(nlohmann::json::array({j}));
                                if (!read) return std::nullopt;
                                return toJson(*read)[0];
                              });
    readsItsNumbers<DirectionGuide>(toJson(DirectionGuide{}),
                                    [](const nlohmann::json& j) -> std::optional<nlohmann::json> {
                                      const auto read = directionGuideFrom(j, {});
                                      if (!read) return std::nullopt;
                                      return toJson(*read);
                                    });
    readsItsNumbers<SizeGuide>(toJson(SizeGuide{}),
                               [](const nlohmann::json& j) -> std::optional<nlohmann::json> {
                                 const auto read = sizeGuideFrom(j, {});
                                 if (!read) return std::nullopt;
                                 return toJson(*read);
                               });
  }

 private:
  template <class Kind>
  static void readsItsNumbers(
      const nlohmann::json& fresh,
      const std::function<std::optional<nlohmann::json>(const nlohmann::json&)>& through) {
    for (const MemberFacts& m : allMembers<Kind>()) {
      const std::string key(m.key);
      QVERIFY2(fresh.contains(key), key.c_str());
      const float least = std::max(m.least, -5.f), most = std::min(m.most, std::max(7.f, 2 * least));
      for (const float value : {least, most, 0.5f * (least + most)}) {
        nlohmann::json changed = fresh;
        changed[key] = value;
        const auto again = through(changed);
        QVERIFY2(again && std::abs((*again)[key].get<float>() - value) < 1e-5f, key.c_str());
      }
      nlohmann::json beyond = fresh;
      beyond[key] = 3e9f;
      const auto cut = through(beyond);
      QVERIFY2(cut && (*cut)[key].get<float>() == m.most, key.c_str());
      beyond[key] = "much";
      QVERIFY2(!through(beyond), key.c_str());
    }
  }
};

JUVENOR_TEST(TestKinds)
}  // namespace juvenor
#include "test_kinds.moc"
