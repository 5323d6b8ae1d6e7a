// Finish, Show: what others get to see. The lens and the backdrop of stills, a still of any size, films,
// contact sheets and passes, all of them made beside the painting.
#pragma once

#include <QPointer>
#include <QWidget>

#include "app/easel/easel.h"
#include "app/show/still_window.h"
#include "core/show/contact_sheet.h"
#include "core/show/film.h"

class QButtonGroup;
class QCheckBox;
class QLabel;
class QPushButton;
class QSpinBox;

namespace juvenor::app {

class ValueSlider;

class ShowPage : public QWidget {
  Q_OBJECT
 public:
  ShowPage(Session& session, Easel& easel);
  void refresh();

  /// What a still is made of now, but where it goes.
  StillWindow::Wish stillWish() const;
  FilmWish filmWish() const;
  void makeStill();
  /// Films into a file, and sheets; `file` is replaced.
  void makeFilm(const QString& file);
  enum class Of { Cameras, Checkpoints, Variants };
  void makeSheet(Of of, const QString& file);
  void makePasses(const QString& file);
  /// The window they grow in; null before the first.
  StillWindow* window() { return window_; }

 signals:
  /// The strips of cameras and variants are to be seen, or not.
  void camerasWanted();
  void variantsWanted();

 private:
  QWidget* buildStrips();
  QWidget* buildLens();
  QWidget* buildBackdrop();
  QWidget* buildStill();
  QWidget* buildFinishing();
  QWidget* buildFilm();
  QWidget* buildMore();
  void changeBackdrop(const std::function<void(Backdrop&)>& change);
  void chooseColor(bool top);
  void choosePicture();
  void setSize(const ViewSize& size);
  void tell();
  StillWindow& grown();
  QString suggested(const QString& what, const QString& ending) const;

  Session& session_;
  Easel& easel_;
  QPointer<StillWindow> window_;
  ValueSlider *aperture_, *blur_, *samples_, *bloom_, *vignette_, *grain_, *seconds_;
  QLabel *sharp_, *estimate_;
  QButtonGroup *backdrops_, *depths_, *motions_, *speeds_;
  QPushButton *foot_, *top_;
  QCheckBox *ground_, *clear_;
  QSpinBox *width_, *height_;
};

}  // namespace juvenor::app
