// Members of JSON objects that nobody vouches for: every value checked, every unknown key named.
#include "core/color/color_json.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using nlohmann::json;

std::string problemOf(const Outcome& done) {
  return done ? "" : done.error().message();
}

// One of each kind.
struct Values {
  float size = 0;
  uint32_t count = 0;
  std::string name;
  bool on = false;
  Vec3 up = Vec3::Zero();
  EncodedColor color{};
  const json* steps = nullptr;

  void read(JsonFields& fields) {
    fields.number("size", size, 0, 10).whole("count", count).text("name", name).flag("on", on);
    fields.vector("up", up).value("color", color, kJsonColor).list("steps", steps);
  }
};

}  // namespace

class TestJsonFields : public QObject {
  Q_OBJECT
 private slots:
  void valuesAreRead() {
    // through text, as it comes from files
    const json object = json::parse(json{
        {"size", 3.5},
        {"count", 7},
        {"name", "Flüsse"},
        {"on", true},
        {"up", {0, 1, -2.5}},
        {"color", "#ff8000"},
        {"steps", {1, 2}}}.dump());
    Values v;
    JsonFields fields(object);
    v.read(fields);
    fields.needs({"size", "name"});
    QVERIFY2(problemOf(fields.done()).empty(), problemOf(fields.done()).c_str());
    QCOMPARE(v.size, 3.5f);
    QCOMPARE(v.count, 7u);
    QCOMPARE(v.name, std::string("Flüsse"));
    QVERIFY(v.on && v.up == Vec3(0, 1, -2.5f) && v.steps && v.steps->size() == 2);
    QCOMPARE(v.color, (EncodedColor{1, 128 / 255.f, 0}));
  }
  void whatIsNotThereStaysAsItWas() {
    const json object = json::object();
    float size = 4;
    const json* steps = nullptr;
    JsonFields fields(object);
    fields.number("size", size, 0, 10).list("steps", steps);
    QVERIFY(fields.done());
    QVERIFY(size == 4 && !steps && !fields.has("size"));
    // unless it is needed
    QVERIFY(problemOf(fields.needs({"size"}).done()).find("size") != std::string::npos);
  }
  void numbersAreHeldToTheirRange() {
    const json object{{"much", 1e9}, {"little", -1e9}};
    float much = 0, little = 0;
    JsonFields fields(object);
    fields.number("much", much, 0, 1).number("little", little, -2, 1);
    QVERIFY(fields.done());
    QCOMPARE(much, 1.f);
    QCOMPARE(little, -2.f);
  }
  void wrongKindsAreToldByTheirKey_data() {
    QTest::addColumn<QString>("text");
    for (const char* text : {R"({"size": "3"})", R"({"size": null})", R"({"size": [3]})", R"({"count": -1})",
                             R"({"count": 2.5})", R"({"count": 4294967296})", R"({"count": true})",
                             R"({"name": 3})", R"({"on": 1})", R"({"up": [1, 2]})", R"({"up": [1, 2, "z"]})",
                             R"({"color": "red"})", R"({"color": [0, 0]})", R"({"steps": {}})"})
      QTest::newRow(text) << text;
  }
  void wrongKindsAreToldByTheirKey() {
    QFETCH(QString, text);
    const json object = json::parse(text.toStdString(), nullptr, false);
    Values v;
    JsonFields fields(object);
    v.read(fields);
    const std::string problem = problemOf(fields.done());
    QVERIFY2(problem.find(object.begin().key()) != std::string::npos, problem.c_str());
  }
  void aKeyNobodyAskedForIsRefusedWithTheNearest() {
    const json object{{"radius", 3}, {"sofness", 0.5}};
    float radius = 0, softness = 0;
    JsonFields fields(object);
    fields.number("radius", radius, 0, 10).number("softness", softness, 0, 1);
    const std::string problem = problemOf(fields.done());
    QVERIFY2(problem.find("sofness") != std::string::npos, problem.c_str());
    QVERIFY2(problem.find("did you mean \"softness\"") != std::string::npos, problem.c_str());
    // far from everything all are listed
    const std::string_view known[]{"radius", "softness"};
    const std::string list = nearestWord("quite another", known);
    QVERIFY2(list.find("radius") != std::string::npos && list.find("softness") != std::string::npos,
             list.c_str());
    for (const json& other : {json::array(), json(3), json("text"), json()})
      QVERIFY(!JsonFields(other).done());
  }
  void colorsAndNumbersByThemselves() {
    QCOMPARE(*colorFromJson(toJson({0.25f, 0.5f, 1})), (EncodedColor{0.25f, 0.5f, 1}));
    for (const json& bad : {json("#12345"), json("#12345g"), json(3), json{0, 0, "1"}, json{0, 0, 0, 0}})
      QVERIFY2(!colorFromJson(bad), bad.dump().c_str());
    QCOMPARE(*numberFromJson(json(-2.5)), -2.5f);
    for (const json& bad : {json("2"), json(1e300), json(), json(true)})
      QVERIFY2(!numberFromJson(bad), bad.dump().c_str());
    QVERIFY(*vectorFromJson(json{1, 2, 3}) == Vec3(1, 2, 3));
    QVERIFY(!vectorFromJson(json{1, 2, 1e300}));
  }
};

JUVENOR_TEST(TestJsonFields)
}  // namespace juvenor
#include "test_json_fields.moc"
