// Films by what FFmpeg's own ffprobe and ffmpeg say of them, and how what moves goes round.
#include <QProcess>
#include <fstream>

#include "core/show/film.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

namespace fs = std::filesystem;

QByteArray said(const QString& program, const QStringList& arguments) {
  QProcess process;
  process.start(program, arguments);
  process.waitForFinished(60'000);
  return process.readAllStandardOutput();
}

// Codec, width, height, pictures.
QString probed(const fs::path& film) {
  return said("ffprobe", {"-v", "error", "-count_frames", "-show_entries",
                          "stream=codec_name,width,height,nb_read_frames", "-of", "csv=p=0",
                          QString::fromStdString(film.string())})
      .trimmed();
}

std::vector<uint32_t> evenPicture(const ViewSize& size, uint32_t color) {
  return std::vector<uint32_t>(static_cast<size_t>(size.width) * static_cast<size_t>(size.height), color);
}

Outcome evenFilm(const fs::path& file, const ViewSize& size, std::span<const uint32_t> colors) {
  auto film = FilmFile::begin(file, file, size, 30);
  if (!film) return film.error();
  for (const uint32_t color : colors)
    if (const Outcome ok = (*film)->add(evenPicture(size, color)); !ok) return ok;
  return (*film)->end();
}

}  // namespace

class TestFilms : public QObject {
  Q_OBJECT
 private slots:
  void filesAreWhatTheyShould_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("codec");
    QTest::newRow("WebM") << "film.webm"
                          << "vp9";
    QTest::newRow("Matroska") << "film.mkv"
                              << "av1";
  }
  void filesAreWhatTheyShould() {
    QFETCH(QString, name);
    QFETCH(QString, codec);
    const test::Folder folder;
    const fs::path file = folder / name.toStdString();
    const std::vector<uint32_t> colors(7, 0xffb08468);
    QVERIFY(evenFilm(file, {128, 96}, colors));
    QCOMPARE(probed(file), codec + ",128,96,7");
    const QByteArray pixels = said("ffmpeg", {"-v", "error", "-i", QString::fromStdString(file.string()),
                                              "-frames:v", "1", "-f", "rawvideo", "-pix_fmt", "rgb24", "-"});
    QCOMPARE(pixels.size(), qsizetype{128 * 96 * 3});
    // by what the file says of its colours they come back as they went in
    for (const auto& [at, wanted] : {std::pair(0, 0xb0), std::pair(1, 0x84), std::pair(2, 0x68)}) {
      const int value = static_cast<unsigned char>(pixels[3 * (48 * 128 + 64) + at]);
      QVERIFY2(std::abs(value - wanted) <= 4, qPrintable(QString("%1 for %2").arg(value).arg(wanted)));
    }
  }

  void partsAreJoinedWithoutEncoding() {
    const test::Folder folder;
    const std::vector<uint32_t> first(5, 0xff204060), second(8, 0xffc0a080);
    QVERIFY(evenFilm(folder / "a.webm", {96, 64}, first));
    QVERIFY(evenFilm(folder / "b.webm", {96, 64}, second));
    const std::vector<fs::path> parts{folder / "a.webm", folder / "b.webm"};
    QVERIFY(joinFilms(parts, folder / "whole.webm"));
    QCOMPARE(probed(folder / "whole.webm"), QString("vp9,96,64,13"));
    // what the parts hold is in it to the byte, in time that goes on
    const QByteArray times =
        said("ffprobe", {"-v", "error", "-show_entries", "packet=pts_time", "-of", "csv=p=0",
                         QString::fromStdString((folder / "whole.webm").string())});
    double before = -1;
    int count = 0;
    for (const QByteArray& line : times.trimmed().split('\n')) {
      QVERIFY2(line.trimmed().toDouble() > before, line.constData());
      before = line.trimmed().toDouble();
      ++count;
    }
    QCOMPARE(count, 13);
    QVERIFY(std::abs(before - 12.0 / 30) < 0.01);
    QVERIFY(evenFilm(folder / "c.webm", {64, 64}, first));
    const std::vector<fs::path> other{folder / "a.webm", folder / "c.webm"};
    const Outcome unlike = joinFilms(other, folder / "no.webm");
    QVERIFY(!unlike);
    QVERIFY(unlike.error().message().find("c.webm") != std::string::npos);
    QVERIFY(!fs::exists(folder / "no.webm"));
  }

  void badFilesAreTold() {
    const test::Folder folder;
    QVERIFY(!evenFilm(folder / "film.mp5", {96, 64}, {}));
    QVERIFY(!evenFilm(folder / "film.webm", {97, 64}, {}));
    QVERIFY(!evenFilm(fs::path("/nowhere/film.webm"), {96, 64}, {}));
    std::ofstream(folder / "none.webm") << "no film at all";
    const std::vector<fs::path> parts{folder / "none.webm"};
    const Outcome none = joinFilms(parts, folder / "out.webm");
    QVERIFY(!none && none.error().message().find("none.webm") != std::string::npos);
  }

  void turntableJoinsItself() {
    FilmTime time;
    time.seconds = 2;
    time.perSecond = 24;
    QCOMPARE(frameCount(time), 48);
    Look start;
    start.camera.target = {3, 1, 0};
    const Vec3 middle(1, 0, 0);
    const auto at = [&](int frame) { return lookAt(time, start, {}, middle, frame); };
    // every step is as large, the one from the last to the first too
    const float step = at(0).camera.turn.angularDistance(at(1).camera.turn);
    QVERIFY(std::abs(step * 48 - 6.2831853f) < 1e-3f);
    for (const int frame : {10, 30, 46})
      QVERIFY(std::abs(at(frame).camera.turn.angularDistance(at(frame + 1).camera.turn) - step) < 1e-3f);
    QVERIFY(std::abs(at(47).camera.turn.angularDistance(at(0).camera.turn) - step) < 1e-3f);
    QVERIFY((at(0).camera.target - start.camera.target).norm() < 1e-5f);
    QVERIFY(std::abs((at(24).camera.target - Vec3(-1, 1, 0)).norm()) < 1e-4f);
    // the light stands with the viewer, whether it goes with the view or stands in the scene
    for (const bool follows : {true, false}) {
      start.lightFollows = follows;
      for (const int frame : {0, 7, 31}) {
        const Look look = at(frame);
        const Eigen::Matrix3f axes = viewAxes(look.camera);
        const Vec3 seen = axes.transpose() * patchDirection(lightIn(look)),
                   first = viewAxes(at(0).camera).transpose() * patchDirection(lightIn(at(0)));
        QVERIFY((seen - first).norm() < 1e-4f);
      }
    }
    time.motion = Motion::Light;
    QVERIFY(at(20).camera == start.camera);
    QVERIFY(std::abs(at(12).light.dial - start.light.dial - 90) < 1e-3f);
    time.motion = Motion::Camera;
    start.lightFollows = false;
    QVERIFY(at(20).light == start.light);
    QVERIFY(!(at(20).camera == start.camera));
  }

  void flightsGoFromCameraToCamera() {
    std::vector<KeptCamera> cameras(3);
    cameras[0].look.camera.distance = 4;
    cameras[1].look.camera.distance = 16;
    cameras[1].look.camera = turned(cameras[1].look.camera, Vec2(100, 20));
    cameras[1].look.focus.aperture = 2;
    cameras[2].look.camera.fieldOfView = 50;
    cameras[2].look.light.dial = 350;
    FilmTime time;
    time.motion = Motion::Flight;
    time.seconds = 1;
    time.perSecond = 25;
    const auto at = [&](int frame) { return lookAt(time, {}, cameras, Vec3::Zero(), frame); };
    const auto near = [](const Camera& a, const Camera& b) {
      return (a.eye() - b.eye()).norm() < 1e-3f && a.turn.angularDistance(b.turn) < 1e-3f &&
             std::abs(a.fieldOfView - b.fieldOfView) < 1e-3f;
    };
    QVERIFY(near(at(0).camera, cameras[0].look.camera));
    QVERIFY(near(at(12).camera, cameras[1].look.camera));
    QVERIFY(near(at(24).camera, cameras[2].look.camera));
    QVERIFY(std::abs(at(6).camera.distance - 8) < 1e-2f);
    QVERIFY(std::abs(at(12).focus.aperture - 2) < 1e-3f);
    QVERIFY(std::abs(at(6).focus.aperture - 4) < 1e-2f);
    // the shorter way round: from 40 degrees back over nought
    QVERIFY(std::abs(std::remainder(at(18).light.dial - 15, 360.f)) < 1e-2f);
    QVERIFY(!checkedTime(time, 1));
    QVERIFY(checkedTime(time, 2));
  }

  void aPartIsThatOfTheWhole() {
    const test::Folder folder;
    auto scene = ShownScene::of(test::documentOf(test::torus(24, 10, 4)), false);
    QVERIFY(scene);
    FilmWish wish;
    wish.time.seconds = 0.25f;
    wish.time.perSecond = 24;
    wish.still.size = {64, 64};
    wish.still.samples = 1;
    wish.still.look.view = View::Clay;
    wish.still.look.camera.distance = 60;
    wish.still.look.camera = turned(wish.still.look.camera, Vec2(40, 60));
    std::map<int, std::vector<uint32_t>> whole, part;
    const auto into = [](auto& pictures) {
      return
          [&pictures](int frame, std::span<const uint32_t> p) { pictures[frame].assign(p.begin(), p.end()); };
    };
    QVERIFY(makeFilm(**scene, wish, folder / "turn.png", into(whole)));
    QCOMPARE(whole.size(), size_t{6});
    QVERIFY(fs::exists(folder / "turn-0000.png") && fs::exists(folder / "turn-0005.png"));
    wish.first = 2;
    wish.last = 4;
    QVERIFY(makeFilm(**scene, wish, folder / "part.webm", into(part)));
    QCOMPARE(part.size(), size_t{3});
    for (const auto& [frame, pixels] : part) QVERIFY(pixels == whole[frame]);
    QCOMPARE(probed(folder / "part.webm"), QString("vp9,64,64,3"));
    wish.last = 6;
    const Outcome beyond = makeFilm(**scene, wish, folder / "no.webm");
    QVERIFY(!beyond && beyond.error().message().find("0 to 5") != std::string::npos);
    wish.last = 4;
    const Outcome stopped = makeFilm(**scene, wish, folder / "no.webm", {}, [](float f) { return f < 0.5f; });
    QVERIFY(!stopped && isCancelled(stopped.error()));
    QVERIFY(!fs::exists(folder / "no.webm"));
  }
};

JUVENOR_TEST(TestFilms)

}  // namespace juvenor

#include "test_films.moc"
