// Small pictures of moments of the work, made one after the other beside the painting when someone looks.
#pragma once

#include <QHash>
#include <QObject>
#include <QPixmap>

#include "app/engine/beside.h"
#include "core/document/document.h"

namespace juvenor::app {

inline constexpr int kMomentWide = 48, kMomentHigh = 36;

class MomentPictures : public QObject {
  Q_OBJECT
 public:
  MomentPictures();

  struct Wish {
    uint64_t key = 0;  ///< a step's number, or a checkpoint's
    Document document;
    std::optional<Document> before;  ///< what changed since is looked at; none: all of it
    uint64_t round = 0;
  };
  /// The picture, or null when it was not made yet.
  const QPixmap* known(uint64_t key) const;
  /// Asks for one; a newer wish takes its place.
  void wish(Wish wish);
  bool waiting() const { return waiting_ != 0; }
  void forgetAll();

 signals:
  void made(quint64 key);

 private:
  QHash<uint64_t, QPixmap> known_;
  uint64_t waiting_ = 0, round_ = 0;  ///< another round when all were forgotten
  Beside<Wish> maker_;
};

}  // namespace juvenor::app
