// Every command of scripts with values nobody should send: it is done or refused with a word, and whatever
// comes of it is a document that can be opened again.
#include <QElapsedTimer>
#include <set>

#include "batch/script.h"
#include "core/document/edits/edits.h"
#include "core/document/store/state_json.h"
#include "core/document/store/store.h"
#include "core/files.h"
#include "core/json_fields.h"
#include "core/layers/sources/registry.h"
#include "core/photo/picture_file.h"
#include "core/textures/picture_layers.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using nlohmann::json;

// Steps that can be done, one at least for each command: what is hostile takes the place of one value in
// them.
struct Examples {
  json before;  // makes what they work on
  json steps;
};

// `folder` has the photo and the changed sculpt, and gets the graft.
Examples examples(const std::filesystem::path& folder) {
  const auto text = readBytes(std::filesystem::path(QT_TESTCASE_SOURCEDIR) / "batch/scripts/examples.json");
  json all = text ? parsedOrNull(*text) : json();
  for (const char* part : {"before", "examples"})
    for (json& step : all[part]) {
      const auto name = [&](json& holder) {
        if (holder.contains("file"))
          holder["file"] = (folder / (holder["file"] == "PHOTO"    ? "photo.png"
                                      : holder["file"] == "LAYERS" ? "layers.ora"
                                                                   : "g.exr"))
                               .string();
      };
      name(step);
      if (step.contains("sculpt"))
        step["sculpt"] = (folder / (step["sculpt"] == "REST" ? "rest.obj" : "sculpt.obj")).string();
      if (step["do"] == "bring maps")
        for (json& map : step["maps"]) name(map);
    }
  for (const SourceKind* kind : sourceKinds())
    if (kind->key != "slide")
      all["examples"].push_back({{"do", "add layer"}, {"kind", kind->key}, {"name", "New"}});
  return {all["before"], all["examples"]};
}

std::vector<json> hostileValues() {
  json deep = 1;
  for (int i = 0; i < 100; ++i) deep = json::array({deep});
  return {-1,
          0,
          1e300,
          -1e300,
          1e-300,
          4294967296,
          18446744073709551615ull,
          "",
          "nothing",
          "#zzzzzz",
          nullptr,
          true,
          json::array(),
          json::object(),
          json::array({1e300, -1e300, 0}),
          json::array({json::array({0, 0, 10})}),
          json::array({json::array({1e30, 1e30, 1e30}), json::array({-1e30, 0, 0})}),
          deep,
          json{{"size", 1e-300}},
          json::array({nullptr, "x", -1})};
}

}  // namespace

class TestHostileScripts : public QObject {
  Q_OBJECT
 private slots:
  void initTestCase() {
    QVERIFY(writePicture(folder_ / "photo.png", {24, 24}, std::vector<uint32_t>(24 * 24, 0xffb08060)));
    Sculpt twin = test::sphere(24, 10, {40, 0, 0});
    twin.parts = {"Twin"};
    // the ground in two pieces
    Sculpt ground = test::plane(6, 30, "Ground"), away = test::plane(3, 5, "Away");
    for (Vec3& v : away.vertices) v.x() += 40;
    ground = test::together(ground, away);
    ground.parts = {"Ground"};
    std::ranges::fill(ground.polygonPart, 0u);
    Sculpt sculpt = test::together(test::together(test::sphere(40, 10), ground), twin);
    UvSet seen{"UV", {}, sculpt.corners};
    for (const Vec3& v : sculpt.vertices)
      seen.coordinates.emplace_back(0.5f + 0.03f * v.x(), 0.5f + 0.03f * v.y());
    sculpt.uvSets = {seen};
    QVERIFY(writeSculpt(folder_ / "sculpt.obj", test::sphere(44, 10), {}));
    QVERIFY(writeSculpt(folder_ / "rest.obj", sculpt, {}));
    history_ = std::make_unique<History>(test::documentOf(sculpt), "Open");
    const Outcome ready = batch::runScript(examples(folder_.path()).before, *history_);
    LayersToSend wish;
    wish.pixels = 64;
    QVERIFY(sendLayers(history_->document(), folder_ / "layers.ora", wish));
    QVERIFY2(ready, ready ? "" : ready.error().message().c_str());
  }
  // A new command without an example would be one that nobody tried.
  void everyCommandHasAnExampleThatCanBeDone() {
    std::set<std::string> tried;
    for (const json& step : examples(folder_.path()).steps) {
      History history(history_->document(), "Before");
      const Outcome done = batch::runScript(json::array({step}), history);
      QVERIFY2(done,
               qPrintable(QString::fromStdString(step.dump() + ": " + (done ? "" : done.error().message()))));
      tried.insert(step["do"]);
    }
    for (const batch::ScriptCommand* command : batch::scriptCommands())
      QVERIFY2(tried.contains(std::string(command->key)), std::string(command->key).c_str());
  }
  void whateverIsSaidTheDocumentCanBeOpenedAgain() {
    int done = 0, refused = 0, saved = 0;
    size_t turn = 0;
    for (const json& example : examples(folder_.path()).steps) {
      for (const std::string& key : keysOf(example))
        for (const json& value : hostileValues()) {
          // every other one, by turns
          ++turn;
          if ((turn + turn / 20) % 2) continue;
          json step = example;
          step[key] = value;
          History history(history_->document(), "Before");
          QElapsedTimer took;
          took.start();
          const Outcome ran = batch::runScript(json::array({step}), history);
          const std::string said = textOf(step);
          QVERIFY2(took.elapsed() < 20'000, said.c_str());
          if (!ran) {
            ++refused;
            QVERIFY2(!ran.error().what.empty() && ran.error().what.find('\n') == std::string::npos,
                     said.c_str());
            continue;
          }
          const Document& now = history.document();
          const auto back = documentFromState(parsedOrNull(textOf(stateOf(now))), now.surface->size());
          QVERIFY2(back, (said + ": " + (back ? "" : back.error().message())).c_str());
          if (++done % 20 != 0) continue;
          const std::vector<StepPointer> steps(history.steps().begin(), history.steps().end());
          QVERIFY2(saveAs(folder_ / "x.juvenor", steps, steps.back()->id), said.c_str());
          auto store = Store::open(folder_ / "x.juvenor", true);
          QVERIFY2(store && store->read(), said.c_str());
          ++saved;
        }
    }
    qInfo("%d done, %d refused, %d saved and opened", done, refused, saved);
    QVERIFY(done > 250 && refused > 500 && saved > 10);
  }

 private:
  static std::vector<std::string> keysOf(const json& example) {
    std::set<std::string> keys;
    for (const auto& [key, value] : example.items()) keys.insert(key);
    for (const batch::ScriptCommand* command : batch::scriptCommands())
      if (example["do"] == std::string(command->key))
        for (const std::string_view key : batch::keysOf(*command)) keys.emplace(key);
    if (example["do"] == "add layer")
      for (const std::string_view key : sourceKind(example["kind"].get<std::string>())->keys)
        keys.emplace(key);
    keys.erase("do");
    keys.erase("file");
    return {keys.begin(), keys.end()};
  }

  test::Folder folder_;
  std::unique_ptr<History> history_;
};

JUVENOR_TEST(TestHostileScripts)
}  // namespace juvenor
#include "test_hostile_scripts.moc"
