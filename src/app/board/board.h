// The board: pictures the artist gathers, a palette taken from them, and two pinned colours side by side.
#pragma once

#include <QWidget>

#include <map>

#include "app/board/photo_words.h"
#include "app/easel/easel.h"
#include "app/session/picture_intake.h"
#include "core/color/palette.h"

class QLabel;
class QVBoxLayout;

namespace juvenor::app {

class PictureView;
class ValueSlider;

/// The colours of a palette as swatches: click takes one, drag carries it to a well.
class PaletteSwatches : public QWidget {
  Q_OBJECT
 public:
  void show(std::vector<NamedColor> colors);
  const std::vector<NamedColor>& colors() const { return colors_; }

 signals:
  void chosen(const juvenor::EncodedColor& color);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  bool event(QEvent* event) override;

 private:
  int at(const QPoint& position) const;
  QRect rectOf(int index) const;

  std::vector<NamedColor> colors_;
  QPoint pressed_;
};

/// A colour of a picture and one of the sculpt, and how far apart they are.
class PinnedPair : public QWidget {
  Q_OBJECT
 public:
  explicit PinnedPair(Session& session);
  /// What lies under the pen on the sculpt now, shown live beside the picture's colour.
  void showProbe(const std::optional<Probe>& probe);
  QString reading() const;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  Session& session_;
  std::optional<EncodedColor> under_;
};

class Board : public QWidget {
  Q_OBJECT
 public:
  Board(Session& session, Easel& easel);

  /// Puts picture files on the board, once they have been read; a failure is told.
  void add(const QStringList& files);
  /// The same with a picture, or the files of pictures, from the clipboard; false when there is none.
  bool paste();
  /// The palette of all pictures, or of one.
  void takePalette(uint32_t picture = 0);
  PinnedPair& pinned() { return *pinned_; }
  PaletteSwatches& palette() { return *swatches_; }

 signals:
  /// A picture of the board is to hang before the eye as a slide.
  void hangWanted(uint32_t picture);

 protected:
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void refresh();
  void take(std::vector<PictureToRead> pictures);
  void menu(uint32_t picture, const QPoint& globalPosition);
  void standBehind(uint32_t picture);
  void readPalette();
  void writePalette();
  QWidget* buildPalette();
  void measureNext();

  Session& session_;
  Easel& easel_;
  QVBoxLayout* pictures_;
  std::vector<PictureView*> views_;
  std::vector<QLabel*> captions_;         ///< one for each view
  std::map<uint64_t, PhotoWords> worth_;  ///< by fingerprint, of those that were looked at
  Background measuring_;
  QLabel* empty_;
  PaletteSwatches* swatches_;
  ValueSlider *count_, *averaging_;
  PinnedPair* pinned_;
};

}  // namespace juvenor::app
