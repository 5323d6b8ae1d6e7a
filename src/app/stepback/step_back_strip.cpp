#include "app/stepback/step_back_strip.h"

#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/style/style.h"
#include "core/stepback/step_back.h"

namespace juvenor::app {
namespace {

constexpr int kStripWide = 120;
constexpr QSize kTileRoom(108, 68);
constexpr int kSoon = 80, kWhenFree = 250;  // milliseconds until pictures are worked out again
// Pixels on the longer side that are looked at; the strip's own, held large.
constexpr int kLooked = 480, kLarge = 480;

QImage imageOf(const SmallPicture& p) {
  return QImage(reinterpret_cast<const uchar*>(p.pixels.data()), p.size.width, p.size.height,
                p.size.width * 4, QImage::Format_RGB32)
      .copy();
}

// As large as fits, on the easel's own grey.
QPixmap fittedInto(const QImage& image, const QSize& room, uint32_t ground, bool grow) {
  QPixmap out(room * 2);
  out.setDevicePixelRatio(2);
  out.fill(QColor(ground));
  if (image.isNull()) return out;
  QSize size = image.size();
  if (grow || size.width() > room.width() || size.height() > room.height())
    size.scale(room, Qt::KeepAspectRatio);
  QPainter p(&out);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  p.drawImage(QRect(QPoint((room.width() - size.width()) / 2, (room.height() - size.height()) / 2), size),
              image);
  return out;
}

// Rings around the places that draw the eye, the first the largest.
void drawPlaces(QImage& heat, const EyeMap& eye, const ViewSize& of) {
  QPainter p(&heat);
  p.setRenderHint(QPainter::Antialiasing);
  const double scale = static_cast<double>(heat.width()) / of.width;
  double radius = heat.width() / 16.0;
  for (const EyePlace& place : eye.strongest) {
    const QPointF at(static_cast<double>(place.pixel.x()) * scale,
                     static_cast<double>(place.pixel.y()) * scale);
    p.setPen(QPen(QColor(0x20, 0x20, 0x20), 5));
    p.drawEllipse(at, radius, radius);
    p.setPen(QPen(Qt::white, 2.5));
    p.drawEllipse(at, radius, radius);
    radius *= 0.7;
  }
}

}  // namespace

// What is worked out of one picture of the easel.
struct StepBackStrip::Seen {
  QImage picture;
  ViewSize looked;
  SteppedBack back;
  std::vector<QString> parts;  ///< of the places the eye goes to, by name
  QStringList ranked;          ///< all that are seen, what draws most for its size first
};

namespace {

// Parts by how much they draw for their size; specks of fewer pixels tell nothing.
QStringList rankedParts(const EyeMap& eye, const VisibilityImage& visibility, const Document& d) {
  constexpr int kSpeck = 40;
  const std::vector<std::string>& names = d.sculpt->parts;
  std::vector<uint32_t> shown(visibility.triangle.size(), kNone);
  std::vector<int> count(names.size(), 0);
  for (size_t at = 0; at < shown.size(); ++at)
    if (visibility.triangle[at] != kNone)
      ++count[shown[at] = d.surface->triangleParts[visibility.triangle[at]]];
  std::vector<std::pair<float, uint32_t>> draws;
  std::vector<uint8_t> within(shown.size());
  for (uint32_t part = 0; part < names.size(); ++part) {
    if (count[part] < kSpeck) continue;
    for (size_t at = 0; at < shown.size(); ++at) within[at] = shown[at] == part;
    draws.emplace_back(-drawOf(eye, within, visibility.size), part);
  }
  std::ranges::sort(draws);
  QStringList out;
  for (const auto& [draw, part] : draws) out << QString::fromStdString(names[part]);
  return out;
}

}  // namespace

StepBackStrip::StepBackStrip(Session& session, Easel& easel) : session_(session), easel_(easel) {
  setObjectName("step back");
  setFixedWidth(kStripWide);
  setAutoFillBackground(true);
  large_ = new QLabel(&easel_);
  large_->setObjectName("held large");
  large_->hide();
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(4, 6, 4, 6);
  column->setSpacing(2);
  buildTile(Outline, tr("Outline"), tr("The silhouette alone: does it tell who that is?"), *column);
  buildTile(OutlineFlipped, tr("Outline flipped"), tr("Left to right, where what leans shows"), *column);
  buildTile(Far, tr("Far"), tr("As large as a thumb's nail: what is still told?"), *column);
  buildTile(Greys, tr("Five greys"), tr("Light and dark alone, in five steps"), *column);
  buildTile(Flipped, tr("Flipped"), tr("The work left to right, seen as if it were new"), *column);
  buildTile(
      Eye, tr("Where the eye goes"),
      tr("Warm where lightness, hue or fineness differ most from what lies around; rings: the first three"),
      *column);
  first_ = quietLabel({});
  first_->setObjectName("eye goes first");
  column->addWidget(first_);
  column->addStretch();
  later_.setSingleShot(true);
  connect(&later_, &QTimer::timeout, this, &StepBackStrip::look);
  const auto soon = [this] {
    // pictures that come one after the other, as light settles, do not put it off again and again
    if (isVisible() && !later_.isActive()) later_.start(kSoon);
  };
  connect(&session_.engine(), &Engine::frameReady, this, soon);
  connect(&session_, &Session::left, this, [this] { work_.giveUp(); });
  hide();
}

void StepBackStrip::buildTile(Tile tile, const QString& name, const QString& tip, QVBoxLayout& column) {
  auto* b = new QToolButton;
  b->setObjectName(QString("step back %1").arg(static_cast<int>(tile)));
  b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
  b->setIconSize(kTileRoom);
  b->setText(name);
  b->setIcon(QIcon(fittedInto({}, kTileRoom, easel_.viewing().background, true)));
  b->setToolTip(tr("%1. Hold to see it large.").arg(tip));
  b->setStyleSheet("padding: 0; font-size: 11px;");
  b->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  column.addWidget(b);
  buttons_[static_cast<size_t>(tile)] = b;
  connect(b, &QToolButton::pressed, this, [this, tile] { hold(tile); });
  connect(b, &QToolButton::released, large_, &QWidget::hide);
}

void StepBackStrip::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  later_.start(0);
}

void StepBackStrip::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  later_.stop();
  work_.giveUp();
  large_->hide();
}

void StepBackStrip::look() {
  if (!isVisible() || !session_.isOpen()) return;
  if (easel_.inUse() || work_.running()) return later_.start(kWhenFree);
  auto seen = std::make_shared<Seen>();
  seen->picture = easel_.pictureNow();
  if (seen->picture.isNull()) return later_.start(kWhenFree);
  const Document d = session_.document();
  const Camera camera = easel_.viewing().camera;
  const uint32_t background = easel_.viewing().background;
  work_.start(
      tr("Stepping back"),
      [seen, d, camera, background](const Progress& p) -> Outcome {
        const QImage picture = seen->picture.convertToFormat(QImage::Format_RGB32);
        const int part = std::max(1, (std::max(picture.width(), picture.height()) + kLooked - 1) / kLooked);
        const ViewSize size{picture.width() / part, picture.height() / part};
        const auto rays = d.maps->rays(p);
        if (!rays) return rays.error();
        VisibilityImage visibility;
        if (!castVisibility(**rays, camera, size, Vec2(0.5f, 0.5f), d.hiddenParts, visibility,
                            [&] { return !report(p, 0.5f); }))
          return cancelledError();
        // the pixel the ray went through: a mean would take in what lies behind
        std::vector<uint32_t> pixels(visibility.triangle.size());
        std::vector<uint8_t> sculpt(pixels.size());
        for (int y = 0; y < size.height; ++y) {
          const auto* line = reinterpret_cast<const uint32_t*>(picture.constScanLine(y * part + part / 2));
          for (int x = 0; x < size.width; ++x) {
            const auto at = static_cast<size_t>(y * size.width + x);
            pixels[at] = line[x * part + part / 2];
            sculpt[at] = visibility.triangle[at] != kNone;
          }
        }
        seen->looked = size;
        seen->back = steppedBack(pixels, sculpt, size, kLarge, background);
        for (const EyePlace& place : seen->back.eye.strongest) {
          const auto at = static_cast<size_t>(static_cast<int>(place.pixel.y()) * size.width +
                                              static_cast<int>(place.pixel.x()));
          const uint32_t triangle = visibility.triangle[std::min(at, visibility.triangle.size() - 1)];
          if (triangle == kNone) continue;
          seen->parts.push_back(QString::fromStdString(d.sculpt->parts[d.surface->triangleParts[triangle]]));
        }
        seen->ranked = rankedParts(seen->back.eye, visibility, d);
        return Done{};
      },
      [this, seen](const Outcome& done) {
        if (!done) return session_.tell(done.error());
        take(*seen);
      });
}

void StepBackStrip::take(const Seen& seen) {
  pictures_[Outline] = imageOf(seen.back.outline);
  pictures_[OutlineFlipped] = imageOf(flipped(seen.back.outline));
  pictures_[Far] = seen.back.far.pixels.empty() ? QImage() : imageOf(seen.back.far);
  pictures_[Greys] = imageOf(seen.back.greys);
  pictures_[Flipped] = seen.picture.mirrored(true, false);
  pictures_[Flipped].setDevicePixelRatio(1);
  pictures_[Eye] = imageOf(seen.back.heat);
  drawPlaces(pictures_[Eye], seen.back.eye, seen.looked);
  const uint32_t ground = easel_.viewing().background;
  for (int t = 0; t < kTiles; ++t) {
    const bool outline = t == Outline || t == OutlineFlipped;
    buttons_[static_cast<size_t>(t)]->setIcon(QIcon(
        fittedInto(pictures_[static_cast<size_t>(t)], kTileRoom, outline ? 0xffd8d8d8 : ground, t != Far)));
  }
  first_->setText(seen.parts.empty() ? tr("Nothing draws it more than the rest.")
                                     : tr("First: %1").arg(seen.parts.front()));
  emit eyeTold(first_->text(), seen.ranked);
}

void StepBackStrip::hold(Tile tile) {
  const QImage& picture = pictures_[static_cast<size_t>(tile)];
  if (picture.isNull()) return;
  const bool outline = tile == Outline || tile == OutlineFlipped;
  large_->setPixmap(
      fittedInto(picture, easel_.size(), outline ? 0xffd8d8d8 : easel_.viewing().background, tile != Far));
  large_->setGeometry(easel_.rect());
  large_->show();
  large_->raise();
}

}  // namespace juvenor::app

#include "moc_step_back_strip.cpp"
