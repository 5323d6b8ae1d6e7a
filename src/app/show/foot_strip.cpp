#include "app/show/foot_strip.h"

#include <QHBoxLayout>
#include <QInputDialog>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>

#include "app/controls/labels.h"
#include "app/style/style.h"
#include "core/document/edits/edit_cameras.h"
#include "core/document/edits/edit_variants.h"
#include "core/render/moment_picture.h"
#include "core/show/film.h"

namespace juvenor::app {
namespace {

constexpr QSize kTilePicture(104, 66);
constexpr int kStripHigh = 104;
constexpr int kRest = 300;  // milliseconds the work rests before pictures are made again

QPixmap emptyPicture(const Easel& easel) {
  QPixmap out(kTilePicture * 2);
  out.setDevicePixelRatio(2);
  out.fill(QColor(easel.viewing().background));
  return out;
}

}  // namespace

FootStrip::FootStrip(Of of, Session& session, Easel& easel)
    : of_(of),
      session_(session),
      easel_(easel),
      maker_([this](const Wish& wish, const Progress& wanted) { make(wish, wanted); }) {
  const bool cameras = of == Of::Cameras;
  setObjectName(cameras ? "cameras" : "variants");
  setFixedHeight(kStripHigh);
  setAutoFillBackground(true);
  auto* line = new QHBoxLayout(this);
  line->setContentsMargins(10, 4, 10, 4);
  line->setSpacing(8);
  auto* left = new QVBoxLayout;
  left->addWidget(titleLabel(cameras ? tr("Cameras") : tr("Variants")));
  auto* keeps = new QPushButton(cameras ? tr("Keep view") : tr("Keep"));
  keeps->setObjectName(cameras ? "keep camera" : "keep variant");
  keeps->setToolTip(cameras ? tr("This view with its lens, light and backdrop, by a name")
                            : tr("Which layers show now, and how strongly, by a name"));
  left->addWidget(keeps);
  left->addStretch();
  line->addLayout(left);
  connect(keeps, &QPushButton::clicked, this, &FootStrip::keep);
  auto* inside = new QWidget;
  row_ = new QHBoxLayout(inside);
  row_->setContentsMargins(0, 0, 0, 0);
  row_->setSpacing(4);
  empty_ = quietLabel(
      cameras ? tr("Views kept here are stills in waiting: a press goes back to one, with its light.")
              : tr("Versions of one skin side by side: hide and fade layers, keep, and compare."));
  row_->addWidget(empty_, 1);
  row_->addStretch();
  auto* area = new QScrollArea;
  area->setWidget(inside);
  area->setWidgetResizable(true);
  area->setFrameShape(QFrame::NoFrame);
  area->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  inside->setAutoFillBackground(false);
  area->viewport()->setAutoFillBackground(false);
  line->addWidget(area, 1);
  later_.setSingleShot(true);
  connect(&later_, &QTimer::timeout, this, &FootStrip::wish);
  connect(&session_, &Session::documentChanged, this, &FootStrip::refresh);
  connect(&session_, &Session::left, this, [this] {
    maker_.giveUp();
    ++round_;
  });
  hide();
}

void FootStrip::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void FootStrip::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  later_.stop();
  maker_.giveUp();
}

std::vector<FootStrip::Tile> FootStrip::tilesNow() const {
  std::vector<Tile> out;
  if (!session_.isOpen()) return out;
  if (of_ == Of::Cameras)
    for (const KeptCamera& c : session_.document().cameras) out.push_back({c.id, c.name});
  else
    for (const Variant& v : session_.document().variants) out.push_back({v.id, v.name});
  return out;
}

QToolButton* FootStrip::tileButton(const Tile& tile) {
  auto* b = new QToolButton;
  const QString name = QString::fromStdString(tile.name);
  b->setObjectName(QString("%1 %2").arg(objectName(), name));
  b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
  b->setIconSize(kTilePicture);
  b->setIcon(QIcon(emptyPicture(easel_)));
  b->setText(b->fontMetrics().elidedText(name, Qt::ElideRight, kTilePicture.width() - 6));
  b->setToolTip(of_ == Of::Cameras ? tr("Goes to “%1”; more by the right button").arg(name)
                                   : tr("Shows “%1”; more by the right button").arg(name));
  b->setCheckable(of_ == Of::Variants);
  b->setStyleSheet("padding: 0; font-size: 11px;");
  b->setContextMenuPolicy(Qt::CustomContextMenu);
  const uint32_t id = tile.id;
  connect(b, &QToolButton::clicked, this, [this, id] { goTo(id); });
  connect(b, &QWidget::customContextMenuRequested, this,
          [this, id, b](const QPoint& at) { menu(id, b->mapToGlobal(at)); });
  return b;
}

void FootStrip::refresh() {
  if (!isVisible()) return;
  const std::vector<Tile> now = tilesNow();
  if (now != shown_) {
    for (QToolButton* b : buttons_) b->deleteLater();
    buttons_.clear();
    shown_ = now;
    for (size_t i = 0; i < shown_.size(); ++i) {
      buttons_.push_back(tileButton(shown_[i]));
      row_->insertWidget(static_cast<int>(i), buttons_.back());
    }
    empty_->setVisible(shown_.empty());
  }
  mark();
  later_.start(kRest);
}

// Which variant is what shows.
void FootStrip::mark() {
  if (of_ != Of::Variants || !session_.isOpen()) return;
  for (size_t i = 0; i < shown_.size(); ++i) {
    const Variant* variant = variantOf(session_.document(), shown_[i].id);
    buttons_[i]->setChecked(variant && showsVariant(session_.document(), *variant));
  }
}

void FootStrip::apply(Result<Document> edited, const QString& name) {
  session_.settleStrokes();
  session_.apply(std::move(edited), name);
}

void FootStrip::keep() {
  if (!session_.isOpen()) return;
  session_.settleStrokes();
  show();
  if (of_ == Of::Cameras)
    apply(withCamera(session_.document(), {}, easel_.look()), tr("Keep camera"));
  else
    apply(withVariant(session_.document(), {}), tr("Keep variant"));
}

void FootStrip::goTo(uint32_t id) {
  if (of_ == Of::Variants) {
    session_.settleStrokes();
    apply(asVariant(session_.document(), id), tr("Show variant"));
    return mark();
  }
  const KeptCamera* camera = cameraOf(session_.document(), id);
  if (!camera) return;
  const auto look = std::make_shared<Look>();
  reading_.start(
      tr("Camera"),
      [kept = *camera, look](const Progress&) -> Outcome {
        auto said = lookOf(kept);
        if (!said) return said.error();
        *look = std::move(*said);
        return Done{};
      },
      [this, look](const Outcome& done) {
        if (!done) return session_.tell(done.error());
        easel_.setLook(*look);
        easel_.setFocus();
      });
}

void FootStrip::rename(uint32_t id) {
  const auto tile = std::ranges::find(shown_, id, &Tile::id);
  if (tile == shown_.end()) return;
  bool ok = false;
  const QString name =
      QInputDialog::getText(this, of_ == Of::Cameras ? tr("Name the camera") : tr("Name the variant"),
                            tr("Name"), QLineEdit::Normal, QString::fromStdString(tile->name), &ok);
  if (!ok || name.trimmed().isEmpty()) return;
  session_.settleStrokes();
  const std::string said = name.trimmed().toStdString();
  if (of_ == Of::Cameras)
    apply(withCameraNamed(session_.document(), id, said), tr("Name camera"));
  else
    apply(withVariantNamed(session_.document(), id, said), tr("Name variant"));
}

void FootStrip::menu(uint32_t id, const QPoint& at) {
  const bool cameras = of_ == Of::Cameras;
  QMenu menu;
  const auto add = [&](const QString& text, const QString& name, auto edit) {
    connect(menu.addAction(text), &QAction::triggered, this, [this, name, edit] {
      session_.settleStrokes();
      apply(edit(session_.document()), name);
    });
  };
  if (cameras)
    add(tr("Replace by this view"), tr("Replace camera"),
        [id, look = easel_.look()](const Document& d) { return withCameraReplaced(d, id, look); });
  else
    add(tr("Replace by what shows now"), tr("Replace variant"),
        [id](const Document& d) { return withVariantReplaced(d, id); });
  connect(menu.addAction(tr("Name …")), &QAction::triggered, this, [this, id] { rename(id); });
  if (cameras) {
    const auto place = static_cast<size_t>(std::ranges::find(shown_, id, &Tile::id) - shown_.begin());
    if (place > 0)
      add(tr("Farther to the left"), tr("Move camera"),
          [id, place](const Document& d) { return withCameraMoved(d, id, place - 1); });
    if (place + 1 < shown_.size())
      add(tr("Farther to the right"), tr("Move camera"),
          [id, place](const Document& d) { return withCameraMoved(d, id, place + 1); });
  }
  menu.addSeparator();
  add(tr("Delete"), cameras ? tr("Delete camera") : tr("Delete variant"),
      [id, cameras](const Document& d) { return cameras ? withoutCamera(d, id) : withoutVariant(d, id); });
  menu.exec(at);
}

void FootStrip::wish() {
  if (!isVisible() || !session_.isOpen()) return;
  if (easel_.inUse()) return later_.start(kRest);
  Wish wish;
  wish.round = ++round_;
  for (const Tile& tile : shown_) {
    if (const KeptCamera* camera = of_ == Of::Cameras ? cameraOf(session_.document(), tile.id) : nullptr)
      wish.pictures.push_back({tile.id, session_.document(), camera->look.camera});
    if (of_ == Of::Variants)
      if (auto as = asVariant(session_.document(), tile.id))
        wish.pictures.push_back({tile.id, std::move(*as), uncut(easel_.viewing().camera)});
  }
  waiting_ = wish.pictures.size();
  maker_.wish(std::move(wish));
}

// On the thread beside.
void FootStrip::make(const Wish& wish, const Progress& wanted) {
  const ViewSize size{2 * kTilePicture.width(), 2 * kTilePicture.height()};
  for (const Wanted& one : wish.pictures) {
    std::vector<uint32_t> pixels;
    const Outcome done = caught([&]() -> Outcome {
      pixels = momentPicture(one.document, one.camera, size, wanted);
      return Done{};
    });
    if (!report(wanted, 0)) return;
    QImage image;
    if (done && !pixels.empty())
      image = QImage(reinterpret_cast<const uchar*>(pixels.data()), size.width, size.height, 4 * size.width,
                     QImage::Format_RGB32)
                  .copy();
    QMetaObject::invokeMethod(
        this, [this, id = one.id, round = wish.round, image] { take(id, round, image); },
        Qt::QueuedConnection);
  }
}

void FootStrip::take(uint32_t id, uint64_t round, const QImage& picture) {
  if (round != round_) return;
  if (waiting_ > 0) --waiting_;
  if (picture.isNull()) return;
  QPixmap shown = QPixmap::fromImage(picture);
  shown.setDevicePixelRatio(2);
  for (size_t i = 0; i < shown_.size(); ++i)
    if (shown_[i].id == id) buttons_[i]->setIcon(QIcon(shown));
}

}  // namespace juvenor::app

#include "moc_foot_strip.cpp"
