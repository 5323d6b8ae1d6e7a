#include "app/hands/slide_hand.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <cmath>

#include "app/controls/value_slider.h"

namespace juvenor::app {
namespace {

constexpr float kSlideGrip = 12;  // pixels around a corner or a pin
constexpr float kSnap = 10;       // pixels around a landmark

QPointF at(const Vec2& pixel, double scale) {
  return QPointF(static_cast<double>(pixel.x()), static_cast<double>(pixel.y())) / scale;
}

}  // namespace

SlideHand::SlideHand(Session& session)
    : session_(session),
      controls_(new HandControls("slide bar")),
      drawer_([this](const Wish& wish, const Progress& wanted) {
        if (!report(wanted, 0)) return;
        const ViewSize size{wish.size.width / wish.step, wish.size.height / wish.step};
        // what hangs is evened as it will be laid; the first time that takes some rays
        FormBehind behind;
        const auto light = caught([&] { return lightOver(wish.slide, *wish.maps, wanted); });
        if (light && *light)
          if (const auto rays = caught([&] { return wish.maps->rays(wanted); })) behind = {*rays, *light};
        const auto picture =
            std::make_shared<SlidePicture>(drawnSlide(SlideView(wish.slide), size, wish.strength, behind));
        QMetaObject::invokeMethod(
            this, [this, picture, of = wish.slide.id, step = wish.step] { drawn(*picture, of, step); },
            Qt::QueuedConnection);
      }) {
  controls_->addPicture();
  dim_ = new ValueSlider(tr("Dim"), {0.05, 1, 100, "%", false, 0});
  dim_->setToolTip(tr("How strongly the slide is seen; paint goes through it all the same"));
  dim_->setFixedWidth(96);
  dim_->show(0.55);
  controls_->row().addWidget(dim_);
  pinning_ =
      controls_->addButton("slide pin", tr("Pin"),
                           tr("Press a place of the slide and drag it to its place on the skin; a click on a "
                              "pin takes it out"));
  mirrored_ = controls_->addButton("slide mirrored", tr("Mirrored"),
                                   tr("Right and left of the picture change sides"));
  movesSculpt_ =
      controls_->addButton("slide moves sculpt", tr("Move sculpt"),
                           tr("Dragging and the wheel move the sculpt beneath, not the slide (V)"));
  show_ = controls_->addButton("slide shown", tr("Held"), tr("Shows the slide, or puts it aside (Shift+S)"));
  for (QPushButton* b : {pinning_, mirrored_, movesSculpt_, show_}) b->setCheckable(true);
  auto* thrown =
      controls_->addButton("slide throw", tr("Throw"),
                           tr("Lays the whole slide as a live layer; its placing can be changed later"));
  connect(thrown, &QPushButton::clicked, this, &SlideHand::throwWanted);
  connect(dim_, &ValueSlider::changed, this, &SlideHand::redraw);
  connect(show_, &QPushButton::toggled, this, &SlideHand::setShown);
  connect(mirrored_, &QPushButton::clicked, this, [this](bool on) {
    slide_.mirrored = on;
    redraw();
    keep(tr("Mirror slide"));
  });
  connect(&session_.tools(), &Tools::changed, this, &SlideHand::refresh);
  connect(&session_, &Session::opened, this, [this] { take(nullptr); });
  connect(&session_, &Session::documentChanged, this, [this] {
    if (!slide_.picture || grip_ != Grip::None) return;
    const Slide* now = slideOf(session_.document(), slide_.id);
    if (!now) return take(nullptr);
    if (*now == kept_) return;
    // undone, or changed elsewhere: it hangs as that says, before the eye as it stands
    const Camera eye = now->camera == kept_.camera ? slide_.camera : now->camera;
    kept_ = slide_ = *now;
    slide_.camera = eye;
    redraw();
    refresh();
    emit changed();
  });
  scaled_.setSingleShot(true);
  scaled_.setInterval(500);
  connect(&scaled_, &QTimer::timeout, this, [this] { keep(tr("Place slide")); });
  refresh();
}

void SlideHand::refresh() {
  const bool there = slide_.picture != nullptr;
  controls_->showName(there ? QString::fromStdString(slide_.name) : tr("Choose a photo …"));
  for (QPushButton* b : {pinning_, mirrored_, movesSculpt_, show_}) b->setEnabled(there);
  mirrored_->setChecked(slide_.mirrored);
}

void SlideHand::take(const Slide* slide) {
  kept_ = slide_ = slide ? *slide : Slide{};
  image_ = {};
  pinning_->setChecked(false);
  shown_ = true;
  show_->setChecked(true);
  redraw();
  refresh();
  emit changed();
}

void SlideHand::setShown(bool shown) {
  if (shown_ == shown) return;
  shown_ = shown;
  show_->setChecked(shown);
  redraw();
  emit changed();
}

void SlideHand::setMovesSculpt(bool on) {
  movesSculpt_->setChecked(on);
}

bool SlideHand::movesSculpt() const {
  return movesSculpt_->isChecked();
}

void SlideHand::setSplit(const PhotoSplit& split) {
  split_ = split;
  emit changed();
}

void SlideHand::changeTone(const std::function<void(SlideTone&)>& change) {
  if (!slide_.picture) return;
  change(slide_.tone);
  redraw();
}

void SlideHand::follow(const Viewing& viewing) {
  const Camera whole = uncut(viewing.camera);
  const bool resized = size_ != viewing.size, turned = slide_.camera != whole;
  size_ = viewing.size;
  if (!slide_.picture) return;
  slide_.camera = whole;
  // without pins it hangs before the eye as it did, wherever that goes, but for the light of what is behind
  if (resized || (turned && (!slide_.pins.empty() || slide_.tone.light))) redraw();
}

void SlideHand::redraw() {
  const int step = grip_ == Grip::None ? 1 : 2;
  if (shown())
    drawer_.wish({slide_, session_.document().maps, size_, static_cast<float>(dim_->value()), step});
}

void SlideHand::drawn(const SlidePicture& picture, uint32_t of, int step) {
  // another may have been taken in hand meanwhile
  if (!slide_.picture || of != slide_.id) return;
  image_ = QImage(reinterpret_cast<const uchar*>(picture.pixels.data()), picture.size.width,
                  picture.size.height, picture.size.width * 4, QImage::Format_ARGB32_Premultiplied)
               .copy();
  imageAt_ = {picture.left, picture.top};
  imageStep_ = step;
  emit changed();
}

void SlideHand::keep(const QString& step) {
  if (!slide_.picture) return;
  session_.settleStrokes();
  const Slide before = kept_;
  kept_ = slide_;
  if (!session_.apply(withSlide(session_.document(), slide_), step)) kept_ = before;
}

std::shared_ptr<const SlidePaint> SlideHand::paint() const {
  if (!shown()) return nullptr;
  auto out = std::make_shared<SlidePaint>();
  out->slide = slide_;
  out->split = split_;
  return out;
}

void SlideHand::setPinWords(const QStringList& words) {
  if (words == pinWords_) return;
  pinWords_ = words;
  emit changed();
}

Vec2 SlideHand::extent() const {
  const auto longest = static_cast<float>(std::max(slide_.picture->width, slide_.picture->height));
  return {static_cast<float>(slide_.picture->width) / longest,
          static_cast<float>(slide_.picture->height) / longest};
}

Vec2 SlideHand::placeOnView(const Vec2& onPicture) const {
  return pixelOfPicture(warpOf(slide_), size_, onPicture);
}

QPolygonF SlideHand::outline(double scale) const {
  constexpr int kPieces = 12;
  const PinWarp warp = warpOf(slide_);
  const Vec2 half = extent();
  constexpr std::array<std::pair<float, float>, 4> kCorners{{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}}};
  QPolygonF out;
  for (size_t side = 0; side < 4; ++side)
    for (int i = 0; i < kPieces; ++i) {
      const float t = static_cast<float>(i) / kPieces;
      const auto& [x0, y0] = kCorners[side];
      const auto& [x1, y1] = kCorners[(side + 1) % 4];
      const Vec2 place((x0 + t * (x1 - x0)) * half.x(), (y0 + t * (y1 - y0)) * half.y());
      out << at(pixelOfPicture(warp, size_, place), scale);
    }
  out << out.front();
  return out;
}

int SlideHand::pinAt(const Vec2& pixel) const {
  for (size_t i = 0; i < slide_.pins.size(); ++i)
    if ((project(slide_.camera, size_, slide_.pins[i].onSkin).head<2>() - pixel).norm() < kSlideGrip)
      return static_cast<int>(i);
  return -1;
}

// The skin under a pixel, or a landmark next to it.
std::optional<Vec3> SlideHand::skinAt(const Vec2& pixel) const {
  for (const Landmark& mark : session_.document().landmarks)
    if ((project(slide_.camera, size_, mark.position).head<2>() - pixel).norm() < kSnap) return mark.position;
  const auto probe = session_.engine().probe(session_.document(), pixel);
  return probe ? std::optional(probe->point.position) : std::nullopt;
}

bool SlideHand::beginPin(const Vec2& pixel) {
  const int there = pinAt(pixel);
  if (there < 0) {
    if (slide_.pins.size() >= kMostPins) {
      session_.say(tr("A slide takes %1 pins at most.").arg(kMostPins), true);
      return false;
    }
    const auto skin = skinAt(pixel);
    if (!skin) {
      session_.say(tr("There is no skin beneath: press where photo and skin lie over each other."));
      return false;
    }
    slide_.pins.push_back({pictureOfPixel(warpOf(slide_), size_, pixel), *skin});
    pin_ = slide_.pins.size() - 1;
    moved_ = true;
  } else {
    pin_ = static_cast<size_t>(there);
  }
  grip_ = Grip::Pin;
  return true;
}

bool SlideHand::press(const Viewing& viewing, const Vec2& pixel) {
  follow(viewing);
  if (!shown()) {
    session_.say(slide_.picture ? tr("The slide is put aside; Held, or Shift+S, takes it up again.")
                                : tr("Choose a photo for the slide below, or drop one on the easel."));
    return true;
  }
  moved_ = false;
  if (pinning_->isChecked() || pinAt(pixel) >= 0) {
    beginPin(pixel);
    redraw();
    return true;
  }
  const Vec2 corner = placeOnView(extent());
  if ((corner - pixel).norm() < kSlideGrip) {
    grip_ = Grip::Corner;
  } else {
    grip_ = Grip::Middle;
  }
  if (movesSculpt_->isChecked()) {
    grip_ = Grip::None;
    return false;
  }
  if (slide_.pins.size() >= 2) {
    grip_ = Grip::None;
    session_.say(tr("Its pins hold the slide: drag those, or take them out with Pin and a click."));
  }
  held_ = pixel;
  return true;
}

void SlideHand::drag(const Viewing&, const Vec2& pixel) {
  const float half = 0.5f * static_cast<float>(size_.height);
  if (grip_ == Grip::Pin) {
    if (const auto skin = skinAt(pixel)) {
      moved_ = moved_ || (slide_.pins[pin_].onSkin - *skin).norm() > 0;
      slide_.pins[pin_].onSkin = *skin;
    }
  } else if (grip_ == Grip::Middle) {
    const Vec2 by = (pixel - held_) / half;
    slide_.middle += Vec2(by.x(), -by.y());
    for (SlidePin& pin : slide_.pins)
      if (const auto skin = skinAt(project(slide_.camera, size_, pin.onSkin).head<2>() + pixel - held_))
        pin.onSkin = *skin;
    held_ = pixel;
    moved_ = true;
  } else if (grip_ == Grip::Corner) {
    const Vec2 middle = placeOnView(Vec2::Zero());
    const Vec2 now = pixel - middle, before = held_ - middle;
    if (now.norm() < 8 || before.norm() < 8) return;
    slide_.half = std::clamp(slide_.half * now.norm() / before.norm(), 0.01f, 100.f);
    slide_.turn += (std::atan2(before.y(), before.x()) - std::atan2(now.y(), now.x())) * 57.29578f;
    held_ = pixel;
    moved_ = true;
  }
  redraw();
  emit changed();
}

void SlideHand::release() {
  const Grip grip = std::exchange(grip_, Grip::None);
  if (grip == Grip::None) return;
  redraw();  // in full again
  if (grip == Grip::Pin && !moved_ && pinning_->isChecked())
    slide_.pins.erase(slide_.pins.begin() + static_cast<std::ptrdiff_t>(pin_));
  else if (!moved_)
    return;
  redraw();
  keep(grip == Grip::Pin ? tr("Pin slide") : tr("Place slide"));
}

void SlideHand::turnBy(const Vec2& drag) {
  slide_.turn -= 0.3f * drag.x();
  moved_ = true;
  grip_ = Grip::Corner;
  redraw();
  emit changed();
}

void SlideHand::scaleBy(float factor, const Vec2& pixel) {
  const float half = 0.5f * static_cast<float>(size_.height);
  const Vec2 at((pixel.x() - 0.5f * static_cast<float>(size_.width)) / half, 1 - pixel.y() / half);
  slide_.half = std::clamp(slide_.half * factor, 0.01f, 100.f);
  slide_.middle = at + factor * (slide_.middle - at);
  scaled_.start();
  redraw();
  emit changed();
}

void SlideHand::drawPicture(QPainter& painter, double scale) const {
  if (!shown() || image_.isNull()) return;
  const double wide = imageStep_ / scale;
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.drawImage(QRectF(QPointF(imageAt_) * wide, QSizeF(image_.size()) * wide), image_);
}

void SlideHand::draw(QPainter& painter, const Viewing&, double scale) const {
  drawPicture(painter, scale);
  if (!shown()) return;
  drawOutline(painter, outline(scale), true);
  if (slide_.pins.size() < 2) drawGrip(painter, at(placeOnView(extent()), scale), grip_ == Grip::Corner);
  if (pinning_->isChecked())
    for (const Landmark& mark : session_.document().landmarks) {
      const QPointF place = at(project(slide_.camera, size_, mark.position).head<2>(), scale);
      painter.setBrush(Qt::NoBrush);
      painter.setPen(QPen(QColor(20, 20, 20), 3));
      painter.drawEllipse(place, 4, 4);
      painter.setPen(QPen(Qt::white, 1.2));
      painter.drawEllipse(place, 4, 4);
    }
  for (size_t i = 0; i < slide_.pins.size(); ++i) {
    const QPointF place = at(project(slide_.camera, size_, slide_.pins[i].onSkin).head<2>(), scale);
    drawGrip(painter, place, grip_ == Grip::Pin && pin_ == i);
  }
  drawPinWords(painter, scale);
}

// To the right of each pin, or to its left where another pin is.
void SlideHand::drawPinWords(QPainter& painter, double scale) const {
  if (grip_ != Grip::None || pinWords_.size() != static_cast<qsizetype>(slide_.pins.size())) return;
  std::vector<QPointF> places;
  for (const SlidePin& pin : slide_.pins)
    places.push_back(at(project(slide_.camera, size_, pin.onSkin).head<2>(), scale));
  for (size_t i = 0; i < places.size(); ++i) {
    const QString& words = pinWords_[static_cast<qsizetype>(i)];
    const double wide = painter.fontMetrics().horizontalAdvance(words) + 24;
    const bool taken = std::ranges::any_of(places, [&](const QPointF& p) {
      return std::abs(p.y() - places[i].y()) < 22 && p.x() > places[i].x() &&
             p.x() < places[i].x() + wide + 8;
    });
    drawPlate(painter, places[i] + QPointF(taken ? -wide : 12, 0), words);
  }
}

}  // namespace juvenor::app

#include "moc_slide_hand.cpp"
