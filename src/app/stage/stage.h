// The stage of the course one is at: its usual first layers in a click each, its own tools, and how much of
// the work its layers are. It guides and never locks.
#pragma once

#include <QWidget>

#include "app/stage/finish_pages.h"
#include "app/stage/patterns_page.h"
#include "app/stage/photo_page.h"
#include "app/stage/pigment_page.h"
#include "app/stage/prepare_page.h"

class QLabel;
class QStackedWidget;
class QTableWidget;
class QVBoxLayout;

namespace juvenor::app {

/// A drawing of a head with the landmarks on it; the placed ones are filled, the next one is ringed. A click
/// chooses which one the next click on the sculpt places.
class LandmarkGuide : public QWidget {
  Q_OBJECT
 public:
  explicit LandmarkGuide(Session& session);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  bool event(QEvent* event) override;

 private:
  int landmarkAt(const QPointF& position) const;
  QPointF placeOf(int landmark, bool otherSide = false) const;

  Session& session_;
};

class Stage : public QWidget {
  Q_OBJECT
 public:
  Stage(Session& session, Easel& easel);
  /// The stage as the course counts them; see stages.h.
  void goTo(int stage);
  PreparePage& prepare() { return *prepare_; }
  PigmentPage& pigment() { return *pigment_; }
  PhotoPage& photo() { return *photo_; }
  FinishPages& finish() { return *finish_; }
  MapsPage& maps() { return finish_->maps(); }

 signals:
  /// The settings of the active layer are to be seen.
  void settingsWanted();

 private:
  QWidget* buildBase();
  QWidget* buildZones();
  /// The stage whose page is shown.
  int shown() const;
  void refresh();
  void refreshParts();
  void fillParts();
  void addRamp(const QString& name, BlendMode blend, float opacity, const MaskTerm& term,
               const EncodedColor& color);
  void usualZones();

  Session& session_;
  QStackedWidget* pages_;
  PreparePage* prepare_;
  PigmentPage* pigment_;
  PatternsPage* patterns_;
  PhotoPage* photo_;
  FinishPages* finish_;
  QTableWidget* parts_;
  std::vector<ChannelValues> tones_;  ///< what each part is filled with
  QLabel *shareBase_, *shareZones_, *placed_;
};

}  // namespace juvenor::app
