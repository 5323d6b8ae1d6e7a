// Files of every kind the program reads, damaged: each opens, or it is refused with a message, and no byte of
// it makes the program reach memory it must not (under the sanitizers). JUVENOR_MUTATIONS says how many;
// ./run-tests tries 1,500, the target hostile_by_hand 10,000.
#include <fstream>

#include "core/brush/brush_roll.h"
#include "core/color/palette.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/document/edits/edits.h"
#include "core/document/store/journal.h"
#include "core/files.h"
#include "core/graft/graft_file.h"
#include "core/json_fields.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/patterns.h"
#include "core/pen/pen_recording.h"
#include "core/photo/picture_file.h"
#include "core/recipe/recipe.h"
#include "core/render/environment.h"
#include "core/sculpt/formats.h"
#include "core/view/look.h"
#include "support/history_steps.h"
#include "support/made.h"
#include "support/mutated.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using std::filesystem::path;

// A kind of file: sound ones, and what the program does with one.
struct FileKind {
  std::string ending;
  std::vector<std::string> sound;
  std::function<Outcome(const path&)> look;
};

template <class Value>
Outcome outcomeOf(const Result<Value>& result) {
  return result ? Outcome(Done{}) : Outcome(result.error());
}

// Empty where it could not be made, which no kind of file is when it is sound.
template <class Value>
Value made(Result<Value> result) {
  return result ? std::move(*result) : Value();
}

Document smallWork() {
  Document d = test::documentOf(test::together(test::plane(20, 2, "Face"), test::oddities(3)));
  d = withFillLayer(d, "Tone", Stratum::Flesh, {0.7f, 0.5f, 0.4f});
  d = withPaintedLayer(d, "Paint", Stratum::Pigment);
  d = *withFilled(d, d.activeLayer, {0.2f, 0.6f, 0.3f}, 0.5f, 0);
  d = *withMask(d, d.activeLayer);
  d = *withCheckpoint(d, "Then", 1'700'000'000);
  Scales scales;
  scales.guides.size.size = 0.4f;
  return withSourceLayer(d, "Hide", Stratum::Surface, scaleSource(scales));
}

std::string pictureBytes(const test::Folder& folder, const char* name) {
  std::vector<uint32_t> pixels(32 * 24);
  for (size_t i = 0; i < pixels.size(); ++i) pixels[i] = 0xff000000u | static_cast<uint32_t>(i * 7919);
  (void)writePicture(folder / name, {32, 24}, pixels);
  return made(readBytes(folder / name));
}

Outcome lookAtDocument(const path& file) {
  auto store = Store::open(file);
  if (!store) return store.error();
  auto opened = store->read({}, size_t{256} << 20);
  if (!opened) return opened.error();
  const Document& d = opened->steps[opened->current]->document;
  const auto skin = skinOf(d.layers, *d.maps, d.bare);
  if (!skin) return skin.error();
  return store->write(opened->steps, opened->steps[opened->current]->id);
}

Outcome lookAtJournal(const path& file) {
  const LeftBehindList left = leftBehind(file.parent_path());
  if (!left.unreadable.empty()) return left.unreadable.front();
  for (const LeftBehind& journal : left.journals)
    if (const auto back = recover(journal); !back) return back.error();
  return Done{};
}

// What reads text gets it as the program hands it over.
template <class Read>
std::function<Outcome(const path&)> ofText(Read read) {
  return [read](const path& file) -> Outcome {
    const auto bytes = readBytes(file);
    return bytes ? outcomeOf(read(*bytes)) : Outcome(bytes.error());
  };
}
template <class Read>
std::function<Outcome(const path&)> ofJson(Read read) {
  return ofText([read](const std::string& text) -> decltype(read(nlohmann::json())) {
    const auto json = parsedJson(text);
    if (!json) return json.error();
    return read(*json);
  });
}

std::vector<FileKind> everyKind(const test::Folder& folder) {
  const auto sculpt = [](const path& p) { return outcomeOf(readSculpt(p)); };
  const auto picture = [](const path& p) { return outcomeOf(readPicture(p)); };
  const Sculpt odd = test::oddities(3);
  const VertexFinish finish{{}, std::vector<Rgba16>(odd.vertices.size(), {9000, 8000, 7000, 65535})};
  const path foreign = "/usr/share/assimp/models";
  const auto bytesOf = [](const path& p) { return made(readBytes(p)); };
  std::vector<FileKind> out;
  out.push_back(
      {"obj",
       {writeObj(odd, finish), "o a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvn 0 0 1\nf 1/1/1 2/1/1 -1/1/1\n"},
       sculpt});
  out.push_back({"ply",
                 {writePly(odd, finish), bytesOf(foreign / "PLY/cube.ply"),
                  bytesOf(foreign / "PLY/float-color.ply"), bytesOf(foreign / "PLY/cube_uv.ply")},
                 sculpt});
  out.push_back(
      {"stl",
       {bytesOf(foreign / "STL/triangle.stl"), bytesOf(foreign / "STL/triangle_with_two_solids.stl"),
        std::string(80, ' ') + std::string("\2\0\0\0", 4) + std::string(100, '\x3f')},
       sculpt});
  out.push_back(
      {"glb",
       {made(writeGlb(odd, finish)), bytesOf(foreign / "glTF2/BoxTextured-glTF-Binary/BoxTextured.glb"),
        bytesOf(foreign / "glTF2/BoxBadNormals-glTF-Binary/BoxBadNormals.glb")},
       sculpt});
  out.push_back({"gltf",
                 {bytesOf(foreign / "glTF2/BoxTextured-glTF-Embedded/BoxTextured.gltf"),
                  bytesOf(foreign / "glTF2/simple_skin/simple_skin.gltf")},
                 sculpt});
  for (const char* ending : {"png", "jpg", "tif"})
    out.push_back({ending, {pictureBytes(folder, (std::string("sound.") + ending).c_str())}, picture});
  Graft graft;
  graft.width = graft.height = kLeastGraft;
  graft.across = 30;
  graft.alpha.assign(graft.pixels(), 1.f);
  for (auto& c : graft.color) c.assign(graft.pixels(), 0.4f);
  graft.relief.assign(graft.pixels(), 0.1f);
  (void)writeGraft(graft, folder / "sound.exr");
  out.push_back({"exr", {bytesOf(folder / "sound.exr")}, [](const path& p) {
                   (void)readPanorama(p);
                   return outcomeOf(readGraft(p));
                 }});
  const Document work = smallWork();
  const Recipe recipe =
      made(takeRecipe(work, std::vector<uint32_t>{work.layers.front()->id, work.activeLayer}, "Both")).recipe;
  (void)writeRecipe(folder / "sound.juvenor-recipe", recipe);
  out.push_back({"juvenor-recipe", {bytesOf(folder / "sound.juvenor-recipe")}, [](const path& p) {
                   return outcomeOf(readRecipe(p));
                 }});
  out.push_back({"brushes", {made(encodedRoll(usualRoll()))}, ofText([](const std::string& text) {
                   return decodedRoll(text, "mutated");
                 })});
  out.push_back(
      {"pen",
       {toJson(PenRecording{{640, 480}, {{{{1, 2}, 0.5f, {3, 4}, 0.1}, {{9, 9}, 1, {0, 0}, 0.2}}}}).dump(1)},
       ofJson([](const nlohmann::json& j) { return penRecordingFrom(j); })});
  out.push_back(
      {"look", {toJson(Look()).dump(1)}, ofJson([](const nlohmann::json& j) { return lookFrom(j); })});
  out.push_back({"gpl",
                 {"GIMP Palette\nName: mud\n#\n120 80 60 Mud\n200 150 130 Lip\n"},
                 ofText([](const std::string& text) { return readGpl(text, "mutated"); })});
  History h(work, "Open");
  h.push(*withFilled(h.document(), work.layers[1]->id, {0.9f, 0.1f, 0.3f}, 0.5f, 0), "Fill");
  (void)saveAs(folder / "sound.juvenor", test::stepsOf(h), test::currentOf(h));
  out.push_back({"juvenor", {bytesOf(folder / "sound.juvenor")}, lookAtDocument});
  {
    Journal journal(folder / "journals", {}, "Mine");
    journal.keep(test::stepsOf(h), test::currentOf(h));
    (void)journal.flush();
    journal.leaveBehind();
  }
  for (const auto& entry : std::filesystem::directory_iterator(folder / "journals"))
    if (entry.path().extension() == ".journal")
      out.push_back({"journal", {bytesOf(entry.path())}, lookAtJournal});
  return out;
}

}  // namespace

class TestMutatedFiles : public QObject {
  Q_OBJECT
 private slots:
  void initTestCase() {
    kinds_ = everyKind(folder_);
    QCOMPARE(kinds_.size(), size_t{16});
  }
  void soundOnesAreRead() {
    for (const FileKind& kind : kinds_)
      for (const std::string& bytes : kind.sound) {
        QVERIFY2(!bytes.empty(), kind.ending.c_str());
        const Outcome read = lookedAt(kind, bytes);
        QVERIFY2(bool(read), read ? "" : (kind.ending + ": " + read.error().message()).c_str());
      }
  }
  void damagedOnesAreReadOrRefused_data() {
    QTest::addColumn<int>("which");
    for (size_t i = 0; i < kinds_.size(); ++i) QTest::newRow(kinds_[i].ending.c_str()) << static_cast<int>(i);
  }
  void damagedOnesAreReadOrRefused() {
    QFETCH(int, which);
    const FileKind& kind = kinds_[static_cast<size_t>(which)];
    const auto count =
        static_cast<uint32_t>(test::wantedNumber("JUVENOR_MUTATIONS", 1500) / kinds_.size() + 1);
    uint32_t refused = 0;
    for (uint32_t i = 0; i < count; ++i) {
      const uint32_t number = i * 100 + static_cast<uint32_t>(which);
      const Outcome read = lookedAt(kind, test::mutated(kind.sound[i % kind.sound.size()], number));
      refused += !read;
      // a refusal says why, in words that can be shown
      if (!read)
        QVERIFY2(!read.error().what.empty() && QString::fromStdString(read.error().what).size() < 2000,
                 qPrintable(QString("%1 %2").arg(kind.ending.c_str()).arg(number)));
    }
    QVERIFY2(refused > 0 && refused < count, qPrintable(QString("%1 of %2 refused").arg(refused).arg(count)));
  }

 private:
  // In a folder of its own: journals and pictures look about themselves.
  static Outcome lookedAt(const FileKind& kind, const std::string& bytes) {
    const test::Folder folder;
    const path file = folder / ("mutated." + kind.ending);
    std::ofstream(file, std::ios::binary) << bytes;
    return kind.look(file);
  }

  test::Folder folder_;
  std::vector<FileKind> kinds_;
};

JUVENOR_TEST(TestMutatedFiles)
}  // namespace juvenor
#include "test_mutated_files.moc"
