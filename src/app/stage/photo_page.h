// The Photo stage: the slides of the work, what each is worth before it touches skin, and what of it is laid.
#pragma once

#include <QWidget>

#include "app/easel/easel.h"
#include "app/session/picture_intake.h"
#include "core/photo/photo_measures.h"

class QButtonGroup;
class QGridLayout;
class QLabel;
class QPushButton;

namespace juvenor::app {

class ValueSlider;

class PhotoPage : public QWidget {
  Q_OBJECT
 public:
  PhotoPage(Session& session, Easel& easel);
  void refresh();
  /// A picture of the board, or a file, becomes a slide before the eye and is taken in hand.
  void hang(const QString& name, const PicturePointer& picture);
  void hangFile(const QString& file);
  /// The same with what the clipboard holds; false when that is no picture.
  bool paste();

 protected:
  void hideEvent(QHideEvent* event) override;

 private:
  QWidget* buildLaying();
  void hangRead(std::vector<PictureToRead> pictures);
  void listSlides();
  void choose(uint32_t id);
  void throwSlide();
  void measure();
  void tell(const PhotoMeasures& measures);
  void seeFineness(bool on);
  void chooseMenu();
  void showSlide();

  Session& session_;
  Easel& easel_;
  QGridLayout* slides_;
  QLabel *share_, *empty_, *worth_;
  QPushButton* fineness_;
  QButtonGroup* parts_;
  ValueSlider* split_;
  std::vector<uint32_t> listed_;
  PicturePointer measured_;
  Background work_, measuring_;
};

}  // namespace juvenor::app
