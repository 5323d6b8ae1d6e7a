#include "app/stage/photo_page.h"

#include <QButtonGroup>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>
#include <cmath>

#include "app/board/photo_words.h"
#include "app/controls/emptied.h"
#include "app/controls/labels.h"
#include "app/controls/value_slider.h"
#include "app/stage/graft_box.h"
#include "app/stage/photo_tones.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {

constexpr int kThumbWide = 72, kThumbHigh = 56, kThumbColumns = 2;

// A small copy; rows of the picture are looked at, not all of it.
QIcon thumbnail(const PictureData& picture) {
  const double shrink = std::min(1.0, std::min(kThumbWide / static_cast<double>(picture.width),
                                               kThumbHigh / static_cast<double>(picture.height)));
  const int wide = std::max(1, static_cast<int>(picture.width * shrink)),
            high = std::max(1, static_cast<int>(picture.height * shrink));
  QImage out(wide, high, QImage::Format_ARGB32);
  for (int y = 0; y < high; ++y)
    for (int x = 0; x < wide; ++x) {
      const auto row = static_cast<size_t>((y + 0.5) / shrink),
                 column = static_cast<size_t>((x + 0.5) / shrink);
      out.setPixel(x, y, picture.pixels[row * static_cast<size_t>(picture.width) + column]);
    }
  return QPixmap::fromImage(out);
}

}  // namespace

PhotoPage::PhotoPage(Session& session, Easel& easel) : session_(session), easel_(easel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 6, 12, 8);
  column->setSpacing(5);
  column->addWidget(titleLabel(tr("Photo")));
  share_ = quietLabel({});
  column->addWidget(share_);
  slides_ = new QGridLayout;
  slides_->setSpacing(4);
  column->addLayout(slides_);
  empty_ =
      quietLabel(tr("Hang a photo before the eye, line it up with the skin by pins, then throw it or paint "
                    "through it."));
  column->addWidget(empty_);
  auto* hang = new QPushButton(tr("Hang a photo …"));
  hang->setObjectName("hang photo");
  hang->setToolTip(tr("A picture of the board or a file as a new slide"));
  column->addWidget(hang);
  connect(hang, &QPushButton::clicked, this, &PhotoPage::chooseMenu);
  worth_ = new QLabel;
  worth_->setObjectName("photo worth");
  worth_->setWordWrap(true);
  column->addWidget(worth_);
  fineness_ = new QPushButton(tr("See how fine it lands"));
  fineness_->setObjectName("see fineness");
  fineness_->setCheckable(true);
  fineness_->setToolTip(
      tr("White where the photo is finer than the points, black where it is coarser and will look blurred"));
  column->addWidget(fineness_);
  connect(fineness_, &QPushButton::toggled, this, &PhotoPage::seeFineness);
  auto* tones = new PhotoTones(session_, easel_);
  column->addWidget(tones);
  connect(tones, &PhotoTones::turned, this, &PhotoPage::choose);
  column->addWidget(buildLaying());
  column->addWidget(new GraftBox(session_, easel_));
  column->addStretch();
  SlideHand& hand = easel_.slide();
  connect(&hand, &SlideHand::throwWanted, this, &PhotoPage::throwSlide);
  connect(&hand, &SlideHand::changed, this, &PhotoPage::showSlide);
  connect(hand.controls(), &HandControls::pictureWanted, this, &PhotoPage::chooseMenu);
  connect(&easel_, &Easel::photoDropped, this, &PhotoPage::hangFile);
  showSlide();
}

QWidget* PhotoPage::buildLaying() {
  auto* box = new QWidget;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  column->addWidget(quietLabel(tr("Lays of it")));
  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  parts_ = new QButtonGroup(this);
  const QStringList names{tr("all"), tr("detail"), tr("tone")};
  const QStringList tips{tr("The photo as it is"), tr("Its fine part alone, over the tone of the skin"),
                         tr("Its broad tones alone")};
  for (int i = 0; i < kPhotoPartCount; ++i) {
    auto* b = new QPushButton(names[i]);
    b->setObjectName("photo lays " + names[i]);
    b->setToolTip(tips[i]);
    b->setCheckable(true);
    parts_->addButton(b, i);
    row->addWidget(b, 1);
  }
  parts_->button(0)->setChecked(true);
  column->addLayout(row);
  split_ = new ValueSlider(tr("Detail under"), {0.05, 50, 1, "mm", true, 1});
  split_->setToolTip(tr("What is finer is detail, what is broader tone"));
  column->addWidget(split_);
  const auto set = [this] {
    PhotoSplit split = easel_.slide().split();
    split.part = static_cast<PhotoPart>(parts_->checkedId());
    split.size = static_cast<float>(split_->value()) / session_.document().placement.millimetres;
    easel_.slide().setSplit(split);
  };
  connect(parts_, &QButtonGroup::idClicked, this, set);
  connect(split_, &ValueSlider::changed, this, set);
  connect(&session_, &Session::opened, this, [this, set] {
    const Document& d = session_.document();
    split_->show(static_cast<double>(0.01f * d.surface->bounds.diagonal() * d.placement.millimetres));
    set();
  });
  return box;
}

void PhotoPage::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  fineness_->setChecked(false);
}

void PhotoPage::refresh() {
  const Document& d = session_.document();
  const auto own = std::ranges::count_if(d.layers, [](const auto& l) { return stageOf(*l) == 4; });
  share_->setText(tr("%1 of %2 layers, marked in the Strata").arg(own).arg(d.layers.size()));
  listSlides();
}

void PhotoPage::listSlides() {
  const std::vector<Slide>& all = session_.document().slides;
  std::vector<uint32_t> ids;
  for (const Slide& s : all) ids.push_back(s.id);
  empty_->setVisible(all.empty());
  if (ids == listed_) return;
  listed_ = ids;
  empty(*slides_);
  for (size_t i = 0; i < all.size(); ++i) {
    auto* b = new QToolButton;
    b->setObjectName("slide " + QString::fromStdString(all[i].name));
    b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    b->setIconSize({kThumbWide, kThumbHigh});
    b->setIcon(thumbnail(*all[i].picture));
    b->setText(b->fontMetrics().elidedText(QString::fromStdString(all[i].name), Qt::ElideMiddle, kThumbWide));
    b->setToolTip(
        tr("Takes this slide in hand and looks from where it was placed; right click to remove it"));
    // as wide as the page leaves, which scrolls up and down alone
    b->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    b->setContextMenuPolicy(Qt::CustomContextMenu);
    slides_->addWidget(b, static_cast<int>(i) / kThumbColumns, static_cast<int>(i) % kThumbColumns);
    connect(b, &QToolButton::clicked, this, [this, id = all[i].id] { choose(id); });
    connect(b, &QToolButton::customContextMenuRequested, this, [this, b, id = all[i].id](const QPoint& at) {
      QMenu menu;
      menu.addAction(tr("Remove the slide; what was thrown by it stays"), this, [this, id] {
        session_.settleStrokes();
        session_.apply(withoutSlide(session_.document(), id), tr("Remove slide"));
      });
      menu.exec(b->mapToGlobal(at));
    });
  }
}

void PhotoPage::choose(uint32_t id) {
  const Slide* slide = slideOf(session_.document(), id);
  if (!slide) return;
  session_.tools().setTool(Tool::Slide);
  const Camera stands = slide->camera;
  easel_.slide().take(slide);
  easel_.setCamera(stands);
}

void PhotoPage::chooseMenu() {
  if (!session_.isOpen()) return;
  QMenu menu;
  for (const Slide& s : session_.document().slides)
    menu.addAction(QIcon(thumbnail(*s.picture)), QString::fromStdString(s.name), this,
                   [this, id = s.id] { choose(id); });
  menu.addSection(tr("As a new slide"));
  for (const BoardPicture& p : session_.document().board)
    menu.addAction(QIcon(thumbnail(*p.data)), QString::fromStdString(p.name), this,
                   [this, p] { hang(QString::fromStdString(p.name), p.data); });
  menu.addAction(tr("From a file …"), this, [this] {
    const QString file = QFileDialog::getOpenFileName(this, tr("A photo for the slide"), {},
                                                      tr("Pictures (*.png *.tif *.tiff *.exr *.jpg *.webp)"));
    if (!file.isEmpty()) hangFile(file);
  });
  menu.exec(QCursor::pos());
}

void PhotoPage::hangFile(const QString& file) {
  hangRead(picturesIn({file}));
}

bool PhotoPage::paste() {
  std::vector<PictureToRead> held = picturesHeld();
  if (!session_.isOpen() || held.empty()) return false;
  hangRead(std::move(held));
  return true;
}

void PhotoPage::hangRead(std::vector<PictureToRead> pictures) {
  if (!session_.isOpen()) return;
  readBeside(session_, std::move(pictures),
             [this](const QString& name, const PicturePointer& picture) { hang(name, picture); });
}

void PhotoPage::hang(const QString& name, const PicturePointer& picture) {
  session_.settleStrokes();
  const Slide fresh = freshSlide(name.toStdString(), picture, uncut(easel_.viewing().camera));
  if (!session_.apply(withSlide(session_.document(), fresh), tr("Hang photo"))) return;
  session_.tools().setTool(Tool::Slide);
  easel_.slide().take(&session_.document().slides.back());
}

void PhotoPage::throwSlide() {
  const Slide* slide = easel_.slide().slide();
  if (!slide) return session_.say(tr("There is no slide in hand to throw."), true);
  session_.settleStrokes();
  const PhotoSplit split = easel_.slide().split();
  const Document& d = session_.document();
  // onto the active layer when it is one of slides and has not got this one
  const LayerPointer active = layerOf(d, d.activeLayer);
  const Throw* there = active ? throwOf(*active->source) : nullptr;
  if (there && std::ranges::find(there->slides, slide->id, &Slide::id) != there->slides.end()) {
    easel_.slide().keep(tr("Throw %1").arg(QString::fromStdString(slide->name)));
    return;
  }
  auto next = withSlide(d, *slide);
  if (next) next = withThrow(*next, slide->id, there ? std::optional(active->id) : std::nullopt);
  if (next && !there) {
    Throw setting = *throwOf(*layerOf(*next, next->activeLayer)->source);
    setting.part = split.part;
    setting.split = split.size;
    next = withThrowSet(*next, next->activeLayer, setting);
  }
  session_.apply(next, tr("Throw %1").arg(QString::fromStdString(slide->name)));
}

void PhotoPage::showSlide() {
  const Slide* slide = easel_.slide().slide();
  fineness_->setEnabled(slide != nullptr);
  worth_->setVisible(slide != nullptr);
  if (!slide) {
    // what is being looked at is not asked for any more
    measuring_.giveUp();
    measured_.reset();
  } else if (measured_ != slide->picture) {
    measure();
  }
}

void PhotoPage::measure() {
  measured_ = easel_.slide().slide()->picture;
  worth_->setText(tr("Looking at the photo …"));
  const auto result = std::make_shared<PhotoMeasures>();
  measuring_.start(
      tr("Looking at the photo"),
      [picture = measured_, result](const Progress&) -> Outcome {
        return caught([&]() -> Outcome {
          *result = measured(*pyramidOf(picture));
          return Done{};
        });
      },
      [this, result](const Outcome& done) {
        if (done)
          tell(*result);
        else
          worth_->setText(QString::fromStdString(done.error().what));
      });
}

void PhotoPage::tell(const PhotoMeasures& m) {
  const PhotoWords words = wordsFor(m, measured_->width, measured_->height);
  worth_->setStyleSheet(words.poor ? QString("color: %1;").arg(look::kWarning.name()) : QString());
  worth_->setText(words.text);
}

void PhotoPage::seeFineness(bool on) {
  const Slide* slide = easel_.slide().slide();
  if (!on || !slide) return easel_.setShows(nullptr);
  const auto field = std::make_shared<ScalarField>();
  work_.start(
      tr("Looking at how fine it lands"),
      [d = session_.document(), s = *slide, field](const Progress& p) -> Outcome {
        auto fine = finenessOver(s, d.hiddenParts, *d.maps, p);
        if (!fine) return fine.error();
        *field = ScalarField(fine->size());
        for (size_t c = 0; c < field->chunkCount(); ++c) {
          auto chunk = field->writable(c);
          const size_t first = c * kChunkSize, end = std::min(fine->size(), first + kChunkSize);
          // one pixel a point is the middle grey
          for (size_t i = first; i < end; ++i) chunk->plane[0][i - first] = to16(0.5f * (*fine)[i]);
          field->setChunk(c, std::move(chunk));
        }
        return Done{};
      },
      [this, field](const Outcome& done) {
        if (!done) return session_.tell(done.error());
        if (fineness_->isChecked()) easel_.setShows(field);
      });
}

}  // namespace juvenor::app

#include "moc_photo_page.cpp"
