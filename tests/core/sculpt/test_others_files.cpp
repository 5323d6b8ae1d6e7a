// What files of others hold beside what every reader knows: marks, odd colours, colours of faces, strips,
// parts of any number, huge polygons, triangles that share no corner.
#include <cmath>

#include "core/sculpt/formats.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

const std::string kSquare =
    "ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\n";
const std::string kFourPoints = "0 0 0\n1 0 0\n1 1 0\n0 1 0\n";

std::string said(const Result<Sculpt>& s) {
  return s ? std::string() : s.error().message();
}

double areaOf(const std::vector<Vec3>& p, uint32_t a, uint32_t b, uint32_t c) {
  return 0.5 * static_cast<double>((p[b] - p[a]).cross(p[c] - p[a]).z());
}

// An outline of many corners: a comb with deep teeth, or a jagged disc.
std::vector<Vec3> outline(bool comb, uint32_t n) {
  std::vector<Vec3> out;
  if (comb) {
    out.emplace_back(0.f, -1.f, 0.f);
    out.emplace_back(static_cast<float>(n), -1.f, 0.f);
    for (uint32_t i = n; i-- > 2;)
      out.emplace_back(static_cast<float>(i), i % 2 ? 100.f : static_cast<float>(i % 7) * 0.1f, 0.f);
  } else {
    for (uint32_t i = 0; i < n; ++i) {
      const float a = 6.2831853f * static_cast<float>(i) / static_cast<float>(n), r = i % 2 ? 9.f : 10.f;
      out.emplace_back(r * std::cos(a), r * std::sin(a), 0.f);
    }
  }
  return out;
}

}  // namespace

class TestOthersFiles : public QObject {
  Q_OBJECT
 private slots:
  void aByteOrderMarkIsNoPartOfTheFirstLine() {
    const auto s = readObj("\xef\xbb\xbfv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "x.obj");
    QVERIFY2(s, said(s).c_str());
    QCOMPARE(s->vertices.size(), size_t{3});
  }
  void coloursThatAreNoNumbersTakeNothingFromThePoints() {
    const auto s = readObj("v 0 0 0 red\nv 1 0 0 nan 0 0\nv 0 1 0 1 0 0\nv 1 1 0\nf 1 2 3\n", "x.obj");
    QVERIFY2(s, said(s).c_str());
    QCOMPARE(s->vertices.size(), size_t{4});
    QCOMPARE(s->colors.size(), size_t{4});
    QCOMPARE(s->colors[0], (Rgba16{65535, 65535, 65535, 65535}));
    QCOMPARE(s->colors[1], (Rgba16{65535, 65535, 65535, 65535}));
    QCOMPARE(s->colors[2], (Rgba16{65535, 0, 0, 65535}));
    QCOMPARE(s->remarks.size(), size_t{1});
    QVERIFY(s->remarks[0].find("2 vertices") != std::string::npos);
  }
  void coloursOfFacesComeToTheirVertices() {
    const auto s = readPly(kSquare +
                               "element face 2\nproperty list uchar int vertex_indices\nproperty uchar "
                               "red\nproperty uchar green\nproperty uchar blue\nend_header\n" +
                               kFourPoints + "3 0 1 2 255 0 0\n3 0 2 3 0 0 255\n",
                           "x.ply");
    QVERIFY2(s, said(s).c_str());
    QCOMPARE(s->colors.size(), size_t{4});
    QCOMPARE(s->colors[1], (Rgba16{65535, 0, 0, 65535}));
    QCOMPARE(s->colors[3], (Rgba16{0, 0, 65535, 65535}));
    QVERIFY(std::abs(s->colors[0].r - 32767) <= 1 && s->colors[0].g == 0);
  }
  void colorsAsWholeNumbersOfFourBytesGoTo255() {
    const auto s = readPly(kSquare +
                               "property int red\nproperty int green\nproperty int blue\nelement face "
                               "1\nproperty list uchar int vertex_indices\nend_header\n0 0 0 255 0 51\n1 0 0 "
                               "0 0 0\n1 1 0 0 0 0\n0 1 0 0 0 0\n4 0 1 2 3\n",
                           "x.ply");
    QVERIFY2(s, said(s).c_str());
    QCOMPARE(s->colors[0], (Rgba16{65535, 0, 13107, 65535}));
  }
  // As the scans of Stanford have them: a strip of triangles, a mark below 0 where the next begins.
  void stripsOfTrianglesAreRead() {
    const auto s =
        readPly(kSquare + "element tristrips 1\nproperty list int int vertex_indices\nend_header\n" +
                    kFourPoints + "8 0 1 3 2 -1 0 3 2\n",
                "x.ply");
    QVERIFY2(s, said(s).c_str());
    QCOMPARE(s->corners, (std::vector<uint32_t>{0, 1, 3, 3, 1, 2, 0, 3, 2}));
    // both halves of the square look the same way
    QVERIFY(areaOf(s->vertices, 0, 1, 3) > 0 && areaOf(s->vertices, 3, 1, 2) > 0);
  }
  void partsOfAnyNumberAreKept() {
    const auto s = readPly("ply\nformat ascii 1.0\ncomment part 4000000000 Far\n" + kSquare.substr(21) +
                               "element face 2\nproperty list uchar int vertex_indices\nproperty uint "
                               "part\nend_header\n" +
                               kFourPoints + "3 0 1 2 4000000000\n3 0 2 3 7\n",
                           "x.ply");
    QVERIFY2(s, said(s).c_str());
    QCOMPARE(s->parts.size(), size_t{2});
    QCOMPARE(s->parts[s->polygonPart[0]], std::string("Far"));
    QVERIFY(s->polygonPart[0] != s->polygonPart[1]);
    // more parts than two bytes can tell go round
    Sculpt many = test::plane(264, 10);
    many.parts.clear();
    for (uint32_t p = 0; p < many.polygonCount(); ++p) {
      many.polygonPart[p] = p;
      many.parts.push_back("P" + std::to_string(p));
    }
    QVERIFY(many.parts.size() > 65'536);
    const auto back = readPly(writePly(many, {}), "x.ply");
    QVERIFY2(back, said(back).c_str());
    QCOMPARE(back->parts, many.parts);
    QCOMPARE(back->polygonPart, many.polygonPart);
  }
  void namesWithLineBreaksAndEqualOnesComeBackAsTheyAreMany() {
    const Sculpt s = test::together(test::plane(2, 1, "Eye\nf 1 2 3"),
                                    test::together(test::plane(2, 1, "Eye"), test::plane(2, 1, "Eye")));
    for (const bool obj : {true, false}) {
      const auto back = obj ? readObj(writeObj(s, {}), "x.obj") : readPly(writePly(s, {}), "x.ply");
      QVERIFY2(back, said(back).c_str());
      QCOMPARE(back->polygonCount(), s.polygonCount());
      QCOMPARE(back->polygonPart, s.polygonPart);
      QCOMPARE(back->parts, (std::vector<std::string>{"Eye f 1 2 3", "Eye", "Eye 2"}));
    }
  }
  void polygonsOfThousandsOfCornersAreCutIntoTheirOwnArea() {
    for (const bool comb : {true, false}) {
      const std::vector<Vec3> points = outline(comb, 20'000);
      std::vector<uint32_t> corners(points.size());
      double exact = 0;
      for (uint32_t i = 0; i < corners.size(); ++i) {
        corners[i] = i;
        const Vec3 &a = points[i], &b = points[(i + 1) % points.size()];
        exact += 0.5 * (static_cast<double>(a.x()) * b.y() - static_cast<double>(a.y()) * b.x());
      }
      std::vector<std::array<uint32_t, 3>> cut;
      triangulate(points, corners, cut);
      QCOMPARE(cut.size(), corners.size() - 2);
      double sum = 0;
      for (const auto& t : cut) {
        const double area = areaOf(points, t[0], t[1], t[2]);
        QVERIFY(area > -1e-4);
        sum += area;
      }
      QVERIFY2(std::abs(sum / exact - 1) < 1e-4, qPrintable(QString("%1 of %2").arg(sum).arg(exact)));
    }
    // one that crosses itself is cut somehow, and ends
    std::vector<Vec3> wild;
    std::vector<uint32_t> corners;
    for (uint32_t i = 0; i < 3000; ++i) {
      wild.emplace_back(static_cast<float>(i * 7919 % 1000), static_cast<float>(i * 104'729 % 997), 0.f);
      corners.push_back(i);
    }
    std::vector<std::array<uint32_t, 3>> cut;
    triangulate(wild, corners, cut);
    QCOMPARE(cut.size(), size_t{2998});
  }
  // Three corners a triangle on disk, as few as the form has in memory, and each triangle where it was.
  void trianglesOfStlShareTheirCorners() {
    const Sculpt sphere = test::sphere(16, 3);
    std::string text = "solid Ball\n";
    std::vector<std::array<Vec3, 3>> wanted;
    for (size_t p = 0; p < sphere.polygonCount(); ++p) {
      const auto polygon = sphere.polygon(p);
      std::vector<std::array<uint32_t, 3>> cut;
      triangulate(sphere.vertices, polygon, cut);
      for (const auto& t : cut) {
        text += "facet normal 0 0 0\nouter loop\n";
        std::array<Vec3, 3> corners;
        for (size_t k = 0; k < 3; ++k) {
          corners[k] = sphere.vertices[polygon[t[k]]];
          text += QString("vertex %1 %2 %3\n")
                      .arg(static_cast<double>(corners[k].x()), 0, 'g', 9)
                      .arg(static_cast<double>(corners[k].y()), 0, 'g', 9)
                      .arg(static_cast<double>(corners[k].z()), 0, 'g', 9)
                      .toStdString();
        }
        wanted.push_back(corners);
        text += "endloop\nendfacet\n";
      }
    }
    text += "endsolid Ball\n";
    const auto s = readStl(text, "x.stl", {});
    QVERIFY2(s, said(s).c_str());
    QCOMPARE(s->polygonCount(), wanted.size());
    QVERIFY(s->vertices.size() <= sphere.vertices.size() + 2);
    for (size_t p = 0; p < wanted.size(); ++p)
      for (size_t k = 0; k < 3; ++k) QVERIFY((s->vertices[s->polygon(p)[k]] - wanted[p][k]).norm() < 1e-5f);
  }
};

JUVENOR_TEST(TestOthersFiles)
}  // namespace juvenor
#include "test_others_files.moc"
