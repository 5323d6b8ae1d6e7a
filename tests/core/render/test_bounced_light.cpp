// Light between walls: against the integrating sphere, the one closed place with a closed form. Of a hollow
// ball that is open over a part f of itself and of albedo ρ each place receives f / (1 − ρ (1 − f)) of what
// it would in the open (Jacquez and Kuppenheim 1955, theory of the integrating sphere).
#include "core/render/bounced_light.h"
#include "support/run_all.h"

namespace juvenor {

class TestBouncedLight : public QObject {
  Q_OBJECT
 private slots:
  void itIsAboutThatOfAHollowBall() {
    for (const float albedo : {0.1f, 0.3f, 0.5f, 0.7f})
      for (float open = 0.1f; open < 1; open += 0.1f) {
        const float ball = open / (1 - albedo * (1 - open)), fit = bouncedOpenness(open, albedo);
        QVERIFY2(std::abs(fit - ball) < 0.07f, qPrintable(QString("%1 %2: %3, not %4")
                                                              .arg(static_cast<double>(albedo))
                                                              .arg(static_cast<double>(open))
                                                              .arg(static_cast<double>(fit))
                                                              .arg(static_cast<double>(ball))));
      }
  }
  // Never darker than without, nothing more in the open, more with every reflectance: red walls are warm.
  void wallsGiveTheirColour() {
    for (float open = 0; open <= 1; open += 0.05f) {
      float before = -1;
      for (float albedo = 0; albedo <= 0.9f; albedo += 0.1f) {
        const float now = bouncedOpenness(open, albedo);
        QVERIFY(now >= open && now <= 1 && now >= before - 1e-6f);
        before = now;
      }
    }
    QVERIFY(std::abs(bouncedOpenness(1, 0.5f) - 1) < 0.002f);
    QCOMPARE(bouncedOpenness(0, 0.5f), 0.f);
    QVERIFY(bouncedOpenness(0.3f, 0.6f) / bouncedOpenness(0.3f, 0.2f) > 1.4f);
  }
};

JUVENOR_TEST(TestBouncedLight)
}  // namespace juvenor
#include "test_bounced_light.moc"
