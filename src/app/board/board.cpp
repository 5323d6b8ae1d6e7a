#include "app/board/board.h"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QImage>
#include <QLabel>
#include <QMenu>
#include <QMimeData>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/board/picture_view.h"
#include "app/controls/ask_file.h"
#include "app/controls/labels.h"
#include "app/controls/scrolled.h"
#include "app/controls/value_slider.h"
#include "app/session/picture_intake.h"
#include "app/style/style.h"
#include "core/files.h"
#include "core/sculpt/formats.h"

namespace juvenor::app {
namespace {

QPushButton* flat(const QString& text, const QString& tip) {
  auto* b = new QPushButton(text);
  b->setFlat(true);
  b->setToolTip(tip);
  return b;
}

}  // namespace

Board::Board(Session& session, Easel& easel) : session_(session), easel_(easel) {
  setAcceptDrops(true);
  setObjectName("board");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 6, 12, 8);
  column->setSpacing(6);
  auto* head = new QHBoxLayout;
  auto* title = new QLabel(tr("Board"));
  title->setProperty("title", true);
  head->addWidget(title);
  head->addStretch();
  auto* adding =
      flat(tr("+ picture"), tr("Adds pictures from files; dropping and pasting (Ctrl+V) work too"));
  head->addWidget(adding);
  column->addLayout(head);
  empty_ = quietLabel(
      tr("Gather reference here: drop pictures, paste them, or add files. Then press on one to pick "
         "its colours."));
  column->addWidget(empty_);
  auto* inside = new QWidget;
  pictures_ = new QVBoxLayout(inside);
  pictures_->setContentsMargins(0, 0, 0, 0);
  pictures_->setSpacing(3);
  pictures_->addStretch();
  column->addWidget(scrolled(inside), 1);
  averaging_ = new ValueSlider(tr("Pick averages over"), {1, 101, 1, "px", true, 0});
  averaging_->setToolTip(tr("How many pixels of a picture a pick averages, across"));
  averaging_->show(5);
  column->addWidget(averaging_);
  column->addWidget(buildPalette());
  column->addWidget(quietLabel(tr("Pinned pair")));
  pinned_ = new PinnedPair(session_);
  column->addWidget(pinned_);
  connect(averaging_, &ValueSlider::changed, this, [this](double v) {
    for (PictureView* view : views_) view->setAveraging(static_cast<int>(std::lround(v)));
  });
  connect(adding, &QPushButton::clicked, this, [this] {
    if (!session_.isOpen()) return;
    QStringList patterns;
    for (const std::string& e : readablePictureEndings()) patterns << "*." + QString::fromStdString(e);
    add(QFileDialog::getOpenFileNames(this, tr("Add pictures"), {},
                                      tr("Pictures (%1)").arg(patterns.join(' '))));
  });
  connect(&easel_, &Easel::probed, pinned_, &PinnedPair::showProbe);
  connect(&session_, &Session::documentChanged, this, &Board::refresh);
}

QWidget* Board::buildPalette() {
  auto* box = new QWidget;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(5);
  auto* row = new QHBoxLayout;
  row->setSpacing(0);
  row->addWidget(quietLabel(tr("Palette")));
  row->addStretch();
  auto* read = flat(tr("open"), tr("Opens a .gpl palette"));
  auto* write = flat(tr("save"), tr("Saves the palette as .gpl"));
  row->addWidget(read);
  row->addWidget(write);
  column->addLayout(row);
  count_ = new ValueSlider(tr("Colours"), {4, 24, 1, "", false, 0});
  count_->setToolTip(tr("How many colours the palette gets"));
  count_->show(12);
  column->addWidget(count_);
  auto* take = new QPushButton(tr("From the board"));
  take->setObjectName("palette from board");
  take->setToolTip(tr("Takes the colours the pictures are made of"));
  column->addWidget(take);
  swatches_ = new PaletteSwatches;
  swatches_->show({});
  column->addWidget(swatches_);
  connect(take, &QPushButton::clicked, this, [this] { takePalette(); });
  connect(read, &QPushButton::clicked, this, &Board::readPalette);
  connect(write, &QPushButton::clicked, this, &Board::writePalette);
  connect(swatches_, &PaletteSwatches::chosen, this,
          [this](const EncodedColor& c) { session_.tools().setColor(c); });
  return box;
}

void Board::add(const QStringList& files) {
  take(picturesIn(files));
}

bool Board::paste() {
  std::vector<PictureToRead> held = picturesHeld();
  if (!session_.isOpen() || held.empty()) return false;
  take(std::move(held));
  return true;
}

void Board::take(std::vector<PictureToRead> pictures) {
  if (!session_.isOpen()) return;
  readBeside(session_, std::move(pictures), [this](const QString& name, const PicturePointer& picture) {
    session_.settleStrokes();
    session_.apply(withPicture(session_.document(), name.toStdString(), picture), tr("Add picture"));
  });
}

// Tells what pictures are worth as photos, one after the other as they have been looked at beside.
void Board::measureNext() {
  const auto& board = session_.document().board;
  for (size_t i = 0; i < std::min(board.size(), captions_.size()); ++i) {
    const PicturePointer picture = board[i].data;
    const auto known = worth_.find(picture->fingerprint);
    if (known != worth_.end()) {
      captions_[i]->setText(QString::fromStdString(board[i].name) + "\n" + known->second.text);
      captions_[i]->setStyleSheet(known->second.poor ? QString("color: %1;").arg(look::kWarning.name())
                                                     : QString());
    } else if (!measuring_.running()) {
      const auto result = std::make_shared<PhotoMeasures>();
      measuring_.start(
          tr("Looking at a picture"),
          [picture, result](const Progress&) -> Outcome {
            return caught([&]() -> Outcome {
              *result = measured(*pyramidOf(picture));
              return Done{};
            });
          },
          [this, picture, result](const Outcome& done) {
            worth_[picture->fingerprint] = done ? wordsFor(*result, picture->width, picture->height)
                                                : PhotoWords{QString::fromStdString(done.error().what), true};
            measureNext();
          });
    }
  }
}

void Board::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls() || event->mimeData()->hasImage()) event->acceptProposedAction();
}

void Board::dropEvent(QDropEvent* event) {
  QStringList files;
  for (const QUrl& url : event->mimeData()->urls()) files << url.toLocalFile();
  add(files);
}

void Board::refresh() {
  const auto& board = session_.document().board;
  const bool same = std::ranges::equal(board, views_, {}, &BoardPicture::id, &PictureView::picture);
  if (!same) {
    while (QLayoutItem* item = pictures_->takeAt(0)) {
      delete item->widget();
      delete item;
    }
    views_.clear();
    captions_.clear();
    for (const BoardPicture& p : board) {
      auto* view = new PictureView(session_, p.id);
      view->setFixedHeight(view->sizeHint().height());
      view->setAveraging(static_cast<int>(averaging_->value()));
      connect(view, &PictureView::picked, this, [this](const EncodedColor& c) {
        session_.tools().setColor(c);
        session_.tools().pin(true, c);
      });
      connect(view, &PictureView::menuWanted, this, &Board::menu);
      pictures_->addWidget(view);
      captions_.push_back(quietLabel(QString::fromStdString(p.name)));
      captions_.back()->setObjectName("picture words");
      pictures_->addWidget(captions_.back());
      views_.push_back(view);
    }
    pictures_->addStretch();
  }
  for (PictureView* view : views_) view->refresh();
  measureNext();
  empty_->setVisible(board.empty());
}

void Board::menu(uint32_t picture, const QPoint& at) {
  QMenu menu;
  menu.addAction(tr("Fit"), this, [this, picture] { session_.lookAtPicture(picture, 0.5f, 0.5f, 1); });
  menu.addAction(tr("Palette of this picture"), this, [this, picture] { takePalette(picture); });
  menu.addAction(tr("Hang it before the eye as a slide"), this,
                 [this, picture] { emit hangWanted(picture); });
  menu.addAction(tr("Stand it behind the sculpt"), this, [this, picture] { standBehind(picture); });
  if (easel_.hasBehind())
    menu.addAction(tr("Nothing behind the sculpt"), this, [this] { easel_.setBehind({}); });
  menu.addSeparator();
  menu.addAction(tr("Remove"), this, [this, picture] {
    session_.settleStrokes();
    session_.apply(withoutPicture(session_.document(), picture), tr("Remove picture"));
  });
  menu.exec(at);
}

void Board::standBehind(uint32_t picture) {
  for (const BoardPicture& p : session_.document().board)
    if (p.id == picture)
      easel_.setBehind(QImage(reinterpret_cast<const uchar*>(p.data->pixels.data()), p.data->width,
                              p.data->height, p.data->width * 4, QImage::Format_ARGB32)
                           .copy());
}

void Board::takePalette(uint32_t picture) {
  if (!session_.isOpen()) return;
  const std::vector<BoardPicture> board = session_.document().board;
  if (board.empty()) return session_.say(tr("There is no picture on the board yet."), true);
  if (session_.isBusy()) return;
  const int count = static_cast<int>(std::lround(count_->value()));
  const auto found = std::make_shared<std::vector<PaletteColor>>();
  session_.background().start(
      tr("Taking the palette"),
      [board, picture, count, found](const Progress& progress) -> Outcome {
        std::vector<uint32_t> pixels;
        for (const BoardPicture& p : board)
          if (picture == 0 || p.id == picture)
            pixels.insert(pixels.end(), p.data->pixels.begin(), p.data->pixels.end());
        auto colors = paletteOf(pixels, count, progress);
        if (!colors) return colors.error();
        *found = std::move(*colors);
        return Done{};
      },
      [this, found](const Outcome& done) {
        if (!done) return session_.tell(done.error());
        std::vector<NamedColor> named;
        for (const PaletteColor& c : *found)
          named.push_back(
              {c.color, toHex(c.color) + tr(", %1 %").arg(100 * c.share, 0, 'f', 1).toStdString()});
        swatches_->show(std::move(named));
      });
}

void Board::readPalette() {
  const QString file = QFileDialog::getOpenFileName(this, tr("Open palette"), {}, tr("Palettes (*.gpl)"));
  if (file.isEmpty()) return;
  const auto bytes = readBytes(file.toStdString());
  auto palette = bytes ? readGpl(*bytes, file.toStdString()) : Result<NamedPalette>(bytes.error());
  if (!palette) return session_.tell(palette.error());
  swatches_->show(std::move(palette->colors));
}

void Board::writePalette() {
  const QString file =
      askSaveFile(this, tr("Save palette"), session_.title() + ".gpl", tr("Palettes (*.gpl)"), {"gpl"});
  if (file.isEmpty()) return;
  const Outcome done =
      writeBytes(file.toStdString(), writeGpl({session_.title().toStdString(), swatches_->colors()}));
  if (!done) session_.tell(done.error());
}

}  // namespace juvenor::app

#include "moc_board.cpp"
