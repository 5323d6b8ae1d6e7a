#include "app/easel/easel.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/controls/spoken.h"
#include "app/easel/brush_ring.h"
#include "app/session/stages.h"
#include "app/session/words.h"
#include "app/style/style.h"
#include "core/render/still.h"
#include "core/surface/build/search.h"

namespace juvenor::app {

Easel::Easel(Session& session)
    : session_(session),
      handles_(session),
      stamp_(session),
      stencil_(session),
      slide_(session),
      graft_(session),
      split_(session),
      cut_(session),
      comb_(session),
      touch_(session),
      lasso_(session),
      mirror_(session),
      eyes_(session),
      place_(session),
      valueBar_(new ValueBar),
      channelBar_(new ChannelBar),
      handBar_(new HandBar(this)),
      cutBar_(new CutBar(this)) {
  setAcceptDrops(true);
  for (int tool = 0; tool < kToolCount; ++tool)
    if (EaselHand* each = handOf(static_cast<Tool>(tool)); each && each->controls())
      handBar_->add(each->controls());
  handBar_->add(eyes_.controls());
  handBar_->add(place_.controls());
  connect(&place_, &PlaceHand::done, this, [this] {
    showControls();
    update();
  });
  connect(&stencil_, &StencilHand::changed, this, QOverload<>::of(&QWidget::update));
  connect(&slide_, &SlideHand::changed, this, QOverload<>::of(&QWidget::update));
  connect(&split_, &SplitLine::changed, this, [this] { post(false); });
  connect(&lasso_, &LassoHand::changed, this, &Easel::showMasks);
  connect(&comb_, &CombHand::changed, this, QOverload<>::of(&QWidget::update));
  connect(cutBar_, &CutBar::moved, this, &Easel::setCutAway);
  connect(cutBar_, &CutBar::wholeWanted, this, [this] { setCutAway({}); });
  connect(&resting_, &QTimer::timeout, this, &Easel::restOn);
  setObjectName("easel");
  setMouseTracking(true);
  setTabletTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  speak(this, {QAccessible::Canvas, [this] { return told(factsOf(session_.tools().tool()).label); }});
  setCursor(Qt::CrossCursor);
  setAttribute(Qt::WA_OpaquePaintEvent);
  setMinimumSize(320, 240);
  setAccessibleName(tr("Easel"));
  clock_.start();
  viewing_.background = 0xff6c6c6c;
  connect(&session_.engine(), &Engine::frameReady, this, [this](const QImage& pixels, const QPoint& place) {
    const QSize size(viewing_.size.width, viewing_.size.height);
    if (pixels.size() == size && place.isNull()) {
      image_ = pixels;
      image_.setDevicePixelRatio(devicePixelRatioF());
      update();
      return;
    }
    if (image_.size() != size) return;
    image_.setDevicePixelRatio(1);
    QPainter painter(&image_);
    painter.setCompositionMode(QPainter::CompositionMode_Source);
    painter.drawImage(place, pixels);
    painter.end();
    image_.setDevicePixelRatio(devicePixelRatioF());
    const double scale = devicePixelRatioF();
    update(
        QRectF(QPointF(place) / scale, QSizeF(pixels.size()) / scale).toAlignedRect().adjusted(-1, -1, 1, 1));
  });
  connect(&session_.engine(), &Engine::preparing, this, [this](bool busy) {
    preparing_ = busy;
    emit hindranceChanged();
  });
  connect(&session_, &Session::documentChanged, this, [this] {
    // what lay under the pen belongs to one surface
    if (session_.document().surface == probedSurface_.lock()) return;
    probedSurface_ = session_.document().surface;
    probe_.reset();
    beside_.reset();
  });
  // whatever changes the work, or what is in hand, ends a drag first
  connect(&session_, &Session::settling, this, &Easel::endDrag);
  connect(&session_.tools(), &Tools::changed, this, [this, tool = session_.tools().tool()]() mutable {
    if (std::exchange(tool, session_.tools().tool()) == session_.tools().tool()) return;
    endDrag();
    place_.finish();
  });
  valueBar_->hide();
  connect(valueBar_, &ValueBar::changed, this, [this](const ValueCheck& check) {
    viewing_.check = check;
    post(false);
  });
  connect(&session_.engine(), &Engine::valuesCounted, valueBar_,
          [this](const ValueHistogram& h) { valueBar_->show(h); });
  channelBar_->hide();
  connect(channelBar_, &ChannelBar::changed, this, &Easel::showChannel);
  connect(&session_, &Session::documentChanged, this, [this] {
    if (viewing_.own != 0 && viewing_.own != session_.document().activeLayer) showChannel();
  });
  connect(&session_.engine(), &Engine::heightShown, this, [this](float height) {
    if (session_.isOpen()) channelBar_->showHeight(height, session_.document().placement.millimetres);
  });
  connect(&session_.tools(), &Tools::changed, this, &Easel::showControls);
  connect(&session_, &Session::documentChanged, this, &Easel::showControls);
  connect(&session_.tools(), &Tools::changed, this, &Easel::showMasks);
  connect(&session_, &Session::documentChanged, this, &Easel::showMasks);
  connect(&session_, &Session::opened, this, [this] {
    framed_ = false;
    viewing_.map.reset();
    viewing_.camera = {};
    frameAll();
  });
}

void Easel::post(bool moving) {
  viewing_.moving = moving;
  slide_.follow(viewing_);
  split_.tell(viewing_);
  if (session_.isOpen()) {
    const Document& d = session_.document();
    cutBar_->follow(viewing_.camera, depthRange(viewing_.camera, d.surface->bounds), d.placement.millimetres);
    session_.engine().setViewing(viewing_);
  }
  emit viewingChanged();
}

void Easel::setCutAway(std::optional<float> depth) {
  if (!session_.isOpen()) return;
  const DepthRange range = depthRange(viewing_.camera, session_.document().surface->bounds);
  viewing_.camera = uncut(viewing_.camera);
  if (depth) viewing_.camera.cutAway = std::clamp(range.front - *depth, range.back, range.front);
  post(false);
}

void Easel::toggleCutAway() {
  if (!session_.isOpen()) return;
  const DepthRange range = depthRange(viewing_.camera, session_.document().surface->bounds);
  setCutAway(viewing_.camera.cuts() ? std::nullopt : std::optional(0.25f * (range.front - range.back)));
}

void Easel::setMap(const std::optional<MaskTerm>& map, OverlayLook look) {
  viewing_.map = map;
  viewing_.mapLook = look;
  post(false);
}

void Easel::setShows(std::shared_ptr<const ScalarField> shows, OverlayLook look) {
  if (viewing_.shows == shows) return;
  viewing_.shows = std::move(shows);
  viewing_.showsLook = look;
  post(false);
}

// What a mask hides is striped while its tool is in hand and masks are shown; it works either way.
void Easel::showMasks() {
  std::optional<uint32_t> wanted;
  const Tool tool = session_.tools().tool();
  if (session_.isOpen() && session_.tools().masksShown()) {
    if (tool == Tool::Guard || (tool == Tool::Lasso && lasso_.guards())) wanted = kGuard;
    if ((tool == Tool::Mask || (tool == Tool::Lasso && !lasso_.guards())) &&
        session_.document().activeLayer != 0)
      wanted = session_.document().activeLayer;
  }
  update();
  if (wanted == viewing_.masked) return;
  viewing_.masked = wanted;
  post(false);
}

void Easel::showControls() {
  EaselHand* held = session_.isOpen() ? hand() : nullptr;
  handBar_->setControls(held ? held->controls() : nullptr);
}

void Easel::setBehind(const QImage& picture) {
  behindPicture_ = picture;
  layOutBehind();
  post(false);
}

void Easel::layOutBehind() {
  viewing_.behind.reset();
  if (behindPicture_.isNull()) return;
  const QSize size(viewing_.size.width, viewing_.size.height);
  QImage whole(size, QImage::Format_RGB32);
  whole.fill(viewing_.background);
  // of a photo of many million pixels those between are passed over first
  const QSize twice = behindPicture_.size().scaled(2 * size, Qt::KeepAspectRatio);
  const QImage near = behindPicture_.width() > twice.width() ? behindPicture_.scaled(twice) : behindPicture_;
  const QImage fitted = near.scaled(size, Qt::KeepAspectRatio, Qt::SmoothTransformation);
  QPainter(&whole).drawImage((size.width() - fitted.width()) / 2, (size.height() - fitted.height()) / 2,
                             fitted);
  auto pixels = std::make_shared<std::vector<uint32_t>>(static_cast<size_t>(size.width()) *
                                                        static_cast<size_t>(size.height()));
  for (int y = 0; y < size.height(); ++y)
    std::copy_n(reinterpret_cast<const uint32_t*>(whole.constScanLine(y)), size.width(),
                pixels->begin() + static_cast<std::ptrdiff_t>(y) * size.width());
  viewing_.behind = std::move(pixels);
}

void Easel::setView(View view) {
  viewing_.view = view;
  valueBar_->setVisible(view == View::Value);
  channelBar_->setVisible(view == View::Channel);
  post(false);
}

void Easel::showChannel() {
  viewing_.channel = channelBar_->look();
  viewing_.own = channelBar_->own() && session_.isOpen() ? session_.document().activeLayer : 0;
  post(false);
}

void Easel::setLightFollows(bool on) {
  if (viewing_.lightFollows == on) return;
  // it stays where it is now, and from here on goes along or stands still
  viewing_.light = lightIn(viewing_);
  viewing_.lightFollows = on;
  if (on) {
    Viewing unturned = viewing_;
    unturned.light.dial = 0;
    viewing_.light.dial -= lightIn(unturned).dial;
  }
  post(false);
}

void Easel::setLight(const Light& light) {
  viewing_.light = light;
  post(false);
}

void Easel::takePlace(const QString& says, const QString& missed, PlaceHand::Placed placed,
                      std::function<std::optional<Vec3>()> mark) {
  if (!session_.isOpen()) return;
  place_.begin(says, missed, std::move(placed), std::move(mark));
  setFocus();
  showControls();
  update();
}

void Easel::placeLamp(size_t lamp, const QString& name) {
  takePlace(tr("Press where the highlight of “%1” is to be").arg(name),
            tr("A highlight lies on the skin: press there."),
            [this, lamp](const Viewing& viewing, const SurfacePoint& place) {
              const Vec3 toViewer = Lens(viewing.camera, viewing.size).toViewer(place.position);
              Light light = viewing.light;
              light.kind = LightKind::Lamps;
              // the dial the scene sees counts: the light may go with the view
              Viewing seen = viewing;
              seen.light = light;
              light.lamps[lamp] = mirroredAt(lightIn(seen), light.lamps[lamp], place.normal, toViewer);
              light.lamps[lamp].on = true;
              setLight(light);
            });
}

void Easel::placeFocus() {
  takePlace(
      tr("Press what is to be sharp"), tr("What is sharp lies on the skin: press there."),
      [this](const Viewing&, const SurfacePoint& place) {
        Focus focus = focus_;
        focus.sharp = place.position;
        setFocusOf(focus);
      },
      [this] { return focus_.sharp; });
}

void Easel::setFocusOf(const Focus& focus) {
  if (focus_ == focus) return;
  focus_ = focus;
  update();
  emit stillChanged();
}

void Easel::setBackdrop(const Backdrop& backdrop) {
  if (backdrop_ == backdrop) return;
  backdrop_ = backdrop;
  emit stillChanged();
}

void Easel::setLines(bool on) {
  viewing_.lines = on;
  post(false);
}

Look Easel::look() const {
  Look out;
  out.light = viewing_.light;
  out.lightFollows = viewing_.lightFollows;
  out.view = viewing_.view;
  out.lines = viewing_.lines;
  out.camera = uncut(viewing_.camera);
  out.focus = focus_;
  out.backdrop = backdrop_;
  out.stage = stageKey(session_.tools().stage()).toStdString();
  return out;
}

void Easel::setLook(const Look& look) {
  viewing_.light = look.light;
  viewing_.lightFollows = look.lightFollows;
  viewing_.lines = look.lines;
  viewing_.camera = look.camera;
  framed_ = true;
  setFocusOf(look.focus);
  setBackdrop(look.backdrop);
  setView(look.view);
}

void Easel::setBackground(int grey) {
  const auto g = static_cast<uint32_t>(std::clamp(grey, 0, 255));
  viewing_.background = 0xff000000u | g << 16 | g << 8 | g;
  post(false);
}

void Easel::setCamera(const Camera& camera) {
  viewing_.camera = camera;
  post(false);
}

void Easel::frameAll() {
  if (!session_.isOpen()) return;
  viewing_.camera = framed(viewing_.camera, viewing_.size, shownPoints(session_.document()));
  framed_ = true;
  post(false);
}

void Easel::framePart() {
  if (!session_.isOpen()) return;
  viewing_.camera =
      framed(viewing_.camera, viewing_.size, shownPoints(session_.document(), session_.activePart()));
  post(false);
}

void Easel::look(Side side) {
  viewing_.camera = lookingFrom(viewing_.camera, side);
  post(false);
}

void Easel::setParallel(bool parallel) {
  viewing_.camera.parallel = parallel;
  frameAll();
}

Vec2 Easel::pixelAt(const QPointF& position) const {
  const auto scale = static_cast<float>(devicePixelRatioF());
  return {static_cast<float>(position.x()) * scale, static_cast<float>(position.y()) * scale};
}

void Easel::resizeEvent(QResizeEvent*) {
  const double scale = devicePixelRatioF();
  viewing_.size = {std::max(1, static_cast<int>(std::lround(width() * scale))),
                   std::max(1, static_cast<int>(std::lround(height() * scale)))};
  layOutBehind();
  handBar_->layOut();
  cutBar_->layOut();
  stencil_.setViewSize(viewing_.size);
  slide_.follow(viewing_);
  if (session_.isOpen()) {
    if (framed_)
      frameAll();
    else
      post(false);
    framed_ = false;
  }
}

void Easel::drawHints(QPainter& painter) const {
  const Document& d = session_.document();
  QFont bold = font();
  bold.setWeight(QFont::DemiBold);
  painter.setFont(bold);
  const QString part = session_.activePart() < d.sculpt->parts.size()
                           ? QString::fromStdString(d.sculpt->parts[session_.activePart()])
                           : tr("All parts");
  painter.setPen(textOn(static_cast<int>(viewing_.background & 0xff)));
  painter.drawText(QPointF(14, 24), part);
  const qreal offset = 14 + QFontMetricsF(bold).horizontalAdvance(part) + 10;
  painter.setFont(font());
  painter.drawText(QPointF(offset, 24), tr("%1 points · %2 apart")
                                            .arg(shortCount(d.surface->size()),
                                                 shortLength(d.surface->spacing, d.placement.millimetres)));
  QStringList mirrors;
  for (int axis = 0; axis < 3; ++axis)
    if (session_.tools().brush().mirror[static_cast<size_t>(axis)]) mirrors << QString(QChar('X' + axis));
  if (!mirrors.isEmpty())
    painter.drawText(QRectF(0, 8, width() - 14, 22), Qt::AlignRight | Qt::AlignVCenter,
                     (d.rest.any()                ? tr("mirror %1, in the rest pose")
                      : d.mirror == MirrorPlane{} ? tr("mirror %1")
                                                  : tr("mirror %1, own plane"))
                         .arg(mirrors.join(' ')));
}

QString Easel::hindrance() const {
  if (!session_.isOpen()) return {};
  if (preparing_) return tr("Preparing the surface …");
  const Document& d = session_.document();
  if (!usesBrush(session_.tools().tool()) || session_.tools().brush().radius >= d.surface->spacing) return {};
  return tr("The brush is finer than the points, %1 apart: choose a larger size, or Sculpt ▸ Add points")
      .arg(shortLength(d.surface->spacing, d.placement.millimetres));
}

// The string a steadied pen pulls the brush by, as long as it is now.
void Easel::drawString(QPainter& painter) const {
  if (drag_.kind != Drag::Paint || session_.tools().brush().steady <= 0) return;
  const double scale = devicePixelRatioF();
  drawOutline(painter, {QPointF(stringEnd_.x(), stringEnd_.y()) / scale,
                        QPointF(pen_.pixel.x(), pen_.pixel.y()) / scale});
}

void Easel::drawLine(QPainter& painter) const {
  // what it would go on from lies on another surface
  if (!line_.begins(session_.document().surface)) return;
  const bool hovers = !inUse() && probe_ && drawsLine(QGuiApplication::keyboardModifiers());
  if (drag_.kind == Drag::Line || hovers) line_.draw(painter, viewing_, lineEnd(), devicePixelRatioF());
}

void Easel::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  const int grey = static_cast<int>(viewing_.background & 0xff);
  if (image_.isNull() || image_.size() != QSize(viewing_.size.width, viewing_.size.height))
    painter.fillRect(rect(), QColor(grey, grey, grey));
  if (!image_.isNull()) painter.drawImage(QPointF(0, 0), image_);
  if (!session_.isOpen()) return;
  painter.setRenderHint(QPainter::Antialiasing);
  drawHints(painter);
  split_.draw(painter, size());
  const Tool tool = session_.tools().tool();
  if (tool != Tool::Slide) slide_.drawPicture(painter, devicePixelRatioF());
  if (tool != Tool::Stencil) stencil_.drawPicture(painter, devicePixelRatioF());
  if (const EaselHand* held = hand()) held->draw(painter, viewing_, devicePixelRatioF());
  if (tool == Tool::Zones || tool == Tool::Stencil || tool == Tool::Slide || tool == Tool::Lasso ||
      tool == Tool::MirrorPlane || stamp_.placing() || place_.active())
    return;
  if (tool == Tool::Graft && !graft_.strips()) return;
  drawString(painter);
  drawLine(painter);
  const Brush& brush = session_.tools().brush();
  const BrushRing ring{viewing_, session_.engine().rays(), session_.document().hiddenParts,
                       devicePixelRatioF()};
  if (beside_) ring.draw(painter, brush, beside_->point, false);
  if (!probe_ || drag_.kind == Drag::Turn || drag_.kind == Drag::Pan) return;
  ring.draw(painter, brush, probe_->point, false);
  const Surface& surface = *session_.document().surface;
  for (int axis = 0; axis < 3; ++axis) {
    if (!brush.mirror[static_cast<size_t>(axis)]) continue;
    Dab dab;
    dab.mirrors = mirrorsOf(session_.document());
    dab.at = probe_->point;
    dab.radius = brush.radius;
    const float tolerance = brush.mirrorTolerance > 0 ? brush.mirrorTolerance : 3 * surface.spacing;
    if (const auto other = mirrored(surface, dab, axis, tolerance)) {
      ring.draw(painter, brush, other->at, true);
    }
  }
}

}  // namespace juvenor::app

#include "moc_easel.cpp"
