// A document in which anything may have been exchanged: every column of every table with another row's value,
// another type, numbers out of range, nothing, half a blob; and every value of every step's JSON. It opens,
// or it is refused with a message; under the sanitizers it reaches no memory it must not.
#include <set>

#include "core/color/srgb.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edit_parts.h"
#include "core/document/edits/edit_slides.h"
#include "core/document/edits/edits.h"
#include "core/document/edits/paint_stroke.h"
#include "core/document/store/database.h"
#include "core/document/store/packing.h"
#include "core/document/store/state_json.h"
#include "core/document/store/store.h"
#include "core/files.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/patterns.h"
#include "core/layers/sources/ramp.h"
#include "core/layers/sources/zones.h"
#include "core/photo/picture_data.h"
#include "core/photo/picture_file.h"
#include "support/made.h"
#include "support/run_all.h"
#include "support/sanitized.h"

namespace juvenor {
namespace {

// Every kind of layer, masks of both kinds, maps, guard, picture, landmarks, UVs, two parts, many steps.
std::vector<StepPointer> everything() {
  Document d = test::documentOf(test::together(test::plane(66, 2, "Face"), test::oddities(3)));
  History h(d, "Open");
  const auto step = [&](Result<Document> next) { h.push(std::move(*next), "step"); };
  MaskTerm up;
  up.map = {&kFacingMap, 0, Vec3::UnitZ()};
  MaskTerm high;
  high.map = {&kElevationMap, 0, Vec3::UnitY()};
  high.melt = 0.1f;
  step(withFillLayer(h.document(), "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f}));
  step(withMaskTerms(h.document(), h.document().activeLayer, {up, high}));
  step(withCheckpoint(h.document(), "Before", 1'700'000'000));
  step(withSourceLayer(h.document(), "Ramp", Stratum::Flesh,
                       rampSource({high}, {{0, {0, 0, 0}, 0}, {1, {1, 0.9f, 0.8f}, 1}})));
  HueZone zone;
  zone.name = "Cheek";
  zone.reach = 0.5f;
  zone.grain = 0.1f;
  HueZone plain = zone;
  plain.tint.plain = true;
  plain.anchor = {0.4f, 0.4f, 0};
  step(withSourceLayer(h.document(), "Zones", Stratum::Flesh, zoneSource({{zone, plain}, 0.05f})));
  step(withPaintedLayer(h.document(), "Paint", Stratum::Pigment));
  const uint32_t paint = h.document().activeLayer;
  step(withFilled(h.document(), paint, {0.2f, 0.6f, 0.3f}, 0.5f, 0));
  step(withMask(h.document(), paint));
  step(withMaskFilled(h.document(), paint, 0.2f, 0.7f, 0));
  step(withMask(h.document(), kGuard));
  step(withInvertedMask(h.document(), kGuard));
  step(withLandmark(h.document(), "nose", {0, 0, 0}));
  UvSet made{"Made", {}, h.document().sculpt->corners};
  for (const Vec3& v : h.document().sculpt->vertices) made.coordinates.emplace_back(v.x(), v.y());
  step(withUvs(h.document(), made));
  ScalarField right(h.document().surface->size(), {0});
  auto half = right.writable(0);
  for (size_t s = 0; s < kChunkSize / 2; ++s) half->plane[0][s] = 65535;
  right.setChunk(0, half);
  step(withPartWhere(h.document(), right, "Piece"));
  std::vector<Vec3> rest = h.document().sculpt->vertices;
  for (Vec3& v : rest) v.y() += 0.1f * v.x();
  step(withRestPose(h.document(), rest));
  std::vector<uint32_t> pixels(16 * 9, 0xff8040a0);
  step(withPicture(h.document(), "mud", *decodePicture(*encodePng({16, 9}, pixels), "mud.png")));
  Slide slide = freshSlide("mud", h.document().board.front().data, Camera{});
  slide.pins = {{{0.1f, 0.2f}, {0.3f, 0.1f, 0}}, {{-0.1f, 0.2f}, {-0.3f, 0.1f, 0}}};
  slide.tone.light = WayLight{};
  step(withSlide(h.document(), slide));
  step(withThrow(h.document(), 1));
  step(withFilled(h.document(), paint, test::inEveryChannel({0.9f, 0.1f, 0.1f}, 0.8f, 0.2f, 0.01f), 0.3f));
  const Document& ready = h.document();
  (void)prepared(ready.layers, *ready.maps);
  return {h.steps().begin(), h.steps().end()};
}

// Live markings and patterns with maps and areas, the last one in a mode of the skin model, in one step.
std::vector<StepPointer> markings() {
  Document d = test::documentOf(test::plane(24, 2, "Face"));
  d = withFillLayer(d, "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f});
  MaskTerm high;
  high.map = {&kElevationMap, 0, Vec3::UnitY()};
  HueZone area;
  area.name = "Cheek";
  area.reach = 0.5f;
  area.grain = 0.1f;
  Speckle freckles;
  freckles.smallest = 0.06f;
  freckles.largest = 0.2f;
  freckles.density = {high};
  freckles.gather = {area};
  freckles.raised = 0.5f;
  freckles.height = 0.01f;
  d = withSourceLayer(d, "Freckles", Stratum::Pigment, speckleSource(freckles));
  Mottle clouds;
  clouds.tones = {{{0.6f, 0.2f, 0.2f}, 0.3f}, {{0.7f, 0.6f, 0.3f}, 0.1f}};
  clouds.size = 0.5f;
  clouds.fine = 0.1f;
  clouds.crease = 0.1f;
  clouds.marbling = 0.4f;
  d = withSourceLayer(d, "Clouds", Stratum::Pigment, mottleSource(clouds));
  Veins vessels;
  vessels.roots = {area};
  vessels.region = {high};
  vessels.width = 0.05f;
  vessels.finest = 0.01f;
  vessels.spacing = 0.2f;
  vessels.depth = 0.02f;
  vessels.height = 0.005f;
  d = withSourceLayer(d, "Vessels", Stratum::Pigment, veinSource(vessels));
  Scales hide;
  hide.guides.size.size = 0.3f;
  hide.guides.size.smaller = {area};
  hide.guides.direction.combs = {{{Vec3(-0.5f, 0, 0), Vec3(0.5f, 0.2f, 0)}, 0, 0.3f, 1}};
  d = withSourceLayer(d, "Hide", Stratum::Surface, scaleSource(usualScales(ScaleShape::Leaf, hide)));
  Bands bands;
  bands.guides.size.size = 0.4f;
  bands.height = 0.01f;
  d = withSourceLayer(d, "Bands", Stratum::Pigment, bandSource(bands));
  LayerChange flush;
  flush.blend = BlendMode::Blood;
  History h(*withLayerChanged(d, d.activeLayer, flush), "Mark");
  return {h.steps().begin(), h.steps().end()};
}

// Opens a file as the window would and looks at all of it. What it says when it is refused.
std::string lookedAt(const std::filesystem::path& path) {
  auto store = Store::open(path, true);
  if (!store) return store.error().message();
  const auto opened = store->read();
  if (!opened) return opened.error().message();
  const Document& d = opened->steps[opened->current]->document;
  const auto stack = prepared(d.layers, *d.maps);
  if (!stack) return stack.error().message();
  const ChannelFields skin = skinOf(*stack, d.surface->size(), d.bare);
  return skin.size() == d.surface->size() ? std::string() : "the composite has another size";
}

struct Column {
  std::string table, name;
};
const std::vector<Column>& columns() {
  static const std::vector<Column> all{
      {"meta", "key"},     {"meta", "value"},       {"shape", "name"},     {"shape", "data"},
      {"chunk", "id"},     {"chunk", "data"},       {"step", "id"},        {"step", "name"},
      {"step", "state"},   {"step", "time"},        {"piece", "id"},       {"piece", "state"},
      {"named", "step"},   {"named", "name"},       {"change", "step"},    {"change", "layer"},
      {"change", "field"}, {"change", "chunk"},     {"change", "data"},    {"map", "refinements"},
      {"map", "setting"},  {"map", "data"},         {"picture", "data"},   {"picture", "fingerprint"},
      {"rest", "data"},    {"rest", "fingerprint"}, {"parts", "data"},     {"parts", "fingerprint"},
      {"uvs", "data"},     {"uvs", "fingerprint"},  {"sequence", "place"}, {"sequence", "step"},
  };
  return all;
}

// All ways to change one value, each with an SQL expression.
std::vector<std::string> changesOf(const Column& c) {
  std::vector<std::string> out{
      "0",   "-1",          "4294967296",    "9223372036854775807",        "1.5", "NULL", "'words'",
      "x''", "x'28b52ffd'", "zeroblob(100)", "x'28b52ffd2000010000ffffff'"};
  out.push_back("substr(" + c.name + ", 1, length(" + c.name + ") / 2)");
  out.push_back("CAST(" + c.name + " AS TEXT)");
  out.push_back("CAST(" + c.name + " AS BLOB)");
  for (const char* order : {"ASC", "DESC"})
    out.push_back("(SELECT " + c.name + " FROM " + c.table + " ORDER BY " + c.name + " " + order +
                  " LIMIT 1)");
  // chunks of colour where masks should be, and the other way round
  out.push_back("(SELECT " + c.name + " FROM " + c.table + " ORDER BY length(" + c.name + ") DESC LIMIT 1)");
  return out;
}

// The paths of all values in a JSON document.
// Of a long list the first places and the last.
void pathsIn(const nlohmann::json& j, const nlohmann::json::json_pointer& at,
             std::vector<nlohmann::json::json_pointer>& out) {
  if (!at.empty()) out.push_back(at);
  if (j.is_object())
    for (const auto& [key, value] : j.items()) pathsIn(value, at / key, out);
  if (j.is_array())
    for (size_t i = 0; i < j.size(); ++i)
      if (i < 8 || i + 1 == j.size()) pathsIn(j[i], at / i, out);
}

}  // namespace

class TestHostileDocuments : public QObject {
  Q_OBJECT
 private slots:
  void initTestCase() {
    steps_ = everything();
    QVERIFY(saveAs(folder_ / "good.juvenor", steps_, steps_.back()->id));
    QCOMPARE(lookedAt(folder_ / "good.juvenor"), std::string());
    marked_ = markings();
    QVERIFY(saveAs(folder_ / "marked.juvenor", marked_, marked_.back()->id));
    QCOMPARE(lookedAt(folder_ / "marked.juvenor"), std::string());
  }
  void aColourThatNamesAMasksChunkIsRefused() {
    exchange(
        "UPDATE change SET data = (SELECT data FROM change WHERE field = 1 AND data IS NOT NULL LIMIT 1)"
        " WHERE field = 0 AND data IS NOT NULL");
    const std::string said = lookedAt(bad());
    QVERIFY2(said.find("damaged") != std::string::npos, said.c_str());
  }
  void aSculptWithLinesForPolygonsIsRefused() {
    const Sculpt& sculpt = *steps_.front()->document.sculpt;
    std::vector<uint32_t> start;
    for (uint32_t c = 0; c + 2 <= sculpt.corners.size(); c += 2) start.push_back(c);
    start.push_back(static_cast<uint32_t>(sculpt.corners.size()));
    const std::vector<uint32_t> parts(start.size() - 1, 0);
    const auto bytes = [](const std::vector<uint32_t>& v) {
      return *packed({reinterpret_cast<const char*>(v.data()), v.size() * 4});
    };
    copyGood();
    {
      auto db = Database::open(bad(), Database::Mode::ReadWrite);
      const std::string polygons = bytes(start), partOf = bytes(parts);
      QVERIFY(db->query("UPDATE shape SET data = ? WHERE name = 'polygon_start'", {&polygons}));
      QVERIFY(db->query("UPDATE shape SET data = ? WHERE name = 'polygon_part'", {&partOf}));
    }
    const std::string said = lookedAt(bad());
    QVERIFY2(said.find("three corners") != std::string::npos, said.c_str());
  }
  void exchangedColumnsOpenOrAreRefused_data() {
    QTest::addColumn<int>("column");
    for (size_t c = 0; c < columns().size(); ++c)
      QTest::newRow((columns()[c].table + " " + columns()[c].name).c_str()) << static_cast<int>(c);
  }
  void exchangedColumnsOpenOrAreRefused() {
    QFETCH(int, column);
    const Column& c = columns()[static_cast<size_t>(column)];
    int changed = 0, refused = 0;
    size_t turn = static_cast<size_t>(column);
    // where a table has one row, or a value is what another way gives, the file is one that was looked at
    std::set<std::string> known;
    for (const std::string& value : changesOf(c)) {
      // a third of them for each column there, others for the next
      if (test::kSanitized && ++turn % 3) continue;
      for (const char* which :
           {"", " WHERE rowid = (SELECT min(rowid) FROM %)", " WHERE rowid = (SELECT max(rowid) FROM %)"}) {
        // tables without row ids are changed by their whole columns, or by their first row
        const bool rowless = c.table == "meta" || c.table == "change";
        std::string where = which;
        if (rowless && !where.empty())
          where = " WHERE " + c.name + " = (SELECT " + c.name + " FROM % LIMIT 1)";
        if (const auto at = where.find('%'); at != std::string::npos) where.replace(at, 1, c.table);
        if (!exchange("UPDATE OR IGNORE " + c.table + " SET " + c.name + " = " + value + where)) continue;
        ++changed;
        if (known.insert(*readBytes(bad())).second) refused += !lookedAt(bad()).empty();
      }
    }
    QVERIFY2(changed > 3, qPrintable(QString("%1 changes").arg(changed)));
    // what cannot be understood any more is not passed over (maps are measured again, names are only names)
    const bool matters = c.table != "map" && c.table != "named" && c.name != "name" && c.name != "place" &&
                         c.name != "time" && c.table != "meta";
    if (matters) QVERIFY2(refused > 0, qPrintable(QString("%1 of %2").arg(refused).arg(changed)));
  }
  void everyValueOfAStepMayBeAnything_data() { bothKinds(); }
  void everyValueOfAStepMayBeAnything() {
    QFETCH(bool, marked);
    const Document& document = (marked ? marked_ : steps_).back()->document;
    const nlohmann::json good = stateOf(document);
    const size_t samples = document.surface->size();
    std::vector<nlohmann::json::json_pointer> paths;
    pathsIn(good, nlohmann::json::json_pointer(), paths);
    QVERIFY(paths.size() > 100);
    const nlohmann::json values[] = {nullptr,
                                     true,
                                     -1,
                                     0,
                                     1e30,
                                     1e300,
                                     -0.5,
                                     "",
                                     "x",
                                     nlohmann::json::array(),
                                     nlohmann::json::object(),
                                     {{"a", 1}},
                                     {1, 2, 3},
                                     4294967296,
                                     18446744073709551615ull};
    int refused = 0, accepted = 0;
    const auto look = [&](const nlohmann::json& state) {
      const auto read = documentFromState(state, samples);
      if (!read) {
        ++refused;
        QVERIFY(!read.error().what.empty());
        return;
      }
      ++accepted;
      // what was accepted keeps the rules: it can be written and read again
      QVERIFY(documentFromState(stateOf(*read), samples));
    };
    size_t turn = 0;
    nlohmann::json state = good;
    for (const auto& path : paths) {
      for (const nlohmann::json& value : values) {
        // under the sanitizers a third of them, others at the next path
        if (test::kSanitized && ++turn % 3) continue;
        state[path] = value;
        look(state);
      }
      if (good[path.parent_pointer()].is_object()) {
        state[path.parent_pointer()].erase(path.back());
        look(state);
      }
      state[path] = good[path];
    }
    QVERIFY2(refused > 500 && accepted > 20,
             qPrintable(QString("%1 refused, %2 accepted").arg(refused).arg(accepted)));
  }
  // Those that still read are opened whole: layers that make no sense must not reach beyond their surface.
  void strangeNumbersInLayersAreLivedWith_data() { bothKinds(); }
  void strangeNumbersInLayersAreLivedWith() {
    QFETCH(bool, marked);
    const std::vector<StepPointer>& steps = marked ? marked_ : steps_;
    const nlohmann::json good = stateOf(steps.back()->document);
    std::vector<nlohmann::json::json_pointer> paths;
    pathsIn(good["layers"], nlohmann::json::json_pointer("/layers"), paths);
    // of numbers that mean the same in two places of a list, one
    std::set<std::string> seen;
    std::erase_if(paths, [&](const auto& p) {
      std::string name = p.to_string();
      std::erase_if(name, [](char c) { return c >= '0' && c <= '9'; });
      const std::string layer = p.to_string().substr(0, std::string_view("/layers/1").size());
      return !good[p].is_number() || !seen.insert(layer + name).second;
    });
    QVERIFY(paths.size() > 40);
    int opened = 0;
    size_t turn = 0;
    for (const auto& path : paths)
      for (const double value : {0.0, 1e9}) {
        // under the sanitizers one of two numbers, the one and the other value by turns
        const size_t at = turn++;
        if (test::kSanitized && at % 4 != at / 4 % 2) continue;
        nlohmann::json state = good;
        state[path] = value;
        copyGood(marked ? "marked.juvenor" : "good.juvenor");
        {
          auto db = Database::open(bad(), Database::Mode::ReadWrite);
          const std::string text = state.dump();
          QVERIFY(db->query("UPDATE step SET state = ? WHERE id = ?",
                            {std::string_view(text), static_cast<int64_t>(steps.back()->id)}));
        }
        opened += lookedAt(bad()).empty();
      }
    QVERIFY2(opened > (test::kSanitized ? 10 : 40), qPrintable(QString::number(opened)));
  }
  void cutFilesOpenOrAreRefused() {
    const std::string bytes = *readBytes(folder_ / "good.juvenor");
    for (size_t part = 0; part < 25; ++part) {
      QVERIFY(writeBytes(bad(), bytes.substr(0, bytes.size() * part / 25)));
      QVERIFY2(!lookedAt(bad()).empty(), qPrintable(QString::number(part)));
    }
    std::mt19937 random(7);
    for (int round = 0; round < 40; ++round) {
      std::string torn = bytes;
      for (int k = 0; k < 30; ++k) torn[random() % torn.size()] = static_cast<char>(random());
      QVERIFY(writeBytes(bad(), torn));
      (void)lookedAt(bad());
    }
  }

 private:
  std::filesystem::path bad() const { return folder_ / "bad.juvenor"; }
  static void bothKinds() {
    QTest::addColumn<bool>("marked");
    QTest::newRow("every kind") << false;
    QTest::newRow("markings") << true;
  }
  void copyGood(const char* name = "good.juvenor") {
    std::filesystem::copy_file(folder_ / name, bad(), std::filesystem::copy_options::overwrite_existing);
  }
  // A copy of the good file with a statement done to it; false when the database itself refuses that.
  bool exchange(const std::string& sql) {
    copyGood();
    auto db = Database::open(bad(), Database::Mode::ReadWrite);
    return db && db->run(sql.c_str());
  }

  test::Folder folder_;
  std::vector<StepPointer> steps_, marked_;
};

JUVENOR_TEST(TestHostileDocuments)
}  // namespace juvenor
#include "test_hostile_documents.moc"
