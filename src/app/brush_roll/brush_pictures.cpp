#include "app/brush_roll/brush_pictures.h"

#include <QPointer>

#include "core/render/brush_picture.h"
#include "core/result.h"

namespace juvenor::app {

BrushPictures::BrushPictures() {
  // their stamps are drawn once; nobody should wait for that when the roll opens
  pool_.setMaxThreadCount(1);
  inPool([] { (void)usualRoll(); });
}

// Nobody above a thread of the pool would catch what a library throws: there is no picture then.
void BrushPictures::inPool(std::function<void()> work) {
  pool_.start([work = std::move(work)] {
    (void)caught([&]() -> Outcome {
      work();
      return Done{};
    });
  });
}

BrushPictures::~BrushPictures() {
  pool_.clear();
  pool_.waitForDone();
}

void BrushPictures::draw(const RollBrush& brush, QObject* owner, std::function<void(const QImage&)> then) {
  inPool([this, brush, owner = QPointer<QObject>(owner), then = std::move(then)] {
    QImage image;
    if (const auto pixels = brushPicture(brush, {kBrushWide, kBrushHigh}))
      image = QImage(reinterpret_cast<const uchar*>(pixels->data()), kBrushWide, kBrushHigh, kBrushWide * 4,
                     QImage::Format_RGB32)
                  .copy();
    QMetaObject::invokeMethod(this, [owner, image, then] {
      if (owner) then(image);
    });
  });
}

void BrushPictures::roll(QObject* owner, std::function<void(const BrushRoll&)> then) {
  inPool([this, owner = QPointer<QObject>(owner), then = std::move(then)] {
    const BrushRoll& all = usualRoll();
    QMetaObject::invokeMethod(this, [owner, &all, then] {
      if (owner) then(all);
    });
  });
}

}  // namespace juvenor::app

#include "moc_brush_pictures.cpp"
