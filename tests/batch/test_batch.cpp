// juvenor-batch as a person calls it: results, messages, exit codes.
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include "batch/answer.h"
#include "core/color/palette.h"
#include "core/color/skin_tone.h"
#include "core/document/edits/edits.h"
#include "core/document/store/store.h"
#include "core/export/vertex_finish.h"
#include "core/files.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/patterns.h"
#include "core/layers/sources/ramp.h"
#include "core/photo/picture_data.h"
#include "core/photo/picture_file.h"
#include "core/recipe/recipe.h"
#include "core/render/still.h"
#include "demo/demo.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
using test::Answer;
using test::batch;
using test::documentIn;
using test::text;
using test::write;

class TestBatch : public QObject {
  Q_OBJECT
 private slots:
  void init() {
    folder_ = std::make_unique<test::Folder>();
    sculpt_ = test::together(test::sphere(40, 10), test::plane(8, 30, "Ground"));
    QVERIFY(writeSculpt(*folder_ / "x.obj", sculpt_, {}));
    doc_ = *folder_ / "x.juvenor";
  }
  void everythingHasHelp() {
    for (const QStringList& a : {QStringList{"--help"},
                                 {"info", "--help"},
                                 {"ready", "--help"},
                                 {"uv", "--help"},
                                 {"bake", "--help"},
                                 {"new", "--help"},
                                 {"run", "--help"},
                                 {"export", "--help"},
                                 {"shot", "--help"},
                                 {"still", "--help"},
                                 {"film", "--help"},
                                 {"join", "--help"},
                                 {"contact", "--help"},
                                 {"passes", "--help"},
                                 {"palette", "--help"},
                                 {"tone", "--help"},
                                 {"demo", "--help"}}) {
      const Answer help = batch(a);
      QCOMPARE(help.code, 0);
      QVERIFY(help.out.size() > 60);
    }
  }
  void wrongUsageIsTwo() {
    for (const QStringList& a : {QStringList{},
                                 {"fly"},
                                 {"info"},
                                 {"shot", "x"},
                                 {"demo", "--sculpt", "dragon", "-o", "x.ply"},
                                 {"demo", "--points", "-4", "-o", "x.ply"}}) {
      const Answer wrong = batch(a);
      QCOMPARE(wrong.code, 2);
      QVERIFY(!wrong.problem.isEmpty());
    }
  }
  void failuresAreOneWithOneLine() {
    write(*folder_ / "bad.obj", "v 0 0 zero\n");
    write(*folder_ / "bad.json", "[");
    for (const QStringList& a : {QStringList{"info", "/nowhere.obj"},
                                 {"info", text(*folder_ / "bad.obj")},
                                 {"new", text(*folder_ / "bad.obj"), "-o", text(doc_)},
                                 {"export", text(*folder_ / "x.obj"), "-o", text(*folder_ / "y.ply")},
                                 {"run", text(*folder_ / "bad.json"), text(doc_)}}) {
      const Answer failed = batch(a);
      QCOMPARE(failed.code, 1);
      QVERIFY2(failed.problem.startsWith("juvenor-batch: /") && failed.problem.count('\n') == 1,
               qPrintable(failed.problem));
    }
    QVERIFY(!std::filesystem::exists(doc_));
  }
  void infoCountsWhatIsThere() {
    const Answer answer = batch({"info", text(*folder_ / "x.obj")});
    QCOMPARE(answer.code, 0);
    const QJsonObject j = QJsonDocument::fromJson(answer.out.toUtf8()).object();
    QCOMPARE(static_cast<size_t>(j["vertices"].toInt()), sculpt_.vertices.size());
    QCOMPARE(j["polygons"].toObject()["3"].toInt(), 160);
    QCOMPARE(j["polygons"].toObject()["4"].toInt(), 38 * 80 + 64);
    QCOMPARE(j["parts"].toArray().size(), 2);
    QVERIFY(!j["has colour"].toBool() && j["spacing"].toDouble() > 0);
    QCOMPARE(j["bounds"].toObject()["high"].toArray()[0].toDouble(), 15.0);
  }
  // Nothing of anybody's is written over unasked: a document, the sculpt itself.
  void whatIsThereIsReplacedOnlyByForce() {
    const QString obj = text(*folder_ / "x.obj"), doc = text(doc_);
    QCOMPARE(batch({"new", obj, "-o", doc}).code, 0);
    write(*folder_ / "s.json", R"([{"do": "add layer", "name": "Hours of work"}])");
    QCOMPARE(batch({"run", text(*folder_ / "s.json"), doc}).code, 0);
    for (const QStringList& command :
         {QStringList{"new", obj, "-o", doc}, QStringList{"demo", "--points", "2000", "-o", doc}}) {
      const Answer answer = batch(command);
      QCOMPARE(answer.code, 1);
      QVERIFY2(answer.problem.contains("--force") && answer.problem.contains("x.juvenor"),
               qPrintable(answer.problem));
      QCOMPARE(documentIn(doc_).layers.back()->name, std::string("Hours of work"));
    }
    // a sculpt of somebody else's
    std::string own = *readBytes(*folder_ / "x.obj");
    own.replace(own.find("Juvenor"), 7, "another");
    QVERIFY(writeBytes(*folder_ / "x.obj", own));
    const Answer over = batch({"export", doc, "-o", obj});
    QCOMPARE(over.code, 1);
    QVERIFY2(over.problem.contains("--force"), qPrintable(over.problem));
    QCOMPARE(*readBytes(*folder_ / "x.obj"), own);
    // what this program wrote itself is its own
    for (const char* file : {"y.ply", "y.obj", "y.glb"})
      for (int time = 0; time < 2; ++time) {
        const Answer again = batch({"export", doc, "-o", text(*folder_ / file)});
        QVERIFY2(again.code == 0, qPrintable(again.problem));
      }
    QCOMPARE(batch({"export", doc, "-o", obj, "--force"}).code, 0);
    QVERIFY(*readBytes(*folder_ / "x.obj") != own);
    QCOMPARE(batch({"new", obj, "-o", doc, "--force"}).code, 0);
    QVERIFY(documentIn(doc_).layers.size() <= 1);
  }
  // What moves a layer nowhere moves it to the end: the document can be opened again.
  void layersMovedPastTheEndsStayInTheirStratum() {
    const QString doc = text(doc_);
    QCOMPARE(batch({"new", text(*folder_ / "x.obj"), "-o", doc}).code, 0);
    write(*folder_ / "s.json", R"([
      {"do": "add layer", "name": "A", "stratum": "flesh"}, {"do": "add layer", "name": "B", "stratum": "flesh"},
      {"do": "add layer", "name": "C", "stratum": "surface"},
      {"do": "move layer", "layer": "B", "above": -1}, {"do": "move layer", "layer": "A", "above": 18446744073709551615},
      {"do": "move layer", "layer": "C", "stratum": "flesh", "above": -7}])");
    const Answer ran = batch({"run", text(*folder_ / "s.json"), doc});
    QVERIFY2(ran.code == 0, qPrintable(ran.problem));
    QCOMPARE(batch({"info", doc}).code, 0);
    std::vector<std::string> names;
    for (const LayerPointer& l : documentIn(doc_).layers) names.push_back(l->name);
    QCOMPARE(names, (std::vector<std::string>{"C", "B", "A"}));
  }
  void aScriptDoesWhatTheCoreDoes() {
    QCOMPARE(batch({"new", text(*folder_ / "x.obj"), "-o", text(doc_)}).code, 0);
    std::filesystem::copy_file(std::filesystem::path(QT_TESTCASE_SOURCEDIR) / "batch/everything.json",
                               *folder_ / "s.json");
    const Answer ran = batch({"run", text(*folder_ / "s.json"), text(doc_)});
    QVERIFY2(ran.code == 0, qPrintable(ran.problem));
    const Document d = documentIn(doc_);
    QCOMPARE(d.layers.size(), size_t{2});
    QCOMPARE(d.layers[1]->name, std::string("Stained"));
    QVERIFY(d.layers[1]->blend == BlendMode::Stain && std::abs(d.layers[1]->opacity - 0.8f) < 1e-6f);
    QCOMPARE(d.wells.size(), size_t{2});
    QCOMPARE(d.hiddenParts, std::set<uint32_t>{1});
    QVERIFY(d.refinements.empty());
    size_t red = 0;
    for (size_t s = 0; s < d.surface->size(); ++s) {
      const Rgba16 c = colorAt(*d.layers[1]->source->painted(), s);
      if (d.surface->parts[s] == 1) QCOMPARE(c.a, uint16_t{0});
      red += c.r > 50'000 && c.g < 20'000;
    }
    QVERIFY(red > 20);
    // export: the composite at every vertex, in order
    QCOMPARE(batch({"export", text(doc_), "-o", text(*folder_ / "y.ply")}).code, 0);
    const auto back = readSculpt(*folder_ / "y.ply");
    QVERIFY(back);
    const VertexFinish finish = finishOf(d, *skinOf(d.layers, *d.maps, d.bare));
    for (size_t v = 0; v < back->vertices.size(); ++v) {
      QVERIFY(back->vertices[v] == sculpt_.vertices[v]);
      QVERIFY(std::abs(straight(back->colors[v]).r - straight(finish.colors[v]).r) <= 0.5f / 255 + 1e-4f);
    }
  }
  // Masks, maps, zones, landmarks, ramps, pictures and the guard, all from a script.
  void skinIsScriptable() {
    const auto doc = text(*folder_ / "skin.juvenor");
    QCOMPARE(batch({"new", text(*folder_ / "x.obj"), "-o", doc}).code, 0);
    QFile script(QString(QT_TESTCASE_SOURCEDIR) + "/batch/skin.json");
    QVERIFY(script.open(QIODevice::ReadOnly));
    const demo::DemoPicture picture = demo::boardPictures().front();
    const auto file = *folder_ / "mud.png";
    QVERIFY(writePicture(file, picture.size, picture.pixels));
    write(*folder_ / "skin.json", script.readAll().replace("PICTURE", text(file).toUtf8()));
    const Answer ran = batch({"run", text(*folder_ / "skin.json"), doc});
    QVERIFY2(ran.code == 0, qPrintable(ran.problem));
    const Document d = documentIn(*folder_ / "skin.juvenor");
    QCOMPARE(d.board.size(), size_t{1});
    QCOMPARE(d.layers.size(), size_t{3});
    QCOMPARE(d.layers[0]->terms.size(), size_t{2});
    QVERIFY(d.layers[0]->mask);
    QCOMPARE(d.layers[1]->source->zones()->zones.front().name, std::string("Cheek"));
    QCOMPARE(rampContent(*d.layers[2]->source)->terms.front().map.kind, &kOcclusionMap);
    QCOMPARE(d.landmarks.size(), size_t{2});
    QVERIFY(!d.guard);
    // the maps were measured and lie in the document
    QVERIFY(d.maps->known({&kOcclusionMap, 0, Vec3::UnitY()}));
  }
  // Brushes of the roll by name or put together, stamps placed; the same script makes the same marks.
  void brushesAndStampsAreScriptable() {
    QByteArray script(
        "[{'do': 'add layer', 'name': 'Paint'}, "
        "{'do': 'stroke', 'color': '#402010', 'points': [[-5, 0, 8.6], [0, 0, 10, 1, 0.5], [5, 0, 8.6]],"
        " 'brush': {'base': 'Speckle', 'size': 4, 'pressure': [], 'spray': {'cover': 0.5, 'dot': 0.5}}}, "
        "{'do': 'stroke', 'brush': 'Freckle', 'seed': 7, 'color': '#402010', 'points': [[0, 6, 8]]}, "
        "{'do': 'stamp', 'at': [0, 0, 10], 'along': [0, 1, 0], 'color': '#ff0000',"
        " 'brush': {'size': 2, 'hardness': 1, 'tip': 'stamp', 'stamp': {'name': 'nail'}}}]");
    write(*folder_ / "s.json", script.replace('\'', '"'));
    QByteArrayList made;
    for (const char* name : {"a", "b"}) {
      const auto doc = text(*folder_ / (std::string(name) + ".juvenor")),
                 out = text(*folder_ / (std::string(name) + ".ply"));
      QCOMPARE(batch({"new", text(*folder_ / "x.obj"), "-o", doc}).code, 0);
      const Answer ran = batch({"run", text(*folder_ / "s.json"), doc});
      QVERIFY2(ran.code == 0, qPrintable(ran.problem));
      QCOMPARE(batch({"export", doc, "-o", out}).code, 0);
      QFile file(out);
      QVERIFY(file.open(QIODevice::ReadOnly));
      made << file.readAll();
    }
    QVERIFY(!made[0].isEmpty() && made[0] == made[1]);
    const Answer probe = batch({"probe", text(*folder_ / "a.juvenor"), "--at", "0,0,10"});
    const QString middle = QJsonDocument::fromJson(probe.out.toUtf8()).object()["color"].toString();
    const auto color = fromHex(middle.toStdString());
    QVERIFY2(color && color->r > 0.8f && color->g < 0.25f, qPrintable(middle));
  }
  // Channels from a script, as the probe reads them: what the skin is, and what each layer adds.
  void channelsAreScriptableAndProbed() {
    const auto doc = text(*folder_ / "x.juvenor");
    QCOMPARE(batch({"new", text(*folder_ / "x.obj"), "-o", doc}).code, 0);
    write(
        *folder_ / "s.json",
        QByteArrayList{
            R"({"do": "add layer", "kind": "fill", "name": "Skin", "stratum": "flesh", "color": "#b08060", "gloss": 0.4})",
            R"({"do": "add layer", "name": "Paint"})",
            R"({"do": "fill", "gloss": 0.9, "metal": 1, "part": "Sphere"})",
            R"({"do": "stroke", "relief": 0.2, "brush": {"size": 4, "flow": 1, "hardness": 0.9, "pressure": []}, "points": [[0, 0, 10]]})",
            R"({"do": "stroke", "ink": "erase", "channels": ["metal"], "brush": {"size": 2, "flow": 1, "hardness": 0.9, "pressure": []}, "points": [[6, 0, 8]]})",
            R"({"do": "fill parts", "tones": {"Ground": {"gloss": 0.1}}})",
            R"({"do": "layer", "strengths": {"gloss": 0.5}})"}
            .join(", ")
            .prepend("[")
            .append("]"));
    const Answer ran = batch({"run", text(*folder_ / "s.json"), doc});
    QVERIFY2(ran.code == 0, qPrintable(ran.problem));
    const auto at = [&](const QString& place) {
      const Answer answer = batch({"probe", doc, "--at", place});
      if (answer.code != 0) qWarning("%s", qPrintable(answer.problem));
      return QJsonDocument::fromJson(answer.out.toUtf8()).object();
    };
    const QJsonObject front = at("0,0,10"), side = at("6,0,8"), ground = at("14,-14,0");
    QCOMPARE(front["color"].toString(), QString("#b08060"));
    QCOMPARE(front["lab"].toArray().size(), 3);
    // half of the way from the skin's 0.4 to 0.9
    QVERIFY(std::abs(front["gloss"].toDouble() - 0.65) < 1e-4);
    QVERIFY(std::abs(front["metal"].toDouble() - 1) < 1e-4 &&
            std::abs(front["relief"].toDouble() - 0.2) < 2e-3);
    QVERIFY(std::abs(side["metal"].toDouble()) < 1e-3 && side["relief"].toDouble() == 0);
    QVERIFY(std::abs(ground["gloss"].toDouble() - 0.25) < 1e-4);
    QCOMPARE(ground["part"].toString(), QString("Ground"));
    const QJsonArray layers = front["layers"].toArray();
    QCOMPARE(layers.size(), 2);
    QVERIFY(std::abs(layers[0].toObject()["gloss"].toDouble() - 0.4) < 1e-4);
    QVERIFY(std::abs(layers[1].toObject()["gloss"].toDouble() - 0.9) < 1e-4);
    QVERIFY(!layers[1].toObject().contains("color") && !layers[0].toObject().contains("relief"));
    QCOMPARE(batch({"probe", doc, "--at", "1,2"}).code, 1);
    QCOMPARE(batch({"export", doc, "-o", text(*folder_ / "a.ply"), "--relief-applied"}).code, 0);
    const auto moved = readSculpt(*folder_ / "a.ply");
    QVERIFY(moved && moved->vertices.size() == sculpt_.vertices.size());
    float furthest = 0;
    for (size_t v = 0; v < sculpt_.vertices.size(); ++v)
      furthest = std::max(furthest, (moved->vertices[v] - sculpt_.vertices[v]).norm());
    QVERIFY(std::abs(furthest - 0.2f) < 2e-3f);
    // words that are wrong are told
    write(*folder_ / "bad.json", R"([{"do": "fill", "glos": 0.4}])");
    QVERIFY(batch({"run", text(*folder_ / "bad.json"), doc}).problem.contains("gloss"));
  }
  void shotsShowMapsAndSteps() {
    const auto doc = text(*folder_ / "shot.juvenor");
    QCOMPARE(batch({"new", text(*folder_ / "x.obj"), "-o", doc}).code, 0);
    const auto shot = [&](const char* name, const QStringList& more) {
      const auto file = *folder_ / name;
      const Answer answer = batch(QStringList{"shot", doc, "-o", text(file), "--size", "64x48"} + more);
      if (answer.code != 0) qWarning("%s", qPrintable(answer.problem));
      const auto picture = readPicture(file);
      return picture ? (*picture)->pixels : std::vector<uint32_t>();
    };
    const auto plain = shot("a.png", {"--view", "value"}),
               cut = shot("b.png", {"--view", "value", "--steps", "2"}),
               map = shot("c.png", {"--map", "{\"map\": \"elevation\"}"});
    QCOMPARE(plain.size(), size_t{64 * 48});
    QVERIFY(cut.size() == plain.size() && cut != plain);
    QVERIFY(map.size() == plain.size() && map != plain);
    QCOMPARE(batch({"shot", doc, "-o", text(*folder_ / "d.png"), "--map", "{\"map\": \"shine\"}"}).code, 1);
    QCOMPARE(batch({"shot", doc, "-o", text(*folder_ / "d.png"), "--steps", "12"}).code, 1);
  }
  void paletteAndTone() {
    const demo::DemoPicture picture = demo::boardPictures()[1];
    const auto file = *folder_ / "gill.png";
    QVERIFY(writePicture(file, picture.size, picture.pixels));
    QCOMPARE(batch({"palette", text(file), "-n", "9", "-o", text(*folder_ / "gill.gpl")}).code, 0);
    const auto bytes = readBytes(*folder_ / "gill.gpl");
    const auto read = readGpl(*bytes, "gill.gpl");
    QVERIFY(read);
    QCOMPARE(read->colors.size(), size_t{9});
    QCOMPARE(batch({"palette", text(file), "-n", "5"}).out.trimmed().split('\n').size(), qsizetype{5});
    QCOMPARE(batch({"palette", text(*folder_ / "x.obj")}).code, 1);
    QCOMPARE(batch({"palette", text(file), "-n", "99"}).code, 2);
    const Answer tone = batch({"tone", "--melanin", "0.6", "--blood", "0.5"});
    const auto json = nlohmann::json::parse(tone.out.toStdString());
    QCOMPARE(json.at("color").get<std::string>(), toHex(colorOf({0.6f, 0.5f, 0.15f})));
    QCOMPARE(json.at("class").get<std::string>(), std::string(typologyClass(json.at("ITA").get<double>())));
    QCOMPARE(batch({"tone", "--melanin", "2"}).code, 1);
  }
  void aFailingStepLeavesTheDocument_data() {
    QTest::addColumn<QString>("step");
    QTest::addColumn<QString>("said");
    QTest::newRow("unknown") << "{\"do\": \"sing\"}"
                             << "known are undo";
    QTest::newRow("no do") << "{\"fill\": 1}"
                           << "needs \"do\"";
    QTest::newRow("no layer") << "{\"do\": \"fill\", \"color\": \"#fff\", \"layer\": \"Nowhere\"}"
                              << "Nowhere";
    QTest::newRow("no part") << "{\"do\": \"fill\", \"color\": \"#fff\", \"part\": \"Tail\"}"
                             << "Sphere, Ground";
    QTest::newRow("no colour") << "{\"do\": \"fill\", \"color\": \"reddish\"}"
                               << "#rrggbb";
    QTest::newRow("wrong kind") << "{\"do\": \"layer\", \"opacity\": \"half\"}"
                                << "wrong kind";
    QTest::newRow("no mode") << "{\"do\": \"layer\", \"blend\": \"smear\"}"
                             << "smear";
    QTest::newRow("no points") << "{\"do\": \"stroke\"}"
                               << "points";
    QTest::newRow("far away") << "{\"do\": \"stroke\", \"points\": [[500, 0, 0]]}"
                              << "near the surface";
    QTest::newRow("no ink") << "{\"do\": \"stroke\", \"ink\": \"oil\", \"points\": [[0, 0, 10]]}"
                            << "oil";
    QTest::newRow("bad mirror")
        << "{\"do\": \"stroke\", \"brush\": {\"mirror\": \"q\"}, \"points\": [[0, 0, 10]]}"
        << "letters";
    QTest::newRow("no brush") << "{\"do\": \"stroke\", \"brush\": \"Broom\", \"points\": [[0, 0, 10]]}"
                              << "Broom";
    QTest::newRow("no tip") << "{\"do\": \"stroke\", \"brush\": {\"tip\": \"oil\"}, \"points\": [[0, 0, 10]]}"
                            << "oil";
    QTest::newRow("no stamp")
        << "{\"do\": \"stamp\", \"at\": [0, 0, 10], \"brush\": {\"tip\": \"stamp\", \"stamp\": "
           "{\"name\": \"moon\"}}}"
        << "moon";
    QTest::newRow("no seed") << "{\"do\": \"stroke\", \"seed\": \"x\", \"points\": [[0, 0, 10]]}"
                             << "seed";
    QTest::newRow("no place") << "{\"do\": \"stamp\", \"at\": [0, 900, 0]}"
                              << "near the stamp";
    QTest::newRow("no mask") << "{\"do\": \"fill mask\"}"
                             << "mask";
    QTest::newRow("no map") << "{\"do\": \"mask from maps\", \"maps\": [{\"map\": \"shine\"}]}"
                            << "shine";
    QTest::newRow("no zones") << "{\"do\": \"add layer\", \"kind\": \"zones\", \"zones\": [{}]}"
                              << "zone 1 needs";
    QTest::newRow("no landmark") << "{\"do\": \"landmarks\", \"places\": {\"elbow\": [0, 0, 0]}}"
                                 << "elbow";
    QTest::newRow("not placed") << "{\"do\": \"usual zones\"}"
                                << "landmarks";
    QTest::newRow("no picture") << "{\"do\": \"picture\", \"file\": \"/nowhere.png\"}"
                                << "nowhere";
    QTest::newRow("merge bottom") << "{\"do\": \"merge down\"}"
                                  << "below";
    QTest::newRow("absurd spacing") << "{\"do\": \"refine\", \"spacing\": 0.0001}"
                                    << "larger spacing";
  }
  void aFailingStepLeavesTheDocument() {
    QFETCH(QString, step);
    QFETCH(QString, said);
    QCOMPARE(batch({"new", text(*folder_ / "x.obj"), "-o", text(doc_)}).code, 0);
    write(*folder_ / "s.json", qPrintable("[{\"do\": \"add layer\"}, " + step + "]"));
    const Answer ran = batch({"run", text(*folder_ / "s.json"), text(doc_)});
    QCOMPARE(ran.code, 1);
    QVERIFY2(ran.problem.contains("step 2") && ran.problem.contains(said), qPrintable(ran.problem));
    QVERIFY(documentIn(doc_).layers.empty());
  }
  void shotsAreTheStillsOfTheCore() {
    QCOMPARE(batch({"demo", "--sculpt", "keeper", "--points", "6000", "-o", text(doc_)}).code, 0);
    for (const QString view : {"flat", "value", "clay", "skin"}) {
      const Answer made = batch({"shot", text(doc_), "-o", text(*folder_ / "s.png"), "--view", view, "--size",
                                 "160x120", "--from", "left", "--turn", "20", "--nearer", "1.4"});
      QVERIFY2(made.code == 0, qPrintable(made.problem));
      QVERIFY(std::filesystem::file_size(*folder_ / "s.png") > 2000);
    }
    for (const QStringList& wrong : {QStringList{"--view", "glow"},
                                     {"--size", "12"},
                                     {"--size", "0x5"},
                                     {"--from", "below"},
                                     {"--part", "Tail"}})
      QCOMPARE(batch(QStringList{"shot", text(doc_), "-o", text(*folder_ / "t.png")} + wrong).code, 1);
    QVERIFY(!std::filesystem::exists(*folder_ / "t.png"));
  }
  void demoSculptsComeInEveryFormat() {
    for (const QString ending : {"ply", "obj", "glb"}) {
      const auto file = *folder_ / ("d." + ending.toStdString());
      QCOMPARE(batch({"demo", "--points", "5000", "-o", text(file)}).code, 0);
      const auto sculpt = readSculpt(file);
      QVERIFY(sculpt);
      QCOMPARE(sculpt->parts.size(), size_t{7});
      QCOMPARE(sculpt->colors.size(), sculpt->vertices.size());
    }
  }

  // From one head to others in one call: documents in place, sculpts into documents, one that cannot be done
  // told.
  void recipesAreListedSavedAndLaidOnMany() {
    const auto shipped = QJsonDocument::fromJson(batch({"recipe", "list"}).out.toUtf8()).array();
    QCOMPARE(shipped.size(), 9);
    QVERIFY(!shipped[0].toObject()["about"].toString().isEmpty());
    QCOMPARE(batch({"new", text(*folder_ / "x.obj"), "-o", text(doc_)}).code, 0);
    write(*folder_ / "s.json",
          "[{\"do\": \"add layer\", \"kind\": \"fill\", \"name\": \"Base\", \"stratum\": \"flesh\", "
          "\"color\": [1, 0, 0]},"
          "{\"do\": \"add layer\", \"kind\": \"bands\", \"name\": \"Bands\", \"size\": {\"size\": 4}},"
          "{\"do\": \"add layer\", \"name\": \"Paint\"}]");
    QCOMPARE(batch({"run", text(*folder_ / "s.json"), text(doc_)}).code, 0);
    const auto recipe = *folder_ / "r.juvenor-recipe";
    const Answer saved = batch({"recipe", "save", text(doc_), "-o", text(recipe), "--name", "Striped"});
    QCOMPARE(saved.code, 0);
    QCOMPARE(QJsonDocument::fromJson(saved.out.toUtf8()).object()["layers"].toInt(), 2);
    const Recipe read = *readRecipe(recipe);
    QCOMPARE(read.name, std::string("Striped"));
    QVERIFY(read.picture.starts_with("\x89PNG"));
    // onto the same document, a smaller sculpt and one that is none
    const float height = headHeightOf(documentIn(doc_));
    Sculpt small = sculpt_;
    for (Vec3& v : small.vertices) v *= 0.1f;
    QVERIFY(writeSculpt(*folder_ / "small.obj", small, {}));
    write(*folder_ / "none.obj", "no sculpt");
    std::filesystem::create_directories(*folder_ / "out");
    const Answer laid = batch({"recipe", "apply", text(recipe), text(doc_), text(*folder_ / "small.obj"),
                               text(*folder_ / "none.obj"), "--to", text(*folder_ / "out"), "--contact",
                               text(*folder_ / "sheet.png"), "--as-is"});
    QCOMPARE(laid.code, 1);
    QVERIFY2(laid.problem.contains("none.obj") && !laid.problem.contains("small.obj"),
             qPrintable(laid.problem));
    const auto told = QJsonDocument::fromJson(laid.out.toUtf8()).array();
    QCOMPARE(told.size(), 3);
    QCOMPARE(told[1].toObject()["place on contact sheet"].toInt(), 2);
    QVERIFY(!told[2].toObject()["error"].toString().isEmpty());
    QCOMPARE(documentIn(doc_).layers.size(), size_t{5});
    const Document there = documentIn(*folder_ / "out" / "small.juvenor");
    QCOMPARE(there.layers.size(), size_t{2});
    QVERIFY(std::abs(headHeightOf(there) / height - 0.1f) < 1e-3f);
    QVERIFY(std::abs(bandsOf(*there.layers[1]->source)->guides.size.size - 0.4f) < 1e-3f);
    QVERIFY(readPicture(*folder_ / "sheet.png"));
    // nothing is written over, and a name that is nearly right is told
    QCOMPARE(batch({"recipe", "apply", text(recipe), text(*folder_ / "small.obj"), "--to",
                    text(*folder_ / "out"), "--as-is"})
                 .code,
             1);
    QVERIFY(batch({"recipe", "apply", "lizzard", text(doc_)}).problem.contains("lizard"));
    QCOMPARE(documentIn(doc_).layers.size(), size_t{5});
  }

 private:
  std::unique_ptr<test::Folder> folder_;
  Sculpt sculpt_;
  std::filesystem::path doc_;
};

JUVENOR_TEST(TestBatch)
}  // namespace juvenor
#include "test_batch.moc"
