// What is done to the light and tones of the slide in hand, and how far the places it is pinned by are from
// the skin before and after.
#pragma once

#include <QTimer>
#include <QWidget>

#include "app/easel/easel.h"
#include "app/session/seen_layers.h"
#include "core/document/edits/tone_slides.h"

class QHBoxLayout;
class QLabel;
class QPushButton;

namespace juvenor::app {

class ValueSlider;

class PhotoTones : public QWidget {
  Q_OBJECT
 public:
  PhotoTones(Session& session, Easel& easel);

 signals:
  /// A slide was given another camera.
  void turned(uint32_t slide);

 private:
  using Work = std::function<Result<Slide>(const Document&, const Slide&, const Progress&)>;

  ValueSlider* buildSlider(const QString& name, const QString& tip, float SlideTone::*member);
  QPushButton* buildButton(QHBoxLayout& row, const QString& name, const QString& text, const QString& tip);
  void buildWorkedOut();
  void change(const std::function<void(SlideTone&)>& by, bool settled);
  void workOut(const QString& name, const Work& work);
  void matchTo(const TonesWanted& wanted);
  void chooseWhere();
  void show();
  void weighPins();
  void tellPins(const std::vector<std::optional<PinDifference>>& pins);

  Session& session_;
  Easel& easel_;
  ValueSlider *even_, *highlights_, *match_;
  QPushButton *solve_, *byForm_, *toSkin_, *where_;
  QLabel* pins_;
  std::optional<Slide> weighed_;  ///< the slide the differences of pins are told of
  SeenLayers weighedLayers_;      ///< on the skin of these
  QTimer resting_;                ///< nothing has changed for a moment
  Background weighing_;
};

}  // namespace juvenor::app
