// Showing from the shell: stills, films in parts, contact sheets, passes.
#include <OpenImageIO/imageio.h>

#include "batch/answer.h"
#include "core/json_fields.h"
#include "core/sculpt/formats.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

namespace fs = std::filesystem;
using test::Answer;
using test::batch;
using test::text;

QByteArray ffprobe(const fs::path& film) {
  QProcess process;
  process.start("ffprobe", {"-v", "error", "-count_frames", "-show_entries",
                            "stream=codec_name,width,height,nb_read_frames", "-of", "csv=p=0", text(film)});
  process.waitForFinished(60'000);
  return process.readAllStandardOutput().trimmed();
}

}  // namespace

class TestBatchShow : public QObject {
  Q_OBJECT
 private slots:
  void init() {
    folder_ = std::make_unique<test::Folder>();
    QVERIFY(writeSculpt(*folder_ / "x.obj",
                        test::together(test::sphere(40, 10), test::plane(8, 30, "Ground")), {}));
    doc_ = text(*folder_ / "x.juvenor");
    QCOMPARE(batch({"new", text(*folder_ / "x.obj"), "-o", doc_, "--unit", "mm"}).code, 0);
    QByteArray script =
        "{'steps': [{'do': 'add layer', 'name': 'Skin', 'kind': 'fill', 'stratum': 'flesh', 'color': "
        "'#b08070'},"
        " {'do': 'camera', 'name': 'Front', 'look': {'view': 'flat', 'camera': {'distance': 50}}},"
        " {'do': 'camera', 'name': 'Aside', 'turn': 50, 'look': {'view': 'flat'}},"
        " {'do': 'variant', 'name': 'Bare'}, {'do': 'checkpoint', 'name': 'Then'}]}";
    test::write(*folder_ / "s.json", script.replace('\'', '"'));
    const Answer run = batch({"run", text(*folder_ / "s.json"), doc_});
    QVERIFY2(run.code == 0, qPrintable(run.problem));
  }

  void stillsAreMadeByACamera() {
    const fs::path file = *folder_ / "still.png";
    const QStringList made{"still", doc_,      "-o",     text(file), "--camera",  "Front", "--size",
                           "80x60", "--clear", "--bits", "16",       "--samples", "4"};
    const Answer still = batch(made);
    QVERIFY2(still.code == 0, qPrintable(still.problem));
    const auto in = OIIO::ImageInput::open(file.string());
    QVERIFY(in);
    QCOMPARE(in->spec().width, 80);
    QCOMPARE(in->spec().nchannels, 4);
    QCOMPARE(in->spec().format.basetype, static_cast<unsigned char>(OIIO::TypeDesc::UINT16));
    std::vector<float> pixels(80 * 60 * 4);
    QVERIFY(in->read_image(0, 0, 0, -1, OIIO::TypeDesc::FLOAT, pixels.data()));
    // the flat colour of the skin in the middle, nothing in the corner
    const size_t middle = 4 * (30 * 80 + 40);
    for (const auto& [channel, value] : {std::pair(0, 0xb0), std::pair(1, 0x80), std::pair(2, 0x70)})
      QVERIFY(std::abs(pixels[middle + static_cast<size_t>(channel)] - static_cast<float>(value) / 255) <
              3e-3f);
    QCOMPARE(pixels[middle + 3], 1.f);
    // what is there is nobody's to lose
    const Answer again = batch(made);
    QCOMPARE(again.code, 1);
    QVERIFY(again.problem.contains("--force"));
    QCOMPARE(batch(made + QStringList{"--force"}).code, 0);
    const Answer unknown = batch({"still", doc_, "-o", text(*folder_ / "n.png"), "--camera", "Behind"});
    QCOMPARE(unknown.code, 1);
    QVERIFY(unknown.problem.contains("Front") && unknown.problem.contains("Aside"));
    for (const QStringList& wrong : {QStringList{"--size", "99999x10"},
                                     {"--aperture", "0.1"},
                                     {"--sharp", "1,2"},
                                     {"--backdrop", "#12"},
                                     {"--camera", "Front", "--from", "left"}})
      QCOMPARE(batch(QStringList{"still", doc_, "-o", text(*folder_ / "n.png")} + wrong).code, 1);
    QCOMPARE(batch({"still", doc_, "-o", text(*folder_ / "n.jpg"), "--clear"}).code, 1);
    QVERIFY(!fs::exists(*folder_ / "n.png"));
  }

  void filmsCanBeMadeInParts() {
    const QStringList film{"film",      doc_, "--view",    "clay", "--size",       "64x64",
                           "--samples", "1",  "--seconds", "0.5",  "--per-second", "24"};
    const auto part = [&](const char* name, const char* frames) {
      return batch(film + QStringList{"-o", text(*folder_ / name), "--frames", frames});
    };
    QCOMPARE(part("a.webm", "0-4").code, 0);
    QCOMPARE(part("b.webm", "5-11").code, 0);
    QCOMPARE(part("c.webm", "5-12").code, 1);
    QCOMPARE(part("c.webm", "fast").code, 1);
    const Answer joined = batch(
        {"join", text(*folder_ / "a.webm"), text(*folder_ / "b.webm"), "-o", text(*folder_ / "whole.webm")});
    QVERIFY2(joined.code == 0, qPrintable(joined.problem));
    QCOMPARE(ffprobe(*folder_ / "whole.webm"), QByteArray("vp9,64,64,12"));
    const Answer pictures =
        batch(film + QStringList{"-o", text(*folder_ / "turn.png"), "--motion", "flight"});
    QVERIFY2(pictures.code == 0, qPrintable(pictures.problem));
    QVERIFY(fs::exists(*folder_ / "turn-0011.png"));
    QCOMPARE(batch(film + QStringList{"-o", text(*folder_ / "turn.png"), "--frames", "11-11"}).code, 1);
    QCOMPARE(batch(film + QStringList{"-o", text(*folder_ / "x.webm"), "--motion", "sideways"}).code, 1);
    QCOMPARE(
        batch(film + QStringList{"-o", text(*folder_ / "x.webm"), "--motion", "flight", "--cameras", "Front"})
            .code,
        1);
  }

  // What the Prepare stage asks first.
  void whetherItCarriesPaintIsTold() {
    for (const QString& file : {doc_, text(*folder_ / "x.obj")}) {
      const Answer ready = batch({"ready", file});
      QVERIFY2(ready.code == 0, qPrintable(ready.problem));
      const auto told = parsedOrNull(ready.out.toStdString());
      QCOMPARE(told["carries"].get<std::string>(), std::string("nothing"));
      QCOMPARE(told["parts"].get<int>(), 2);
      QVERIFY(!told["finest things"]["Pores"]["fine enough"].get<bool>());
      QVERIFY(told["finest things"]["Hue zones"]["fine enough"].get<bool>());
    }
    QCOMPARE(batch({"ready", text(*folder_ / "none.obj")}).code, 1);
  }

  void sheetsAndPassesAreMade() {
    for (const char* of : {"cameras", "checkpoints", "variants"}) {
      const fs::path file = *folder_ / (std::string(of) + ".png");
      const Answer sheet = batch({"contact", doc_, "-o", text(file), "--of", of, "--tile", "96x72",
                                  "--samples", "1", "--view", "flat"});
      QVERIFY2(sheet.code == 0, qPrintable(sheet.problem));
      const auto in = OIIO::ImageInput::open(file.string());
      QVERIFY(in);
      QCOMPARE(in->spec().width > 190, std::string_view(of) == "cameras");
    }
    const Answer passes =
        batch({"passes", doc_, "-o", text(*folder_ / "p.exr"), "--size", "40x30", "--samples", "1"});
    QVERIFY2(passes.code == 0, qPrintable(passes.problem));
    const auto in = OIIO::ImageInput::open((*folder_ / "p.exr").string());
    QVERIFY(in && in->spec().channelindex("depth.Z") >= 0);
    QCOMPARE(batch({"passes", doc_, "-o", text(*folder_ / "p.png")}).code, 1);
  }

 private:
  std::unique_ptr<test::Folder> folder_;
  QString doc_;
};

JUVENOR_TEST(TestBatchShow)

}  // namespace juvenor

#include "test_batch_show.moc"
