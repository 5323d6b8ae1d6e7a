// Fibres of hair: where they stand, how long they are, which way they lie, and what rays find of them.
#include "core/document/edits/edit_groups.h"
#include "core/document/edits/edits.h"
#include "core/hair/grown_hair.h"
#include "core/layers/composite/composite.h"
#include "core/layers/sources/hair.h"
#include "core/render/moving_picture.h"
#include "core/render/still.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor {
namespace {

Hair plainHair() {
  Hair out;
  out.guides.direction.flow = Vec3::UnitX();
  out.guides.direction.curvature = 0;
  out.guides.size.size = 4;
  out.apart = 0.5f;
  out.clump = 0;
  out.stray = 0;
  return out;
}

Document haired(const Sculpt& sculpt, Hair hair = plainHair()) {
  return withSourceLayer(test::documentOf(sculpt), "Hair", Stratum::Pigment, hairSource(std::move(hair)));
}

FibresPointer grownOn(const Document& document) {
  const auto hair = grownHair(document);
  if (!hair || !*hair) return nullptr;
  return std::make_shared<Fibres>((*hair)->fibres());
}

// A mask by place over the layer in hand.
template <class At>
Document maskedBy(const Document& d, At at) {
  const Surface& surface = *d.surface;
  ScalarField mask = closedMask(surface.size());
  for (size_t c = 0; c < mask.chunkCount(); ++c) {
    auto chunk = mask.writable(c);
    for (size_t s = c * kChunkSize; s < std::min(surface.size(), (c + 1) * kChunkSize); ++s)
      chunk->plane[0][s % kChunkSize] = to16(at(surface.positions[s]));
    mask.setChunk(c, std::move(chunk));
  }
  return *withMaskField(d, d.activeLayer, mask);
}

Vec3 rootOf(const Fibres& f, const Fibre& fibre) {
  return f.points[fibre.first + 1].head<3>();
}
Vec3 tipOf(const Fibres& f, const Fibre& fibre) {
  return f.points[fibre.first + fibre.points - 2].head<3>();
}
float lengthOf(const Fibres& f, const Fibre& fibre) {
  float out = 0;
  for (uint32_t i = 2; i + 1 < fibre.points; ++i)
    out += (f.points[fibre.first + i] - f.points[fibre.first + i - 1]).head<3>().norm();
  return out;
}

std::set<std::array<float, 3>> rootsOf(const Fibres& f) {
  std::set<std::array<float, 3>> out;
  for (const Fibre& fibre : f.fibres) {
    const Vec3 root = rootOf(f, fibre);
    out.insert({root.x(), root.y(), root.z()});
  }
  return out;
}

}  // namespace

class TestFibres : public QObject {
  Q_OBJECT
 private slots:
  void asManyGrowAsTheMaskShows() {
    const Document all = haired(test::plane(60, 40));
    const FibresPointer every = grownOn(all);
    QVERIFY(every != nullptr);
    // by Cauchy and Crofton every square of `apart` has one
    QVERIFY2(std::abs(static_cast<double>(every->fibres.size()) / 6400 - 1) < 0.05,
             qPrintable(QString::number(every->fibres.size())));
    const Document some = maskedBy(all, [](const Vec3& p) { return p.x() < 0 ? 0.f : 0.5f; });
    const FibresPointer half = grownOn(some);
    QVERIFY2(std::abs(static_cast<double>(half->fibres.size()) / 1600 - 1) < 0.1,
             qPrintable(QString::number(half->fibres.size())));
    for (const Fibre& fibre : half->fibres) QVERIFY(rootOf(*half, fibre).x() > -1);
    // those that are left stand where they stood
    const auto before = rootsOf(*every);
    for (const auto& root : rootsOf(*half)) QVERIFY(before.contains(root));
  }
  void layersAndGroupsThinThemOut() {
    Document d = haired(test::plane(60, 40));
    const size_t all = grownOn(d)->fibres.size();
    LayerChange half;
    half.opacity = 0.5f;
    d = *withLayerChanged(d, d.activeLayer, half);
    const uint32_t layer = d.activeLayer;
    d = *withGroup(d, std::vector{layer}, "Hair");
    QVERIFY(std::abs(static_cast<double>(grownOn(d)->fibres.size()) / static_cast<double>(all) - 0.5) < 0.05);
    d = *withLayerChanged(d, d.activeLayer, half);
    QVERIFY(std::abs(static_cast<double>(grownOn(d)->fibres.size()) / static_cast<double>(all) - 0.25) <
            0.05);
    LayerChange hidden;
    hidden.visible = false;
    d = *withLayerChanged(d, d.activeLayer, hidden);
    QVERIFY(grownOn(d) == nullptr);
  }
  void hiddenPartsHaveNone() {
    Document d = haired(test::together(test::sphere(40, 8), test::sphere(40, 8, {30, 0, 0})));
    const size_t both = grownOn(d)->fibres.size();
    d.hiddenParts = {1};
    const FibresPointer one = grownOn(d);
    QVERIFY(std::abs(static_cast<double>(one->fibres.size()) / static_cast<double>(both) - 0.5) < 0.03);
    for (const Fibre& fibre : one->fibres) QVERIFY(rootOf(*one, fibre).x() < 9);
  }
  // A coarse and a fine sculpt of one form have the same hair.
  void theyAreTheSameForAnyPoints() {
    const FibresPointer coarse = grownOn(haired(test::sphere(60, 20))),
                        fine = grownOn(haired(test::sphere(300, 20)));
    const double count = static_cast<double>(fine->fibres.size());
    QVERIFY(count > 15'000);
    QVERIFY(std::abs(static_cast<double>(coarse->fibres.size()) / count - 1) < 0.02);
    const auto mean = [](const Fibres& f) {
      double sum = 0;
      for (const Fibre& fibre : f.fibres) sum += static_cast<double>(lengthOf(f, fibre));
      return sum / static_cast<double>(f.fibres.size());
    };
    // half of them are shorter, the shortest by half
    QVERIFY2(std::abs(mean(*fine) / 3 - 1) < 0.05, qPrintable(QString::number(mean(*fine))));
    QVERIFY(std::abs(mean(*coarse) / mean(*fine) - 1) < 0.02);
  }
  void theyLieAsTheyAreCombedAndStayAboveTheSkin() {
    Hair hair = plainHair();
    hair.lift = 25;
    hair.bend = 0.8f;
    Document d = haired(test::sphere(120, 20), hair);
    d = *withComb(d, d.activeLayer, {{{-3, -4, 19.36f}, {-3, 4, 19.36f}}, 0, 10, 1});
    const FibresPointer f = grownOn(d);
    size_t combed = 0;
    for (const Fibre& fibre : f->fibres) {
      const Vec3 root = rootOf(*f, fibre), way = tipOf(*f, fibre) - root;
      for (uint32_t i = 2; i + 1 < fibre.points; ++i)
        QVERIFY(f->points[fibre.first + i].head<3>().norm() > 20 - 0.05f);
      if ((root - Vec3(-3, 0, 19.7f)).norm() > 1.5f) continue;
      ++combed;
      QVERIFY(way.normalized().y() > 0.75f);
    }
    QVERIFY(combed > 10);
  }
  void liftStandsThemUp() {
    Hair hair = plainHair();
    hair.lift = 90;
    hair.bend = 0;
    const FibresPointer f = grownOn(haired(test::plane(40, 20), hair));
    for (const Fibre& fibre : f->fibres)
      QVERIFY((tipOf(*f, fibre) - rootOf(*f, fibre)).normalized().z() > 0.99f);
  }
  void clumpsDrawTipsTogether() {
    const auto spread = [](float clump) {
      Hair hair = plainHair();
      hair.clump = clump;
      hair.clumpSize = 3;
      hair.lift = 80;
      const FibresPointer f = grownOn(haired(test::plane(40, 20), hair));
      // how far from each tip the next one is, on the whole
      double sum = 0;
      size_t n = 0;
      for (size_t i = 0; i < f->fibres.size(); i += 9, ++n) {
        float nearest = 1e9f;
        for (size_t k = 0; k < f->fibres.size(); ++k)
          if (k != i)
            nearest = std::min(nearest, (tipOf(*f, f->fibres[i]) - tipOf(*f, f->fibres[k])).head<2>().norm());
        sum += static_cast<double>(nearest);
      }
      return sum / static_cast<double>(n);
    };
    QVERIFY(spread(0.9f) < 0.6 * spread(0));
  }
  void lashesStandAlongAnEdge() {
    Hair hair = plainHair();
    hair.edgeApart = 0.25f;
    Document d = haired(test::plane(60, 40), hair);
    d = *withHairEdge(d, d.activeLayer, {{{-8, 2, 0}, {0, 3, 0}, {8, 2, 0}}, 0, 0.6f, 1});
    const FibresPointer f = grownOn(d);
    const double length = 2 * std::hypot(8, 1);
    QVERIFY2(std::abs(static_cast<double>(f->fibres.size()) - length / 0.25) < 3,
             qPrintable(QString::number(f->fibres.size())));
    for (const Fibre& fibre : f->fibres) {
      const Vec3 root = rootOf(*f, fibre);
      QVERIFY(std::abs(root.y() - (3 - std::abs(root.x()) / 8)) < 0.5f);
    }
    // nothing but the skin along it has their tone
    const auto skin = compositeOf(d.layers, *d.maps, d.bare);
    QVERIFY(!!skin);
    const Surface& surface = *d.surface;
    size_t toned = 0;
    for (size_t s = 0; s < surface.size(); ++s) {
      const bool bare = std::abs(straight(colorAt(*skin, s)).r - d.bare.r) < 0.01f;
      toned += !bare;
      if (std::abs(surface.positions[s].y() - 2.5f) > 2) QVERIFY(bare);
    }
    QVERIFY(toned > 0);
    QVERIFY(!withHairEdge(test::documentOf(test::plane(4, 4)), 1, {{{0, 0, 0}, {1, 0, 0}}, 0, 1, 1}));
  }
  void settingsComeBackFromAFile() {
    Hair hair = plainHair();
    hair.guides.edges = {{{{0, 0, 0}, {1, 2, 3}}, 0, 0.5f, 1}};
    hair.grey = 0.33f;
    hair.bend = -0.4f;
    const SourcePointer source = hairSource(hair);
    const auto back = makeSource("hair", source->parameters(), 10);
    QVERIFY(!!back);
    QVERIFY(*hairOf(**back) == hair);
    for (const char* wrong :
         {R"({"edges": [{"places": [[0,0,0]], "part": 0, "width": 1}]})", R"({"bent": 1})"})
      QVERIFY(!makeSource("hair", nlohmann::json::parse(wrong), 10));
  }
};

JUVENOR_TEST(TestFibres)

// What rays find of fibres, and what a picture shows of them.
class TestFibreRays : public QObject {
  Q_OBJECT
 private slots:
  // Against the distance of rays from many places along each curve.
  void raysFindTheFirstFibre() {
    Hair hair = plainHair();
    hair.apart = 1.5f;
    hair.thickness = 0.3f;
    hair.taper = 0;
    const auto rays = grownHair(haired(test::plane(20, 20), hair));
    QVERIFY(rays && *rays);
    const Fibres& f = (*rays)->fibres();
    size_t met = 0, wrong = 0, shadows = 0;
    constexpr int kRays = 400, kPlaces = 60;
    std::vector<FibrePoint> places;
    for (uint32_t s = 0; s < f.segments.size(); ++s)
      for (int k = 0; k <= kPlaces; ++k) {
        const FibrePlace at = placeOn(f, s, static_cast<float>(k) / kPlaces);
        places.emplace_back(at.position.x(), at.position.y(), at.position.z(), at.radius);
      }
    for (int i = 0; i < kRays; ++i) {
      const Ray ray{
          {-9 + 18 * static_cast<float>(i % 20) / 19, -9 + 18 * static_cast<float>(i / 20) / 19, 12},
          Vec3(0.1f, -0.15f, -1).normalized()};
      float first = std::numeric_limits<float>::infinity();
      for (const FibrePoint& at : places) {
        // (plain numbers: vectors cost ten times as much where nothing is inlined)
        const float x = at[0] - ray.origin[0], y = at[1] - ray.origin[1], z = at[2] - ray.origin[2];
        const float along = x * ray.direction[0] + y * ray.direction[1] + z * ray.direction[2];
        if (x * x + y * y + z * z - along * along < at[3] * at[3]) first = std::min(first, along);
      }
      const auto hit = (*rays)->first(ray);
      if (hit.has_value() != (first < 1e9f))
        ++wrong;
      else if (hit) {
        ++met;
        wrong += std::abs(hit->distance - first) > 2 * hair.thickness;
      }
      shadows += (*rays)->blocked(ray) != hit.has_value();
    }
    QVERIFY(met > kRays / 8);
    QVERIFY2(wrong <= kRays / 100, qPrintable(QString::number(wrong)));
    // what only shades is straight from point to point
    QVERIFY2(shadows <= kRays / 40, qPrintable(QString::number(shadows)));
  }
  void hairStandsBeforeTheSkinAndShadesIt() {
    Hair hair = plainHair();
    hair.under = 0;
    hair.guides.size.size = 6;
    hair.apart = 0.8f;
    hair.thickness = 0.1f;
    const Document bald = test::documentOf(test::sphere(80, 20));
    Document d = withSourceLayer(bald, "Hair", Stratum::Pigment, hairSource(hair));
    d = maskedBy(d, [](const Vec3& p) { return p.x() > 0 ? 1.f : 0.f; });
    StillSetting still;
    still.size = {160, 120};
    still.camera = framed(still.camera, still.size, bald.surface->bounds);
    still.light.kind = LightKind::Lamps;
    const auto with = stillOf(d, still), without = stillOf(bald, still);
    QVERIFY(with && without);
    const auto sumOf = [&](const std::vector<uint32_t>& pixels, bool right) {
      double sum = 0;
      for (int y = 30; y < 90; ++y)
        for (int x = right ? 90 : 0; x < (right ? 125 : 60); ++x)
          sum += pixels[static_cast<size_t>(y * 160 + x)] >> 8 & 255;
      return sum;
    };
    const double darker = sumOf(*with, true) / sumOf(*without, true);
    QVERIFY2(darker < 0.85, qPrintable(QString::number(darker)));
    // far from it nothing is another
    QVERIFY(std::abs(sumOf(*with, false) / sumOf(*without, false) - 1) < 0.01);
    // colours alone show none
    still.view = View::Flat;
    const auto flat = stillOf(d, still), flatBald = stillOf(bald, still);
    QVERIFY(flat && flatBald && *flat == *flatBald);
  }
  // A picture while one turns shows the hair that rays find now.
  void turningShowsItWhereItIs() {
    constexpr ViewSize kWhole{320, 200};
    const Document d =
        maskedBy(haired(test::sphere(80, 20)), [](const Vec3& p) { return p.y() > 5 ? 1.f : 0.f; });
    const auto hair = grownHair(d);
    QVERIFY(hair && *hair);
    const Rays rays(d.surface, Rays::Quality::Quick);
    Camera camera = framed({}, kWhole, d.surface->bounds);
    MovingPicture moving;
    size_t off = 0, found = 0;
    for (int i = 0; i < 8; ++i) {
      camera = turned(camera, {5, 2});
      moving.see(rays, camera, kWhole, 2, {}, false, hair->get());
      MovingPicture fresh;
      fresh.see(rays, camera, kWhole, 2, {}, false, hair->get());
      for (size_t at = 0; at < fresh.visibility().fibre.size(); ++at) {
        const bool is = fresh.visibility().fibre[at].segment != kNone;
        found += is;
        off += is != (moving.visibility().fibre[at].segment != kNone);
      }
    }
    QVERIFY(found > 2000);
    QVERIFY2(static_cast<double>(off) < 0.06 * static_cast<double>(found), qPrintable(QString::number(off)));
  }
};

JUVENOR_TEST(TestFibreRays)

}  // namespace juvenor

#include "test_fibres.moc"
