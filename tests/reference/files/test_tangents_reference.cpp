// Tangents against the reference module of their scheme (npm mikktspace, Mikkelsen's own code): mirrored UVs,
// hard edges, seams, triangles without area on the skin or in the layout, soup.
#include <cmath>
#include <fstream>
#include <random>

#include "core/textures/tangents.h"
#include "reference/files/node.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

using Corners = std::array<TangentCorner, 3>;

// A sheet of quads bent to a form, each as two triangles; `layout` and `normal` say the rest.
template <class Form, class Normal, class Layout>
std::vector<Corners> sheet(int cells, Form form, Normal normal, Layout layout) {
  std::vector<Corners> out;
  const auto corner = [&](int x, int y) {
    const Vec2 at(static_cast<float>(x) / static_cast<float>(cells),
                  static_cast<float>(y) / static_cast<float>(cells));
    return TangentCorner{form(at), normal(at), layout(at)};
  };
  for (int y = 0; y < cells; ++y)
    for (int x = 0; x < cells; ++x) {
      out.push_back({corner(x, y), corner(x + 1, y), corner(x + 1, y + 1)});
      out.push_back({corner(x, y), corner(x + 1, y + 1), corner(x, y + 1)});
    }
  return out;
}

Vec3 ball(const Vec2& at) {
  const float around = 2 * static_cast<float>(M_PI) * at.x(),
              down = static_cast<float>(M_PI) * (0.05f + 0.9f * at.y());
  return {std::sin(down) * std::cos(around), std::cos(down), std::sin(down) * std::sin(around)};
}

std::vector<Corners> withFlatNormals(std::vector<Corners> triangles) {
  for (Corners& t : triangles) {
    const Vec3 n = (t[1].position - t[0].position).cross(t[2].position - t[0].position).normalized();
    for (TangentCorner& c : t) c.normal = n;
  }
  return triangles;
}

// Every seventh triangle loses an edge, every eleventh its area in the layout.
std::vector<Corners> withBroken(std::vector<Corners> triangles) {
  for (size_t t = 0; t < triangles.size(); ++t) {
    if (t % 7 == 3) triangles[t][1] = triangles[t][0];
    if (t % 11 == 5) triangles[t][2].uv = triangles[t][1].uv;
  }
  return triangles;
}

std::vector<Corners> loose(int count) {
  std::mt19937 random(4);
  std::uniform_real_distribution<float> any(-1, 1);
  std::vector<Corners> out(static_cast<size_t>(count));
  for (Corners& t : out)
    for (TangentCorner& c : t)
      c = {Vec3(any(random), any(random), any(random)),
           Vec3(any(random), any(random), any(random)).normalized(), Vec2(any(random), any(random))};
  return out;
}

std::vector<std::array<float, 4>> reference(const std::vector<Corners>& triangles) {
  test::Folder folder;
  {
    std::ofstream file(folder / "mesh.bin", std::ios::binary);
    const auto put = [&](auto of, size_t values) {
      for (const Corners& t : triangles)
        for (const TangentCorner& c : t)
          file.write(reinterpret_cast<const char*>(of(c)),
                     static_cast<std::streamsize>(values * sizeof(float)));
    };
    put([](const TangentCorner& c) { return c.position.data(); }, 3);
    put([](const TangentCorner& c) { return c.normal.data(); }, 3);
    put([](const TangentCorner& c) { return c.uv.data(); }, 2);
  }
  const QByteArray out = test::node(
      "const m=require('mikktspace'),fs=require('fs');const b=fs.readFileSync(process.argv[1]);"
      "const a=new Float32Array(b.buffer.slice(b.byteOffset,b.byteOffset+b.length));const n=a.length/8;"
      "const t=m.generateTangents(a.subarray(0,3*n),a.subarray(3*n,6*n),a.subarray(6*n));"
      "fs.writeFileSync(process.argv[2],Buffer.from(t.buffer,t.byteOffset,t.byteLength));console.log(t."
      "length);",
      {QString::fromStdString((folder / "mesh.bin").string()),
       QString::fromStdString((folder / "t.bin").string())});
  std::vector<std::array<float, 4>> tangents(out.trimmed().toULongLong() / 4);
  std::ifstream file(folder / "t.bin", std::ios::binary);
  file.read(reinterpret_cast<char*>(tangents.data()), static_cast<std::streamsize>(16 * tangents.size()));
  return tangents;
}

}  // namespace

class TestTangentsReference : public QObject {
  Q_OBJECT
 private slots:
  void areThoseOfTheReference_data() {
    QTest::addColumn<int>("mesh");
    QTest::addRow("a ball with a seam") << 0;
    QTest::addRow("a ball whose halves share their place, one of them mirrored") << 1;
    QTest::addRow("hard edges") << 2;
    QTest::addRow("triangles without area, on the skin and in the layout") << 3;
    QTest::addRow("loose triangles, turned any way") << 4;
    QTest::addRow("a fold: the layout turns over in the middle") << 5;
  }
  void areThoseOfTheReference() {
    QFETCH(int, mesh);
    const auto straight = [](const Vec2& at) { return at; };
    const auto mirrored = [](const Vec2& at) { return Vec2(std::abs(at.x() - 0.5f), 1 - at.y()); };
    const auto fold = [](const Vec2& at) { return Vec2(at.x(), at.y() < 0.5f ? at.y() : 1 - at.y()); };
    const std::array<std::vector<Corners>, 6> meshes{sheet(40, ball, ball, straight),
                                                     sheet(40, ball, ball, mirrored),
                                                     withFlatNormals(sheet(24, ball, ball, straight)),
                                                     withBroken(sheet(40, ball, ball, mirrored)),
                                                     loose(2000),
                                                     withBroken(sheet(31, ball, ball, fold))};
    const std::vector<Corners>& triangles = meshes[static_cast<size_t>(mesh)];
    const auto wanted = reference(triangles);
    QCOMPARE(wanted.size(), 3 * triangles.size());
    const auto made = tangents(triangles);
    size_t off = 0;
    float worst = 0;
    for (size_t c = 0; c < wanted.size(); ++c) {
      // of slivers whose angle rounds to nothing it knows no direction; here they have one
      if (wanted[c][0] == 0 && wanted[c][1] == 0 && wanted[c][2] == 0 &&
          std::abs(made[c / 3][c % 3].head<3>().norm() - 1) < 1e-4f)
        continue;
      float away = 0;
      for (int k = 0; k < 4; ++k)
        away = std::max(away, std::abs(made[c / 3][c % 3][k] - wanted[c][static_cast<size_t>(k)]));
      worst = std::max(worst, away);
      if (away > 1e-5f && ++off < 4)
        qWarning("corner %zu: %g %g %g %g, wanted %g %g %g %g", c, made[c / 3][c % 3][0],
                 made[c / 3][c % 3][1], made[c / 3][c % 3][2], made[c / 3][c % 3][3], wanted[c][0],
                 wanted[c][1], wanted[c][2], wanted[c][3]);
    }
    QVERIFY2(off == 0, qPrintable(QString("%1 of %2, worst %3").arg(off).arg(wanted.size()).arg(worst)));
  }
};

JUVENOR_TEST(TestTangentsReference)
}  // namespace juvenor
#include "test_tangents_reference.moc"
