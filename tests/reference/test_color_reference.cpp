// Colour against Little CMS (IEC 61966-2-1, CIE 15) and the published pairs of CIEDE2000 and Oklab.
#include <lcms2.h>

#include "core/color/lab.h"
#include "core/color/oklab.h"
#include "support/run_all.h"

#include <random>

namespace juvenor {
namespace {

// Sharma, Wu, Dalal 2005, table 1 (written down from memory; every row is also computed by Little CMS below).
struct Pair {
  Lab first, second;
  double expected;
};
constexpr Pair kPairs[] = {
    {{50, 2.6772, -79.7751}, {50, 0, -82.7485}, 2.0425},
    {{50, 3.1571, -77.2803}, {50, 0, -82.7485}, 2.8615},
    {{50, 2.8361, -74.0200}, {50, 0, -82.7485}, 3.4412},
    {{50, -1.3802, -84.2814}, {50, 0, -82.7485}, 1.0000},
    {{50, -1.1848, -84.8006}, {50, 0, -82.7485}, 1.0000},
    {{50, -0.9009, -85.5211}, {50, 0, -82.7485}, 1.0000},
    {{50, 0, 0}, {50, -1, 2}, 2.3669},
    {{50, -1, 2}, {50, 0, 0}, 2.3669},
    {{50, 2.4900, -0.0010}, {50, -2.4900, 0.0009}, 7.1792},
    {{50, 2.4900, -0.0010}, {50, -2.4900, 0.0010}, 7.1792},
    {{50, 2.4900, -0.0010}, {50, -2.4900, 0.0011}, 7.2195},
    {{50, 2.4900, -0.0010}, {50, -2.4900, 0.0012}, 7.2195},
    {{50, -0.0010, 2.4900}, {50, 0.0009, -2.4900}, 4.8045},
    {{50, -0.0010, 2.4900}, {50, 0.0010, -2.4900}, 4.8045},
    {{50, -0.0010, 2.4900}, {50, 0.0011, -2.4900}, 4.7461},
    {{50, 2.5, 0}, {50, 0, -2.5}, 4.3065},
    {{50, 2.5, 0}, {73, 25, -18}, 27.1492},
    {{50, 2.5, 0}, {61, -5, 29}, 22.8977},
    {{50, 2.5, 0}, {56, -27, -3}, 31.9030},
    {{50, 2.5, 0}, {58, 24, 15}, 19.4535},
    {{50, 2.5, 0}, {50, 3.1736, 0.5854}, 1.0000},
    {{50, 2.5, 0}, {50, 3.2972, 0}, 1.0000},
    {{50, 2.5, 0}, {50, 1.8634, 0.5757}, 1.0000},
    {{50, 2.5, 0}, {50, 3.2592, 0.3350}, 1.0000},
    {{60.2574, -34.0099, 36.2677}, {60.4626, -34.1751, 39.4387}, 1.2644},
    {{63.0109, -31.0961, -5.8663}, {62.8187, -29.7946, -4.0864}, 1.2630},
    {{61.2901, 3.7196, -5.3901}, {61.4292, 2.2480, -4.9620}, 1.8731},
    {{35.0831, -44.1164, 3.7933}, {35.0232, -40.0716, 1.5901}, 1.8645},
    {{22.7233, 20.0904, -46.6940}, {23.0331, 14.9730, -42.5619}, 2.0373},
    {{36.4612, 47.8580, 18.3852}, {36.2715, 50.5065, 21.2231}, 1.4146},
    {{90.8027, -2.0831, 1.4410}, {91.1528, -1.6435, 0.0447}, 1.4441},
    {{90.9257, -0.5406, -0.9208}, {88.6381, -0.8985, -0.7239}, 1.5381},
    {{6.7747, -0.2908, -2.4247}, {5.8714, -0.0985, -2.2286}, 0.6377},
    {{2.0776, 0.0795, -1.1350}, {0.9033, -0.0636, -0.5514}, 0.9082},
};

cmsCIELab lcms(const Lab& lab) {
  return {lab.l, lab.a, lab.b};
}

struct Transform {
  cmsHPROFILE from, to;
  cmsHTRANSFORM run;
  Transform(cmsHPROFILE f, cmsUInt32Number in, cmsHPROFILE t, cmsUInt32Number out, cmsUInt32Number intent)
      : from(f),
        to(t),
        run(cmsCreateTransform(f, in, t, out, intent, cmsFLAGS_NOOPTIMIZE | cmsFLAGS_NOCACHE)) {}
  ~Transform() {
    cmsDeleteTransform(run);
    cmsCloseProfile(from);
    cmsCloseProfile(to);
  }
};

constexpr cmsUInt32Number kRgbFloat = FLOAT_SH(1) | COLORSPACE_SH(PT_RGB) | CHANNELS_SH(3) | BYTES_SH(4);

// sRGB primaries (IEC 61966-2-1) with a straight curve.
cmsHPROFILE linearSrgb() {
  const cmsCIExyY white{0.3127, 0.3290, 1};
  const cmsCIExyYTRIPLE primaries{{0.64, 0.33, 1}, {0.30, 0.60, 1}, {0.15, 0.06, 1}};
  cmsToneCurve* straightCurve = cmsBuildGamma(nullptr, 1);
  cmsToneCurve* curves[3] = {straightCurve, straightCurve, straightCurve};
  cmsHPROFILE profile = cmsCreateRGBProfile(&white, &primaries, curves);
  cmsFreeToneCurve(straightCurve);
  return profile;
}

}  // namespace

class TestColorReference : public QObject {
  Q_OBJECT
 private slots:
  void encodingAgreesWithLittleCms() {
    const Transform decodeTransform(cmsCreate_sRGBProfile(), kRgbFloat, linearSrgb(), kRgbFloat,
                                    INTENT_RELATIVE_COLORIMETRIC);
    const Transform encodeTransform(linearSrgb(), kRgbFloat, cmsCreate_sRGBProfile(), kRgbFloat,
                                    INTENT_RELATIVE_COLORIMETRIC);
    std::mt19937 random(1);
    std::uniform_real_distribution<float> unit(0, 1);
    for (int i = 0; i < 2000; ++i) {
      const EncodedColor e{unit(random), unit(random), unit(random)};
      float in[3] = {e.r, e.g, e.b}, out[3];
      cmsDoTransform(decodeTransform.run, in, out, 1);
      const LinearColor l = decode(e);
      QVERIFY(std::abs(l.r - out[0]) < 2e-4f && std::abs(l.g - out[1]) < 2e-4f &&
              std::abs(l.b - out[2]) < 2e-4f);
      cmsDoTransform(encodeTransform.run, in, out, 1);
      const EncodedColor back = encode({e.r, e.g, e.b});
      QVERIFY(std::abs(back.r - out[0]) < 6e-4f && std::abs(back.g - out[1]) < 6e-4f &&
              std::abs(back.b - out[2]) < 6e-4f);
    }
  }
  // Little CMS works from D50; its XYZ is brought back to D65 with its own Bradford adaptation before Lab is
  // taken.
  void labAgreesWithLittleCms() {
    const Transform toXyzTransform(cmsCreate_sRGBProfile(), kRgbFloat, cmsCreateXYZProfile(), TYPE_XYZ_DBL,
                                   INTENT_RELATIVE_COLORIMETRIC);
    cmsCIEXYZ d65;
    const cmsCIExyY whitePoint{0.3127, 0.3290, 1};
    cmsxyY2XYZ(&d65, &whitePoint);
    std::mt19937 random(2);
    std::uniform_real_distribution<float> unit(0, 1);
    for (int i = 0; i < 2000; ++i) {
      const EncodedColor e{unit(random), unit(random), unit(random)};
      float in[3] = {e.r, e.g, e.b};
      cmsCIEXYZ xyz, adapted;
      cmsDoTransform(toXyzTransform.run, in, &xyz, 1);
      QVERIFY(cmsAdaptToIlluminant(&adapted, cmsD50_XYZ(), &d65, &xyz));
      cmsCIELab lab;
      cmsXYZ2Lab(&d65, &lab, &adapted);
      const Lab ours = toLab(e);
      cmsCIELab mine = lcms(ours);
      const double away = cmsDeltaE(&lab, &mine);
      QVERIFY2(away < 0.12, qPrintable(QString("%1 apart").arg(away)));
    }
  }
  void whitePointIsD65() {
    const Xyz w = whiteD65();
    const double sum = w.x + w.y + w.z;
    QVERIFY(std::abs(w.x / sum - 0.3127) < 1e-4 && std::abs(w.y / sum - 0.3290) < 1e-4);
  }
  void differenceAgreesWithThePublishedPairs() {
    for (const Pair& p : kPairs) {
      const double ours = deltaE2000(p.first, p.second);
      QVERIFY2(std::abs(ours - p.expected) < 1e-4,
               qPrintable(QString("%1 instead of %2").arg(ours).arg(p.expected)));
    }
    QCOMPARE(std::size(kPairs), size_t{34});
  }
  void differenceAgreesWithLittleCms() {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> l(0, 100), ab(-90, 90);
    for (int i = 0; i < 3000; ++i) {
      const Lab p{l(random), ab(random), ab(random)}, q{l(random), ab(random), ab(random)};
      cmsCIELab a = lcms(p), b = lcms(q);
      const double theirs = cmsCIE2000DeltaE(&a, &b, 1, 1, 1);
      QVERIFY2(std::abs(deltaE2000(p, q) - theirs) < 1e-3, qPrintable(QString::number(theirs)));
    }
  }
  // Ottosson 2020, the table of XYZ and Oklab pairs, to its three decimals.
  void oklabAgreesWithThePublishedPairs() {
    const std::pair<Xyz, Oklab> pairs[] = {{{0.950, 1.000, 1.089}, {1.000f, 0.000f, 0.000f}},
                                           {{1, 0, 0}, {0.450f, 1.236f, -0.019f}},
                                           {{0, 1, 0}, {0.922f, -0.671f, 0.263f}},
                                           {{0, 0, 1}, {0.153f, -1.415f, -0.449f}}};
    for (const auto& [xyz, expected] : pairs) {
      const Oklab ours = toOklab(fromXyz(xyz));
      QVERIFY2(std::abs(ours.l - expected.l) < 2e-3f && std::abs(ours.a - expected.a) < 2e-3f &&
                   std::abs(ours.b - expected.b) < 2e-3f,
               qPrintable(QString("%1 %2 %3")
                              .arg(static_cast<double>(ours.l))
                              .arg(static_cast<double>(ours.a))
                              .arg(static_cast<double>(ours.b))));
    }
  }
};

JUVENOR_TEST(TestColorReference)
}  // namespace juvenor
#include "test_color_reference.moc"
