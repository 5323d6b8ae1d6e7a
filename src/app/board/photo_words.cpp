#include "app/board/photo_words.h"

#include <QObject>
#include <QStringList>
#include <cmath>

namespace juvenor::app {
namespace {

QString wordFor(PhotoWord word, const QString& good, const QString& fair, const QString& poor) {
  return word == PhotoWord::Good ? good : word == PhotoWord::Fair ? fair : poor;
}

QString sideOf(const Vec2& bright) {
  if (bright.norm() < 0.15f) return {};
  const double angle =
      std::atan2(static_cast<double>(bright.y()), static_cast<double>(bright.x())) * 57.29578;
  const QStringList names{QObject::tr("the right"),  QObject::tr("upper right"), QObject::tr("above"),
                          QObject::tr("upper left"), QObject::tr("the left"),    QObject::tr("lower left"),
                          QObject::tr("below"),      QObject::tr("lower right")};
  return QObject::tr(", from %1").arg(names[(static_cast<int>(std::lround(angle / 45)) + 8) % 8]);
}

}  // namespace

PhotoWords wordsFor(const PhotoMeasures& m, int width, int height) {
  const QString size = QObject::tr("%1 × %2").arg(width).arg(height);
  const QString sharp =
      wordFor(sharpnessWord(m), QObject::tr("sharp"), QObject::tr("soft, worth %1 px").arg(m.worth),
              QObject::tr("blurred, worth %1 px").arg(m.worth));
  const QString light = wordFor(evennessWord(m), QObject::tr("evenly lit"),
                                QObject::tr("unevenly lit (%1 stops%2)"), QObject::tr("shaded (%1 stops%2)"));
  const QString said = light.contains("%1")
                           ? light.arg(static_cast<double>(m.unevenness), 0, 'f', 1).arg(sideOf(m.brightSide))
                           : light;
  QString range;
  if (m.blown >= 0.001f)
    range += QObject::tr(", %1 % blown").arg(100 * static_cast<double>(m.blown), 0, 'f', 1);
  if (m.sunk >= 0.001f) range += QObject::tr(", %1 % sunk").arg(100 * static_cast<double>(m.sunk), 0, 'f', 1);
  const bool poor = sharpnessWord(m) == PhotoWord::Poor || evennessWord(m) == PhotoWord::Poor ||
                    rangeWord(m) == PhotoWord::Poor;
  return {QObject::tr("%1, %2, %3%4").arg(size, sharp, said, range), poor};
}

}  // namespace juvenor::app
