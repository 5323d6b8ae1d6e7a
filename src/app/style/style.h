// The look in one place: the greys, the font, the icons, and how numbers are written. Every grey has R = G =
// B.
#pragma once

#include <QColor>
#include <QFont>
#include <QIcon>
#include <QString>

#include "core/color/srgb.h"

class QApplication;
class QWidget;

namespace juvenor::app {

namespace look {
inline const QColor kGround(0x38, 0x38, 0x38);
inline const QColor kPanel(0x43, 0x43, 0x43);
inline const QColor kRaised(0x52, 0x52, 0x52);
inline const QColor kSelected(0x6d, 0x6d, 0x6d);
inline const QColor kWell(0x2e, 0x2e, 0x2e);
inline const QColor kText(0xe8, 0xe8, 0xe8);
inline const QColor kQuiet(0xc2, 0xc2, 0xc2);
inline const QColor kAccent(0xb9, 0xcf, 0xa6);
inline const QColor kWarning(0xe3, 0xc9, 0x8f);
inline const QColor kStrata[3] = {QColor(0x5b, 0x5b, 0x5b), QColor(0x53, 0x53, 0x53),
                                  QColor(0x4a, 0x4a, 0x4a)};
}  // namespace look

/// Black or white: the one that reads on a ground of this grey, 0–255. At least 4.5:1 on every grey
/// (WCAG 2.2, 1.4.3: both reach it between 116 and 118).
inline QColor textOn(int grey) {
  return grey > 117 ? QColor(Qt::black) : QColor(Qt::white);
}

/// Font, palette and style sheet for the whole application.
void applyStyle(QApplication& application);
/// The font in which a line of words is no wider than a room of so many pixels: narrower letters first, then
/// smaller ones. Beyond three fifths of its width no word is readable: what needs more is cut off.
QFont fitted(QFont font, const QString& words, int room);
/// One of the program's own line drawings, in the text's grey.
QIcon icon(const QString& name);

QColor toQColor(const EncodedColor& color);
EncodedColor fromQColor(const QColor& color);

/// Lets a colour be dragged from a widget to a well or another program.
void dragColor(QWidget* from, const EncodedColor& color);

/// "1.94 M", "312 k", "84".
QString shortCount(size_t count);
/// Three figures of real skin: a length in scene units, and the millimetres of one.
QString shortLength(float length, float millimetres);

}  // namespace juvenor::app
