#include "app/show/still_window.h"

#include <QCloseEvent>
#include <QElapsedTimer>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QProgressBar>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/controls/ask_file.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {

// A picture is shown no larger than so many pixels.
constexpr int kShownAcross = 1600;
const QColor kEaselGrey(0x6c, 0x6c, 0x6c);

QString forReading(const Error& error) {
  return QString::fromStdString(error.message());
}

}  // namespace

GrowingPicture::GrowingPicture() {
  setObjectName("growing picture");
  setMinimumSize(320, 200);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void GrowingPicture::begin(const ViewSize& size) {
  whole_ = size;
  QSize shown(size.width, size.height);
  if (std::max(size.width, size.height) > kShownAcross)
    shown.scale(kShownAcross, kShownAcross, Qt::KeepAspectRatio);
  picture_ = QImage(shown.expandedTo({1, 1}), QImage::Format_RGB32);
  picture_.fill(kEaselGrey);
  update();
}

void GrowingPicture::put(const PixelRect& rect, const std::vector<uint32_t>& pixels) {
  if (picture_.isNull() || whole_.width < 1) return;
  const QImage tile(reinterpret_cast<const uchar*>(pixels.data()), rect.right - rect.left,
                    rect.bottom - rect.top, 4 * (rect.right - rect.left), QImage::Format_RGB32);
  const double scale = static_cast<double>(picture_.width()) / whole_.width;
  QPainter p(&picture_);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  p.drawImage(QRectF(rect.left * scale, rect.top * scale, tile.width() * scale, tile.height() * scale), tile);
  update();
}

void GrowingPicture::setWhole(const QImage& picture) {
  whole_ = {picture.width(), picture.height()};
  picture_ = picture;
  update();
}

void GrowingPicture::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), kEaselGrey);
  if (picture_.isNull()) return;
  QSize size = picture_.size();
  if (size.width() > width() || size.height() > height()) size.scale(this->size(), Qt::KeepAspectRatio);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  p.drawImage(QRect(QPoint((width() - size.width()) / 2, (height() - size.height()) / 2), size), picture_);
}

StillWindow::StillWindow(QWidget* parent) : QDialog(parent), shown_(new GrowingPicture) {
  setObjectName("still window");
  setWindowTitle(tr("Still"));
  setModal(false);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 10, 10, 10);
  column->addWidget(shown_, 1);
  auto* row = new QHBoxLayout;
  says_ = new QLabel;
  says_->setObjectName("still says");
  bar_ = new QProgressBar;
  bar_->setObjectName("still progress");
  bar_->setRange(0, 1000);
  bar_->setFixedHeight(12);
  bar_->setTextVisible(false);
  cancel_ = new QPushButton(tr("Cancel"));
  cancel_->setObjectName("cancel still");
  save_ = new QPushButton(tr("Save as …"));
  save_->setObjectName("save still");
  row->addWidget(says_, 1);
  row->addWidget(bar_, 1);
  row->addWidget(cancel_);
  row->addWidget(save_);
  column->addLayout(row);
  connect(cancel_, &QPushButton::clicked, this, [this] { work_.cancel(); });
  connect(save_, &QPushButton::clicked, this, &StillWindow::askWhere);
  connect(&work_, &Background::progressed, this, [this](double fraction) {
    bar_->setVisible(fraction >= 0);
    bar_->setValue(static_cast<int>(1000 * fraction));
    cancel_->setVisible(fraction >= 0);
  });
  resize(800, 580);
}

void StillWindow::closeEvent(QCloseEvent* event) {
  work_.giveUp();
  ++round_;
  QDialog::closeEvent(event);
}

void StillWindow::start(const QString& title, std::function<Outcome(const Progress&)> work,
                        const QString& ready) {
  setWindowTitle(title);
  says_->setText(tr("At work; painting goes on meanwhile"));
  save_->hide();
  show();
  raise();
  QElapsedTimer clock;
  clock.start();
  work_.start(title, std::move(work), [this, ready, clock](const Outcome& done) {
    const double seconds = static_cast<double>(clock.elapsed()) / 1000;
    says_->setText(done                        ? ready + tr(" · %1 s").arg(seconds, 0, 'f', 1)
                   : isCancelled(done.error()) ? tr("Stopped")
                                               : forReading(done.error()));
    save_->setVisible(done && picture_);
    emit ended(static_cast<bool>(done));
  });
}

void StillWindow::makeStill(Wish wish, const QString& title) {
  const uint64_t round = ++round_;
  picture_.reset();
  clear_ = wish.clear;
  depth_ = wish.depth;
  shown_->begin(wish.still.size);
  const auto made = std::make_shared<StillPicture>();
  const QString ready = tr("%1 × %2 pixels, %3 samples")
                            .arg(wish.still.size.width)
                            .arg(wish.still.size.height)
                            .arg(wish.still.samples);
  const auto shared = std::make_shared<const Wish>(std::move(wish));
  const OnTile onTile = [this, round](const TileShown& tile) {
    QMetaObject::invokeMethod(
        this,
        [this, round, tile] {
          if (round == round_) shown_->put(tile.rect, tile.pixels);
        },
        Qt::QueuedConnection);
  };
  start(
      title,
      [shared, made, onTile, this, round](const Progress& p) -> Outcome {
        const auto scene = ShownScene::of(shared->document, shared->still.look.view == View::Skin,
                                          [&](float f) { return report(p, 0.1f * f); });
        if (!scene) return scene.error();
        auto picture = stillPicture(**scene, shared->still, shared->clear, onTile,
                                    [&](float f) { return report(p, 0.1f + 0.9f * f); });
        if (!picture) return picture.error();
        finish(*picture, shared->finishing);
        if (shared->finishing.any())
          onTile({{0, 0, picture->size.width, picture->size.height}, bytesOf(*picture)});
        *made = std::move(*picture);
        QMetaObject::invokeMethod(
            this,
            [this, round, made] {
              if (round == round_) picture_ = made;
            },
            Qt::QueuedConnection);
        return Done{};
      },
      ready);
}

void StillWindow::make(const QString& title, const QString& ready,
                       std::function<Outcome(const TakePicture& take, const Progress& progress)> work) {
  const uint64_t round = ++round_;
  picture_.reset();
  shown_->begin({16, 9});
  const TakePicture take = [this, round](const ViewSize& size, std::span<const uint32_t> pixels) {
    const QImage image = QImage(reinterpret_cast<const uchar*>(pixels.data()), size.width, size.height,
                                4 * size.width, QImage::Format_RGB32)
                             .copy();
    QMetaObject::invokeMethod(
        this,
        [this, round, image] {
          if (round == round_) shown_->setWhole(image);
        },
        Qt::QueuedConnection);
  };
  start(
      title, [work = std::move(work), take](const Progress& p) { return work(take, p); }, ready);
}

void StillWindow::askWhere() {
  const QString file = askSaveFile(this, tr("Save the still"), "still.png",
                                   tr("Pictures (*.png *.exr *.tif)"), {"png", "exr", "tif"});
  if (!file.isEmpty()) save(file);
}

void StillWindow::save(const QString& file) {
  const auto kept = picture_;
  save_->setEnabled(false);
  says_->setText(tr("Saving …"));
  writing_.start(
      tr("Saving the still"),
      [kept, file, clear = clear_, depth = depth_](const Progress&) -> Outcome {
        return writeStill(file.toStdString(), *kept, clear, depth);
      },
      [this, file](const Outcome& done) {
        save_->setEnabled(true);
        says_->setText(done ? tr("Saved as %1").arg(file) : forReading(done.error()));
        emit saved(file, static_cast<bool>(done));
      });
}

}  // namespace juvenor::app

#include "moc_still_window.cpp"
