// The colour panel, in two ways: skin tone (melanin by blood, and yellow) and free colour (Oklch). Below both
// the numbers, colours that go with the current one, and the wells of the document.
#pragma once

#include <QWidget>

#include "app/session/session.h"
#include "core/color/harmony.h"
#include "core/color/oklab.h"
#include "core/color/skin_tone.h"

class QLineEdit;
class QPushButton;
class QStackedWidget;

namespace juvenor::app {

class ColorField2D;
class ToneField;
class ValueSlider;

class Mixer : public QWidget {
  Q_OBJECT
 public:
  explicit Mixer(Session& session);
  /// Folded it shows the colour in hand and the wells.
  void setFolded(bool folded);
  bool folded() const { return folded_; }
  /// Folds or opens by itself, unless the artist did so, when what lies below wants so many pixels more
  /// (below 0: has them left).
  void makeRoom(int wanted);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;
  bool event(QEvent* event) override;

 private:
  /// A colour one can take by a click, or by arrow keys and Return.
  struct Swatch {
    QRect rect;
    QString name;
    EncodedColor color;
    bool swaps = false;  ///< changes places with the colour in hand
    int well = -1;       ///< one can keep a colour here
    bool empty = false;
  };
  std::vector<Swatch> swatches() const;
  void take(const Swatch& swatch);
  QString words() const;
  std::vector<HarmonyHint> hints() const;
  bool isOffSkin() const { return toneDifference_ > 6; }
  QWidget* buildHead();
  QWidget* buildFields();
  QWidget* buildNumbers();
  void refresh();
  void choose(const Oklch& color);
  void chooseTone(const SkinTone& tone);
  int wellAt(const QPoint& position) const;
  QRect wellRect(int index) const;
  QRect hintRect(size_t index) const;
  QRect currentRect() const;
  QRect secondRect() const;
  QRect previousRect() const;
  QRect usedRect(size_t index) const;
  void keepWell(int index, const EncodedColor& color);
  void drawReadings(QPainter& painter) const;
  void drawOpen(QPainter& painter) const;
  void drawWells(QPainter& painter) const;
  void helpOpen(const QPoint& at, QString& text) const;

  Session& session_;
  QStackedWidget* ways_;
  QWidget* numbers_;
  bool folded_ = false, foldedByHand_ = false;
  QPushButton *title_, *skin_, *free_, *grey_;
  ToneField* tones_;
  ValueSlider* yellow_;
  ColorField2D *field_, *hue_;
  QLineEdit *hex_, *rgb_[3];
  Oklch color_;
  size_t chosen_ = 0;          ///< swatch, by keys
  EncodedColor toneColor_;     ///< the colour the tone field stands for; another one moves its marker
  double toneDifference_ = 0;  ///< ΔE2000 from the colour in hand to the nearest tone
};

}  // namespace juvenor::app
