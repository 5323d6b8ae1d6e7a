#include "app/moments/moment_pictures.h"

#include <QImage>

#include "core/render/moment_picture.h"

namespace juvenor::app {

MomentPictures::MomentPictures()
    : maker_([this](const Wish& wish, const Progress& wanted) {
        const ViewSize size{2 * kMomentWide, 2 * kMomentHigh};
        std::vector<uint32_t> pixels;
        const Outcome done = caught([&]() -> Outcome {
          const Camera camera = cameraOnChange(wish.before ? &*wish.before : nullptr, wish.document, size);
          pixels = momentPicture(wish.document, camera, size, wanted);
          return Done{};
        });
        QImage image;
        if (done && !pixels.empty())
          image = QImage(reinterpret_cast<const uchar*>(pixels.data()), size.width, size.height,
                         4 * size.width, QImage::Format_RGB32)
                      .copy();
        QMetaObject::invokeMethod(
            this,
            [this, image, key = wish.key, round = wish.round] {
              if (round != round_) return;
              if (waiting_ == key) waiting_ = 0;
              constexpr qsizetype kMost = 1500;
              if (known_.size() > kMost) known_.clear();
              // one that could not be made is not asked for again
              QPixmap picture = QPixmap::fromImage(image);
              picture.setDevicePixelRatio(2);
              known_[key] = picture;
              emit made(key);
            },
            Qt::QueuedConnection);
      }) {}

const QPixmap* MomentPictures::known(uint64_t key) const {
  const auto at = known_.constFind(key);
  return at == known_.constEnd() ? nullptr : &*at;
}

void MomentPictures::wish(Wish wish) {
  waiting_ = wish.key;
  wish.round = round_;
  maker_.wish(std::move(wish));
}

void MomentPictures::forgetAll() {
  known_.clear();
  waiting_ = 0;
  ++round_;
  maker_.giveUp();
}

}  // namespace juvenor::app

#include "moc_moment_pictures.cpp"
