// What states of steps share is told once in a file: layers and checkpoints are pieces that states name.
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edits.h"
#include "core/document/store/store.h"
#include "support/history_steps.h"
#include "support/made.h"
#include "support/old_formats.h"
#include "support/run_all.h"
#include "support/sanitized.h"

namespace juvenor {

using test::currentOf;
using test::stepsOf;

namespace {

int64_t numberIn(const std::filesystem::path& path, const char* sql) {
  int64_t out = -1;
  auto db = Database::open(path, Database::Mode::ReadOnly);
  (void)db->query(sql, {}, [&](const SqlRow& r) { return out = r.integer(0), true; });
  return out;
}

int64_t piecesIn(const std::filesystem::path& path) {
  return numberIn(path, "SELECT count(*) FROM piece");
}

// Twelve layers, three checkpoints of them, and then so many fills of the last layer.
History longWork(int fills) {
  Document d = test::documentOf(test::plane(70, 10));
  for (int i = 0; i < 11; ++i)
    d = withFillLayer(d, "Tone " + std::to_string(i), Stratum::Flesh,
                      {0.08f * static_cast<float>(i), 0.4f, 0.3f});
  d = withPaintedLayer(d, "Paint", Stratum::Pigment);
  History h(d, "Open");
  const uint32_t paint = d.activeLayer;
  for (int k = 0; k < 3; ++k) h.push(*withCheckpoint(h.document(), "Then", 1'700'000'000 + k), "Checkpoint");
  for (int i = 0; i < fills; ++i)
    h.push(*withFilled(h.document(), paint, {0.004f * static_cast<float>(i), 0.4f, 0.3f}, 1), "Fill");
  return h;
}

}  // namespace

class TestStatePieces : public QObject {
  Q_OBJECT
 private slots:
  void eachIsToldOnce() {
    const test::Folder folder;
    constexpr int kFills = test::kSanitized ? 30 : 200;
    const History h = longWork(kFills);
    const auto steps = stepsOf(h);
    QVERIFY(saveAs(folder / "x.juvenor", steps, steps.back()->id));
    // twelve layers, and of each checkpoint twelve layers with numbers of their own and itself
    QCOMPARE(piecesIn(folder / "x.juvenor"), int64_t{12 + 3 * 13});
    QVERIFY(numberIn(folder / "x.juvenor", "SELECT max(length(state)) FROM step") < 1000);
    const auto opened = Store::open(folder / "x.juvenor", true)->read();
    QVERIFY2(bool(opened), opened ? "" : opened.error().message().c_str());
    QCOMPARE(opened->steps.size(), steps.size());
    for (size_t i = 0; i < steps.size(); ++i)
      QCOMPARE(stateOf(opened->steps[i]->document).dump(), stateOf(steps[i]->document).dump());
    // and steps share what they left alone
    const Document &before = opened->steps[kFills - 9]->document,
                   &after = opened->steps[kFills - 8]->document;
    QVERIFY(before.layers[4] == after.layers[4]);
    QVERIFY(before.layers.back() != after.layers.back());
    QVERIFY(before.checkpoints[1].layers[4] == after.checkpoints[1].layers[4]);
  }

  // A file that is opened again knows its pieces; those no step names go with the steps that named them.
  void savingGoesOn() {
    const test::Folder folder;
    History h = longWork(3);
    {
      const auto steps = stepsOf(h);
      QVERIFY(saveAs(folder / "x.juvenor", steps, steps.back()->id));
    }
    auto store = Store::open(folder / "x.juvenor");
    auto opened = store->read();
    QVERIFY(opened);
    const int64_t before = piecesIn(folder / "x.juvenor");
    History more(std::move(opened->steps), opened->current);
    const uint32_t tone = more.document().layers.front()->id;
    LayerChange thinner;
    thinner.opacity = 0.5f;
    more.push(*withLayerChanged(more.document(), tone, thinner), "Opacity");
    QVERIFY(store->write(stepsOf(more), currentOf(more)));
    QCOMPARE(piecesIn(folder / "x.juvenor"), before + 1);
    more.goTo(more.current() - 1);
    more.push(withFillLayer(more.document(), "Another", Stratum::Flesh, {1, 0, 0}), "Add");
    QVERIFY(store->write(stepsOf(more), currentOf(more)));
    QCOMPARE(piecesIn(folder / "x.juvenor"), before + 1);
    const auto again = Store::open(folder / "x.juvenor", true)->read();
    QVERIFY2(bool(again), again ? "" : again.error().message().c_str());
    QCOMPARE(stateOf(again->steps.back()->document).dump(), stateOf(more.document()).dump());
  }

  void aSaveThatFailedLeavesNoneBehind() {
    const test::Folder folder;
    History h = longWork(1);
    QVERIFY(saveAs(folder / "x.juvenor", stepsOf(h), currentOf(h)));
    auto store = Store::open(folder / "x.juvenor");
    auto opened = store->read();
    History more(std::move(opened->steps), opened->current);
    more.push(withFillLayer(more.document(), "Another", Stratum::Flesh, {1, 0, 0}), "Add");
    {
      auto other = Database::open(folder / "x.juvenor", Database::Mode::ReadWrite);
      QVERIFY(other->run("ALTER TABLE sequence RENAME TO away"));
      QVERIFY(!store->write(stepsOf(more), currentOf(more)));
      QVERIFY(other->run("ALTER TABLE away RENAME TO sequence"));
    }
    QVERIFY(store->write(stepsOf(more), currentOf(more)));
    const auto again = Store::open(folder / "x.juvenor", true)->read();
    QVERIFY2(bool(again), again ? "" : again.error().message().c_str());
    QCOMPARE(again->steps.back()->document.layers.size(), size_t{13});
  }

  void anEarlierFormatIsTakenUp() {
    const test::Folder folder;
    Document d = withPaintedLayer(test::documentOf(test::plane(70, 10)), "Paint", Stratum::Pigment);
    History h(d, "Open");
    h.push(*withFilled(d, d.activeLayer, {0.1f, 0.4f, 0.3f}, 1), "Fill");
    QVERIFY(saveAs(folder / "x.juvenor", stepsOf(h), currentOf(h)));
    {
      auto db = Database::open(folder / "x.juvenor", Database::Mode::ReadWrite);
      QVERIFY(test::asFormat7(*db));
    }
    auto store = Store::open(folder / "x.juvenor");
    auto opened = store->read();
    QVERIFY2(bool(opened), opened ? "" : opened.error().message().c_str());
    QCOMPARE(stateOf(opened->steps.back()->document).dump(), stateOf(h.document()).dump());
    QVERIFY(store->write(opened->steps, opened->steps.back()->id));
    QCOMPARE(piecesIn(folder / "x.juvenor"), int64_t{1});
    QVERIFY(Store::open(folder / "x.juvenor", true)->read());
  }

  void aMissingPieceIsTold() {
    const test::Folder folder;
    const History h = longWork(1);
    QVERIFY(saveAs(folder / "x.juvenor", stepsOf(h), currentOf(h)));
    QVERIFY(Database::open(folder / "x.juvenor", Database::Mode::ReadWrite)
                ->run("DELETE FROM piece WHERE id = 5"));
    const auto opened = Store::open(folder / "x.juvenor", true)->read();
    QVERIFY(!opened);
    QVERIFY2(opened.error().what.find("piece 5 that is missing") != std::string::npos,
             opened.error().what.c_str());
  }
};

JUVENOR_TEST(TestStatePieces)
}  // namespace juvenor
#include "test_state_pieces.moc"
