// The window a still, a film or a sheet grows in, beside the painting: what is there already, how far it is,
// a way to stop it, and for a still where it is kept once it is done.
#pragma once

#include <QDialog>
#include <QImage>
#include <functional>

#include "app/session/background.h"
#include "core/show/finishing.h"
#include "core/show/still_file.h"

class QLabel;
class QProgressBar;
class QPushButton;

namespace juvenor::app {

/// Draws a picture as large as fits.
class GrowingPicture : public QWidget {
  Q_OBJECT
 public:
  GrowingPicture();
  /// Begins with an empty picture of this shape.
  void begin(const ViewSize& size);
  /// A tile of the whole picture.
  void put(const PixelRect& rect, const std::vector<uint32_t>& pixels);
  void setWhole(const QImage& picture);
  const QImage& picture() const { return picture_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  QSize sizeHint() const override { return {760, 500}; }

 private:
  QImage picture_;  ///< no larger than a screen
  ViewSize whole_;
};

class StillWindow : public QDialog {
  Q_OBJECT
 public:
  explicit StillWindow(QWidget* parent);

  struct Wish {
    Document document;
    StillWish still;
    Finishing finishing;
    bool clear = false;
    StillDepth depth = StillDepth::Bits8;
  };
  /// Makes a still; one that is under way is given up.
  void makeStill(Wish wish, const QString& title);
  /// Any other work whose pictures are shown as they come: `work` gets who takes them.
  using TakePicture = std::function<void(const ViewSize& size, std::span<const uint32_t> pixels)>;
  void make(const QString& title, const QString& ready,
            std::function<Outcome(const TakePicture& take, const Progress& progress)> work);
  bool running() const { return work_.running(); }
  /// Writes the still that is done.
  void save(const QString& file);
  const GrowingPicture& shown() const { return *shown_; }

 signals:
  /// It is done, or was cancelled.
  void ended(bool done);
  void saved(const QString& file, bool done);

 protected:
  void closeEvent(QCloseEvent* event) override;

 private:
  void start(const QString& title, std::function<Outcome(const Progress&)> work, const QString& ready);
  void askWhere();

  GrowingPicture* shown_;
  QLabel* says_;
  QProgressBar* bar_;
  QPushButton *cancel_, *save_;
  std::shared_ptr<StillPicture> picture_;  ///< the still that is done; null: none
  bool clear_ = false;
  StillDepth depth_ = StillDepth::Bits8;
  uint64_t round_ = 0;
  Background work_, writing_;
};

}  // namespace juvenor::app
