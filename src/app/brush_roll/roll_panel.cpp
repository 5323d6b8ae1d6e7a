#include "app/brush_roll/roll_panel.h"

#include <QFileDialog>
#include <QGridLayout>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScreen>
#include <QToolButton>

#include "app/brush_roll/roll_sets.h"
#include "app/controls/ask_file.h"
#include "app/controls/emptied.h"
#include "app/controls/labels.h"
#include "app/style/style.h"
#include "core/files.h"

namespace juvenor::app {
namespace {

constexpr int kColumns = 4;
constexpr const char* kFilter = QT_TR_NOOP("Brushes (*.juvenor-brushes)");

}  // namespace

RollPanel::RollPanel(Session& session, BrushPictures& pictures, QWidget* parent)
    : QFrame(parent, Qt::Popup), session_(session), pictures_(pictures) {
  setObjectName("brush roll");
  setStyleSheet("QFrame#brush\\ roll { background: #2e2e2e; border: 1px solid #6d6d6d; }");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 10, 12, 10);
  column->setSpacing(8);
  auto* top = new QHBoxLayout;
  top->addWidget(titleLabel(tr("Brush roll")));
  top->addStretch();
  const auto button = [&](const QString& text, const QString& tip, auto slot) {
    auto* b = new QPushButton(text);
    b->setFlat(true);
    b->setToolTip(tip);
    connect(b, &QPushButton::clicked, this, slot);
    top->addWidget(b);
  };
  button(tr("Keep this one"), tr("Puts the brush in hand into the roll, under a name of its own"),
         [this] { keepThis(); });
  button(tr("From file"), tr("Adds the brushes of a file, with their stamps"), [this] { fromFile(); });
  button(tr("To file"), tr("Writes your own brushes to a file, with their stamps"), [this] { toFile(); });
  column->addLayout(top);
  grid_ = new QGridLayout;
  grid_->setSpacing(4);
  column->addLayout(grid_);
  said_ = quietLabel(
      tr("Press one to take it in hand. Right click one of yours to rename, move or take it out."));
  column->addWidget(said_);
  back_ = new QPushButton;
  back_->setObjectName("put brush back");
  back_->hide();
  connect(back_, &QPushButton::clicked, this, &RollPanel::putBack);
  column->addWidget(back_, 0, Qt::AlignLeft);
  pictures_.roll(this, [this](const BrushRoll& roll) {
    usual_ = roll;
    fill();
  });
}

void RollPanel::showEvent(QShowEvent* event) {
  QFrame::showEvent(event);
  if (!read_) {
    read_ = true;
    auto kept = keptBrushes();
    unreadable_ = !kept;
    if (kept)
      kept_ = std::move(*kept);
    else
      session_.tell(kept.error());
  }
  fill();
}

void RollPanel::fill() {
  empty(*grid_);
  BrushRoll all = usual_;
  // the stage's usual ones come first
  const int stage = session_.tools().stage();
  std::ranges::stable_partition(all, [&](const RollBrush& b) { return b.stage == stage; });
  int place = 0;
  for (const RollBrush& brush : all) (void)addButton(brush, place++);
  for (size_t own = 0; own < kept_.size(); ++own) {
    QToolButton* b = addButton(kept_[own], place++);
    b->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(b, &QToolButton::customContextMenuRequested, this, [this, own, b] { ownMenu(own, b); });
  }
  adjustSize();
}

QToolButton* RollPanel::addButton(const RollBrush& brush, int place) {
  auto* b = new QToolButton;
  b->setObjectName("brush " + QString::fromStdString(brush.name));
  b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
  b->setIconSize({kBrushWide, kBrushHigh});
  b->setFixedSize(kBrushWide + 10, kBrushHigh + 24);
  b->setText(QString::fromStdString(brush.name));
  b->setCheckable(true);
  b->setChecked(session_.tools().taken().name == brush.name);
  grid_->addWidget(b, place / kColumns, place % kColumns);
  pictures_.draw(brush, b, [b](const QImage& image) { b->setIcon(QPixmap::fromImage(image)); });
  connect(b, &QToolButton::clicked, this, [this, brush] { take(brush); });
  return b;
}

void RollPanel::take(const RollBrush& brush) {
  close();
  if (!session_.isOpen()) return;
  const Document& d = session_.document();
  session_.tools().takeBrush(brush, d.placement.millimetres, d.surface->bounds.diagonal());
}

bool RollPanel::store(BrushRoll kept) {
  if (unreadable_) {
    // somebody can perhaps mend what this version cannot read
    const auto aside = putBrushesAside();
    if (!aside) {
      session_.tell(aside.error());
      return false;
    }
    unreadable_ = false;
    session_.say(tr("Your brushes could not be read; their file is %1 now.")
                     .arg(QString::fromStdString(aside->string())),
                 true);
  }
  const Outcome done = keepBrushes(kept);
  if (!done) {
    session_.tell(done.error());
    return false;
  }
  kept_ = std::move(kept);
  fill();
  return true;
}

void RollPanel::keepThis() {
  bool ok = false;
  const QString usual = QString::fromStdString(session_.tools().taken().name);
  const QString name =
      QInputDialog::getText(parentWidget(), tr("Keep this brush"), tr("Name"), QLineEdit::Normal,
                            usual.isEmpty() ? tr("My brush") : tr("My %1").arg(usual), &ok)
          .trimmed();
  if (!ok || name.isEmpty()) return;
  BrushRoll kept = kept_;
  RollBrush brush = session_.tools().brushForRoll(name.toStdString());
  const auto same = std::ranges::find(kept, brush.name, &RollBrush::name);
  if (same != kept.end())
    *same = brush;
  else
    kept.push_back(brush);
  if (!store(std::move(kept))) return;
  if (session_.isOpen()) take(brush);
  session_.say(tr("“%1” is in the roll.").arg(name));
}

void RollPanel::ownMenu(size_t own, QToolButton* button) {
  QMenu menu(this);
  QAction* rename = menu.addAction(tr("Rename …"));
  QAction* earlier = menu.addAction(tr("Move to the front"));
  QAction* replace = menu.addAction(tr("Replace by the brush in hand"));
  menu.addSeparator();
  QAction* remove = menu.addAction(tr("Take out"));
  const QAction* chosen = menu.exec(button->mapToGlobal(QPoint(0, button->height())));
  BrushRoll kept = kept_;
  const auto at = kept.begin() + static_cast<std::ptrdiff_t>(own);
  if (chosen == rename) {
    bool ok = false;
    const QString name = QInputDialog::getText(parentWidget(), tr("Rename the brush"), tr("Name"),
                                               QLineEdit::Normal, QString::fromStdString(at->name), &ok)
                             .trimmed();
    if (!ok || name.isEmpty()) return;
    at->name = name.toStdString();
  } else if (chosen == earlier) {
    std::rotate(kept.begin(), at, at + 1);
  } else if (chosen == replace) {
    *at = session_.tools().brushForRoll(at->name);
  } else if (chosen == remove) {
    taken_ = {*at, own};
    kept.erase(at);
  } else {
    return;
  }
  if (store(std::move(kept)) && chosen == remove) {
    back_->setText(tr("Put “%1” back").arg(QString::fromStdString(taken_.first.name)));
    back_->show();
    adjustSize();
  }
}

void RollPanel::putBack() {
  BrushRoll kept = kept_;
  const size_t place = std::min(taken_.second, kept.size());
  kept.insert(kept.begin() + static_cast<std::ptrdiff_t>(place), taken_.first);
  if (store(std::move(kept))) back_->hide();
}

void RollPanel::fromFile() {
  const QString file =
      QFileDialog::getOpenFileName(parentWidget(), tr("Brushes from a file"), {}, tr(kFilter));
  if (file.isEmpty()) return;
  const auto text = readBytes(file.toStdString());
  auto roll = text ? decodedRoll(*text, file.toStdString()) : Result<BrushRoll>(text.error());
  if (!roll) return session_.tell(roll.error());
  BrushRoll kept = kept_;
  kept.insert(kept.end(), roll->begin(), roll->end());
  if (store(std::move(kept))) session_.say(tr("%1 brushes came into the roll.").arg(roll->size()));
}

void RollPanel::toFile() {
  if (kept_.empty()) return session_.say(tr("Keep a brush of your own first."));
  const QString file =
      askSaveFile(parentWidget(), tr("Brushes to a file"), {}, tr(kFilter), {"juvenor-brushes"});
  if (file.isEmpty()) return;
  const auto text = encodedRoll(kept_);
  const Outcome done = text ? writeBytes(file.toStdString(), *text) : Outcome(text.error());
  if (!done) return session_.tell(done.error());
  session_.say(tr("%1 brushes were written.").arg(kept_.size()));
}

void RollPanel::openAt(const QPoint& global) {
  fill();
  const QRect inside(parentWidget()->mapToGlobal(QPoint(0, 0)), parentWidget()->size());
  const QPoint at = global - QPoint(width() / 2, height() + 12);
  move(std::clamp(at.x(), inside.left(), std::max(inside.left(), inside.right() - width())),
       std::clamp(at.y(), inside.top(), std::max(inside.top(), inside.bottom() - height())));
  show();
}

}  // namespace juvenor::app

#include "moc_roll_panel.cpp"
