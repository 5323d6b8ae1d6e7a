// What the engine tells: emitted on its own thread, by whoever works for it.
#pragma once

#include <QImage>
#include <QMap>
#include <QObject>

#include "core/render/value_check.h"

namespace juvenor::app {

class EngineSignals : public QObject {
  Q_OBJECT
 signals:
  /// `pixels` replaces the rectangle at `place` of the picture; a full frame when it has the picture's size.
  void frameReady(const QImage& pixels, const QPoint& place);
  /// How many of the picture's pixels have met a ray while the view moved, the rest is enlarged; and how many
  /// of them in this picture; none of them longer than three pictures ago.
  void castWhileMoving(int pixels, int rays);
  /// As frameReady, of the sheet.
  void sheetReady(const QImage& pixels, const QPoint& place);
  /// How bright the sculpt's pixels are, whenever the value view was drawn.
  void valuesCounted(const juvenor::ValueHistogram& histogram);
  /// The height either way that the channel view's scale goes to, scene units.
  void heightShown(float height);
  void strokeFinished();
  /// In words for the artist.
  void refused(const QString& why);
  void tooFine();
  void preparing(bool busy);
  /// By the ids of layers; empty when all is well. `troubles`: why layers show nothing though they should;
  /// `notes`: what one should know of others.
  void troubled(const QMap<uint32_t, QString>& troubles, const QMap<uint32_t, QString>& notes);
  void thumbnailReady(uint32_t layer, const QImage& image);
};

}  // namespace juvenor::app
