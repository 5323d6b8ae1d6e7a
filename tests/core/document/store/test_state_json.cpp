// A document's state as JSON, and the database under it.
#include "core/color/color_json.h"
#include "core/document/edits/edits.h"
#include "core/document/store/database.h"
#include "core/document/store/packing.h"
#include "core/document/store/state_json.h"
#include "core/layers/sources/fill.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {

class TestStateJson : public QObject {
  Q_OBJECT
 private slots:
  void propertiesGoThroughJson() {
    Document d = test::documentOf(test::plane(4, 1));
    d = withFillLayer(d, "Töne “1”", Stratum::Flesh, {0.1f, 0.2f, 0.3f});
    d = *withMask(withPaintedLayer(d, "p", Stratum::Surface), d.nextLayer);
    LayerChange change;
    change.blend = BlendMode::Stain;
    change.opacity = 0.37f;
    change.locked = true;
    d = *withLayerChanged(d, d.activeLayer, change);
    d.hiddenParts = {0};
    d.strokeCount = 12;
    d.refinements = {{}, {0.25f, RefineShape::Flat}, {0.1f, RefineShape::Round, 30}};
    d.placement = {Axis::PlusZ, Axis::MinusY, 25.4f};
    const auto state = nlohmann::json::parse(stateOf(d).dump());
    const auto back = documentFromState(state, d.surface->size());
    QVERIFY2(back, back ? "" : back.error().what.c_str());
    QCOMPARE(back->layers.size(), size_t{2});
    QCOMPARE(back->layers[0]->name, std::string("Töne “1”"));
    QCOMPARE(*fillColor(*back->layers[0]->source), (EncodedColor{0.1f, 0.2f, 0.3f}));
    QVERIFY(back->layers[1]->mask && back->layers[1]->locked && back->layers[1]->blend == BlendMode::Stain);
    QCOMPARE(back->layers[1]->opacity, 0.37f);
    QVERIFY(back->refinements == d.refinements && back->placement == d.placement);
    QCOMPARE(back->hiddenParts, d.hiddenParts);
    QCOMPARE(back->strokeCount, 12u);
    QCOMPARE(stateOf(*back).dump(), stateOf(d).dump());
  }
  void damagedStatesAreRefused_data() {
    QTest::addColumn<QString>("key");
    for (const char* key : {"layers", "active", "next", "bare", "wells", "hidden", "strokes"})
      QTest::newRow(key) << key;
  }
  void damagedStatesAreRefused() {
    QFETCH(QString, key);
    auto state = stateOf(withPaintedLayer(test::documentOf(test::plane(4, 1)), "p", Stratum::Flesh));
    QVERIFY(documentFromState(state, 25));
    state.erase(key.toStdString());
    const auto back = documentFromState(state, 25);
    QVERIFY(!back && !back.error().what.empty());
  }
  void unknownLayerKindsAreNamed() {
    auto state = stateOf(withPaintedLayer(test::documentOf(test::plane(4, 1)), "Scales", Stratum::Flesh));
    state["layers"][0]["kind"] = "hologram";
    const auto back = documentFromState(state, 25);
    QVERIFY(!back && back.error().what.find("hologram") != std::string::npos &&
            back.error().what.find("Scales") != std::string::npos);
    state["layers"][0]["kind"] = "painted";
    state["layers"][0]["blend"] = "glow";
    QVERIFY(!documentFromState(state, 25));
  }
  void coloursAreReadInBothWays() {
    QCOMPARE(*colorFromJson("#ff8000"), (EncodedColor{1, 128 / 255.f, 0}));
    QCOMPARE(*colorFromJson({0.5, 0.25, 1}), (EncodedColor{0.5f, 0.25f, 1}));
    for (const nlohmann::json& bad :
         {nlohmann::json(3), nlohmann::json("red"), nlohmann::json({1, 2}), nlohmann::json({1, 2, "x"})})
      QVERIFY(!colorFromJson(bad));
  }
  void packedBytesComeBackAndDamageIsNoticed() {
    std::string bytes;
    for (int i = 0; i < 100'000; ++i) bytes.push_back(static_cast<char>(i % 251 * (i % 13)));
    const std::string small = *packed(bytes);
    QVERIFY(small.size() < bytes.size());
    QCOMPARE(*unpacked(small, 1 << 20), bytes);
    QVERIFY(!unpacked(small, 1000));
    QVERIFY(!unpacked(small.substr(0, small.size() / 2), 1 << 20));
    QVERIFY(!unpacked("nonsense", 1 << 20));
    QVERIFY(!unpacked("", 1 << 20));
  }
  void theDatabaseGivesErrorsAsValues() {
    const test::Folder folder;
    auto db = Database::open(folder / "x.db", Database::Mode::Create);
    QVERIFY(db);
    QVERIFY(db->run("CREATE TABLE t(a INTEGER, b TEXT, c BLOB)"));
    const Blob blob("a\0b", 3);
    QVERIFY(db->query("INSERT INTO t VALUES(?, ?, ?)", {int64_t{7}, std::string_view("seven"), &blob}));
    QVERIFY(db->query("INSERT INTO t VALUES(?, ?, ?)", {int64_t{8}, Null{}, Null{}}));
    QCOMPARE(db->lastInsertId(), int64_t{2});
    int rows = 0;
    QVERIFY(db->query("SELECT a, b, c FROM t ORDER BY a", {}, [&](const SqlRow& row) {
      if (rows == 0) {
        if (row.integer(0) != 7 || row.text(1) != "seven" || row.blob(2) != std::string_view("a\0b", 3))
          return false;
      } else if (row.kind(1) != SqlRow::Kind::Null || !row.blob(2).empty()) {
        return false;
      }
      ++rows;
      return true;
    }));
    QCOMPARE(rows, 2);
    rows = 0;
    QVERIFY(db->query("SELECT a FROM t", {}, [&](const SqlRow&) { return ++rows < 1; }));
    QCOMPARE(rows, 1);
    const Outcome wrong = db->run("SELECT nothing FROM nowhere");
    QVERIFY(!wrong && wrong.error().where.find("x.db") != std::string::npos);
    QVERIFY(!Database::open(folder / "missing.db", Database::Mode::ReadOnly));
  }
};

JUVENOR_TEST(TestStateJson)
}  // namespace juvenor
#include "test_state_json.moc"
